// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/fields.h"

#include "base/text.h"
#include "describe/setting_makers.h"
#include "evaluate/mappings/kinds.h"
#include "evaluate/sources.h"
#include "fields/scattered.h"
#include "formula/program.h"

#include <cmath>
#include <fmt/format.h>
#include <numeric>
#include <set>

namespace jointer::evaluate {

using fields::Field;

namespace {

constexpr std::size_t kMostPoints = 400000; // of a field as a curve

std::vector<std::size_t> orderOf(const std::vector<double>& values) {
    std::vector<std::size_t> order;
    for (std::size_t k = 0; k < values.size(); ++k)
        if (std::isfinite(values[k])) order.push_back(k);
    std::ranges::stable_sort(order, {}, [&](std::size_t k) { return values[k]; });
    return order;
}

// Of equal values the first stays.
std::size_t dropRepeated(std::vector<std::size_t>& order, const std::vector<double>& values) {
    const std::size_t before = order.size();
    order.erase(std::unique(order.begin(), order.end(),
                            [&](std::size_t a, std::size_t b) { return values[a] == values[b]; }),
                order.end());
    return before - order.size();
}

std::vector<double> chosen(const std::vector<double>& values, const std::vector<std::size_t>& order) {
    std::vector<double> out;
    for (const std::size_t k : order) out.push_back(values[k]);
    return out;
}

std::vector<double> numbersOf(const Column* c, std::size_t rows) {
    std::vector<double> out(c->numbers().begin(), c->numbers().end());
    out.resize(rows, NAN);
    return out;
}

// Rows at the crossings of some x and some y, as far as they are there.
Field onGrid(const fields::Scatter& s, const std::vector<double>& xs, const std::vector<double>& ys,
             std::vector<Issue>& issues) {
    Field f;
    f.x = xs;
    f.y = ys;
    f.z.assign(xs.size() * ys.size(), NAN);
    std::vector<std::uint16_t> counts(f.z.size(), 0);
    long long repeated = 0;
    for (std::size_t k = 0; k < s.x.size(); ++k) {
        if (!std::isfinite(s.x[k]) || !std::isfinite(s.y[k]) || !std::isfinite(s.z[k])) continue;
        const auto i = static_cast<std::size_t>(std::ranges::lower_bound(xs, s.x[k]) - xs.begin()),
                   j = static_cast<std::size_t>(std::ranges::lower_bound(ys, s.y[k]) - ys.begin());
        double& z = f.z[j * xs.size() + i];
        auto& n = counts[j * xs.size() + i];
        repeated += n == 1;
        z = n == 0 ? s.z[k] : z + (s.z[k] - z) / (n + 1.0);
        if (n < 65535) ++n;
    }
    if (repeated > 0)
        issues.push_back({"repeated-places",
                          fmt::format("At {} several values were measured; their means are taken.",
                                      counted(repeated, "place")),
                          {}});
    return f;
}

// The different x and y of places that have a z.
struct Crossings {
    std::set<double> x, y;
    std::size_t places = 0;

    explicit Crossings(const fields::Scatter& s) {
        for (std::size_t k = 0; k < s.x.size(); ++k)
            if (std::isfinite(s.z[k])) add(s.x[k], s.y[k]);
    }
    Crossings(std::span<const double> xs, std::span<const double> ys) {
        for (std::size_t k = 0; k < xs.size(); ++k) add(xs[k], ys[k]);
    }

private:
    void add(double a, double b) {
        if (!std::isfinite(a) || !std::isfinite(b)) return;
        ++places;
        x.insert(a);
        y.insert(b);
    }
};

bool isScattered(const Crossings& c, const Settings& settings) {
    const std::string as = settings.text("as", "automatic");
    if (as != "automatic") return as == "scattered";
    return !(c.x.size() > 1 && c.y.size() > 1 && c.x.size() * c.y.size() <= 2 * c.places);
}

Field scatteredField(const fields::Scatter& s, const Settings& settings, std::vector<Issue>& issues,
                     const Cancellation& stop) {
    const auto nodes = static_cast<std::size_t>(std::clamp(settings.number("resolution", 120), 2.0, 2000.0));
    auto made = fields::gridded(s,
                                {.by = fields::interpolationFrom(settings.text("interpolation", "natural")),
                                 .columns = nodes,
                                 .rows = nodes,
                                 .smoothing = settings.number("smoothing", 0),
                                 .beyondHull = settings.flag("beyond", false)},
                                stop);
    std::ranges::move(made.issues, std::back_inserter(issues));
    return std::move(made.value);
}

} // namespace

bool isScattered(std::span<const double> x, std::span<const double> y, const Settings& settings) {
    return isScattered(Crossings(x, y), settings);
}

fields::Field mixturesOf(const Table& table, const DatasetSource& source, std::vector<Issue>& issues,
                         const Cancellation& stop) {
    const auto parts = threeParts(table, source.roles), zs = columnsOf(table, source.roles, Role::Z);
    if (parts.size() != 3 || zs.empty()) return {};
    fields::Scatter s;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const double a = cellAt(parts[0], row), b = cellAt(parts[1], row), c = cellAt(parts[2], row);
        const auto p = a >= 0 && b >= 0 && c >= 0 ? fields::inTriangle(a, b, c) : fields::Place{NAN, NAN};
        s.x.push_back(p.x);
        s.y.push_back(p.y);
        s.z.push_back(cellAt(zs[0], row));
    }
    Field f = scatteredField(s, source.settings, issues, stop);
    f.zMeaning = meaningOf(*zs[0]);
    return f;
}

