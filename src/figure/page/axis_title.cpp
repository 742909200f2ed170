// SPDX-License-Identifier: GPL-3.0-or-later
// The title of an axis: what the marks along it tell, and the unit.
#include "base/text.h"
#include "base/unit_text.h"
#include "data/logarithm_name.h"
#include "figure/page/axis.h"
#include "figure/page/live_text.h"
#include "figure/page/set_lines.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr std::size_t kMostNames = 3; // in one title

bool isDash(const std::string& text) {
    return text == "-" || text == "–";
}

} // namespace

// Further marks of a dataset (its fit, its parts) are not asked.
void PanelAxis::tell(const Mark& mark, const AxisMeaning& from) {
    if (!mark.of || from.name.empty() || !mark.hasExtent()) return;
    if (std::ranges::find(told_, mark.of, &Told::of) == told_.end())
        told_.push_back({mark.of, from.name, from.unit});
}

// Numbers that are the originals of logarithms are called as these are.
PanelAxis::Told PanelAxis::shown(Told told) const {
    if (!look.flag("applied") || look.text("scale") != "log") return told;
    if (const auto original = logarithmOf(told.name)) told.name = original->name, told.unit = original->unit;
    return told;
}

std::string PanelAxis::toldTitle(const std::vector<Told>& told) const {
    const bool each = std::ranges::any_of(told, [&](const Told& t) {
        return unitMarkup(t.unit) != unitMarkup(told[0].unit);
    }); // else behind all
    std::vector<std::string> names;
    for (const Told& t : told) {
        std::string name = literal(t.name) + (each && !t.unit.empty() ? " (" + unitMarkup(t.unit) + ")" : "");
        if (std::ranges::find(names, name) == names.end()) names.push_back(std::move(name));
    }
    return names.size() < 2 || names.size() > kMostNames ? std::string() : joined(names, ", ");
}

void PanelAxis::makeTitle(double lengthMm) {
    std::string name = look.text("name"), unit = look.text("unit");
    const Told all = shown({{}, meaning.name, meaning.unit});
    if (element && !name.empty()) name = liveText(page, *element, name);
    if (unit.empty()) unit = all.unit;
    if (name.empty()) {
        std::vector<Told> told;
        for (const Told& t : told_) told.push_back(shown(t));
        name = toldTitle(told);
        const bool severalUnits =
            std::ranges::any_of(told, [&](const Told& t) { return t.unit != told[0].unit; });
        if (!name.empty() && severalUnits && look.text("unit").empty()) unit.clear();
        if (name.empty()) name = literal(all.name);
    }
    title_.clear();
    if (isDash(name)) return;
    std::string whole = name;
    const std::string power =
        factor_ == 0 ? "" : fmt::format("10^{{{}{}}}", factor_ < 0 ? "−" : "", std::abs(factor_));
    const bool bare = unit.empty() || isDash(unit) || meaning.isTime;
    if (!bare)
        whole += " (" + (power.empty() ? "" : power + "\u2009") + unitMarkup(unit) + ")";
    else if (!power.empty())
        whole += " (×" + power + ")";
    if (whole.empty()) return;
    const bool level = !isX() && look.text("title-turn") == "level";
    title_ = level ? std::vector{setText(whole, text)} : wrapped(whole, text, lengthMm + 6 * em());
}

} // namespace jointer::figure
