// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/figure_stage.h"

#include "analyses/fit_analysis.h"
#include "app/forms/settings_form.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/kinds.h"
#include "paint/painter.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

// The chain of elements from the figure down to the wanted one.
bool chainTo(const std::vector<Element>& elements, ElementId id, std::vector<const Element*>& chain) {
    for (const Element& e : elements) {
        chain.push_back(&e);
        if (e.id == id || chainTo(e.children, id, chain)) return true;
        chain.pop_back();
    }
    return false;
}

} // namespace

std::string elementName(const Project& p, const Element& e) {
    if (e.kind == "axis") return e.settings.text("side", "bottom") == "left" ? "Left axis" : "Bottom axis";
    const KindInfo* kind = figure::elementKinds().find(e.kind);
    std::string name = kind ? kind->name : e.kind;
    if (const auto d = p.datasets.find(DatasetId::fromText(e.source))) name += " of " + d->name;
    return name;
}

FigureStage::FigureStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), thumbnails_(this), page_(new PageView(document)),
      figures_(new QListWidget), crumbs_(new QWidget), form_(new SettingsForm), size_(muted({})),
      issues_(warningLabel()), hint_(muted({})), remove_(new QPushButton(tr("Remove"))),
      reset_(new QPushButton(tr("Reset to style"))) {
    const auto [column, sideLayout] = layOutStage(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildStrip());
    column->addWidget(page_, 1);
    figures_->setViewMode(QListView::IconMode);
    figures_->setFlow(QListView::LeftToRight);
    figures_->setWrapping(false);
    figures_->setIconSize(QSize(104, 72));
    figures_->setGridSize(QSize(128, 104));
    figures_->setFixedHeight(112);
    figures_->setMovement(QListView::Static);
    figures_->setAccessibleName(tr("Figures of the project"));
    connect(figures_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        const FigureId id{item->data(Qt::UserRole).toULongLong()};
        if (id)
            document_.selectFigure(id);
        else
            addFigure();
    });
    column->addWidget(figures_);

    sideLayout->setContentsMargins(15, 10, 6, 10);
    sideLayout->addWidget(crumbs_);
    auto* inner = new QWidget;
    auto* innerLayout = new QVBoxLayout(inner);
    innerLayout->setContentsMargins(0, 0, 9, 0);
    hint_->setWordWrap(true);
    innerLayout->addWidget(hint_);
    style_ = new QComboBox;
    style_->setObjectName("houseStyle");
    style_->setAccessibleName(tr("House style"));
    style_->setToolTip(tr("House style: fonts, sizes and lines that all elements take unless they differ"));
    connect(style_, &QComboBox::activated, this, [this] {
        const StyleId id{style_->currentData().toULongLong()};
        document_.apply(
            edits::changeFigure(document_.figure(), "Choose house style", [id](Figure& f) { f.style = id; }));
    });
    innerLayout->addWidget(style_);
    innerLayout->addWidget(form_);
    innerLayout->addWidget(issues_);
    auto* buttons = new QHBoxLayout;
    reset_->setObjectName("link");
    reset_->setToolTip(tr("Take back all looks of this element that differ from the house style"));
    remove_->setToolTip(tr("Remove the element from the figure (Delete)"));
    buttons->addWidget(reset_);
    buttons->addStretch(1);
    buttons->addWidget(remove_);
    innerLayout->addLayout(buttons);
    innerLayout->addStretch(1);
    sideLayout->addWidget(paneScroll(inner, tr("Properties")), 1);

    connect(form_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        document_.apply(edits::setElement(document_.figure(), document_.element(), key.toStdString(), value));
    });
    connect(remove_, &QPushButton::clicked, this,
            [this] { document_.apply(edits::removeElement(document_.figure(), document_.element())); });
    connect(reset_, &QPushButton::clicked, this, [this] {
        const auto figure = document_.project().figures.find(document_.figure());
        const Element* e = figure ? figure->find(document_.element()) : nullptr;
        if (!e) return;
        std::vector<Edit> all;
        for (const auto& [key, value] : e->settings.entries())
            if (key != "side" && key != "text")
                all.push_back(edits::setElement(document_.figure(), e->id, key, Value()));
        document_.apply(edits::together("Reset to style", all));
    });
    connect(page_, &PageView::issuesFound, this,
            [this](const QStringList& issues) { say(issues_, issues.join("\n")); });
    connect(&document_, &Document::changed, this, &FigureStage::refresh);
    connect(&document_, &Document::selectionChanged, this, &FigureStage::refresh);
    refresh();
}

