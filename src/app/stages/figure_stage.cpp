// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/figure_stage.h"

#include "app/forms/settings_form.h"
#include "app/theme/theme.h"
#include "figure/kinds.h"
#include "paint/painter.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

namespace {

constexpr double kTrueSize = 96 / 25.4; // pixels per mm
constexpr double kRuler = 24;

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

// The chain of elements from the figure down to the wanted one.
bool chainTo(const std::vector<Element>& elements, ElementId id, std::vector<const Element*>& chain) {
    for (const Element& e : elements) {
        chain.push_back(&e);
        if (e.id == id || chainTo(e.children, id, chain)) return true;
        chain.pop_back();
    }
    return false;
}

std::string nameOf(const Project& p, const Element& e) {
    if (e.kind == "axis") return e.settings.text("side", "bottom") == "left" ? "Left axis" : "Bottom axis";
    const KindInfo* kind = figure::findKind(e.kind);
    std::string name = kind ? kind->name : e.kind;
    if (const auto d = p.datasets.find(DatasetId::fromText(e.source))) name += " of " + d->name;
    return name;
}

} // namespace

PageView::PageView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), editor_(new QLineEdit(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(300, 200);
    setAccessibleName(tr("Page"));
    editor_->hide();
}

double PageView::pixelsPerMm() const {
    if (zoom_ > 0) return zoom_ * kTrueSize;
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return kTrueSize;
    const draw::Rect page = figure::pageOf(document_.project(), *figure);
    return std::min((width() - kRuler - 50) / page.width, (height() - kRuler - 40) / page.height);
}

QPointF PageView::origin() const {
    const double s = pixelsPerMm();
    const QSizeF size(layout_.list.widthMm * s, layout_.list.heightMm * s);
    const QPointF at =
        QPointF((width() - size.width()) / 2, kRuler + (height() - kRuler - size.height()) / 2) + pan_;
    return {std::round(at.x()), std::round(at.y())}; // whole pixels, so that the picture is not blurred
}

void PageView::refresh() {
    const int number = ++wanted_;
    const auto figure = document_.project().figures.find(document_.figure());
    const double perMm = pixelsPerMm() * devicePixelRatioF();
    if (!figure) {
        layout_ = {};
        picture_ = {};
        shown_ = number;
        update();
        return;
    }
    job_.request(
        [this, number, figure, perMm, project = document_.project(),
         evaluator = document_.session().sharedEvaluator()](const Cancellation&) -> std::function<void()> {
            auto layout = std::make_shared<figure::Layout>(
                figure::layOut(project, *figure, *evaluator, {.pixelsPerMm = perMm}));
            QImage image = paint::toImage(layout->list, std::min(perMm * 25.4, 2000.0), false);
            return [this, number, image, layout] {
                picture_ = image;
                layout_ = *layout;
                shown_ = number;
                QStringList issues;
                for (const Issue& i : layout_.issues) issues << text(i.text);
                Q_EMIT issuesFound(issues);
                update();
                Q_EMIT drawn();
            };
        });
}

void PageView::resizeEvent(QResizeEvent*) {
    refresh();
}

QRectF PageView::regionOf(ElementId id) const {
    const double s = pixelsPerMm();
    for (const draw::Region& r : layout_.list.regions)
        if (r.element == id)
            return QRectF(origin() + QPointF(r.bounds.x, r.bounds.y) * s,
                          QSizeF(r.bounds.width, r.bounds.height) * s);
    return {};
}

void PageView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().dark ? QColor("#17191A") : QColor("#E7E3DA"));
    if (picture_.isNull()) {
        p.setPen(theme().muted);
        p.drawText(
            rect().adjusted(30, 30, -30, -30), Qt::AlignCenter | Qt::TextWordWrap,
            tr("No figure yet. Press “New figure” below: it begins with the selected dataset and its fit."));
        return;
    }
    const double s = pixelsPerMm();
    const QRectF page(origin(), QSizeF(layout_.list.widthMm * s, layout_.list.heightMm * s));
    p.fillRect(page.translated(3, 3), QColor(0, 0, 0, 28));
    // While a zoom is being computed the old picture stands in for the new one.
    const QSizeF own = QSizeF(picture_.size()) / devicePixelRatioF();
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    if (std::abs(own.width() - page.width()) < 1)
        p.drawImage(QRectF(page.topLeft(), own), picture_);
    else
        p.drawImage(page, picture_);
    p.setPen(theme().line);
    p.drawRect(page);
    drawRulers(p);
    const QRectF selected = regionOf(document_.element());
    if (!selected.isEmpty()) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(theme().copper, 1.3, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(selected.adjusted(-2, -2, 2, 2));
    }
}

