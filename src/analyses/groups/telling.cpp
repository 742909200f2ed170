// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/groups/telling.h"

#include "analyses/quantile_plot.h"
#include "base/text.h"
#include "base/unit_text.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

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

// All values about the means of their groups, and each group. Groups with values below a limit have no such
// picture.
void addQuantiles(const GroupsDetail& d, const AxisMeaning& meaning, DatasetId member, AnalysisResult& out) {
    constexpr std::size_t kMostValues = 100000, kMostGroups = 40; // beyond, nobody looks
    std::vector<double> about;
    std::vector<const stats::Group*> whole;
    for (std::size_t k = 0; k < d.design.groups.size(); ++k) {
        const stats::Group& g = d.design.groups[k];
        if (!g.limits.empty() || g.values.empty()) continue;
        whole.push_back(&g);
        for (const double v : g.values) about.push_back(v - d.groups[k].numbers.mean);
    }
    if (about.size() > kMostValues) return;
    if (whole.size() > 1) addQuantilePlot(std::move(about), "all, less their means", meaning, member, out);
    for (std::size_t k = 0; k < std::min(kMostGroups, whole.size()); ++k)
        addQuantilePlot(whole[k]->values, whole[k]->name, meaning, member, out);
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

} // namespace

AnalysisResult toldOf(GroupsDetail& d, const AxisMeaning& y, DatasetId member) {
    for (const GroupSummary& g : d.groups) tellLimits(g, y.unit, d.notes);
    Telling telling(d, y.unit, member);
    const std::string sentence = telling.sentence();
    AnalysisResult out = telling.result();
    out.sentence = sentence;
    std::vector<std::string> detail = d.notes;
    if (!d.reason.empty()) detail.insert(detail.begin(), d.reason);
    if (!d.tests.empty()) detail.push_back(meaningOfP(d.tests.front().result.p));
    out.detail = joined(detail, " ");
    if (!d.groups.empty()) out.tables.push_back(tableOf(d, y.unit));
    addQuantiles(d, y, member, out);
    return out;
}

} // namespace jointer::analyses
