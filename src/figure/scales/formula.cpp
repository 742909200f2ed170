// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/scales/formula.h"

#include "describe/setting_makers.h"
#include "figure/scales/scale.h"
#include "formula/program.h"

#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>

namespace jointer::figure {

namespace {

using formula::Program;

constexpr int kMostHalvings = 2100; // over all numbers there are

Result<Program> programOf(const std::string& text) {
    const auto expression = formula::Expression::parse(text);
    if (!expression) return std::unexpected(expression.error());
    auto program = Program::compile(*expression, {"x"}, {}, formula::Differentiate::Nothing);
    if (!program) return failure("formula", "The formula of an axis may only use x: " + program.error().text);
    return program;
}

class Typed final : public MonotoneFormula {
public:
    Typed(Program there, std::unique_ptr<Program> back) : there_(std::move(there)), back_(std::move(back)) {}

    double forward(double x) const override { return there_.evaluateOne({&x, 1}, {}); }

    double back(double y, double low, double high) const override {
        if (back_) return back_->evaluateOne({&y, 1}, {});
        double fLow = forward(low) - y, fHigh = forward(high) - y;
        if (fLow == 0) return low;
        if (fHigh == 0) return high;
        if (!((fLow < 0) != (fHigh < 0)) || !std::isfinite(fLow) || !std::isfinite(fHigh)) return NAN;
        // Halving first over the many powers of ten that a domain may span, then as the shape allows.
        for (int k = 0; k < kMostHalvings && high - low > 1e-3 * (std::abs(low) + std::abs(high)); ++k) {
            const double middle = low + (high - low) / 2, f = forward(middle) - y;
            if (f == 0 || middle == low || middle == high) return middle;
            const bool atLow = (f < 0) == (fLow < 0);
            (atLow ? low : high) = middle;
            (atLow ? fLow : fHigh) = f;
        }
        std::uintmax_t steps = 100;
        const auto [a, b] =
            boost::math::tools::toms748_solve([&](double x) { return forward(x) - y; }, low, high, fLow,
                                              fHigh, boost::math::tools::eps_tolerance<double>(52), steps);
        return a + (b - a) / 2;
    }

private:
    Program there_;
    std::unique_ptr<Program> back_;
};

class ByFormula final : public Scale {
public:
    explicit ByFormula(std::shared_ptr<const MonotoneFormula> f) : f_(std::move(f)) {
        // Where it ends: the widest range about a value for which it exists.
        while (low_ < -1e-300 && !std::isfinite(f_->forward(low_))) low_ /= 1e3;
        if (low_ >= -1e-300) low_ = std::isfinite(f_->forward(0)) ? 0 : 1e-300;
        while (high_ > low_ && high_ > 1e-300 && !std::isfinite(f_->forward(high_))) high_ /= 1e3;
        sign_ = f_->forward(high_) < f_->forward(low_) ? -1 : 1;
    }
    double forward(double v) const override { return sign_ * f_->forward(v); }
    double back(double place) const override { return f_->back(sign_ * place, low_, high_); }
    Range empty() const override { return {1, 10}; }
    std::string domain() const override { return "where its formula has a value"; }

    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        const double from = forward(range.low), length = forward(range.high) - from;
        return roundTicks(range, wish, [&](double v) { return (forward(v) - from) / length; });
    }

private:
    std::shared_ptr<const MonotoneFormula> f_;
    double low_ = -1e300, high_ = 1e300, sign_ = 1;
};

ScalePtr make(const ScaleTask& task) {
    const KindInfo& info = scaleCatalogue().find("formula")->info;
    const auto f =
        MonotoneFormula::make(info.text(task.settings, "spread"), info.text(task.settings, "spread-back"));
    if (f) return std::make_shared<ByFormula>(*f);
    if (task.issues) task.issues->push_back(f.error());
    return scaleCatalogue().front().make(task);
}

} // namespace

Result<std::shared_ptr<const MonotoneFormula>> MonotoneFormula::make(const std::string& formula,
                                                                     const std::string& inverse) {
    auto there = programOf(formula);
    if (!there) return std::unexpected(there.error());
    std::unique_ptr<Program> back;
    if (!inverse.empty()) {
        auto made = programOf(inverse);
        if (!made) return std::unexpected(made.error());
        back = std::make_unique<Program>(std::move(*made));
    }
    return std::make_shared<Typed>(std::move(*there), std::move(back));
}

ScaleKind formulaScale() {
    using namespace describe;
    Setting spread = formulaText(
        "spread", "Even in", "An expression in x that rises or falls throughout, such as x^2 or ln(x+3).");
    spread.fallback = Value(std::string("x^2"));
    return {.info = {.key = "formula",
                     .name = "by formula",
                     .purpose = "Even in an expression of one's own",
                     .settings = {std::move(spread),
                                  formulaText("spread-back", "and back",
                                              "The inverse of it in x, such as sqrt(x); empty: it is found "
                                              "by bisection.",
                                              {.whenEmpty = "by bisection"})}},
            .make = make};
}

} // namespace jointer::figure
