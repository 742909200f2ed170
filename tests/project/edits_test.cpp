// SPDX-License-Identifier: GPL-3.0-or-later
// Every edit, one row each: it does what its name says, undo gives back an equal project, redo the changed
// one.
#include "project/history.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;

namespace {

struct Case {
    const char* what;
    std::function<Edit(const Project&)> edit;
    std::function<bool(const Project& before, const Project& after)> holds;
};

std::vector<Case> cases() {
    using P = const Project&;
    const auto d = [](P p) { return p.datasets[0].id; };
    const auto step = [](P p) { return p.datasets[0].protocol[0].id; };
    const auto f = [](P p) { return p.figures[0].id; };
    return {
        {"add table", [](P) { return edits::addTable(test::sampleTable("more", 3)); },
         [](P a, P b) { return b.tables.size() == a.tables.size() + 1 && b.tables[b.tables.size() - 1].id; }},
        {"rename table",
         [](P p) { return edits::changeTable(p.tables[1].id, "", [](Table& t) { t.name = "pond"; }); },
         [](P a, P b) { return b.tables[1].name == "pond" && b.tables[0] == a.tables[0]; }},
        {"change column",
         [](P p) {
             return edits::changeColumn(p.tables[0].id, p.tables[0].columns[0].id, "",
                                        [](Column& c) { c.role = Role::Class; });
         },
         [](P a, P b) {
             return b.tables[0].columns[0].role == Role::Class && a.tables[0].columns[0].role != Role::Class;
         }},
        {"change cell",
         [](P p) { return test::typeValue(p.tables[0].id, p.tables[0].columns[1].id, 3, 42.5); },
         [](P a, P b) {
             return b.tables[0].columns[1].numbers()[3] == 42.5 &&
                    a.tables[0].columns[1].numbers()[3] != 42.5;
         }},
        {"computed column", [](P p) { return edits::addComputedColumn(p.tables[1].id, "twice", "2*row"); },
         [](P a, P b) { return b.tables[1].columns.size() == a.tables[1].columns.size() + 1; }},
        {"set formula",
         [](P p) { return edits::setFormula(p.tables[0].id, p.tables[0].columns[4].id, "row"); },
         [](P, P b) { return b.tables[0].columns[4].formula == "row"; }},
        {"mark rows",
         [](P p) {
             return edits::setRowKind(p.tables[0].id, {2, 3}, RowKind::Standard);
         },
         [](P a, P b) {
             return b.tables[0].rowKind(1) == RowKind::Standard && a.tables[0].rowKinds.empty();
         }},
        {"add empty column", [](P p) { return edits::addColumn(p.tables[0].id, "mine"); },
         [](P, P b) { return b.tables[0].columns.back().byHand && b.tables[0].columns.back().id; }},
        {"sort rows", [](P p) { return edits::sortRows(p.tables[0].id, p.tables[0].columns[1].id, false); },
         [](P a, P b) { return !(*b.tables[0].rows == *a.tables[0].rows); }},
        {"insert rows", [](P p) { return edits::insertRows(p.tables[0].id, 2, 3); },
         [](P, P b) { return b.tables[0].rowCount() == 83 && b.tables[0].rows->id(2) == 81; }},
        {"delete rows",
         [](P p) {
             return edits::deleteRows(p.tables[0].id, {0, 5});
         },
         [](P, P b) { return b.tables[0].rowCount() == 78 && b.tables[0].rows->id(0) == 2; }},
        {"remove table", [](P p) { return edits::removeTable(p.tables[0].id); },
         [](P a, P b) { return b.tables.size() == a.tables.size() - 1; }},
        {"add dataset", [](P p) { return edits::addDataset(test::datasetOf(p.tables[0], "again")); },
         [](P, P b) { return b.datasets.size() == 3 && b.datasets[2].name == "again"; }},
        {"change dataset",
         [=](P p) { return edits::changeDataset(d(p), "", [](Dataset& x) { x.colour = "#000000"; }); },
         [](P, P b) { return b.datasets[0].colour == "#000000"; }},
        {"remove dataset", [=](P p) { return edits::removeDataset(d(p)); },
         [](P, P b) { return b.datasets.size() == 1 && b.analyses.size() == 1; }},
        {"add step", [=](P p) { return edits::addStep(d(p), "smooth", {}, "Add step"); },
         [](P, P b) {
             return b.datasets[0].protocol.size() == 2 && b.datasets[0].protocol[1].kind == "smooth";
         }},
        {"set step",
         [=](P p) { return edits::setStep(d(p), step(p), "curve", Value(std::string("spline"))); },
         [](P, P b) { return b.datasets[0].protocol[0].settings.text("curve") == "spline"; }},
        {"switch step", [=](P p) { return edits::switchStep(d(p), step(p), false); },
         [](P, P b) { return !b.datasets[0].protocol[0].on; }},
        {"remove step", [=](P p) { return edits::removeStep(d(p), step(p)); },
         [](P, P b) { return b.datasets[0].protocol.empty(); }},
        {"exclude rows",
         [=](P p) {
             return edits::excludeRows(d(p), {5, 3}, true);
         },
         [](P, P b) {
             return b.datasets[0].protocol[0].kind == "exclude" &&
                    b.datasets[0].protocol[0].settings.numbers("rows") == Numbers{3, 5};
         }},
        {"add analysis", [=](P p) { return edits::addAnalysis(test::gaussianFit(d(p))); },
         [](P, P b) { return b.analyses.size() == 3 && b.analyses[2].id; }},
        {"change analysis",
         [](P p) {
             return edits::changeAnalysis(p.analyses[0].id, "",
                                          [](Analysis& a) { a.inputs[0].span = Span(4, 9); });
         },
         [](P, P b) { return b.analyses[0].inputs[0].span.low() == 4; }},
        {"remove analysis", [](P p) { return edits::removeAnalysis(p.analyses[0].id); },
         [](P, P b) { return b.analyses.size() == 1; }},
        {"add figure", [](P) { return edits::addFigure({.name = "two"}); },
         [](P, P b) { return b.figures.size() == 2; }},
        {"change figure", [=](P p) { return edits::changeFigure(f(p), "", [](Figure& x) { x.name = "N"; }); },
         [](P, P b) { return b.figures[0].name == "N"; }},
        {"set element",
         [=](P p) {
             return edits::setElement(f(p), p.figures[0].elements[0].children[0].id, "name",
                                      Value(std::string("n")));
         },
         [](P, P b) { return b.figures[0].elements[0].children[0].settings.text("name") == "n"; }},
        {"set figure", [=](P p) { return edits::setElement(f(p), {}, "width", Value(120.0)); },
         [](P, P b) { return b.figures[0].settings.number("width") == 120; }},
        {"add element",
         [=](P p) { return edits::addElement(f(p), p.figures[0].elements[0].id, {.kind = "note"}); },
         [](P, P b) {
             return b.figures[0].elements[0].children.size() == 4 && b.figures[0].elements[0].children[3].id;
         }},
        {"remove element",
         [=](P p) { return edits::removeElement(f(p), p.figures[0].elements[0].children[1].id); },
         [](P, P b) { return b.figures[0].elements[0].children.size() == 2; }},
        {"remove figure", [=](P p) { return edits::removeFigure(f(p)); },
         [](P, P b) { return b.figures.empty(); }},
        {"rename", [](P) { return edits::rename("Pond"); }, [](P, P b) { return b.title == "Pond"; }},
        {"together",
         [=](P p) {
             return edits::together("Both", {edits::rename("T"), edits::switchStep(d(p), step(p), false)});
         },
         [](P, P b) { return b.title == "T" && !b.datasets[0].protocol[0].on; }},
    };
}

} // namespace

