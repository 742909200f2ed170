// SPDX-License-Identifier: GPL-3.0-or-later
// An analysis of peaks begins with the peaks of its dataset, and with none where there are none.
#include "analyses/first_inputs.h"

#include "analyses/analysis.h"
#include "project/edit.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;

TEST(FirstInputs, EachKindTakesTheLastThatServes) {
    Project p = test::sampleProject();
    const DatasetId first = p.datasets[0].id, second = p.datasets[1].id;
    for (int k = 0; k < 2; ++k)
        p = *edits::addAnalysis({.kind = "peaks", .inputs = {{.dataset = first}}}).apply(p);
    const AnalysisId last = p.analyses[p.analyses.size() - 1].id;
    std::size_t filled = 0;
    for (const analyses::AnalysisKind& kind : analyses::catalogue()) {
        Analysis made{.kind = kind.info.key, .inputs = {{.dataset = first}}};
        Analysis elsewhere{.kind = kind.info.key, .inputs = {{.dataset = second}}};
        analyses::giveFirstInputs(made, p);
        analyses::giveFirstInputs(elsewhere, p);
        for (const analyses::InputSlot& slot : kind.slots)
            if (slot.of == "analysis" && slot.takes("peaks") && !slot.takes("fit") && slot.fewest > 0) {
                EXPECT_THAT(made.analyses, testing::ElementsAre(last)) << kind.info.key;
                EXPECT_TRUE(elsewhere.analyses.empty()) << "peaks of another dataset are not its own";
                ++filled;
            }
        Analysis told{.kind = kind.info.key, .inputs = {{.dataset = first}}};
        told.analyses = {AnalysisId{77}};
        analyses::giveFirstInputs(told, p);
        EXPECT_THAT(told.analyses, testing::ElementsAre(AnalysisId{77})) << "what is told stays";
    }
    EXPECT_GE(filled, 2U);
}

// A comparison of datasets takes the fit of its own and those of the same model of the others; of the
// selected ones where some are; nothing beside a fit that is joint already.
TEST(FirstInputs, OfOtherDatasetsThoseOfTheSameModel) {
    Project p = test::sampleProject();
    p.analyses = {};
    std::vector<DatasetId> all;
    for (const auto& d : p.datasets) all.push_back(d->id);
    Dataset third = p.datasets[0];
    third.id = {};
    p = *edits::addDataset(third).apply(p);
    all.push_back(p.datasets[p.datasets.size() - 1].id);
    std::vector<AnalysisId> lines;
    for (const DatasetId id : all)
        for (const char* model : {"line", "polynomial-2", "line"}) {
            p = *edits::addAnalysis({.kind = "fit", .inputs = {{.dataset = id}}, .model = {.kind = model}})
                     .apply(p);
            if (model == std::string("line")) lines.push_back(p.analyses[p.analyses.size() - 1].id);
        }
    const auto lastOf = [&](std::size_t dataset) { return lines[2 * dataset + 1]; };
    const auto taken = [&](const std::vector<DatasetId>& selected) {
        Analysis made{.kind = "differences", .inputs = {{.dataset = all[0]}}};
        analyses::giveFirstInputs(made, p, selected);
        return made.analyses;
    };
    EXPECT_THAT(taken({}), testing::ElementsAre(lastOf(0), lastOf(1), lastOf(2)));
    EXPECT_THAT(taken({all[0], all[2]}), testing::ElementsAre(lastOf(0), lastOf(2)));
    p = *edits::addAnalysis(
             {.kind = "fit", .inputs = {{.dataset = all[0]}, {.dataset = all[1]}}, .model = {.kind = "line"}})
             .apply(p);
    const AnalysisId joint = p.analyses[p.analyses.size() - 1].id;
    EXPECT_THAT(taken({}), testing::ElementsAre(joint));
}
