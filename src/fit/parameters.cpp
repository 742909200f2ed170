// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/parameters.h"

#include <algorithm>
#include <set>

namespace jointer::fit {

namespace {

std::unexpected<Issue> badTie(const ParameterSpec& spec, const std::string& why) {
    return failure("tie", "The tie of " + spec.name + " (“" + spec.tie + "”) cannot be used: " + why);
}

} // namespace

Result<ParameterMap> ParameterMap::make(const std::vector<ParameterSpec>& specs) {
    ParameterMap map;
    map.count_ = specs.size();
    std::vector<std::string> names;
    for (const ParameterSpec& s : specs) names.push_back(s.name);

    std::vector<std::pair<std::size_t, formula::Expression>> waiting;
    for (std::size_t k = 0; k < specs.size(); ++k) {
        if (specs[k].treatment == Treatment::Free) map.free_.push_back(k);
        if (specs[k].treatment != Treatment::Tied) continue;
        auto expression = formula::Expression::parse(specs[k].tie);
        if (!expression) return badTie(specs[k], expression.error().text);
        waiting.emplace_back(k, std::move(*expression));
    }
    while (!waiting.empty()) {
        // The next tie is one that needs no other waiting one.
        const auto ready = std::ranges::find_if(waiting, [&](const auto& w) {
            return std::ranges::none_of(waiting,
                                        [&](const auto& other) { return w.second.uses(names[other.first]); });
        });
        if (ready == waiting.end()) return badTie(specs[waiting.front().first], "it goes round in a circle.");
        auto program = formula::Program::compile(ready->second, {}, names);
        if (!program) return badTie(specs[ready->first], program.error().text);
        map.ties_.push_back({ready->first, std::move(*program)});
        waiting.erase(ready);
    }
    return map;
}

std::vector<double> ParameterMap::all(const Eigen::VectorXd& free, std::vector<double> base) const {
    for (std::size_t k = 0; k < free_.size(); ++k) base[free_[k]] = free[static_cast<Eigen::Index>(k)];
    for (const Tie& t : ties_) base[t.parameter] = t.program.evaluateOne({}, base);
    return base;
}

Eigen::MatrixXd ParameterMap::slopes(const std::vector<double>& all) const {
    Eigen::MatrixXd m = Eigen::MatrixXd::Zero(static_cast<Eigen::Index>(count_), freeCount());
    for (std::size_t k = 0; k < free_.size(); ++k)
        m(static_cast<Eigen::Index>(free_[k]), static_cast<Eigen::Index>(k)) = 1;
    Eigen::VectorXd gradient(static_cast<Eigen::Index>(count_));
    for (const Tie& t : ties_) {
        double value = 0;
        t.program.evaluate({}, all, {&value, 1}, {gradient.data(), count_});
        m.row(static_cast<Eigen::Index>(t.parameter)) = (gradient.transpose() * m).eval();
    }
    return m;
}

} // namespace jointer::fit
