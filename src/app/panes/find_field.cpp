// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/find_field.h"

#include <QKeyEvent>
#include <QListWidget>
#include <QRegularExpression>
#include <algorithm>

namespace jointer::app {

namespace {
constexpr int kWidth = 360, kRow = 24, kMostRows = 14;
}

FindField::FindField(std::function<std::vector<Findable>()> list, QWidget* parent)
    : QLineEdit(parent), list_(std::move(list)), found_(new QListWidget(this)) {
    setObjectName("find");
    setPlaceholderText(tr("Find anything   Ctrl K"));
    setFixedWidth(170);
    setAccessibleName(tr("Find"));
    setToolTip(tr("Find an action, step, model, dataset or setting by a few letters (Ctrl+K)"));
    found_->setObjectName("found");
    found_->setWindowFlags(Qt::ToolTip);
    found_->setFocusPolicy(Qt::NoFocus);
    found_->hide();
    connect(this, &QLineEdit::textEdited, this, &FindField::offer);
    connect(this, &QLineEdit::returnPressed, this, &FindField::run);
    connect(found_, &QListWidget::itemClicked, this, &FindField::run);
}

void FindField::begin() {
    setFocus();
    selectAll();
}

// Each group of letters typed must occur, in any order; what begins a word comes first, and before all what
// has no further words.
void FindField::offer(const QString& typed) {
    const QStringList words = typed.simplified().toLower().split(' ', Qt::SkipEmptyParts);
    offered_.clear();
    found_->clear();
    if (words.isEmpty()) return found_->hide();
    std::vector<std::pair<int, Findable>> ranked;
    for (Findable& entry : list_()) {
        const QString path = entry.path.toLower();
        int rank = 0;
        const bool fits = std::ranges::all_of(words, [&](const QString& word) {
            const bool beginsWord = path.startsWith(word) || path.contains(" " + word);
            rank += 2 * !beginsWord;
            return beginsWord || path.contains(word);
        });
        static const QRegularExpression between("[^\\w]+", QRegularExpression::UseUnicodePropertiesOption);
        rank += path.split(between, Qt::SkipEmptyParts).size() > words.size();
        if (fits) ranked.emplace_back(rank, std::move(entry));
    }
    std::ranges::stable_sort(ranked, {}, &std::pair<int, Findable>::first);
    for (auto& [rank, entry] : ranked) {
        found_->addItem(entry.shortcut.isEmpty() ? entry.path : entry.path + "   " + entry.shortcut);
        offered_.push_back(std::move(entry));
    }
    if (offered_.empty()) return found_->hide();
    found_->setCurrentRow(0);
    const QPoint at = mapToGlobal(QPoint(width() - kWidth, height() + 2));
    found_->setGeometry(at.x(), at.y(), kWidth, std::min(kMostRows, found_->count()) * kRow + 8);
    found_->show();
    found_->raise();
}

void FindField::runFirst(const QString& words) {
    offer(words);
    run();
}

void FindField::leave() {
    found_->hide();
    clear();
    clearFocus();
}

void FindField::run() {
    const int row = found_->currentRow();
    const bool there = row >= 0 && row < static_cast<int>(offered_.size());
    const auto chosen = there ? offered_[static_cast<std::size_t>(row)].run : std::function<void()>{};
    offered_.clear();
    leave();
    if (chosen) chosen();
}

void FindField::keyPressEvent(QKeyEvent* e) {
    switch (e->key()) {
    case Qt::Key_Down:
    case Qt::Key_Up:
        found_->setCurrentRow(std::clamp(found_->currentRow() + (e->key() == Qt::Key_Down ? 1 : -1), 0,
                                         std::max(0, found_->count() - 1)));
        return;
    case Qt::Key_Escape:
        return leave();
    default:
        QLineEdit::keyPressEvent(e);
    }
}

void FindField::focusOutEvent(QFocusEvent* e) {
    found_->hide();
    QLineEdit::focusOutEvent(e);
}

} // namespace jointer::app
