// SPDX-License-Identifier: GPL-3.0-or-later
// Sizes of crystallites and strain from the widths of diffraction lines: an analysis that takes a set of
// peaks, and perhaps one of a standard that tells the instrument's own width.
#include "analyses/line_widths.h"
#include "analyses/peaks/further_numbers.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using namespace describe;

const KindInfo& sizesSettings() {
    static const KindInfo info{
        .key = "sizes",
        .name = "Sizes from widths",
        .purpose =
            "Size of crystallites and strain from the widths of diffraction lines, the instrument's own "
            "width taken away",
        .settings = {
            number("wavelength", "Wavelength", 1.5406, "Sizes come in its unit.", {.lowest = 1e-9}),
            angleSetting("What the axis of x is: sizes hang on it."),
            number("shape", "Shape factor", 0.9,
                   "K of the size equation: 0.9 for FWHM, 1 for integral breadths "
                   "of cubes, 4/3 for spheres.",
                   {.lowest = 0.1, .highest = 5}),
            choice("breadth", "Breadth",
                   {{"fwhm", "full width at half maximum"}, {"integral", "integral breadth"}},
                   "Which breadth of the line is taken."),
            choice("profile", "Profile",
                   {{"lorentzian", "Lorentzian: widths differ"},
                    {"gaussian", "Gaussian: squares differ"},
                    {"voigt", "Voigt: both parts"}},
                   "How the instrument's width is taken away."),
            number(
                "instrument", "Instrument's width", 0,
                "Full width at half maximum, in the unit of x; of a Voigt profile that of its Gaussian part. "
                "A standard tells it better.",
                {.unit = "x", .lowest = 0}),
            number("instrument-lorentz", "its Lorentzian part", 0, "Of a Voigt profile.",
                   {.unit = "x", .lowest = 0, .shownIf = "profile=voigt"})}};
    return info;
}

class Sizer {
public:
    Sizer(const Task& task, const PeaksDetail& peaks, const PeaksDetail* standard)
        : settings_(task.spec.settings), peaks_(peaks), info_(sizesSettings()) {
        const std::string profile = info_.text(settings_, "profile");
        profile_ = profile == "gaussian"     ? LineProfile::Gaussian
                   : profile == "lorentzian" ? LineProfile::Lorentzian
                                             : LineProfile::Voigt;
        wavelength_ = info_.number(settings_, "wavelength");
        shape_ = info_.number(settings_, "shape");
        integral_ = info_.text(settings_, "breadth") == "integral";
        if (standard) takeStandard(*standard);
    }

    AnalysisResult size(const AnalysisResult& from) {
        AnalysisResult out{.state = "done"};
        std::vector<MeasuredBreadth> breadths;
        for (std::size_t k = 0; k < peaks_.plan.peaks.size(); ++k) addLine(k, out, breadths);
        addTogether(out, breadths);
        out.good = from.good && out.issues.empty();
        out.sentence = fmt::format("Sizes from the widths of {}, {}.",
                                   counted(std::ssize(peaks_.plan.peaks), "line"), instrumentText());
        out.detail = fmt::format("K = {}, λ = {}, {}, {} profile", readableNumber(shape_, 4),
                                 readableNumber(wavelength_, 7), integral_ ? "integral breadths" : "FWHM",
                                 info_.text(settings_, "profile"));
        return out;
    }

private:
    double radians() const { return radiansOfTwoTheta(info_, settings_); }
    double thetaOf(double x) const { return 0.5 * x * radians(); }

