// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/group_tests.h"

#include "stats/limits.h"
#include "stats/normality.h"
#include "stats/summary.h"
#include "stats/test_tools.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace jointer::stats {

namespace {

const std::array kTests = {
    TestKind{"one-sample", "One-sample t", "Whether a mean is another than a given one", Needs::OneGroup,
             oneSampleTest, "Student, Biometrika 6 (1908) 1",
             "The mean differs beyond chance from the given one",
             "No difference from the given mean beyond chance"},
    TestKind{"welch", "Welch’s t", "Whether two means differ; variances may", Needs::TwoGroups, welchTest,
             "B. L. Welch, Biometrika 34 (1947) 28"},
    TestKind{"student", "Student’s t", "Whether two means differ; variances are taken as one",
             Needs::TwoGroups, studentTest, "Student, Biometrika 6 (1908) 1"},
    TestKind{"paired", "Paired t", "Whether the mean of differences within pairs is nought", Needs::Pairs,
             pairedTest, "Student, Biometrika 6 (1908) 1"},
    TestKind{"anova", "Analysis of variance",
             "Whether any of several means differs; variances are taken as one", Needs::Groups, anovaTest,
             "R. A. Fisher, Statistical Methods for Research Workers (1925)"},
    TestKind{"welch-anova", "Welch’s analysis of variance",
             "Whether any of several means differs; variances may", Needs::Groups, welchAnovaTest,
             "B. L. Welch, Biometrika 38 (1951) 330"},
    TestKind{"two-way-anova", "Two-way analysis of variance", "Two factors and whether they act together",
             Needs::TwoFactors, twoWayTest, "F. Yates, J. Am. Stat. Assoc. 29 (1934) 51"},
    TestKind{"repeated-measures", "Repeated measures",
             "Whether means differ that were measured on the same subjects", Needs::Blocks, repeatedTest,
             "S. Geisser, S. W. Greenhouse, Ann. Math. Statist. 29 (1958) 885"},
    TestKind{"tukey", "Tukey’s comparisons", "Each mean with each; variances are taken as one", Needs::Groups,
             tukeyTest, "J. W. Tukey (1953); C. Y. Kramer, Biometrics 12 (1956) 307"},
    TestKind{"games-howell", "Games and Howell’s comparisons", "Each mean with each; variances may differ",
             Needs::Groups, gamesHowellTest, "P. A. Games, J. F. Howell, J. Educ. Stat. 1 (1976) 113"},
    TestKind{"holm", "Pairs after Holm", "Each mean with each by t, p corrected for their number",
             Needs::Groups, holmTest, "S. Holm, Scand. J. Statist. 6 (1979) 65"},
    TestKind{"dunnett", "Dunnett’s comparisons", "Each mean with that of a control", Needs::Control,
             dunnettTest, "C. W. Dunnett, J. Am. Stat. Assoc. 50 (1955) 1096"},
    TestKind{"mann-whitney", "Mann–Whitney", "Whether the values of one group tend to be larger, by ranks",
             Needs::TwoGroups, mannWhitneyTest,
             "H. B. Mann, D. R. Whitney, Ann. Math. Statist. 18 (1947) 50"},
    TestKind{"wilcoxon", "Wilcoxon’s signed ranks",
             "Whether differences within pairs tend to one side, by ranks", Needs::Pairs, wilcoxonTest,
             "F. Wilcoxon, Biometrics Bull. 1 (1945) 80"},
    TestKind{"kruskal-wallis", "Kruskal–Wallis",
             "Whether any of several groups tends to larger values, by ranks", Needs::Groups,
             kruskalWallisTest, "W. H. Kruskal, W. A. Wallis, J. Am. Stat. Assoc. 47 (1952) 583"},
    TestKind{"dunn", "Dunn’s comparisons", "Each group with each, by ranks", Needs::Groups, dunnTest,
             "O. J. Dunn, Technometrics 6 (1964) 241"},
    TestKind{"friedman", "Friedman",
             "Whether groups differ that were measured on the same subjects, by ranks", Needs::Blocks,
             friedmanTest, "M. Friedman, J. Am. Stat. Assoc. 32 (1937) 675"},
    TestKind{"levene", "Levene’s test", "Whether groups scatter alike, by distances from their medians",
             Needs::Groups, leveneTest, "M. B. Brown, A. B. Forsythe, J. Am. Stat. Assoc. 69 (1974) 364",
             "The groups scatter differently beyond chance", "No difference of scatter beyond chance"},
    TestKind{"bartlett", "Bartlett’s test", "Whether groups of normal values scatter alike", Needs::Groups,
             bartlettTest, "M. S. Bartlett, Proc. R. Soc. A 160 (1937) 268",
             "The groups scatter differently beyond chance", "No difference of scatter beyond chance"},
    TestKind{"pearson", "Correlation", "Whether two columns go together along a line", Needs::Columns,
             pearsonTest, "R. A. Fisher, Biometrika 10 (1915) 507", "The columns go together beyond chance",
             "That the columns go together is not seen beyond chance"},
    TestKind{"spearman", "Rank correlation", "Whether two columns rise or fall together", Needs::Columns,
             spearmanTest, "C. Spearman, Am. J. Psychol. 15 (1904) 72",
             "The columns go together beyond chance",
             "That the columns go together is not seen beyond chance"},
    TestKind{"kendall", "Kendall’s correlation",
             "Whether two columns rise or fall together, by pairs of rows", Needs::Columns, kendallTest,
             "M. G. Kendall, Biometrika 30 (1938) 81", "The columns go together beyond chance",
             "That the columns go together is not seen beyond chance"},
    TestKind{"mann-kendall", "Trend in time", "Whether values rise or fall in time, with the slope of Sen",
             Needs::Columns, trendTest,
             "H. B. Mann, Econometrica 13 (1945) 245; P. K. Sen, J. Am. Stat. Assoc. 63 (1968) 1379",
             "There is a trend beyond chance", "No trend beyond chance"},
    TestKind{"fisher", "Fisher’s exact test", "Whether an outcome hangs on the group, exactly", Needs::Counts,
             fisherTest, "R. A. Fisher, J. R. Stat. Soc. 98 (1935) 39",
             "The outcomes hang on the group beyond chance",
             "That outcomes hang on the group is not seen beyond chance"},
    TestKind{"rates", "Ratio of rates",
             "Whether events are counted more often in one group, each value a count", Needs::TwoGroups,
             ratesTest, "J. Przyborowski, H. Wilenski, Biometrika 31 (1940) 313",
             "The rates differ beyond chance", "No difference of rates beyond chance"},
    TestKind{"chi-squared", "χ² of a table", "Whether outcomes hang on the group", Needs::Counts,
             chiSquaredTest, "K. Pearson, Phil. Mag. 50 (1900) 157",
             "The outcomes hang on the group beyond chance",
             "That outcomes hang on the group is not seen beyond chance"}};

// What a test lacks; empty: it can be run.
std::string lacks(const TestKind& t, const Design& d) {
    const std::size_t k = d.groups.size();
    switch (t.needs) {
    case Needs::OneGroup:
        return k == 1 ? "" : "takes one group";
    case Needs::TwoGroups:
        return k == 2 ? "" : fmt::format("takes two groups, there {} {}", k == 1 ? "is" : "are", k);
    case Needs::Groups:
        return k >= 2 ? "" : "takes two groups or more";
    case Needs::Control:
        return k < 2 ? "takes two groups or more" : !d.control ? "compares with a control: name it" : "";
    case Needs::Pairs:
        return !d.hasSubjects() ? "takes pairs: say which values are of one subject"
               : k == 2         ? ""
                                : "takes two groups";
    case Needs::Blocks:
        return !d.hasSubjects() ? "takes values of the same subjects: say which are of one"
               : k >= 2         ? ""
                                : "takes two groups";
    case Needs::Columns:
        return d.hasSubjects() && k == 2 ? "" : "takes two columns, row by row";
    case Needs::TwoFactors:
        return d.factors ? "" : "takes two factors: name a second one";
    case Needs::Counts:
        return d.counts ? "" : "takes outcomes that are words or yes/no";
    }
    return {};
}

// Tests of groups by ranks, which hold values that are only known to lie below a limit.
bool isByRanks(std::string_view test) {
    return test == "mann-whitney" || test == "kruskal-wallis" || test == "dunn";
}

Result<TestResult> runByRanks(const TestKind& t, const Design& design) {
    auto out = t.run(withTiedLimits(design));
    if (!out) return out;
    out->difference = out->low = out->high = NAN; // a shift of values that are not known
    out->differenceOf.clear();
    out->notes.push_back("Whatever lies below the highest limit is taken as equal and least.");
    return out;
}

} // namespace

