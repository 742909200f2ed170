// SPDX-License-Identifier: GPL-3.0-or-later
// Computes new x and y by formulas of x and y, or by a common one by its name. Uncertainties follow by the
// derivatives; each replicate is transformed, y is the mean of what that gives.
#include "data/logarithm_name.h"
#include "describe/setting_makers.h"
#include "formula/program.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

// A transformation that people call by a name, as a formula of v, which stands for x or y in the unit in
// which the formula takes it; and what the result is.
struct Common {
    const char *key, *label, *formula;
    AxisMeaning (*meaning)(AxisMeaning before);
    bool ofSpectra = false; // offered for y alone
};

const Common kCommon[] = {{"ln", "ln", "ln(v)",
                           [](AxisMeaning m) {
                               return AxisMeaning{nameOfLogarithm("ln", m.name, m.unit), ""};
                           }},
                          {"log10", "log10", "log10(v)",
                           [](AxisMeaning m) {
                               return AxisMeaning{nameOfLogarithm("log10", m.name, m.unit), ""};
                           }},
                          {"reciprocal", "reciprocal", "1/v",
                           [](AxisMeaning m) {
                               return AxisMeaning{"1/" + m.name, unitQuotient("", m.unit)};
                           }},
                          {"square-root", "square root", "sqrt(v)",
                           [](AxisMeaning m) {
                               if (!m.unit.empty()) m.unit = "(" + m.unit + ")^{1/2}";
                               return m;
                           }},
                          {"square", "square", "v^2",
                           [](AxisMeaning m) {
                               if (!m.unit.empty()) m.unit = unitProduct(m.unit, m.unit);
                               return m;
                           }},
                          {"exp", "exp", "exp(v)",
                           [](AxisMeaning m) {
                               m.unit.clear();
                               return m;
                           }},
                          {"inverse-kelvin", "1/T of °C", "1/(v + 273.15)",
                           [](AxisMeaning) {
                               return AxisMeaning{"1/T", "1/K"};
                           }},
                          {"absorbance", "to absorbance", "-log10(v)",
                           [](AxisMeaning) {
                               return AxisMeaning{"absorbance", ""};
                           },
                           true},
                          {"transmittance", "to transmittance", "100*10^(-v)",
                           [](AxisMeaning) {
                               return AxisMeaning{"transmittance", "%"};
                           },
                           true}};

std::vector<Choice> namedChoices(bool ofY) {
    std::vector<Choice> all = {{"formula", "by a formula"}};
    for (const Common& c : kCommon)
        if (ofY || !c.ofSpectra) all.push_back({c.key, c.label});
    return all;
}

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "transform",
        .name = "Transform",
        .purpose = "Logarithms, reciprocals, any formula of x and y",
        .group = "Values",
        .version = 2,
        .settings = {
            choice("y-by", "New y", namedChoices(true), "A common transformation by its name, or a formula."),
            formulaText("y",
                        "y =", "Plain mathematics over x and y, such as ln(y) or 100*y/1.23; empty: y stays.",
                        {.shownIf = "y-by=formula", .whenEmpty = "y"}),
            choice("x-by", "New x", namedChoices(false),
                   "A common transformation by its name, or a formula."),
            formulaText("x", "x =", "Plain mathematics over x and y, such as log10(x); empty: x stays.",
                        {.shownIf = "x-by=formula", .whenEmpty = "x"}),
            choice("outside", "No value",
                   {{"leave-out", "leave out"},
                    {"replace", "a number"},
                    {"decade-below", "a decade below"},
                    {"control", "keep as control"}},
                   "What happens where there is no result, such as the logarithm of zero. “One decade below” "
                   "takes "
                   "a tenth of the smallest value above zero instead; “keep as control” does the same, for a "
                   "zero "
                   "dose beside a logarithmic axis. Such points are marked and do not count in fits."),
            number("value", "By", 0, "The number put in place of results that do not exist.",
                   {.shownIf = "outside=replace"}),
            word("y-name", "Name of y", "What the new y is called; empty keeps the name.",
                 {.group = "Words"}),
            word("y-unit", "Unit of y", "Unit of the new y; of named transformations it follows by itself.",
                 {.group = "Words"}),
            word("x-name", "Name of x", "What the new x is called; empty keeps the name.",
                 {.group = "Words"}),
            word("x-unit", "Unit of x", "Unit of the new x; of named transformations it follows by itself.",
                 {.group = "Words"})}};
    return kind;
}

