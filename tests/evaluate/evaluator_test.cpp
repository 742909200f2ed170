// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/evaluator.h"
#include "support/fitted.h"

#include "base/text.h"
#include "evaluate/results.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>
#include <thread>

using namespace jointer;
using namespace jointer::evaluate;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

Project withTable(std::vector<Column> columns) {
    Table t;
    t.name = "t";
    t.columns = std::move(columns);
    return *edits::addTable(t).apply({});
}

Project withFormula(const Project& p, const std::string& name, const std::string& shown) {
    return *edits::addComputedColumn(p.tables[0].id, name, formulaStored(shown, p.tables[0])).apply(p);
}

std::vector<double> cellsOf(Evaluator& e, const Project& p, const std::string& column) {
    const auto t = e.table(p, p.tables[0].id);
    const auto n = t.value.findByName(column)->numbers();
    return {n.begin(), n.end()};
}

Dataset overAllColumns(const Table& t) {
    Dataset d;
    d.name = "d";
    d.source.table = t.id;
    for (const Column& c : t.columns) d.source.roles.push_back({c.role, c.id});
    return d;
}

Column withRole(Column c, Role role) {
    c.role = role;
    return c;
}

} // namespace

TEST(ComputedColumns, KnowMomentsByTheirText) {
    Project p;
    Column when = numberColumn("when", "", {1935446400, 1935494405});
    when.kind = ColumnKind::DateTime;
    Table t;
    t.columns = {when};
    p = *edits::addTable(t).apply(p);
    const auto computed = [&](const char* formula) {
        const Project q = *edits::addComputedColumn(p.tables[0].id, "c", formula).apply(p);
        Evaluator e;
        const auto filled = e.table(q, q.tables[0].id);
        EXPECT_TRUE(filled.issues.empty()) << filled.issues.front().text;
        const auto cells = filled.value.columns.back().numbers();
        return std::vector<double>(cells.begin(), cells.end());
    };
    EXPECT_EQ(computed("(when - '2031-05-02')/3600"), (std::vector{0.0, 48005.0 / 3600}));
    EXPECT_EQ(computed("if(when > '2031-05-02 12:00', 1, 0)"), (std::vector{0.0, 1.0}));
}

TEST(ComputedColumns, FollowTheirSourcesThroughEachOther) {
    Evaluator e;
    Project p =
        withTable({numberColumn("a", "", {1, 2, 3}), numberColumn("depth of pond", "cm", {10, 20, 30})});
    p = withFormula(p, "b", "2*a + row");
    p = withFormula(p, "c", "b - 'depth of pond'/10");
    EXPECT_THAT(cellsOf(e, p, "b"), ElementsAre(3, 6, 9));
    EXPECT_THAT(cellsOf(e, p, "c"), ElementsAre(2, 4, 6));
    const Table& t = p.tables[0];
    p = *test::typeValue(t.id, t.columns[0].id, 1, 7).apply(p);
    EXPECT_THAT(cellsOf(e, p, "b"), ElementsAre(3, 16, 9));
    EXPECT_THAT(cellsOf(e, p, "c"), ElementsAre(2, 14, 6));
}

TEST(ComputedColumns, KeepTheirSourceWhenItIsRenamed) {
    Evaluator e;
    Project p = withFormula(withTable({numberColumn("a", "", {1, 2})}), "b", "10*a");
    const TableId id = p.tables[0].id;
    p = *edits::changeTable(id, "Rename", [](Table& t) { t.columns[0].name = "new name"; }).apply(p);
    EXPECT_THAT(cellsOf(e, p, "b"), ElementsAre(10, 20));
    EXPECT_EQ(formulaShown(p.tables[0].columns[1].formula, p.tables[0]), "10*'new name'");
}

