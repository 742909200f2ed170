// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/figure_stage.h"

#include "analyses/fit_analysis.h"
#include "app/panes/journal_pane.h"
#include "app/panes/mark_picker.h"
#include "app/panes/other_datasets.h"
#include "app/panes/style_pane.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "figure/actions.h"
#include "figure/first_figure.h"
#include "figure/kinds.h"
#include "figure/marks/mark.h"
#include "figure/note_actions.h"
#include "session/journal_profiles.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QShortcut>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

FigureStage::FigureStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), thumbnails_(this), placing_(this), page_(new PageView(document)),
      figures_(nullptr), side_(new FigureSide(document)), size_(muted({})) {
    const auto [column, sideLayout] = layOutStage(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildStrip());
    column->addWidget(page_, 1);
    column->addWidget(buildThumbnails());
    buildBeginning();
    sideLayout->setContentsMargins(15, 10, 6, 10);
    sideLayout->addWidget(side_, 1);

    connect(page_, &PageView::drawn, this, [this] { // only then it is known for what is new
        side_->showFacts(factsOfArtwork());
        side_->showClasses(classesOfElement());
        if (side_->setTimes(page_->tellsTime(document_.element())) && !document_.isDragging())
            side_->refresh();
    });
    connect(side_, &FigureSide::stylesWanted, this, &FigureStage::editStyles);
    connect(page_, &PageView::issuesFound, side_, &FigureSide::showIssues);
    connect(page_, &PageView::hovered, this, [this](const QString& words) {
        Q_EMIT document_.readout(QString(""), words.isEmpty() || !shownFigure() ? QString(" ") : words);
    });
    connect(page_, &PageView::datasetsDropped, this, &FigureStage::drawDropped);
    connect(page_, &PageView::figureDropped, this, [this](const QString& id) {
        const auto dropped = document_.project().figures.find(FigureId::fromText(id.toStdString()));
        const auto shown = shownFigure();
        if (!dropped || !shown) return;
        std::vector<Edit> all;
        for (const Element& e : dropped->elements)
            if (e.kind == "panel") all.push_back(figure::addLinkedPanel(shown->id, e.id));
        if (!all.empty()) document_.apply(edits::together("Show panels again", all));
    });
    connect(page_, &PageView::artworkDropped, this, &FigureStage::placeFiles);
    connect(page_, &PageView::menuAsked, this, &FigureStage::offerActions);
    connect(page_, &PageView::zoomChanged, this,
            [this](double zoom) { relabel(zoom_, tr("%1 %").arg(std::lround(100 * zoom))); });
    for (const auto& [keys, does] : {std::pair{"Ctrl+Shift+C", &FigureSide::copyLook},
                                     std::pair{"Ctrl+Shift+V", &FigureSide::pasteLook}})
        connect(new QShortcut(QKeySequence(keys), this), &QShortcut::activated, side_, does);
    connect(&document_, &Document::changed, this, &FigureStage::refresh);
    connect(&document_, &Document::selectionChanged, this, &FigureStage::refresh);
    refresh();
}

QWidget* FigureStage::buildStrip() {
    QHBoxLayout* row = nullptr;
    QWidget* strip = toolStrip(row);
    draw_ =
        button(this, tr("+ Draw"), "tool",
               tr("Draw the selected dataset: pictures show how it would look. Or drag it onto the page."),
               [this] { offerMarks(); });
    row->addWidget(draw_);
    note_ = button(this, tr("+ Note"), "tool", tr("Text, arrows, brackets, shapes and scale bars"),
                   [this] { offerNotes(); });
    row->addWidget(note_);
    artwork_ = button(this, tr("+ Artwork"), "tool",
                      tr("A drawing or a picture from a file or the clipboard, or another figure. Or drop a "
                         "file onto the page."),
                      [this] { offerArtwork(); });
    row->addWidget(artwork_);
    row->addWidget(button(this, tr("+ Panel"), "tool", tr("Add a panel, with the selected dataset in it"),
                          [this] { act("panel"); }));
    arrange_ = button(this, tr("Arrange"), "tool", tr("One action each for what takes ten settings by hand"),
                      [this] { offerActions(below(arrange_)); });
    row->addWidget(arrange_);
    check_ = button(this, tr("Check"), "tool",
                    tr("What a publisher would send back: small text, thin lines, colours that look alike"),
                    [this] { checkForJournal(); });
    row->addWidget(check_);
    row->addStretch(1);
    row->addWidget(size_);
    row->addSpacing(12);
    zoom_ = button(this, tr("Fit"), "link", tr("Show the whole page, or its true size"), [this] {
        if (page_->zoom() == 0)
            page_->showTrueSize();
        else
            page_->fitToView();
    });
    row->addWidget(zoom_);
    row->addSpacing(12);
    export_ = button(this, tr("Export…"), "primary", {}, [this] { Q_EMIT exportWanted(); });
    row->addWidget(export_);
    return strip;
}