// What is done to x or to y.
struct Order {
    bool ofY;
    std::string by, formula; // formula over x and y; empty: nothing
    AxisMeaning meaning;     // afterwards

    Order(const Settings& s, const Curve& c, bool y) : ofY(y) {
        const std::string axis = ofY ? "y" : "x";
        by = info().text(s, axis + "-by");
        meaning = ofY ? c.yMeaning : c.xMeaning;
        if (by == "formula") {
            formula = std::string(trimmed(info().text(s, axis)));
            if (formula == axis) formula.clear();
        } else
            byName(axis);
        if (formula.empty()) return;
        meaning.isTime = false;
        if (by == "formula") meaning.unit = info().text(s, axis + "-unit");
        if (const std::string name = info().text(s, axis + "-name"); !name.empty()) meaning.name = name;
        if (const std::string unit = info().text(s, axis + "-unit"); !unit.empty()) meaning.unit = unit;
    }

private:
    void byName(const std::string& axis) {
        const auto common = std::ranges::find(kCommon, by, &Common::key);
        if (common == std::end(kCommon)) return;
        const bool perCent = by == "absorbance" && meaning.unit == "%";
        const std::string argument = perCent ? "(" + axis + "/100)" : axis;
        formula = common->formula;
        for (std::size_t at = 0; (at = formula.find('v', at)) != std::string::npos; at += argument.size())
            formula.replace(at, 1, argument);
        meaning = common->meaning(meaning);
    }
};

struct Computed {
    List values, byX, byY; // and the derivatives
};

class Transformation {
public:
    Transformation(const StepInput& in, StepOutput& out, std::vector<Issue>& issues)
        : c_(out.curve), out_(out), issues_(issues), outside_(info().text(in.settings, "outside")),
          substitute_(info().number(in.settings, "value")) {}

    Result<void> run(const Order& order) {
        const auto expression = formula::Expression::parse(order.formula);
        if (!expression) return std::unexpected(expression.error());
        derivatives_ = !c_.sigma.empty() || !c_.sigmaX.empty() || !c_.common.empty();
        auto program = formula::Program::compile(*expression, {"x", "y"}, {},
                                                 derivatives_ ? formula::Differentiate::Inputs
                                                              : formula::Differentiate::Nothing);
        if (!program) return std::unexpected(program.error());
        program_ = &*program;
        if (order.ofY)
            newY();
        else
            newX();
        (order.ofY ? c_.yMeaning : c_.xMeaning) = order.meaning;
        return {};
    }

    void say(std::vector<std::string>& details) const {
        const std::string fate = outside_ == "leave-out" ? "left out"
                                 : outside_ == "replace" ? "replaced by " + readableNumber(substitute_)
                                 : outside_ == "control" ? "kept as control, one decade below the smallest"
                                                         : "put one decade below the smallest";
        for (const auto& [n, what] : {std::pair(lost_, "point"), {lostCells_, "replicate value"}}) {
            if (n == 0) continue;
            const std::string which = counted(static_cast<long long>(n), what);
            details.push_back(which + " without a value " + fate);
            issues_.push_back({"outside-domain",
                               fmt::format("The formula has no value for {}; {} {}.", which,
                                           n == 1 ? "it was" : "they were", fate),
                               {}});
        }
    }

private:
    Computed compute(const List& x, const List& y) const {
        Computed out{List(x.size()), {}, {}};
        const Values inputs[] = {x, y};
        if (!derivatives_) {
            program_->evaluate(inputs, {}, out.values);
            return out;
        }
        out.byX.resize(x.size());
        out.byY.resize(x.size());
        List gradient(2 * x.size());
        program_->evaluate(inputs, {}, out.values, gradient);
        std::copy_n(gradient.begin(), x.size(), out.byX.begin());
        std::copy_n(gradient.begin() + static_cast<std::ptrdiff_t>(x.size()), x.size(), out.byY.begin());
        return out;
    }

