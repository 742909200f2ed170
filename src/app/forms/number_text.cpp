// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/number_text.h"

#include "base/text.h"

#include <cmath>

namespace jointer::app {

std::optional<double> numberIn(const QString& typed) {
    QString plain = typed.trimmed();
    return parseNumber(plain.remove(QChar(0x2009)).toStdString());
}

QString endText(double v) {
    return std::isfinite(v) ? QString::fromStdString(readableNumber(v, 7)) : QString();
}

} // namespace jointer::app
