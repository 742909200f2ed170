// SPDX-License-Identifier: GPL-3.0-or-later
// Random edits, undo, redo, save and reopen: remembered results equal fresh ones, and nothing is ever lost.
#include "evaluate/evaluator.h"
#include "project/history.h"
#include "project/project_file.h"
#include "project/references.h"
#include "steps/step.h"
#include "support/fitted.h"
#include "support/sample_project.h"

#include <filesystem>
#include <gtest/gtest.h>
#include <random>
#include <thread>

using namespace jointer;
using namespace jointer::evaluate;

namespace {

class RandomEdits {
public:
    explicit RandomEdits(unsigned seed) : random_(seed) {}

    Edit next(const Project& p) {
        const Dataset* d = p.datasets.empty() ? nullptr : &p.datasets[pick(p.datasets.size())];
        const Step* s = d && !d->protocol.empty() ? &d->protocol[pick(d->protocol.size())] : nullptr;
        const Analysis* a = p.analyses.empty() ? nullptr : &p.analyses[pick(p.analyses.size())];
        switch (pick(20)) {
        case 0:
            return edits::excludeRows(idOf(d), {row(), row()}, true);
        case 1:
            return edits::excludeRows(idOf(d), {row()}, false);
        case 2:
            return edits::addStep(idOf(d), "smooth", {}, "Smooth");
        case 3:
            return edits::setStep(idOf(d), s ? s->id : StepId{999}, "window",
                                  3.0 + 2.0 * static_cast<double>(pick(8)));
        case 4:
            return edits::switchStep(idOf(d), s ? s->id : StepId{999}, pick(2) == 0);
        case 5:
            return edits::moveStep(idOf(d), s ? s->id : StepId{999}, pick(2) ? 1 : -1);
        case 6:
            return pick(3) ? edits::rename("Title " + std::to_string(pick(5)))
                           : edits::removeStep(idOf(d), s ? s->id : StepId{999});
        case 7:
            return edits::addAnalysis(test::gaussianFit(idOf(d)));
        case 8:
            return pick(2) ? edits::removeAnalysis(a ? a->id : AnalysisId{999})
                           : edits::changeAnalysis(a ? a->id : AnalysisId{999}, "Change span",
                                                   [low = static_cast<double>(pick(6))](Analysis& x) {
                                                       x.inputs[0].span = Span(low, INFINITY);
                                                   });
        case 9:
            return edits::changeDataset(idOf(d), "Rename dataset",
                                        [n = pick(9)](Dataset& x) { x.name = "name " + std::to_string(n); });
        case 10:
            return test::typeValue(p.tables[0].id, p.tables[0].columns[1].id, pick(80),
                                   static_cast<double>(pick(7)));
        case 11: {
            if (pick(3)) return anyStep(p, d);
            Settings crop;
            crop.set("span",
                     Value(Numbers{static_cast<double>(pick(5)), 10.0 + static_cast<double>(pick(10))}));
            return edits::addStep(idOf(d), "crop", crop, "Crop");
        }
        case 12:
            return edits::setElement(p.figures.empty() ? FigureId{999} : p.figures[0].id, {}, "width",
                                     80.0 + static_cast<double>(pick(10)));
        case 13:
            return edits::setRowKind(p.tables[0].id, {row(), row()}, static_cast<RowKind>(pick(5)));
        case 14:
            return pick(2) ? edits::insertRows(p.tables[0].id, pick(80), 1 + pick(3))
                           : edits::deleteRows(p.tables[0].id, {pick(80), pick(80)});
        case 15:
            return edits::sortRows(p.tables[0].id, p.tables[0].columns[pick(2)].id, pick(2) == 0);
        case 16: {
            if (p.datasets.size() > 6) return edits::removeDataset(idOf(d));
            Dataset made;
            made.name = "made";
            made.source.kind = pick(3) ? "join" : "function";
            if (d) made.source.inputs = {idOf(d), p.datasets[pick(p.datasets.size())].id};
            return edits::addDataset(made);
        }
        case 17: { // formulas that need each other, or cannot be read
            const auto& columns = p.tables[0].columns;
            const Column& c = columns[pick(columns.size())];
            const Column& other = columns[pick(columns.size())];
            if (c.formula.empty()) return edits::addComputedColumn(p.tables[0].id, "c", "row^2");
            const std::string needs = "'" + other.id.text() + "'";
            return edits::setFormula(p.tables[0].id, c.id,
                                     pick(4) ? needs + "*" + std::to_string(pick(9)) : "1 +");
        }
        case 18: {
            if (!d) return edits::rename("none");
            return edits::changeDataset(d->id, "Other inputs",
                                        [other = p.datasets[pick(p.datasets.size())].id,
                                         column = p.tables[0].columns.back().id](Dataset& x) {
                                            if (!x.source.inputs.empty()) x.source.inputs[0] = other;
                                            if (x.source.roles.size() > 1) x.source.roles[1].column = column;
                                        });
        }
        default:
            return pick(10)
                       ? edits::addComputedColumn(p.tables[0].id, "c" + std::to_string(pick(100)), "row^2")
                       : edits::removeDataset(idOf(d));
        }
    }
    std::size_t pick(std::size_t n) { return std::uniform_int_distribution<std::size_t>(0, n - 1)(random_); }

private:
    // A step of any kind with a choice of each sort, which may name any dataset: also one that needs it.
    Edit anyStep(const Project& p, const Dataset* d) {
        const auto& kinds = steps::catalogue();
        const steps::StepKind& kind = kinds[pick(kinds.size())];
        Settings settings;
        for (const Setting& s : kind.info.settings) {
            if (s.kind == SettingKind::Choice)
                settings.set(s.key, Value(s.choices[pick(s.choices.size())].key));
            if (s.of == "dataset" && d) {
                const Reference to{p.datasets[pick(p.datasets.size())].id.text()};
                settings.set(s.key, s.kind == SettingKind::References ? Value(References{to}) : Value(to));
            }
            if (s.of == "column") settings.set(s.key, Value(Reference{p.tables[0].columns.back().id.text()}));
        }
        return edits::addStep(idOf(d), kind.info.key, settings, "Add step");
    }
    static DatasetId idOf(const Dataset* d) { return d ? d->id : DatasetId{999}; }
    std::uint32_t row() { return static_cast<std::uint32_t>(pick(80) + 1); }
    std::mt19937 random_;
};

// Every reference leads to a part that is there; formulas may name what they cannot use.
void expectNoLooseReferences(const Project& p) {
    std::set<std::string> there;
    for (const auto& t : p.tables) {
        there.insert(t->id.text());
        for (const Column& c : t->columns) there.insert(c.id.text());
    }
    for (const auto& d : p.datasets) {
        there.insert(d->id.text());
        for (const Step& s : d->protocol) there.insert(s.id.text());
    }
    for (const auto& a : p.analyses) there.insert(a->id.text());
    for (const auto& s : p.styles) there.insert(s->id.text());
    eachReference(p, [&](const Link& link) {
        const bool found = link.from.starts_with("c") || there.contains(link.to);
        EXPECT_TRUE(found) << link.from << " names " << link.to;
    });
}

void expectSameResults(Evaluator& remembered, const Project& p) {
    Evaluator fresh;
    for (const auto& t : p.tables) ASSERT_EQ(remembered.table(p, t->id).issues, fresh.table(p, t->id).issues);
    for (const auto& d : p.datasets) {
        const auto a = remembered.protocol(p, d->id), b = fresh.protocol(p, d->id);
        ASSERT_EQ(a.issues, b.issues);
        ASSERT_EQ(a.stages.size(), b.stages.size());
        for (std::size_t i = 0; i < a.stages.size(); ++i) {
            ASSERT_EQ(digestOf(a.stages[i].curve()), digestOf(b.stages[i].curve()));
            ASSERT_EQ(a.stages[i].issues, b.stages[i].issues);
        }
    }
    for (const auto& analysis : p.analyses) {
        const auto a = test::fitOf(remembered, p, *analysis), b = test::fitOf(fresh, p, *analysis);
        ASSERT_EQ(a.good(), b.good());
        if (!a.good()) continue;
        ASSERT_EQ(a.one().values(), b.one().values());
        ASSERT_EQ(a.report->rss, b.report->rss);
        ASSERT_EQ(a.report->warnings, b.report->warnings);
    }
}

} // namespace