QWidget* FigureStage::buildStrip() {
    QHBoxLayout* row = nullptr;
    QWidget* strip = toolStrip(row);
    row->addWidget(button(this, tr("+ Draw…"), "tool", tr("Draw a dataset or a fit in this panel"),
                          [this] { offerMarks(); }));
    row->addWidget(button(this, tr("+ Note"), "tool",
                          tr("Add a note; {name} in braces becomes a number of the fit"),
                          [this] { addNote(); }));
    row->addStretch(1);
    row->addWidget(size_);
    row->addWidget(button(this, tr("Export…"), "primary", tr("Write the figure as PDF, SVG or PNG (Ctrl+E)"),
                          [this] { Q_EMIT exportWanted(); }));
    return strip;
}

void FigureStage::refresh() {
    if (!isVisible()) return;
    const auto figure = document_.project().figures.find(document_.figure());
    if (figure) {
        const draw::Rect page = figure::pageOf(document_.project(), *figure);
        size_->setText(tr("%1 × %2 mm").arg(page.width).arg(page.height));
    } else
        size_->clear();
    page_->refresh();
    refreshSide();
    refreshThumbnails();
}

void FigureStage::refreshSide() {
    const Project& p = document_.project();
    const auto figure = p.figures.find(document_.figure());
    const std::string wanted = (figure ? figure->id.text() + figure->name + figure->style.text() : "") + "/" +
                               document_.element().text();
    const Element* e = figure && document_.element() ? figure->find(document_.element()) : nullptr;
    const KindInfo* kind = figure ? figure::elementKinds().find(e ? e->kind : "figure") : nullptr;
    form_->setVisible(kind != nullptr);
    remove_->setVisible(e && e->kind != "axis" && e->kind != "panel");
    reset_->setVisible(e && !e->settings.empty() && e->kind != "note");
    hint_->setVisible(figure && !e);
    style_->setVisible(figure && !e);
    style_->clear();
    for (const auto& s : p.styles)
        style_->addItem(tr("House style: %1").arg(text(s->name)),
                        QVariant::fromValue<qulonglong>(s->id.value));
    if (figure)
        style_->setCurrentIndex(style_->findData(QVariant::fromValue<qulonglong>(figure->style.value)));
    hint_->setText(tr("Click an axis, a curve, the legend or a note on the page to change it; double-click "
                      "edits text in place."));
    if (!kind) {
        built_.clear();
        if (crumbs_->layout()) clearLayout(crumbs_->layout());
        return;
    }
    const auto style = p.styles.find(figure->style);
    const Settings own = e ? e->settings : figure->settings;
    const auto inForce = [kind, own, style](const std::string& key) {
        return figure::Look(*kind, own, style.get()).value(key);
    };
    if (wanted == built_) return form_->sync(own, inForce);
    built_ = wanted;
    form_->offer("step", e ? document_.placesOf(DatasetId::fromText(e->source))
                           : std::vector<std::pair<std::string, std::string>>());
    form_->show(*kind, own, inForce);

    if (QLayout* old = crumbs_->layout()) {
        clearLayout(old);
        delete old; // a layout handles no events
    }
    auto* row = new QHBoxLayout(crumbs_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(5);
    std::vector<const Element*> chain;
    if (e) chainTo(figure->elements, e->id, chain);
    auto crumb = [&](const std::string& name, ElementId id, bool last) {
        if (row->count() > 0) row->addWidget(new QLabel("›"));
        QPushButton* made = button(this, text(name), "link", {}, [this, id] { document_.selectElement(id); });
        if (last) made->setStyleSheet(QString("color: %1;").arg(theme().ink.name()));
        row->addWidget(made);
    };
    crumb(chain.empty() ? figure->name : "Figure", {}, chain.empty());
    for (const Element* c : chain) crumb(elementName(p, *c), c->id, c == chain.back());
    row->addStretch(1);
}

void FigureStage::focusSetting(ElementId element, const std::string& key) {
    document_.selectElement(element);
    refreshSide();
    form_->focusOn(key);
}

void FigureStage::refreshThumbnails() {
    const Project& p = document_.project();
    const QSignalBlocker quiet(figures_);
    const int wanted = static_cast<int>(p.figures.size()) + 1;
    while (figures_->count() > wanted) delete figures_->takeItem(figures_->count() - 1);
    while (figures_->count() < wanted) figures_->addItem(new QListWidgetItem);
    for (int i = 0; i + 1 < wanted; ++i) {
        const Figure& f = p.figures[static_cast<std::size_t>(i)];
        QListWidgetItem* item = figures_->item(i);
        item->setText(tr("%1 %2").arg(i + 1).arg(text(f.name)));
        item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(f.id.value));
        item->setSelected(f.id == document_.figure());
    }
    QListWidgetItem* fresh = figures_->item(wanted - 1);
    fresh->setText(tr("+ New figure"));
    fresh->setData(Qt::UserRole, 0);
    fresh->setIcon({});
    thumbnails_.request([this, project = p, evaluator = document_.session().sharedEvaluator()](
                            const Cancellation&) -> std::function<void()> {
        QList<QImage> pictures;
        for (const auto& f : project.figures) {
            const auto layout = figure::layOut(project, *f, *evaluator, {.pixelsPerMm = 4});
            QImage page = paint::toImage(layout.list, 90, false)
                              .scaled(208, 144, Qt::KeepAspectRatio, Qt::SmoothTransformation);
            QImage framed(208, 144, QImage::Format_ARGB32_Premultiplied);
            framed.fill(Qt::transparent);
            QPainter painter(&framed);
            painter.drawImage((208 - page.width()) / 2, (144 - page.height()) / 2, page);
            painter.end();
            framed.setDevicePixelRatio(2);
            pictures << framed;
        }
        return [this, pictures] {
            for (int i = 0; i < pictures.size() && i + 1 < figures_->count(); ++i)
                figures_->item(i)->setIcon(QIcon(QPixmap::fromImage(pictures[i])));
        };
    });
}

