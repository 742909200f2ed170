// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/journal_pane.h"

#include "app/widgets.h"
#include "base/text.h"
#include "project/figure_edits.h"
#include "session/export.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

JournalPane::JournalPane(Document& document, PageView& page, std::vector<figure::JournalProfile> profiles,
                         QWidget* parent)
    : QFrame(parent, Qt::Popup), document_(document), page_(page), profiles_(std::move(profiles)),
      profile_(new QComboBox), sight_(new QComboBox), list_(new QListWidget), said_(muted({})),
      mend_(nullptr), mendAll_(nullptr) {
    setObjectName("picker");
    setAttribute(Qt::WA_DeleteOnClose);
    setFixedWidth(kWidth);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    auto* form = new QFormLayout;
    profile_->setObjectName("journalProfile");
    for (const auto& p : profiles_) profile_->addItem(text(p.name));
    addLabelled(*form, tr("Publisher"), profile_);
    sight_->setObjectName("journalSight");
    for (const auto& [key, name] : {std::pair("usual", tr("as it is")),
                                    {"deutan", tr("without green cones")},
                                    {"protan", tr("without red cones")},
                                    {"tritan", tr("without blue cones")},
                                    {"grey", tr("in grey")}})
        sight_->addItem(name, QString(key));
    sight_->setToolTip(tr("The page as other eyes or a printer without colour show it"));
    addLabelled(*form, tr("Seen"), sight_);
    layout->addLayout(form);
    list_->setObjectName("journalFindings");
    list_->setAccessibleName(tr("Findings"));
    list_->setWordWrap(true);
    list_->setMinimumHeight(220);
    layout->addWidget(list_);
    said_->setWordWrap(true);
    layout->addWidget(said_);
    auto* row = new QHBoxLayout;
    mend_ = button(this, tr("Mend"), "plain", tr("What is selected"), [this] { mend(false); });
    mendAll_ = button(this, tr("Mend all"), "primary", tr("All that can be mended at once, as one change"),
                      [this] { mend(true); });
    row->addStretch(1);
    row->addWidget(mend_);
    row->addWidget(mendAll_);
    layout->addLayout(row);
    connect(profile_, &QComboBox::currentIndexChanged, this, &JournalPane::refresh);
    connect(sight_, &QComboBox::currentIndexChanged, this,
            [this] { page_.see(draw::sightFromKey(sight_->currentData().toString().toStdString())); });
    connect(list_, &QListWidget::currentRowChanged, this, &JournalPane::select);
    connect(&page_, &PageView::drawn, this, &JournalPane::refresh);
    connect(this, &QObject::destroyed, &page_, [&page] { page.see(draw::Sight::Usual); });
    refresh();
}

void JournalPane::refresh() {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure || !page_.isCurrent()) return;
    const auto& profile = profiles_[static_cast<std::size_t>(std::max(0, profile_->currentIndex()))];
    findings_ = figure::journalFindings(document_.project(), *figure, page_.layoutShown(), profile,
                                        lastExport(*figure));
    const QSignalBlocker quiet(list_);
    list_->clear();
    bool any = false;
    for (const figure::Finding& f : findings_) {
        auto* item =
            new QListWidgetItem(text(f.text) + (f.mend ? QString(" → ") + text(f.mending) : QString()));
        item->setToolTip(f.mend ? tr("Mend: %1").arg(text(f.mending)) : tr("Click to select it"));
        list_->addItem(item);
        any = any || f.mend;
    }
    said_->setText(
        findings_.empty()
            ? tr("Nothing to mend: “%1” would take it.").arg(text(profile.name))
            : tr("%1 to look at.").arg(counted(static_cast<long long>(findings_.size()), "finding").c_str()));
    mendAll_->setEnabled(any);
    mendAll_->setToolTip(any ? tr("All that can be mended at once, as one change")
                             : tr("Nothing here can be mended by itself"));
    select(list_->currentRow());
}

void JournalPane::select(int row) {
    const bool is = row >= 0 && row < static_cast<int>(findings_.size());
    const figure::Finding* f = is ? &findings_[static_cast<std::size_t>(row)] : nullptr;
    mend_->setEnabled(f && f->mend);
    mend_->setToolTip(!f        ? tr("Select a finding first")
                      : f->mend ? text(f->mending)
                                : tr("This takes a person's eye"));
    if (f) document_.selectElement(f->element);
}

void JournalPane::mend(bool all) {
    std::vector<Edit> edits;
    for (std::size_t k = 0; k < findings_.size(); ++k)
        if (findings_[k].mend && (all || static_cast<int>(k) == list_->currentRow()))
            edits.push_back(*findings_[k].mend);
    if (!edits.empty()) document_.apply(edits::together(all ? "Mend for the journal" : "Mend", edits));
}

} // namespace jointer::app