// JOINTER_EDITS=60 goes so many ways.
TEST(RandomEdits, RememberedEqualsFreshAndNothingIsLost) {
    const char* more = std::getenv("JOINTER_EDITS");
    const unsigned last = more ? static_cast<unsigned>(std::atoi(more)) : 6;
    for (unsigned seed = 1; seed <= last; ++seed) {
        RandomEdits edits(seed);
        History history(test::sampleProject());
        Evaluator remembered;
        std::vector<Project> seen = {history.current()};
        for (int i = 0; i < 60; ++i) {
            const std::size_t count = history.undoCount();
            const auto done = history.apply(edits.next(history.current()));
            if (done && history.undoCount() > count)
                seen.push_back(history.current());
            else if (done)
                seen.back() = history.current();
            expectNoLooseReferences(history.current());
            if (i % 6 == 0) expectSameResults(remembered, history.current());
            if (i % 15 == 7) {
                const auto bytes =
                    projectBytes(history.current(), {remembered.collect(history.current()), {}});
                ASSERT_TRUE(bytes);
                const auto again =
                    projectBytes(history.current(), {remembered.collect(history.current()), {}});
                ASSERT_EQ(*bytes, *again) << "saving twice gives different bytes";
                const auto opened = projectFromBytes(*bytes, "test");
                ASSERT_TRUE(opened);
                ASSERT_TRUE(opened->issues.empty()) << opened->issues[0].text;
                ASSERT_TRUE(opened->project == history.current()) << "seed " << seed << " edit " << i;
                Evaluator adopted;
                adopted.adopt(opened->beside.results);
                expectSameResults(adopted, opened->project);
            }
        }
        for (std::size_t i = seen.size(); i-- > 1;) {
            ASSERT_TRUE(history.current() == seen[i]) << i;
            ASSERT_TRUE(history.undo());
        }
        ASSERT_TRUE(history.current() == seen[0]);
        for (std::size_t i = 1; i < seen.size(); ++i) {
            ASSERT_TRUE(history.redo());
            ASSERT_TRUE(history.current() == seen[i]) << i;
        }
        EXPECT_FALSE(history.redo());
    }
}

