// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/export_pane.h"

#include "app/forms/settings_form.h"
#include "app/widgets.h"
#include "base/text.h"
#include "figure/kinds.h"

#include <QCheckBox>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

namespace {

// "640 kB", "1.2 MB"
QString weightText(std::size_t bytes) {
    const auto kilo = static_cast<double>(bytes) / 1000;
    if (kilo < 1000) return QString("%1 kB").arg(std::max(1L, std::lround(kilo)));
    return QString("%1 MB").arg(kilo / 1000, 0, 'f', kilo < 1e4 ? 1 : 0);
}

} // namespace

ExportPane::ExportPane(const Catalogue<KindInfo>& formats, const Settings& last, draw::Rect pageMm,
                       std::size_t figures, WeighFigure weigh, QWidget* parent)
    : QFrame(parent, Qt::Popup), formats_(formats), page_(pageMm), weigh_(std::move(weigh)), settings_(last),
      form_(new SettingsForm),
      all_(new QCheckBox(tr("All %1 figures of the project, into one folder").arg(figures))),
      facts_(muted({})), job_(this) {
    setObjectName("picker");
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    form_->setObjectName("exportSettings");
    layout->addWidget(form_);
    all_->setObjectName("exportAll");
    all_->setVisible(figures > 1);
    layout->addWidget(all_);
    facts_->setObjectName("exportFacts");
    facts_->setMinimumWidth(290);
    facts_->setWordWrap(true);
    layout->addWidget(facts_);
    layout->addWidget(
        button(this, tr("Write…"), "primary", tr("Choose the file (Return)"), [this] { write(); }), 0,
        Qt::AlignRight);
    connect(form_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        if (std::holds_alternative<std::monostate>(value))
            settings_.remove(key.toStdString());
        else
            settings_.set(key.toStdString(), value);
        form_->sync(settings_);
        tell();
    });
    form_->show(figure::exportKind(), settings_);
    form_->focusOn("format");
    tell();
}

ExportWish ExportPane::wish() const {
    return {.settings = settings_, .all = all_->isChecked()};
}

QString ExportPane::sizeText() const {
    const ExportWish now = wish();
    const QString size = tr("%1 × %2 mm").arg(page_.width).arg(page_.height);
    if (!isBitmap(now.format())) {
        const KindInfo* format = formats_.find(now.format());
        return format ? tr("%1. %2").arg(size, text(format->purpose)) : size;
    }
    const double dpi = exportOptions(now.settings).dpi;
    const auto pixels = [dpi](double mm) { return std::lround(mm / 25.4 * dpi); };
    return tr("%1, %2 × %3 pixels").arg(size).arg(pixels(page_.width)).arg(pixels(page_.height));
}

void ExportPane::tell() {
    facts_->setText(sizeText());
    weigh();
    adjustSize();
}

// What is written anyway is written once without a file.
void ExportPane::weigh() {
    if (!weigh_) return;
    job_.request([this, now = wish(), weigh = weigh_](const Cancellation& stop) -> std::function<void()> {
        const auto bytes = weigh(now, stop);
        if (stop.stop_requested()) return [] {};
        return [this, now, said = bytes ? weightText(*bytes) : text(bytes.error().text), bad = !bytes] {
            if (!(now.settings == settings_)) return; // asked for again since
            facts_->setText(bad ? said : tr("%1; %2").arg(sizeText(), said));
            adjustSize();
        };
    });
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
