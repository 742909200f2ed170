// SPDX-License-Identifier: GPL-3.0-or-later
// Brings curves to one scale: by their maximum, area, a value or a mean, or so that two references become 0
// and 100 %. The error of a reference is common to all points and carried as such.
#include "describe/setting_makers.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    const auto sources = [](const char* end) {
        return std::vector<Choice>{{"rows", "marked rows"},
                                   {"span", "a span"},
                                   {"dataset", "a dataset"},
                                   {"number", "a number"},
                                   {"range", end}};
    };
    static const KindInfo kind{
        .key = "normalise",
        .name = "Normalise",
        .purpose = "Bring curves to one scale, or to per cent of references",
        .group = "Values",
        .settings = {
            choice("to", "To",
                   {{"maximum", "maximum"},
                    {"min-max", "whole range"},
                    {"area", "area"},
                    {"sum", "sum"},
                    {"value", "value at x"},
                    {"mean", "mean over a span"},
                    {"norm", "root of squares"},
                    {"references", "two references"}},
                   "What becomes one; or two references that become 0 and 100 %."),
            number("at", "At x", 0, "Where the value is taken, on the line between the points.",
                   {.unit = "x", .shownIf = "to=value"}),
            interval("span", "Over", "Interval of x in which maximum, area or mean are taken.",
                     {.shownIf = "to=maximum|min-max|area|sum|mean|norm", .whenEmpty = "whole curve"}),
            number("becomes", "Becomes", 1, "What that becomes: 1, or 100 for per cent.",
                   {.shownIf = "to=maximum|min-max|area|sum|value|mean|norm"}),
            choice("zero-from", "0 % from", sources("lowest point"),
                   "What reads 0 %: rows marked as blank (without any, the lowest point of the curve), a "
                   "span of "
                   "the curve, another dataset, a number.",
                   {.shownIf = "to=references"}),
            openNumber("zero", "0 % at", "The number that becomes 0 %.",
                       {.unit = "y", .shownIf = "zero-from=number", .whenEmpty = "by the rows"}),
            interval("zero-span", "0 % over", "Interval of x whose mean becomes 0 %.",
                     {.shownIf = "zero-from=span", .whenEmpty = "none"}),
            reference("zero-of", "0 % is", "dataset", "Dataset whose mean becomes 0 %.",
                      {.shownIf = "zero-from=dataset"}),
            choice("hundred-from", "100 % from", sources("highest point"),
                   "What reads 100 %: rows marked as control (without any, the highest point of the curve), "
                   "a span "
                   "of the curve, another dataset, a number.",
                   {.shownIf = "to=references"}),
            openNumber("hundred", "100 % at", "The number that becomes 100 %.",
                       {.unit = "y", .shownIf = "hundred-from=number", .whenEmpty = "by the rows"}),
            interval("hundred-span", "100 % over", "Interval of x whose mean becomes 100 %.",
                     {.shownIf = "hundred-from=span", .whenEmpty = "none"}),
            reference("hundred-of", "100 % is", "dataset", "Dataset whose mean becomes 100 %.",
                      {.shownIf = "hundred-from=dataset"})}};
    return kind;
}

// A number that points are measured against, and its standard uncertainty (0: not known).
struct Level {
    double value = 0, error = 0;
    std::string from;
    bool typed = false; // by hand, as a number
};

Level meanOf(const List& y, std::string from) {
    double sum = 0, squares = 0;
    for (double v : y) sum += v;
    const auto n = static_cast<double>(y.size());
    const double mean = sum / n;
    for (double v : y) squares += (v - mean) * (v - mean);
    return {mean, n > 1 ? std::sqrt(squares / (n - 1) / n) : 0, std::move(from)};
}

List finite(List values) {
    std::erase_if(values, [](double v) { return !std::isfinite(v); });
    return values;
}

class References {
public:
    explicit References(const StepInput& in) : in_(in), points_(countingPoints(in.curve)) {}

