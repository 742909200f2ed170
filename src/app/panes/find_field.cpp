// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/find_field.h"

#include <QKeyEvent>
#include <QListWidget>
#include <QRegularExpression>
#include <algorithm>
#include <optional>

namespace jointer::app {

namespace {
constexpr int kWidth = 360, kRow = 24, kMostRows = 14;
constexpr int kMissing = 1000; // rank of a word that does not occur
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
    found_->setTextElideMode(Qt::ElideRight);
    found_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    found_->hide();
    connect(this, &QLineEdit::textEdited, this, &FindField::offer);
    connect(this, &QLineEdit::returnPressed, this, &FindField::run);
    connect(found_, &QListWidget::itemClicked, this, &FindField::run);
}

void FindField::begin() {
    setFocus();
    selectAll();
}

namespace {

// What stands first has the lowest; none: no word occurs. What begins a word comes before what stands
// within one, and before all what has no further words; words of the purpose come last, then what lacks one.
std::optional<int> rankOf(const Findable& entry, const QStringList& words) {
    static const QRegularExpression between("[^\\w]+", QRegularExpression::UseUnicodePropertiesOption);
    const QString path = entry.path.toLower(), purpose = entry.purpose.toLower();
    int rank = 0;
    qsizetype missing = 0;
    for (const QString& word : words) {
        if (path.startsWith(word) || path.contains(" " + word)) continue;
        if (path.contains(word))
            rank += 2;
        else if (purpose.startsWith(word) || purpose.contains(" " + word))
            rank += 20;
        else
            ++missing;
    }
    if (missing == words.size()) return std::nullopt;
    const QString name = path.section(QString::fromUtf8("› "), -1);
    rank += !name.startsWith(words.front()) && !path.startsWith(words.front()); // else it is called so
    return kMissing * static_cast<int>(missing) + 2 * rank +
           (path.split(between, Qt::SkipEmptyParts).size() > words.size());
}

// Small words tell nothing, unless there are no others.
QStringList wordsOf(const QString& typed) {
    static const QStringList small = {"a", "an", "the", "of", "to", "in", "for", "with"};
    const QStringList all = typed.simplified().toLower().split(' ', Qt::SkipEmptyParts);
    QStringList telling = all;
    telling.removeIf([](const QString& word) { return small.contains(word); });
    return telling.isEmpty() ? all : telling;
}

} // namespace

void FindField::offer(const QString& typed) {
    const QStringList words = wordsOf(typed);
    offered_.clear();
    found_->clear();
    if (words.isEmpty()) return found_->hide();
    std::vector<std::pair<int, Findable>> ranked;
    for (Findable& entry : list_())
        if (const auto rank = rankOf(entry, words)) ranked.emplace_back(*rank, std::move(entry));
    std::ranges::stable_sort(ranked, {}, &std::pair<int, Findable>::first);
    // Others than those that have the most words are no answer; with a word missing none is taken unseen.
    const int most = ranked.empty() ? 0 : ranked.front().first / kMissing;
    for (auto& [rank, entry] : ranked) {
        if (rank / kMissing > most) break;
        QString shown = entry.shortcut.isEmpty() ? entry.path : entry.path + "   " + entry.shortcut;
        if (rank % kMissing >= 40) shown += " · " + entry.purpose;
        found_->addItem(shown);
        offered_.push_back(std::move(entry));
    }
    if (offered_.empty()) {
        found_->addItem(tr("Nothing is called so: try fewer letters."));
        found_->item(0)->setFlags(Qt::NoItemFlags);
    }
    found_->setCurrentRow(offered_.empty() || most > 0 ? -1 : 0);
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
