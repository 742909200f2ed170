// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/groups/groups.h"
#include "base/text.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

// One value with where it belongs; categories count from 1, 0 is none.
struct Observed {
    int group, second;
    std::uint32_t subject;
    double y;
    bool limited = false; // it is only known to lie below y
};

const std::vector<std::string>& namesOf(const Curve& c, std::size_t further) {
    static const std::vector<std::string> none;
    return further < c.moreMeanings.size() ? c.moreMeanings[further].categories : none;
}

int categoryAt(const Curve& c, std::size_t further, std::size_t i) {
    const double v = further < c.more.size() ? c.more[further][i] : NAN;
    return std::isfinite(v) ? static_cast<int>(v) : 0;
}

double limitOf(const Curve& c, std::size_t i) {
    return c.more.size() > 2 && !c.isExcluded(i) && std::isfinite(c.x[i]) ? c.more[2][i] : NAN;
}

std::vector<Observed> observedOf(const Curve& c, BelowLimit below) {
    const bool told = !namesOf(c, 1).empty();
    std::vector<Observed> out;
    out.reserve(c.size());
    for (std::size_t i = 0; i < c.size(); ++i) {
        const double limit = below == BelowLimit::LeftOut ? NAN : limitOf(c, i);
        if (!c.counts(i) && !std::isfinite(limit)) continue;
        Observed o{static_cast<int>(std::lround(c.x[i])), categoryAt(c, 0, i),
                   told                  ? static_cast<std::uint32_t>(categoryAt(c, 1, i))
                   : i < c.rowIds.size() ? c.rowIds[i]
                                         : 0,
                   c.y[i]};
        if (std::isfinite(limit)) o.y = below == BelowLimit::Half ? limit / 2 : limit;
        o.limited = std::isfinite(limit) && below == BelowLimit::Kept;
        out.push_back(o);
    }
    return out;
}

void tellLimits(const Curve& c, BelowLimit below, std::vector<std::string>& notes) {
    long long n = 0;
    for (std::size_t i = 0; i < c.size(); ++i) n += std::isfinite(limitOf(c, i));
    if (n == 0) return;
    const char* how = below == BelowLimit::Kept   ? "kept as limits; means are those of Kaplan and Meier"
                      : below == BelowLimit::Half ? "taken as half the limit, as was asked for"
                                                  : "left out, as was asked for: means come out too high";
    notes.push_back(fmt::format("{} below a limit: {}.", counted(n, "value"), how));
}

// Values of one subject in one group (and of one level of the second factor) become their mean.
void averageWithin(std::vector<Observed>& all, const std::string& subject, std::vector<std::string>& notes) {
    const auto key = [](const Observed& o) { return std::tuple(o.group, o.second, o.subject); };
    const std::size_t before = all.size();
    std::ranges::stable_sort(all, {}, key);
    std::vector<Observed> out;
    for (std::size_t from = 0, to; from < all.size(); from = to) {
        double sum = 0;
        bool limited = false; // a mean with a limit in it lies below the mean of what is told
        for (to = from; to < all.size() && key(all[to]) == key(all[from]); ++to)
            sum += all[to].y, limited = limited || all[to].limited;
        if (all[from].subject == 0) { // not said whose: each for itself
            out.insert(out.end(), all.begin() + static_cast<std::ptrdiff_t>(from),
                       all.begin() + static_cast<std::ptrdiff_t>(to));
            continue;
        }
        out.push_back(all[from]);
        out.back().y = sum / static_cast<double>(to - from);
        out.back().limited = limited;
    }
    if (out.size() < before)
        notes.push_back(fmt::format(
            "Values of one {} in a group are averaged: {} from {}; n counts the former.",
            subject.empty() ? "subject" : subject, counted(static_cast<long long>(out.size()), "mean"),
            counted(static_cast<long long>(before), "value")));
    all = std::move(out);
}

// Requires: x are places of its categories.
void takeGroups(const std::vector<Observed>& all, const Curve& c, stats::Design& out) {
    for (const std::string& name : c.xMeaning.categories) out.groups.push_back({name, {}});
    for (const Observed& o : all)
        if (o.group >= 1 && o.group <= std::ssize(out.groups)) {
            stats::Group& g = out.groups[static_cast<std::size_t>(o.group - 1)];
            (o.limited ? g.limits : g.values).push_back(o.y);
        }
}

