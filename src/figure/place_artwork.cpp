// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/artwork.h"
#include "figure/kinds.h"
#include "figure/on_panels.h"

#include <algorithm>

namespace jointer::figure {

Edit placeArtwork(FigureId figure, Asset asset) {
    const std::string name = "Place " + asset.name;
    return edits::arrange(figure, name, [asset = std::move(asset)](Project& p, Figure& f) -> Result<void> {
        const auto same = std::ranges::find_if(p.assets, [&](const auto& a) {
            return a->type == asset.type && *a->bytes == *asset.bytes && a->drawn() == asset.drawn();
        });
        AssetId id;
        if (same != p.assets.end())
            id = (*same)->id;
        else {
            Asset own = asset;
            id = own.id = p.newId<AssetId>();
            p.assets = p.assets.with(std::move(own));
        }
        f.elements.push_back({.kind = "artwork", .source = id.text()});
        growGrid(f);
        return {};
    });
}

Edit placeFigure(FigureId onto, FigureId figure) {
    return edits::arrange(onto, "Place a figure", [figure](Project& p, Figure& f) -> Result<void> {
        if (!p.figures.find(figure)) return failure("target-gone", "The figure is no longer there.");
        if (figure == f.id) return failure("figure-within", "A figure cannot be shown within itself.");
        f.elements.push_back({.kind = "artwork", .source = figure.text()});
        growGrid(f);
        return {};
    });
}

} // namespace jointer::figure
