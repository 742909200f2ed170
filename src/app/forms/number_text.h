// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as typed into and shown in fields: a thin space may group digits, an empty end of an interval is
// open.
#pragma once

#include <QString>
#include <optional>

namespace jointer::app {

std::optional<double> numberIn(const QString& typed); // empty: not a number
QString endText(double v);                            // of an interval: infinite ends are empty

// A value along an axis, as a number or as a moment; midnight is told by the date alone.
QString axisValueText(double v, bool isTime, int digits = 8);
std::optional<double> axisValueIn(const QString& typed); // either of them

} // namespace jointer::app
