// SPDX-License-Identifier: GPL-3.0-or-later
// Text of the page edited where it stands.
#include "app/canvas/page_view.h"
#include "app/forms/text_completion.h"
#include "app/widgets.h"
#include "figure/anchors.h"
#include "figure/kinds.h"
#include "project/figure_edits.h"

#include <QLineEdit>

namespace jointer::app {

namespace {

const QString kLineBreak = "\\\\"; // in a field of one line; \n would swallow the beginning of \nu

} // namespace

// Text in place: axis names, notes, the panel's title, what a mark is called in the legend.
void PageView::editText(ElementId id) {
    const auto figure = shownFigure();
    const Element* e = figure ? figure->find(id) : nullptr;
    if (!e) return;
    const KindInfo* kind = figure::elementKinds().find(e->kind);
    const char* key = e->kind == "axis"                           ? "name"
                      : figure::isNote(e->kind)                   ? "text"
                      : figure::isPanel(e->kind) || e->kind == "legend" ? "title"
                      : e->kind == "colour-bar"                   ? "name"
                      : kind && kind->find("label")               ? "label"
                                                                  : nullptr;
    if (!key) return;
    edited_ = id;
    const auto bounds = figure::boundsOf(layout_, {id, {}});
    const QRectF region =
        bounds ? onScreen({bounds->x, bounds->y, bounds->width, bounds->height}) : QRectF(rect());
    const std::string before = e->settings.text(key);
    editor_->setText(text(before).replace("\n", kLineBreak));
    const double width = std::min<double>(320, this->width() - 16);
    editor_->setGeometry(
        QRectF(QPointF(std::clamp(region.center().x() - width / 2, 8.0, this->width() - width - 8.0),
                       std::clamp(region.center().y() - 14, 4.0, height() - 34.0)),
               QSizeF(width, 28))
            .toRect());
    editor_->setPlaceholderText(tr("Text; \\ offers signs, { offers numbers, \\\\ begins a line"));
    editor_->setAccessibleName(tr("Text"));
    editor_->show();
    editor_->setFocus();
    editor_->selectAll();
    disconnect(editor_, nullptr, this, nullptr);
    auto typed = [this] { return editor_->text().replace(kLineBreak, "\n").toStdString(); };
    document_.beginDrag(); // what is typed is one entry, and shows at once as it is set
    connect(editor_, &QLineEdit::textEdited, this, [this, id, key, typed] {
        const std::string words = typed();
        document_.apply(
            edits::setElement(document_.figure(), id, key, words.empty() ? Value() : Value(words)));
    });
    const auto finish = [this] {
        if (editor_->isHidden() || completion_->isOpen()) return; // Return takes what is offered
        editor_->hide();
        document_.endDrag();
        setFocus();
    };
    connect(editor_, &QLineEdit::editingFinished, this, finish);
    connect(editor_, &QLineEdit::returnPressed, this, finish);
}

} // namespace jointer::app
