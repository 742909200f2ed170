// SPDX-License-Identifier: GPL-3.0-or-later
// What the raw lines of a text and the rows of a sheet have in common while they are imported: their tints,
// and the question what a line is.
#pragma once

#include "io/dialect.h"

#include <QColor>
#include <QPoint>
#include <QString>
#include <functional>

class QWidget;

namespace jointer::app {

// The tint of a kind of line (invalid: none) and its name.
std::pair<QColor, QString> lineTint(io::LineKind kind);

// Opens a menu that asks what the line is; tells "heading", "units" or "first" with the line, or 0 for none.
void askAboutLine(QWidget* owner, int line, QPoint at,
                  std::function<void(const QString& key, int value)> told);

} // namespace jointer::app