TEST(ComputedColumns, SayWhatTheyMissAndNameCircles) {
    Evaluator e;
    Project p = withTable({numberColumn("a", "", {1, 2}), textColumn("site", {"A", "B"})});
    p = withFormula(p, "b", "a + gone");
    p = withFormula(p, "c", "site*2");
    p = withFormula(p, "d", "a");
    p = withFormula(p, "f", "d");
    const Table& t = p.tables[0];
    p = *edits::setFormula(t.id, t.findByName("d")->id, formulaStored("f", t)).apply(p);
    const auto filled = e.table(p, p.tables[0].id);
    std::map<std::string, std::string> said;
    for (const Issue& issue : filled.issues) said[issue.place.column] += issue.text;
    EXPECT_THAT(said["b"], HasSubstr("gone"));
    EXPECT_THAT(said["c"], HasSubstr("site"));
    EXPECT_THAT(said["d"] + said["f"], HasSubstr("circle"));
    EXPECT_THAT(said["d"] + said["f"], HasSubstr("d → f → d"));
    for (const char* name : {"b", "c", "d", "f"})
        for (double v : cellsOf(e, p, name)) EXPECT_TRUE(std::isnan(v)) << name;
}

TEST(MeasuredCurve, IsInOrderOfXWithMeansAndSourceRows) {
    Evaluator e;
    const double nan = std::nan("");
    Project p = withTable({withRole(numberColumn("x", "s", {3, 1, nan, 2}), Role::X),
                           withRole(numberColumn("y1", "V", {30, 10, 99, 20}), Role::Y),
                           withRole(numberColumn("y2", "V", {34, nan, 99, 22}), Role::Y)});
    p = *edits::addDataset(overAllColumns(p.tables[0])).apply(p);
    const auto curve = e.measured(p, p.datasets[0].id);
    EXPECT_TRUE(curve.issues.empty());
    EXPECT_THAT(curve.value->x, ElementsAre(1, 2, 3));
    EXPECT_THAT(curve.value->y, ElementsAre(10, 21, 32)) << "means of the replicates that are there";
    EXPECT_THAT(curve.value->rowIds, ElementsAre(2, 4, 1));
    EXPECT_EQ(curve.value->replicates.size(), 2U);
    EXPECT_EQ(curve.value->xMeaning.unit, "s");
    EXPECT_EQ(curve.value->yMeaning.name, "y") << "what the replicates have in common";
}

TEST(MeasuredCurve, TakesUncertaintiesByEachRule) {
    Evaluator e;
    Project p = withTable({withRole(numberColumn("x", "", {1, 2}), Role::X),
                           withRole(numberColumn("y", "", {100, 4}), Role::Y),
                           withRole(numberColumn("u", "", {3, -5}), Role::YError)});
    Dataset d = overAllColumns(p.tables[0]);
    p = *edits::addDataset(d).apply(p);
    auto sigma = [&](const char* rule, double amount) {
        const Project q = *edits::changeDataset(p.datasets[0].id, "", [&](Dataset& x) {
                               if (*rule) x.source.settings.set("uncertainty", rule);
                               x.source.settings.set("amount", Value(amount));
                           }).apply(p);
        return e.measured(q, q.datasets[0].id).value->sigma;
    };
    EXPECT_THAT(sigma("", 0), ElementsAre(3, 5)) << "the column, by its size";
    EXPECT_THAT(sigma("none", 0), ElementsAre());
    EXPECT_THAT(sigma("fraction", 0.1), ElementsAre(10, 0.4));
    EXPECT_THAT(sigma("counting", 0), ElementsAre(10, 2));
    EXPECT_THAT(sigma("constant", 7), ElementsAre(7, 7));
}

TEST(MeasuredCurve, ReplicatesGiveSdAndSem) {
    Evaluator e;
    Project p = withTable({withRole(numberColumn("x", "", {1, 2}), Role::X),
                           withRole(numberColumn("a", "", {1, 4}), Role::Y),
                           withRole(numberColumn("b", "", {2, 4}), Role::Y),
                           withRole(numberColumn("c", "", {3, std::nan("")}), Role::Y)});
    p = *edits::addDataset(overAllColumns(p.tables[0])).apply(p);
    auto sigma = [&](const char* rule) {
        const Project q = *edits::changeDataset(p.datasets[0].id, "", [&](Dataset& x) {
                               x.source.settings.set("uncertainty", rule);
                           }).apply(p);
        return e.measured(q, q.datasets[0].id).value->sigma;
    };
    EXPECT_THAT(sigma("sd"), ElementsAre(1, 0));
    EXPECT_NEAR(sigma("sem")[0], 1 / std::sqrt(3.0), 1e-15);
}

