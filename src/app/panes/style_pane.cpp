// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/style_pane.h"

#include "app/forms/settings_form.h"
#include "app/widgets.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "paint/painter.h"
#include "session/house_styles.h"
#include "session/style_sample.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace jointer::app {

namespace {

std::optional<HouseStyle> shippedNamed(const std::string& name) {
    for (HouseStyle& s : figure::shippedStyles())
        if (s.name == name) return std::move(s);
    return {};
}

} // namespace

StylePane::StylePane(Document& document, StyleId first, QWidget* parent)
    : QDialog(parent), document_(document), job_(this), id_(first), styled_(styledKinds()),
      styles_(new QComboBox), name_(new QLineEdit), kinds_(new QListWidget), form_(new SettingsForm),
      sample_(new QLabel), used_(muted({})) {
    setWindowTitle(tr("House styles"));
    setAttribute(Qt::WA_DeleteOnClose);
    resize(1040, 640);
    auto* column = new QVBoxLayout(this);
    column->addWidget(buildHead());
    auto* row = new QHBoxLayout;
    kinds_->setObjectName("styleKinds");
    kinds_->setAccessibleName(tr("Kinds of elements"));
    kinds_->setFixedWidth(160);
    for (const KindInfo& kind : styled_) {
        auto* item = new QListWidgetItem(text(kind.name));
        item->setData(Qt::UserRole, text(kind.key));
        item->setToolTip(text(kind.purpose));
        kinds_->addItem(item);
    }
    row->addWidget(kinds_);
    form_->foldGroups();
    form_->unfold("How it looks");
    auto* inner = new QWidget;
    auto* innerLayout = new QVBoxLayout(inner);
    innerLayout->setContentsMargins(0, 0, 9, 0);
    innerLayout->addWidget(form_);
    innerLayout->addStretch(1);
    QScrollArea* scroll = paneScroll(inner, tr("What the style says"));
    scroll->setFixedWidth(300);
    row->addWidget(scroll);
    sample_->setObjectName("styleSample");
    sample_->setAccessibleName(tr("Sample figure"));
    sample_->setAlignment(Qt::AlignCenter);
    sample_->setMinimumSize(300, 300);
    row->addWidget(sample_, 1);
    column->addLayout(row, 1);
    connect(kinds_, &QListWidget::currentRowChanged, this, [this] {
        refreshForm();
        draw();
    });
    connect(form_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        document_.apply(edits::setStyle(id_, kindShown(), key.toStdString(), value));
    });
    connect(form_, &SettingsForm::dragBegan, this, [this] { document_.beginDrag(); });
    connect(form_, &SettingsForm::dragEnded, this, [this] { document_.endDrag(); });
    connect(&document_, &Document::changed, this, &StylePane::refresh);
    kinds_->setCurrentRow(0);
    refresh();
}

QWidget* StylePane::buildHead() {
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    styles_->setObjectName("styleChoice");
    styles_->setAccessibleName(tr("House style"));
    styles_->setMinimumWidth(170);
    connect(styles_, &QComboBox::activated, this, [this] {
        id_ = StyleId{styles_->currentData().toULongLong()};
        built_.clear();
        refresh();
    });
    row->addWidget(styles_);
    name_->setObjectName("styleName");
    name_->setAccessibleName(tr("Name"));
    name_->setToolTip(tr("The name of the style; type another one"));
    name_->setMaximumWidth(190);
    connect(name_, &QLineEdit::editingFinished, this, &StylePane::rename);
    row->addWidget(name_);
    row->addWidget(used_, 1);
    giveBack_ = button(this, tr("As it was shipped"), "link", tr("Take back all changes of this style"),
                       [this] { giveBack(); });
    row->addWidget(giveBack_);
    remove_ = button(this, tr("Remove"), "link", tr("Figures that have it take the first of the others"),
                     [this] { remove(); });
    row->addWidget(remove_);
    return head;
}

std::shared_ptr<const HouseStyle> StylePane::style() const {
    return document_.project().styles.find(id_);
}

void StylePane::refresh() {
    const Project& p = document_.project();
    if (p.styles.empty()) return close(), void();
    if (!style()) {
        id_ = p.styles[0].id;
        built_.clear();
    }
    const QSignalBlocker quiet(styles_);
    styles_->clear();
    for (const auto& s : p.styles)
        styles_->addItem(text(s->name), QVariant::fromValue<qulonglong>(s->id.value));
    styles_->setCurrentIndex(styles_->findData(QVariant::fromValue<qulonglong>(id_.value)));
    if (!name_->hasFocus() || !name_->isModified()) name_->setText(text(style()->name));
    const auto figures = std::ranges::count_if(p.figures, [&](const auto& f) { return f->style == id_; });
    used_->setText(figures == 1 ? tr("1 figure has it.") : tr("%1 figures have it.").arg(figures));
    const auto shipped = shippedNamed(style()->name);
    giveBack_->setVisible(shipped && shipped->looks != style()->looks);
    remove_->setEnabled(p.styles.size() > 1);
    refreshForm();
    draw();
}

std::string StylePane::kindShown() const {
    const auto* item = kinds_->currentItem();
    return item ? item->data(Qt::UserRole).toString().toStdString() : std::string();
}

void StylePane::refreshForm() {
    const auto s = style();
    const std::string key = kindShown();
    if (!s || key.empty()) return;
    const auto kind = std::ranges::find(styled_, key, &KindInfo::key);
    if (kind == styled_.end()) return;
    const auto own = s->looks.find(key);
    const Settings given = own == s->looks.end() ? Settings{} : own->second;
    const auto inForce = [kind = *kind, given](const std::string& setting) {
        return figure::Look(kind, given, nullptr).value(setting);
    };
    const std::string wanted = id_.text() + key;
    if (wanted == built_) return form_->sync(given, inForce);
    built_ = wanted;
    form_->show(*kind, given, inForce);
}

void StylePane::draw() {
    const auto s = style();
    if (!s) return;
    const QSize room = sample_->size();
    const double ratio = devicePixelRatioF();
    job_.request([this, style = *s, kind = kindShown(), room, ratio,
                  number = ++wanted_](const Cancellation&) -> std::function<void()> {
        const Project p = styleSample(style, kind);
        evaluate::Evaluator evaluator;
        const draw::DisplayList list = figure::layOut(p, p.figures[0], evaluator, {.pixelsPerMm = 8}).list;
        const double perMm = ratio * std::min(room.width() / list.widthMm, room.height() / list.heightMm);
        QImage image = paint::toImage(list, std::clamp(perMm, 0.5, 40.0) * 25.4, false);
        image.setDevicePixelRatio(ratio);
        return [this, image, number] {
            sample_->setPixmap(QPixmap::fromImage(image));
            shown_ = number;
        };
    });
}

void StylePane::rename() {
    const std::string name = name_->text().trimmed().toStdString();
    const auto s = style();
    if (!s || name.empty() || name == s->name || !document_.apply(edits::renameStyle(id_, name))) {
        if (s) name_->setText(text(s->name));
        return;
    }
    name_->setModified(false);
}

void StylePane::remove() {
    const StyleId gone = id_;
    document_.apply(edits::removeStyle(gone));
}

void StylePane::giveBack() {
    const auto s = style();
    if (auto shipped = s ? shippedNamed(s->name) : std::nullopt)
        document_.apply(edits::addStyle(std::move(*shipped)));
}

} // namespace jointer::app
