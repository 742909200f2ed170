// SPDX-License-Identifier: GPL-3.0-or-later
// Dates and times of sheets: numbers of days, told by the format of their cell.
#include "base/text.h"
#include "io/moment_text.h"
#include "io/spreadsheet.h"

#include <cmath>

namespace jointer::io {

std::string serialText(double serial, SerialKind kind, bool from1904) {
    if (kind == SerialKind::Number || !std::isfinite(serial) || std::abs(serial) > 3e6)
        return shortestNumber(serial);
    auto toMillis = [](double days) { return std::round(days * 86400e3) / 1e3; };
    if (kind == SerialKind::Duration) return "PT" + shortestNumber(toMillis(serial)) + "S";
    if (kind == SerialKind::Time && serial >= 0 && serial < 1)
        return isoTimeOfDay(std::min(toMillis(serial), 86399.999));
    if (from1904) serial += 1462;
    if (serial < 60) serial += 1; // the calendar of these files has a 29th of February 1900
    const double seconds = toMillis(serial - 25569);
    const bool midnight = std::fmod(seconds, 86400) == 0;
    return kind == SerialKind::Date && midnight ? isoDate(seconds) : isoDateTime(seconds);
}

SerialKind kindOfFormat(std::string_view code) {
    bool date = false, time = false, duration = false;
    for (std::size_t i = 0; i < code.size(); ++i) {
        const char c = static_cast<char>(code[i] | 0x20);
        if (code[i] == ';') break; // the format of negative numbers
        if (code[i] == '"') {
            const std::size_t end = code.find('"', i + 1);
            i = end == code.npos ? code.size() : end;
        } else if (code[i] == '\\' || code[i] == '_' || code[i] == '*')
            ++i;
        else if (code[i] == '[') {
            const std::size_t end = code.find(']', i);
            const std::string inside =
                lowerAscii(code.substr(i + 1, end == code.npos ? code.npos : end - i - 1));
            if (!inside.empty() && inside.find_first_not_of("hms") == inside.npos) duration = true;
            i = end == code.npos ? code.size() : end;
        } else if (c == 'y' || c == 'd')
            date = true;
        else if (c == 'h' || c == 's')
            time = true;
        else if (c == 'e' && !date)
            return SerialKind::Number; // "0.00E+00"
        else if (c == 'm' && i + 2 < code.size() && (code[i + 1] | 0x20) == 'm' &&
                 (code[i + 2] | 0x20) == 'm')
            date = true;
        else if (code[i] == '0' && !date && !time && !duration)
            return SerialKind::Number;
        else if (lowerAscii(code.substr(i, 7)) == "general")
            return SerialKind::Number;
    }
    if (duration) return SerialKind::Duration;
    if (date) return time ? SerialKind::DateTime : SerialKind::Date;
    return time ? SerialKind::Time : SerialKind::Number;
}

} // namespace jointer::io