// Cells that belong to a group and hold neither a value nor a limit.
void countMissing(const Curve& c, BelowLimit below, stats::Design& out) {
    for (std::size_t i = 0; i < c.size(); ++i)
        if (!std::isfinite(c.y[i]) && (below == BelowLimit::LeftOut || !std::isfinite(limitOf(c, i))) &&
            c.x[i] >= 1 && c.x[i] <= static_cast<double>(out.groups.size()))
            ++out.groups[static_cast<std::size_t>(c.x[i]) - 1].missing;
}

void takeFactors(const std::vector<Observed>& all, const Curve& c, stats::Design& out) {
    stats::TwoFactors f{c.xMeaning.name, c.moreMeanings[0].name, {}, namesOf(c, 0), {}};
    for (const stats::Group& g : out.groups) f.firstLevels.push_back(g.name);
    f.cells.assign(f.firstLevels.size(), std::vector<std::vector<double>>(f.secondLevels.size()));
    auto limits = f.cells;
    for (const Observed& o : all)
        if (o.group >= 1 && o.second >= 1)
            (o.limited
                 ? limits
                 : f.cells)[static_cast<std::size_t>(o.group - 1)][static_cast<std::size_t>(o.second - 1)]
                .push_back(o.y);
    out.groups.clear(); // each with each are the cells
    for (std::size_t i = 0; i < f.firstLevels.size(); ++i)
        for (std::size_t j = 0; j < f.secondLevels.size(); ++j)
            if (!f.cells[i][j].empty() || !limits[i][j].empty())
                out.groups.push_back({.name = f.firstLevels[i] + ", " + f.secondLevels[j],
                                      .values = f.cells[i][j],
                                      .limits = std::move(limits[i][j])});
    out.factors = std::move(f);
}

// Of subjects that were measured in all groups their values, in the order of the groups.
void takeSubjects(std::vector<Observed> all, bool told, stats::Design& out, std::vector<std::string>& notes) {
    std::erase_if(all, [](const Observed& o) { return o.subject == 0 || o.group < 1 || o.limited; });
    std::ranges::sort(all, {}, [](const Observed& o) { return std::pair(o.subject, o.group); });
    bool several = false;
    for (std::size_t from = 0, to; from < all.size(); from = to) {
        for (to = from + 1; to < all.size() && all[to].subject == all[from].subject;) ++to;
        several = several || to - from > 1;
        if (to - from != out.groups.size()) {
            ++out.incomplete;
            continue;
        }
        std::vector<double> row;
        for (std::size_t k = from; k < to; ++k) row.push_back(all[k].y);
        out.subjects.push_back(std::move(row));
    }
    out.repeated = told && several;
    if (out.repeated && out.incomplete > 0)
        notes.push_back(fmt::format("{} not measured in all groups left out where the same are compared.",
                                    counted(static_cast<long long>(out.incomplete), "subject")));
}

void takeCounts(const Curve& c, stats::Design& out) {
    stats::Counts counts{c.xMeaning.categories, c.yMeaning.categories, {}};
    counts.counts.assign(counts.rows.size(), std::vector<double>(counts.columns.size()));
    for (std::size_t i = 0; i < c.size(); ++i)
        if (c.counts(i))
            ++counts.counts[static_cast<std::size_t>(c.x[i] - 1)][static_cast<std::size_t>(c.y[i] - 1)];
    out.counts = std::move(counts);
}

} // namespace

stats::Design designOf(const Curve& c, BelowLimit below, std::vector<std::string>& notes) {
    stats::Design out;
    if (!c.yMeaning.categories.empty()) {
        takeCounts(c, out);
        return out;
    }
    const bool told = !namesOf(c, 1).empty();
    std::vector<Observed> all = observedOf(c, below);
    tellLimits(c, below, notes);
    if (told) averageWithin(all, c.moreMeanings[1].name, notes);
    takeGroups(all, c, out);
    countMissing(c, below, out);
    if (!namesOf(c, 0).empty())
        takeFactors(all, c, out);
    else if (out.groups.size() > 1)
        takeSubjects(std::move(all), told, out, notes);
    return out;
}

} // namespace jointer::analyses
