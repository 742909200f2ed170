// SPDX-License-Identifier: GPL-3.0-or-later
// Computes new x or y by a formula of x and y. Uncertainties follow by the formula's derivatives.
#include "base/text.h"
#include "formula/program.h"
#include "steps/step.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    static const KindInfo kind{
        .key = "transform",
        .name = "Transform",
        .purpose = "Logarithms, reciprocals, percent of control, any formula of x and y",
        .group = "Values",
        .settings = {{.key = "what",
                      .label = "Compute",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("y"),
                      .help = "Which of the two is replaced.",
                      .choices = {{"y", "new y"}, {"x", "new x"}}},
                     {.key = "formula",
                      .label = "Formula",
                      .kind = SettingKind::Formula,
                      .fallback = std::string("y"),
                      .help = "Plain mathematics over x and y, such as ln(y) or 100*y/1.23."},
                     {.key = "name",
                      .label = "Name",
                      .kind = SettingKind::Text,
                      .fallback = std::string(),
                      .help = "What the new values are called; empty keeps the name."},
                     {.key = "unit",
                      .label = "Unit",
                      .kind = SettingKind::Text,
                      .fallback = std::string(),
                      .help = "Unit of the new values."},
                     {.key = "outside",
                      .label = "No value",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("drop"),
                      .help = "What happens where the formula has no value, such as the logarithm of zero.",
                      .choices = {{"drop", "leave out"}, {"replace", "replace"}}},
                     {.key = "replacement",
                      .label = "By",
                      .kind = SettingKind::Number,
                      .fallback = 0.0,
                      .help = "The number put in place of values that do not exist.",
                      .shownIf = "outside=replace"}}};
    return kind;
}

void sortByX(Curve& c) {
    if (std::ranges::is_sorted(c.x)) return;
    std::vector<std::size_t> order(c.size());
    std::iota(order.begin(), order.end(), 0);
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return c.x[i]; });
    auto arrange = [&](auto& values) {
        if (values.empty()) return;
        auto sorted = values;
        for (std::size_t i = 0; i < order.size(); ++i) sorted[i] = values[order[i]];
        values = std::move(sorted);
    };
    arrange(c.x), arrange(c.y), arrange(c.sigma), arrange(c.sigmaX), arrange(c.excluded), arrange(c.rowIds);
    for (auto& r : c.replicates) arrange(r);
    for (auto& m : c.more) arrange(m);
}

Outcome<StepOutput> apply(const Curve& curve, const Settings& settings) {
    Outcome<StepOutput> out{{.curve = curve}, {}};
    const std::string text = info().text(settings, "formula");
    const bool newY = info().text(settings, "what") == "y";
    const auto expression = formula::Expression::parse(text);
    const auto program =
        expression ? formula::Program::compile(*expression, {"x", "y"}, {}, formula::Differentiate::Inputs)
                   : std::unexpected(expression.error());
    if (!program) {
        out.value.sentence = "Transform: the formula cannot be used.";
        out.value.detail = program.error().text;
        out.issues.push_back(program.error());
        return out;
    }
    const std::size_t n = curve.size();
    auto compute = [&](const std::vector<double>& y, std::vector<double>& gradient) {
        std::vector<double> values(n);
        const std::span<const double> inputs[] = {curve.x, y};
        gradient.assign(2 * n, 0.0);
        program->evaluate(inputs, {}, values, gradient);
        return values;
    };
    std::vector<double> gradient, unused;
    std::vector<double> values = compute(curve.y, gradient);
    Curve& c = out.value.curve;
    const bool replace = info().text(settings, "outside") == "replace";
    const double replacement = info().number(settings, "replacement");
    // Each replicate is transformed; y is the mean of what that gives, not the formula of the mean.
    std::size_t lostReplicates = 0;
    auto takeReplicates = [&] {
        for (auto& r : c.replicates) {
            const std::vector<double> before = r;
            r = compute(before, unused);
            for (std::size_t i = 0; i < n; ++i) {
                if (std::isfinite(r[i]) || !std::isfinite(before[i]) || !std::isfinite(curve.x[i])) continue;
                ++lostReplicates;
                r[i] = replace ? replacement : std::nan("");
            }
        }
        if (c.replicates.empty()) return;
        for (std::size_t i = 0; i < n; ++i) {
            double sum = 0, present = 0;
            for (const auto& r : c.replicates)
                if (std::isfinite(r[i])) sum += r[i], ++present;
            values[i] = present > 0 ? sum / present : std::nan("");
        }
    };
    if (newY) {
        if (!c.sigma.empty()) {
            for (std::size_t i = 0; i < n; ++i) {
                const double byX = c.sigmaX.empty() ? 0 : gradient[i] * c.sigmaX[i];
                c.sigma[i] = std::hypot(gradient[n + i] * c.sigma[i], byX);
            }
        }
        takeReplicates();
    } else if (!c.sigmaX.empty()) {
        for (std::size_t i = 0; i < n; ++i) c.sigmaX[i] *= std::abs(gradient[i]);
    }
    // Where there was a number and now is none.
    std::size_t lost = 0;
    std::vector<std::uint8_t> keep(n, 1);
    for (std::size_t i = 0; i < n; ++i) {
        if (std::isfinite(values[i]) || !std::isfinite(curve.x[i]) || !std::isfinite(curve.y[i])) continue;
        ++lost;
        if (replace)
            values[i] = replacement;
        else
            keep[i] = 0;
        if (replace && newY && !c.sigma.empty() && !std::isfinite(c.sigma[i])) c.sigma[i] = 0;
    }
    (newY ? c.y : c.x) = std::move(values);
    if (lost > 0 && !replace) c = selected(c, keep);
    if (!newY) sortByX(c);
    AxisMeaning& meaning = newY ? c.yMeaning : c.xMeaning;
    if (const std::string name = info().text(settings, "name"); !name.empty()) meaning.name = name;
    if (settings.has("unit") || text != (newY ? "y" : "x")) meaning.unit = info().text(settings, "unit");
    out.value.sentence = std::string("Computed ") + (newY ? "y" : "x") + " = " + text + ".";
    const std::string fate =
        replace ? " without a value replaced by " + readableNumber(replacement) : " without a value left out";
    if (lostReplicates > 0) {
        const std::string cells = counted(static_cast<long long>(lostReplicates), "replicate value");
        out.value.detail = cells + fate;
        out.issues.push_back({"outside-domain",
                              "The formula has no value for " + cells +
                                  (replace ? "; the replacement was put there." : "; left out."),
                              {}});
    } else if (lost > 0) {
        const std::string points = counted(static_cast<long long>(lost), "point");
        out.value.detail = points + fate;
        out.issues.push_back(
            {"outside-domain",
             "The formula has no value at " + points +
                 (replace ? "; the replacement was put there."
                          : "; " + std::string(lost == 1 ? "it was" : "they were") + " left out."),
             {}});
    }
    return out;
}

} // namespace

StepKind transformStep() {
    return {.info = info(), .locality = Locality::Point, .apply = apply};
}

} // namespace jointer::steps