TEST(MeasuredCurve, SaysWhenThereIsNoY) {
    Evaluator e;
    Project p = withTable({withRole(numberColumn("x", "", {1, 2}), Role::X)});
    p = *edits::addDataset(overAllColumns(p.tables[0])).apply(p);
    const auto curve = e.measured(p, p.datasets[0].id);
    EXPECT_EQ(curve.value->size(), 0U);
    ASSERT_EQ(curve.issues.size(), 1U);
    EXPECT_EQ(curve.issues[0].code, "no-y");
}

// A plane over two predictors with an exact answer; rows out of order and a gap in the second predictor.
TEST(Fits, TakeSeveralPredictors) {
    const double nan = std::nan("");
    std::vector<double> u = {3, 1, 2, 5, 4, 2.5, 6}, v = {1, 4, 2, 0, nan, 3, 1}, z;
    for (std::size_t i = 0; i < u.size(); ++i) z.push_back(std::isnan(v[i]) ? 99 : 2 + 3 * u[i] - 0.5 * v[i]);
    Project p =
        withTable({withRole(numberColumn("u", "", u), Role::X), withRole(numberColumn("v", "", v), Role::X),
                   withRole(numberColumn("z", "", z), Role::Y)});
    p = *edits::addDataset(overAllColumns(p.tables[0])).apply(p);
    Analysis a;
    a.inputs = {{.dataset = p.datasets[0].id}};
    a.model.kind = "equation";
    a.model.settings.set("equation", "a + b*x1 + c*x2");
    p = *edits::addAnalysis(a).apply(p);
    Evaluator e;
    for (Effort effort : {Effort::Provisional, Effort::Full}) {
        const auto r = test::fitOf(e, p, p.analyses[0], {.effort = effort});
        ASSERT_TRUE(r.good()) << r.error().text;
        EXPECT_EQ(r.report->n, 6U) << "without the point whose second predictor is missing";
        EXPECT_NEAR(r.one().parameters[0].value, 2, 1e-9);
        EXPECT_NEAR(r.one().parameters[1].value, 3, 1e-9);
        EXPECT_NEAR(r.one().parameters[2].value, -0.5, 1e-9);
        EXPECT_FALSE(r.isCurve());
    }
    // A library model takes the first predictor; the steps keep all of them together.
    Analysis line = p.analyses[0];
    line.model = {.kind = "line"};
    line.parameters.clear();
    EXPECT_TRUE(test::fitOf(e, p, line).good());
    p = *edits::excludeRows(p.datasets[0].id, {1}, true).apply(p);
    const auto without = test::fitOf(e, p, p.analyses[0]);
    ASSERT_TRUE(without.good());
    EXPECT_EQ(without.report->n, 5U);
    EXPECT_NEAR(without.one().parameters[2].value, -0.5, 1e-9);
    const auto stored = e.collect(p);
    Evaluator reopened;
    reopened.adopt(stored);
    EXPECT_EQ(test::fitOf(reopened, p, p.analyses[0], {.effort = Effort::Remembered}).one().values(),
              without.one().values());
}

TEST(Fits, AreComputedOnceAndLookedUpAfterwards) {
    Evaluator e;
    const Project p = test::sampleProject();
    EXPECT_FALSE(test::fitOf(e, p, p.analyses[0], {.effort = Effort::Remembered}).good());
    const auto first = test::fitOf(e, p, p.analyses[0]);
    ASSERT_TRUE(first.good());
    EXPECT_EQ(first.report->state, fit::FitState::Converged);
    const auto known = test::fitOf(e, p, p.analyses[0], {.effort = Effort::Remembered});
    ASSERT_TRUE(known.good());
    EXPECT_EQ(known.one().values(), first.one().values());
    EXPECT_EQ(e.collect(p).size(), 1U) << "only what was computed";
}