    Result<Level> level(bool hundred) const {
        const std::string end = hundred ? "hundred" : "zero";
        std::string from = info().text(in_.settings, end + "-from");
        // A number that is given counts, whether or not it was said that there is one.
        const auto number = numberOf(info(), in_.settings, end);
        if (number && !in_.settings.has(end + "-from")) from = "number";
        if (from == "number") {
            if (number) return Level{*number, 0, "a number", true};
            return failure("no-reference",
                           fmt::format("Type the number that becomes {} %.", hundred ? 100 : 0));
        }
        if (from == "span") return overSpan(end);
        if (from == "dataset") return ofDataset(end);
        if (from == "rows")
            if (const List read = rows(hundred ? RowKind::Control : RowKind::Blank); !read.empty())
                return meanOf(read, counted(std::ssize(read), "reading") +
                                        (hundred ? " of controls" : " of blanks"));
        const auto [low, high] = std::ranges::minmax(points_.y);
        return Level{hundred ? high : low, 0, hundred ? "the highest point" : "the lowest point"};
    }

private:
    void addReadings(std::size_t point, List& to) const { // y, or each replicate
        if (in_.curve.replicates.empty()) to.push_back(in_.curve.y[point]);
        for (const List& r : in_.curve.replicates) to.push_back(r[point]);
    }

    // Rows that are points of the curve as it stands here; others as they were measured.
    List rows(RowKind kind) const {
        List read;
        for (std::size_t i = 0; i < in_.curve.rowIds.size(); ++i) {
            const auto at = in_.facts.rowKinds.find(in_.curve.rowIds[i]);
            if (at == in_.facts.rowKinds.end() || at->second != kind || in_.curve.isExcluded(i)) continue;
            addReadings(i, read);
        }
        read = finite(std::move(read));
        if (const auto at = in_.facts.readings.find(kind); read.empty() && at != in_.facts.readings.end())
            return finite(at->second);
        return read;
    }

    Result<Level> overSpan(const std::string& end) const {
        const auto span = intervalOf(info(), in_.settings, end + "-span");
        if (!span) return failure("no-reference", "Choose the span of the reference.");
        List read;
        for (std::size_t i = 0; i < in_.curve.size(); ++i) {
            if (!in_.curve.counts(i) || in_.curve.x[i] < span->first || in_.curve.x[i] > span->second)
                continue;
            addReadings(i, read);
        }
        read = finite(std::move(read));
        if (read.empty()) return failure("no-reference", "No point lies in the span of the reference.");
        return meanOf(read, spanText(in_.curve.xMeaning, span->first, span->second));
    }

    Result<Level> ofDataset(const std::string& end) const {
        const OtherCurve* other = in_.other(in_.settings.reference(end + "-of"));
        if (!other) return failure("no-reference", "Choose the dataset of the reference.");
        const CountingPoints points = countingPoints(*other->curve);
        if (points.y.empty())
            return failure("no-reference", fmt::format("The reference “{}” has no points.", other->name));
        return meanOf(points.y, "“" + other->name + "”");
    }

    const StepInput& in_;
    CountingPoints points_;
};

void addCommon(Curve& c, const std::string& source, const std::function<double(double)>& perPoint) {
    CommonError common{source, {}};
    for (double y : c.y) common.y.push_back(perPoint(y));
    c.common.push_back(std::move(common));
}

// A height on the plot for a reference that is no span: taken hold of, it becomes a number.
void addLevel(const StepInput& in, const Level& level, bool hundred, StepOutput& out) {
    const std::string end = hundred ? "hundred" : "zero";
    if (info().text(in.settings, end + "-from") == "span") return; // its ends are handles
    Handle handle{.form = HandleForm::Level,
                  .state = level.typed ? HandleState::Accepted : HandleState::Proposed,
                  .x = in.curve.x.front(),
                  .y = level.value,
                  .setting = end,
                  .says = (hundred ? "100 % at " : "0 % at ") + placeText(in.curve.yMeaning, level.value) +
                          ", " + level.from};
    handle.with.set(end + "-from", "number");
    out.handles.push_back(std::move(handle));
}

Outcome<StepOutput> toReferences(const StepInput& in) {
    const References references(in);
    const auto zero = references.level(false), hundred = references.level(true);
    for (const auto* level : {&zero, &hundred})
        if (!*level)
            return leftAlone(in.curve, "Normalise: nothing was done.", level->error().text, level->error());
    const double range = hundred->value - zero->value;
    if (range == 0 || !std::isfinite(range))
        return leftAlone(
            in.curve, "Normalise: nothing was done.", "the references are equal",
            {"equal-references", "The two references read the same: nothing can become 0 and 100 %.", {}});
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    addLevel(in, *zero, false, out.value);
    addLevel(in, *hundred, true, out.value);
    Curve& c = out.value.curve;
    const double factor[] = {100 / range}, offset[] = {-100 * zero->value / range};
    applyAffine(c, factor, offset);
    // y' = 100·(y − z)/(h − z): ∂y'/∂z = (y' − 100)/(h − z), ∂y'/∂h = −y'/(h − z).
    if (zero->error > 0)
        addCommon(c, "the reference for 0 %", [&](double y) { return (y - 100) / range * zero->error; });
    if (hundred->error > 0)
        addCommon(c, "the reference for 100 %", [&](double y) { return -y / range * hundred->error; });
    c.yMeaning.unit = "%";
    out.value.sentence = "Normalised to two references: 0 and 100 %.";
    auto said = [&](const Level& level) {
        const ValueText text = readableWithError(level.value, level.error);
        return (text.error.empty() ? readableNumber(level.value) : text.text()) + " (" + level.from + ")";
    };
    out.value.detail = "0 % at " + said(*zero) + " · 100 % at " + said(*hundred);
    if (zero->error > 0 || hundred->error > 0) out.value.detail += " · their errors are common to all points";
    return out;
}

