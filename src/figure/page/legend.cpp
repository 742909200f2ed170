// SPDX-License-Identifier: GPL-3.0-or-later
// Legends: a key and a text for each mark, in columns.
#include "figure/marks/parts.h"
#include "figure/page/live_text.h"
#include "figure/page/panel.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

LegendBox::LegendBox(Page& page, const Element& element, std::vector<LegendRow> rows, double widestMm)
    : page_(page), element_(element), look_(page.lookOf(element)), text_(page.textOf(look_)) {
    // One curve needs no legend.
    if (rows.empty() || (rows.size() < 2 && !look_.flag("single"))) return;
    if (look_.text("order") == "reversed") std::ranges::reverse(rows);
    for (LegendRow& row : rows) {
        SetText set = setText(row.label, text_);
        rows_.push_back({std::move(row), std::move(set)});
    }
    const double gap = 0.5 * em(), between = 1.4 * em();
    rowHeight_ = 1.35 * em();
    keyWidth_ = look_.number("key-width") * em();
    auto widthsOf = [&](std::size_t columns) {
        std::vector<double> widths(columns, 0);
        const std::size_t deep = (rows_.size() + columns - 1) / columns;
        for (std::size_t k = 0; k < rows_.size(); ++k)
            widths[k / deep] = std::max(widths[k / deep], keyWidth_ + gap + rows_[k].text.widthMm);
        while (widths.size() > 1 && widths.back() == 0) widths.pop_back();
        return widths;
    };
    auto sum = [&](const std::vector<double>& widths) {
        double all = between * static_cast<double>(widths.size() - 1);
        for (double w : widths) all += w;
        return all;
    };
    const int told = look_.integer("columns");
    columns_ = static_cast<std::size_t>(std::max(1, told));
    if (told == 0 && widestMm > 0)
        for (columns_ = rows_.size(); columns_ > 1 && sum(widthsOf(columns_)) > widestMm;) --columns_;
    columns_ = std::min(columns_, rows_.size());
    columnWidths_ = widthsOf(columns_);
    width_ = sum(columnWidths_);
    const std::size_t deep = (rows_.size() + columns_ - 1) / columns_;
    height_ = rowHeight_ * static_cast<double>(deep);
    if (const std::string heading = look_.text("title"); !heading.empty()) {
        title_ = setText(liveText(page_, element_, heading), text_);
        height_ += rowHeight_;
        width_ = std::max(width_, title_->widthMm);
    }
}

Point LegendBox::shifted(Point at) const {
    return {at.x + look_.number("shift-x"), at.y + look_.number("shift-y")};
}

void LegendBox::draw(Point at) {
    const Rect box{at.x, at.y, width_, height_};
    if (look_.flag("frame"))
        page_.add(element_.id, Path{.lines = {rectangle(box.grown(0.4 * em()))},
                                    .stroke = Stroke{.widthMm = 0.2, .colour = page_.text.colour},
                                    .fill = page_.groundColour()});
    double top = at.y;
    if (title_) {
        page_.addText(element_.id,
                      placed(*title_, {at.x, top + 0.5 * rowHeight_}, HAlign::Left, VAlign::Middle));
        top += rowHeight_;
    }
    const std::size_t deep = (rows_.size() + columns_ - 1) / columns_;
    double x = at.x;
    for (std::size_t k = 0; k < rows_.size(); ++k) {
        if (k > 0 && k % deep == 0) x += columnWidths_[k / deep - 1] + 1.4 * em();
        const double y = top + (static_cast<double>(k % deep) + 0.5) * rowHeight_;
        Group key;
        const Rect keyBox{x, y - 0.3 * em(), keyWidth_, 0.6 * em()};
        for (const Mark* mark : rows_[k].what.upon)
            if (rows_[k].what.entry)
                mark->classKey(*rows_[k].what.entry, keyBox, key);
            else
                mark->key(keyBox, key);
        page_.add(element_.id, std::move(key), rows_[k].what.mark->of);
        page_.addText(element_.id,
                      placed(rows_[k].text, {x + keyWidth_ + 0.5 * em(), y}, HAlign::Left, VAlign::Middle),
                      rows_[k].what.mark->of);
    }
    page_.addRegion(element_.id, box);
}

} // namespace jointer::figure
