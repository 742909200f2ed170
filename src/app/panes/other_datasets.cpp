// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/other_datasets.h"

#include "app/controls.h"
#include "app/widgets.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <algorithm>

namespace jointer::app {

namespace {

constexpr int kMostRows = 12; // more are told as the rest
constexpr int kNameWidth = 190;

} // namespace

OtherDatasets::OtherDatasets(const Document& document, const Figure& figure, QWidget* parent)
    : QFrame(parent, Qt::Popup) {
    setObjectName("picker");
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    layout->addWidget(new QLabel(tr("<b>%1</b> shows").arg(text(figure.name).toHtmlEscaped())));
    const Project& p = document.project();
    const std::vector<DatasetId> drawn = drawnDatasets(p, figure);
    std::vector<DatasetId> proposed = document.selection();
    std::erase_if(proposed, [&](DatasetId id) { return std::ranges::find(drawn, id) != drawn.end(); });
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    for (const DatasetId id : drawn) {
        const auto row = static_cast<int>(rows_.size());
        if (row == kMostRows) break;
        const QString name = text(p.datasets.find(id)->name);
        auto* was = muted(fontMetrics().elidedText(name, Qt::ElideMiddle, kNameWidth));
        was->setToolTip(name);
        auto* other = new QComboBox;
        other->setAccessibleName(tr("In place of %1").arg(name));
        other->setObjectName("otherDataset");
        other->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        other->setMinimumContentsLength(24);
        for (const auto& d : p.datasets) other->addItem(text(d->name), text(d->id.text()));
        const DatasetId first = rows_.size() < proposed.size() ? proposed[rows_.size()] : id;
        other->setCurrentIndex(other->findData(text(first.text())));
        grid->addWidget(was, row, 0);
        grid->addWidget(muted(tr("→")), row, 1);
        grid->addWidget(other, row, 2);
        rows_.push_back({id, other});
    }
    layout->addLayout(grid);
    if (drawn.empty()) layout->addWidget(muted(tr("No datasets yet.")));
    if (drawn.size() > rows_.size())
        layout->addWidget(muted(tr("and %1 more, which stay").arg(drawn.size() - rows_.size())));
    auto* last = new QHBoxLayout;
    copy_ = new QCheckBox(tr("in a copy of the figure"));
    copy_->setChecked(true);
    last->addWidget(copy_);
    last->addStretch(1);
    QPushButton* show = button(this, tr("Show them"), "primary", tr("Fits are those of the other datasets"),
                               [this] { choose(); });
    show->setEnabled(!rows_.empty());
    last->addWidget(show);
    layout->addLayout(last);
}

void OtherDatasets::choose() {
    edits::DatasetPairs pairs;
    for (const Row& row : rows_) {
        const DatasetId other = DatasetId::fromText(row.other->currentData().toString().toStdString());
        if (other && other != row.drawn) pairs.emplace_back(row.drawn, other);
    }
    if (!pairs.empty()) Q_EMIT chosen(pairs, copy_->isChecked());
    close();
}

} // namespace jointer::app