void PageView::drawRulers(QPainter& p) const {
    const double s = pixelsPerMm(), left = origin().x();
    const double step = s * 10 > 45 ? 10 : s * 20 > 45 ? 20 : 50;
    QFont small = font();
    small.setPointSizeF(8);
    p.setFont(small);
    p.setPen(theme().muted);
    for (double mm = 0; mm <= layout_.list.widthMm + 1e-9; mm += step / 4) {
        const double x = left + mm * s;
        const bool numbered = std::fmod(mm, step) < 1e-9;
        p.drawLine(QPointF(x, numbered ? 15 : 19), QPointF(x, kRuler));
        if (numbered) p.drawText(QRectF(x - 20, 0, 40, 14), Qt::AlignCenter, QString::number(mm));
    }
}

ElementId PageView::elementAt(QPointF pixels) const {
    const double s = pixelsPerMm();
    const QPointF mm = (pixels - origin()) / s;
    for (auto r = layout_.list.regions.rbegin(); r != layout_.list.regions.rend(); ++r) {
        const bool panel =
            std::ranges::any_of(layout_.panels, [&](const auto& g) { return g.panel == r->element; });
        if (r->bounds.contains({mm.x(), mm.y()}) && !panel) return r->element;
    }
    // Inside a panel the nearest curve or point wins, then the panel.
    const double reach = 5 / s;
    ElementId best;
    double distance = reach;
    auto consider = [&](ElementId id, const draw::Point& a) {
        const double d = std::hypot(a.x - mm.x(), a.y - mm.y());
        if (d < distance) distance = d, best = id;
    };
    for (const draw::Item& item : layout_.list.items) {
        const auto* group = std::get_if<draw::Group>(&item.what);
        if (!group) continue;
        for (const draw::Item& inner : group->items) {
            if (const auto* symbols = std::get_if<draw::Symbols>(&inner.what))
                for (const draw::Point& at : symbols->places) consider(item.element, at);
            if (const auto* path = std::get_if<draw::Path>(&inner.what))
                for (const draw::Polyline& line : path->lines)
                    for (std::size_t i = 0; i + 1 < line.points.size(); ++i)
                        for (double t : {0.0, 0.5})
                            consider(item.element,
                                     {line.points[i].x + t * (line.points[i + 1].x - line.points[i].x),
                                      line.points[i].y + t * (line.points[i + 1].y - line.points[i].y)});
        }
    }
    if (best) return best;
    for (const auto& g : layout_.panels)
        if (g.area.contains({mm.x(), mm.y()})) return g.panel;
    return {};
}

void PageView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    from_ = e->position();
    if (e->button() == Qt::MiddleButton) {
        panning_ = true;
        return;
    }
    const ElementId id = elementAt(from_);
    document_.selectElement(id);
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* element = figure ? figure->find(id) : nullptr;
    draggedNote_ = element && element->kind == "note" && e->button() == Qt::LeftButton ? id : ElementId{};
}

// A dragged note moves by the same distance in its own coordinates.
void PageView::mouseMoveEvent(QMouseEvent* e) {
    if (panning_) {
        pan_ += e->position() - from_;
        from_ = e->position();
        update();
        return;
    }
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* note = figure && draggedNote_ ? figure->find(draggedNote_) : nullptr;
    if (!note || layout_.panels.empty() || QLineF(from_, e->position()).length() < 1) return;
    const QPointF mm = (e->position() - from_) / pixelsPerMm();
    from_ = e->position();
    const figure::PanelGeometry& g = layout_.panels.front();
    const std::string anchor = note->settings.text("anchor", "panel");
    double x = note->settings.number("x", 0.05), y = note->settings.number("y", 0.95);
    if (anchor == "panel")
        x += mm.x() / g.area.width, y -= mm.y() / g.area.height;
    else if (anchor == "page")
        x += mm.x(), y += mm.y();
    else
        x = g.x.value(g.x.place(x) + mm.x()), y = g.y.value(g.y.place(y) + mm.y());
    const Edit move =
        edits::together("Move note", {edits::setElement(document_.figure(), draggedNote_, "x", Value(x)),
                                      edits::setElement(document_.figure(), draggedNote_, "y", Value(y))});
    document_.apply({move.name, "move " + draggedNote_.text(), move.apply});
}