TEST(Evaluator, RenamingRefitsNothing) {
    const Project p = test::sampleProject();
    Evaluator e;
    const auto before = test::fitOf(e, p, p.analyses[0]);
    ASSERT_TRUE(before.good()) << before.error().text;
    const Project renamed =
        *edits::changeDataset(p.datasets[0].id, "", [](Dataset& d) { d.name = "other"; }).apply(p);
    EXPECT_EQ(test::fitOf(e, renamed, renamed.analyses[0]).key, before.key);
    const Project moved = *edits::excludeRows(p.datasets[0].id, {40}, true).apply(p);
    EXPECT_NE(test::fitOf(e, moved, moved.analyses[0]).key, before.key);
}

TEST(Evaluator, FitsTakeThePointsBeforeSmoothing) {
    Project p = test::sampleProject();
    Evaluator e;
    const auto plain = test::fitOf(e, p, p.analyses[0]);
    p = *edits::addStep(p.datasets[0].id, "smooth", {}, "").apply(p);
    EXPECT_EQ(test::fitOf(e, p, p.analyses[0]).key, plain.key);
    Settings crop;
    crop.set("span", Value(Numbers{3, 17}));
    p = *edits::addStep(p.datasets[0].id, "crop", crop, "").apply(p);
    EXPECT_EQ(test::fitOf(e, p, p.analyses[0]).taken().curve->x.front(), 3)
        << "steps after the smoothing still count";
    p = *edits::changeAnalysis(p.analyses[0].id, "", [](Analysis& a) {
             a.inputs[0].point = {CurvePoint::Place::End};
         }).apply(p);
    const auto smoothed = test::fitOf(e, p, p.analyses[0]);
    EXPECT_TRUE(std::ranges::any_of(smoothed.outcome.issues,
                                    [](const Issue& i) { return i.code == "smoothed-points"; }));
}

