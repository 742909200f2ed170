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

// One curve with another, point by point: y' = factor·y + offset, with the other's own uncertainty.
class Combination {
public:
    Combination(const StepInput& in, Operation operation, const KindInfo& info, const OtherCurve& other)
        : in_(in), operation_(operation), other_(other), knots_(knotsOf(*other.curve)),
          scale_(info.number(in.settings, "scale")) {
        if (operation == Operation::Subtract) fitScale(intervalOf(info, in.settings, "fit-in"));
    }

    Outcome<StepOutput> outcome() {
        out_.value.curve = in_.curve;
        combinePoints();
        meetUnits();
        tell();
        if (operation_ != Operation::Divide)
            out_.value.layers.push_back(curveLayer("baseline", in_.curve, others_));
        return std::move(out_);
    }

private:
    void fitScale(const std::optional<std::pair<double, double>>& span) {
        if (!span) return;
        if (const auto found = fittedScale(in_.curve, knots_, *span))
            scale_ = *found, fitted_ = true;
        else
            out_.issues.push_back(
                {"no-points", "The curves do not meet in the interval: the factor was not fitted.", {}});
    }

    void combinePoints() {
        Curve& c = out_.value.curve;
        const std::size_t n = c.size();
        List factor(n, 1.0), offset(n, 0.0), own(n);
        std::vector<std::uint8_t> excluded = c.excluded;
        excluded.resize(n, 0);
        others_.resize(n);
        for (std::size_t i = 0; i < n; ++i) {
            const Between o = between(knots_, c.x[i]);
            const double y = others_[i] = scale_ * o.y;
            if (!std::isfinite(y) || (operation_ == Operation::Divide && y == 0)) {
                if (in_.curve.counts(i)) ++(std::isfinite(y) ? zero_ : outside_);
                excluded[i] = 1;
                factor[i] = std::nan("");
                continue;
            }
            double slope = 1; // of the result by the other's y
            if (operation_ == Operation::Subtract) offset[i] = -y;
            if (operation_ == Operation::Multiply) factor[i] = y, slope = c.y[i];
            if (operation_ == Operation::Divide) factor[i] = 1 / y, slope = c.y[i] / (y * y);
            own[i] = std::abs(slope * scale_) * std::sqrt(o.variance);
        }
        applyAffine(c, factor, offset);
        if (isKnown() && c.sigma.empty() && operation_ != Operation::Subtract) c.sigma.assign(n, 0.0);
        for (std::size_t i = 0; i < c.sigma.size(); ++i) c.sigma[i] = std::hypot(c.sigma[i], own[i]);
        if (outside_ + zero_ > 0) c.excluded = excluded;
    }

    void meetUnits() {
        std::string& unit = out_.value.curve.yMeaning.unit;
        if (operation_ == Operation::Divide) unit = unitQuotient(unit, other_.curve->yMeaning.unit);
        if (operation_ == Operation::Multiply) unit = unitProduct(unit, other_.curve->yMeaning.unit);
    }

    void tell() {
        const char* word = operation_ == Operation::Subtract ? "Took off"
                           : operation_ == Operation::Divide ? "Divided by"
                                                             : "Multiplied with";
        out_.value.sentence = fmt::format("{} “{}”{}.", word, other_.name,
                                          scale_ == 1 ? "" : " times " + readableNumber(scale_));
        std::vector<std::string> details;
        if (fitted_) details.push_back("factor fitted");
        if (!out_.value.curve.sigma.empty() && !isKnown()) details.push_back("as if it had no uncertainty");
        if (outside_ > 0) details.push_back(countedPoints(outside_) + " beyond it left out");
        if (zero_ > 0) details.push_back(countedPoints(zero_) + " where it is zero left out");
        out_.value.detail = joined(details, " · ");
    }

    // Whether the other dataset tells its uncertainty.
    bool isKnown() const { return !knots_.variance.empty(); }

    const StepInput& in_;
    Operation operation_;
    const OtherCurve& other_;
    Knots knots_;
    double scale_;
    bool fitted_ = false;
    List others_;
    std::size_t outside_ = 0, zero_ = 0;
    Outcome<StepOutput> out_;
};

Outcome<StepOutput> combine(const StepInput& in, Operation operation, const KindInfo& info) {
    const std::string with = in.settings.reference("with");
    if (const OtherCurve* other = in.other(with))
        return Combination(in, operation, info, *other).outcome();
    return with.empty() ? leftAlone(in.curve, info.name + ": none chosen yet.", "choose the dataset")
                        : leftAlone(in.curve, info.name + ": nothing was done.", "the dataset is not there",
                                    {"dataset-gone", "The dataset is not there: choose another.", {}});
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
