// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/doubts.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/headings.h"
#include "io/number_text.h"

namespace jointer::io {

using Lines = std::vector<std::string_view>;

namespace {

bool isOpenGroup(std::string_view field) {
    const std::size_t comma = field.find(',');
    if (comma == field.npos || field.find(',', comma + 1) != field.npos) return false;
    const std::string_view whole = field.substr(field[0] == '-' ? 1 : 0, comma - (field[0] == '-' ? 1 : 0));
    return field.size() - comma - 1 == 3 && !whole.empty() && whole.size() <= 3 && whole[0] != '0' &&
           numberOf(field, ',');
}

} // namespace

Alternative alternative(const Reading& r) {
    Alternative other;
    const std::string columns = counted(static_cast<long long>(r.columns), "column");
    std::string separator = std::string(1, r.separator), said = "“" + separator + "”";
    if (r.separator == '\t') separator = "tab", said = "tabs";
    if (r.separator == kBlanks) separator = "space", said = "blanks";
    if (r.form == Form::Fixed) separator = "fixed", said = "fixed places";
    if (r.form == Form::Wide) separator = "space", said = "blanks";
    other.words = r.columns == 1 ? "one column" : columns + " by " + said;
    other.words += r.decimal == ',' ? ", decimal comma" : ", decimal point";
    other.told.set("separator", Value(separator));
    other.told.set("decimal", Value(std::string(1, r.decimal)));
    return other;
}

bool isDecimalOpen(const Lines& lines, const Dialect& d) {
    if (d.decimal != ',') return false;
    std::size_t open = 0;
    for (std::size_t i = static_cast<std::size_t>(d.first) - 1; i < lines.size(); ++i)
        for (const std::string& f : fieldsOfLine(lines[i], d)) {
            if (f.find(',') == std::string::npos || !numberOf(f, ',')) continue;
            if (!isOpenGroup(f)) return false;
            ++open;
        }
    return open > 0;
}

bool isCommaOpen(const Lines& lines, const Dialect& d) {
    if (d.separator != ',' || d.columns != 2 || d.heading > 0 || d.form != Form::Separated) return false;
    std::size_t rows = 0;
    for (std::size_t i = static_cast<std::size_t>(d.first) - 1; i < lines.size(); ++i) {
        if (isBlankLine(lines[i]) || isComment(lines[i], d.comment)) continue;
        const std::string_view line = trimmed(lines[i]);
        const bool one = numberOf(line, ',') && line.find_first_of(". ") == line.npos;
        if (!one) return false;
        ++rows;
    }
    return rows > 0;
}

} // namespace jointer::io
