// SPDX-License-Identifier: GPL-3.0-or-later
// How well a way of reading explains the first lines of a text. A hypothesis says what separates the fields,
// which mark is the decimal one, which line is the first of the data, and which lines are names and units. It
// is weighed as a whole: by the bits that the lines would need if it were true. Numbers where numbers are
// expected are cheap, what does not fit is dear, and what is rare in files costs something from the start, so
// that a table of two lines and one of a thousand are judged by the same rule.
#pragma once

#include "io/dialect.h"

namespace jointer::io {

struct Reading {
    Form form = Form::Separated;
    char separator = ',', decimal = '.';
    std::vector<std::size_t> borders;
    double bits = kNever; // that the lines need; fewer is better
    std::size_t columns = 1;
    std::size_t firstIndex = 0; // of the first data line among the lines
    std::size_t headingIndex = kNone, unitsIndex = kNone, remarksIndex = kNone;
    double valueShare = 0; // of the filled cells that are numbers, moments, yes/no or missing

    static constexpr std::size_t kNone = static_cast<std::size_t>(-1);
    static constexpr double kNever = 1e300;
};

// The best hypothesis with the given form, separator, decimal mark and borders. Cost: linear in the lines,
// times the candidates for the first line of data (limited for wide tables).
Reading assessed(const std::vector<std::string_view>& lines, Reading reading, const std::string& comment);

} // namespace jointer::io
