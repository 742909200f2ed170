// SPDX-License-Identifier: GPL-3.0-or-later
// The parameters of an analysis: name, value, error, unit and how each is treated. Where these have no room
// side by side, name and treatment stand above the numbers in all rows: nothing of a number is ever cut.
#pragma once

#include "base/text.h"

#include <QColor>
#include <QTableWidget>
#include <vector>

namespace jointer::app {

struct ParameterLine {
    QString name;
    ValueText value;
    QString unit, how, tip;
    QColor ink, howInk;
};

class ParameterGrid : public QTableWidget {
public:
    explicit ParameterGrid(QWidget* parent = nullptr);
    void showLines(std::vector<ParameterLine> lines);
    std::string nameAt(int row) const; // empty: no such row

protected:
    void resizeEvent(QResizeEvent* event) override; // the room has changed

private:
    void fill();
    void fillSideBySide(int row, const ParameterLine& line, const QFont& small);
    void fillBelow(int row, const ParameterLine& line, int room);
    std::vector<ParameterLine> lines_;
};

} // namespace jointer::app
