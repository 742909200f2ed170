// SPDX-License-Identifier: GPL-3.0-or-later
// Options of commands that fit: what is said of parameters, of points and of intervals.
#pragma once

#include "cli/column_command.h"

namespace jointer::cli {

class FittingOptions {
public:
    void declare(CLI::App& app, FitOrder& order);
    double level() const { return level_; }

    // `rules`: start values may be rules of an equation, which are passed over here. Errors: "usage".
    Result<void> addParameters(std::vector<ParameterChoice>& all, bool rules) const;
    // Settings of a kind that fits, by its description.
    Result<void> addSettings(const KindInfo& info, Settings& into) const;
    const std::string& start() const { return start_; }

private:
    std::vector<std::string> derive_, release_;
    std::string starts_, start_, fix_, limits_, tie_, loss_, interval_, resampling_, repetitions_, seed_;
    double level_ = 0.95;
};

// What is said of a parameter; begun where nothing is said yet.
ParameterChoice& choiceIn(std::vector<ParameterChoice>& all, const std::string& name);

} // namespace jointer::cli
