// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/text_completion.h"

#include "app/widgets.h"
#include "draw/signs.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QLineEdit>
#include <QRegularExpression>
#include <QStandardItemModel>
#include <QStyledItemDelegate>

namespace jointer::app {

namespace {

constexpr int kMost = 60, kShown = 9, kInsertion = Qt::UserRole + 1;

void add(QStandardItemModel& model, const QString& shown, const QString& insertion) {
    auto* item = new QStandardItem(shown);
    item->setData(insertion, kInsertion);
    item->setEditable(false);
    model.appendRow(item);
}

} // namespace

TextCompletion::TextCompletion(QLineEdit* field, Names names)
    : QObject(field), field_(field), names_(std::move(names)), model_(new QStandardItemModel(this)),
      completer_(new QCompleter(this)) {
    completer_->setWidget(field);
    completer_->setModel(model_);
    completer_->setCompletionMode(QCompleter::UnfilteredPopupCompletion);
    completer_->popup()->setObjectName("completion");
    completer_->popup()->setItemDelegate(new QStyledItemDelegate(this)); // the style sheet reaches no other
    completer_->setMaxVisibleItems(kShown);
    connect(field, &QLineEdit::textEdited, this, &TextCompletion::offer);
    connect(completer_, qOverload<const QModelIndex&>(&QCompleter::activated), this,
            [this](const QModelIndex& index) { take(index.data(kInsertion).toString()); });
}

bool TextCompletion::isOpen() const {
    return completer_->popup()->isVisible();
}

// What stands before the cursor decides.
void TextCompletion::offer() {
    static const QRegularExpression sign("\\\\([A-Za-z]*)$"),
        name("(?:^|[^\\\\A-Za-z^_\\]])\\{([A-Za-z][^{}:\\\\]*|)$");
    const QString before = field_->text().left(field_->cursorPosition());
    model_->clear();
    if (const auto found = sign.match(before); found.hasMatch()) {
        from_ = static_cast<int>(found.capturedStart());
        for (const draw::Sign* s : draw::signsLike(found.captured(1).toStdString())) {
            if (model_->rowCount() >= kMost) break;
            const QString command =
                QString("\\") + QString::fromUtf8(s->name.data(), static_cast<qsizetype>(s->name.size()));
            const QString character =
                QString::fromUtf8(s->character.data(), static_cast<qsizetype>(s->character.size()));
            add(*model_, character + "   " + command, command);
        }
        if (model_->rowCount() == 1 && model_->item(0)->data(kInsertion).toString() == found.captured(0))
            model_->clear(); // it stands already
    } else if (const auto braces = name.match(before); braces.hasMatch() && names_) {
        from_ = static_cast<int>(braces.capturedStart(1)) - 1;
        for (const auto& [key, now] : names_())
            if (text(key).startsWith(braces.captured(1), Qt::CaseInsensitive))
                add(*model_, text(key) + "   " + text(now), "{" + text(key) + "}");
    }
    if (model_->rowCount() == 0) return completer_->popup()->hide();
    QRect at = field_->rect();
    at.setWidth(std::max(260, completer_->popup()->sizeHintForColumn(0) + 30));
    completer_->complete(at);
    completer_->popup()->setCurrentIndex(completer_->completionModel()->index(0, 0));
}

void TextCompletion::take(const QString& insertion) {
    QString all = field_->text();
    const int cursor = field_->cursorPosition();
    const bool letterFollows = cursor < all.size() && all[cursor].isLetter() && insertion.startsWith('\\');
    const QString put = insertion + (letterFollows ? "{}" : "");
    all.replace(from_, cursor - from_, put);
    field_->setText(all);
    field_->setCursorPosition(from_ + static_cast<int>(put.size()));
    Q_EMIT field_->textEdited(all);
}

} // namespace jointer::app
