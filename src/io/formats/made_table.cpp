// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/formats/made_table.h"

#include <algorithm>

#include "base/text.h"

namespace jointer::io {

std::string safeText(std::string_view bytes) {
    if (isUtf8(bytes)) return std::string(bytes);
    std::string out;
    for (char c : bytes) appendUtf8(out, static_cast<unsigned char>(c));
    return out;
}

} // namespace jointer::io
