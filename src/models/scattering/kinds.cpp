// SPDX-License-Identifier: GPL-3.0-or-later
// The models of scattering with their settings.
#include "describe/setting_makers.h"
#include "formula/expression.h"
#include "formula/program.h"
#include "models/catalogue.h"
#include "models/scattering/length_density.h"
#include "models/scattering/particles.h"
#include "models/scattering/plain_curves.h"
#include "models/scattering/seen_curve.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::models {

using namespace scattering;

namespace {

constexpr const char* kGroup = "Scattering";
constexpr const char* kSpread = "distribution=gaussian|lognormal|schulz|weibull|uniform";
constexpr const char* kInteracting = "structure=hard-sphere|sticky-hard-sphere";

std::vector<Setting> seenSettings(bool background) {
    using namespace describe;
    return {
        flag("background", "Background", background, "A flat background is part of the model.",
             {.hidden = true}),
        choice("q-unit", "Unit of q", {{"automatic", "of the data"}, {"1/A", "1/Å"}, {"1/nm", "1/nm"}},
               "Lengths are in Å with 1/Å and in nm with 1/nm. Data without a known unit are taken to be in "
               "1/Å.",
               {.group = "Instrument"}),
        choice("resolution", "Resolution",
               {{"sharp", "sharp"},
                {"column", "by point"},
                {"width", "one width"},
                {"share", "share of q"},
                {"beam", "from the beam"},
                {"slit", "slit"}},
               "What each point averages over. By point: the column of the role “resolution”, as standard "
               "deviations of q. Gaussians are cut at six of them and at q > 0, then normalised.",
               {.group = "Instrument"}),
        number("width", "Width", 0.001, "Standard deviation of q.",
               {.unit = "x", .lowest = 0, .group = "Instrument", .shownIf = "resolution=width"}),
        number(
            "share", "Share", 5, "Standard deviation of q over q.",
            {.unit = "%", .lowest = 0, .highest = 50, .group = "Instrument", .shownIf = "resolution=share"}),
        number("slit", "Half-length", 0.02, "Of the slit, in q: the mean over √(q² + u²), u from zero to it.",
               {.unit = "x", .lowest = 0, .group = "Instrument", .shownIf = "resolution=slit"}),
        number("wavelength", "Wavelength", 6, "In the unit of lengths, the reciprocal of that of q.",
               {.lowest = 1e-9, .group = "Instrument", .shownIf = "resolution=beam"}),
        number(
            "spread", "Spread", 10, "Of the wavelength: full width at half maximum.",
            {.unit = "%", .lowest = 0, .highest = 100, .group = "Instrument", .shownIf = "resolution=beam"}),
        number("source", "Source", 20, "Diameter of the aperture at the source.",
               {.unit = "mm", .lowest = 0, .group = "Instrument", .shownIf = "resolution=beam"}),
        number("aperture", "At sample", 10, "Diameter of the aperture at the sample.",
               {.unit = "mm", .lowest = 0, .group = "Instrument", .shownIf = "resolution=beam"}),
        number("pixel", "Pixel", 5, "Width of a pixel of the detector.",
               {.unit = "mm", .lowest = 0, .group = "Instrument", .shownIf = "resolution=beam"}),
        number("before", "To sample", 5000, "From the source's aperture to the sample.",
               {.unit = "mm", .lowest = 1, .group = "Instrument", .shownIf = "resolution=beam"}),
        number("behind", "To detector", 5000, "From the sample to the detector.",
               {.unit = "mm", .lowest = 1, .group = "Instrument", .shownIf = "resolution=beam"})};
}

std::vector<Setting> contrastSettings(bool isFirstOfSeveral) {
    using namespace describe;
    const std::string of = isFirstOfSeveral ? " Of the core." : "";
    return {
        choice(
            "known", "Known",
            {{"contrast", "the contrast"},
             {"fraction", "the fraction"},
             {"neither", "neither"},
             {"scale", "only a scale"}},
            "Without interaction the curve tells only volume fraction × contrast². Contrast: it is held, the "
            "volume fraction is found. Fraction: the other way round. Neither: both are found, where an "
            "interaction tells them apart. Only a scale: their product, for intensities in arbitrary units.",
            {.group = "Amount"}),
        formulaText(
            "contrast", "Contrast",
            "Scattering length density of the particle less that of the medium, in Å⁻²; a number, or a "
            "formula of attributes of the dataset." +
                of,
            {.group = "Amount", .shownIf = "known=contrast", .whenEmpty = "from substances"}),
        word("substance", "Particle",
             "Formula of its substance, such as “C12H26”, where no contrast is typed.",
             {.group = "Amount", .shownIf = "known=contrast", .whenEmpty = "1e-6 Å⁻²"}),
        number("density", "Density", 1, "Of the particle.",
               {.unit = "g/cm^3", .lowest = 1e-6, .group = "Amount", .shownIf = "known=contrast"}),
        word("medium", "Medium", "Formula of the medium, such as “D2O”.",
             {.group = "Amount", .shownIf = "known=contrast", .whenEmpty = "H2O"}),
        number("medium-density", "Its density", 0.998, "Of the medium.",
               {.unit = "g/cm^3", .lowest = 1e-6, .group = "Amount", .shownIf = "known=contrast"}),
        choice("probe", "Probe", {{"neutrons", "neutrons"}, {"x-rays", "X-rays"}}, "What is scattered.",
               {.group = "Amount", .shownIf = "known=contrast"}),
        number("fraction", "Fraction", 0.01, "Volume fraction that is known.",
               {.lowest = 1e-12, .highest = 0.74, .group = "Amount", .shownIf = "known=fraction"})};
}

std::vector<Setting> particleSettings(bool severalContrasts, bool shells) {
    using namespace describe;
    std::vector<Setting> all;
    if (shells) {
        all.push_back(wholeNumber("shells", "Shells", 1, "Around the core.", {.lowest = 1, .highest = 3}));
        all.push_back(
            choice("shells-against", "Shells against", {{"medium", "the medium"}, {"core", "the core"}},
                   "What the contrasts of the shells are told against. Against the core they stay the same "
                   "in media of different contrast, and can be shared by their fits."));
    }
    all.push_back(
        choice("distribution", "Sizes",
               {{"none", "all alike"},
                {"gaussian", "Gaussian"},
                {"lognormal", "log-normal"},
                {"schulz", "Schulz–Zimm"},
                {"weibull", "Weibull"},
                {"uniform", "uniform"}},
               "Distribution of the radius, of mean “radius” and standard deviation “sd”. Gaussian: cut "
               "at six of them and at zero. Others: until what is left weighs less than 10⁻⁹ with r⁶."));
    all.push_back(choice("weighting", "Weighting", {{"number", "by number"}, {"volume", "by volume"}},
                         "Whether the distribution tells numbers of particles or their volumes.",
                         {.shownIf = kSpread}));
    all.push_back(
        choice("structure", "Interaction",
               {{"none", "none"}, {"hard-sphere", "hard spheres"}, {"sticky-hard-sphere", "sticky spheres"}},
               "What holds the particles apart: a structure factor S(q) after Percus and Yevick, or "
               "Baxter."));
    all.push_back(choice("coupling", "Coupling", {{"decoupled", "decoupled"}, {"local", "local"}},
                         "Decoupled: ⟨F²⟩ + (S − 1)⟨F⟩², sizes do not know each other. Local: each size is "
                         "among its like.",
                         {.group = "Interaction", .shownIf = kInteracting}));
    all.push_back(
        choice("interaction-radius", "Touching", {{"bound", "at the surface"}, {"own", "own radius"}},
               "The radius of the interaction: the mean one (decoupled) or each particle's (local), or a "
               "parameter of its own.",
               {.group = "Interaction", .shownIf = kInteracting}));
    all.push_back(choice("interaction-fraction", "Crowding",
                         {{"bound", "as particles"}, {"own", "own fraction"}},
                         "The volume fraction of the interaction: that of the particles, or its own.",
                         {.group = "Interaction", .shownIf = kInteracting}));
    std::ranges::move(contrastSettings(severalContrasts), std::back_inserter(all));
    std::ranges::move(seenSettings(true), std::back_inserter(all));
    return all;
}

bool isNanometre(const std::string& unit) {
    return unit.find("nm") != std::string::npos;
}

// One length of the model in Å.
double lengthUnitOf(const Settings& s, const ModelContext& context) {
    const std::string chosen = s.text("q-unit", "automatic");
    if (chosen == "1/nm") return 10;
    return chosen == "automatic" && context.fitted && isNanometre(context.fitted->xMeaning.unit) ? 10 : 1;
}

// The largest radius of which points from the first q on tell anything: where sizes are distributed there are
// no oscillations that would tell more.
double longestSeen(const ModelContext& context, bool distributed) {
    double first = INFINITY;
    for (std::size_t i = 0; context.fitted && i < context.fitted->size(); ++i)
        if (context.fitted->counts(i) && context.fitted->x[i] > 0)
            first = std::min(first, context.fitted->x[i]);
    return std::isfinite(first) ? (distributed ? 10 : 100) / first : INFINITY;
}

Result<double> contrastOf(const Settings& s, const ModelContext& context) {
    const std::string typed = s.text("contrast");
    if (!typed.empty()) {
        auto expression = formula::Expression::parse(typed);
        if (!expression) return std::unexpected(expression.error());
        std::vector<std::string> names;
        std::vector<double> values;
        for (const auto& [name, value] : context.constants) names.push_back(name), values.push_back(value);
        auto program = formula::Program::compile(*expression, {}, names);
        if (!program) {
            if (!context.fitted) return 1e-6; // attributes are not known where only parameters matter
            return failure("contrast", "The contrast: " + program.error().text);
        }
        return program->evaluateOne({}, values);
    }
    const std::string substance = s.text("substance");
    if (substance.empty()) return 1e-6;
    const Probe probe = s.text("probe") == "x-rays" ? Probe::XRays : Probe::Neutrons;
    const auto particle = lengthDensity(substance, s.number("density", 1), probe);
    if (!particle) return particle;
    const auto medium = lengthDensity(s.text("medium", "H2O"), s.number("medium-density", 0.998), probe);
    if (!medium) return medium;
    return *particle - *medium;
}

Result<Resolution> resolutionOf(const Settings& s, const ModelContext& context) {
    const std::string kind = s.text("resolution", "sharp");
    Resolution out;
    if (kind == "width")
        out.sigma = [width = s.number("width", 0.001)](double) { return width; };
    else if (kind == "share")
        out.sigma = [share = s.number("share", 5) / 100](double q) { return share * q; };
    else if (kind == "slit")
        out.slit = s.number("slit", 0.02);
    else if (kind == "beam") {
        const BeamGeometry beam{.source = s.number("source", 20),
                                .sample = s.number("aperture", 10),
                                .pixel = s.number("pixel", 5),
                                .before = s.number("before", 5000),
                                .behind = s.number("behind", 5000),
                                .wavelength = s.number("wavelength", 6),
                                .spread = s.number("spread", 10) / 100};
        out.sigma = [beam](double q) { return beamSigma(beam, q); };
    } else if (kind == "column" && context.fitted) {
        const Curve& c = *context.fitted;
        if (c.resolution.empty())
            return failure(
                "no-resolution",
                "No column tells the resolution: give one the role “resolution”, or choose another under "
                "“Resolution”.");
        std::vector<std::pair<double, double>> known;
        for (std::size_t i = 0; i < c.size(); ++i)
            if (std::isfinite(c.resolution[i]) && c.x[i] >= 0) known.emplace_back(c.x[i], c.resolution[i]);
        if (known.empty()) return failure("no-resolution", "The column of the resolution holds no numbers.");
        std::ranges::sort(known);
        out.sigma = [known = std::move(known)](double q) {
            const auto above = std::ranges::lower_bound(known, q, {}, &std::pair<double, double>::first);
            if (above == known.begin()) return above->second;
            if (above == known.end()) return known.back().second;
            const auto& [x1, s1] = *(above - 1);
            const auto& [x2, s2] = *above;
            return x2 > x1 ? std::lerp(s1, s2, (q - x1) / (x2 - x1)) : s2;
        };
    }
    return out;
}

Result<ModelPtr> seen(BarePtr bare, const Settings& s, const ModelContext& context, bool background = true) {
    auto resolution = resolutionOf(s, context);
    if (!resolution) return std::unexpected(resolution.error());
    return seenCurve(std::move(bare), std::move(*resolution), s.flag("background", background));
}

Result<ModelPtr> readParticles(FormPtr form, const Settings& s, const ModelContext& context) {
    Population p{.form = std::move(form)};
    p.distribution = distributionFromKey(s.text("distribution", "none"));
    p.byVolume = s.text("weighting") == "volume";
    const std::string structure = s.text("structure", "none");
    if (structure != "none")
        p.structure = structure == "hard-sphere" ? Structure::HardSphere : Structure::StickySphere;
    p.local = s.text("coupling") == "local";
    p.ownRadius = s.text("interaction-radius") == "own";
    p.ownFraction = s.text("interaction-fraction") == "own";
    const std::string known = s.text("known", "contrast");
    p.known = known == "fraction"  ? Known::Fraction
              : known == "neither" ? Known::Neither
              : known == "scale"   ? Known::Scale
                                   : Known::Contrast;
    const auto contrast = contrastOf(s, context);
    if (!contrast) return std::unexpected(contrast.error());
    p.knownContrast = *contrast;
    p.knownFraction = s.number("fraction", 0.01);
    p.lengthUnit = lengthUnitOf(s, context);
    p.longest = longestSeen(context, p.distribution != Distribution::None);
    return seen(particles(std::move(p)), s, context);
}

template <FormPtr (*form)()> Result<ModelPtr> readForm(const Settings& s, const ModelContext& context) {
    return readParticles(form(), s, context);
}
Result<ModelPtr> readCoreShell(const Settings& s, const ModelContext& context) {
    return readParticles(coreShellForm(s.integer("shells", 1), s.text("shells-against") == "core"), s,
                         context);
}
Result<ModelPtr> readLayer(const Settings& s, const ModelContext& context) {
    const auto contrast = contrastOf(s, context);
    if (!contrast) return std::unexpected(contrast.error());
    const bool scale = s.text("known") == "scale";
    return seen(layerCurve(scale ? std::nullopt : std::optional(*contrast), lengthUnitOf(s, context)), s,
                context);
}
template <BarePtr (*curve)()> Result<ModelPtr> readPlain(const Settings& s, const ModelContext& context) {
    return seen(curve(), s, context);
}

// For lists, where no data are.
template <Result<ModelPtr> (*read)(const Settings&, const ModelContext&)>
ModelPtr standIn(const Settings& s) {
    auto made = read(s, {});
    return made ? *made : nullptr;
}

template <Result<ModelPtr> (*read)(const Settings&, const ModelContext&)>
ModelKind kindOf(const char* key, const char* name, const char* purpose, std::vector<Setting> settings,
                 bool isParticle) {
    ModelKind kind{
        {.key = key, .name = name, .purpose = purpose, .group = kGroup, .settings = std::move(settings)},
        standIn<read>,
        read};
    if (isParticle)
        kind.ingredients = {{"distribution", "distribution", std::string("none")},
                            {"structure", "interaction", std::string("none")}};
    kind.ingredients.push_back({"resolution", "resolution", std::string("sharp")});
    kind.ingredients.push_back({"background", "background", false});
    return kind;
}

std::vector<Setting> layerSettings() {
    std::vector<Setting> all = contrastSettings(false);
    for (Setting& s : all)
        if (s.key == "known")
            std::erase_if(s.choices,
                          [](const Choice& c) { return c.key == "fraction" || c.key == "neither"; });
    std::erase_if(all, [](const Setting& s) { return s.key == "fraction"; });
    std::ranges::move(seenSettings(true), std::back_inserter(all));
    return all;
}

} // namespace

