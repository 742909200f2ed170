// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/span_fields.h"

#include "app/forms/number_text.h"
#include "app/widgets.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

SpanFields::SpanFields(QWidget* parent)
    : QWidget(parent), rows_(new QVBoxLayout), further_(new QWidget), side_(new QComboBox) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    rows_->setSpacing(4);
    layout->addLayout(rows_);
    side_->setObjectName("spanSide");
    side_->addItem(tr("inside"));
    side_->addItem(tr("outside"));
    side_->setAccessibleName(tr("Inside or outside"));
    side_->setToolTip(tr("Whether the points in the span count, or those outside of it"));
    connect(side_, &QComboBox::activated, this, [this](int index) {
        Span next = span_;
        next.outside = index == 1;
        give(std::move(next));
    });
    auto* row = new QHBoxLayout(further_);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(side_, 1);
    auto* more =
        button(this, tr("+ piece"), "link", tr("One more piece of x (Shift with the tool Span)"), [this] {
            Span next = span_;
            // A piece of its own width beyond the last, to be changed.
            const double last = span_.high(), first = span_.low();
            const double width = std::isfinite(last - first) && last > first ? last - first : 1;
            const double from = std::isfinite(last) ? last + 0.1 * width : 0;
            next.pieces.emplace_back(from, from + width / 2);
            give(std::move(next));
        });
    more->setAccessibleName(tr("One more piece"));
    row->addWidget(more);
    layout->addWidget(further_);
    build(1);
}

SpanFields::Piece SpanFields::addPiece(std::size_t number, bool removable) {
    Piece piece{.row = new QWidget, .low = new QLineEdit, .high = new QLineEdit};
    auto* row = new QHBoxLayout(piece.row);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(3);
    // The first pair keeps its plain name: most spans have one piece.
    const QString suffix = number == 0 ? QString() : QString::number(number + 1);
    piece.low->setObjectName("spanLow" + suffix);
    piece.high->setObjectName("spanHigh" + suffix);
    for (QLineEdit* end : {piece.low, piece.high}) {
        end->setPlaceholderText(tr("all"));
        end->setMinimumWidth(40);
        end->setProperty("tight", true);
        end->setToolTip(tr("End of the span; also drag it on the plot, or use the Span tool."));
        end->setAccessibleName(tr("Span"));
        connect(end, &QLineEdit::editingFinished, this, [this, number] { take(number); });
    }
    row->addWidget(piece.low);
    row->addWidget(new QLabel("…"));
    row->addWidget(piece.high);
    if (removable)
        row->addWidget(button(this, "×", "link", tr("Without this piece"), [this, number] {
            Span next = span_;
            if (number < next.pieces.size())
                next.pieces.erase(next.pieces.begin() + static_cast<std::ptrdiff_t>(number));
            give(std::move(next));
        }));
    rows_->addWidget(piece.row);
    return piece;
}

void SpanFields::build(std::size_t count) {
    for (const Piece& piece : pieces_) piece.row->deleteLater(), piece.row->hide();
    pieces_.clear();
    for (std::size_t k = 0; k < count; ++k) pieces_.push_back(addPiece(k, count > 1));
}

void SpanFields::show(const Span& span) {
    span_ = span;
    const std::size_t count = std::max<std::size_t>(1, span.pieces.size());
    if (pieces_.size() != count) build(count);
    fill();
}

void SpanFields::fill() {
    for (std::size_t k = 0; k < pieces_.size(); ++k) {
        const auto [low, high] =
            k < span_.pieces.size() ? span_.pieces[k] : std::pair(-double(INFINITY), double(INFINITY));
        for (const auto& [field, end] : {std::pair(pieces_[k].low, low), std::pair(pieces_[k].high, high)})
            if (!field->hasFocus()) field->setText(endText(end)), field->setCursorPosition(0);
    }
    side_->setCurrentIndex(span_.outside ? 1 : 0);
    further_->setVisible(!span_.isAll());
}

void SpanFields::take(std::size_t number) {
    if (number >= pieces_.size()) return;
    const Piece& fields = pieces_[number];
    const auto now =
        number < span_.pieces.size() ? span_.pieces[number] : std::pair(-double(INFINITY), double(INFINITY));
    const double low = fields.low->text().isEmpty() ? -INFINITY
                                                    : numberIn(fields.low->text()).value_or(now.first),
                 high = fields.high->text().isEmpty() ? INFINITY
                                                      : numberIn(fields.high->text()).value_or(now.second);
    const bool same = endText(low) == endText(now.first) && endText(high) == endText(now.second);
    if (!same && low < high) {
        Span next = span_;
        if (number < next.pieces.size())
            next.pieces[number] = {low, high};
        else
            next.pieces = {{low, high}};
        const bool all = std::isinf(low) && std::isinf(high) && next.pieces.size() == 1;
        if (all) next = {};
        return give(std::move(next));
    }
    fields.low->setText(endText(now.first));
    fields.high->setText(endText(now.second));
}

void SpanFields::give(Span span) {
    span_ = std::move(span); // it will come back so
    Q_EMIT changed(span_);
}

} // namespace jointer::app
