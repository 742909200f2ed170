// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/drawn_as.h"

#include <algorithm>

namespace jointer::figure {

std::vector<const MarkKind*> kindsInPlaceOf(const Element& mark) {
    std::vector<const MarkKind*> all;
    const MarkKind* now = markCatalogue().find(mark.kind);
    if (!now || now->takes == Takes::Nothing) return all;
    for (const MarkKind& kind : markCatalogue())
        if (kind.takes == now->takes) all.push_back(&kind);
    return all;
}

namespace {

// Settings that mean the same to both kinds.
Settings keptBy(const KindInfo& wanted, const KindInfo& now, const Settings& given) {
    Settings kept;
    for (const auto& [key, value] : given.entries()) {
        const Setting *then = wanted.find(key), *before = now.find(key);
        if (!then || !before || then->kind != before->kind || then->unit != before->unit) continue;
        Settings alone;
        alone.set(key, value);
        if (validate(wanted, alone)) kept.set(key, value); // what is a width of a line may be too wide for a bar
    }
    return kept;
}

} // namespace

Edit drawAs(FigureId figure, std::vector<ElementId> marks, std::string kind) {
    return edits::arrange(figure, "Draw as another kind", [=](Project&, Figure& f) -> Result<void> {
        for (const ElementId id : marks) {
            Element* mark = findElement(f.elements, id);
            if (!mark) continue;
            const auto kinds = kindsInPlaceOf(*mark);
            const auto wanted = std::ranges::find(kinds, kind, [](const MarkKind* k) { return k->info.key; });
            if (wanted == kinds.end()) continue;
            mark->settings = keptBy((*wanted)->info, markCatalogue().find(mark->kind)->info, mark->settings);
            mark->kind = kind;
        }
        return {};
    });
}

} // namespace jointer::figure