// What is to become one, with what stands for zero (0 but for minimum and maximum).
struct Size {
    double whole = 0, zero = 0, error = 0;
    std::string said;
};

Result<Size> sizeOf(const StepInput& in, const std::string& to) {
    const CountingPoints points = countingPoints(in.curve);
    const AxisMeaning &xs = in.curve.xMeaning, &ys = in.curve.yMeaning;
    if (to == "value") {
        const double x = info().number(in.settings, "at"), y = between({points.x, points.y, {}}, x).y;
        if (!std::isfinite(y)) return failure("no-points", "There is no value at " + placeText(xs, x) + ".");
        return Size{y, 0, 0, fmt::format("the value {} at {}", placeText(ys, y), placeText(xs, x))};
    }
    const auto span = intervalOf(info(), in.settings, "span").value_or(std::pair(-INFINITY, INFINITY));
    const SpanNumbers numbers = numbersOfSpan(in.curve, span.first, span.second);
    if (numbers.n == 0) return failure("no-points", "No point lies in the span.");
    if (to == "area") return Size{numbers.area, 0, 0, "the area " + readableNumber(numbers.area)};
    if (to == "mean")
        return Size{numbers.mean, 0,
                    numbers.n > 1 ? numbers.sd / std::sqrt(static_cast<double>(numbers.n)) : 0,
                    "the mean " + placeText(ys, numbers.mean)};
    if (to == "maximum")
        return Size{
            numbers.maximum, 0, 0,
            fmt::format("the maximum {} at {}", placeText(ys, numbers.maximum), placeText(xs, numbers.at))};
    List y;
    for (std::size_t k = 0; k < points.x.size(); ++k)
        if (points.x[k] >= span.first && points.x[k] <= span.second) y.push_back(points.y[k]);
    if (to == "min-max") {
        const auto [low, high] = std::ranges::minmax(y);
        return Size{high - low, low, 0, "the range " + spanText(ys, low, high)};
    }
    double sum = 0, squares = 0;
    for (double v : y) sum += v, squares += v * v;
    if (to == "sum") return Size{sum, 0, 0, "the sum " + readableNumber(sum)};
    return Size{std::sqrt(squares), 0, 0, "the length " + readableNumber(std::sqrt(squares))};
}

Outcome<StepOutput> apply(const StepInput& in) {
    const std::string to = info().text(in.settings, "to");
    if (countingPoints(in.curve).y.empty())
        return leftAlone(in.curve, "Normalise: nothing was done.", "no points count");
    if (to == "references") return toReferences(in);
    const auto size = sizeOf(in, to);
    if (!size) return leftAlone(in.curve, "Normalise: nothing was done.", size.error().text, size.error());
    if (size->whole == 0 || !std::isfinite(size->whole))
        return leftAlone(in.curve, "Normalise: nothing was done.", size->said + " is zero",
                         {"zero-size", "What is to become one is zero: nothing can be divided by it.", {}});
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    const double becomes = info().number(in.settings, "becomes");
    const double factor[] = {becomes / size->whole}, offset[] = {-becomes * size->zero / size->whole};
    applyAffine(c, factor, offset);
    if (size->error > 0)
        addCommon(c, "the mean that became " + readableNumber(becomes),
                  [&](double y) { return -y / size->whole * size->error; });
    c.yMeaning.unit = becomes == 100 && to != "area" ? "%" : "";
    out.value.sentence = fmt::format("Normalised: {} became {}.", size->said, readableNumber(becomes));
    return out;
}

} // namespace

StepKind normaliseStep() {
    return {.info = info(), .asksFacts = true, .apply = apply};
}

} // namespace jointer::steps