TEST(Evaluator, ComputedColumnsFollowAndCirclesAreNamed) {
    Project p = test::sampleProject();
    Evaluator e;
    const Table t = e.table(p, p.tables[0].id).value;
    EXPECT_EQ(t.columns[4].numbers()[3], 2 * t.columns[1].numbers()[3]);
    p = *test::typeValue(p.tables[0].id, p.tables[0].columns[1].id, 3, 21).apply(p);
    EXPECT_EQ(e.table(p, p.tables[0].id).value.columns[4].numbers()[3], 42);
    EXPECT_EQ(formulaShown(t.columns[4].formula, t), "2*counts");
    EXPECT_EQ(formulaStored("2*counts + sin(row)", t), "2*'" + t.columns[1].id.text() + "' + sin(row)");

    p = *edits::addComputedColumn(p.tables[0].id, "u", "1").apply(p);
    const ColumnId u = p.tables[0].columns.back().id, v = p.tables[0].columns[4].id;
    p = *edits::setFormula(p.tables[0].id, u, "'" + v.text() + "'+1").apply(p);
    p = *edits::setFormula(p.tables[0].id, v, "'" + u.text() + "'+1").apply(p);
    const auto circular = e.table(p, p.tables[0].id);
    ASSERT_FALSE(circular.issues.empty());
    EXPECT_NE(circular.issues[0].text.find("double → u → double"), std::string::npos)
        << circular.issues[0].text;
}

TEST(Evaluator, UncertaintiesByEveryRule) {
    Project p = test::sampleProject();
    Evaluator e;
    auto sigmaWith = [&](const char* rule, double amount, std::size_t point) {
        const Project q = *edits::changeDataset(p.datasets[0].id, "", [&](Dataset& d) {
                               d.source.settings.set("uncertainty", rule);
                               d.source.settings.set("amount", Value(amount));
                               if (std::string(rule).starts_with("s"))
                                   d.source.roles.push_back({Role::Y, p.tables[0].columns[2].id});
                           }).apply(p);
        const auto c = e.measured(q, q.datasets[0].id).value;
        return c->sigma.empty() ? -1 : c->sigma[point];
    };
    const double y = p.tables[0].columns[1].numbers()[20], other = 0.05;
    EXPECT_EQ(sigmaWith("none", 0, 20), -1);
    EXPECT_EQ(sigmaWith("column", 0, 20), 0.05);
    EXPECT_EQ(sigmaWith("fraction", 0.1, 20), 0.1 * std::abs(y));
    EXPECT_EQ(sigmaWith("counting", 0, 32), std::sqrt(std::max(1.0, p.tables[0].columns[1].numbers()[32])));
    EXPECT_EQ(sigmaWith("constant", 0.3, 20), 0.3);
    EXPECT_NEAR(sigmaWith("sd", 0, 20), std::abs(y - other) / std::sqrt(2.0), 1e-14);
    EXPECT_NEAR(sigmaWith("sem", 0, 20), std::abs(y - other) / 2, 1e-14);
}

// A fit that would take long is stopped: it keeps the values reached, and is not begun again by itself.
TEST(Evaluator, RunningFitsCanBeStopped) {
    Project p;
    std::vector<double> x, y;
    for (int i = 0; i < 60000; ++i) x.push_back(3e-4 * i), y.push_back(std::sin(0.37 * i));
    Table t;
    t.columns = {numberColumn("x", "", x), numberColumn("y", "", y)};
    p = *edits::addTable(t).apply(p);
    Dataset d;
    d.source.table = p.tables[0].id;
    d.source.roles = {{Role::X, p.tables[0].columns[0].id}, {Role::Y, p.tables[0].columns[1].id}};
    p = *edits::addDataset(d).apply(p);
    Analysis a{.inputs = {{.dataset = p.datasets[0].id}}, .model = {.kind = "equation"}};
    a.model.settings.set("equation", "a*exp(-b*x)*sin(c*x + d) + f*cos(g*x)*exp(h*x)");
    p = *edits::addAnalysis(a).apply(p);

    Evaluator e;
    std::jthread stopper([&] {
        while (e.running() == 0) std::this_thread::yield();
        e.stopRunning();
    });
    const auto stopped = test::fitOf(e, p, p.analyses[0]);
    ASSERT_TRUE(stopped.good());
    EXPECT_EQ(stopped.report->state, fit::FitState::Stopped);
    EXPECT_EQ(test::fitOf(e, p, p.analyses[0]).report->state, fit::FitState::Stopped);
    EXPECT_EQ(e.running(), 0);
}

TEST(Evaluator, ManyThreadsAskingForOneFitGetTheSame) {
    const Project p = test::sampleProject();
    Evaluator e;
    std::vector<std::jthread> threads;
    std::vector<double> rss(8);
    for (std::size_t i = 0; i < rss.size(); ++i)
        threads.emplace_back([&, i] { rss[i] = test::fitOf(e, p, p.analyses[0]).report->rss; });
    threads.clear();
    for (double r : rss) EXPECT_EQ(r, rss[0]);
}
