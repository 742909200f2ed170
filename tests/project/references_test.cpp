// SPDX-License-Identifier: GPL-3.0-or-later
// The references between parts: found, renamed there and back, and followed when something is removed.
#include "project/references.h"

#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;
using testing::Contains;
using testing::Not;
using testing::UnorderedElementsAre;

namespace {

std::vector<Link> linksOf(const Project& p) {
    std::vector<Link> all;
    eachReference(p, [&](const Link& link) { all.push_back(link); });
    return all;
}

std::vector<std::string> namedBy(const Project& p, const std::string& from) {
    std::vector<std::string> names;
    for (const Link& link : linksOf(p))
        if (link.from == from) names.push_back(link.to);
    return names;
}

// Everything that can hold a reference: formulas, settings, models within models, points after a step.
Project linked() {
    Project p = test::sampleProject();
    const DatasetId first = p.datasets[0].id;
    Dataset joined;
    joined.name = "joined";
    joined.source.kind = "join";
    joined.source.inputs = {first, p.datasets[1].id};
    joined.source.settings.set("by", Reference{p.tables[0].columns[0].id.text()});
    p = *edits::addDataset(joined).apply(p);
    p = *edits::addStep(first, "subtract", {}, "").apply(p);
    const StepId step = p.datasets[0].protocol.back().id;
    p = *edits::changeDataset(first, "", [&](Dataset& d) {
             d.protocol.back().settings.set("with", References{{p.datasets[1].id.text()}, {"d77"}});
         }).apply(p);
    p = *edits::changeAnalysis(p.analyses[0].id, "", [&](Analysis& a) {
             a.inputs[0].point = {CurvePoint::Place::AfterStep, step};
             ModelNode child{.kind = "constant"};
             child.settings.set("of", Reference{p.datasets[1].id.text()});
             a.model.children = {child};
         }).apply(p);
    p.styles = p.styles.with(HouseStyle{.id = p.newId<StyleId>(), .name = "Journal"});
    return *edits::changeFigure(
                p.figures[0].id, "", [&](Figure& f) { f.style = p.styles[0].id; }, "")
                .apply(p);
}

} // namespace

TEST(References, AreFoundWhereverTheyStand) {
    const Project p = linked();
    const std::string first = p.datasets[0].id.text(), second = p.datasets[1].id.text();
    const auto table = p.tables[0];
    EXPECT_THAT(namedBy(p, table.columns[4].id.text()), Contains(table.columns[1].id.text())) << "formula";
    EXPECT_THAT(namedBy(p, first), Contains(table.id.text()));
    EXPECT_THAT(namedBy(p, p.datasets[2].id.text()),
                UnorderedElementsAre(first, second, table.columns[0].id.text()));
    const Step& step = p.datasets[0].protocol.back();
    EXPECT_THAT(namedBy(p, step.id.text()), UnorderedElementsAre(second, "d77"));
    EXPECT_THAT(namedBy(p, p.analyses[0].id.text()), UnorderedElementsAre(first, step.id.text(), second));
    EXPECT_THAT(namedBy(p, p.figures[0].id.text()), Contains(p.styles[0].id.text()));
}

TEST(References, AreRenamedThereAndBack) {
    const Project p = linked();
    const Project other = withReferences(p, [](const Link& link) { return link.to + "000"; });
    EXPECT_FALSE(other == p);
    const auto before = linksOf(p), after = linksOf(other);
    ASSERT_EQ(before.size(), after.size());
    ASSERT_GT(before.size(), 20U);
    for (std::size_t i = 0; i < before.size(); ++i) EXPECT_EQ(after[i].to, before[i].to + "000");
    EXPECT_TRUE(
        withReferences(other, [](const Link& link) { return link.to.substr(0, link.to.size() - 3); }) == p);
    EXPECT_TRUE(withReferences(p, [](const Link& link) { return link.to; }) == p);
}

TEST(References, WhatNeedsARemovedPartGoesAndTheRestForgetsIt) {
    const Project p = linked();
    const std::string second = p.datasets[1].id.text();
    const Project left = without(p, {second});
    EXPECT_EQ(left.datasets.size(), 2U);
    for (const Link& link : linksOf(left)) EXPECT_NE(link.to, second) << link.from;
    EXPECT_EQ(left.datasets.find(p.datasets[2].id)->source.inputs.size(), 1U);
    EXPECT_EQ(left.analyses.find(p.analyses[0].id)->inputs[0].point.place, CurvePoint::Place::AfterStep);

    const Project noStep = *edits::removeStep(p.datasets[0].id, p.datasets[0].protocol.back().id).apply(p);
    EXPECT_EQ(noStep.analyses[0].inputs[0].point.place, CurvePoint::Place::End);

    const Project noTable = *edits::removeTable(p.tables[0].id).apply(p);
    EXPECT_FALSE(noTable.datasets.find(p.datasets[0].id));
    EXPECT_FALSE(noTable.analyses.find(p.analyses[0].id));
    std::set<std::string> sources;
    for (const Link& link : linksOf(noTable)) sources.insert(link.to);
    EXPECT_THAT(sources, Not(Contains(p.analyses[0].id.text()))) << "its curve left the figures";
}

// Of many figures that all lose a mark; under the address sanitizer.
TEST(References, ManyPartsChangeAtOnce) {
    Project p = linked();
    for (std::uint64_t k = 0; k < 40; ++k) {
        Figure f = p.figures[0];
        f.id = FigureId{8000 + k};
        p.figures = p.figures.with(f);
    }
    const Project left = *edits::removeDataset(p.datasets[0].id).apply(p);
    for (const auto& f : left.figures) EXPECT_EQ(f->elements[0].children.size(), 1U);
}

TEST(References, PartsThatDoNotChangeStayShared) {
    const Project p = linked();
    const Project left = without(p, {p.figures[0].id.text()});
    EXPECT_EQ(left.tables.find(p.tables[0].id), p.tables.find(p.tables[0].id));
    EXPECT_EQ(left.datasets.find(p.datasets[0].id), p.datasets.find(p.datasets[0].id));
}
