// SPDX-License-Identifier: GPL-3.0-or-later
// The editors of a settings form, one for each kind of setting.
#include "app/forms/number_text.h"
#include "app/forms/pair_editor.h"
#include "app/forms/settings_form.h"
#include "app/widgets.h"
#include "base/text.h"
#include "figure/look.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSlider>
#include <cmath>

namespace jointer::app {

namespace {

constexpr int kSegmentsWidth = 122; // pixels that buttons side by side have beside their label

std::string numberText(const Value& v) {
    const double* n = std::get_if<double>(&v);
    if (!n || std::isnan(*n)) return {};
    const bool whole = std::abs(*n) < 1e7 && std::round(*n) == *n;
    return whole ? std::to_string(std::llround(*n)) : shortestNumber(*n);
}

// A slider has a place for each whole number, or three hundred.
int sliderSteps(const Setting& s) {
    const auto [low, high] = *s.slider;
    return s.kind == SettingKind::WholeNumber ? static_cast<int>(high - low) : 300;
}
double sliderValue(const Setting& s, int place) {
    const auto [low, high] = *s.slider;
    const double share = static_cast<double>(place) / sliderSteps(s);
    const double value = s.logSlider ? low * std::pow(high / low, share) : low + share * (high - low);
    return s.kind == SettingKind::WholeNumber ? std::round(value) : *parseNumber(readableNumber(value, 3));
}
int sliderPlace(const Setting& s, double value) {
    const auto [low, high] = *s.slider;
    const double share =
        s.logSlider ? std::log(value / low) / std::log(high / low) : (value - low) / (high - low);
    return static_cast<int>(std::lround(std::clamp(share, 0.0, 1.0) * sliderSteps(s)));
}

// As wide as the form gives, whatever its entries are.
void letShrink(QComboBox* box) {
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(6);
    box->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

} // namespace

QWidget* SettingsForm::editorFor(const Setting& s, const Value& value) {
    switch (s.kind) {
    case SettingKind::Choice:
        return choiceEditor(s, value);
    case SettingKind::Number:
    case SettingKind::WholeNumber:
        return numberEditor(s, value);
    case SettingKind::Interval:
        return intervalEditor(s, value);
    case SettingKind::Colour:
        return colourEditor(s, value);
    case SettingKind::Points: {
        const Numbers* now = std::get_if<Numbers>(&value);
        auto* editor = new PairEditor(s, now ? *now : Numbers{}, isOfTime(s));
        connect(editor, &PairEditor::changed, this, [this, key = s.key](const Numbers& pairs) {
            Q_EMIT changed(text(key), pairs.empty() ? Value() : Value(pairs));
        });
        return editor;
    }
    case SettingKind::Reference:
        return referenceEditor(s, value);
    case SettingKind::References:
        return referencesEditor(s, value);
    case SettingKind::Flag: {
        auto* box = new QCheckBox;
        box->setObjectName(text(s.key));
        const bool* on = std::get_if<bool>(&value);
        box->setChecked(on && *on);
        connect(box, &QCheckBox::toggled, this,
                [this, key = s.key](bool now) { Q_EMIT changed(text(key), Value(now)); });
        return box;
    }
    default:
        return textEditor(s, value);
    }
}

QWidget* SettingsForm::choiceEditor(const Setting& s, const Value& value) {
    const std::string* now = std::get_if<std::string>(&value);
    int wide = 0;
    for (const Choice& c : s.choices) wide += fontMetrics().horizontalAdvance(text(c.label)) + 20;
    const bool steps = s.of == "step" && !offered_[s.of].empty();
    if (s.choices.size() <= 4 && wide <= kSegmentsWidth && s.whenEmpty.empty() && !steps) {
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        row->setObjectName(text(s.key));
        auto* group = new QButtonGroup(row);
        for (const Choice& c : s.choices) {
            auto* button = new QPushButton(text(c.label));
            button->setObjectName("segment");
            button->setCheckable(true);
            button->setChecked(now && *now == c.key);
            button->setAccessibleName(text(s.label + ": " + c.label));
            group->addButton(button);
            layout->addWidget(button);
            connect(button, &QPushButton::clicked, this,
                    [this, key = s.key, choice = c.key] { Q_EMIT changed(text(key), Value(choice)); });
        }
        layout->addStretch(1);
        return row;
    }
    auto* box = new QComboBox;
    box->setObjectName(text(s.key));
    if (!s.whenEmpty.empty()) box->addItem(text(s.whenEmpty), QString());
    for (const Choice& c : s.choices) box->addItem(text(c.label), text(c.key));
    if (!s.of.empty())
        for (const auto& [key, name] : offered_[s.of]) box->addItem(text(name), text(key));
    letShrink(box);
    box->setCurrentIndex(now ? box->findData(text(*now)) : s.whenEmpty.empty() ? -1 : 0);
    connect(box, &QComboBox::activated, this, [this, box, key = s.key] {
        const std::string chosen = box->currentData().toString().toStdString();
        Q_EMIT changed(text(key), chosen.empty() ? Value() : Value(chosen));
    });
    return box;
}

QWidget* SettingsForm::numberEditor(const Setting& s, const Value& value) {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* field = new QLineEdit(s.zero.empty() ? text(numberText(value)) : text(valueText(s, value)));
    field->setObjectName(text(s.key));
    field->setAccessibleName(text(s.label));
    field->setMinimumWidth(40);
    field->setPlaceholderText(text(s.whenEmpty));
    connect(field, &QLineEdit::editingFinished, this, [this, s, field] { take(s, field->text(), field); });
    const bool slides = s.slider.has_value();
    if (slides) {
        auto* slider = new QSlider(Qt::Horizontal);
        slider->setRange(0, sliderSteps(s));
        const double* n = std::get_if<double>(&value);
        slider->setValue(n ? sliderPlace(s, *n) : 0);
        slider->setAccessibleName(text(s.label));
        connect(slider, &QSlider::valueChanged, this, [this, s, field](int place) {
            const double now = sliderValue(s, place);
            field->setText(text(numberText(Value(now))));
            Q_EMIT changed(text(s.key), Value(now));
        });
        connect(slider, &QSlider::sliderPressed, this, &SettingsForm::dragBegan);
        connect(slider, &QSlider::sliderReleased, this, &SettingsForm::dragEnded);
        layout->addWidget(slider, 1);
        int digits = 0; // room for every place of the slider, and for what stands there
        for (const double end : {s.slider->first, s.slider->second, n ? *n : 0.0})
            digits = std::max(digits, fontMetrics().horizontalAdvance(text(numberText(Value(end)))));
        field->setFixedWidth(std::clamp(digits, 24, 72) + 26);
    }
    layout->addWidget(field, slides ? 0 : 1);
    if (!s.unit.empty() && s.unit != "x" && s.unit != "y") {
        auto* unit = new QLabel(text(s.unit == "points" ? "pt." : s.unit));
        unit->setObjectName("muted");
        layout->addWidget(unit);
    }
    return row;
}

QWidget* SettingsForm::textEditor(const Setting& s, const Value& value) {
    const Numbers* moments = isOfTime(s) ? std::get_if<Numbers>(&value) : nullptr;
    QStringList shown;
    if (moments)
        for (double v : *moments) shown << axisValueText(v, true);
    auto* field = new QLineEdit(moments ? shown.join(", ") : text(valueText(s, value)));
    field->setObjectName(text(s.key));
    field->setCursorPosition(0); // its beginning shows
    field->setMinimumWidth(60);
    field->setPlaceholderText(text(s.whenEmpty));
    connect(field, &QLineEdit::editingFinished, this, [this, s, field] { take(s, field->text(), field); });
    return field;
}

QWidget* SettingsForm::referenceEditor(const Setting& s, const Value& value) {
    const auto* now = std::get_if<Reference>(&value);
    auto* box = new QComboBox;
    box->setObjectName(text(s.key));
    box->addItem(text(s.whenEmpty), QString());
    for (const auto& [key, name] : offered_[s.of]) box->addItem(text(name), text(key));
    const int at = now ? box->findData(text(now->to)) : 0;
    if (now && at < 0) box->addItem(tr("gone"), text(now->to));
    box->setCurrentIndex(at < 0 ? box->count() - 1 : at);
    letShrink(box);
    connect(box, &QComboBox::activated, this, [this, box, key = s.key] {
        const std::string chosen = box->currentData().toString().toStdString();
        Q_EMIT changed(text(key), chosen.empty() ? Value() : Value(Reference{chosen}));
    });
    return box;
}

// A list with a tick for each.
QWidget* SettingsForm::referencesEditor(const Setting& s, const Value& value) {
    const auto* given = std::get_if<References>(&value);
    const References now = given ? *given : References{};
    auto* choose = new QPushButton(now.empty() ? text(s.whenEmpty) : text(counted(std::ssize(now), s.of)));
    choose->setObjectName(text(s.key));
    connect(choose, &QPushButton::clicked, this, [this, choose, now, s] {
        QMenu* menu = newMenu(choose);
        for (const auto& [key, name] : offered_[s.of]) {
            QAction* action = menu->addAction(text(name));
            action->setCheckable(true);
            action->setChecked(std::ranges::find(now, Reference{key}) != now.end());
            connect(action, &QAction::toggled, this, [this, now, key = s.key, k = key](bool on) {
                References next = now;
                std::erase(next, Reference{k});
                if (on) next.push_back({k});
                Q_EMIT changed(text(key), next.empty() ? Value() : Value(std::move(next)));
            });
        }
        if (offered_[s.of].empty())
            menu->addAction(tr("There is no other %1").arg(text(s.of)))->setEnabled(false);
        menu->popup(below(choose));
    });
    return choose;
}

QWidget* SettingsForm::intervalEditor(const Setting& s, const Value& value) {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    const Numbers* now = std::get_if<Numbers>(&value);
    auto shown = [&](std::size_t end) {
        if (!now || now->size() != 2 || !std::isfinite((*now)[end])) return QString();
        return axisValueText((*now)[end], isOfTime(s));
    };
    auto* low = new QLineEdit(shown(0));
    auto* high = new QLineEdit(shown(1));
    low->setObjectName(text(s.key + "-low"));
    high->setObjectName(text(s.key + "-high"));
    low->setMinimumWidth(40);
    high->setMinimumWidth(40);
    const bool narrow = s.whenEmpty.size() > 5;
    low->setAccessibleName(tr("%1, from").arg(text(s.label)));
    high->setAccessibleName(tr("%1, to").arg(text(s.label)));
    for (QLineEdit* end : {low, high}) {
        end->setPlaceholderText(narrow ? tr("open") : text(s.whenEmpty));
        // The fields are narrow.
        end->setToolTip(end == low ? tr("%1; both ends at once: 2 … 9").arg(text(s.whenEmpty))
                                   : text(s.whenEmpty));
    }
    layout->addWidget(low);
    layout->addWidget(new QLabel("…"));
    layout->addWidget(high);
    const auto done = [this, s, low, high] {
        // Only what was typed counts: the ends are shown with fewer digits than they have.
        if (!low->isModified() && !high->isModified()) return;
        // Both ends typed into the first field: "2 … 9", "2 to 9".
        for (const char* between : {"…", "..", " to "}) {
            const QStringList ends = low->text().split(text(between), Qt::SkipEmptyParts);
            if (ends.size() != 2 || !high->text().isEmpty()) continue;
            low->setText(ends[0].trimmed());
            high->setText(ends[1].trimmed());
        }
        if (low->text().isEmpty() && high->text().isEmpty()) {
            if (given_.has(s.key)) Q_EMIT changed(text(s.key), Value());
            return;
        }
        const bool half = low->text().isEmpty() || high->text().isEmpty();
        if (half && !s.openEnds) return; // the other end is still to come
        QString both = low->text().remove(QChar(0x2009)) + "…" + high->text().remove(QChar(0x2009));
        take(s, both, low);
    };
    connect(low, &QLineEdit::editingFinished, this, done);
    connect(high, &QLineEdit::editingFinished, this, done);
    return row;
}

// In rows of six: narrow panes have no room for all beside each other.
QWidget* SettingsForm::colourEditor(const Setting& s, const Value& value) {
    constexpr int kAcross = 6;
    auto* field = new QWidget;
    auto* grid = new QGridLayout(field);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(3);
    grid->setColumnStretch(kAcross, 1);
    const std::string* now = std::get_if<std::string>(&value);
    std::vector<std::string> colours = {""};
    for (const std::string& c : figure::palette()) colours.push_back(c);
    colours.push_back("#000000");
    if (now && std::ranges::find(colours, *now) == colours.end()) colours.push_back(*now);
    int place = 0;
    const auto add = [&](QPushButton* swatch) {
        swatch->setFixedSize(21, 17);
        grid->addWidget(swatch, place / kAcross, place % kAcross);
        ++place;
    };
    for (const std::string& c : colours) {
        auto* swatch = new QPushButton(c.empty() ? "a" : "");
        const QString frame = now && *now == c ? "2px solid palette(text)" : "1px solid palette(mid)";
        swatch->setStyleSheet(
            QString(
                "QPushButton { background: %1; border: %2; border-radius: 3px; padding: 0; font-size: 8pt; }")
                .arg(c.empty() ? "transparent" : text(c), frame));
        swatch->setToolTip(c.empty() ? tr("automatic") : text(c));
        swatch->setAccessibleName(tr("Colour %1").arg(c.empty() ? tr("automatic") : text(c)));
        connect(swatch, &QPushButton::clicked, this,
                [this, key = s.key, c] { Q_EMIT changed(text(key), c.empty() ? Value() : Value(c)); });
        add(swatch);
    }
    auto* other = new QPushButton("…");
    other->setStyleSheet("QPushButton { border: 1px solid palette(mid); border-radius: 3px; padding: 0; }");
    other->setToolTip(tr("Another colour"));
    other->setAccessibleName(tr("Another colour"));
    connect(other, &QPushButton::clicked, this, [this, key = s.key, before = now ? *now : std::string()] {
        auto* dialog = new QColorDialog(QColor(text(before)), window());
        dialog->setOption(QColorDialog::DontUseNativeDialog);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        connect(dialog, &QColorDialog::colorSelected, this, [this, key](const QColor& chosen) {
            Q_EMIT changed(text(key), Value(chosen.name().toStdString()));
        });
        dialog->open();
    });
    add(other);
    return field;
}

} // namespace jointer::app