// A provisional fit is a picture: near the full one, without errors, and never remembered.
TEST(Fits, ProvisionalOnesAreNearAndForgotten) {
    Evaluator e;
    Project p = test::sampleProject();
    const auto full = test::fitOf(e, p, p.analyses[0]);
    const Analysis narrower = [&] {
        Analysis a = p.analyses[0];
        a.inputs[0].span = Span(2.5, INFINITY);
        return a;
    }();
    const auto quick = test::fitOf(e, p, narrower, {.effort = Effort::Provisional});
    ASSERT_TRUE(quick.good());
    EXPECT_TRUE(quick.report->provisional);
    EXPECT_TRUE(std::isnan(quick.one().parameters[0].se));
    EXPECT_EQ(quick.one().residuals.size(),
              static_cast<std::size_t>(std::ranges::count(quick.taken().used, 1)));
    EXPECT_FALSE(test::fitOf(e, p, narrower, {.effort = Effort::Remembered}).good());
    const auto after = test::fitOf(e, p, narrower);
    ASSERT_TRUE(after.good());
    EXPECT_FALSE(after.report->provisional);
    EXPECT_NEAR(quick.one().parameters[0].value, after.one().parameters[0].value, 0.05);
    EXPECT_NEAR(full.one().parameters[0].value, after.one().parameters[0].value, 0.05);
}

TEST(Fits, ThinnedProvisionalFitsShowAllResiduals) {
    std::vector<double> x, y;
    for (int i = 0; i < 30000; ++i)
        x.push_back(1e-3 * i), y.push_back(2 * x.back() + 1 + 0.1 * std::sin(77.0 * i));
    Project p =
        withTable({withRole(numberColumn("x", "", x), Role::X), withRole(numberColumn("y", "", y), Role::Y)});
    p = *edits::addDataset(overAllColumns(p.tables[0])).apply(p);
    Analysis a;
    a.inputs = {{.dataset = p.datasets[0].id}};
    a.model.kind = "equation";
    a.model.settings.set("equation", "m*x^k + c");
    p = *edits::addAnalysis(a).apply(p);
    Evaluator e;
    const auto quick = test::fitOf(e, p, p.analyses[0], {.effort = Effort::Provisional});
    ASSERT_TRUE(quick.good());
    EXPECT_EQ(quick.one().residuals.size(), x.size());
    for (std::size_t i = 0; i < x.size(); i += 999)
        EXPECT_NEAR(quick.one().fitted[i] + quick.one().residuals[i], y[i], 1e-9);
}

TEST(Fits, OneIterationGoesOneStepFromTheStartValues) {
    Evaluator e;
    Project p = test::sampleProject();
    p = *edits::changeAnalysis(p.analyses[0].id, "", [](Analysis& a) {
             a.parameters = {{.name = "centre", .start = 6.0},
                             {.name = "height", .start = 1.0},
                             {.name = "fwhm", .start = 5.0}};
         }).apply(p);
    const auto once = test::fitOf(e, p, p.analyses[0], {.effort = Effort::OneIteration});
    ASSERT_TRUE(once.good());
    EXPECT_LE(once.report->iterations, 1);
    EXPECT_NE(once.one().parameters[0].value, 6.0);
    const auto full = test::fitOf(e, p, p.analyses[0]);
    EXPECT_LT(full.report->rss, once.report->rss);
}

TEST(Fits, SeveralThreadsThatWantTheSameGetTheSame) {
    const Project p = test::sampleProject();
    Evaluator e;
    std::vector<test::Fitted> results(4);
    {
        std::vector<std::jthread> threads;
        for (auto& r : results) threads.emplace_back([&] { r = test::fitOf(e, p, p.analyses[0]); });
    }
    for (const auto& r : results) {
        ASSERT_TRUE(r.good());
        EXPECT_EQ(r.one().values(), results[0].one().values());
    }
    EXPECT_EQ(e.running(), 0);
}

TEST(Fits, SayWhyTheyCannotBeDone) {
    Evaluator e;
    const Project p = test::sampleProject();
    auto broken = [&](auto how) {
        Analysis a = p.analyses[0];
        how(a);
        const auto r = test::fitOf(e, p, a);
        EXPECT_FALSE(r.good());
        return r.good() ? std::string{} : r.error().text;
    };
    EXPECT_THAT(broken([](Analysis& a) { a.inputs.clear(); }), HasSubstr("no dataset"));
    EXPECT_THAT(broken([](Analysis& a) { a.model.kind = "unheard-of"; }), HasSubstr("unheard-of"));
    EXPECT_THAT(
        broken([](Analysis& a) { a.model.kind = "equation", a.model.settings.set("equation", "a*(x"); }),
        HasSubstr("parenthesis"));
    EXPECT_NE(broken([](Analysis& a) { a.inputs[0].span = Span(1000, INFINITY); }), "");
    EXPECT_THAT(broken([](Analysis& a) { a.parameters = {{.name = "nobody", .start = 1.0}}; }),
                HasSubstr("nobody"));
}