// Columns as the rows of a field are laid out, in squares that the cache holds.
static void turnedInto(Field& f, const std::vector<const Column*>& zs,
                       const std::vector<std::size_t>& columns, const std::vector<std::size_t>& lines) {
    constexpr std::size_t kEdge = 32;
    const std::size_t n = columns.size();
    std::vector<std::span<const double>> from;
    for (const std::size_t k : columns) from.emplace_back(zs[k]->numbers());
    parallelRanges((lines.size() + kEdge - 1) / kEdge, 2, [&](std::size_t begin, std::size_t end) {
        for (std::size_t square = begin; square < end; ++square)
            for (std::size_t left = 0; left < n; left += kEdge) {
                const std::size_t low = square * kEdge, high = std::min(lines.size(), low + kEdge);
                for (std::size_t i = left; i < std::min(n, left + kEdge); ++i)
                    for (std::size_t j = low; j < high; ++j)
                        f.z[j * n + i] = lines[j] < from[i].size() ? from[i][lines[j]] : NAN;
            }
    });
}

fields::Field gridOf(const Table& table, const DatasetSource& source, std::vector<Issue>& issues) {
    Field f;
    const auto ys = columnsOf(table, source.roles, Role::Y), zs = columnsOf(table, source.roles, Role::Z);
    const std::size_t rows = table.rowCount();
    std::vector<double> x(zs.size()), y(rows);
    const bool named =
        std::ranges::all_of(zs, [](const Column* c) { return parseNumber(c->name).has_value(); });
    for (std::size_t k = 0; k < zs.size(); ++k)
        x[k] = named ? *parseNumber(zs[k]->name) : static_cast<double>(k + 1);
    if (ys.empty())
        std::iota(y.begin(), y.end(), 1.0);
    else
        y = numbersOf(ys[0], rows);
    auto columns = orderOf(x), lines = orderOf(y);
    const std::size_t repeated = dropRepeated(columns, x) + dropRepeated(lines, y);
    if (repeated > 0)
        issues.push_back(
            {"repeated-places",
             fmt::format("{} of the grid {} left out: the same x or y is there before.",
                         counted(static_cast<long long>(repeated), "line"), repeated == 1 ? "is" : "are"),
             {}});
    f.x = chosen(x, columns);
    f.y = chosen(y, lines);
    f.z.assign(f.x.size() * f.y.size(), NAN);
    turnedInto(f, zs, columns, lines);
    f.xMeaning.name = named ? "x" : "column";
    f.yMeaning = ys.empty() ? AxisMeaning{.name = "row"} : meaningOf(*ys[0]);
    f.zMeaning.name = "z";
    if (!zs.empty()) f.zMeaning.unit = zs[0]->unit;
    if (const std::string name = source.settings.text("x-name"); !name.empty()) f.xMeaning.name = name;
    if (const std::string name = source.settings.text("z-name"); !name.empty()) f.zMeaning.name = name;
    f.xMeaning.unit = source.settings.text("x-unit");
    if (const std::string unit = source.settings.text("z-unit"); !unit.empty()) f.zMeaning.unit = unit;
    return f;
}

std::vector<Setting> surfaceSettings() {
    std::vector<Setting> all = scatteredSettings();
    all.insert(
        all.begin(),
        describe::choice("as", "Places",
                         {{"automatic", "as they are"}, {"grid", "on a grid"}, {"scattered", "scattered"}},
                         "Whether rows stand at the crossings of a grid, or anywhere."));
    return all;
}

std::vector<Setting> scatteredSettings() {
    using namespace describe;
    return {choice("interpolation", "Between",
                   {{"natural", "natural neighbours"}, {"flat", "flat triangles"}, {"plate", "thin plate"}},
                   "How z runs between scattered places: smoothly through all, straight on triangles, or as "
                   "the plate "
                   "that bends least."),
            number("smoothing", "Smoothing", 0,
                   "Of the plate: 0 goes through all places, larger values bend less; places fill a square "
                   "of edge 1.",
                   {.lowest = 0, .highest = 1e6, .shownIf = "interpolation=plate"}),
            wholeNumber("resolution", "Nodes", 120, "Along the longer side of the grid that is made.",
                        {.lowest = 2, .highest = 2000}),
            flag("beyond", "Beyond the places", false, "Show values outside the outline of the places too.")};
}

