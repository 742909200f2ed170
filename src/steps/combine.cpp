// SPDX-License-Identifier: GPL-3.0-or-later
// Subtracts, divides by or multiplies with another dataset, interpolated on straight lines: a blank, a
// reference, a dark reading. Its scale is given, or fitted so that nothing is left in a span.
#include "describe/setting_makers.h"
#include "steps/interpolation.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

enum class Operation { Subtract, Divide, Multiply };

KindInfo infoOf(std::string key, std::string name, std::string purpose, bool scaled) {
    using namespace describe;
    KindInfo kind{.key = std::move(key),
                  .name = std::move(name),
                  .purpose = std::move(purpose),
                  .group = "Other datasets"};
    kind.settings = {reference("with", "Dataset", "dataset", "The other dataset, as its protocol leaves it."),
                     number("scale", "Times", 1, "Factor of the other dataset.", {.slider = {{0, 2}}})};
    if (scaled)
        kind.settings.push_back(interval("fit-in", "Fitted in",
                                         "Interval of x in which the factor is chosen so that least is left; "
                                         "open: the factor above.",
                                         {.whenEmpty = "as given"}));
    return kind;
}

const KindInfo& subtractInfo() {
    static const KindInfo kind =
        infoOf("subtract", "Subtract a dataset", "Take off a blank, a dark reading, a solvent", true);
    return kind;
}
const KindInfo& divideInfo() {
    static const KindInfo kind = infoOf("divide", "Divide by a dataset", "By a reference or a blank", false);
    return kind;
}
const KindInfo& multiplyInfo() {
    static const KindInfo kind =
        infoOf("multiply", "Multiply with a dataset", "By a window or a correction curve", false);
    return kind;
}

// Σ y·o / Σ o² over the span: what makes y − s·o least there.
std::optional<double> fittedScale(const Curve& c, const Knots& other, std::pair<double, double> span) {
    double products = 0, squares = 0;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < span.first || c.x[i] > span.second) continue;
        const double o = between(other, c.x[i]).y;
        if (std::isfinite(o)) products += c.y[i] * o, squares += o * o;
    }
    return squares > 0 ? std::optional(products / squares) : std::nullopt;
}

Outcome<StepOutput> combine(const StepInput& in, Operation operation, const KindInfo& info) {
    const std::string with = in.settings.reference("with");
    const OtherCurve* other = in.other(with);
    if (!other)
        return with.empty()
                   ? leftAlone(in.curve, info.name + ": none chosen yet.", "choose the dataset")
                   : leftAlone(in.curve, info.name + ": nothing was done.", "the dataset is not there",
                               {"dataset-gone", "The dataset is not there: choose another.", {}});
    const Knots knots = knotsOf(*other->curve);
    double scale = info.number(in.settings, "scale");
    bool fitted = false;
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    if (const auto span =
            operation == Operation::Subtract ? intervalOf(info, in.settings, "fit-in") : std::nullopt) {
        if (const auto found = fittedScale(in.curve, knots, *span))
            scale = *found, fitted = true;
        else
            out.issues.push_back(
                {"no-points", "The curves do not meet in the interval: the factor was not fitted.", {}});
    }
    Curve& c = out.value.curve;
    List others(c.size());
    std::size_t outside = 0, zero = 0;
    std::vector<std::uint8_t> excluded = c.excluded;
    excluded.resize(c.size(), 0);
    List factor(c.size(), 1.0), offset(c.size(), 0.0), own(c.size());
    for (std::size_t i = 0; i < c.size(); ++i) {
        const Between o = between(knots, c.x[i]);
        others[i] = scale * o.y;
        const double sigma = std::abs(scale) * std::sqrt(o.variance);
        if (!std::isfinite(o.y) || (operation == Operation::Divide && others[i] == 0)) {
            if (in.curve.counts(i)) ++(std::isfinite(o.y) ? zero : outside);
            excluded[i] = 1;
            factor[i] = std::nan("");
            continue;
        }
        if (operation == Operation::Subtract) offset[i] = -others[i], own[i] = sigma;
        if (operation == Operation::Multiply) factor[i] = others[i], own[i] = std::abs(c.y[i]) * sigma;
        if (operation == Operation::Divide)
            factor[i] = 1 / others[i], own[i] = std::abs(c.y[i] / (others[i] * others[i])) * sigma;
    }
    applyAffine(c, factor, offset);
    const bool known = !knots.variance.empty();
    if (known && c.sigma.empty() && operation != Operation::Subtract) c.sigma.assign(c.size(), 0.0);
    for (std::size_t i = 0; i < c.size() && !c.sigma.empty(); ++i)
        c.sigma[i] = std::hypot(c.sigma[i], own[i]);
    if (outside + zero > 0) c.excluded = excluded;
    if (operation == Operation::Divide)
        c.yMeaning.unit = unitQuotient(c.yMeaning.unit, other->curve->yMeaning.unit);
    if (operation == Operation::Multiply)
        c.yMeaning.unit = unitProduct(c.yMeaning.unit, other->curve->yMeaning.unit);
    const char* word = operation == Operation::Subtract ? "Took off"
                       : operation == Operation::Divide ? "Divided by"
                                                        : "Multiplied with";
    out.value.sentence =
        fmt::format("{} “{}”{}.", word, other->name, scale == 1 ? "" : " times " + readableNumber(scale));
    std::vector<std::string> details;
    if (fitted) details.push_back("factor fitted");
    if (!c.sigma.empty() && !known) details.push_back("as if it had no uncertainty");
    if (outside > 0) details.push_back(countedPoints(outside) + " beyond it left out");
    if (zero > 0) details.push_back(countedPoints(zero) + " where it is zero left out");
    out.value.detail = joined(details, " · ");
    if (operation != Operation::Divide) out.value.layers.push_back(curveLayer("baseline", in.curve, others));
    return out;
}

} // namespace

StepKind subtractStep() {
    return {.info = subtractInfo(),
            .apply = [](const StepInput& in) { return combine(in, Operation::Subtract, subtractInfo()); }};
}
StepKind divideStep() {
    return {.info = divideInfo(),
            .apply = [](const StepInput& in) { return combine(in, Operation::Divide, divideInfo()); }};
}
StepKind multiplyStep() {
    return {.info = multiplyInfo(),
            .apply = [](const StepInput& in) { return combine(in, Operation::Multiply, multiplyInfo()); }};
}

} // namespace jointer::steps
