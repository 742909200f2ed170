// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/field_sources.h"

#include "base/text.h"
#include "data/median_step.h"
#include "describe/setting_makers.h"
#include "formula/program.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace jointer::evaluate {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

// ---- functions -------------------------------------------------------------------------------------------

Curve functionCurve(const Settings& settings, std::span<const Curve* const>, std::vector<Issue>& issues) {
    const KindInfo& info = sourceCatalogue().find("function")->info;
    Curve c;
    const auto expression = formula::Expression::parse(info.text(settings, "expression"));
    if (!expression) return issues.push_back(expression.error()), c;
    const auto program = formula::Program::compile(*expression, {"x"}, {}, formula::Differentiate::Nothing);
    if (!program)
        return issues.push_back(
                   {"formula", fmt::format("The function may only use x: {}", program.error().text), {}}),
               c;
    const auto range = std::get<Numbers>(info.value(settings, "range"));
    const bool byRatio = info.text(settings, "spacing") == "logarithmic";
    if (byRatio && range[0] <= 0)
        return issues.push_back({"range", "With logarithmic spacing the range must begin above zero.", {}}),
               c;
    const auto n = static_cast<std::size_t>(info.integer(settings, "points"));
    for (std::size_t i = 0; i < n; ++i) {
        const double share = static_cast<double>(i) / static_cast<double>(n - 1);
        c.x.push_back(byRatio ? range[0] * std::pow(range[1] / range[0], share)
                              : std::lerp(range[0], range[1], share));
    }
    c.x.back() = range[1];
    c.y.resize(n);
    const std::span<const double> xs = c.x;
    program->evaluate({&xs, 1}, {}, c.y);
    c.rowIds.resize(n);
    std::iota(c.rowIds.begin(), c.rowIds.end(), 1U);
    c.xMeaning = {info.text(settings, "x-name"), info.text(settings, "x-unit"), false};
    c.yMeaning = {info.text(settings, "y-name"), info.text(settings, "y-unit"), false};
    const auto undefined = std::ranges::count_if(c.y, [](double y) { return !std::isfinite(y); });
    for (double& y : c.y)
        if (!std::isfinite(y)) y = kNaN;
    if (undefined > 0)
        issues.push_back(
            {"undefined",
             fmt::format("The function has no value at {} of {} points; they are left out.", undefined, n),
             {}});
    return c;
}

SourceKind functionSource() {
    auto word = [](const char* key, const char* label, const char* fallback, const char* help) {
        return Setting{.key = key,
                       .label = label,
                       .kind = SettingKind::Text,
                       .fallback = Value(std::string(fallback)),
                       .help = help,
                       .group = "Axes"};
    };
    return {.info = {.key = "function",
                     .name = "Function",
                     .purpose = "A curve by an expression in x",
                     .settings = {{.key = "expression",
                                   .label = "y =",
                                   .kind = SettingKind::Formula,
                                   .fallback = Value(std::string("sin(x)/x")),
                                   .help = "Plain mathematics in x, such as 3*exp(-x/2)."},
                                  {.key = "range",
                                   .label = "x from … to",
                                   .kind = SettingKind::Interval,
                                   .fallback = Value(Numbers{1, 10}),
                                   .help = "Where the function is computed."},
                                  {.key = "points",
                                   .label = "Points",
                                   .kind = SettingKind::WholeNumber,
                                   .fallback = Value(200.0),
                                   .help = "How many points are computed.",
                                   .lowest = 2,
                                   .highest = 1000000},
                                  {.key = "spacing",
                                   .label = "Spacing",
                                   .kind = SettingKind::Choice,
                                   .fallback = Value(std::string("even")),
                                   .help = "Even, or by equal ratios for logarithmic axes.",
                                   .choices = {{"even", "even"}, {"logarithmic", "logarithmic"}}},
                                  word("x-name", "Name of x", "x", "What x is."),
                                  word("x-unit", "Unit of x", "", "The unit of x."),
                                  word("y-name", "Name of y", "y", "What y is."),
                                  word("y-unit", "Unit of y", "", "The unit of y.")}},
            .inputs = 0,
            .curve = functionCurve};
}

// ---- joins -----------------------------------------------------------------------------------------------

struct Partner {
    double y = kNaN, sigma = kNaN;
};

// The points of a curve that count, in order of x.
struct Points {
    std::vector<double> x, y, sigma;
    explicit Points(const Curve& c) {
        for (std::size_t i = 0; i < c.size(); ++i) {
            if (!c.counts(i)) continue;
            x.push_back(c.x[i]);
            y.push_back(c.y[i]);
            if (!c.sigma.empty()) sigma.push_back(c.sigma[i]);
        }
    }
    double sigmaAt(std::size_t i) const { return sigma.empty() ? kNaN : sigma[i]; }
};