fields::Field surfaceOf(const Table& table, const DatasetSource& source, std::vector<Issue>& issues,
                        const Cancellation& stop) {
    const auto xs = columnsOf(table, source.roles, Role::X), ys = columnsOf(table, source.roles, Role::Y),
               zs = columnsOf(table, source.roles, Role::Z);
    Field f;
    if (xs.empty() || ys.empty() || zs.empty()) return f;
    const std::size_t rows = table.rowCount();
    const fields::Scatter s{numbersOf(xs[0], rows), numbersOf(ys[0], rows), numbersOf(zs[0], rows)};
    const Crossings crossings(s);
    f = isScattered(crossings, source.settings) ? scatteredField(s, source.settings, issues, stop)
                                                : onGrid(s, {crossings.x.begin(), crossings.x.end()},
                                                         {crossings.y.begin(), crossings.y.end()}, issues);
    f.xMeaning = meaningOf(*xs[0]);
    f.yMeaning = meaningOf(*ys[0]);
    f.zMeaning = meaningOf(*zs[0]);
    return f;
}

std::vector<double> evenNodes(double low, double high, std::size_t count) {
    std::vector<double> nodes;
    for (std::size_t k = 0; k < count && low < high; ++k)
        nodes.push_back(std::lerp(low, high, static_cast<double>(k) / static_cast<double>(count - 1)));
    return nodes;
}

fields::Field planeOf(const KindInfo& info, const Settings& settings, std::vector<Issue>& issues) {
    Field f;
    const std::string typed = settings.text("expression");
    const auto expression =
        formula::Expression::parse(typed.empty() ? info.text(settings, "expression") : typed);
    if (!expression) return issues.push_back(expression.error()), f;
    const auto program =
        formula::Program::compile(*expression, {"x", "y"}, {}, formula::Differentiate::Nothing);
    if (!program) {
        issues.push_back(
            {"formula", fmt::format("The function may only use x and y: {}", program.error().text), {}});
        return f;
    }
    const auto nodes = [&](const char* range, const char* count) {
        const auto ends = std::get<Numbers>(info.value(settings, range));
        const auto n = static_cast<std::size_t>(info.integer(settings, count));
        return evenNodes(ends[0], ends[1], n);
    };
    f.x = nodes("x-range", "x-nodes");
    f.y = nodes("y-range", "y-nodes");
    if (f.x.empty() || f.y.empty()) {
        issues.push_back({"range", "The ranges of x and y must end above where they begin.", {}});
        return {};
    }
    f.z.resize(f.x.size() * f.y.size());
    parallelRanges(f.y.size(), 8, [&](std::size_t begin, std::size_t end) {
        std::vector<double> y(f.x.size());
        for (std::size_t j = begin; j < end; ++j) {
            std::ranges::fill(y, f.y[j]);
            const std::array<std::span<const double>, 2> inputs{f.x, y};
            program->evaluate(inputs, {}, std::span(f.z).subspan(j * f.x.size(), f.x.size()));
        }
    });
    for (double& z : f.z)
        if (!std::isfinite(z)) z = NAN;
    f.xMeaning = {info.text(settings, "x-name"), info.text(settings, "x-unit"), false};
    f.yMeaning = {info.text(settings, "y-name"), info.text(settings, "y-unit"), false};
    f.zMeaning = {info.text(settings, "z-name"), info.text(settings, "z-unit"), false};
    return f;
}

Curve curveOf(const fields::Field& f, std::vector<Issue>& issues) {
    Curve c;
    c.xMeaning = f.xMeaning;
    c.yMeaning = f.zMeaning;
    c.moreMeanings = {f.yMeaning};
    c.more.resize(1);
    if (f.isEmpty()) return c;
    std::size_t every = 1;
    while ((f.columns() / every) * (f.rows() / every) > kMostPoints) ++every;
    if (every > 1)
        issues.push_back(
            {"thinned",
             fmt::format(
                 "Of {} nodes every {}th along both directions stands for the dataset as a curve; maps "
                 "and contours take all.",
                 readableNumber(static_cast<double>(f.z.size()), 9), every),
             {}});
    for (std::size_t i = 0; i < f.columns(); i += every)
        for (std::size_t j = 0; j < f.rows(); j += every) {
            if (!std::isfinite(f.at(i, j))) continue;
            c.x.push_back(f.x[i]);
            c.more[0].push_back(f.y[j]);
            c.y.push_back(f.at(i, j));
            c.rowIds.push_back(static_cast<std::uint32_t>(j * f.columns() + i + 1));
        }
    return c;
}

} // namespace jointer::evaluate
