// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/parameters.h"

#include <algorithm>

namespace jointer::fit {

using Eigen::Index;

namespace {

std::unexpected<Issue> badTie(const ParameterSpec& spec, const std::string& why) {
    return failure("tie", "The tie of " + spec.name + " (“" + spec.tie + "”) cannot be used: " + why);
}

bool sameTies(const Specs& a, const Specs& b) {
    return std::ranges::equal(a, b, [](const ParameterSpec& x, const ParameterSpec& y) {
        return (x.treatment == Treatment::Tied) == (y.treatment == Treatment::Tied) &&
               (x.treatment != Treatment::Tied || x.tie == y.tie);
    });
}

} // namespace

Result<ParameterMap::Ties> ParameterMap::tiesOf(const Specs& specs) {
    Ties ties;
    std::vector<std::string> names;
    for (const ParameterSpec& s : specs) names.push_back(s.name);
    std::vector<std::pair<std::size_t, formula::Expression>> waiting;
    for (std::size_t k = 0; k < specs.size(); ++k) {
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
        ties.push_back({ready->first, std::move(*program)});
        waiting.erase(ready);
    }
    return ties;
}

Result<ParameterMap> ParameterMap::make(const std::vector<Specs>& members) {
    ParameterMap map;
    const std::size_t count = members.front().size();
    map.parameters_ = count;
    auto isShared = [&](const ParameterSpec& s) { return s.shared && members.size() > 1; };
    std::vector<std::size_t> shared; // parameters that are
    std::vector<std::size_t> sharedFirst;
    for (std::size_t k = 0; k < count; ++k) {
        const auto at = std::ranges::find_if(members, [&](const Specs& specs) {
            return isShared(specs[k]) && specs[k].treatment == Treatment::Free;
        });
        if (at == members.end()) continue;
        shared.push_back(k);
        sharedFirst.push_back(static_cast<std::size_t>(at - members.begin()) * count + k);
    }
    for (std::size_t m = 0; m < members.size(); ++m) {
        Member member{.column = std::vector<Index>(count, -1)};
        Index own = 0;
        for (std::size_t k = 0; k < count; ++k)
            if (members[m][k].treatment == Treatment::Free && !isShared(members[m][k])) {
                member.column[k] = own++;
                map.free_.push_back(m * count + k);
            }
        for (std::size_t i = 0; i < shared.size(); ++i) {
            const ParameterSpec& s = members[m][shared[i]];
            if (isShared(s) && s.treatment == Treatment::Free)
                member.column[shared[i]] = own + static_cast<Index>(i);
        }
        if (m > 0 && sameTies(members[m], members[m - 1])) {
            member.ties = map.members_.back().ties;
        } else {
            auto ties = tiesOf(members[m]);
            if (!ties) return std::unexpected(ties.error());
            member.ties = std::make_shared<const Ties>(std::move(*ties));
        }
        map.hasTies_ |= !member.ties->empty();
        member.identity = own == static_cast<Index>(count) && shared.empty();
        map.layout_.first.push_back(map.layout_.first.back() + own);
        map.members_.push_back(std::move(member));
    }
    map.free_.insert(map.free_.end(), sharedFirst.begin(), sharedFirst.end());
    map.layout_.count = std::ssize(map.free_);
    return map;
}

std::vector<double> ParameterMap::all(const Eigen::VectorXd& free, std::vector<double> base) const {
    for (std::size_t m = 0; m < members_.size(); ++m) {
        const Member& member = members_[m];
        const std::span<double> mine(base.data() + m * parameters_, parameters_);
        for (std::size_t k = 0; k < parameters_; ++k)
            if (member.column[k] >= 0) mine[k] = free[layout_.place(m, member.column[k])];
        for (const Tie& t : *member.ties) mine[t.parameter] = t.program.evaluateOne({}, mine);
    }
    return base;
}

Eigen::VectorXd ParameterMap::freeOf(const std::vector<double>& all) const {
    Eigen::VectorXd free(layout_.count);
    for (Index k = 0; k < free.size(); ++k) free[k] = all[free_[static_cast<std::size_t>(k)]];
    return free;
}

Eigen::MatrixXd ParameterMap::slopes(std::size_t member, const std::vector<double>& all) const {
    const Member& mine = members_[member];
    Eigen::MatrixXd m = Eigen::MatrixXd::Zero(static_cast<Index>(parameters_), layout_.columns(member));
    for (std::size_t k = 0; k < parameters_; ++k)
        if (mine.column[k] >= 0) m(static_cast<Index>(k), mine.column[k]) = 1;
    const std::span<const double> values(all.data() + member * parameters_, parameters_);
    Eigen::VectorXd gradient(static_cast<Index>(parameters_));
    for (const Tie& t : *mine.ties) {
        double value = 0;
        t.program.evaluate({}, values, {&value, 1}, {gradient.data(), parameters_});
        m.row(static_cast<Index>(t.parameter)) = (gradient.transpose() * m).eval();
    }
    return m;
}

} // namespace jointer::fit
