// SPDX-License-Identifier: GPL-3.0-or-later
// A small project with everything in it that the tests need: two datasets, steps, fits, a figure.
#pragma once

#include "project/edit.h"
#include "project/table_edits.h"

#include <cmath>

namespace jointer::test {

inline Table sampleTable(const std::string& name, double centre) {
    Table t;
    t.name = name;
    std::vector<double> x, y, sd;
    std::vector<std::string> notes;
    for (int i = 0; i < 80; ++i) {
        x.push_back(0.25 * i);
        y.push_back(5 * std::exp(-std::pow((x.back() - centre) / 2, 2)) + 0.1 * x.back() +
                    0.05 * std::sin(37.0 * i));
        sd.push_back(0.05);
        notes.push_back(i % 9 == 0 ? "see, \"note\"\nbelow \\ µ" : "");
    }
    y[7] = std::nan("");
    t.columns = {numberColumn("shift", "cm^{-1}", x), numberColumn("counts", "", y),
                 numberColumn("sd", "", sd), textColumn("note", notes)};
    auto cells = std::make_shared<Cells>(*t.columns[1].cells);
    cells->states.assign(80, CellState::Fine);
    cells->states[7] = CellState::Unreadable;
    cells->originals[7] = "-----";
    t.columns[1].cells = cells;
    t.origin = {.file = name + ".csv",
                .reader = "delimited",
                .reading = "{}",
                .encoding = "utf-8",
                .metadata = {{"Site", "A"}}};
    t.rows = std::make_shared<Rows>(Rows{.ids = {}, .lines = {}, .firstLine = 5});
    return t;
}

inline Edit typeValue(TableId table, ColumnId column, std::size_t row, double value) {
    return edits::changeCells(table, {{.column = column, .row = row, .number = value}}, "Type a value");
}

inline Dataset datasetOf(const Table& t, const std::string& name) {
    Dataset d;
    d.name = name;
    d.colour = "#2f6091";
    d.source.table = t.id;
    d.source.roles = {
        {Role::X, t.columns[0].id}, {Role::Y, t.columns[1].id}, {Role::YError, t.columns[2].id}};
    d.attributes = {{"age", "28", "d"}};
    return d;
}

inline Analysis gaussianFit(DatasetId d) {
    Analysis a;
    a.name = "Gaussian";
    a.inputs = {{.dataset = d, .span = Span(2, 18)}};
    a.model.kind = "gaussian";
    a.model.settings.set("base", "line");
    a.parameters = {{.name = "fwhm", .lower = 0.1, .upper = 10}};
    return a;
}

inline Project sampleProject() {
    Project p;
    p.title = "Shell growth";
    for (double centre : {8.0, 12.0}) {
        p = *edits::addTable(sampleTable("scan", centre)).apply(p);
        p = *edits::addDataset(datasetOf(p.tables[p.tables.size() - 1], "scan at " + std::to_string(centre)))
                 .apply(p);
        const DatasetId d = p.datasets[p.datasets.size() - 1].id;
        Settings anchors;
        anchors.set("anchors", Value(Numbers{0, 0, 19, 2}));
        p = *edits::addStep(d, "baseline", anchors, "").apply(p);
        p = *edits::addAnalysis(gaussianFit(d)).apply(p);
    }
    p = *edits::addComputedColumn(p.tables[0].id, "double", "2*'" + p.tables[0].columns[1].id.text() + "'")
             .apply(p);
    // What tables and datasets can hold beside: marks of rows, patterns of time, functions, joins.
    p = *edits::setRowKind(p.tables[1].id, {4, 9}, RowKind::Unknown).apply(p);
    p = *edits::changeTable(p.tables[1].id, "", [](Table& t) {
             Column when = numberColumn("when", "", std::vector<double>(80, 1935494405.25));
             when.id = ColumnId{9001};
             when.kind = ColumnKind::DateTime;
             when.timePattern = "DD.MM.YYYY hh:mm";
             when.byHand = true;
             t.columns.push_back(when);
         }).apply(p);
    Figure f;
    f.name = "Figure 1";
    Element panel{.kind = "panel"};
    panel.children = {Element{.kind = "axis"}, Element{.kind = "points", .source = p.datasets[0].id.text()},
                      Element{.kind = "curve", .source = p.analyses[0].id.text()}};
    panel.children[0].settings.set("side", "bottom");
    f.elements = {panel};
    p = *edits::addFigure(f).apply(p);
    return p;
}

} // namespace jointer::test
