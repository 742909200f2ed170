// SPDX-License-Identifier: GPL-3.0-or-later
// The classes of the selected mark: changed by hand, and kept in the house style.
#include "app/panes/class_rows.h"
#include "app/stages/figure_side.h"
#include "app/widgets.h"
#include "figure/kinds.h"
#include "project/figure_edits.h"
#include "session/house_styles.h"

namespace jointer::app {

void FigureSide::showClasses(const std::vector<figure::SymbolClass>& classes) {
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* e = figure && document_.element() ? figure->find(document_.element()) : nullptr;
    const KindInfo* kind = e ? figure::elementKinds().find(e->kind) : nullptr;
    if (!kind || !kind->find("classes")) return classes_->show({}, {}, true);
    classes_->show(classes, e->settings.rows("classes"), kind->find("symbol-by") != nullptr);
}

void FigureSide::giveClasses(const RowList& byHand) {
    give("classes", byHand.empty() ? Value() : Value(std::make_shared<const RowList>(byHand)));
}

// As they look now: what the style said before of other classes stays.
void FigureSide::keepClasses(const RowList& byHand) {
    const Project& p = document_.project();
    const auto figure = p.figures.find(document_.figure());
    const Element* e = figure && document_.element() ? figure->find(document_.element()) : nullptr;
    const auto style = figure ? p.styles.find(figure->style) : nullptr;
    if (!e || !style) return;
    const auto found = style->looks.find(e->kind);
    const Settings before = found == style->looks.end() ? Settings{} : found->second;
    RowList rows = byHand;
    for (const Settings& old : before.rows("classes"))
        if (std::ranges::none_of(rows, [&](const Settings& r) { return r.text("name") == old.text("name"); }))
            rows.push_back(old);
    if (document_.apply(edits::setStyle(figure->style, e->kind, "classes",
                                        Value(std::make_shared<const RowList>(std::move(rows))))))
        document_.say(
            tr("The house style “%1” has these classes now; Ctrl+Z takes it back.").arg(text(style->name)));
}

} // namespace jointer::app
