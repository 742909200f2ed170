// SPDX-License-Identifier: GPL-3.0-or-later
// Files that were packed for transport are read as what is inside: gzip, bzip2, xz, Zstandard, and zip
// archives that hold one file. Sizes are watched while unpacking.
#pragma once

#include "base/issue.h"

#include <optional>
#include <string>
#include <string_view>

namespace jointer::io {

struct Unpacked {
    std::string bytes;
    std::string name; // of the file inside, for its ending: "pond.csv" of "pond.csv.gz"
};

// Nothing where the bytes are not packed in one of these ways.
// Errors: "packed" where they are damaged or larger than is plausible.
Result<std::optional<Unpacked>> unpacked(std::string_view bytes, std::string_view fileName);

} // namespace jointer::io
