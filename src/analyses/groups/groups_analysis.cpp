// SPDX-License-Identifier: GPL-3.0-or-later
// Groups compared: their numbers, the test that the design calls for or another, what it takes for granted.
#include "analyses/groups/groups.h"
#include "analyses/points_within.h"
#include "base/text.h"
#include "base/unit_text.h"
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

std::string withUnit(const std::string& text, const std::string& unit) {
    return unit.empty() ? text : text + " " + readableUnit(unit);
}

std::string intervalText(double value, double low, double high, const std::string& unit) {
    if (!std::isfinite(high - low)) return withUnit(readableNumber(value, 3), unit);
    const double error = (high - low) / 4;
    const ValueText t = readableWithError(value, error);
    return withUnit(fmt::format("{} ({} … {})", t.value, readableWithError(low, error).value,
                                readableWithError(high, error).value),
                    unit);
}

// Writes what the tests have found as quantities and as a sentence.
class Telling {
public:
    Telling(const GroupsDetail& d, const std::string& unit, DatasetId member)
        : d_(d), unit_(unit), member_(member) {}

    AnalysisResult result() {
        for (const GroupSummary& g : d_.groups)
            add({.key = "mean of " + g.name,
                 .label = "mean",
                 .unit = unit_,
                 .value = g.numbers.mean,
                 .se = g.numbers.sem,
                 .low = g.low,
                 .high = g.high,
                 .subject = g.name});
        for (const GroupTest& t : d_.tests) tell(t.result);
        return std::move(out_);
    }

    std::string sentence() const {
        if (d_.tests.empty()) return "Summarised by groups.";
        const stats::TestResult& r = d_.tests.front().result;
        const stats::TestKind& kind = *stats::findTest(r.test);
        const std::string by = fmt::format("{} ({})", stats::probabilityText(r.p), kind.name);
        const bool ofTwo = kind.needs == stats::Needs::TwoGroups || kind.needs == stats::Needs::Pairs;
        if (ofTwo && std::isfinite(r.difference)) return differenceText(r) + ", " + by + ".";
        std::string size;
        if (kind.needs == stats::Needs::Columns)
            size = fmt::format(" {} = {}", r.effect.name,
                               intervalText(r.effect.value, r.effect.low, r.effect.high, ""));
        if (std::isfinite(r.difference) && !ofTwo)
            size += fmt::format("{} {} {}", size.empty() ? "" : ",",
                                kind.needs == stats::Needs::Columns ? "slope" : "by",
                                intervalText(r.difference, r.low, r.high, ""));
        return fmt::format("{}:{} {}.{}", r.p < 0.05 ? kind.found : kind.notFound,
                           size.empty() ? "" : size + ",", by, pairsText());
    }

private:
    void add(Quantity q) {
        q.state = "summary";
        q.member = member_;
        out_.quantities.push_back(std::move(q));
    }

    void tell(const stats::TestResult& r) {
        const bool two = d_.design.groups.size() == 2;
        const std::string who = two ? pairName(0, 1) : std::string();
        if (std::isfinite(r.difference))
            add({.key = "difference by " + r.test,
                 .label = "difference",
                 .meaning = "of " + r.differenceOf,
                 .unit = unit_,
                 .value = r.difference,
                 .low = r.low,
                 .high = r.high,
                 .subject = who});
        if (std::isfinite(r.effect.value))
            add({.key = "effect by " + r.test,
                 .label = r.effect.name,
                 .meaning = "how large the difference is",
                 .value = r.effect.value,
                 .low = r.effect.low,
                 .high = r.effect.high,
                 .subject = who,
                 .digits = 3});
        if (r.pairs.empty() || &r == &d_.tests.front().result)
            add({.key = "p of " + r.test,
                 .label = "p",
                 .meaning = stats::findTest(r.test)->name,
                 .value = r.p,
                 .subject = who,
                 .digits = 2});
        for (const stats::VarianceTerm& t : r.terms)
            if (std::isfinite(t.p) && r.terms.size() > 3)
                add({.key = "p of " + t.name, .label = "p of " + t.name, .value = t.p, .digits = 2});
        for (const stats::PairResult& p : r.pairs) {
            const std::string pair = pairName(p.a, p.b);
            add({.key = "difference of " + pair + " by " + r.test,
                 .label = "difference",
                 .unit = r.test == "dunn" ? "" : unit_,
                 .value = p.difference,
                 .low = p.low,
                 .high = p.high,
                 .subject = pair});
            add({.key = "p of " + pair + " by " + r.test,
                 .label = "p",
                 .meaning = stats::findTest(r.test)->name,
                 .value = p.p,
                 .subject = pair,
                 .digits = 2});
        }
    }

