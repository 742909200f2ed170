// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/export_pane.h"

#include "app/widgets.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

ExportPane::ExportPane(const Catalogue<KindInfo>& formats, const ExportWish& last, draw::Rect pageMm,
                       QWidget* parent)
    : QFrame(parent, Qt::Popup), formats_(formats), page_(pageMm), format_(new QComboBox), dpi_(new QSpinBox),
      clear_(new QCheckBox(tr("without the white ground"))), facts_(muted({})) {
    setObjectName("picker");
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    auto* form = new QFormLayout;
    for (const KindInfo& f : formats_) format_->addItem(text(f.name), text(f.key));
    format_->setObjectName("exportFormat");
    format_->setCurrentIndex(std::max(0, format_->findData(text(last.format))));
    addLabelled(*form, tr("Format"), format_);
    dpi_->setObjectName("exportDpi");
    dpi_->setRange(30, 4800);
    dpi_->setSingleStep(100);
    dpi_->setSuffix(tr(" dpi"));
    dpi_->setValue(static_cast<int>(last.options.dpi));
    addLabelled(*form, tr("Resolution"), dpi_);
    form->addRow(QString(), clear_);
    clear_->setChecked(last.options.transparent);
    layout->addLayout(form);
    facts_->setMinimumWidth(230);
    layout->addWidget(facts_);
    layout->addWidget(button(this, tr("Write…"), "primary", tr("Choose the file (Return)"),
                             [this] { write(); }),
                      0, Qt::AlignRight);
    connect(format_, &QComboBox::currentIndexChanged, this, &ExportPane::tell);
    connect(dpi_, &QSpinBox::valueChanged, this, &ExportPane::tell);
    tell();
    format_->setFocus();
}

ExportWish ExportPane::wish() const {
    return {.format = format_->currentData().toString().toStdString(),
            .options = {.dpi = static_cast<double>(dpi_->value()), .transparent = clear_->isChecked()}};
}

void ExportPane::tell() {
    const std::string format = wish().format;
    const bool bitmap = isBitmap(format);
    dpi_->setEnabled(bitmap);
    clear_->setEnabled(format != "pdf"); // a page has no ground of its own
    const auto pixels = [this](double mm) { return std::lround(mm / 25.4 * dpi_->value()); };
    const QString size = tr("%1 × %2 mm").arg(page_.width).arg(page_.height);
    facts_->setText(
        bitmap ? tr("%1, %2 × %3 pixels").arg(size).arg(pixels(page_.width)).arg(pixels(page_.height))
               : tr("%1. %2").arg(size, text(formats_.find(format)->purpose)));
}

void ExportPane::write() {
    const ExportWish now = wish();
    close();
    Q_EMIT wanted(now);
}

void ExportPane::keyPressEvent(QKeyEvent* event) {
    const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    enter ? write() : QFrame::keyPressEvent(event);
}

} // namespace jointer::app
