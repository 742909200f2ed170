// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/derived/names.h"

#include "base/text.h"
#include "base/unit_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

bool isCertain(const Quantity& q) {
    return q.state == "fixed" || q.state == "quality";
}

} // namespace

Result<DerivedGround> DerivedNames::find(const std::string& name) const {
    if (const auto at = named_.find(name); at != named_.end()) return at->second;
    std::vector<DerivedGround> found;
    const auto [plain, letter] = apart(name);
    for (std::size_t s = 0; s < task_.sources.size(); ++s) {
        if (const auto whole = in(s, name))
            found.push_back(*whole);
        else if (letter == static_cast<int>(s))
            if (const auto part = in(s, plain)) found.push_back(*part);
    }
    if (found.size() > 1) return several(name, found);
    if (found.empty()) {
        const auto other = elsewhere(name);
        if (!other) return nothing(name);
        found.push_back(*other);
    }
    found[0].name = name;
    return named_[name] = found[0];
}

std::optional<DerivedGround> DerivedNames::in(std::size_t s, const std::string& name) const {
    const DerivedSource& source = task_.sources[s];
    const AnalysisResult& r = *source.result;
    const auto fits = [&](const Quantity& q) {
        return !source.member || !q.member || q.member == source.member;
    };
    const Quantity* best = nullptr;
    for (const auto* list : {&r.quantities, &r.quality}) {
        for (const Quantity& q : *list)
            if (!best && q.key == name) best = &q;
        for (const Quantity& q : *list)
            if (!best && q.label == name && fits(q)) best = &q;
    }
    if (!best) return std::nullopt;
    const bool counts = best >= r.quantities.data() && best < r.quantities.data() + r.quantities.size();
    const auto place = counts ? static_cast<std::size_t>(best - r.quantities.data()) : 0;
    const bool hasRow = counts && place < r.covariance.size() && r.covariance.row(place).known;
    const int at = static_cast<int>(s);
    DerivedGround out{.name = name, .value = best->value, .analysis = at, .source = at, .quantity = place};
    if (const auto unit = Unit::parse(best->unit)) out.unit = *unit;
    if (isCertain(*best) || !counts)
        out.source = -1;
    else if (!hasRow) {
        out.source = -1;
        out.ownError = best->se;
        out.known = std::isfinite(best->se);
    }
    return out;
}

std::pair<std::string, int> DerivedNames::apart(const std::string& name) const {
    if (name.size() < 3 || name[name.size() - 2] != '_') return {name, -1};
    const int letter = name.back() - 'A';
    const bool is = letter >= 0 && letter < std::ssize(task_.sources);
    return {is ? name.substr(0, name.size() - 2) : name, is ? letter : -1};
}

std::optional<DerivedGround> DerivedNames::elsewhere(const std::string& name) const {
    if (const auto at = task_.attributes.find(name); at != task_.attributes.end()) {
        DerivedGround out{.name = name, .value = at->second};
        const auto unit = task_.attributeUnits.find(name);
        if (unit != task_.attributeUnits.end())
            if (const auto read = Unit::parse(unit->second)) out.unit = *read;
        return out;
    }
    if (const formula::PhysicalConstant* c = formula::findConstant(name))
        return DerivedGround{.name = name,
                             .value = c->value,
                             .unit = *Unit::parse(c->unit),
                             .ownError = c->relativeError * c->value};
    return std::nullopt;
}

std::unexpected<Issue> DerivedNames::several(const std::string& name,
                                             const std::vector<DerivedGround>& found) const {
    std::vector<std::string> spelled;
    for (const DerivedGround& g : found)
        spelled.push_back(name + "_" + letterOf(static_cast<std::size_t>(g.analysis)));
    return failure("name",
                   fmt::format("{} stands in several analyses: write {}.", name, joined(spelled, " or ")));
}

std::unexpected<Issue> DerivedNames::nothing(const std::string& name) const {
    std::vector<std::string> known;
    for (const NameToUse& n : namesFor(task_))
        if (known.size() < 12 && !formula::findConstant(n.spelling)) known.push_back(n.spelling);
    return failure("name", fmt::format("Nothing is called {} here. There {}: {}.", name,
                                       known.empty() ? "is nothing but constants" : "are",
                                       known.empty() ? "choose an analysis" : joined(known, ", ")));
}

std::vector<NameToUse> namesFor(const DerivedTask& task) {
    // What a number is called: by its key where several of its analysis have the same label.
    const auto called = [](const DerivedSource& source) {
        std::vector<std::pair<std::string, const Quantity*>> all;
        std::map<std::string, int> labels;
        for (const Quantity& q : source.result->quantities) {
            if (source.member && q.member && q.member != source.member) continue;
            ++labels[q.label];
            all.emplace_back(q.label, &q);
        }
        for (auto& [name, q] : all)
            if (labels[name] > 1) name = q->key;
        return all;
    };
    std::map<std::string, int> counts;
    for (const DerivedSource& s : task.sources)
        for (const auto& [name, q] : called(s)) ++counts[name];
    std::vector<NameToUse> out;
    const auto spelled = [](const std::string& name) {
        const bool plain = !name.empty() && !std::isdigit(static_cast<unsigned char>(name[0])) &&
                           std::ranges::all_of(name, [](char c) {
                               return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || (c & 0x80);
                           });
        return plain ? name : "'" + name + "'";
    };
    for (std::size_t s = 0; s < task.sources.size(); ++s) {
        const DerivedSource& source = task.sources[s];
        for (const auto& [name, q] : called(source))
            out.push_back({spelled(counts[name] > 1 ? name + "_" + DerivedNames::letterOf(s) : name),
                           (q->meaning.empty() ? name : q->meaning) + " of " + source.name,
                           readableUnit(q->unit), q->value});
    }
    for (const auto& [name, value] : task.attributes) {
        const auto unit = task.attributeUnits.find(name);
        out.push_back(
            {spelled(name), "attribute", unit == task.attributeUnits.end() ? "" : unit->second, value});
    }
    for (const formula::PhysicalConstant& c : formula::physicalConstants())
        out.push_back({std::string(c.name), std::string(c.meaning), std::string(c.unit), c.value});
    return out;
}

} // namespace jointer::analyses
