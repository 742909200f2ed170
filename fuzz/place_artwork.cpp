// SPDX-License-Identifier: GPL-3.0-or-later
// Any bytes as artwork that lies in a project: drawing items or a clear error, without a crash or a leak, and
// what is drawn stays within limits. Run by fuzz/run.
#include "draw/artwork.h"
#include "draw/revise.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace jointer;
    const auto art = draw::artworkOf({reinterpret_cast<const char*>(data), size});
    if (!art) {
        if (art.error().text.empty()) std::abort();
        return 0;
    }
    if (!(art->widthMm > 0) || !(art->heightMm > 0)) std::abort();
    draw::eachItem(art->items, [](const draw::Item& item) {
        const auto* picture = std::get_if<draw::Picture>(&item.what);
        if (picture && picture->pixels->size() != 4 * picture->columns * picture->rows) std::abort();
    });
    return 0;
}
