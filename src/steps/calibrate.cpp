// SPDX-License-Identifier: GPL-3.0-or-later
// Calibrates x by known lines: where peaks were found, and where they belong. Offset, line or parabola by
// least squares, with what is left.
#include "describe/setting_makers.h"
#include "numerics/polynomial.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "calibrate",
        .name = "Calibrate x",
        .purpose = "By known lines: positions as found and as they should be",
        .group = "Place",
        .settings = {
            points("lines", "Lines", "For each line its position as found and as known, such as 520.1:520.7.",
                   {.whenEmpty = "found:known, found:known"}, {"found", "known"}),
            choice("by", "Correction", {{"offset", "offset"}, {"line", "line"}, {"parabola", "parabola"}},
                   "How the correction depends on x. A line needs two lines, a parabola three."),
            flag("snap", "Find the peaks", true,
                 "A position as found is refined to the highest point near it, on the parabola through three "
                 "points."),
            number("within", "Within", 0, "How far from the typed position a peak may lie; 0: five points.",
                   {.unit = "x", .lowest = 0, .shownIf = "snap=yes"}),
            reference("seen-on", "Found on", "dataset",
                      "Another dataset that shows the lines, such as a lamp. Open: this curve.",
                      {.whenEmpty = "this curve"})}};
    return kind;
}

struct Line {
    double found, known;
    std::size_t index;
};

std::vector<Line> linesOf(const StepInput& in, const Curve& seen) {
    const Numbers flat = in.settings.numbers("lines");
    const bool snap = info().flag(in.settings, "snap");
    double within = info().number(in.settings, "within");
    if (within == 0) within = 5 * spacingOf(countingPoints(seen).x).usual;
    std::vector<Line> lines;
    for (std::size_t i = 0; i + 1 < flat.size(); i += 2) {
        double found = flat[i];
        if (snap) found = extremeWithin(seen, found - within, found + within).value_or(found);
        lines.push_back({found, flat[i + 1], i / 2});
    }
    return lines;
}

Outcome<StepOutput> tooFewLines(const StepInput& in, const std::string& by, int degree, std::size_t there) {
    return leftAlone(in.curve, "Calibrate x: nothing was done.", "too few lines",
                     {"too-few-lines",
                      fmt::format("A {} needs {} lines at least, there {} {}.", by, degree + 1,
                                  there == 1 ? "is" : "are", there),
                      {}});
}

// Moves x by the correction; whether x turns around by it.
bool moveX(Curve& c, const numerics::PolynomialFit& correction) {
    const List before = c.x;
    bool turns = false;
    for (std::size_t i = 0; i < c.size(); ++i) {
        c.x[i] += correction(before[i]);
        turns |= i > 0 && before[i] > before[i - 1] && c.x[i] <= c.x[i - 1];
    }
    sortByX(c);
    return turns;
}

Handle handleOf(const Line& l, double height) {
    return {.form = HandleForm::Anchor,
            .x = l.found,
            .y = std::isfinite(height) ? height : 0,
            .setting = "lines",
            .index = l.index,
            .says = fmt::format("line found at {}, known at {}", readableNumber(l.found, 7),
                                readableNumber(l.known, 7)),
            .xOnly = true};
}

// What the correction leaves of each line (the first eight), and their standard deviation.
std::string leftOver(const std::vector<Line>& lines, const numerics::PolynomialFit& correction, int degree) {
    double squares = 0;
    std::vector<std::string> rests;
    for (const Line& l : lines) {
        const double rest = l.known - l.found - correction(l.found);
        squares += rest * rest;
        if (rests.size() < 8)
            rests.push_back(fmt::format("{} ({})", readableNumber(l.known), readableNumber(rest, 2)));
    }
    std::string told = "left over " + joined(rests, ", ");
    const auto spare = static_cast<double>(lines.size()) - degree - 1;
    if (spare > 0) told += fmt::format(" · SD {}", readableNumber(std::sqrt(squares / spare), 2));
    return told;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const std::string seenOn = in.settings.reference("seen-on");
    const OtherCurve* other = in.other(seenOn);
    if (!seenOn.empty() && !other)
        return leftAlone(in.curve, "Calibrate x: nothing was done.",
                         "the dataset with the lines is not there",
                         {"dataset-gone", "The dataset with the lines is not there: choose another.", {}});
    const Curve& seen = other ? *other->curve : in.curve;
    const std::vector<Line> lines = linesOf(in, seen);
    if (lines.empty())
        return leftAlone(in.curve, "Calibrate x: no lines yet.", "type positions as found and as known");
    const std::string by = info().text(in.settings, "by");
    const int degree = by == "offset" ? 0 : by == "line" ? 1 : 2;
    if (static_cast<int>(lines.size()) <= degree) return tooFewLines(in, by, degree, lines.size());
    List found, off;
    for (const Line& l : lines) found.push_back(l.found), off.push_back(l.known - l.found);
    const numerics::PolynomialFit correction(found, off, degree);
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    if (moveX(out.value.curve, correction))
        out.issues.push_back(
            {"turns", "The correction turns x around within the curve: check the lines.", {}});
    const Knots knots = knotsOf(seen);
    for (const Line& l : lines) out.value.handles.push_back(handleOf(l, between(knots, l.found).y));
    out.value.sentence = fmt::format("Calibrated x by {}: {}.", counted(std::ssize(lines), "line"),
                                     by == "offset" ? "an offset of " + readableNumber(correction(0), 4)
                                     : by == "line" ? "a line"
                                                    : "a parabola");
    out.value.detail = leftOver(lines, correction, degree);
    return out;
}

} // namespace

StepKind calibrateStep() {
    return {.info = info(), .apply = apply, .anchorsAreX = true};
}

} // namespace jointer::steps
