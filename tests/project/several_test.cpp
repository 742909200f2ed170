// SPDX-License-Identifier: GPL-3.0-or-later
// What corresponds to a step or a fit in another dataset, and edits of several at once.
#include "project/several.h"

#include "project/history.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>
#include <random>

using namespace jointer;

namespace {

// Datasets with random protocols of a few kinds.
Project randomProject(unsigned seed) {
    std::mt19937 random(seed);
    Project p;
    p = *edits::addTable(test::sampleTable("t", 8)).apply(p);
    for (int k = 0; k < 4; ++k) {
        p = *edits::addDataset(test::datasetOf(p.tables[0], "d" + std::to_string(k))).apply(p);
        const DatasetId d = p.datasets[p.datasets.size() - 1].id;
        for (unsigned s = random() % 5; s > 0; --s)
            p = *edits::addStep(d, std::array{"smooth", "crop", "baseline"}[random() % 3], {}, "").apply(p);
    }
    return p;
}

// The place of a step among those of its kind; −1: it is not there.
std::ptrdiff_t placeOf(const Dataset& d, StepId id) {
    const auto at = std::ranges::find(d.protocol, id, &Step::id);
    if (at == d.protocol.end()) return -1;
    return std::count_if(d.protocol.begin(), at, [&](const Step& s) { return s.kind == at->kind; });
}

} // namespace

TEST(Several, CounterpartsAreOfOneKindAndPlace) {
    for (unsigned seed = 1; seed <= 200; ++seed) {
        const Project p = randomProject(seed);
        for (const auto& of : p.datasets)
            for (const auto& in : p.datasets)
                for (const Step& step : of->protocol) {
                    const StepId theirs = counterpart(*of, step.id, *in);
                    const auto alike = std::ranges::count(in->protocol, step.kind, &Step::kind);
                    const auto place = placeOf(*of, step.id);
                    ASSERT_EQ(static_cast<bool>(theirs), place < alike) << "seed " << seed;
                    if (!theirs) continue;
                    EXPECT_EQ(placeOf(*in, theirs), place) << "seed " << seed;
                    EXPECT_EQ(std::ranges::find(in->protocol, theirs, &Step::id)->kind, step.kind);
                    EXPECT_EQ(counterpart(*in, theirs, *of), step.id) << "and the way back";
                }
    }
    const Project p = randomProject(3);
    EXPECT_FALSE(counterpart(p.datasets[0], StepId{9999}, p.datasets[1]));
}

TEST(Several, CounterpartsOfFitsHaveTheirModel) {
    Project p = test::sampleProject();
    const AnalysisId first = p.analyses[0].id, second = p.analyses[1].id;
    EXPECT_EQ(counterpart(p, first, p.datasets[1].id), second);
    EXPECT_EQ(counterpart(p, second, p.datasets[0].id), first);
    p = *edits::changeAnalysis(second, "", [](Analysis& a) { a.model.kind = "line"; }).apply(p);
    EXPECT_FALSE(counterpart(p, first, p.datasets[1].id)) << "another model";
    EXPECT_FALSE(counterpart(p, AnalysisId{9999}, p.datasets[1].id));
}

TEST(Several, OneEntryForAllAndOnlyTheFirstMustWork) {
    const Project start = randomProject(1);
    const DatasetId a = start.datasets[0].id, b = start.datasets[1].id;
    auto rename = [](DatasetId id) {
        return edits::changeDataset(
            id, "Rename", [](Dataset& d) { d.name += "!"; }, "rename");
    };
    History h(start);
    ASSERT_TRUE(h.apply(edits::onEach({rename(a), rename(DatasetId{9999}), rename(b)})));
    EXPECT_EQ(h.undoName(), "Rename, 3 datasets");
    EXPECT_EQ(h.current().datasets[0].name, "d0!");
    EXPECT_EQ(h.current().datasets[1].name, "d1!");
    ASSERT_TRUE(h.apply(edits::onEach({rename(a), rename(DatasetId{9999}), rename(b)})));
    EXPECT_EQ(h.undoCount(), 1U) << "a drag over several is one entry";
    h.undo();
    EXPECT_EQ(h.current(), start);
    EXPECT_FALSE(h.apply(edits::onEach({rename(DatasetId{9999}), rename(a)})));
    EXPECT_EQ(h.current(), start);
    EXPECT_EQ(edits::onEach({rename(a)}).name, "Rename") << "of one it is that edit";
}
