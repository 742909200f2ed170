// SPDX-License-Identifier: GPL-3.0-or-later
// Any bytes, opened as a project: it opens as far as it can be read, or an error says why it does not. Run by
// fuzz/run.
#include "project/project_file.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace jointer;
    const auto opened =
        projectFromBytes(std::string(reinterpret_cast<const char*>(data), size), "fuzz.jointer");
    if (!opened) return opened.error().text.empty() ? std::abort(), 0 : 0;
    const auto bytes = projectBytes(opened->project, opened->beside);
    if (!bytes) std::abort();
    return 0;
}
