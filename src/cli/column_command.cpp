// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/column_command.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <iostream>

namespace jointer::cli {

// "a=1,b=2": names and texts; commas inside parentheses do not separate.
Result<Assignments> assignments(const std::string& text, const std::string& option) {
    Assignments out;
    std::string now;
    int depth = 0;
    auto finish = [&]() -> bool {
        const std::size_t at = now.find('=');
        if (at == std::string::npos) return false;
        out.emplace_back(trimmed(now.substr(0, at)), trimmed(now.substr(at + 1)));
        now.clear();
        return true;
    };
    const auto bad = [&] {
        return failure("usage",
                       fmt::format("{} takes assignments such as \"a=1,b=2\", not “{}”.", option, text));
    };
    for (char c : text) {
        depth += c == '(' ? 1 : c == ')' ? -1 : 0;
        if (c == ',' && depth == 0) {
            if (!finish()) return bad();
        } else
            now += c;
    }
    if (!trimmed(now).empty() && !finish()) return bad();
    return out;
}

Result<std::pair<double, double>> interval(std::string_view text, const char* option) {
    const auto side = [](std::string_view t, double open) {
        return trimmed(t).empty() ? std::optional(open) : numberOrMoment(t);
    };
    // Times of day have colons too: the one that parts two ends is meant.
    for (std::size_t colon = text.find(':'); colon != std::string_view::npos;
         colon = text.find(':', colon + 1)) {
        const auto low = side(text.substr(0, colon), -INFINITY),
                   high = side(text.substr(colon + 1), INFINITY);
        if (low && high && *low <= *high) return std::pair(*low, *high);
    }
    return failure("usage", fmt::format("{} takes LOW:HIGH, not “{}”.", option, text));
}

CLI::Option* oneOrMore(CLI::App& app, const std::string& name, std::vector<std::string>& into,
                       const std::string& help) {
    return app.add_option(name, into, help)->expected(1)->take_all()->allow_extra_args(false);
}

namespace {

Status statusOf(const Issue& issue) {
    static constexpr std::string_view kUsage[] = {"formula", "no-parameters", "setting"};
    return std::ranges::find(kUsage, issue.code) != std::end(kUsage) ? WrongUsage : Failed;
}

} // namespace

void ColumnCommand::declare(CLI::App& app) {
    input_.declare(app);
    oneOrMore(app, "--x", order_.x, "Column of the predictor; several are x1, x2 …")->required();
    oneOrMore(app, "--y", order_.y, "Column of the response; several are replicates")->required();
    oneOrMore(app, "--sigma", order_.sigma, "Column of uncertainties");
    app.add_flag("--separate", order_.separate, "Each --y is a dataset of its own");
    app.add_option("--group", order_.group, "A column: each of its texts is a dataset of its own");
    oneOrMore(app, "--span", spans_, "LOW:HIGH of x; several are pieces");
    app.add_flag("--outside", order_.span.outside, "What lies outside of the span");
    app.add_flag("--json", json_, "As JSON");
}

int ColumnCommand::run() {
    if (auto good = completeOrder(); !good) return fail(good.error(), WrongUsage);
    for (const std::string& text : spans_) {
        const auto piece = interval(text, "--span");
        if (!piece) return fail(piece.error(), WrongUsage);
        order_.span.pieces.push_back(*piece);
    }
    auto reading = input_.read();
    if (!reading) return fail(reading.error(), CannotRead);
    issues_ = reading->issues;
    auto table = input_.chosenFrom(*reading);
    if (!table) return fail(table.error(), WrongUsage);
    if (auto good = prepare(*table); !good) return fail(good.error(), WrongUsage);
    const auto project = projectOf(*table, order_);
    if (!project) return fail(project.error(), project.error().code == "not-numbers" ? Failed : WrongUsage);
    int status = WrongUsage;
    const auto complete = completed(*project, status);
    if (!complete) return fail(complete.error(), static_cast<Status>(status));
    evaluate::Evaluator evaluator;
    const auto outcome = evaluator.analysis(*complete, complete->analyses[0]);
    if (!outcome.exists() && showFailure(outcome.result.error())) return Done;
    if (!outcome.exists()) return fail(outcome.result.error(), statusOf(outcome.result.error()));
    std::vector<std::string> warnings;
    for (const Issue& w : outcome.issues) warnings.push_back(w.text);
    for (std::size_t k = 1; k < complete->analyses.size(); ++k) {
        const auto further = evaluator.analysis(*complete, complete->analyses[k]);
        if (!further.exists()) return fail(further.result.error(), statusOf(further.result.error()));
        for (const Issue& w : further.issues) warnings.push_back(w.text);
        takeFurther(further);
    }
    if (const auto looked = lookAround(*complete, evaluator); !looked)
        return fail(looked.error(), WrongUsage);
    for (const Issue& issue : issues_) warnings.push_back(issue.sentence());
    for (const auto& d : complete->datasets) names_[d->id] = d->name;
    if (const auto shown = show(*outcome, warnings); !shown) return fail(shown.error(), WrongUsage);
    for (const std::string& warning : warnings) std::cerr << warning << '\n';
    return issues_.empty() && outcome->good ? Done : DoneWithWarnings;
}

Result<void> ColumnCommand::set(const KindInfo& info, const Assignments& list, Settings& into) {
    for (const auto& [key, text] : list) {
        const Setting* s = info.find(key);
        if (!s) return failure("usage", fmt::format("“{}” has no setting called {}.", info.name, key));
        const auto value = parseValue(*s, text);
        if (!value) return std::unexpected(value.error());
        into.set(key, *value);
    }
    return {};
}

} // namespace jointer::cli