    // The width of a line by parts, as its shape has them.
    WidthParts partsOf(const PlannedPeak& peak, std::span<const double> p) const {
        const auto called = [&](const char* name) -> std::optional<double> {
            const auto& all = peak.shape.model->parameters();
            const auto at = std::ranges::find(all, name, &models::ParameterInfo::name);
            return at == all.end() ? std::nullopt
                                   : std::optional(p[static_cast<std::size_t>(at - all.begin())]);
        };
        if (profile_ == LineProfile::Voigt) {
            if (peak.shape.key == "voigt") return {*called("gauss"), *called("lorentz")};
            if (peak.shape.key == "pseudo-voigt")
                return partsOfPseudoVoigt(*called("fwhm"), *called("share"));
        }
        const double width = models::PeakReading(*peak.shape.model, *peak.shape.traits, p).width(0.5).value;
        const bool lorentz = profile_ == LineProfile::Lorentzian ||
                             (profile_ == LineProfile::Voigt && peak.shape.key == "lorentzian");
        return lorentz ? WidthParts{0, width} : WidthParts{width, 0};
    }

    void takeStandard(const PeaksDetail& standard) {
        std::vector<std::pair<double, double>> gauss, lorentz;
        const std::vector<double> all = standard.report.one().values();
        for (std::size_t k = 0; k < standard.plan.peaks.size(); ++k) {
            const PlannedPeak& p = standard.plan.peaks[k];
            const WidthParts w =
                partsOf(p, std::span(all).subspan(p.firstParameter, p.shape.model->parameters().size()));
            const double theta = thetaOf(standard.numbers[k].maximum.value);
            gauss.emplace_back(theta, w.gauss);
            lorentz.emplace_back(theta, w.lorentz);
        }
        gaussLaw_ = squareLawThrough(gauss);
        lorentzLaw_ = squareLawThrough(lorentz);
        lines_ = standard.plan.peaks.size();
    }
    WidthParts instrumentAt(double theta) const {
        if (lines_ > 0) return {orNought(gaussLaw_.width(theta)), orNought(lorentzLaw_.width(theta))};
        const double told = info_.number(settings_, "instrument");
        if (profile_ == LineProfile::Lorentzian) return {0, told};
        return {told, profile_ == LineProfile::Voigt ? info_.number(settings_, "instrument-lorentz") : 0};
    }
    static double orNought(double v) { return v > 0 ? v : 0; }
    std::string instrumentText() const {
        if (lines_ > 2)
            return fmt::format("the instrument’s by {} of a standard and the square law",
                               counted(static_cast<long long>(lines_), "line"));
        if (lines_ > 0) return "the instrument’s from a standard";
        const double told = info_.number(settings_, "instrument");
        return told > 0 ? fmt::format("the instrument’s {} taken away", readableNumber(told, 4))
                        : "nothing taken away for the instrument";
    }

    // The sample's breadth in radians of 2θ; NaN: not above the instrument's.
    double breadth(const PlannedPeak& peak, std::span<const double> p) const {
        const double theta = thetaOf(p[peak.shape.traits->centre]);
        const auto own = withoutInstrument(partsOf(peak, p), instrumentAt(theta), profile_);
        if (!own) return std::nan("");
        return (integral_ ? breadthOf(*own) : fwhmOf(*own)) * radians();
    }

    std::pair<double, double> withError(const PlannedPeak& peak,
                                        const std::function<double(std::span<const double>)>& f) const {
        const NumberWithError n = numbers_.of(peak, f);
        return {n.value, n.error};
    }
    void add(AnalysisResult& out, const std::string& name, const char* label, const std::string& unit,
             std::pair<double, double> n, const PlannedPeak* peak, bool good = true) const {
        out.quantities.push_back(numbers_.quantity(name, label, unit, {n.first, n.second}, peak, good));
    }

