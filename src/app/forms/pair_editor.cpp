// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/pair_editor.h"

#include "app/forms/number_text.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <cmath>

namespace jointer::app {

namespace {

constexpr int kDigits = 7; // shown; numbers that nobody touches keep all of theirs

} // namespace

PairEditor::PairEditor(const Setting& setting, const Numbers& now, bool times, QWidget* parent)
    : QWidget(parent), setting_(setting), times_(times), given_(now), sent_(now),
      grid_(new QGridLayout(this)) {
    setObjectName(text(setting.key));
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setHorizontalSpacing(6);
    grid_->setVerticalSpacing(4);
    int column = 0;
    for (const std::string& name : {setting.pair.first, setting.pair.second})
        grid_->addWidget(muted(text(name)), 0, column++);
    for (std::size_t i = 0; i + 1 < now.size(); i += 2) addRow(shown(now[i]), shown(now[i + 1]));
    addRow({}, {});
}

QString PairEditor::shown(double v) const {
    return axisValueText(v, times_, kDigits);
}

void PairEditor::addRow(const QString& first, const QString& second) {
    const int at = static_cast<int>(rows_.size()) + 1;
    const Row row{new QLineEdit(first), new QLineEdit(second)};
    for (QLineEdit* field : {row.first, row.second}) {
        const bool isFirst = field == row.first;
        field->setMinimumWidth(40);
        field->setCursorPosition(0);
        field->setToolTip(text(setting_.help));
        field->setAccessibleName(tr("%1 %2: %3")
                                     .arg(text(setting_.label))
                                     .arg(at)
                                     .arg(text(isFirst ? setting_.pair.first : setting_.pair.second)));
        grid_->addWidget(field, at, isFirst ? 0 : 1);
        connect(field, &QLineEdit::editingFinished, this, [this, field] {
            if (!field->isModified()) return;
            field->setModified(false);
            take();
        });
    }
    rows_.push_back(row);
}

// A field that was not touched keeps its number with all digits; a row of which both are emptied is gone.
void PairEditor::take() {
    Numbers pairs;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        std::optional<double> values[2];
        bool empty = true;
        for (int k = 0; k < 2; ++k) {
            QLineEdit* field = k == 0 ? rows_[i].first : rows_[i].second;
            const QString typed = field->text().trimmed();
            const std::size_t place = 2 * i + static_cast<std::size_t>(k);
            const bool same = place < given_.size() && field->text() == shown(given_[place]);
            values[k] = same ? given_[place] : axisValueIn(typed);
            if (values[k] && !std::isfinite(*values[k])) values[k].reset();
            const bool bad = !typed.isEmpty() && !values[k];
            field->setProperty("bad", bad);
            field->setToolTip(bad ? times_ ? tr("Type a date, such as 2031-05-02.") : tr("Type a number.")
                                  : text(setting_.help));
            refreshLook(field);
            empty &= typed.isEmpty();
        }
        if (values[0] && values[1])
            pairs.insert(pairs.end(), {*values[0], *values[1]});
        else if (!empty)
            return; // half a row: its other number is still to come
    }
    const Row& last = rows_.back();
    if (!last.first->text().isEmpty() && !last.second->text().isEmpty()) addRow({}, {});
    if (pairs == sent_) return;
    sent_ = pairs;
    Q_EMIT changed(pairs);
}

} // namespace jointer::app