TEST(Edits, DoWhatTheySayAndCanBeTakenBack) {
    for (const Case& c : cases()) {
        const Project before = test::sampleProject();
        History h(before);
        ASSERT_TRUE(h.apply(c.edit(before))) << c.what;
        const Project after = h.current();
        EXPECT_TRUE(c.holds(before, after)) << c.what;
        EXPECT_FALSE(after == before) << c.what;
        EXPECT_EQ(h.undoCount(), 1U) << c.what;
        ASSERT_TRUE(h.undo()) << c.what;
        EXPECT_TRUE(h.current() == before) << c.what;
        ASSERT_TRUE(h.redo()) << c.what;
        EXPECT_TRUE(h.current() == after) << c.what;
    }
}

TEST(History, MergesADragIntoOneEntry) {
    const Project start = test::sampleProject();
    History h(start);
    const DatasetId d = start.datasets[0].id;
    const StepId s = start.datasets[0].protocol[0].id;
    for (double y : {1.0, 2.0, 3.0})
        ASSERT_TRUE(h.apply(edits::setStep(d, s, "anchors", Value(Numbers{0, y}))));
    EXPECT_EQ(h.undoCount(), 1U);
    h.endMerging();
    ASSERT_TRUE(h.apply(edits::setStep(d, s, "anchors", Value(Numbers{0, 9}))));
    EXPECT_EQ(h.undoCount(), 2U);
    h.undo();
    EXPECT_EQ(h.current().datasets[0].protocol[0].settings.numbers("anchors"), (Numbers{0, 3}));
    h.undo();
    EXPECT_TRUE(h.current() == start);
}

