// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/settings_form.h"

#include "app/forms/pair_editor.h"
#include "app/widgets.h"
#include "base/text.h"
#include "data/column.h"
#include "figure/kinds.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSlider>
#include <QStyle>
#include <cmath>

namespace jointer::app {

namespace {

constexpr int kComboFrame = 34; // of a combo box beside its words

void mark(QWidget* field, bool bad, const QString& why) {
    field->setProperty("bad", bad);
    field->setToolTip(why);
    refreshLook(field);
}

} // namespace

SettingsForm::SettingsForm(QWidget* parent) : QWidget(parent), rows_(new QFormLayout(this)) {
    rows_->setContentsMargins(0, 4, 0, 4);
    rows_->setHorizontalSpacing(12);
    rows_->setVerticalSpacing(7);
    rows_->setFieldGrowthPolicy(QFormLayout::ExpandingFieldsGrow);
    rows_->setLabelAlignment(Qt::AlignLeft);
}

void SettingsForm::show(const KindInfo& kind, const Settings& given,
                        const std::function<Value(const std::string&)>& inForce) {
    kind_ = kind;
    given_ = given;
    inForce_ = inForce;
    while (rows_->rowCount() > 0) {
        const QFormLayout::TakeRowResult row = rows_->takeRow(0);
        for (QLayoutItem* item : {row.labelItem, row.fieldItem}) {
            if (!item) continue;
            discard(item->widget());
            delete item;
        }
    }
    int labels = 0; // their width
    for (const Setting& s : kind_.settings)
        if (isShown(kind_, s, given_))
            labels = std::max(labels, fontMetrics().horizontalAdvance(text(s.label)));
    // Groups keep the order in which they first appear, the ungrouped settings first.
    std::vector<std::string> groups = {""};
    for (const Setting& s : kind_.settings)
        if (std::ranges::find(groups, s.group) == groups.end()) groups.push_back(s.group);
    for (const std::string& group : groups) {
        bool headed = group.empty();
        for (const Setting& s : kind_.settings) {
            if (s.group != group || !isShown(kind_, s, given_)) continue;
            if (!headed) {
                addHeading(group);
                headed = true;
            }
            if (folds_ && !group.empty() && !open_.contains(group)) continue;
            const Value value = inForce ? inForce(s.key) : kind_.value(given_, s.key);
            QWidget* editor = editorFor(s, value);
            editor->setToolTip(text(s.help));
            editor->setAccessibleName(text(s.label));
            if (folds_ && given_.has(s.key)) editor = withDot(s, editor);
            if (isWide(s, labels)) { // below its label, over the whole width
                QLabel* label = muted(text(s.label));
                label->setToolTip(text(s.help));
                label->setBuddy(editor);
                rows_->addRow(label);
                rows_->addRow(editor);
                continue;
            }
            addLabelled(*rows_, text(s.label), editor);
            rows_->labelForField(editor)->setToolTip(text(s.help));
        }
    }
}

// The name of a group; of a form that folds a switch that opens and closes it.
void SettingsForm::addHeading(const std::string& group) {
    if (!folds_) {
        auto* heading = new QLabel(text(group));
        heading->setObjectName("strong");
        rows_->addRow(heading);
        return;
    }
    const bool open = open_.contains(group);
    const bool differs = std::ranges::any_of(
        kind_.settings, [&](const Setting& s) { return s.group == group && given_.has(s.key); });
    auto* heading = button(this, (open ? "▾  " : "▸  ") + text(group) + (differs && !open ? "  •" : ""),
                           "fold", open ? tr("Close") : tr("Open"), [this, group] {
                               if (open_.erase(group) == 0) open_.insert(group);
                               const KindInfo kind = kind_;
                               const Settings given = given_;
                               show(kind, given, inForce_);
                           });
    heading->setAccessibleName(text(group));
    rows_->addRow(heading);
}

// A dot beside what differs from the style; a click on it gives it back.
QWidget* SettingsForm::withDot(const Setting& s, QWidget* editor) {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    layout->addWidget(editor, 1);
    QPushButton* dot = button(this, "●", "dot", tr("Differs from its default or the style; click to give it back"),
                              [this, key = s.key] { Q_EMIT changed(text(key), Value()); });
    dot->setAccessibleName(tr("Give back %1").arg(text(s.label)));
    layout->addWidget(dot);
    return row;
}

bool SettingsForm::isWide(const Setting& s, int labels) const {
    const int room = narrowest_ - labels - 12;
    if (s.kind == SettingKind::Points) return true;
    if (s.kind == SettingKind::Interval) return isOfTime(s);
    if (s.kind != SettingKind::Choice) return false;
    int widest = fontMetrics().horizontalAdvance(text(s.whenEmpty));
    for (const Choice& c : s.choices)
        widest = std::max(widest, fontMetrics().horizontalAdvance(text(c.label)));
    return widest + kComboFrame > room;
}

bool SettingsForm::holdsFocus() const {
    const QWidget* focus = focusWidget();
    return focus && focus->hasFocus() && isAncestorOf(focus) &&
           (qobject_cast<const QSlider*>(focus) || qobject_cast<const QLineEdit*>(focus));
}

void SettingsForm::sync(const Settings& given, const std::function<Value(const std::string&)>& inForce) {
    if (given == given_) return;
    const Settings before = given_;
    given_ = given;
    const bool sameShown = std::ranges::all_of(kind_.settings, [&](const Setting& s) {
        return isShown(kind_, s, before) == isShown(kind_, s, given);
    });
    if (sameShown && holdsFocus()) return;
    const bool sameValues = std::ranges::all_of(kind_.settings, [&](const Setting& s) {
        const Value *now = given.find(s.key), *then = before.find(s.key);
        return s.hidden || (now && then ? *now == *then : !now && !then);
    });
    if (sameShown && sameValues && !inForce) return; // what the canvas sets
    // The editor that is in use is in use again after it was made anew.
    const QWidget* focused = window()->focusWidget();
    const std::string used = focused && isAncestorOf(focused) ? focused->objectName().toStdString() : "";
    const KindInfo kind = kind_;
    show(kind, given, inForce);
    if (kind_.find(used)) focusOn(used);
}

void SettingsForm::focusOn(const std::string& key) {
    const Setting* s = kind_.find(key);
    if (folds_ && s && !s->group.empty() && open_.insert(s->group).second) {
        const KindInfo kind = kind_;
        const Settings given = given_;
        show(kind, given, inForce_);
    }
    auto* editor = findChild<QWidget*>(text(key));
    if (!editor) editor = findChild<QWidget*>(text(key + "-low"));
    if (editor && editor->focusPolicy() == Qt::NoFocus) {
        QWidget* inside = editor->findChild<QPushButton*>();
        editor = inside ? inside : editor->findChild<QLineEdit*>();
    }
    if (editor) editor->setFocus(Qt::ShortcutFocusReason);
}

void SettingsForm::take(const Setting& s, const QString& typed, QWidget* field) {
    if (typed.trimmed().isEmpty() && s.kind != SettingKind::Text && s.kind != SettingKind::Formula) {
        mark(field, false, text(s.help));
        if (given_.has(s.key)) Q_EMIT changed(text(s.key), Value());
        return;
    }
    const auto value = parseValue(s, typed.toStdString());
    mark(field, !value, value ? text(s.help) : text(value.error().text));
    if (!value) return;
    const Value* before = given_.find(s.key);
    if (before ? *before == *value : kind_.value(given_, s.key) == *value) return;
    Q_EMIT changed(text(s.key), *value);
}

} // namespace jointer::app
