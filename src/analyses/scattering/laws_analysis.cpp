// SPDX-License-Identifier: GPL-3.0-or-later
// Laws of scattering in coordinates in which they are straight: Guinier, Porod, power laws; and the
// invariant.
#include "analyses/scattering/points.h"
#include "analyses/scattering/straight_line.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::analyses {

namespace {

constexpr double kPi = std::numbers::pi;

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "scattering-laws",
        .name = "Law of scattering",
        .purpose = "Radius of gyration, surface, dimension or invariant of scattering, by a straight line",
        .settings = {
            choice("law", "Law",
                   {{"guinier", "Guinier: ln I over q²"},
                    {"porod", "Porod: I·q⁴ over q⁴"},
                    {"power", "power: ln I over ln q"},
                    {"invariant", "invariant: I·q²"}},
                   "Guinier: the radius of gyration, from small q. Porod: the surface, from large q, over a "
                   "background. Power: the dimension. Invariant: ∫I·q² dq, with Guinier before the first and "
                   "Porod "
                   "behind the last points."),
            choice("shape", "Shape", {{"compact", "compact"}, {"rods", "rods"}, {"sheets", "sheets"}},
                   "Of what scatters. Rods give the radius of gyration of their cross-section from ln(I·q), "
                   "sheets "
                   "that of their thickness from ln(I·q²).",
                   {.shownIf = "law=guinier"}),
            number("limit", "q·Rg up to", 1.3, "Points beyond it do not count, where no span is given.",
                   {.lowest = 0.3, .highest = 3, .shownIf = "law=guinier"}),
            number("background", "Background", 0, "Taken off before the invariant.",
                   {.unit = "y", .shownIf = "law=invariant"}),
            contrastSetting()}};
    return kind;
}

class Law {
public:
    Law(const Task& task, ScatteringPoints points) : task_(task), p_(std::move(points)) {}

    Result<AnalysisResult> told() {
        const std::string law = info().text(task_.spec.settings, "law");
        out_.state = "done";
        const auto good = law == "guinier" ? guinier()
                          : law == "porod" ? porod()
                          : law == "power" ? power()
                                           : invariant();
        if (!good) return std::unexpected(good.error());
        return std::move(out_);
    }

private:
    void give(const char* key, const char* label, const char* meaning, const std::string& unit, double value,
              double se = NAN) {
        out_.quantities.push_back(scatteringQuantity(task_, key, label, meaning, unit, value, se));
    }
    std::optional<double> contrast() const {
        const double c = info().number(task_.spec.settings, "contrast");
        return task_.spec.settings.has("contrast") && c > 0 ? std::optional(c) : std::nullopt;
    }
    std::string qUnit() const { return p_.curve->xMeaning.unit; }
    const std::string& yUnit() const { return p_.curve->yMeaning.unit; }

    // Points where f is defined: x, y and the error of y.
    template <class F> Coordinates coordinates(F f) const {
        Coordinates c;
        for (std::size_t i = 0; i < p_.size(); ++i) {
            const auto [x, y, sigma] = f(p_.q[i], p_.intensity[i], p_.sigma[i]);
            if (!std::isfinite(y) || !std::isfinite(sigma) || !(sigma > 0)) continue;
            c.x.push_back(x), c.y.push_back(y), c.sigma.push_back(sigma), c.q.push_back(p_.q[i]);
        }
        return c;
    }

    void addStraight(const Coordinates& c, const Line& line, std::size_t from, std::size_t to, AxisMeaning x,
                     AxisMeaning y) {
        const DatasetId member = task_.inputs.front().spec.dataset;
        NamedCurve curve{.role = "straight",
                         .label = y.name,
                         .member = member,
                         .founded = Span(c.x[from], c.x[to - 1]),
                         .xMeaning = x,
                         .yMeaning = y};
        curve.sample = [line](const std::vector<double>& xs) {
            Sampled s;
            for (const double at : xs) {
                s.y.push_back(line.intercept + line.slope * at);
                s.confidence.push_back(
                    1.96 *
                    std::sqrt(std::max(0.0, line.interceptSe * line.interceptSe + 2 * at * line.covariance +
                                                at * at * line.slopeSe * line.slopeSe)));
            }
            return s;
        };
        out_.curves.push_back(curve);
        auto points = std::make_shared<Curve>();
        // Some beyond the line, so that one sees where it ends.
        const double beyond = 0.6 * std::abs(c.x[to - 1] - c.x[from]);
        std::size_t more = to, less = from;
        while (more < c.size() && std::abs(c.x[more] - c.x[to - 1]) <= beyond) ++more;
        while (less > 0 && std::abs(c.x[less - 1] - c.x[from]) <= beyond) --less;
        points->x.assign(c.x.begin() + std::ptrdiff_t(less), c.x.begin() + std::ptrdiff_t(more));
        points->y.assign(c.y.begin() + std::ptrdiff_t(less), c.y.begin() + std::ptrdiff_t(more));
        points->xMeaning = std::move(x);
        points->yMeaning = std::move(y);
        sortByX(*points);
        curve.role = "straight-points";
        curve.sample = nullptr;
        curve.points = std::move(points);
        out_.curves.push_back(std::move(curve));
        out_.quality.push_back({.key = "n", .label = "n", .value = double(line.n), .state = "quality"});
        if (p_.sigmaIsKnown && line.n > 2)
            out_.quality.push_back({.key = "reduced_chi2",
                                    .label = "χ²/dof",
                                    .value = line.chi2 / double(line.n - 2),
                                    .state = "quality"});
    }