    bool missing(const List& values, std::size_t i, double before) const {
        return !std::isfinite(values[i]) && std::isfinite(c_.x[i]) && std::isfinite(before);
    }

    // A tenth of the smallest argument above zero that has a result; NaN: there is none.
    double decadeBelow(const List& argument, const List& results) const {
        double smallest = INFINITY;
        for (std::size_t i = 0; i < argument.size(); ++i)
            if (argument[i] > 0 && std::isfinite(results[i])) smallest = std::min(smallest, argument[i]);
        return std::isfinite(smallest) ? smallest / 10 : std::nan("");
    }

    void mark(std::size_t i) {
        c_.made.resize(c_.size(), 0);
        c_.made[i] = static_cast<std::uint8_t>(outside_ == "control" ? PointOrigin::Control
                                                                     : PointOrigin::Substituted);
    }

    // Results put in where there are none. Gives how many.
    std::size_t fill(Computed& now, const List& before, bool ofY) {
        const double argument = decadeBelow(before, now.values);
        std::size_t count = 0;
        Substitution put{.ofY = ofY, .rows = {}, .says = {}};
        double low = INFINITY, high = -INFINITY;
        for (std::size_t i = 0; i < before.size(); ++i) {
            if (!missing(now.values, i, before[i]) || (!ofY && !std::isfinite(c_.y[i]))) continue;
            ++count;
            if (derivatives_) now.byX[i] = now.byY[i] = std::nan(""); // of what is put in none is known
            if (outside_ == "leave-out") continue;
            if (outside_ == "replace") {
                now.values[i] = substitute_;
            } else {
                const double inputs[] = {ofY ? c_.x[i] : argument, ofY ? argument : c_.y[i]};
                now.values[i] = program_->evaluateOne(inputs, {});
            }
            if (!std::isfinite(now.values[i])) continue;
            mark(i);
            if (i >= c_.rowIds.size() || (ofY && !c_.replicates.empty())) continue; // a mean lies elsewhere
            put.rows.push_back(c_.rowIds[i]);
            low = std::min(low, before[i]), high = std::max(high, before[i]);
        }
        if (!put.rows.empty()) {
            put.says = low == high
                           ? "stands for " + readableNumber(low)
                           : fmt::format("stands for {} … {}", readableNumber(low), readableNumber(high));
            out_.substitutions.push_back(std::move(put));
        }
        return count;
    }

    // σ and common errors of the new y, by the derivatives; what is put in has no σ and no part in the
    // latter.
    void carryErrors(const Computed& now) {
        for (std::size_t i = 0; derivatives_ && i < c_.size(); ++i) {
            if (!c_.sigma.empty()) {
                const double viaX = c_.sigmaX.empty() ? 0 : now.byX[i] * c_.sigmaX[i];
                c_.sigma[i] = std::hypot(now.byY[i] * c_.sigma[i], viaX);
            }
            for (CommonError& common : c_.common) common.y[i] *= std::isfinite(now.byY[i]) ? now.byY[i] : 0;
        }
    }