std::span<const TestKind> groupTests() {
    return kTests;
}

const TestKind* findTest(std::string_view key) {
    const auto at = std::ranges::find(kTests, key, &TestKind::key);
    return at == kTests.end() ? nullptr : &*at;
}

Result<TestResult> runTest(std::string_view key, const Design& design) {
    const TestKind* t = findTest(key);
    if (!t) {
        std::string all;
        for (const TestKind& k : kTests) all += (all.empty() ? "" : ", ") + k.key;
        return failure("test", fmt::format("There is no test called “{}”; there are {}.", key, all));
    }
    if (const std::string why = lacks(*t, design); !why.empty())
        return failure("test", fmt::format("{} {}.", t->name, why));
    auto result = isByRanks(t->key) && hasLimits(design) ? runByRanks(*t, design) : t->run(design);
    if (result && std::isnan(result->p))
        return cannotTest(t->name +
                          " finds no number: the values are too large or too far apart for its sums.");
    return result;
}

std::string probabilityText(double p) {
    return p < 0.001 ? "p < 0.001" : fmt::format("p = {:.2g}", p);
}

Proposal proposedTests(const Design& d) {
    const std::size_t k = d.groups.size();
    if (d.counts) {
        const auto& t = d.counts->counts;
        if (t.size() == 2 && t[0].size() == 2) return {{"fisher"}, "Two groups with two outcomes each."};
        return {{"chi-squared"}, "Counts of outcomes in groups."};
    }
    if (d.factors) return {{"two-way-anova"}, "Two factors at once."};
    if (d.repeated && k == 2) return {{"paired"}, "Two groups with a value of each subject in both."};
    if (d.repeated) return {{"repeated-measures"}, "Several groups with a value of each subject in all."};
    if (hasLimits(d) && k > 1) {
        static const std::string kWhy =
            "Independent groups with values below a limit, which have ranks but no mean of their own.";
        return k == 2 ? Proposal{{"mann-whitney"}, kWhy} : Proposal{{"kruskal-wallis", "dunn"}, kWhy};
    }
    if (k == 2)
        return {{"welch"},
                "Two groups that are independent of each other; their variances need not be equal."};
    if (k > 2 && d.control)
        return {{"welch-anova", "dunnett"}, "Several groups, each to be compared with the control."};
    if (k > 2)
        return {{"welch-anova", "games-howell"},
                "Several groups that are independent of each other; their variances need not be equal."};
    return {{}, "One group: its summary says it all."};
}

