// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/style_sample.h"

#include "figure/anchors.h"
#include "figure/kinds.h"
#include "figure/marks/mark.h"
#include "project/edit.h"

#include <cmath>

namespace jointer {

namespace {

constexpr int kTimes = 13; // hours

// Water levels of three ponds, by formula.
Table levels() {
    Table t{.name = "Levels", .columns = {}};
    std::vector<double> hours, spread;
    for (int k = 0; k < kTimes; ++k) {
        hours.push_back(k);
        spread.push_back(4 + 2 * std::sin(1.7 * k));
    }
    t.columns = {numberColumn("Time", "h", hours)};
    for (int pond = 0; pond < 3; ++pond) {
        std::vector<double> level;
        for (int k = 0; k < kTimes; ++k)
            level.push_back(60 - 14 * pond + (30 - 6 * pond) * std::sin(2 * M_PI * (k - pond) / 12.4) +
                            2 * std::sin(5.1 * k));
        t.columns.push_back(numberColumn("Level", "cm", level));
    }
    t.columns.push_back(numberColumn("±", "cm", spread));
    return t;
}

DatasetSource sourceOf(const Table& t, std::size_t y) {
    DatasetSource s{.table = t.id};
    s.roles = {{Role::X, t.columns[0].id}, {Role::Y, t.columns[y].id}, {Role::YError, t.columns[4].id}};
    s.settings.set("uncertainty", "column");
    return s;
}

// What the style says of the page.
Settings pageLooks(const HouseStyle& style) {
    const auto own = style.looks.find("figure");
    return own == style.looks.end() ? Settings{} : own->second;
}

} // namespace

Project styleSample(HouseStyle style, const std::string& kind) {
    const figure::MarkKind* mark = figure::markCatalogue().find(kind);
    const bool ofData = mark && mark->takes == figure::Takes::Dataset;
    const std::string second = ofData ? kind : "bars";
    Project p;
    p.title = "Sample";
    style.id = p.newId<StyleId>();
    Table t = levels();
    t.id = p.newId<TableId>();
    for (Column& c : t.columns) c.id = p.newId<ColumnId>();
    p.tables = p.tables.with(t);
    std::vector<Element> curves, others;
    static constexpr const char* names[] = {"Upper pond", "Lower pond", "Sill"};
    for (std::size_t k = 0; k < 3; ++k) {
        Dataset d{.id = p.newId<DatasetId>(),
                  .name = names[k],
                  .colour = figure::palette()[k],
                  .source = sourceOf(t, k + 1),
                  .attributes = {},
                  .protocol = {},
                  .extra = {}};
        curves.push_back(figure::newMark(k == 2 ? "line" : "points-line", d.id.text()));
        if (k == 0) others.push_back(figure::newMark(second, d.id.text()));
        p.datasets = p.datasets.with(std::move(d));
    }
    Figure f = figure::newFigure("Sample", style.id, curves);
    f.settings.set("rows", 2);
    f.settings.set("letters", "a");
    f.settings.set("height", Value(std::round(0.95 * pageLooks(style).number("width", 85))));
    for (Element& e : f.elements[0].children)
        if (e.kind == "legend") e.settings.set("where", "right");
    Element below = figure::newPanel(others);
    below.settings.set("title", figure::kindOf(second).name);
    if (figure::isNote(kind) && kind != "note")
        below.children.push_back({.kind = kind, .source = t.id.text()});
    f.elements.push_back(std::move(below));
    Element note{.kind = "note"};
    note.settings.set("text", "A note: \\Delta h = 2.4(3) cm, k_{1}^{2}");
    f.elements[0].children.push_back(std::move(note));
    p.styles = p.styles.with(std::move(style));
    const auto made = edits::addFigure(std::move(f)).apply(p);
    return made ? *made : p;
}

} // namespace jointer