    std::string differenceText(const stats::TestResult& r) const {
        const std::string &a = d_.design.groups[0].name, &b = d_.design.groups[1].name;
        const bool down = r.difference < 0;
        return fmt::format(
            "{} is {} than {} by {}", a, down ? "lower" : "higher", b,
            intervalText(std::abs(r.difference), down ? -r.high : r.low, down ? -r.low : r.high, unit_));
    }

    std::string pairName(std::size_t a, std::size_t b) const {
        return d_.design.groups[a].name + " − " + d_.design.groups[b].name;
    }

    std::string pairsText() const {
        std::vector<std::string> apart;
        std::size_t all = 0;
        for (const GroupTest& t : d_.tests)
            for (const stats::PairResult& p : t.result.pairs) {
                ++all;
                if (p.p < 0.05) apart.push_back(pairName(p.a, p.b));
            }
        if (all == 0) return {};
        if (apart.empty()) return " No pair differs for itself.";
        if (apart.size() > 4) return fmt::format(" {} of {} pairs differ.", apart.size(), all);
        return " Apart: " + joined(apart, "; ") + ".";
    }

    const GroupsDetail& d_;
    std::string unit_;
    DatasetId member_;
    AnalysisResult out_{.state = "done"};
};

Column columnOf(const GroupsDetail& d, std::string name, const std::string& unit,
                double (*value)(const GroupSummary&)) {
    std::vector<double> values;
    for (const GroupSummary& g : d.groups) values.push_back(value(g));
    return numberColumn(std::move(name), unit, std::move(values));
}

NamedTable tableOf(const GroupsDetail& d, const std::string& unit) {
    NamedTable t{.key = "groups", .label = "Groups", .table = {}};
    std::vector<std::string> names;
    for (const GroupSummary& g : d.groups) names.push_back(g.name);
    t.table.columns = {
        textColumn("group", names),
        columnOf(d, "n", "", [](const GroupSummary& g) { return static_cast<double>(g.numbers.n); }),
        columnOf(d, "mean", unit, [](const GroupSummary& g) { return g.numbers.mean; }),
        columnOf(d, "low", unit, [](const GroupSummary& g) { return g.low; }),
        columnOf(d, "high", unit, [](const GroupSummary& g) { return g.high; }),
        columnOf(d, "SD", unit, [](const GroupSummary& g) { return g.numbers.sd; }),
        columnOf(d, "median", unit, [](const GroupSummary& g) { return g.numbers.median; }),
        columnOf(d, "outliers", "",
                 [](const GroupSummary& g) { return static_cast<double>(g.outliers.size()); })};
    if (stats::hasLimits(d.design))
        t.table.columns.push_back(columnOf(d, "below a limit", "", [](const GroupSummary& g) {
            return static_cast<double>(g.limited.below);
        }));
    return t;
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

void tellLimits(const GroupSummary& g, const std::string& unit, std::vector<std::string>& notes) {
    const stats::LimitedSummary& s = g.limited;
    if (!(s.unknownShare > 0)) return;
    const std::string share =
        fmt::format("{:.0f} % of “{}” lies below all that was measured", 100 * s.unknownShare, g.name);
    if (std::isnan(s.mean))
        notes.push_back(share + ".");
    else if (std::isnan(s.meanAtLeast))
        notes.push_back(share + ": its mean is at most the one given.");
    else
        notes.push_back(
            fmt::format("{}: its mean is at most the one given, and at least {} where no value is negative.",
                        share, withUnit(readableNumber(s.meanAtLeast, 3), unit)));
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
    for (const GroupSummary& g : d->groups) tellLimits(g, curve->yMeaning.unit, d->notes);
    if (const auto run = runTests(testsOf(task.spec.settings, d->design), *d, issues); !run)
        return std::unexpected(run.error());
    const std::string& unit = curve->yMeaning.unit;
    Telling telling(*d, unit, task.inputs[0].spec.dataset);
    const std::string sentence = telling.sentence();
    AnalysisResult out = telling.result();
    out.sentence = sentence;
    std::vector<std::string> detail = d->notes;
    if (!d->reason.empty()) detail.insert(detail.begin(), d->reason);
    if (!d->tests.empty()) detail.push_back(meaningOfP(d->tests.front().result.p));
    out.detail = joined(detail, " ");
    out.good = std::ranges::none_of(issues, [](const Issue& i) { return i.code == "cannot-test"; });
    out.issues = std::move(issues);
    if (!d->groups.empty()) out.tables.push_back(tableOf(*d, unit));
    out.kept = std::move(d);
    return out;
}

} // namespace

AnalysisKind groupsAnalysis() {
    return {.info = groupsSettings(),
            .slots = {{.key = "dataset", .label = "Groups", .of = "dataset"}},
            .compute = compute};
}

} // namespace jointer::analyses
