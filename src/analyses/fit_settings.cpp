// SPDX-License-Identifier: GPL-3.0-or-later
// What can be set of a fit, and the model that it takes.
#include "analyses/fit_analysis.h"
#include "base/text.h"

namespace jointer::analyses {

const KindInfo& fitSettings() {
    static const KindInfo info{
        .key = "fit",
        .name = "Fit",
        .purpose = "The parameters of a model that go best with the points",
        .settings = {
            {.key = "level",
             .label = "Level",
             .fallback = 0.95,
             .help = "Level of all intervals and bands: larger means wider.",
             .lowest = 0.5,
             .highest = 0.999999},
            {.key = "interval",
             .label = "Intervals",
             .kind = SettingKind::Choice,
             .fallback = "asymptotic",
             .help = "By the tangents at the solution (quick, symmetric); by the profile of the residual sum "
                     "(as asymmetric as the model is); or by fitting again what could as well have been "
                     "measured.",
             .choices = {{"asymptotic", "asymptotic"}, {"profile", "profile"}, {"bootstrap", "bootstrap"}}},
            {.key = "resampling",
             .label = "Drawn anew",
             .kind = SettingKind::Choice,
             .fallback = "residuals",
             .help = "Residuals: fitted values with residuals drawn anew. Cases: whole points drawn anew. "
                     "Parametric: fitted values with normal errors.",
             .choices = {{"residuals", "residuals"}, {"cases", "cases"}, {"parametric", "normal errors"}},
             .shownIf = "interval=bootstrap"},
            {.key = "repetitions",
             .label = "Repetitions",
             .kind = SettingKind::WholeNumber,
             .fallback = 1000.0,
             .help = "How many fits make the interval: more means less chance in its ends, and longer.",
             .lowest = 50,
             .highest = 100000,
             .shownIf = "interval=bootstrap"},
            {.key = "loss",
             .label = "Residuals count",
             .kind = SettingKind::Choice,
             .fallback = "squares",
             .help =
                 "By their squares, or less the farther they lie: Huber linearly, Cauchy hardly, bisquare "
                 "not at all.",
             .choices = {{"squares", "by squares"},
                         {"huber", "linearly far off (Huber)"},
                         {"cauchy", "hardly far off (Cauchy)"},
                         {"bisquare", "not far off (bisquare)"}}},
            {.key = "errors-in-x",
             .label = "Errors in x",
             .kind = SettingKind::Flag,
             .fallback = false,
             .help = "Takes the distance from the curve in units of the errors of both x and y."},
            {.key = "iterations",
             .label = "Iterations",
             .kind = SettingKind::WholeNumber,
             .fallback = 500.0,
             .help = "The most iterations of one attempt.",
             .lowest = 1,
             .highest = 100000},
            {.key = "starts",
             .label = "Starts",
             .kind = SettingKind::WholeNumber,
             .fallback = 1.0,
             .help = "From how many start values the fit is tried: the ends that they reach are listed, the "
                     "best is taken.",
             .lowest = 1,
             .highest = 10000},
            {.key = "seed",
             .label = "Seed",
             .kind = SettingKind::WholeNumber,
             .fallback = 1.0,
             .help = "The same seed gives the same numbers again: of the bootstrap, and of further starts.",
             .lowest = 0,
             .highest = 1e9},
            {.key = "time-in",
             .label = "Time in",
             .kind = SettingKind::Choice,
             .fallback = "automatic",
             .help = "The unit in which dates and times count for the parameters, from the first point on; other x stay as "
                     "they are.",
             .choices = {{"automatic", "automatic"}, {"s", "s"}, {"min", "min"}, {"h", "h"}, {"d", "d"}, {"a", "a"}}},
            {.key = "made-points",
             .label = "Made points",
             .kind = SettingKind::Flag,
             .fallback = false,
             .help =
                 "Also fit points that a step put in: interpolated ones and those in place of values that "
                 "do not exist."},
            {.key = "derive",
             .label = "Derived numbers",
             .kind = SettingKind::Rows,
             .help = "Further numbers from the parameters and the fitted curve, with their errors.",
             .hidden = true,
             .row = {{.key = "name",
                      .label = "Name",
                      .kind = SettingKind::Text,
                      .fallback = "",
                      .help = "Its name."},
                     {.key = "formula",
                      .label = "Formula",
                      .kind = SettingKind::Formula,
                      .fallback = "",
                      .help =
                          "Over the names of the parameters; of the curve: value(x), slope(x), area(from, "
                          "to), maximum, minimum, maximum_at, minimum_at(from, to), crossing(y, from, "
                          "to)."}}},
            {.key = "schedule",
             .label = "Released in steps",
             .kind = SettingKind::Rows,
             .help = "Which parameters are let free in each step, before all are; the others wait where they "
                     "stand.",
             .hidden = true,
             .row = {{.key = "release",
                      .label = "Free",
                      .kind = SettingKind::Text,
                      .fallback = "",
                      .help = "Names of parameters, as “height, centre”."}}},
            {.key = "hold",
             .label = "Start values only",
             .kind = SettingKind::Flag,
             .fallback = false,
             .help = "Shows the start values without fitting.",
             .hidden = true}}};
    return info;
}

const KindInfo& weightSettings() {
    static const KindInfo info{
        .key = "weights",
        .name = "Weights",
        .purpose = "How the points count",
        .settings = {{.key = "weights",
                      .label = "Weights",
                      .kind = SettingKind::Choice,
                      .help =
                          "Absolute: the uncertainties are believed as they stand, and χ² has meaning. By y: "
                          "the scatter grows with the root of y, or with y. Counts: σ = √y, absolute.",
                      .choices = {{"none", "none: all alike"},
                                  {"relative", "1/σ², relative"},
                                  {"absolute", "1/σ², absolute"},
                                  {"1/y", "1/y"},
                                  {"1/y2", "1/y²"},
                                  {"counting", "counts: 1/y, absolute"}},
                      .whenEmpty = "automatic"}}};
    return info;
}

namespace {

Result<models::ModelPtr> composed(const models::CombinerKind& combiner, const ModelNode& node,
                                  const models::ModelContext& context) {
    if (node.children.empty()) return failure("no-model", "The model has no parts yet: add one.");
    std::vector<models::Component> parts;
    for (const ModelNode& child : node.children) {
        auto model = modelOf(child, context);
        if (!model) return model;
        parts.push_back({child.component, modelName(child), std::move(*model)});
    }
    return combiner.make(std::move(parts));
}

} // namespace

Result<models::ModelPtr> modelOf(const ModelNode& node, const models::ModelContext& context) {
    if (const models::CombinerKind* combiner = models::combiners().find(node.kind))
        return composed(*combiner, node, context);
    return models::makeModel(node.kind, node.settings, context);
}

std::vector<InputSlot> slotsOfFits(const FitSlots& wanted) {
    std::vector<InputSlot> all;
    for (std::size_t k = 1; k <= wanted.most; ++k)
        all.push_back({.key = fmt::format("fit-{}", k),
                       .label = fmt::format("Fit {}", k),
                       .of = "analysis",
                       .kinds = wanted.kinds,
                       .fewest = k <= wanted.fewest ? 1U : 0U,
                       .eager = wanted.eager,
                       .elsewhere = wanted.elsewhere && k > 1});
    return all;
}

std::string modelName(const ModelNode& node) {
    if (!node.children.empty()) {
        std::vector<std::string> names;
        for (const ModelNode& child : node.children) names.push_back(modelName(child));
        return joined(names, node.kind == "product" ? " × " : " + ");
    }
    const models::ModelKind* kind = models::catalogue().find(node.kind);
    return kind ? kind->info.name : node.kind;
}

} // namespace jointer::analyses
