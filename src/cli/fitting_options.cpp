// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/fitting_options.h"

#include "base/text.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::cli {

void FittingOptions::declare(CLI::App& app, FitOrder& order) {
    app.add_option("--start", start_,
                   "Start values, such as \"a=1,b=2\"; of an equation also rules, \"a=max(y)\"");
    app.add_option("--fix", fix_, "Fixed parameters, such as \"c=0\"");
    app.add_option("--limits", limits_, "Limits, such as \"b=0:10\"");
    app.add_option("--tie", tie_, "Ties, such as \"d=2*b\"");
    app.add_option("--weights", order.weights, "none, relative, absolute, 1/y, 1/y2, counting, column:NAME");
    app.add_flag("--absolute", order.absolute, "The uncertainties are absolute");
    app.add_option("--sigma-x", order.sigmaX, "Column of uncertainties of x: errors in both variables");
    app.add_option("--loss", loss_, "squares, huber, cauchy, bisquare");
    app.add_option("--interval", interval_, "asymptotic, profile, bootstrap");
    app.add_option("--resampling", resampling_, "Of the bootstrap: residuals, cases, parametric");
    app.add_option("--repetitions", repetitions_, "Of the bootstrap");
    app.add_option("--seed", seed_, "Of the bootstrap, and of further starts");
    oneOrMore(app, "--derive", derive_,
              "A number from parameters and curve, such as \"tau=1/b\", \"A=area(0,5)\"");
    app.add_option("--starts", starts_, "From how many start values it is tried; the ends are listed");
    oneOrMore(app, "--release", release_,
              "Parameters let free in a step before all are, such as \"height,centre\"; in order");
    app.add_option("--level", level_, "Level of the intervals")->check(CLI::Range(0.5, 0.999999));
}

ParameterChoice& choiceIn(std::vector<ParameterChoice>& all, const std::string& name) {
    const auto at = std::ranges::find(all, name, &ParameterChoice::name);
    return at != all.end() ? *at : all.emplace_back(ParameterChoice{.name = name});
}

Result<void> FittingOptions::addParameters(std::vector<ParameterChoice>& all, bool rules) const {
    const auto choice = [&](const std::string& name) -> ParameterChoice& { return choiceIn(all, name); };
    for (const auto& [option, text] : {std::pair("--start", &start_), std::pair("--fix", &fix_)}) {
        const auto list = assignments(*text, option);
        if (!list) return std::unexpected(list.error());
        for (const auto& [name, value] : *list) {
            const auto n = parseNumber(value);
            if (!n && text == &start_ && rules) continue; // a rule
            if (!n) return failure("usage", fmt::format("{}: “{}” is not a number.", option, value));
            choice(name).start = n;
            if (text == &fix_) choice(name).treatment = Treatment::Fixed;
        }
    }
    const auto limits = assignments(limits_, "--limits"), ties = assignments(tie_, "--tie");
    if (!limits) return std::unexpected(limits.error());
    if (!ties) return std::unexpected(ties.error());
    for (const auto& [name, text] : *limits) {
        const auto range = interval(text, "--limits");
        if (!range) return std::unexpected(range.error());
        choice(name).lower = range->first;
        choice(name).upper = range->second;
    }
    for (const auto& [name, formula] : *ties) {
        choice(name).treatment = Treatment::Tied;
        choice(name).tie = formula;
    }
    return {};
}

Result<void> FittingOptions::addSettings(const KindInfo& info, Settings& into) const {
    Assignments list = {{"level", fmt::format("{}", level_)}};
    const auto add = [&](const char* key, const std::string& text) {
        if (!text.empty()) list.emplace_back(key, text);
    };
    add("loss", loss_);
    add("interval", interval_);
    add("resampling", resampling_);
    add("repetitions", repetitions_);
    add("seed", seed_);
    add("starts", starts_);
    if (auto good = ColumnCommand::set(info, list, into); !good) return good;
    const auto setRows = [&](const char* key, RowList rows) {
        if (!rows.empty()) into.set(key, Value(std::make_shared<const RowList>(std::move(rows))));
    };
    RowList rows;
    for (const std::string& text : derive_) {
        const auto one = assignments(text, "--derive");
        if (!one) return std::unexpected(one.error());
        for (const auto& [name, formula] : *one) {
            Settings row;
            row.set("name", Value(name));
            row.set("formula", Value(formula));
            rows.push_back(std::move(row));
        }
    }
    setRows("derive", std::move(rows));
    RowList steps;
    for (const std::string& text : release_) steps.emplace_back().set("release", Value(text));
    setRows("schedule", std::move(steps));
    return {};
}

} // namespace jointer::cli