namespace {

constexpr double kDoubtful = 0.05;

// The least probability of normality among some lists, and of which.
struct Least {
    double p = NAN;
    std::string of;
    std::size_t tried = 0;
};

Least leastNormal(const Design& d, bool differences) {
    Least out;
    const auto look = [&](const std::vector<double>& values, const std::string& name) {
        const double p = shapiroWilk(values).p;
        if (std::isnan(p)) return;
        ++out.tried;
        if (!(out.p <= p)) out.p = p, out.of = name;
    };
    if (differences) {
        for (std::size_t g = 1; g < d.groups.size(); ++g) {
            std::vector<double> off;
            for (const auto& s : d.subjects) off.push_back(s[0] - s[g]);
            look(off, "the differences between “" + d.groups[0].name + "” and “" + d.groups[g].name + "”");
        }
        return out;
    }
    for (const Group& g : d.groups) look(g.values, "“" + g.name + "”");
    return out;
}

Assumption normality(const Design& d, bool differences, std::string instead) {
    const Least least = leastNormal(d, differences);
    if (least.tried == 0)
        return {"The values come from normal distributions: there are too few to see whether they do.",
                false,
                {}};
    // Of several groups one is below by chance more often: by Bonferroni.
    const double p = std::min(1.0, least.p * static_cast<double>(least.tried));
    if (p < kDoubtful)
        return {fmt::format("Normal distributions are in doubt: {} ({}, Shapiro–Wilk).", least.of,
                            probabilityText(p)),
                true, std::move(instead)};
    return {
        fmt::format("Nothing speaks against normal distributions ({}, Shapiro–Wilk).", probabilityText(p)),
        false,
        {}};
}

Assumption equalSpread(const Design& d, std::string instead) {
    const auto levene = leveneTest(d);
    if (!levene || std::isnan(levene->p))
        return {"The groups scatter alike: there are too few values to see whether they do.", false, {}};
    if (levene->p < kDoubtful)
        return {fmt::format("Equal scatter is in doubt ({}, Levene).", probabilityText(levene->p)), true,
                std::move(instead)};
    return {fmt::format("Nothing speaks against equal scatter ({}, Levene).", probabilityText(levene->p)),
            false,
            {}};
}

struct Takes {
    const char* test;
    bool normal, differences, spread;
    const char *ifNotNormal, *ifNotEqual;
};
constexpr Takes kTakes[] = {{"one-sample", true, false, false, "wilcoxon", ""},
                            {"welch", true, false, false, "mann-whitney", ""},
                            {"student", true, false, true, "mann-whitney", "welch"},
                            {"paired", true, true, false, "wilcoxon", ""},
                            {"anova", true, false, true, "kruskal-wallis", "welch-anova"},
                            {"welch-anova", true, false, false, "kruskal-wallis", ""},
                            {"repeated-measures", true, true, false, "friedman", ""},
                            {"tukey", true, false, true, "dunn", "games-howell"},
                            {"holm", true, false, true, "dunn", "games-howell"},
                            {"dunnett", true, false, true, "dunn", "games-howell"},
                            {"games-howell", true, false, false, "dunn", ""},
                            {"bartlett", true, false, false, "levene", ""},
                            {"pearson", true, false, false, "spearman", ""}};

} // namespace