void FigureStage::addFigure() {
    const Project& p = document_.project();
    if (p.styles.empty()) return;
    std::vector<Element> marks;
    const auto d = document_.currentDataset();
    if (d) {
        marks.push_back(figure::newMark("points", d->id.text()));
        // Dense curves need small symbols, and error bars would hide them.
        const std::size_t n = document_.session().evaluator().measured(p, *d).value->size();
        if (n > 120) {
            marks[0].settings.set("size", Value(2.0));
            marks[0].settings.set("errors", Value(false));
        }
        if (document_.analysis()) {
            marks[0].settings.set("point", "before-smoothing");
            marks.push_back(figure::newMark("curve", document_.analysis().text()));
        }
    }
    const std::string name = "Figure " + std::to_string(p.figures.size() + 1);
    if (document_.apply(edits::addFigure(figure::newFigure(name, p.styles[0].id, marks))))
        document_.selectFigure(document_.project().figures[document_.project().figures.size() - 1].id);
}

void FigureStage::addMarksOf(const std::vector<DatasetId>& datasets) {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure || figure->elements.empty()) return addFigure();
    std::vector<Edit> all;
    for (DatasetId id : datasets)
        all.push_back(
            edits::addElement(figure->id, figure->elements[0].id, figure::newMark("points", id.text())));
    if (!all.empty()) document_.apply(edits::together(all.front().name, all));
}

void FigureStage::offerMarks() {
    const Project& p = document_.project();
    const auto figure = p.figures.find(document_.figure());
    if (!figure || figure->elements.empty()) return addFigure();
    QMenu* menu = newMenu(this);
    auto offer = [&](QMenu* under, const char* kind, const std::string& source, const QString& label) {
        connect(under->addAction(label), &QAction::triggered, this,
                [this, f = figure->id, panel = figure->elements[0].id, kind = std::string(kind), source] {
                    document_.apply(edits::addElement(f, panel, figure::newMark(kind, source)));
                });
    };
    for (const auto& d : p.datasets) {
        QMenu* sub = menu->addMenu(text(d->name));
        for (const char* kind : {"points", "line", "points-line", "area"})
            offer(sub, kind, d->id.text(), text(figure::elementKinds().find(kind)->name));
        sub->addSeparator();
        for (const auto& a : analysesOf(p, d->id))
            offer(sub, "curve", a->id.text(), tr("Fitted curve: %1").arg(text(analyses::nameOf(*a))));
    }
    menu->popup(QCursor::pos());
}

void FigureStage::addNote() {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure || figure->elements.empty()) return;
    // The note speaks of the fit that is drawn, or of the selected one.
    std::string source = document_.analysis().text();
    for (const Element& e : figure->elements[0].children)
        if (e.kind == "curve") source = e.source;
    Element note{.kind = "note", .source = source};
    std::string content = "Note";
    if (const auto a = document_.project().analyses.find(AnalysisId::fromText(source))) {
        const auto model = analyses::modelOf(a->model);
        if (model && !(*model)->parameters().empty())
            content = (*model)->parameters()[0].name + " = {" + (*model)->parameters()[0].name + "}";
    }
    note.settings.set("text", Value(content));
    const bool right = page_->emptiestCorner().x > 0.5, below = page_->emptiestCorner().y > 0.5;
    note.settings.set("x", Value(right ? 0.95 : 0.05));
    note.settings.set("y", Value(below ? 0.12 : 0.95));
    if (right) note.settings.set("align", "right");
    if (!document_.apply(edits::addElement(figure->id, figure->elements[0].id, note))) return;
    const auto now = document_.project().figures.find(document_.figure());
    document_.selectElement(now->elements[0].children.back().id);
}

} // namespace jointer::app
