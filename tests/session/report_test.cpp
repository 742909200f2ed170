// SPDX-License-Identifier: GPL-3.0-or-later
// A dataset on one page: what it tells, that nothing lies beyond the page, whatever the dataset is.
#include "session/report.h"

#include "answers.h"
#include "doubts.h"
#include "evaluate/results.h"
#include "project/edit.h"
#include "tern_sands.h"

#include <gmock/gmock.h>

using namespace jointer;
using testing::HasSubstr;

namespace {

// All text of a page, and the farthest that any reaches.
struct Read {
    std::string words;
    double right = 0, low = 0;
    std::size_t paths = 0;
};

void read(const std::vector<draw::Item>& items, double dx, double dy, Read& out) {
    for (const draw::Item& item : items) {
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) {
            out.words += run->text + " ";
            out.right = std::max(out.right, run->angleDeg == 0 ? dx + run->origin.x + run->widthMm : 0);
            out.low = std::max(out.low, dy + run->origin.y);
        } else if (const auto* group = std::get_if<draw::Group>(&item.what)) {
            const draw::Matrix m = group->matrix.value_or(draw::Matrix{});
            read(group->items, dx + m.e, dy + m.f, out);
        } else
            ++out.paths;
    }
}

Read reported(const Project& p, DatasetId d, AnalysisId a = {}) {
    evaluate::Evaluator evaluator;
    const auto page = reportPage(p, {.dataset = d, .analysis = a, .date = "2031-05-02"}, evaluator);
    Read out;
    read(page.items, 0, 0, out);
    EXPECT_LE(out.right, page.widthMm - 10);
    EXPECT_LE(out.low, page.heightMm - 5);
    return out;
}

} // namespace

TEST(Report, TellsOfEachDatasetOfTheDemos) {
    for (const Project& p : {demo::ternSands(), demo::answersDemo(), demo::doubtDemo()})
        for (const auto& d : p.datasets) {
            SCOPED_TRACE(d->name);
            const Read page = reported(p, d->id);
            for (const char* part : {"How it came about", "What is in doubt", "Methods", "2031-05-02"})
                for (std::string_view rest = part; !rest.empty();) { // words are set one by one
                    const std::string word(rest.substr(0, rest.find(' ')));
                    EXPECT_THAT(page.words, HasSubstr(word));
                    rest.remove_prefix(std::min(rest.size(), word.size() + 1));
                }
            EXPECT_GT(page.paths, 3U) << "the curve is drawn";
        }
}

// What is derived from courses of two datasets: the curve of its own is drawn, and the way of both is told.
TEST(Report, WhatRestsOnOthersShowsTheirCurveAndTheirWay) {
    Project p = demo::answersDemo();
    const DatasetId pool = p.datasets[p.datasets.size() - 1].id;
    const Read page = reported(p, pool, p.analyses[p.analyses.size() - 1].id);
    EXPECT_THAT(page.words, HasSubstr("residual"));
    evaluate::Evaluator evaluator;
    const auto way = evaluate::provenance(
        p, evaluator, {.dataset = pool, .analysis = p.analyses[p.analyses.size() - 1].id});
    std::vector<std::string> told;
    for (const auto& s : way) told.push_back(s.sentence.substr(0, 24));
    EXPECT_THAT(told, testing::ElementsAre(
                          "Read from dye_run.csv.", testing::StartsWith("Dye in the creek: read"),
                          testing::StartsWith("Dye in the creek: course"),
                          testing::StartsWith("Course over 12"), testing::StartsWith("Derived longer")));
    EXPECT_NE(way[1].dataset, pool);
}

TEST(Report, NumbersThatHaveNoRoomAreCounted) {
    Project p = demo::answersDemo();
    const DatasetId plate = p.datasets[0].id;
    for (int k = 0; k < 12; ++k)
        p = *edits::addAnalysis(
                 Analysis{.kind = "fit", .inputs = {{.dataset = plate}}, .model = {.kind = "polynomial-4"}})
                 .apply(p);
    const Read page = reported(p, plate);
    EXPECT_THAT(page.words, HasSubstr("further numbers"));
}

TEST(Report, OfNothingFittedAndOfNothingThere) {
    Project p = demo::ternSands();
    p = *edits::addDataset({.name = "bare", .source = p.datasets[0].source}).apply(p);
    const Read page = reported(p, p.datasets[p.datasets.size() - 1].id);
    EXPECT_THAT(page.words, HasSubstr("Nothing has been fitted"));
    evaluate::Evaluator evaluator;
    EXPECT_TRUE(reportPage(p, {.dataset = DatasetId{987654}}, evaluator).items.empty());
}

// Names and formulas without a blank are broken, not drawn over what stands beside.
TEST(Report, LongWordsStayInTheirColumn) {
    Project p = demo::answersDemo();
    const DatasetId plate = p.datasets[0].id;
    Analysis fit{.kind = "fit", .inputs = {{.dataset = plate}}, .model = {.kind = "equation"}};
    std::string equation = "a";
    for (int k = 0; k < 40; ++k) equation += "+0*x^" + std::to_string(k + 2);
    fit.model.settings.set("equation", Value(equation + "+b*x"));
    fit.name = std::string(200, 'n');
    p = *edits::addAnalysis(fit).apply(p);
    p = *edits::changeDataset(plate, "Rename", [](Dataset& d) { d.name = std::string(150, 'W'); }).apply(p);
    reported(p, plate, p.analyses[p.analyses.size() - 1].id); // holds all text within the page
}