TEST(History, AnEditThatChangesNothingOrFailsLeavesNoEntry) {
    const Project start = test::sampleProject();
    History h(start);
    ASSERT_TRUE(h.apply(edits::rename(start.title)));
    EXPECT_EQ(h.undoCount(), 0U);
    EXPECT_FALSE(h.apply(edits::removeFigure(FigureId{999})));
    EXPECT_EQ(h.undoCount(), 0U);
    EXPECT_TRUE(h.current() == start);
}

TEST(History, ANewEditEndsRedo) {
    History h(test::sampleProject());
    ASSERT_TRUE(h.apply(edits::rename("one")));
    h.undo();
    EXPECT_EQ(h.redoName(), edits::rename("one").name);
    ASSERT_TRUE(h.apply(edits::rename("two")));
    EXPECT_EQ(h.redoName(), "");
    EXPECT_FALSE(h.redo());
    EXPECT_EQ(h.current().title, "two");
}

// Old entries go when they hold much; the newest can always be undone.
TEST(History, ForgetsTheOldestWhenItGrowsLarge) {
    Project p;
    Table t;
    t.columns = {numberColumn("x", "", std::vector<double>(10000, 1.0))};
    p = *edits::addTable(t).apply(p);
    History h(p, 5 * 80000);
    for (int i = 0; i < 20; ++i) {
        ASSERT_TRUE(h.apply(test::typeValue(p.tables[0].id, p.tables[0].columns[0].id, 0, i + 2.0)));
        h.endMerging();
    }
    EXPECT_LT(h.undoCount(), 10U);
    EXPECT_GE(h.undoCount(), 1U);
    EXPECT_TRUE(h.undo());
    EXPECT_EQ(h.current().tables[0].columns[0].numbers()[0], 20);
}

// What is kept follows from the cells that are held, however one came there by undo and redo.
TEST(History, CountsBytesThroughUndoAndRedo) {
    Project p;
    Table t;
    t.columns = {numberColumn("x", "", std::vector<double>(10000, 1.0)),
                 numberColumn("y", "", std::vector<double>(10000, 1.0))};
    p = *edits::addTable(t).apply(p);
    const auto type = [&](std::size_t column, double value) {
        return test::typeValue(p.tables[0].id, p.tables[0].columns[column].id, 0, value);
    };
    History h(p, 6 * 80000 + 1000);
    for (int i = 0; i < 6; ++i) ASSERT_TRUE(h.apply(type(i % 2, i + 2.0)));
    ASSERT_TRUE(h.apply(edits::rename("Edits without cells cost nothing")));
    const std::size_t kept = h.undoCount();
    EXPECT_EQ(kept, 7U);
    for (int round = 0; round < 5; ++round) {
        while (h.undo()) {}
        while (h.redo()) {}
        EXPECT_EQ(h.undoCount(), kept);
    }
    ASSERT_TRUE(h.apply(type(0, 99)));
    EXPECT_EQ(h.undoCount(), 7U) << "the oldest went for the newest";
    EXPECT_EQ(h.current().tables[0].columns[0].numbers()[0], 99);
}

TEST(Edits, ColumnsOfOneTableBecomeReplicates) {
    Project p = test::sampleProject();
    const Dataset first = p.datasets[0];
    Dataset second = first;
    second.id = {};
    second.name = "second";
    p = *edits::addDataset(second).apply(p);
    const DatasetId other = p.datasets[p.datasets.size() - 1].id;
    const auto joined = edits::joinReplicates({first.id, other}).apply(p);
    ASSERT_TRUE(joined) << joined.error().text;
    EXPECT_FALSE(joined->datasets.find(other));
    const auto countY = [](const Dataset& d) {
        return std::ranges::count(d.source.roles, Role::Y, &RoleBinding::role);
    };
    EXPECT_EQ(countY(*joined->datasets.find(first.id)), 2 * countY(first));
    EXPECT_FALSE(edits::joinReplicates({first.id}).apply(p)) << "one alone";
    const auto elsewhere = edits::changeDataset(other, "", [](Dataset& d) { d.source.table = {}; }).apply(p);
    EXPECT_FALSE(edits::joinReplicates({first.id, other}).apply(*elsewhere)) << "another table";
}
