// SPDX-License-Identifier: GPL-3.0-or-later
// How well a way of reading explains the first lines of a text.
#pragma once

#include "io/dialect.h"

namespace jointer::io {

// One way of reading the first lines, and how well it explains them.
struct Reading {
    Form form = Form::Separated;
    char separator = ',', decimal = '.';
    std::vector<std::size_t> borders;
    double score = -1;
    std::size_t columns = 1;
    std::size_t firstIndex = 0;       // of the first data line among the lines
    std::size_t headingIndex = kNone; // of a heading of numbers over a corner
    static constexpr std::size_t kNone = static_cast<std::size_t>(-1);
};

// Finds the columns and the first line of data in a reading whose form, separator, decimal mark and borders
// are given, and scores it. The score is 0 where nothing looks like data.
Reading assessed(const std::vector<std::string_view>& lines, Reading reading, const std::string& comment);

} // namespace jointer::io
