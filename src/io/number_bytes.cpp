// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/number_bytes.h"

#include <charconv>
#include <fast_float/fast_float.h>

namespace jointer::io {

double decimalOf(float value) {
    char text[64];
    const auto [end, error] = std::to_chars(text, text + sizeof text, value);
    double out = value;
    if (error == std::errc{}) fast_float::from_chars(text, end, out);
    return out;
}

} // namespace jointer::io
