// SPDX-License-Identifier: GPL-3.0-or-later
// What holds for every rule of uncertainties and every mapping, whatever the data; results as a table.
#include "evaluate/mapping.h"
#include "evaluate/measured_curve.h"
#include "evaluate/results.h"
#include "evaluate/uncertainty.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::evaluate;

namespace {

const double kNaN = std::nan("");

std::vector<Curve> oddCurves() {
    Curve empty, single{.x = {1}, .y = {2}}, gaps{.x = {1, 2, 3}, .y = {kNaN, -2, 0}},
        constant{.x = {1, 2}, .y = {5, 5}};
    Curve replicates{.x = {1, 2}, .y = {2, 3}, .replicates = {{1, 3}, {3, kNaN}}};
    return {empty, single, gaps, constant, replicates};
}

} // namespace

TEST(UncertaintyRules, GiveOneForEachPointOrNone) {
    for (const UncertaintyRule& rule : uncertaintyRules())
        for (const Curve& c : oddCurves())
            for (const bool column : {false, true}) {
                const std::vector<double> measured(column ? c.size() : 0, 0.5);
                Curve with = c;
                Settings given;
                given.set("uncertainty", Value(rule.info.key));
                addUncertainty(with, measured, given);
                EXPECT_TRUE(with.sigma.empty() || with.sigma.size() == c.size()) << rule.info.key;
                EXPECT_TRUE(with.sigma.empty() || !with.sigmaSource.empty()) << rule.info.key;
                for (double s : with.sigma) EXPECT_FALSE(s < 0) << rule.info.key;
                EXPECT_EQ(with.y.size(), c.y.size());
            }
}

TEST(UncertaintyRules, WithoutOneTheColumnIsTaken) {
    EXPECT_EQ(ruleOf({}, true).info.key, "column");
    EXPECT_EQ(ruleOf({}, false).info.key, "none");
    Settings unknown;
    unknown.set("uncertainty", "of a newer version");
    EXPECT_EQ(ruleOf(unknown, true).info.key, "none");
    Settings none;
    none.set("uncertainty", "none");
    EXPECT_EQ(ruleOf(none, true).info.key, "none");
}

TEST(Mappings, EmptyTablesAndMissingRolesAreSaid) {
    for (const MappingKind& kind : mappingCatalogue())
        for (const std::size_t rows : {0U, 3U}) {
            Table t;
            t.columns = {numberColumn("a", "", std::vector<double>(rows, kNaN)),
                         textColumn("b", std::vector<std::string>(rows, "word"))};
            for (std::size_t c = 0; c < 2; ++c) t.columns[c].id = ColumnId{c + 1};
            Dataset d{.name = "d", .source = {.kind = kind.info.key}};
            std::vector<Issue> issues;
            const Curve curve = curveFromColumns(t, d, issues);
            EXPECT_EQ(curve.size(), 0U) << kind.info.key;
            EXPECT_FALSE(issues.empty()) << kind.info.key;
            // The guess binds only columns that are there, and no column twice.
            std::set<ColumnId> taken;
            for (const RoleBinding& b : guessedRoles(kind, t)) {
                EXPECT_TRUE(t.find(b.column)) << kind.info.key;
                EXPECT_TRUE(taken.insert(b.column).second) << kind.info.key;
            }
        }
}

TEST(Results, AsATableHoldTheNumbersOfTheRows) {
    const Project p = test::sampleProject();
    Evaluator e;
    const auto rows = resultRows(p, e);
    const Table t = resultsTable(p, rows);
    ASSERT_EQ(t.rowCount(), rows.size());
    ASSERT_GT(rows.size(), 4U);
    for (std::size_t r = 0; r < rows.size(); ++r) {
        EXPECT_EQ(t.columns[0].cells->texts[r], p.datasets.find(rows[r].dataset)->name);
        EXPECT_EQ(t.columns[2].cells->texts[r], rows[r].quantity);
        EXPECT_EQ(t.columns[3].numbers()[r], rows[r].value);
    }
    EXPECT_EQ(resultsTable({}, rows).columns[0].cells->texts[0], "") << "what is gone has no name";
}
