// SPDX-License-Identifier: GPL-3.0-or-later
// What a file tells about itself.
#pragma once

#include <string>

namespace jointer::draw {

struct Credits {
    std::string title{}, author{};
    std::string project{};  // its title, or the name of its file
    std::string checksum{}; // of the data that are drawn
    bool operator==(const Credits&) const = default;

    // "Project: Tern Sands; data: 3f…", what formats without fields for it hold.
    std::string remark() const {
        std::string out = project.empty() ? "" : "Project: " + project;
        if (!checksum.empty()) out += (out.empty() ? "Data: " : "; data: ") + checksum;
        return out;
    }
};

} // namespace jointer::draw
