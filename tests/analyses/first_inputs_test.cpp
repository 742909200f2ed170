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