    Result<void> guinier() {
        const std::string shape = info().text(task_.spec.settings, "shape");
        const int power = shape == "rods" ? 1 : shape == "sheets" ? 2 : 0;
        const double over = 3 - power; // Rg² is −slope times this
        const Coordinates c = coordinates([&](double q, double i, double s) {
            return std::tuple(q * q, i > 0 ? std::log(i) + power * std::log(q) : NAN, s / i);
        });
        const double limit = info().number(task_.spec.settings, "limit");
        const bool chosen = !task_.inputs.front().spec.span.isAll();
        std::size_t to = c.size();
        if (to < 4) return tooFew();
        Line line = lineThrough(c, 0, to, p_.sigmaIsKnown);
        if (!chosen) {
            // From few points on, as long as the line's own q·Rg stays below the limit; the widest such.
            std::size_t best = std::min<std::size_t>(4, to);
            for (std::size_t k = std::min<std::size_t>(5, to); k <= to; ++k) {
                const Line l = lineThrough(c, 0, k, p_.sigmaIsKnown);
                if (l.slope < 0 && c.q[k - 1] * std::sqrt(-l.slope * over) <= limit) best = k;
            }
            to = best;
            line = lineThrough(c, 0, to, p_.sigmaIsKnown);
        }
        if (!(line.slope < 0))
            return failure("no-fall", "The intensity does not fall with q there: Guinier’s law gives no "
                                      "size. Choose another span.");
        const double rg = std::sqrt(-line.slope * over), rgSe = 0.5 * line.slopeSe * over / rg;
        const double i0 = std::exp(line.intercept);
        give("rg", "Rg",
             power == 0   ? "radius of gyration"
             : power == 1 ? "radius of gyration of the cross-section"
                          : "of the thickness: thickness/√12",
             p_.lengthUnit, rg, rgSe);
        give("forward",
             power == 0   ? "I(0)"
             : power == 1 ? "I·q at 0"
                          : "I·q² at 0",
             "of the line at q = 0", power == 0 ? yUnit() : "", i0, i0 * line.interceptSe);
        if (power == 0)
            give("radius", "sphere radius", "of a sphere with this radius of gyration: √(5/3)·Rg",
                 p_.lengthUnit, std::sqrt(5.0 / 3) * rg, std::sqrt(5.0 / 3) * rgSe);
        if (power == 1)
            give("radius", "rod radius", "of a rod with it: √2·Rg", p_.lengthUnit, std::numbers::sqrt2 * rg,
                 std::numbers::sqrt2 * rgSe);
        if (power == 2)
            give("thickness", "thickness", "of a sheet with it: √12·Rg", p_.lengthUnit, std::sqrt(12.0) * rg,
                 std::sqrt(12.0) * rgSe);
        const double reach = c.q[to - 1] * rg;
        give("reach", "q·Rg", "of the last point: the law holds up to about 1.3", "", reach);
        if (reach > 1.05 * std::max(limit, 1.3))
            out_.issues.push_back(
                {"guinier-range",
                 fmt::format(
                     "The line goes up to q·Rg = {:.2g}; the law holds up to about 1.3. Take fewer points.",
                     reach),
                 {}});
        if (c.q[0] * rg > 0.8)
            out_.issues.push_back(
                {"guinier-start",
                 fmt::format(
                     "The first point is at q·Rg = {:.2g}: there are hardly points where the law holds.",
                     c.q[0] * rg),
                 {}});
        addStraight(c, line, 0, to, {"q²", powered(qUnit(), 2)},
                    {power == 0   ? "ln I"
                     : power == 1 ? "ln(I·q)"
                                  : "ln(I·q²)",
                     ""});
        out_.sentence = fmt::format("Guinier’s law gives Rg = {} {} up to q·Rg = {:.2g}.",
                                    readableNumber(rg, 4), p_.lengthUnit, reach);
        out_.detail = counted(static_cast<long long>(to), "point");
        return {};
    }