std::vector<Assumption> assumptionsOf(const TestResult& result, const Design& d) {
    std::vector<Assumption> out;
    const auto takes = std::ranges::find(kTakes, std::string_view(result.test), &Takes::test);
    if (takes != std::end(kTakes)) {
        if (takes->normal) out.push_back(normality(d, takes->differences, takes->ifNotNormal));
        if (takes->spread) out.push_back(equalSpread(d, takes->ifNotEqual));
    }
    if (isByRanks(result.test))
        out.push_back({"It compares medians only where the groups are spread alike; else it tells which "
                       "tends to be larger.",
                       false,
                       {}});
    if (hasLimits(d) && !isByRanks(result.test))
        out.push_back({"Values below a limit are left out, which moves the means up.", true,
                       d.groups.size() == 2  ? "mann-whitney"
                       : d.groups.size() > 2 ? "kruskal-wallis"
                                             : ""});
    const TestKind* kind = findTest(result.test);
    const bool ofSubjects = kind && (kind->needs == Needs::Pairs || kind->needs == Needs::Blocks);
    out.push_back({ofSubjects ? "The subjects are independent of each other: no test can see that."
                              : "The values are independent of each other: no test can see that.",
                   false,
                   {}});
    return out;
}

std::pair<double, double> whiskersOf(std::span<const double> values) {
    std::vector<double> v;
    for (double x : values)
        if (!std::isnan(x)) v.push_back(x);
    if (v.empty()) return {NAN, NAN};
    std::ranges::sort(v);
    const double q1 = quantile(v, 0.25), q3 = quantile(v, 0.75), reach = 1.5 * (q3 - q1);
    return {*std::ranges::lower_bound(v, q1 - reach), *(std::ranges::upper_bound(v, q3 + reach) - 1)};
}

namespace {

// Source: B. Rosner, Technometrics 25 (1983) 165; at most a tenth of the values, and at least one, at 5 %.
std::vector<double> extremeDeviates(std::vector<double> v) {
    const std::size_t most = std::max<std::size_t>(1, v.size() / 10);
    std::vector<double> taken;
    std::size_t outliers = 0;
    const auto n = static_cast<double>(v.size());
    for (std::size_t k = 1; k <= most && v.size() > 2; ++k) {
        const Moments m = momentsOf(v);
        const auto far = std::ranges::max_element(v, {}, [&](double x) { return std::abs(x - m.mean); });
        const double r = std::abs(*far - m.mean) / std::sqrt(m.variance()), i = static_cast<double>(k);
        taken.push_back(*far);
        v.erase(far);
        const double t = boost::math::quantile(
            boost::math::complement(boost::math::students_t(n - i - 1), 0.05 / (2 * (n - i + 1))));
        if (r > (n - i) * t / std::sqrt((n - i - 1 + t * t) * (n - i + 1))) outliers = k;
    }
    taken.resize(outliers);
    return taken;
}

} // namespace

std::vector<double> outliersOf(std::span<const double> values, OutlierRule rule) {
    std::vector<double> v, out;
    for (double x : values)
        if (std::isfinite(x)) v.push_back(x);
    if (v.size() < 3) return out;
    if (rule == OutlierRule::Deviates) {
        out = extremeDeviates(v);
    } else {
        auto [low, high] = whiskersOf(v);
        if (rule == OutlierRule::Median) {
            std::ranges::sort(v);
            const double reach = 3.5 * robustSd(v), middle = quantile(v, 0.5);
            low = middle - reach, high = middle + reach;
        }
        std::ranges::copy_if(v, std::back_inserter(out), [&](double x) { return x < low || x > high; });
    }
    std::ranges::sort(out);
    return out;
}

} // namespace jointer::stats
