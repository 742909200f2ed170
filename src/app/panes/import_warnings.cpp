// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/import_warnings.h"

#include "app/theme/theme.h"
#include "app/widgets.h"

#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

ImportWarnings::ImportWarnings(QWidget* parent)
    : QWidget(parent), caption_(caption(tr("To look at"))), list_(new QListWidget), offers_(new QWidget),
      rows_(new QVBoxLayout(offers_)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(caption_);
    list_->setObjectName("importWarnings");
    list_->setWordWrap(true);
    list_->setSpacing(3);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setStyleSheet(QString("background: %1; border-left: 3px solid %2; font-size: 9pt;")
                             .arg(theme().warningSoft.name(), theme().warning.name()));
    list_->setToolTip(tr("Click to go to the line"));
    list_->setAccessibleName(tr("What could not be read, or is in doubt"));
    list_->setSizeAdjustPolicy(QAbstractScrollArea::AdjustToContents);
    list_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    column->addWidget(list_);
    column->addWidget(offers_);
    rows_->setContentsMargins(0, 2, 0, 0);
    rows_->setSpacing(2);
    auto choose = [this](QListWidgetItem* item) { Q_EMIT lineChosen(item->data(Qt::UserRole).toLongLong()); };
    connect(list_, &QListWidget::itemClicked, this, choose);
    connect(list_, &QListWidget::itemActivated, this, choose);
    hide();
}

void ImportWarnings::show(const std::vector<Issue>& issues, bool rows,
                          const std::vector<io::Alternative>& alternatives) {
    clearLayout(rows_);
    for (const io::Alternative& a : alternatives) {
        auto* offer = nameButton(this, tr("Instead: %1").arg(text(a.words)), "link",
                             tr("Read the file in this way instead"),
                             [this, told = a.told] { Q_EMIT alternativeChosen(told); });
        offer->setObjectName("alternative");
        rows_->addWidget(offer, 0, Qt::AlignLeft);
    }
    offers_->setVisible(!alternatives.empty());
    list_->clear();
    for (const Issue& issue : issues) {
        Issue shown = issue;
        shown.place.file.clear();
        QString sentence = text(shown.sentence());
        if (rows && shown.place.line > 0) sentence.replace(0, 4, tr("row")); // "line 14"
        if (!sentence.isEmpty()) sentence[0] = sentence[0].toUpper();
        auto* item = new QListWidgetItem(sentence);
        item->setData(Qt::UserRole, static_cast<qlonglong>(issue.place.line));
        list_->addItem(item);
    }
    setVisible(!issues.empty());
    caption_->setText(tr("To look at   %1").arg(issues.size()));
}

} // namespace jointer::app