    Result<void> porod() {
        const Coordinates c = coordinates([](double q, double i, double s) {
            const double q4 = std::pow(q, 4);
            return std::tuple(q4, i * q4, s * q4);
        });
        // Without a span the last third of the points.
        const bool chosen = !task_.inputs.front().spec.span.isAll();
        const std::size_t from = chosen ? 0 : c.size() * 2 / 3;
        if (c.size() - from < 4) return tooFew();
        const Line line = lineThrough(c, from, c.size(), p_.sigmaIsKnown);
        give("porod", "Porod constant", "limit of I·q⁴ above the background", "", line.intercept,
             line.interceptSe);
        give("background", "background", "slope of I·q⁴ over q⁴", yUnit(), line.slope, line.slopeSe);
        if (const auto d = contrast()) {
            // I in cm⁻¹, q in 1/length: S/V = K/(2πΔρ²), in cm²/cm³.
            const double inA = 1e-8 / std::pow(p_.lengthInA, 4); // K in Å⁻⁵
            const double surface = line.intercept * inA / (2 * kPi * *d * *d) * 1e8;
            give("surface", "surface per volume", "K/(2πΔρ²), in cm² per cm³", "1/cm", surface,
                 line.interceptSe / std::abs(line.intercept) * surface);
        }
        if (line.intercept < 2 * line.interceptSe)
            out_.issues.push_back(
                {"porod-weak",
                 "The constant does not stand out of its error: there is hardly a fall with q⁻⁴ there.",
                 {}});
        addStraight(c, line, from, c.size(), {"q⁴", powered(qUnit(), 4)}, {"I·q⁴", ""});
        out_.sentence = fmt::format("Porod’s constant is {} over a background of {}.",
                                    readableNumber(line.intercept, 4), readableNumber(line.slope, 3));
        out_.detail = fmt::format("q from {}; {}", readableNumber(c.q[from], 4),
                                  counted(static_cast<long long>(line.n), "point"));
        return {};
    }

    Result<void> power() {
        const Coordinates c = coordinates([](double q, double i, double s) {
            return std::tuple(std::log(q), i > 0 ? std::log(i) : NAN, s / i);
        });
        if (c.size() < 4) return tooFew();
        const Line line = lineThrough(c, 0, c.size(), p_.sigmaIsKnown);
        const double d = -line.slope;
        give("exponent", "exponent", "I ∝ q^(−exponent)", "", d, line.slopeSe);
        give("scale", "I at q = 1", "of the line", yUnit(), std::exp(line.intercept),
             std::exp(line.intercept) * line.interceptSe);
        const char* says = d > 4.2   ? "a surface that is not sharp"
                           : d > 3.8 ? "a sharp, smooth surface"
                           : d > 3   ? "a rough surface"
                           : d > 2.2 ? "a fractal mass"
                           : d > 1.8 ? "sheets, or chains without excluded volume"
                           : d > 1.2 ? "chains, or a loose fractal mass"
                           : d > 0.8 ? "rods"
                                     : "no law of a shape";
        const double decades = (c.x.back() - c.x.front()) / std::log(10.0);
        if (decades < 0.5)
            out_.issues.push_back(
                {"short-range",
                 fmt::format("The points span {:.2g} of a decade of q: a power law wants one at least.",
                             decades),
                 {}});
        addStraight(c, line, 0, c.size(), {"ln q", ""}, {"ln I", ""});
        out_.sentence = fmt::format("The intensity falls as q to the −{}: {}.", readableNumber(d, 3), says);
        out_.detail = counted(static_cast<long long>(line.n), "point");
        return {};
    }

