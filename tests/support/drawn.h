// SPDX-License-Identifier: GPL-3.0-or-later
// Reads back what a figure draws, in the values of its axes: so that marks are checked by numbers.
#pragma once

#include "figure/kinds.h"
#include "figure/layout.h"
#include "project/edit.h"

namespace jointer::test {

using Values = std::vector<std::pair<double, double>>; // x, y

// All items of one sort that an element draws, also within groups; of any element where none is told.
template <class What>
std::vector<What> itemsOf(const std::vector<draw::Item>& items, ElementId element = {}) {
    std::vector<What> out;
    for (const draw::Item& item : items) {
        if (const auto* group = std::get_if<draw::Group>(&item.what))
            for (What& inner : itemsOf<What>(group->items, element)) out.push_back(std::move(inner));
        if (element && item.element != element) continue;
        if (const auto* own = std::get_if<What>(&item.what)) out.push_back(*own);
    }
    return out;
}

// A table of columns whose datasets are drawn by marks in one panel.
class Drawing {
public:
    Drawing() = default;
    Project p;

    // A dataset of columns x, y and perhaps ±; its place among the datasets is returned.
    std::size_t data(std::vector<double> x, std::vector<double> y, std::vector<double> sigma = {}) {
        Table t;
        t.columns = {numberColumn("x", "", std::move(x)), numberColumn("y", "", std::move(y))};
        if (!sigma.empty()) t.columns.push_back(numberColumn("sd", "", std::move(sigma)));
        return add(std::move(t), t.columns.size() > 2);
    }
    // Values of named groups.
    std::size_t groups(std::vector<std::string> names, std::vector<double> values) {
        Table t;
        t.columns = {textColumn("group", std::move(names)), numberColumn("y", "", std::move(values))};
        return add(std::move(t), false);
    }

    Element mark(const char* kind, std::size_t dataset = 0) const {
        return figure::newMark(kind, p.datasets[dataset].id.text());
    }
    // Lays the marks out; the first axes may be changed before.
    figure::Layout lay(std::vector<Element> marks,
                       const std::function<void(Element& x, Element& y)>& change = {},
                       double pixelsPerMm = 20) {
        Figure f = figure::newFigure("F", {}, marks);
        for (Element& e : f.elements[0].children)
            if (e.kind == "legend") e.settings.set("where", "none");
        if (change) change(f.elements[0].children[0], f.elements[0].children[1]);
        p.figures = {};
        p = *edits::addFigure(f).apply(p);
        drawn_ = figure::layOut(p, p.figures[0], *evaluator_, {.pixelsPerMm = pixelsPerMm});
        return drawn_;
    }
    evaluate::Evaluator& evaluator() const { return *evaluator_; }
    const figure::PanelGeometry& panel() const { return drawn_.panels[0]; }
    const Element& element(std::size_t k) const { return p.figures[0].elements[0].children[2 + k]; } // marks

    std::vector<draw::Path> paths(std::size_t mark = 0) const {
        return itemsOf<draw::Path>(drawn_.list.items, element(mark).id);
    }
    Values symbols(std::size_t mark = 0) const {
        Values out;
        for (const draw::Symbols& s : itemsOf<draw::Symbols>(drawn_.list.items, element(mark).id))
            for (const draw::Point& at : s.places) out.push_back(value(at));
        return out;
    }
    std::string texts(std::size_t mark = 0) const {
        std::string out;
        for (const draw::TextRun& run : itemsOf<draw::TextRun>(drawn_.list.items, element(mark).id))
            out += run.text;
        return out;
    }
    std::pair<double, double> value(draw::Point at) const {
        return {panel().x.value(at.x), panel().y.value(at.y)};
    }
    Values values(const draw::Polyline& line) const {
        Values out;
        for (const draw::Point& at : line.points) out.push_back(value(at));
        return out;
    }

private:
    std::size_t add(Table t, bool sigma) {
        p = *edits::addTable(std::move(t)).apply(p);
        const Table& made = p.tables[p.tables.size() - 1];
        Dataset d{.name = "d" + std::to_string(p.datasets.size()), .colour = "#2f6091"};
        d.source.table = made.id;
        d.source.roles = {{Role::X, made.columns[0].id}, {Role::Y, made.columns[1].id}};
        if (sigma) d.source.roles.push_back({Role::YError, made.columns[2].id});
        p = *edits::addDataset(std::move(d)).apply(p);
        return p.datasets.size() - 1;
    }
    std::shared_ptr<evaluate::Evaluator> evaluator_ = std::make_shared<evaluate::Evaluator>();
    figure::Layout drawn_;
};

} // namespace jointer::test
