// SPDX-License-Identifier: GPL-3.0-or-later
// Groups compared: their numbers, the test that the design calls for or another, what it takes for granted.
#include "analyses/groups/telling.h"
#include "analyses/points_within.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

const KindInfo& groupsSettings() {
    using namespace describe;
    static const std::string kDetails = "Details";
    static const KindInfo kind = [] {
        std::vector<Choice> tests = {{"design", "as the design calls for"}},
                            pairs = {{"design", "as the design calls for"}, {"none", "none"}};
        for (const stats::TestKind& t : stats::groupTests()) tests.push_back({t.key, t.name});
        for (const char* key : {"tukey", "games-howell", "holm", "dunnett", "dunn"})
            pairs.push_back({key, stats::findTest(key)->name});
        return KindInfo{
            .key = "groups",
            .name = "Compare groups",
            .purpose = "Numbers of groups with intervals, and whether they differ",
            .group = "Analyses",
            .settings = {
                choice("test", "Test", tests,
                       "By the design: pairing and the number of groups decide, never a look at the values."),
                choice("pairs", "Pairs", pairs, "Which groups differ, all of them considered together."),
                word("control", "Control", "The group that others are compared with.", {.whenEmpty = "none"}),
                number("against", "Against", 0, "Of one group: the mean that it may have.",
                       {.unit = "y", .group = kDetails}),
                number("level", "Level", 0.95, "Of the intervals.",
                       {.lowest = 0.5, .highest = 0.9999, .group = kDetails}),
                choice("squares", "Squares", {{"2", "type II"}, {"3", "type III"}},
                       "Of two factors with unequal numbers: each factor beside the other (II), or each term "
                       "beside all others (III).",
                       {.group = kDetails}),
                choice("below", "Below a limit",
                       {{"kept", "kept as limits"}, {"half", "half the limit"}, {"left-out", "left out"}},
                       "Cells such as “< 0.05”: kept, with means after Kaplan and Meier and tests by ranks; "
                       "or taken as a "
                       "number, or left out.",
                       {.group = kDetails}),
                choice("outliers", "Outliers",
                       {{"fences", "Tukey’s fences"},
                        {"deviates", "extreme deviates"},
                        {"median", "3.5 robust SD"}},
                       "By which rule values are named: beyond 1.5 quartile distances, generalised extreme "
                       "deviates at 5 %, or far from the median. None is left out.",
                       {.group = kDetails})}};
    }();
    return kind;
}

std::string meaningOfP(double p) {
    if (!(p >= 0)) return {};
    if (p < 1e-4)
        return "Did nothing differ, less than 1 of 10 000 such experiments would show as much by chance.";
    const double of = p >= 0.1 ? 10 : p >= 0.01 ? 100 : p >= 0.001 ? 1000 : 10000;
    return fmt::format(
        "Did nothing differ, {:.0f} of {} such experiments would show as much or more by chance.", p * of,
        readableNumber(of));
}

const GroupsDetail* groupsDetail(const AnalysisResult& result) {
    return dynamic_cast<const GroupsDetail*>(result.kept.get());
}

