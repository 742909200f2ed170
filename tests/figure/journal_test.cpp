// SPDX-License-Identifier: GPL-3.0-or-later
// The journal check finds what was made wrong, nothing else, and what it mends is mended.
#include "figure/journal.h"

#include "figure/kinds.h"
#include "project/figure_edits.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::figure;
using testing::Contains;
using testing::Not;

namespace {

struct Checked {
    Project p = test::sampleProject();
    FigureId id;
    ElementId panel;
    evaluate::Evaluator e;
    JournalProfile profile = shippedProfiles()[0];

    Checked() {
        for (HouseStyle s : shippedStyles()) {
            s.id = p.newId<StyleId>();
            p.styles = p.styles.with(s);
        }
        Figure f = newFigure(
            "F", p.styles[0].id,
            {newMark("points", p.datasets[0].id.text()), newMark("curve", p.analyses[0].id.text())});
        p = *edits::addFigure(f).apply(p);
        id = p.figures[p.figures.size() - 1].id;
        panel = figure().elements[0].id;
        set(axis(1), "unit", Value(std::string("s"))); // counts without a unit
        set(figure().find(panel)->children[2].id, "outline", Value(0.5));
    }
    const Figure& figure() const { return *p.figures.find(id); }
    ElementId axis(std::size_t k) const { return figure().find(panel)->children[k].id; }
    void set(ElementId element, const std::string& key, Value v) {
        if (auto made = edits::setElement(id, element, key, std::move(v)).apply(p)) p = *made;
    }
    std::vector<Finding> find(const Settings& written = {}) {
        return journalFindings(p, figure(), layOut(p, figure(), e), profile, written);
    }
    std::vector<std::string> codes(const Settings& written = {}) {
        std::vector<std::string> out;
        for (const Finding& f : find(written)) out.push_back(f.code);
        return out;
    }
    // Every edit that the check offers, until it offers none.
    void mendAll() {
        for (int round = 0; round < 6; ++round)
            for (const Finding& f : find())
                if (f.mend) p = *f.mend->apply(p);
    }
};

} // namespace

TEST(Journal, FindsWhatWasMadeWrongAndMendsIt) {
    struct Case {
        const char* code;
        std::function<void(Checked&)> spoil;
        bool mends;
    };
    const std::vector<Case> cases = {
        {"page-width", [](Checked& c) { c.set({}, "width", Value(97.0)); }, true},
        {"page-height", [](Checked& c) { c.set({}, "height", Value(280.0)); }, true},
        {"text-too-small", [](Checked& c) { c.set({}, "text-size", Value(5.0)); }, true},
        {"text-too-small", [](Checked& c) { c.set(c.axis(0), "text-size", Value(4.0)); }, true},
        {"line-too-thin", [](Checked& c) { c.set(c.panel, "frame-width", Value(0.2)); }, true},
        {"no-unit", [](Checked& c) { c.set(c.axis(1), "unit", Value()); }, true},
        {"low-contrast", [](Checked& c) { c.set({}, "colour", Value(std::string("#e8e8e8"))); }, false},
        {"overlap",
         [](Checked& c) {
             for (int k = 0; k < 2; ++k) {
                 Element note{.kind = "note"};
                 note.settings.set("text", "the same place");
                 c.p = *edits::addElement(c.id, c.panel, note).apply(c.p);
             }
         },
         false},
        {"cut-off",
         [](Checked& c) {
             Element note{.kind = "note"};
             note.settings.set("text", "over the edge");
             note.settings.set("x", Value(0.95));
             c.p = *edits::addElement(c.id, c.panel, note).apply(c.p);
         },
         false}};
    for (const Case& each : cases) {
        Checked c;
        EXPECT_THAT(c.codes(), Not(Contains(each.code)));
        each.spoil(c);
        EXPECT_THAT(c.codes(), Contains(each.code)) << each.code;
        c.mendAll();
        if (each.mends) {
            EXPECT_THAT(c.codes(), Not(Contains(each.code))) << each.code << " is mended";
        }
    }
}

TEST(Journal, ColoursThatLookAlikeAreFound) {
    Checked c;
    const auto children = c.figure().find(c.panel)->children;
    c.set(children[2].id, "colour", Value(std::string("#be463c")));
    c.set(children[3].id, "colour", Value(std::string("#79722a")));
    EXPECT_THAT(c.codes(), Contains("colour-blind"));
    c.set(children[3].id, "colour", Value(std::string("#1d5694")));
    EXPECT_THAT(c.codes(), Not(Contains("colour-blind")));
    c.profile.colour = false;
    c.set(children[2].id, "colour", Value(std::string("#1d5694")));
    c.set(children[3].id, "colour", Value(std::string("#7a4040")));
    EXPECT_THAT(c.codes(), Contains("alike-in-grey"));
}

TEST(Journal, KnowsHowItWasWritten) {
    Checked c;
    Settings written;
    written.set("format", "png");
    written.set("dpi", Value(150.0));
    EXPECT_THAT(c.codes(written), Contains("file-kind"));
    EXPECT_THAT(c.codes(written), Contains("dpi"));
    written.set("format", "tif");
    written.set("dpi", Value(600.0));
    EXPECT_THAT(c.codes(written), Not(Contains("file-kind")));
    EXPECT_THAT(c.codes(written), Not(Contains("dpi")));
}

TEST(Journal, EveryFindingSelectsWhatIsThere) {
    Checked c;
    c.set({}, "text-size", Value(4.0));
    c.set({}, "colour", Value(std::string("#dddddd")));
    for (const JournalProfile& profile : shippedProfiles()) {
        c.profile = profile;
        for (const Finding& f : c.find()) {
            EXPECT_FALSE(f.text.empty());
            EXPECT_TRUE(!f.element || c.figure().find(f.element)) << f.text;
            EXPECT_EQ(f.mend.has_value(), !f.mending.empty() && f.mend) << f.text;
        }
    }
}

// Lines on a map are judged by the map behind them, not by the page.
TEST(Journal, LinesOnAMapStandOutFromTheMap) {
    const auto found = [](const char* colour, bool map) {
        Checked c;
        Dataset d{.name = "plane"};
        d.source.kind = "plane";
        d.source.settings.set("expression", std::string("x+y"));
        c.p = *edits::addDataset(std::move(d)).apply(c.p);
        const std::string id = c.p.datasets[c.p.datasets.size() - 1].id.text();
        Element lines = newMark("contour-lines", id);
        lines.settings.set("colour", std::string(colour));
        lines.settings.set("labels", Value(false));
        std::vector<Element> marks = {std::move(lines)};
        if (map) marks.insert(marks.begin(), newMark("colour-map", id));
        Figure f = newFigure("M", c.p.styles[0].id, marks);
        c.p = *edits::addFigure(std::move(f)).apply(c.p);
        c.id = c.p.figures[c.p.figures.size() - 1].id;
        return c.codes();
    };
    EXPECT_THAT(found("#ffffff", true), Not(Contains("low-contrast")));
    EXPECT_THAT(found("#ffffff", false), Contains("low-contrast"));
    EXPECT_THAT(found("#000000", true), Not(Contains("low-contrast")));
}