void PageView::mouseReleaseEvent(QMouseEvent*) {
    panning_ = false;
    if (draggedNote_) document_.session().endMerging();
    draggedNote_ = {};
}

void PageView::mouseDoubleClickEvent(QMouseEvent* e) {
    editText(elementAt(e->position()));
}

// Text in place: axis names, notes, the panel's title.
void PageView::editText(ElementId id) {
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* e = figure ? figure->find(id) : nullptr;
    if (!e) return;
    const char* key = e->kind == "axis"    ? "name"
                      : e->kind == "note"  ? "text"
                      : e->kind == "panel" ? "title"
                                           : nullptr;
    if (!key) return;
    const QRectF region = regionOf(id);
    QString now = text(e->settings.text(key));
    editor_->setText(now.replace("\n", "\\n"));
    editor_->setGeometry(
        QRectF(QPointF(std::clamp(region.center().x() - 110, 4.0, width() - 224.0), region.center().y() - 14),
               QSizeF(220, 28))
            .toRect());
    editor_->setAccessibleName(tr("Text"));
    editor_->show();
    editor_->setFocus();
    editor_->selectAll();
    disconnect(editor_, nullptr, this, nullptr);
    connect(editor_, &QLineEdit::editingFinished, this, [this, id, key] {
        if (!editor_->isVisible()) return;
        editor_->hide();
        const std::string typed = editor_->text().replace("\\n", "\n").toStdString();
        document_.apply(
            edits::setElement(document_.figure(), id, key, typed.empty() ? Value() : Value(typed)));
        setFocus();
    });
}

void PageView::wheelEvent(QWheelEvent* e) {
    const double before = pixelsPerMm(), after = std::clamp(before * std::pow(1.0015, e->angleDelta().y()),
                                                            0.3 * kTrueSize, 12 * kTrueSize);
    const QPointF centre(width() / 2.0, kRuler + (height() - kRuler) / 2.0);
    pan_ = (pan_ + centre - e->position()) * (after / before) + e->position() - centre;
    zoom_ = after / kTrueSize;
    refresh();
}

void PageView::fitToView() {
    zoom_ = 0;
    pan_ = {};
    refresh();
}

void PageView::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) {
        editor_->hide();
        if (document_.element())
            document_.selectElement({});
        else
            fitToView();
    } else if ((e->key() == Qt::Key_Delete || e->key() == Qt::Key_Backspace) && document_.element())
        document_.apply(edits::removeElement(document_.figure(), document_.element()));
    else
        QWidget::keyPressEvent(e);
}

FigureStage::FigureStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), thumbnails_(this), page_(new PageView(document)),
      figures_(new QListWidget), crumbs_(new QWidget), form_(new SettingsForm), size_(new QLabel),
      issues_(new QLabel), hint_(new QLabel), remove_(new QPushButton(tr("Remove"))),
      reset_(new QPushButton(tr("Reset to style"))) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* middle = new QWidget;
    middle->setObjectName("middle");
    middle->setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(middle);
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
    row->addWidget(middle, 1);

    auto* side = new QWidget;
    side->setObjectName("side");
    side->setAttribute(Qt::WA_StyledBackground);
    side->setFixedWidth(296);
    auto* sideLayout = new QVBoxLayout(side);
    sideLayout->setContentsMargins(15, 10, 6, 10);
    sideLayout->addWidget(crumbs_);
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inner = new QWidget;
    auto* innerLayout = new QVBoxLayout(inner);
    innerLayout->setContentsMargins(0, 0, 9, 0);
    inner->setMaximumWidth(268); // the form fits the pane, never the other way round
    hint_->setObjectName("muted");
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
    issues_->setObjectName("warning");
    issues_->setWordWrap(true);
    issues_->hide();
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
    scroll->setWidget(inner);
    sideLayout->addWidget(scroll, 1);
    row->addWidget(side);

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
    connect(page_, &PageView::issuesFound, this, [this](const QStringList& issues) {
        issues_->setText(issues.join("\n"));
        issues_->setVisible(!issues.isEmpty());
    });
    connect(&document_, &Document::changed, this, &FigureStage::refresh);
    connect(&document_, &Document::selectionChanged, this, &FigureStage::refresh);
    refresh();
}

