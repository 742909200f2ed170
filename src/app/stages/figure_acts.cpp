// SPDX-License-Identifier: GPL-3.0-or-later
// The actions of the Figure stage by their keys, and the menu that offers them.
#include "app/stages/figure_stage.h"
#include "app/widgets.h"
#include "data/logarithm_name.h"
#include "figure/actions.h"
#include "figure/anchors.h"
#include "figure/compose.h"
#include "figure/note_actions.h"
#include "session/house_styles.h"

#include <QMenu>
#include <cmath>
#include <map>

namespace jointer::app {

namespace {

using Now = FigureStage::Now;

std::optional<Edit> staggered(const Now& now, const char* how) {
    return figure::stagger(now.figure.id, now.only, how);
}

// The selected axis, or the first of the panel.
ElementId axisOf(const Now& now) {
    if (now.element && now.element->kind == "axis") return now.element->id;
    if (const Element* panel = now.figure.find(now.panel))
        for (const Element& e : panel->children)
            if (e.kind == "axis") return e.id;
    return {};
}

// The selected axis if it shows logarithms, or the first of the panel that does.
ElementId logarithmsIn(const Now& now) {
    ElementId found;
    if (const figure::PanelGeometry* panel = now.layout.panel(now.panel))
        for (const figure::AxisGeometry& a : panel->axes)
            if (a.axis && logarithmOf(a.meaning.name) && (!found || a.axis == axisOf(now))) found = a.axis;
    return found;
}

bool hasElement(const Now& now) {
    return now.element;
}

std::optional<Edit> breakOf(const Now& now) {
    const figure::AxisGeometry* axis = now.layout.axis(axisOf(now));
    if (!axis) return {};
    const figure::Range gap = figure::widestGap(now.project, now.figure, *axis, now.evaluator);
    return figure::breakAxis(now.figure.id, axis->axis, gap.low, gap.high);
}

std::optional<Edit> insetOf(const Now& now) {
    const figure::PanelGeometry* g = now.layout.panel(now.panel);
    if (!g) return {};
    const auto part = [&](double share) { return g->x.value(std::lerp(g->x.start(), g->x.end(), share)); };
    return figure::addInset(now.figure.id, now.panel, {part(0.4), part(0.6)}, {g->y.low(), g->y.high()});
}

bool isNote(const Now& now) {
    return now.element && figure::isNote(now.element->kind);
}

std::optional<Edit> anchored(const Now& now, const char* to) {
    if (!now.element) return {};
    return figure::anchorTo(now.figure, now.layout, now.element->id, to);
}

constexpr const char* kOrder = QT_TR_NOOP("Order");
constexpr const char* kLineUp = QT_TR_NOOP("Line up");
constexpr int kToTheEnd = 1 << 20; // further than any figure has elements

bool hasSeveral(const Now& now) {
    return now.elements.size() > 1;
}

bool isTogether(const Now& now) {
    return now.element && figure::togetherWith(now.figure, now.element->id).size() > 1;
}

FigureStage::Action lineUp(const figure::Composition& c) {
    return {
        std::string("line-up-") + c.key,
        c.name,
        c.tip,
        [key = c.key](const Now& now) { return figure::compose(now.figure, now.layout, now.elements, key); },
        [least = c.least](const Now& now) { return now.elements.size() >= least; },
        kLineUp};
}

std::optional<Edit> moved(const Now& now, int by) {
    if (!now.element) return {};
    return edits::moveElement(now.figure.id, now.element->id, by);
}

} // namespace

const std::vector<FigureStage::Action>& FigureStage::actions() {
    static const std::vector<Action> all = makeActions();
    return all;
}

std::vector<FigureStage::Action> FigureStage::makeActions() {
    std::vector<Action> own = {
        {"stagger", QT_TR_NOOP("Stagger the curves"),
         QT_TR_NOOP("Move the curves apart, as much as needed not to touch"),
         [](const Now& now) { return staggered(now, "touch"); }},
        {"stagger-equal", QT_TR_NOOP("Space evenly"), QT_TR_NOOP("Move the curves apart by equal distances"),
         [](const Now& now) { return staggered(now, "equal"); }},
        {"together", QT_TR_NOOP("Put the curves together"), QT_TR_NOOP("Take back how they were moved apart"),
         [](const Now& now) { return staggered(now, "none"); }},
        {"label", QT_TR_NOOP("Label the curves"),
         QT_TR_NOOP("Name each curve at its end instead of in the legend"),
         [](const Now& now) { return figure::labelCurves(now.figure.id, now.only); }},
        {"colours", QT_TR_NOOP("Colours by attribute"),
         QT_TR_NOOP("Colour the curves on a scale, with its bar"),
         [](const Now& now) { return figure::spreadColours(now.figure.id, now.only); }},
        {"order", QT_TR_NOOP("Order by attribute"),
         QT_TR_NOOP("Draw and stagger the curves in the order of the attribute"),
         [](const Now& now) { return figure::orderByAttribute(now.figure.id, now.only); }},
        {"reverse", QT_TR_NOOP("Reverse the order"), QT_TR_NOOP("The last curve first"),
         [](const Now& now) { return figure::reverseOrder(now.figure.id, now.only); }},
        {"group", QT_TR_NOOP("Make a group"),
         QT_TR_NOOP("What is drawn becomes one group: looks are set once for all"),
         [](const Now& now) { return figure::groupMarks(now.figure.id, now.panel); }},
        {"-"},
        {"full-frame", QT_TR_NOOP("Full frame"), QT_TR_NOOP("Lines and ticks on all four sides"),
         [](const Now& now) { return figure::frame(now.figure.id, now.only, true); }},
        {"open-frame", QT_TR_NOOP("Open frame"), QT_TR_NOOP("Only the axes, with ticks outwards"),
         [](const Now& now) { return figure::frame(now.figure.id, now.only, false); }},
        {"tidy", QT_TR_NOOP("Tidy numbers"),
         QT_TR_NOOP("Automatic ticks; a power of ten goes into the title"),
         [](const Now& now) { return figure::tidyNumbers(now.figure.id, now.only); }},
        {"originals", QT_TR_NOOP("Original values"),
         QT_TR_NOOP("An axis of logarithms has the numbers and the name of what they are of"),
         [](const Now& now) { return figure::showOriginals(now.figure.id, logarithmsIn(now)); },
         [](const Now& now) { return static_cast<bool>(logarithmsIn(now)); }},
        {"second-axis", QT_TR_NOOP("Second axis by formula"),
         QT_TR_NOOP("An axis on the other side whose values are computed from the selected one"),
         [](const Now& now) { return figure::addSecondAxis(now.figure.id, axisOf(now)); }},
        {"break", QT_TR_NOOP("Break the axis"),
         QT_TR_NOOP("Leave out where the selected axis has no data; its ends can be dragged then"), breakOf},
        {"-"},
        {"residuals", QT_TR_NOOP("Residuals in a lane"), QT_TR_NOOP("What the fits leave, in a lane below"),
         [](const Now& now) { return figure::addResiduals(now.figure.id, now.panel); }},
        {"sizes", QT_TR_NOOP("Distribution of sizes"),
         QT_TR_NOOP("What fits of scattering have found, by volume and with its band, in a panel of its own"),
         [](const Now& now) { return figure::addSizes(now.figure.id, now.panel); }},
        {"peak-labels", QT_TR_NOOP("Label the peaks"),
         QT_TR_NOOP("The places of fitted peaks stand above them"),
         [](const Now& now) { return figure::labelPeaks(now.project, now.figure.id, now.panel); }},
        {"results", QT_TR_NOOP("Table of results"),
         QT_TR_NOOP("Numbers of the fits as a table that follows them"),
         [](const Now& now) { return figure::addResultsTable(now.figure.id, now.panel); }},
        {"inset", QT_TR_NOOP("Inset"), QT_TR_NOOP("A panel within that magnifies the middle of this one"),
         insetOf},
        {"-"},
        {"panel", QT_TR_NOOP("Add a panel"), QT_TR_NOOP("With the selected dataset in it"),
         [](const Now& now) { return figure::addPanel(now.figure.id, now.likeliest()); }},
        {"again", QT_TR_NOOP("Show the panel again"),
         QT_TR_NOOP("The same panel with a range of its own; it follows this one"),
         [](const Now& now) { return figure::addLinkedPanel(now.figure.id, now.panel); }},
        {"share", QT_TR_NOOP("Share axes"),
         QT_TR_NOOP("Panels above or beside each other have one axis in common, or no longer"),
         [](const Now& now) { return figure::shareAxes(now.figure.id); }},
        {"match", QT_TR_NOOP("Match sizes"), QT_TR_NOOP("All panels in one grid of equal cells"),
         [](const Now& now) { return figure::matchSizes(now.figure.id); }},
        {"duplicate", QT_TR_NOOP("Duplicate"), QT_TR_NOOP("A copy of what is selected, or of the figure"),
         [](const Now& now) -> std::optional<Edit> {
             if (!now.element) return edits::duplicateFigure(now.figure.id, now.figure.name + " (copy)");
             return edits::duplicateElement(now.figure.id, now.element->id);
         }},
        {"save-style", QT_TR_NOOP("Save as a house style"),
         QT_TR_NOOP("A house style with the fonts, sizes and lines of this figure, for others too"),
         [](const Now& now) { return edits::styleFromFigure(now.figure.id, "As in " + now.figure.name); }},
        {"to-data", QT_TR_NOOP("Anchor to the data"),
         QT_TR_NOOP("The note stays with its values on the axes"),
         [](const Now& now) { return anchored(now, "data"); }, isNote},
        {"to-panel", QT_TR_NOOP("Anchor to the panel"), QT_TR_NOOP("The note stays at its part of the panel"),
         [](const Now& now) { return anchored(now, "panel"); }, isNote},
        {"to-page", QT_TR_NOOP("Anchor to the page"), QT_TR_NOOP("The note stays where it is on the page"),
         [](const Now& now) { return anchored(now, "page"); }, isNote},
        {"forward", QT_TR_NOOP("Bring forward"), QT_TR_NOOP("Draw it after the next one"),
         [](const Now& now) { return moved(now, 1); }, hasElement, kOrder},
        {"backward", QT_TR_NOOP("Send back"), QT_TR_NOOP("Draw it before the one below"),
         [](const Now& now) { return moved(now, -1); }, hasElement, kOrder},
        {"front", QT_TR_NOOP("Bring to the front"), QT_TR_NOOP("Draw it after all others"),
         [](const Now& now) { return moved(now, kToTheEnd); }, hasElement, kOrder},
        {"back", QT_TR_NOOP("Send to the back"), QT_TR_NOOP("Draw it before all others"),
         [](const Now& now) { return moved(now, -kToTheEnd); }, hasElement, kOrder},
        {"keep-together", QT_TR_NOOP("Keep together"),
         QT_TR_NOOP("A click on one of them selects all; a second one the one alone"),
         [](const Now& now) { return figure::keepTogether(now.figure.id, now.elements); }, hasSeveral},
        {"apart", QT_TR_NOOP("Let apart"), QT_TR_NOOP("Each is selected alone again"),
         [](const Now& now) { return figure::letApart(now.figure.id, now.elements); }, isTogether}};
    for (const figure::Composition& c : figure::compositions()) own.push_back(lineUp(c));
    return own;
}

FigureStage::Now FigureStage::now(const Figure& figure) {
    const Element* e = document_.element() ? figure.find(document_.element()) : nullptr;
    const ElementId panel = shownPanel();
    return {.project = document_.project(),
            .figure = figure,
            .layout = page_->layoutShown(),
            .evaluator = document_.session().evaluator(),
            .panel = panel,
            .only = e ? panel : ElementId{},
            .element = e,
            .elements = document_.elements(),
            .likeliest = [this] { return likeliest({document_.dataset()}); }};
}

void FigureStage::act(const std::string& key) {
    const auto figure = shownFigure();
    if (!figure) return document_.say(tr("There is no figure yet: “+ New figure” begins one."));
    const auto action = std::ranges::find(actions(), key, &Action::key);
    if (action == actions().end() || !action->edit) return;
    const auto edit = action->edit(now(*figure));
    if (!edit) return document_.say(tr("Select what it shall work on first."));
    const std::size_t before = document_.project().figures.size();
    if (document_.apply(*edit) && document_.project().figures.size() > before) selectAfter(figure->id);
}

// Each dataset as it is drawn most likely.
std::vector<Element> FigureStage::likeliest(const std::vector<DatasetId>& datasets) {
    std::vector<Element> marks;
    const Project& p = document_.project();
    auto& evaluator = document_.session().evaluator();
    for (DatasetId id : datasets)
        if (const auto kinds = figure::likelyMarks(p, id, evaluator); !kinds.empty())
            marks.push_back(figure::markFor(p, id, kinds.front(), evaluator));
    return marks;
}

void FigureStage::offerActions(QPoint at) {
    QMenu* menu = newMenu(this);
    menu->setToolTipsVisible(true);
    const auto figure = shownFigure();
    std::map<std::string, QMenu*> groups;
    const auto add = [&](const Action& a) {
        QMenu*& within = groups[a.group];
        if (!within) within = *a.group ? menu->addMenu(tr(a.group)) : menu;
        within->setToolTipsVisible(true);
        within->addAction(tr(a.name), this, [this, key = a.key] { act(key); })->setToolTip(tr(a.tip));
    };
    // What is for the selected elements alone comes first.
    bool any = false;
    for (const Action& a : actions())
        if (figure && a.serves && a.serves(now(*figure))) {
            add(a);
            any = true;
        }
    if (any) menu->addSeparator();
    for (const Action& a : actions()) {
        if (!a.edit)
            menu->addSeparator();
        else if (!a.serves)
            add(a);
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
