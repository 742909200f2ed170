// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/axis.h"

#include "figure/page/set_lines.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::figure {

using namespace draw;

PanelAxis::PanelAxis(Page& p, const Element& e, Side s)
    : page(p), element(&e), look(p.lookOf(e)), text(p.textOf(look)), side(s), numbers_(look.flag("show")) {
    text.colour = look.colour("colour", page.text.colour);
    distance = look.text("stands") == "off" ? look.number("off") : 0;
}

void PanelAxis::takeMeaning(const Mark& mark) {
    const AxisMeaning& from = isX() ? mark.xMeaning : mark.yMeaning;
    tell(mark, from);
    if (meaning.name.empty()) meaning.name = from.name;
    if (meaning.unit.empty()) meaning.unit = from.unit;
    meaning.isTime |= from.isTime;
    meaning.descending |= isX() && from.descending;
    meaning.twoSided |= from.twoSided;
    for (const std::string& name : from.categories)
        if (std::ranges::find(meaning.categories, name) == meaning.categories.end())
            meaning.categories.push_back(name);
    if (look.flag("as-curve") && mark.hasExtent() && !look.isOwn("colour") && text.colour == page.text.colour)
        text.colour = mark.colour;
}

void PanelAxis::chooseScale() {
    const Settings settings = look.inForce();
    scale = scaleFor({settings, meaning, &page.out.issues});
}

void PanelAxis::chooseRange(const std::optional<Range>& found, double margin,
                            const std::vector<double>& flush) {
    data = found;
    if (const double own = look.number("margin"); std::isfinite(own)) margin = own / 100;
    range = found ? scale->padded(*found, margin) : scale->empty();
    // Bars stand on their base, without a gap.
    for (const double v : flush) {
        if (found && std::abs(found->low - v) <= 1e-9 * std::abs(v)) range.low = v;
        if (found && std::abs(found->high - v) <= 1e-9 * std::abs(v)) range.high = v;
    }
    if (!(range.low < range.high)) range.high = range.low + 1;
    const Numbers typed = look.numbers("range");
    if (typed.size() != 2) return;
    Range wanted = range;
    if (std::isfinite(typed[0])) wanted.low = typed[0];
    if (std::isfinite(typed[1])) wanted.high = typed[1];
    if (!scale->takes(wanted.low) || !scale->takes(wanted.high))
        page.say("log-range",
                 fmt::format("An axis on this scale shows only values {}; its range was taken from the data.",
                             scale->domain()));
    else if (wanted.low < wanted.high)
        range = wanted;
    else if (std::isfinite(typed[0]) != std::isfinite(typed[1])) // the typed end lies beyond the data
        range = std::isfinite(typed[0]) ? Range{typed[0], typed[0] + std::max(1.0, std::abs(typed[0]) * 0.1)}
                                        : Range{typed[1] - std::max(1.0, std::abs(typed[1]) * 0.1), typed[1]};
}

void PanelAxis::bind(const PanelAxis& to) {
    const std::string typed = look.text("formula");
    const auto formula = MonotoneFormula::make(typed.empty() ? "x" : typed, look.text("inverse"));
    if (!formula) {
        page.out.issues.push_back(formula.error());
        return;
    }
    map = AxisMap::bound(to.map, *formula);
    if (!std::isfinite(map.low()) || !std::isfinite(map.high()) || !(map.low() < map.high())) {
        page.say("axis-formula", "The formula of the second axis has no values over the range of the first.");
        map = to.map;
    }
    scale = to.scale;
    range = {map.low(), map.high()};
}

namespace {

Breaks breaksOf(const Look& look) {
    Breaks out{.shares = look.numbers("shares"), .gapMm = look.number("break-gap")};
    const Numbers pairs = look.numbers("breaks");
    for (std::size_t i = 0; i + 1 < pairs.size(); i += 2)
        out.skipped.push_back({std::min(pairs[i], pairs[i + 1]), std::max(pairs[i], pairs[i + 1])});
    std::ranges::sort(out.skipped, {}, &Range::low);
    return out;
}

} // namespace

void PanelAxis::place(double from, double to) {
    if (!map.isBound()) {
        const bool turned = isReversed();
        map = AxisMap(scale, range, turned ? to : from, turned ? from : to, breaksOf(look));
    }
    makeTicks(std::abs(to - from));
    makeTitle(std::abs(to - from));
}

double PanelAxis::tickOut() const {
    const std::string way = look.text("ticks");
    return way == "out" || way == "both" ? look.number("tick-length") : 0;
}

double PanelAxis::titleGap() const {
    const double own = look.number("title-gap");
    return std::isfinite(own) ? own : 0.45 * em();
}

double PanelAxis::depthOf(const Label& l) const {
    const double width = widthOf(l.lines), height = heightOf(l.lines, em());
    if (turn_ == Turn::Upright) return isX() ? width : height;
    if (turn_ == Turn::Slanted) return (width + height) * std::sin(kSlantDeg * std::numbers::pi / 180);
    return isX() ? height : width;
}

double PanelAxis::labelsDepth() const {
    double deepest = 0;
    for (const Label& l : labels_) deepest = std::max(deepest, depthOf(l));
    const bool second = std::ranges::any_of(ticks, [](const Tick& t) { return !t.below.empty(); });
    return isX() && second ? deepest + 1.2 * em() : deepest;
}

double PanelAxis::numbersDepth() const {
    return numbers_ ? tickOut() + labelGap() + labelsDepth() : tickOut();
}

double PanelAxis::thickness() const {
    if (!numbers_) return look.flag("show") ? tickOut() : std::max(0.3 * em(), tickOut());
    const bool level = !isX() && look.text("title-turn") == "level";
    const double title = title_.empty() ? 0 : titleGap() + (level ? widthOf(title_) : heightOf(title_, em()));
    const double inside = cross ? 0 : numbersDepth();
    return std::max(look.number("room"), distance + inside + title);
}

std::pair<double, double> PanelAxis::overhang() const {
    double before = 0, after = 0;
    const double first = std::min(map.start(), map.end()), last = std::max(map.start(), map.end());
    for (const Label& l : labels_) {
        const double along = isX() ? widthOf(l.lines) : heightOf(l.lines, em());
        double low = along / 2, high = along / 2;
        if (turn_ == Turn::Slanted) {
            low = depthOf(l);
            high = em() / 2;
        } else if (turn_ == Turn::Upright)
            low = high = heightOf(l.lines, em()) / 2;
        before = std::max(before, first - (l.at - low));
        after = std::max(after, l.at + high - last);
    }
    return {before, after};
}

} // namespace jointer::figure