namespace {

// What is said of a group in which some values are only known to lie below a limit.
void takeLimits(const stats::Group& g, double level, GroupSummary& s) {
    s.limited = stats::summariseWithLimits(g.values, g.limits);
    const double half = stats::meanHalfWidth(s.limited, level);
    stats::Summary& n = s.numbers;
    n.n = s.limited.n;
    n.mean = s.limited.mean, n.sem = s.limited.sem, n.sd = s.limited.sd;
    n.q1 = s.limited.q1, n.median = s.limited.median, n.q3 = s.limited.q3;
    n.min = n.skewness = n.kurtosis = NAN;
    s.low = n.mean - half, s.high = n.mean + half;
    s.whiskers = {NAN, NAN};
    s.outliers.clear();
    s.normality = {NAN, NAN};
}

GroupSummary summaryOf(const stats::Group& g, double place, double level, stats::OutlierRule rule) {
    std::vector<double> sorted = g.values; // once: all of these put them in order
    std::ranges::sort(sorted);
    GroupSummary s{.name = g.name,
                   .place = place,
                   .numbers = stats::summarise(sorted),
                   .whiskers = stats::whiskersOf(sorted)};
    const double half = stats::meanHalfWidth(s.numbers, level);
    s.numbers.missing = g.missing;
    s.low = s.numbers.mean - half, s.high = s.numbers.mean + half;
    s.outliers = stats::outliersOf(sorted, rule);
    s.normality = stats::shapiroWilk(sorted);
    if (!g.limits.empty()) takeLimits(g, level, s);
    return s;
}

BelowLimit belowLimitOf(const std::string& key) {
    return key == "half" ? BelowLimit::Half : key == "left-out" ? BelowLimit::LeftOut : BelowLimit::Kept;
}

stats::OutlierRule ruleOf(const std::string& key) {
    return key == "deviates" ? stats::OutlierRule::Deviates
           : key == "median" ? stats::OutlierRule::Median
                             : stats::OutlierRule::Fences;
}

Result<void> takeSettings(const Settings& given, stats::Design& d) {
    const KindInfo& info = groupsSettings();
    d.level = info.number(given, "level");
    d.against = info.number(given, "against");
    d.squares = info.text(given, "squares") == "3" ? 3 : 2;
    const std::string control = info.text(given, "control");
    if (control.empty()) return {};
    const auto at = std::ranges::find(d.groups, control, &stats::Group::name);
    if (at == d.groups.end()) {
        std::vector<std::string> names;
        for (const stats::Group& g : d.groups) names.push_back(g.name);
        return failure("setting", fmt::format("There is no group “{}” to be the control; there are {}.",
                                              control, joined(names, ", ")));
    }
    d.control = static_cast<std::size_t>(at - d.groups.begin());
    return {};
}

// The keys of the tests to run; the reason where the design has chosen.
stats::Proposal testsOf(const Settings& given, const stats::Design& d) {
    const KindInfo& info = groupsSettings();
    const std::string test = info.text(given, "test"), pairs = info.text(given, "pairs");
    stats::Proposal out;
    if (test == "design") {
        out = stats::proposedTests(d);
        if (pairs != "design" && out.tests.size() > 1) out.tests.resize(1);
    } else
        out.tests = {test};
    if (pairs != "design" && pairs != "none") out.tests.push_back(pairs);
    return out;
}

// The tests run. Errors: "test" of one that does not go with the design.
Result<void> runTests(const stats::Proposal& proposal, GroupsDetail& d, std::vector<Issue>& issues) {
    d.reason = proposal.reason;
    for (const std::string& key : proposal.tests) {
        auto r = stats::runTest(key, d.design);
        // What does not go with the design is a mistake; what the values do not allow is told beside them.
        if (!r && r.error().code == "test") return std::unexpected(r.error());
        if (!r) {
            issues.push_back(r.error());
            continue;
        }
        GroupTest done{.result = std::move(*r), .assumptions = {}};
        done.assumptions = stats::assumptionsOf(done.result, d.design);
        for (const stats::Assumption& a : done.assumptions)
            if (a.doubtful)
                issues.push_back({"assumption",
                                  a.says + (a.instead.empty()
                                                ? ""
                                                : " Take instead: " + stats::findTest(a.instead)->name + "."),
                                  {}});
        d.tests.push_back(std::move(done));
    }
    return {};
}

// Steps change values, and not the limits beside them.
BelowLimit belowLimitFor(const Task& task, const Curve& curve, std::vector<Issue>& issues) {
    const BelowLimit asked = belowLimitOf(groupsSettings().text(task.spec.settings, "below"));
    const bool limited = curve.more.size() > 2;
    if (!limited || !task.inputs[0].stepped || asked == BelowLimit::LeftOut) return asked;
    issues.push_back(
        {"steps",
         "Values below a limit are left out: the steps of the protocol change what was measured.",
         {}});
    return BelowLimit::LeftOut;
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    if (task.inputs.empty()) return failure("no-input", "This comparison has no dataset.");
    const auto curve = pointsWithin(task.inputs[0]);
    if (curve->xMeaning.categories.empty())
        return failure("no-groups",
                       "This dataset has no groups: make one of the kind “groups” from its table (Data, "
                       "“Make dataset…”), with a column that says which group a row belongs to.");
    auto d = std::make_shared<GroupsDetail>();
    std::vector<Issue> issues;
    d->design = designOf(*curve, belowLimitFor(task, *curve, issues), d->notes);
    if (const auto good = takeSettings(task.spec.settings, d->design); !good)
        return std::unexpected(good.error());
    const bool none = std::ranges::all_of(
        d->design.groups, [](const stats::Group& g) { return g.values.empty() && g.limits.empty(); });
    if (!d->design.counts && none)
        return failure("no-points", "There are no values to compare: all are missing or left out.");
    const auto rule = ruleOf(groupsSettings().text(task.spec.settings, "outliers"));
    for (std::size_t k = 0; k < d->design.groups.size(); ++k)
        d->groups.push_back(
            summaryOf(d->design.groups[k], static_cast<double>(k + 1), d->design.level, rule));
    if (const auto run = runTests(testsOf(task.spec.settings, d->design), *d, issues); !run)
        return std::unexpected(run.error());
    AnalysisResult out = toldOf(*d, curve->yMeaning, task.inputs[0].spec.dataset);
    out.good = std::ranges::none_of(issues, [](const Issue& i) { return i.code == "cannot-test"; });
    out.issues = std::move(issues);
    out.kept = std::move(d);
    return out;
}

} // namespace

AnalysisKind groupsAnalysis() {
    return {.info = groupsSettings(),
            .slots = {{.key = "dataset", .label = "Groups", .of = "dataset"}},
            .compute = compute,
            .givesQuantiles = true};
}

} // namespace jointer::analyses