// What stands on the page's place while the project has no figure.
void FigureStage::buildBeginning() {
    auto* centre = new QVBoxLayout(page_);
    beginning_ = muted({});
    beginning_->setAlignment(Qt::AlignCenter);
    beginning_->setWordWrap(true);
    begin_ = button(this, tr("New figure"), "primary", tr("A figure of the selected dataset and its fit"),
                    [this] { addFigure(); });
    centre->addStretch(1);
    centre->addWidget(beginning_);
    centre->addSpacing(10);
    centre->addWidget(begin_, 0, Qt::AlignHCenter);
    centre->addStretch(1);
}

void FigureStage::refreshBeginning() {
    const bool none = !shownFigure(), empty = document_.project().datasets.size() == 0;
    const bool tables = document_.project().tables.size() > 0;
    beginning_->setText(empty && tables ? tr("No figure yet. Press “Make dataset…” in Data first: a figure begins with "
                                             "the selected dataset.")
                        : empty         ? tr("No figure yet. Import data first: a figure begins with the selected dataset.")
                                        : tr("No figure yet. It begins with the selected datasets and their fit."));
    beginning_->setVisible(none);
    begin_->setVisible(none && !empty);
    export_->setEnabled(!none);
    export_->setToolTip(none ? tr("There is no figure to export yet")
                             : tr("Write the figure as PDF, SVG or PNG (Ctrl+E)"));
}

std::shared_ptr<const Figure> FigureStage::shownFigure() const {
    return document_.project().figures.find(document_.figure());
}

ElementId FigureStage::shownPanel() const {
    const auto figure = shownFigure();
    return figure ? figure::panelOf(*figure, document_.element()) : ElementId{};
}

// Those that the selected mark shows on the page.
std::vector<figure::SymbolClass> FigureStage::classesOfElement() const {
    for (const figure::MarkGeometry& m : page_->layoutShown().marks)
        if (m.mark == document_.element()) return m.classes;
    return {};
}

void FigureStage::refresh() {
    if (!isVisible()) return;
    if (const auto figure = shownFigure()) {
        const draw::Rect page = figure::pageOf(document_.project(), *figure);
        size_->setText(tr("%1 × %2 mm").arg(page.width).arg(page.height));
    } else
        size_->clear();
    refreshBeginning();
    page_->refresh();
    if (document_.isDragging()) return; // brought up to date when it ends
    side_->setTimes(page_->tellsTime(document_.element()));
    side_->refresh();
    side_->showFacts(factsOfArtwork());
    side_->showClasses(classesOfElement());
    refreshThumbnails();
}

QPoint FigureStage::exportCorner(const QWidget* in) const {
    return export_->mapTo(in, export_->rect().bottomRight() + QPoint(1, 4));
}

void FigureStage::offerOtherDatasets() {
    const auto figure = shownFigure();
    if (!figure) return document_.say(tr("There is no figure yet: “+ Draw” begins one."));
    auto* popup = new OtherDatasets(document_, *figure, this);
    connect(popup, &OtherDatasets::chosen, this,
            [this, id = figure->id, name = figure->name](const edits::DatasetPairs& pairs, bool inCopy) {
                if (!inCopy)
                    document_.apply(edits::swapDatasets(id, pairs));
                else if (document_.apply(edits::copyWithDatasets(id, name + " (copy)", pairs)))
                    selectAfter(id);
            });
    popup->adjustSize();
    popup->move(mapToGlobal(QPoint((width() - popup->width()) / 2, 60)));
    popup->show();
}

void FigureStage::checkForJournal() {
    if (!shownFigure()) return document_.say(tr("There is no figure yet: “+ Draw” begins one."));
    auto profiles = journalProfiles(personalJournals());
    if (!profiles.issues.empty()) document_.say(text(profiles.issues.front().sentence()), true);
    auto* pane = new JournalPane(document_, *page_, std::move(profiles.value), this);
    pane->adjustSize();
    // Beside the page, which stays in view.
    pane->move(mapToGlobal(QPoint(width() - pane->width() - 8, 60)));
    pane->show();
}

void FigureStage::editStyles() {
    const auto figure = shownFigure();
    const auto& styles = document_.project().styles;
    if (styles.empty()) return document_.say(tr("This project has no house style."));
    auto* pane = new StylePane(document_, figure ? figure->style : styles[0].id, this);
    pane->show();
}

void FigureStage::duplicate() {
    document_.selectElement({});
    act("duplicate");
}

void FigureStage::selectAfter(FigureId figure) {
    const auto& figures = document_.project().figures;
    for (std::size_t k = 0; k + 1 < figures.size(); ++k)
        if (figures[k].id == figure) return document_.selectFigure(figures[k + 1].id);
}

void FigureStage::addFigure() {
    begin(figure::addFigureOf(document_.project(), document_.selection(), document_.analysis(),
                              document_.session().evaluator(), {document_.logX, document_.logY}));
}