Partner nearestTo(const Points& b, double x, double tolerance) {
    const std::size_t i = nearestPoint(b.x, x);
    if (std::abs(b.x[i] - x) > tolerance) return {};
    return {b.y[i], b.sigmaAt(i)};
}

// On the straight line between the neighbours, where both are within the tolerance (0: however far).
Partner between(const Points& b, double x, double tolerance) {
    const auto above = static_cast<std::size_t>(std::ranges::lower_bound(b.x, x) - b.x.begin());
    if (above < b.x.size() && b.x[above] == x) return {b.y[above], b.sigmaAt(above)};
    if (above == 0 || above == b.x.size()) return {};
    const std::size_t below = above - 1;
    if (tolerance > 0 && (x - b.x[below] > tolerance || b.x[above] - x > tolerance)) return {};
    const double share = (x - b.x[below]) / (b.x[above] - b.x[below]);
    return {std::lerp(b.y[below], b.y[above], share),
            std::hypot((1 - share) * b.sigmaAt(below), share * b.sigmaAt(above))};
}

Partner meanAround(const Points& b, double x, double tolerance) {
    const auto from = std::ranges::lower_bound(b.x, x - tolerance) - b.x.begin();
    const auto to = std::ranges::upper_bound(b.x, x + tolerance) - b.x.begin();
    if (from == to) return {};
    double sum = 0, squares = 0;
    for (auto i = static_cast<std::size_t>(from); i < static_cast<std::size_t>(to); ++i) {
        sum += b.y[i];
        squares += b.sigmaAt(i) * b.sigmaAt(i);
    }
    const auto n = static_cast<double>(to - from);
    return {sum / n, std::sqrt(squares) / n};
}

Curve joinedCurve(const Settings& settings, std::span<const Curve* const> inputs,
                  std::vector<Issue>& issues) {
    const KindInfo& info = sourceCatalogue().find("join")->info;
    const Curve &first = *inputs[0], &second = *inputs[1];
    const Points partners(second);
    Curve out;
    out.xMeaning = first.yMeaning;
    out.yMeaning = second.yMeaning;
    if (partners.x.empty()) return out;
    const std::string match = info.text(settings, "match");
    double tolerance = info.number(settings, "tolerance");
    if (!(tolerance > 0) && match != "interpolated") tolerance = medianStep(partners.x) / 2;
    std::size_t alone = 0;
    for (std::size_t i = 0; i < first.size(); ++i) {
        if (!first.counts(i)) continue;
        const Partner p = match == "nearest"    ? nearestTo(partners, first.x[i], tolerance)
                          : match == "averaged" ? meanAround(partners, first.x[i], tolerance)
                                                : between(partners, first.x[i], tolerance);
        if (!std::isfinite(p.y)) {
            ++alone;
            continue;
        }
        out.x.push_back(first.y[i]);
        out.y.push_back(p.y);
        if (!first.sigma.empty()) out.sigmaX.push_back(first.sigma[i]);
        if (!partners.sigma.empty()) out.sigma.push_back(p.sigma);
        out.rowIds.push_back(i < first.rowIds.size() ? first.rowIds[i] : static_cast<std::uint32_t>(i + 1));
    }
    if (!out.sigma.empty()) out.sigmaSource = second.sigmaSource;
    if (alone > 0)
        issues.push_back(
            {"alone",
             fmt::format("{} of {} points of the first dataset {} no partner in the second and {} "
                         "left out; a larger tolerance may find them.",
                         alone, alone + out.size(), alone == 1 ? "has" : "have", alone == 1 ? "is" : "are"),
             {}});
    sortByX(out);
    return out;
}

SourceKind joinSource() {
    return {
        .info = {.key = "join",
                 .name = "Join",
                 .purpose = "One dataset against another, at the same x or time",
                 .settings = {{.key = "match",
                               .label = "Partner",
                               .kind = SettingKind::Choice,
                               .fallback = Value(std::string("interpolated")),
                               .help = "Which y of the second dataset goes with a point of the first: on the "
                                       "line between its neighbours, the nearest point, or the mean of all "
                                       "points within the tolerance.",
                               .choices = {{"interpolated", "interpolated"},
                                           {"nearest", "nearest point"},
                                           {"averaged", "averaged"}}},
                              describe::openNumber("tolerance", "Tolerance",
                                                   "How far apart in x (in seconds for times) partners may be; empty: "
                                                   "half of the usual step of the second, or for interpolation any "
                                                   "distance.",
                                                   {.unit = "x", .lowest = 0, .whenEmpty = "automatic"})}},
        .inputs = 2,
        .curve = joinedCurve};
}

} // namespace

const Catalogue<SourceKind>& sourceCatalogue() {
    static const Catalogue<SourceKind> all({functionSource(), joinSource(), planeSource(), flowSource(),
                                            stackSource(), changedFieldSource(), cutSource(),
                                            fittedSurfaceSource()});
    return all;
}

} // namespace jointer::evaluate
