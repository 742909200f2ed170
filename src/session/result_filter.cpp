// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/result_filter.h"

#include "base/text.h"
#include "session/trend.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>
#include <unordered_map>

namespace jointer {

using evaluate::ResultRow;

Result<ResultFilter> ResultFilter::parse(const std::string& text) {
    ResultFilter out;
    // The longer ones first.
    static const std::pair<std::string_view, Compare> signs[] = {
        {"<=", Compare::AtMost}, {">=", Compare::AtLeast}, {"!=", Compare::Unequal},
        {"≤", Compare::AtMost},  {"≥", Compare::AtLeast},  {"≠", Compare::Unequal},
        {"=", Compare::Equal},   {"<", Compare::Less},     {">", Compare::Greater}};
    for (const std::string_view part : split(text, ',')) {
        const std::string words(trimmed(part));
        if (words.empty()) continue;
        if (lowerAscii(words) == "doubtful") {
            out.conditions_.push_back({.compare = Compare::Doubtful});
            continue;
        }
        Condition c{.name = lowerAscii(words)};
        std::size_t first = std::string::npos;
        for (const auto& [sign, compare] : signs) {
            const std::size_t at = words.find(sign);
            if (at == std::string::npos || at >= first) continue;
            first = at;
            c = {compare,
                 std::string(trimmed(words.substr(0, at))),
                 std::string(trimmed(words.substr(at + sign.size()))),
                 {}};
        }
        if (c.compare != Compare::Holds && (c.name.empty() || c.value.empty()))
            return failure("filter", fmt::format("“{}” lacks a side: write a name, a sign and a value, as in "
                                                 "“centre > 701” or “site = north”.",
                                                 words));
        c.number = parseNumber(c.value);
        const bool ordered =
            c.compare != Compare::Holds && c.compare != Compare::Equal && c.compare != Compare::Unequal;
        if (ordered && !c.number)
            return failure("filter", fmt::format("“{}” is no number to compare with.", c.value));
        out.conditions_.push_back(std::move(c));
    }
    return out;
}

// What conditions ask of rows; names are looked up once for each dataset and analysis.
class ResultFilter::Asker {
public:
    explicit Asker(const Project& p) {
        for (const auto& d : p.datasets) datasets_.emplace(d->id, d.get());
        for (const auto& a : p.analyses) analyses_.emplace(a->id, analyses::nameOf(*a));
    }

    bool holds(const Condition& c, const ResultRow& row) const {
        if (c.compare == Compare::Doubtful) return !row.good || !std::isfinite(row.value);
        if (c.compare == Compare::Holds) {
            for (const std::string& cell :
                 {nameOf(row.dataset), analysisOf(row), evaluate::nameOf(row), row.state})
                if (lowerAscii(cell).find(c.name) != std::string::npos) return true;
            return false;
        }
        const std::string name = lowerAscii(c.name);
        if (name == "value") return compares(c, row.value);
        if (name == "error") return compares(c, row.error);
        if (name == "dataset") return compares(c, nameOf(row.dataset));
        if (name == "analysis") return compares(c, analysisOf(row));
        if (name == "quantity") return compares(c, row.quantity);
        if (name == "subject") return compares(c, row.subject);
        if (name == "unit") return compares(c, row.unit);
        if (name == "state") return compares(c, row.state);
        const auto d = datasets_.find(row.dataset);
        if (d != datasets_.end())
            for (const Attribute& a : d->second->attributes)
                if (lowerAscii(a.name) == name) {
                    const auto number = numberOf(d->second->attributes, a.name);
                    return number && c.number ? compares(c, number->first) : compares(c, a.value);
                }
        return (lowerAscii(row.quantity) == name || lowerAscii(evaluate::nameOf(row)) == name) &&
               compares(c, row.value);
    }

private:
    std::string nameOf(DatasetId id) const {
        const auto at = datasets_.find(id);
        return at == datasets_.end() ? std::string() : at->second->name;
    }
    std::string analysisOf(const ResultRow& row) const {
        const auto at = analyses_.find(row.analysis);
        return at == analyses_.end() ? std::string() : at->second;
    }
    static bool compares(const Condition& c, double v) {
        if (!c.number) return c.compare == Compare::Unequal;
        switch (c.compare) {
        case Compare::Equal:
            return v == *c.number;
        case Compare::Unequal:
            return v != *c.number;
        case Compare::Less:
            return v < *c.number;
        case Compare::Greater:
            return v > *c.number;
        case Compare::AtMost:
            return v <= *c.number;
        case Compare::AtLeast:
            return v >= *c.number;
        default:
            return false;
        }
    }
    static bool compares(const Condition& c, const std::string& text) {
        const bool same = lowerAscii(text) == lowerAscii(c.value);
        return c.compare == Compare::Equal ? same : c.compare == Compare::Unequal && !same;
    }

    std::unordered_map<DatasetId, const Dataset*> datasets_;
    std::unordered_map<AnalysisId, std::string> analyses_;
};

std::vector<std::size_t> ResultFilter::rows(const Project& project, const std::vector<ResultRow>& all) const {
    const Asker asker(project);
    std::vector<std::size_t> out;
    for (std::size_t k = 0; k < all.size(); ++k)
        if (std::ranges::all_of(conditions_, [&](const Condition& c) { return asker.holds(c, all[k]); }))
            out.push_back(k);
    return out;
}

std::vector<DatasetId> ResultFilter::datasets(const Project& project,
                                              const std::vector<ResultRow>& all) const {
    const Asker asker(project);
    std::map<DatasetId, std::set<std::size_t>> met; // conditions
    for (const ResultRow& row : all) {
        auto& of = met[row.dataset];
        for (std::size_t k = 0; k < conditions_.size(); ++k)
            if (asker.holds(conditions_[k], row)) of.insert(k);
    }
    std::vector<DatasetId> out;
    for (const auto& d : project.datasets)
        if (const auto at = met.find(d->id); at != met.end() && at->second.size() == conditions_.size())
            out.push_back(d->id);
    return out;
}

} // namespace jointer