    void addLine(std::size_t k, AnalysisResult& out, std::vector<MeasuredBreadth>& breadths) const {
        const PlannedPeak& peak = peaks_.plan.peaks[k];
        const auto b = withError(peak, [&](std::span<const double> p) { return breadth(peak, p); });
        const double theta = thetaOf(peaks_.numbers[k].centre.value);
        if (!(b.first > 0)) return addBound(k, out);
        add(out, "breadth", "breadth of the sample", "", {b.first / radians(), b.second / radians()}, &peak);
        add(out, "size", "size", "",
            withError(peak,
                      [&](std::span<const double> p) {
                          return scherrerSize(breadth(peak, p), thetaOf(p[peak.shape.traits->centre]),
                                              wavelength_, shape_);
                      }),
            &peak);
        add(out, "strain", "strain, if it were all", "",
            withError(peak,
                      [&](std::span<const double> p) {
                          return strainOf(breadth(peak, p), thetaOf(p[peak.shape.traits->centre]));
                      }),
            &peak);
        breadths.push_back({theta, b.first, b.second});
    }

    // A line not wider than the instrument's: the size is larger than that of the widest line that its error
    // allows.
    void addBound(std::size_t k, AnalysisResult& out) const {
        const PlannedPeak& peak = peaks_.plan.peaks[k];
        const auto width =
            withError(peak, [&](std::span<const double> p) { return fwhmOf(partsOf(peak, p)); });
        const double theta = thetaOf(peaks_.numbers[k].centre.value),
                     upper = width.first + fit::tQuantile(peaks_.report) * width.second;
        const WidthParts instrument = instrumentAt(theta);
        const double scale = upper / width.first;
        WidthParts line =
            partsOf(peak, std::span<const double>(peaks_.report.one().values())
                              .subspan(peak.firstParameter, peak.shape.model->parameters().size()));
        line = {line.gauss * scale, line.lorentz * scale};
        auto own = withoutInstrument(line, instrument, profile_);
        const double error = std::max(upper - width.first, fwhmOf(instrument) - width.first);
        if (!own)
            own = profile_ == LineProfile::Lorentzian
                      ? WidthParts{0, error}
                      : WidthParts{std::sqrt(2 * fwhmOf(instrument) * error), 0};
        const double b = (integral_ ? breadthOf(*own) : fwhmOf(*own)) * radians();
        const double bound = scherrerSize(b, theta, wavelength_, shape_);
        add(out, "larger_than", "size is larger than", "", {bound, std::nan("")}, &peak, false);
        out.issues.push_back(
            {"not-wider",
             fmt::format("The line “{}” is not wider than the instrument’s: its size is only known to be "
                         "larger than {}.",
                         peak.name, readableNumber(bound, 3)),
             {}});
    }

    void addTogether(AnalysisResult& out, const std::vector<MeasuredBreadth>& breadths) const {
        const auto both = sizeAndStrain(breadths, wavelength_, shape_, profile_ == LineProfile::Gaussian);
        if (!both) return;
        add(out, "size", "size, strain apart", "", {both->size, both->sizeError}, nullptr);
        add(out, "strain", "strain, size apart", "", {both->strain, both->strainError}, nullptr);
    }

    const Settings& settings_;
    const PeaksDetail& peaks_;
    FurtherNumbers numbers_{peaks_};
    const KindInfo& info_;
    LineProfile profile_ = LineProfile::Lorentzian;
    double wavelength_ = 1, shape_ = 1;
    bool integral_ = false;
    std::size_t lines_ = 0; // of the standard
    SquareLaw gaussLaw_, lorentzLaw_;
};

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    const auto peaks = takenPeaks(task, "Sizes");
    if (!peaks) return std::unexpected(peaks.error());
    const PeaksDetail* standard =
        task.analyses.size() > 1 && task.analyses[1] ? peaksDetail(*task.analyses[1]) : nullptr;
    return Sizer(task, **peaks, standard).size(*task.analyses[0]);
}

} // namespace

AnalysisKind sizesAnalysis() {
    AnalysisKind kind{.info = sizesSettings(), .slots = slotsOfPeaks(), .compute = compute, .costly = false};
    kind.slots.push_back(
        {.key = "standard", .label = "Standard", .of = "analysis", .kinds = {"peaks"}, .fewest = 0});
    return kind;
}

} // namespace jointer::analyses
