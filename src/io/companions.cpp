// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/companions.h"

#include "data/companion_names.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace jointer::io {

namespace {

constexpr double kRounding = 2e-3; // of the fit's range: columns are written with few digits
constexpr std::size_t kFewest = 5; // rows, below which a sum may be right by chance

struct Columns {
    const Column* fit = nullptr;
    const Column* background = nullptr;
    std::vector<Column*> parts; // taken for measured, behind the first
};

Columns columnsOf(Table& table) {
    Columns out;
    bool measured = false;
    for (Column& c : table.columns) {
        const auto kind = c.isNumeric() ? companionKind(c.name) : std::nullopt;
        if (c.role == Role::Companion && kind == CompanionKind::Fit && !out.fit) out.fit = &c;
        if (c.role == Role::Companion && kind == CompanionKind::Background && !out.background)
            out.background = &c;
        if (c.role == Role::Y && std::exchange(measured, true)) out.parts.push_back(&c);
    }
    return out;
}

// Whether the parts, each without what it stands on, and the background are the fit.
bool addUp(const Columns& c, bool standOnBackground) {
    const std::span<const double> fit = c.fit->numbers();
    double lowest = INFINITY, highest = -INFINITY, worst = 0;
    std::size_t rows = 0;
    for (std::size_t i = 0; i < fit.size(); ++i) {
        const double ground = c.background ? c.background->numbers()[i] : 0;
        double sum = ground;
        for (const Column* part : c.parts) sum += part->numbers()[i] - (standOnBackground ? ground : 0);
        if (std::isnan(sum) || std::isnan(fit[i])) continue;
        lowest = std::min(lowest, fit[i]);
        highest = std::max(highest, fit[i]);
        worst = std::max(worst, std::abs(sum - fit[i]));
        ++rows;
    }
    return rows >= kFewest && highest > lowest && worst <= kRounding * (highest - lowest);
}

} // namespace

void findParts(Table& table) {
    const Columns c = columnsOf(table);
    if (!c.fit || c.parts.size() + (c.background ? 1 : 0) < 2) return; // one alone would be a copy
    if (!addUp(c, false) && !(c.background && addUp(c, true))) return;
    for (Column* part : c.parts) part->role = Role::Companion;
}

} // namespace jointer::io
