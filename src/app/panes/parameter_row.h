// SPDX-License-Identifier: GPL-3.0-or-later
// A parameter in the grid of an analysis: name, value, error, unit and how it is treated. Where these have no
// room in one line, name and treatment stand above the numbers: nothing of a number is ever cut.
#pragma once

#include "base/text.h"

class QColor;
class QString;
class QTableWidget;

namespace jointer::app {

inline constexpr int kParameterRowHeight = 25;

// Requires: four columns; the item of the first holds the name under Qt::UserRole.
void fillParameterRow(QTableWidget& grid, int row, const QString& name, const ValueText& value,
                      const QString& unit, const QString& how, const QColor& ink, const QColor& howInk);

} // namespace jointer::app