void FigureStage::addFigure(const std::vector<Element>& marks) {
    begin(figure::addFigureWith(document_.project(), marks));
}

void FigureStage::begin(const Edit& figure) {
    if (document_.apply(figure))
        document_.selectFigure(document_.project().figures[document_.project().figures.size() - 1].id);
}

void FigureStage::addMarksOf(const std::vector<DatasetId>& datasets) {
    QStringList ids;
    for (DatasetId id : datasets) ids << text(id.text());
    drawDropped(ids.join(' '), static_cast<int>(figure::Drop::Join), shownPanel());
}

void FigureStage::offerMarks() {
    auto* picker = new MarkPicker(document_, this);
    connect(picker, &MarkPicker::chosen, this, &FigureStage::drawChosen);
    picker->move(below(draw_));
    picker->show();
}

void FigureStage::drawChosen(const std::vector<Element>& marks) {
    const auto figure = shownFigure();
    const auto selection = document_.selection();
    const bool ofData = std::ranges::none_of(marks, [](const Element& e) { return e.source.empty(); });
    const bool asGroup = ofData && selection.size() > 1;
    if (!figure || !figure::panelOf(*figure, {}))
        addFigure(asGroup ? std::vector{figure::groupOf(selection, marks)} : marks);
    else if (!document_.apply(asGroup
                                  ? figure::drawGroup(figure->id, shownPanel(), selection, marks)
                                  : figure::addMarks(figure->id, shownPanel(), marks, figure::Drop::Join)))
        return;
    // The new one is selected: what is set next is its own.
    const auto now = shownFigure();
    ElementId newest;
    std::function<void(const std::vector<Element>&)> walk = [&](const std::vector<Element>& elements) {
        for (const Element& e : elements) {
            if (figure::isMark(e.kind)) newest = std::max(newest, e.id);
            walk(e.children);
        }
    };
    walk(now->elements);
    document_.selectElement(newest);
}

void FigureStage::drawDropped(const QString& ids, int where, ElementId panel) {
    const auto figure = shownFigure();
    std::vector<DatasetId> datasets;
    for (const QString& word : ids.split(' ', Qt::SkipEmptyParts))
        datasets.push_back(DatasetId::fromText(word.toStdString()));
    const std::vector<Element> marks = likeliest(datasets);
    if (!figure || !figure::panelOf(*figure, {}))
        addFigure(marks);
    else if (!marks.empty())
        document_.apply(figure::addMarks(figure->id, panel, marks, static_cast<figure::Drop>(where)));
}

void FigureStage::offerNotes() {
    QMenu* menu = newMenu(this);
    menu->setToolTipsVisible(true);
    for (const figure::NewNote& n : figure::newNotes())
        menu->addAction(tr(n.name), this, [this, key = std::string(n.key)] { addNote(key); })
            ->setToolTip(tr(n.tip));
    menu->popup(below(note_));
}

// The artwork that is selected, the panel that is worked in, or the page.
ElementId FigureStage::notesGoTo(const Figure& figure) const {
    for (const Element* e : chainTo(figure.elements, document_.element()))
        if (e->kind == "artwork") return e->id;
    return shownPanel();
}

// The one in view, that of the selected dataset, or the first.
TableId FigureStage::tableInView() const {
    const Project& p = document_.project();
    if (p.tables.find(document_.table())) return document_.table();
    if (const auto d = p.datasets.find(document_.dataset()); d && p.tables.find(d->source.table))
        return d->source.table;
    return p.tables.empty() ? TableId{} : p.tables[0].id;
}

void FigureStage::addNote(const std::string& key) {
    const auto figure = shownFigure();
    if (!figure) return document_.say(tr("There is no figure yet: “+ Draw” begins one."));
    const ElementId panel = notesGoTo(*figure);
    // A text speaks of the fit that is drawn, or of the selected one.
    std::string source = document_.analysis().text();
    if (const Element* home = figure->find(panel))
        for (const Element& e : home->children)
            if (e.kind == "curve") source = e.source;
    if (key == "table") source = tableInView().text();
    if (key == "table" && source.empty()) return document_.say(tr("There is no table in this project yet."));
    std::string content = "Note";
    if (const auto a = document_.project().analyses.find(AnalysisId::fromText(source))) {
        const auto model = analyses::modelOf(a->model);
        if (model && !(*model)->parameters().empty())
            content = (*model)->parameters()[0].name + " = {" + (*model)->parameters()[0].name + "}";
    }
    const Element note = figure::noteOf(key, page_->layoutShown(), panel, source, content);
    if (!document_.apply(edits::addElement(figure->id, panel, note))) return;
    const auto now = shownFigure();
    document_.selectElement((panel ? now->find(panel)->children : now->elements).back().id);
    page_->setFocus(); // its ends can be dragged
}

} // namespace jointer::app
