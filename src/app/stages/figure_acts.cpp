// SPDX-License-Identifier: GPL-3.0-or-later
// The actions of the Figure stage by their keys, and the menu that offers them.
#include "app/stages/figure_stage.h"
#include "app/widgets.h"
#include "figure/actions.h"

#include <QMenu>

namespace jointer::app {

const std::vector<FigureStage::Action>& FigureStage::actions() {
    static const std::vector<Action> all = {
        {"stagger", QT_TR_NOOP("Stagger the curves"),
         QT_TR_NOOP("Move the curves apart, as much as needed not to touch")},
        {"stagger-equal", QT_TR_NOOP("Space evenly"), QT_TR_NOOP("Move the curves apart by equal distances")},
        {"together", QT_TR_NOOP("Put the curves together"),
         QT_TR_NOOP("Take back how they were moved apart")},
        {"label", QT_TR_NOOP("Label the curves"),
         QT_TR_NOOP("Name each curve at its end instead of in the legend")},
        {"colours", QT_TR_NOOP("Colours by attribute"),
         QT_TR_NOOP("Colour the curves on a scale, with its bar")},
        {"order", QT_TR_NOOP("Order by attribute"),
         QT_TR_NOOP("Draw and stagger the curves in the order of the attribute")},
        {"reverse", QT_TR_NOOP("Reverse the order"), QT_TR_NOOP("The last curve first")},
        {"group", QT_TR_NOOP("Make a group"),
         QT_TR_NOOP("What is drawn becomes one group: looks are set once for all")},
        {"-", "", ""},
        {"full-frame", QT_TR_NOOP("Full frame"), QT_TR_NOOP("Lines and ticks on all four sides")},
        {"open-frame", QT_TR_NOOP("Open frame"), QT_TR_NOOP("Only the axes, with ticks outwards")},
        {"tidy", QT_TR_NOOP("Tidy numbers"),
         QT_TR_NOOP("Automatic ticks; a power of ten goes into the title")},
        {"second-axis", QT_TR_NOOP("Second axis by formula"),
         QT_TR_NOOP("An axis on the other side whose values are computed from the selected one")},
        {"-", "", ""},
        {"residuals", QT_TR_NOOP("Residuals in a lane"), QT_TR_NOOP("What the fits leave, in a lane below")},
        {"results", QT_TR_NOOP("Table of results"),
         QT_TR_NOOP("Numbers of the fits as a table that follows them")},
        {"inset", QT_TR_NOOP("Inset"), QT_TR_NOOP("A panel within that magnifies the middle of this one")},
        {"-", "", ""},
        {"panel", QT_TR_NOOP("Add a panel"), QT_TR_NOOP("With the selected dataset in it")},
        {"again", QT_TR_NOOP("Show the panel again"),
         QT_TR_NOOP("The same panel with a range of its own; it follows this one")},
        {"share", QT_TR_NOOP("Share axes"),
         QT_TR_NOOP("Panels above or beside each other have one axis in common, or no longer")},
        {"match", QT_TR_NOOP("Match sizes"), QT_TR_NOOP("All panels in one grid of equal cells")},
        {"duplicate", QT_TR_NOOP("Duplicate"), QT_TR_NOOP("A copy of what is selected, or of the figure")},
        {"forward", QT_TR_NOOP("Bring forward"), QT_TR_NOOP("Draw it after the next one")},
        {"backward", QT_TR_NOOP("Send back"), QT_TR_NOOP("Draw it before the one below")}};
    return all;
}

void FigureStage::act(const std::string& key) {
    const auto figure = shownFigure();
    if (!figure) return addFigure();
    const FigureId f = figure->id;
    const ElementId panel = shownPanel(), element = document_.element();
    const Element* e = element ? figure->find(element) : nullptr;
    const ElementId only = e ? panel : ElementId{}; // without a selection all panels
    auto selectedAxis = [&] {
        if (e && e->kind == "axis") return element;
        for (const Element& c : figure->find(panel)->children)
            if (c.kind == "axis") return c.id;
        return ElementId{};
    };
    if (key == "stagger") document_.apply(figure::stagger(f, only, "touch"));
    if (key == "stagger-equal") document_.apply(figure::stagger(f, only, "equal"));
    if (key == "together") document_.apply(figure::stagger(f, only, "none"));
    if (key == "label") document_.apply(figure::labelCurves(f, only));
    if (key == "colours") document_.apply(figure::spreadColours(f, only));
    if (key == "order") document_.apply(figure::orderByAttribute(f, only));
    if (key == "reverse") document_.apply(figure::reverseOrder(f, only));
    if (key == "group") document_.apply(figure::groupMarks(f, panel));
    if (key == "full-frame" || key == "open-frame")
        document_.apply(figure::frame(f, only, key == "full-frame"));
    if (key == "tidy") document_.apply(figure::tidyNumbers(f, only));
    if (key == "second-axis" && panel) document_.apply(figure::addSecondAxis(f, selectedAxis()));
    if (key == "residuals") document_.apply(figure::addResiduals(f, panel));
    if (key == "results") document_.apply(figure::addResultsTable(f, panel));
    if (key == "again") document_.apply(figure::addLinkedPanel(f, panel));
    if (key == "share") document_.apply(figure::shareAxes(f));
    if (key == "match") document_.apply(figure::matchSizes(f));
    if (key == "duplicate" && !e) duplicate();
    if (key == "duplicate" && e) document_.apply(edits::duplicateElement(f, element));
    if (key == "forward" && e) document_.apply(edits::moveElement(f, element, 1));
    if (key == "backward" && e) document_.apply(edits::moveElement(f, element, -1));
    if (key == "inset")
        if (const figure::PanelGeometry* g = page_->layoutShown().panel(panel))
            document_.apply(figure::addInset(f, panel,
                                             {g->x.value(g->x.start() + 0.4 * (g->x.end() - g->x.start())),
                                              g->x.value(g->x.start() + 0.6 * (g->x.end() - g->x.start()))},
                                             {g->y.low(), g->y.high()}));
    if (key != "panel") return;
    std::vector<Element> marks;
    if (const auto d = document_.currentDataset()) {
        const auto likely = figure::likelyMarks(document_.project(), d->id, document_.session().evaluator());
        if (!likely.empty())
            marks.push_back(
                figure::markFor(document_.project(), d->id, likely.front(), document_.session().evaluator()));
    }
    document_.apply(figure::addPanel(f, marks));
}

void FigureStage::offerActions(QPoint at) {
    QMenu* menu = newMenu(this);
    menu->setToolTipsVisible(true);
    for (const Action& a : actions()) {
        if (a.key[0] == '-') {
            menu->addSeparator();
            continue;
        }
        QAction* made = menu->addAction(tr(a.name), this, [this, key = std::string(a.key)] { act(key); });
        made->setToolTip(tr(a.tip));
    }
    if (document_.element()) {
        menu->addSeparator();
        menu->addAction(tr("Copy look"), QKeySequence("Ctrl+Shift+C"), side_, &FigureSide::copyLook);
        if (side_->hasLook())
            menu->addAction(tr("Paste look"), QKeySequence("Ctrl+Shift+V"), side_, &FigureSide::pasteLook);
        menu->addAction(tr("Remove"), this, [this] {
            document_.apply(edits::removeElements(document_.figure(), document_.elements()));
        });
    }
    menu->popup(at);
}

} // namespace jointer::app
