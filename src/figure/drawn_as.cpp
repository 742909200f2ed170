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

bool takes(const Setting& s, const Value& value) {
    const auto* key = std::get_if<std::string>(&value);
    return s.kind != SettingKind::Choice ||
           (key && std::ranges::find(s.choices, *key, &Choice::key) != s.choices.end());
}

// Settings that mean the same to both kinds.
Settings keptBy(const KindInfo& wanted, const KindInfo& now, const Settings& given) {
    Settings kept;
    for (const auto& [key, value] : given.entries()) {
        const Setting *then = wanted.find(key), *before = now.find(key);
        if (then && before && then->kind == before->kind && takes(*then, value)) kept.set(key, value);
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