    // ∫I·q² dq by trapezoids, before them Guinier through the first points, behind them Porod.
    Result<void> invariant() {
        const double background = info().number(task_.spec.settings, "background");
        std::vector<double> i = p_.intensity;
        for (double& v : i) v -= background;
        const std::size_t n = p_.size();
        if (n < 6) return tooFew();
        double middle = 0, variance = 0;
        for (std::size_t k = 0; k < n; ++k) {
            const double width = ((k + 1 < n ? p_.q[k + 1] : p_.q[k]) - (k > 0 ? p_.q[k - 1] : p_.q[k])) / 2;
            middle += width * i[k] * p_.q[k] * p_.q[k];
            variance += std::pow(width * p_.sigma[k] * p_.q[k] * p_.q[k], 2);
        }
        ScatteringPoints few = p_;
        few.intensity = i;
        const Law start(task_, few);
        const Coordinates c = start.coordinates(
            [](double q, double v, double s) { return std::tuple(q * q, v > 0 ? std::log(v) : NAN, s / v); });
        if (c.size() < 4) return tooFew();
        std::size_t to = 5;
        for (std::size_t k = 5; k <= c.size(); ++k) {
            const Line l = lineThrough(c, 0, k, true);
            if (l.slope < 0 && c.q[k - 1] * std::sqrt(-3 * l.slope) <= 1.3) to = k;
        }
        const Line line = lineThrough(c, 0, std::min(to, c.size()), true);
        const double i0 = std::exp(line.intercept), a = std::max(-line.slope, 0.0), q1 = p_.q.front();
        double before = 0;
        const int steps = 200;
        for (int k = 0; k < steps; ++k) {
            const double q = q1 * (k + 0.5) / steps;
            before += i0 * std::exp(-a * q * q) * q * q * q1 / steps;
        }
        double porod = 0, count = 0;
        for (std::size_t k = n * 5 / 6; k < n; ++k) porod += i[k] * std::pow(p_.q[k], 4), ++count;
        porod = std::max(0.0, porod / count);
        const double behind = porod / p_.q.back();
        const double total = before + middle + behind, se = p_.sigmaIsKnown ? std::sqrt(variance) : NAN;
        const double cube = std::pow(p_.lengthInA, 3);
        give("invariant", "invariant", "∫I·q² dq from zero to infinity", "", total, se);
        give("extrapolated", "extrapolated share", "of the invariant before and behind the points", "",
             (before + behind) / total);
        const double volume = 2 * kPi * kPi * i0 / total;
        give("volume", "volume", "of a particle: 2π²·I(0)/invariant, of dilute particles",
             p_.lengthUnit + "^{3}", volume,
             p_.sigmaIsKnown ? volume * std::hypot(line.interceptSe, se / total) : NAN);
        give("radius", "sphere radius", "of a sphere with this volume", p_.lengthUnit,
             std::cbrt(3 * volume / (4 * kPi)));
        if (const auto d = contrast()) {
            const double product = total * 1e-8 / cube / (2 * kPi * kPi * *d * *d); // φ(1 − φ)
            if (product < 0.25)
                give("volume_fraction", "volume fraction", "from 2π²φ(1 − φ)Δρ²", "",
                     0.5 - std::sqrt(0.25 - product),
                     p_.sigmaIsKnown ? se / total * product / std::sqrt(1 - 4 * product) : NAN);
            else
                out_.issues.push_back({"too-much",
                                       "The invariant is more than any two-phase sample of this contrast "
                                       "has: is the intensity in cm⁻¹, the contrast right?",
                                       {}});
        }
        if (before + behind > 0.3 * total)
            out_.issues.push_back(
                {"extrapolated",
                 fmt::format("{:.0f} % of the invariant is extrapolated.", 100 * (before + behind) / total),
                 {}});
        out_.sentence = fmt::format("The invariant is {}, {:.0f} % of it extrapolated.",
                                    readableNumber(total, 4), 100 * (before + behind) / total);
        out_.detail = counted(static_cast<long long>(n), "point");
        return {};
    }

    static std::unexpected<Issue> tooFew() {
        return failure(
            "few-points",
            "There are too few points above zero in this span: a straight line takes four at least.");
    }
    // "1/Å^{2}" of "1/Å".
    static std::string powered(const std::string& unit, int power) {
        if (unit.empty()) return {};
        return unit.starts_with("1/") ? fmt::format("{}^{{-{}}}", unit.substr(2), power) : std::string();
    }

    const Task& task_;
    ScatteringPoints p_;
    AnalysisResult out_;
};

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    auto points = scatteringPoints(task, 4);
    if (!points) return std::unexpected(points.error());
    return Law(task, std::move(*points)).told();
}

std::string nameFor(const Analysis& spec) {
    const std::string law = info().text(spec.settings, "law");
    return law == "guinier" ? "Guinier’s law"
           : law == "porod" ? "Porod’s law"
           : law == "power" ? "Power law of q"
                            : "Invariant";
}

} // namespace

AnalysisKind scatteringLawsAnalysis() {
    return {.info = info(),
            .slots = {{.key = "dataset", .label = "Dataset", .of = "dataset"}},
            .compute = compute,
            .name = nameFor,
            .costly = false};
}

} // namespace jointer::analyses
