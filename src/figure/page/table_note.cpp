// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/table_note.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "figure/page/set_table.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr std::size_t kMostColumns = 8; // where none is chosen

std::vector<const Column*> columnsOf(const Table& table, const Look& look) {
    std::vector<const Column*> out;
    const Value told = look.value("columns");
    if (const auto* wanted = std::get_if<References>(&told))
        for (const Reference& r : *wanted)
            if (const Column* c = table.find(ColumnId::fromText(r.to))) out.push_back(c);
    if (!out.empty()) return out;
    for (const Column& c : table.columns)
        if (out.size() < kMostColumns) out.push_back(&c);
    return out;
}

bool isNumber(const Column& c) {
    return c.kind == ColumnKind::Number || c.kind == ColumnKind::WholeNumber;
}

std::string numberText(const Column& c, std::size_t row, int digits) {
    if (row < c.numbers().size() && digits > 0 && std::isfinite(c.numbers()[row]) && isNumber(c))
        return readableNumber(c.numbers()[row], digits);
    std::string shown = cellText(c, row, commonDecimals(c));
    for (std::size_t at = shown.find('-'); at != shown.npos && isNumber(c);
         at = shown.find('-', at))
        shown.replace(at, 1, "−");
    return shown;
}

} // namespace

void drawTable(Page& page, const Element& e, const Look& look, const TextStyle& text,
               const std::string& caption, Point at) {
    const auto table = page.project.tables.find(TableId::fromText(e.source));
    if (!table) return page.say("note-lost", "The table that stood here is not in the project any more.");
    const auto first = static_cast<std::size_t>(std::max(1, look.integer("first")) - 1),
               most = static_cast<std::size_t>(look.integer("rows"));
    const std::size_t count = table->rowCount(), last = std::min(count, first + most);
    const bool heads = look.flag("heads");
    std::vector<TableColumn> columns;
    for (const Column* c : columnsOf(*table, look)) {
        TableColumn made{.head = literal(c->name) + (c->unit.empty() ? "" : " (" + unitMarkup(c->unit) + ")"),
                         .cells = {},
                         .words = !isNumber(*c)};
        for (std::size_t row = first; row < last; ++row)
            made.cells.push_back(literal(numberText(*c, row, look.integer("digits"))));
        columns.push_back(std::move(made));
    }
    if (columns.empty() || first >= last)
        return page.say("note-lost", fmt::format("The table “{}” has no such rows.", table->name));
    if (last < count && !look.isOwn("rows"))
        page.say("table-cut", fmt::format("The table “{}” shows {} of its {} rows; “Rows” takes more.",
                                          table->name, last - first, count));
    const SetTable set(std::move(columns), text, heads);
    const SetText title = setText(caption, text);
    const double above = caption.empty() ? 0 : 1.3 * text.sizePt * kMmPerPt;
    const double width = std::max(set.width(), title.widthMm), height = set.height() + above;
    const std::string align = look.text("align"), alignY = look.text("align-y");
    const Rect bounds{at.x - width * (align == "right"    ? 1
                                      : align == "centre" ? 0.5
                                                          : 0),
                      at.y - height * (alignY == "bottom"   ? 1
                                       : alignY == "middle" ? 0.5
                                                            : 0),
                      width, height};
    if (const std::string ground = look.text("ground"); !ground.empty())
        page.add(e.id, Path{.lines = {rectangle(bounds.grown(0.4 * text.sizePt * kMmPerPt))},
                            .stroke = {},
                            .fill = Colour::fromText(ground).withAlpha(look.number("opacity"))});
    if (!caption.empty()) page.addText(e.id, placed(title, {bounds.x, bounds.y}, HAlign::Left, VAlign::Top));
    std::vector<Item> items;
    set.draw({bounds.x, bounds.y + above}, look.flag("lines"), items);
    page.addText(e.id, std::move(items));
    page.addRegion(e.id, bounds);
}

} // namespace jointer::figure
