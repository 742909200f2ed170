// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/number_text.h"

#include "base/text.h"
#include "data/column.h"
#include "describe/typed_number.h"

#include <cmath>

namespace jointer::app {

std::optional<double> numberIn(const QString& typed) {
    QString plain = typed.trimmed();
    return parseNumber(plain.remove(QChar(0x2009)).toStdString());
}

QString endText(double v) {
    return std::isfinite(v) ? QString::fromStdString(readableNumber(v, 7)) : QString();
}

QString axisValueText(double v, bool isTime, int digits) {
    if (!isTime || !std::isfinite(v)) return QString::fromStdString(readableNumber(v, digits));
    const QString moment = QString::fromStdString(isoDateTime(v)), midnight = "T00:00:00";
    return moment.endsWith(midnight) ? moment.chopped(midnight.size()) : moment;
}

std::optional<double> axisValueIn(const QString& typed) {
    return typedNumberOrTime(typed.trimmed().remove(QChar(0x2009)).toStdString());
}

} // namespace jointer::app