// Stored results are those that were computed: every number, and the warnings.
TEST(Reports, GoThroughTextUnchanged) {
    Evaluator e;
    const Project p = test::sampleProject();
    for (const auto& a : p.analyses) (void)test::fitOf(e, p, *a);
    const auto stored = e.collect(p);
    Evaluator reopened;
    reopened.adopt(stored);
    for (const auto& a : p.analyses) {
        const auto now = test::fitOf(e, p, *a),
                   then = test::fitOf(reopened, p, *a, {.effort = Effort::Remembered});
        ASSERT_TRUE(now.good() && then.good());
        const fit::FitReport &r = *now.report, &s = *then.report;
        const auto &mine = r.one().parameters, &theirs = s.one().parameters;
        for (std::size_t k = 0; k < mine.size(); ++k) {
            EXPECT_EQ(mine[k].value, theirs[k].value);
            EXPECT_EQ(mine[k].se, theirs[k].se);
            EXPECT_EQ(mine[k].low, theirs[k].low);
            EXPECT_EQ(mine[k].treatment, theirs[k].treatment);
        }
        EXPECT_EQ(r.rss, s.rss);
        EXPECT_EQ(r.reducedChi2, s.reducedChi2);
        EXPECT_EQ(r.aicc, s.aicc);
        EXPECT_EQ(r.warnings, s.warnings);
        EXPECT_EQ(r.one().fitted, s.one().fitted);
        EXPECT_EQ(r.one().root, s.one().root);
        EXPECT_EQ(correlation(r).values, correlation(s).values);
    }
    Evaluator damaged;
    auto cut = stored;
    for (auto& [key, text] : cut) text.resize(text.size() / 2);
    damaged.adopt(cut);
    EXPECT_FALSE(test::fitOf(damaged, p, p.analyses[0], {.effort = Effort::Remembered}).good());
    EXPECT_TRUE(test::fitOf(damaged, p, p.analyses[0]).good()) << "computed afresh";
}

TEST(Results, EveryNumberKnowsWhereItComesFrom) {
    Evaluator e;
    const Project p = test::sampleProject();
    const auto rows = resultRows(p, e);
    ASSERT_FALSE(rows.empty());
    const auto sources = provenance(p, e, rows[0]);
    std::string all;
    for (const Source& s : sources) all += s.sentence + " " + s.detail + "\n";
    EXPECT_THAT(all, HasSubstr("scan.csv"));
    EXPECT_THAT(all, HasSubstr("aseline"));
    EXPECT_THAT(all, HasSubstr("Gaussian"));
    const Project held = *edits::changeAnalysis(p.analyses[0].id, "", [](Analysis& a) {
                              a.settings.set("hold", Value(true));
                          }).apply(p);
    EXPECT_LT(resultRows(held, e).size(), rows.size()) << "start values are no results";
}

// What is wrong with a source is said each time it is looked up, not only the first.
TEST(Evaluator, WarningsOfASourceStayOnTheSecondLookUp) {
    Project p = test::sampleProject();
    p = *edits::changeDataset(p.datasets[0].id, "", [](Dataset& d) {
             std::erase_if(d.source.roles, [](const RoleBinding& b) { return b.role == Role::Y; });
         }).apply(p);
    evaluate::Evaluator e;
    for (int look = 0; look < 3; ++look) {
        const auto measured = e.measured(p, p.datasets[0].id);
        ASSERT_EQ(measured.issues.size(), 1U) << "look " << look;
        EXPECT_EQ(measured.issues[0].code, "no-y");
        EXPECT_EQ(e.protocol(p, p.datasets[0].id).issues.size(), 1U);
    }
}
