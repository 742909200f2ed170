// SPDX-License-Identifier: GPL-3.0-or-later
// Converts x to another quantity of the same thing: wavelength, photon energy and wavenumber; scattering
// angle, lattice distance and scattering vector; temperatures. Of a spectral density y takes the Jacobian.
// Source: constants of the SI (2019), h, c and e exact.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::steps {

namespace {

constexpr double kHcEvNm = 1239.8419843320026; // h·c/e in eV·nm
constexpr double kDegree = std::numbers::pi / 180;

struct Optics {
    double wavelength, laser; // of diffraction in Å; of Raman scattering in nm
};

// A quantity by its way to the common one of its group (eV, 1/Å, K), back, and the slope of the way there.
struct Quantity {
    const char *key, *label, *name, *unit, *group;
    double (*there)(double, const Optics&);
    double (*back)(double, const Optics&);
    double (*slope)(double, const Optics&); // d there / d x
    bool descending = false;
};

double ramanEnergy(double shift, const Optics& o) {
    return kHcEvNm * (1 / o.laser - shift * 1e-7);
}

const Quantity kQuantities[] = {
    {"nm", "wavelength, nm", "wavelength", "nm", "light", [](double x, const Optics&) { return kHcEvNm / x; },
     [](double e, const Optics&) { return kHcEvNm / e; },
     [](double x, const Optics&) { return -kHcEvNm / (x * x); }},
    {"um", "wavelength, µm", "wavelength", "µm", "light",
     [](double x, const Optics&) { return kHcEvNm / (1000 * x); },
     [](double e, const Optics&) { return kHcEvNm / (1000 * e); },
     [](double x, const Optics&) { return -kHcEvNm / (1000 * x * x); }},
    {"ev", "photon energy, eV", "photon energy", "eV", "light", [](double x, const Optics&) { return x; },
     [](double e, const Optics&) { return e; }, [](double, const Optics&) { return 1.0; }},
    {"wavenumber", "wavenumber, cm⁻¹", "wavenumber", "cm^{-1}", "light",
     [](double x, const Optics&) { return kHcEvNm * 1e-7 * x; },
     [](double e, const Optics&) { return e / (kHcEvNm * 1e-7); },
     [](double, const Optics&) { return kHcEvNm * 1e-7; }, true},
    {"raman", "Raman shift, cm⁻¹", "Raman shift", "cm^{-1}", "light", ramanEnergy,
     [](double e, const Optics& o) { return 1e7 / o.laser - e / (kHcEvNm * 1e-7); },
     [](double, const Optics&) { return -kHcEvNm * 1e-7; }},
    {"two-theta", "angle 2θ, °", "2θ", "°", "diffraction",
     [](double x, const Optics& o) {
         return 4 * std::numbers::pi * std::sin(x / 2 * kDegree) / o.wavelength;
     },
     [](double q, const Optics& o) {
         return 2 / kDegree * std::asin(q * o.wavelength / (4 * std::numbers::pi));
     },
     [](double x, const Optics& o) {
         return 2 * std::numbers::pi * kDegree * std::cos(x / 2 * kDegree) / o.wavelength;
     }},
    {"d", "lattice distance, Å", "d", "Å", "diffraction",
     [](double x, const Optics&) { return 2 * std::numbers::pi / x; },
     [](double q, const Optics&) { return 2 * std::numbers::pi / q; },
     [](double x, const Optics&) { return -2 * std::numbers::pi / (x * x); }},
    {"q", "scattering vector, 1/Å", "q", "1/Å", "diffraction", [](double x, const Optics&) { return x; },
     [](double q, const Optics&) { return q; }, [](double, const Optics&) { return 1.0; }},
    {"q-nm", "scattering vector, 1/nm", "q", "1/nm", "diffraction",
     [](double x, const Optics&) { return x / 10; }, [](double q, const Optics&) { return 10 * q; },
     [](double, const Optics&) { return 0.1; }},
    {"celsius", "temperature, °C", "T", "°C", "temperature",
     [](double x, const Optics&) { return x + 273.15; }, [](double k, const Optics&) { return k - 273.15; },
     [](double, const Optics&) { return 1.0; }},
    {"kelvin", "temperature, K", "T", "K", "temperature", [](double x, const Optics&) { return x; },
     [](double k, const Optics&) { return k; }, [](double, const Optics&) { return 1.0; }},
    {"inverse-kelvin", "1/T, 1/K", "1/T", "1/K", "temperature", [](double x, const Optics&) { return 1 / x; },
     [](double k, const Optics&) { return 1 / k; }, [](double x, const Optics&) { return -1 / (x * x); }}};

const Quantity* find(std::string_view key) {
    for (const Quantity& q : kQuantities)
        if (q.key == key) return &q;
    return nullptr;
}

// What x is by its unit; none where the unit does not tell.
const Quantity* byUnit(std::string unit, const std::string& name) {
    if (unit == "cm-1" || unit == "1/cm" || unit == "cm⁻¹" || unit == "cm^-1" || unit == "cm^{-1}") {
        const bool shift = lowerAscii(name).find("shift") != std::string::npos ||
                           lowerAscii(name).find("raman") != std::string::npos;
        return find(shift ? "raman" : "wavenumber");
    }
    if (unit == "μm" || unit == "um" || unit == "µm") return find("um");
    if (unit == "°" || unit == "deg") return find("two-theta");
    if (unit == "Å^-1" || unit == "Å^{-1}" || unit == "A^-1" || unit == "Å⁻¹" || unit == "1/A" ||
        unit == "1/Å")
        return find("q");
    if (unit == "nm^-1" || unit == "nm⁻¹" || unit == "nm^{-1}" || unit == "nm-1") return find("q-nm");
    if (unit == "A") unit = "Å";
    for (const Quantity& q : kQuantities)
        if (unit == q.unit) return &q;
    return nullptr;
}

const KindInfo& info() {
    using namespace describe;
    auto quantities = [](bool automatic) {
        std::vector<Choice> all;
        if (automatic) all.push_back({"unit", "by its unit"});
        for (const Quantity& q : kQuantities) all.push_back({q.key, q.label});
        return all;
    };
    static const KindInfo kind{
        .key = "convert",
        .name = "Convert x",
        .purpose = "Between wavelength, energy and wavenumber; 2θ, d and q; temperatures",
        .group = "Values",
        .settings = {
            choice("from", "From", quantities(true), "What x is; by its unit where that tells."),
            choice("to", "To", quantities(false), "What x becomes; name and unit follow."),
            number("wavelength", "Wavelength", 1.540593, "Of the radiation, for angles 2θ.",
                   {.unit = "Å", .lowest = 1e-9, .shownIf = "from=unit|two-theta;to=two-theta"}),
            number("laser", "Laser line", 532, "Wavelength of the laser, for Raman shifts.",
                   {.unit = "nm", .lowest = 1e-9, .shownIf = "from=unit|raman;to=raman"}),
            choice(
                "intensity", "Intensity", {{"keep", "keep"}, {"density", "is a density"}},
                "Is y a density per unit of x (then it is multiplied by |dx/dx'|, so that areas stay), or a "
                "reading such as absorbance, which stays?"),
            choice("drawn", "Drawn",
                   {{"usual", "as usual"}, {"low-first", "low first"}, {"high-first", "high first"}},
                   "Which end stands at the left; wavenumbers usually begin with the high one.")}};
    return kind;
}

Outcome<StepOutput> unknownUnit(const Curve& curve) {
    const std::string& unit = curve.xMeaning.unit;
    return leftAlone(
        curve, "Convert x: nothing was done.", "the unit of x does not tell what it is",
        {"unknown-unit",
         unit.empty() ? "x has no unit that would tell what it is: choose it under “From”."
                      : fmt::format("The unit “{}” does not tell what x is: choose it under “From”.", unit),
         {}});
}

Outcome<StepOutput> noWay(const Curve& curve, const Quantity& source, const Quantity& target) {
    return leftAlone(
        curve, "Convert x: nothing was done.", fmt::format("{} does not become {}", source.name, target.name),
        {"no-way",
         fmt::format("x is {}, which cannot become {}: choose another “To”.", source.label, target.label),
         {}});
}

// The curve over the other quantity; the rows that have no value there are dropped.
void convertPoints(StepOutput& out, const Quantity& source, const Quantity& target, const Optics& optics,
                   bool density) {
    Curve& c = out.curve;
    List factor(c.size(), 1.0);
    std::vector<std::uint8_t> keep(c.size(), 1);
    for (std::size_t i = 0; i < c.size(); ++i) {
        const double common = source.there(c.x[i], optics), x = target.back(common, optics);
        const double slope = source.slope(c.x[i], optics) / target.slope(x, optics); // dx'/dx
        keep[i] = std::isfinite(x) && std::isfinite(slope) && slope != 0 && common > 0;
        if (!keep[i]) {
            if (i < c.rowIds.size()) out.droppedRows.push_back(c.rowIds[i]);
            continue;
        }
        if (density) factor[i] = 1 / std::abs(slope);
        if (!c.sigmaX.empty()) c.sigmaX[i] *= std::abs(slope);
        if (!c.resolution.empty()) c.resolution[i] *= std::abs(slope);
        c.x[i] = x;
    }
    if (density) applyAffine(c, factor, List{0.0});
    if (std::ranges::find(keep, 0) != keep.end()) c = selected(c, keep);
    sortByX(c);
}

// What the conversion rests on.
std::vector<std::string> detailsOf(const Quantity& source, const Quantity& target, const Optics& optics,
                                   bool density) {
    std::vector<std::string> details;
    const std::string keys = std::string(source.key) + " " + target.key;
    if (std::string_view(source.group) == "diffraction" && keys.find("two-theta") != keys.npos)
        details.push_back("wavelength " + readableNumber(optics.wavelength, 7) + " Å");
    if (keys.find("raman") != keys.npos)
        details.push_back("laser line " + readableNumber(optics.laser, 7) + " nm");
    if (density) details.push_back("y multiplied by |dx/dx'|, areas stay");
    return details;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const std::string from = info().text(in.settings, "from");
    const Quantity* source =
        from == "unit" ? byUnit(in.curve.xMeaning.unit, in.curve.xMeaning.name) : find(from);
    const Quantity* target = find(info().text(in.settings, "to"));
    if (!source) return unknownUnit(in.curve);
    if (std::string_view(source->group) != target->group) return noWay(in.curve, *source, *target);
    const Optics optics{info().number(in.settings, "wavelength"), info().number(in.settings, "laser")};
    const bool density = info().text(in.settings, "intensity") == "density";
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    convertPoints(out.value, *source, *target, optics, density);
    const std::string drawn = info().text(in.settings, "drawn");
    out.value.curve.xMeaning = {target->name, target->unit, false,
                                drawn == "high-first" || (drawn == "usual" && target->descending)};
    out.value.sentence = fmt::format("Converted x: {} to {}.", source->label, target->label);
    std::vector<std::string> details = detailsOf(*source, *target, optics, density);
    if (const std::size_t lost = out.value.droppedRows.size(); lost > 0) {
        details.push_back(countedPoints(lost) + " without a value left out");
        out.issues.push_back(
            {"outside-domain", "The conversion has no value for " + countedPoints(lost) + "; left out.", {}});
    }
    out.value.detail = joined(details, " · ");
    return out;
}

} // namespace

StepKind convertStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
