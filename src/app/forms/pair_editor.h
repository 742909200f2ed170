// SPDX-License-Identifier: GPL-3.0-or-later
// Pairs of numbers as rows of two fields, with one empty row to go on: lines as found and as known, anchors.
#pragma once

#include "describe/kind.h"

#include <QWidget>

class QGridLayout;
class QLineEdit;

namespace jointer::app {

class PairEditor final : public QWidget {
    Q_OBJECT
public:
    // Times: numbers are shown as moments.
    PairEditor(const Setting& setting, const Numbers& now, bool times = false, QWidget* parent = nullptr);

Q_SIGNALS:
    void changed(const jointer::Numbers& pairs); // complete ones; each time a field with a new text is left

private:
    struct Row {
        QLineEdit *first, *second;
        bool operator==(const Row&) const = default;
    };
    void addRow(const QString& first, const QString& second);
    QString shown(double v) const;
    void take();

    Setting setting_;
    bool times_;
    Numbers given_, sent_; // as first shown, and as last told
    std::vector<Row> rows_;
    QGridLayout* grid_;
};

} // namespace jointer::app