    void newReplicates() {
        for (List& r : c_.replicates) {
            const List before = r;
            Computed cell = compute(c_.x, before);
            lostCells_ += fill(cell, before, true);
            r = std::move(cell.values);
            for (double& v : r)
                if (!std::isfinite(v)) v = std::nan("");
        }
        c_.y.assign(c_.size(), std::nan(""));
        const auto excluded = std::exchange(c_.excluded, {}); // these have values too
        meanOfReplicates(c_);
        c_.excluded = excluded;
    }

    void newY() {
        const List y = c_.y;
        Computed now = compute(c_.x, y);
        if (c_.replicates.empty()) {
            lost_ += fill(now, y, true);
            c_.y = now.values;
        } else
            newReplicates();
        carryErrors(now);
        for (std::size_t i = 0; i < c_.size(); ++i) {
            if (std::isfinite(c_.y[i])) continue;
            c_.y[i] = std::nan("");
            if (!std::isfinite(y[i])) continue;
            c_.excluded.resize(c_.size(), 0); // no value: it cannot count, and it is told as left out
            c_.excluded[i] = 1;
        }
    }

    void newX() {
        const List x = c_.x;
        Computed now = compute(x, c_.y);
        lost_ += fill(now, x, false);
        for (std::size_t i = 0; i < c_.size() && !c_.sigmaX.empty(); ++i)
            c_.sigmaX[i] =
                std::hypot(now.byX[i] * c_.sigmaX[i], c_.sigma.empty() ? 0 : now.byY[i] * c_.sigma[i]);
        std::vector<std::uint8_t> keep(x.size());
        for (std::size_t i = 0; i < x.size(); ++i) {
            keep[i] = std::isfinite(now.values[i]);
            if (!keep[i] && i < c_.rowIds.size() && std::isfinite(x[i]))
                out_.droppedRows.push_back(c_.rowIds[i]);
        }
        c_.x = std::move(now.values);
        if (std::ranges::find(keep, 0) != keep.end()) c_ = selected(c_, keep);
        sortByX(c_);
    }

    Curve& c_;
    StepOutput& out_;
    std::vector<Issue>& issues_;
    std::string outside_;
    double substitute_;
    const formula::Program* program_ = nullptr;
    bool derivatives_ = false;
    std::size_t lost_ = 0, lostCells_ = 0;
};

Outcome<StepOutput> apply(const StepInput& in) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    const Order ofY(in.settings, in.curve, true), ofX(in.settings, in.curve, false);
    std::vector<std::string> sentences, details;
    Transformation transformation(in, out.value, out.issues);
    for (const Order* order : {&ofY, &ofX}) {
        if (order->formula.empty()) continue;
        if (const auto done = transformation.run(*order); !done) {
            out = leftAlone(in.curve, "Transform: the formula cannot be used.", done.error().text,
                            done.error());
            return out;
        }
        sentences.push_back(fmt::format("{} = {}", order->ofY ? "y" : "x", order->formula));
    }
    if (sentences.empty())
        return leftAlone(in.curve, "Transform: no formula yet.", "type one for y, for x, or both");
    transformation.say(details);
    out.value.sentence = "Computed " + joined(sentences, ", ") + ".";
    out.value.detail = joined(details, " · ");
    return out;
}

// Files of the first version had one formula, for x or for y.
void upgrade(Settings& s) {
    const bool old = s.has("formula") || s.has("what") || s.has("replacement") || s.text("outside") == "drop";
    if (!old) return;
    const std::string axis = s.text("what", "y") == "x" ? "x" : "y";
    for (const auto& [from, to] : {std::pair<std::string, std::string>("formula", axis),
                                   {"name", axis + "-name"},
                                   {"unit", axis + "-unit"},
                                   {"replacement", "value"}}) {
        if (const Value* v = s.find(from); v && !s.has(to)) s.set(to, *v);
        s.remove(from);
    }
    if (s.text("outside") == "drop") s.set("outside", "leave-out");
    s.remove("what");
}

} // namespace

StepKind transformStep() {
    return {.info = info(), .apply = apply, .upgrade = upgrade};
}

} // namespace jointer::steps