std::vector<ModelKind> scatteringModels() {
    return {
        kindOf<readForm<sphereForm>>("sphere", "Spheres",
                                     "Small-angle scattering of spheres in solution, alike or "
                                     "of distributed radius, dilute or crowded",
                                     particleSettings(false, false), true),
        kindOf<readCoreShell>("core-shell", "Core and shells",
                              "Scattering of spheres with one to three shells", particleSettings(true, true),
                              true),
        kindOf<readForm<hollowForm>>("hollow-sphere", "Hollow spheres", "Scattering of vesicles and capsules",
                                     particleSettings(false, false), true),
        kindOf<readForm<ellipsoidForm>>("ellipsoid", "Ellipsoids",
                                        "Scattering of ellipsoids of revolution in all "
                                        "orientations",
                                        particleSettings(false, false), true),
        kindOf<readForm<cylinderForm>>("cylinder", "Cylinders", "Scattering of rods in all orientations",
                                       particleSettings(false, false), true),
        kindOf<readForm<discForm>>("disc", "Discs", "Scattering of flat discs in all orientations",
                                   particleSettings(false, false), true),
        kindOf<readLayer>("bilayer", "Layers", "Scattering of wide flat layers, such as membranes",
                          layerSettings(), false),
        kindOf<readPlain<chainCurve>>("chain", "Flexible chains",
                                      "Scattering of polymers in solution, after Debye", seenSettings(true),
                                      false),
        kindOf<readPlain<guinierCurve>>("guinier", "Guinier's law",
                                        "Radius of gyration from scattering at small q", seenSettings(true),
                                        false),
        kindOf<readPlain<guinierPorodCurve>>(
            "guinier-porod", "Guinier and Porod",
            "Scattering of anything: a size and the power law of its surface", seenSettings(true), false),
        kindOf<readPlain<powerLawCurve>>("q-power-law", "Power law of q",
                                         "Scattering of surfaces and fractals", seenSettings(true), false),
        kindOf<readPlain<correlationCurve>>("correlation-length", "Correlation length",
                                            "Scattering of networks and fluctuations", seenSettings(true),
                                            false)};
}

} // namespace jointer::models