QWidget* FigureStage::buildStrip() {
    auto* strip = new QWidget;
    strip->setObjectName("toolStrip");
    strip->setAttribute(Qt::WA_StyledBackground);
    strip->setFixedHeight(36);
    auto* row = new QHBoxLayout(strip);
    row->setContentsMargins(10, 3, 10, 3);
    auto add = [&](const QString& label, const QString& tip, auto slot) {
        auto* button = new QPushButton(label);
        button->setObjectName("tool");
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, slot);
        row->addWidget(button);
        return button;
    };
    add(tr("+ Draw…"), tr("Draw a dataset or a fit in this panel"), &FigureStage::offerMarks);
    add(tr("+ Note"), tr("Add a note; {name} in braces becomes a number of the fit"), &FigureStage::addNote);
    row->addStretch(1);
    size_->setObjectName("muted");
    row->addWidget(size_);
    auto* save = new QPushButton(tr("Export…"));
    save->setObjectName("primary");
    save->setToolTip(tr("Write the figure as PDF, SVG or PNG (Ctrl+E)"));
    connect(save, &QPushButton::clicked, this, &FigureStage::exportWanted);
    row->addWidget(save);
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
    const std::string wanted =
        (figure ? figure->id.text() + figure->name + figure->style.text() : "") + "/" + document_.element().text();
    const Element* e = figure && document_.element() ? figure->find(document_.element()) : nullptr;
    const KindInfo* kind = figure ? figure::findKind(e ? e->kind : "figure") : nullptr;
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
    if (!kind) return;
    const auto style = p.styles.find(figure->style);
    const Settings own = e ? e->settings : figure->settings;
    const auto inForce = [kind, own, style](const std::string& key) {
        return figure::Look(*kind, own, style.get()).value(key);
    };
    if (wanted == built_) return form_->sync(own, inForce);
    built_ = wanted;
    form_->show(*kind, own, inForce);

    if (QLayout* old = crumbs_->layout()) {
        while (QLayoutItem* item = old->takeAt(0)) {
            delete item->widget();
            delete item;
        }
        delete old;
    }
    auto* row = new QHBoxLayout(crumbs_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(5);
    std::vector<const Element*> chain;
    if (e) chainTo(figure->elements, e->id, chain);
    auto crumb = [&](const std::string& name, ElementId id, bool last) {
        if (row->count() > 0) row->addWidget(new QLabel("›"));
        auto* button = new QPushButton(text(name));
        button->setObjectName("link");
        if (last) button->setStyleSheet(QString("color: %1;").arg(theme().ink.name()));
        connect(button, &QPushButton::clicked, this, [this, id] { document_.selectElement(id); });
        row->addWidget(button);
    };
    crumb(chain.empty() ? figure->name : "Figure", {}, chain.empty());
    for (const Element* c : chain) crumb(nameOf(p, *c), c->id, c == chain.back());
    row->addStretch(1);
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

void FigureStage::addMarksOf(DatasetId dataset) {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure || figure->elements.empty()) return addFigure();
    document_.apply(
        edits::addElement(figure->id, figure->elements[0].id, figure::newMark("points", dataset.text())));
}

void FigureStage::offerMarks() {
    const Project& p = document_.project();
    const auto figure = p.figures.find(document_.figure());
    if (!figure || figure->elements.empty()) return addFigure();
    QMenu menu;
    auto offer = [&](QMenu* under, const char* kind, const std::string& source, const QString& label) {
        connect(under->addAction(label), &QAction::triggered, this,
                [this, f = figure->id, panel = figure->elements[0].id, kind = std::string(kind), source] {
                    document_.apply(edits::addElement(f, panel, figure::newMark(kind, source)));
                });
    };
    for (const auto& d : p.datasets) {
        QMenu* sub = menu.addMenu(text(d->name));
        for (const char* kind : {"points", "line", "points-line", "area"})
            offer(sub, kind, d->id.text(), text(figure::findKind(kind)->name));
        sub->addSeparator();
        for (const auto& a : analysesOf(p, d->id))
            offer(sub, "curve", a->id.text(), tr("Fitted curve: %1").arg(text(a->name)));
    }
    menu.exec(QCursor::pos());
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
        const auto model = evaluate::modelOf(a->model);
        if (model && !(*model)->parameters().empty())
            content = (*model)->parameters()[0].name + " = {" + (*model)->parameters()[0].name + "}";
    }
    note.settings.set("text", Value(content));
    if (!document_.apply(edits::addElement(figure->id, figure->elements[0].id, note))) return;
    const auto now = document_.project().figures.find(document_.figure());
    document_.selectElement(now->elements[0].children.back().id);
}

} // namespace jointer::app
