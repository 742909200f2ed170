// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/axis.h"

#include "base/text.h"
#include "base/unit_text.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <utility>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kSlant = kSlantDeg;
constexpr int kChosenFactor = 99;
constexpr std::size_t kMostNames = 3; // in one title

bool isDash(const std::string& text) {
    return text == "-" || text == "–";
}

double widthOf(const std::vector<SetText>& lines) {
    double widest = 0;
    for (const SetText& l : lines) widest = std::max(widest, l.widthMm);
    return widest;
}

double heightOf(const std::vector<SetText>& lines, double em) {
    return lines.empty() ? 0 : lines.back().heightMm() + 1.2 * em * static_cast<double>(lines.size() - 1);
}

} // namespace

std::vector<SetText> wrapped(std::string_view markup, const TextStyle& style, double widthMm) {
    std::vector<std::string> words = {""};
    int depth = 0;
    for (std::size_t i = 0; i < markup.size(); ++i) {
        const char c = markup[i];
        if (c == '{') ++depth;
        if (c == '}') --depth;
        if (c == ' ' && depth <= 0 && (i == 0 || markup[i - 1] != '\\'))
            words.emplace_back();
        else
            words.back() += c;
    }
    std::vector<SetText> lines;
    std::string now;
    for (const std::string& word : words) {
        if (word.empty()) continue;
        const std::string longer = now.empty() ? word : now + " " + word;
        if (!now.empty() && setText(longer, style).widthMm > widthMm) {
            lines.push_back(setText(now, style));
            now = word;
        } else
            now = longer;
    }
    lines.push_back(setText(now, style));
    return lines;
}

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

TickWish PanelAxis::wish(double lengthMm) const {
    const int typed = look.integer("count");
    const int about =
        typed > 0 ? typed
                  : std::clamp(static_cast<int>(lengthMm / (em() * (isX() ? 4.2 : 2.6))), 2, isX() ? 9 : 7);
    return {.every = look.number("every"),
            .minor = look.integer("minor"),
            .about = about,
            .from = look.number("from"),
            .numbers = {.format = look.text("format"),
                        .decimals = look.integer("decimals"),
                        .factor = factor_,
                        .pattern = look.text("pattern")}};
}

std::vector<Tick> PanelAxis::ownTicks() const {
    std::vector<Tick> out;
    const auto places = look.numbers("places");
    const std::string words = look.text("texts");
    const auto texts = split(words, '|');
    const double step = places.size() > 1 ? 0 : 1;
    TickWish plain = wish(map.length());
    plain.minor = 0;
    for (std::size_t k = 0; k < places.size(); ++k) {
        if (!map.contains(places[k]) || map.isSkipped(places[k])) continue;
        std::string label;
        if (!words.empty()) {
            if (k < texts.size()) label = std::string(trimmed(texts[k]));
        } else {
            plain.every = step;
            const std::vector<Tick> one =
                scale->isEven() && !meaning.isTime
                    ? std::vector<Tick>{}
                    : scale->ticks({places[k], places[k] + 1e-9 * std::abs(places[k]) + 1e-12}, plain);
            label =
                one.empty() || one.front().label.empty() ? readableNumber(places[k], 8) : one.front().label;
        }
        out.push_back({places[k], label, true});
    }
    return out;
}

// Only those that have a place: an end of a scale may lie infinitely far.
std::vector<Tick> PanelAxis::withPlaces(std::vector<Tick> all) const {
    std::erase_if(all, [this](const Tick& t) { return !std::isfinite(map.place(t.value)); });
    return all;
}

// Fewer and fewer until their labels have room; then what was typed is thinned, names are wrapped and turned.
void PanelAxis::makeTicks(double lengthMm) {
    factor_ = look.integer("factor");
    const double largest = std::max(std::abs(map.low()), std::abs(map.high()));
    if (factor_ == kChosenFactor) {
        const double exponent = largest > 0 ? std::floor(std::log10(largest) + 1e-12) : 0;
        factor_ = exponent >= 4 || exponent <= -3 ? static_cast<int>(3 * std::floor(exponent / 3)) : 0;
    }
    turn_ = Turn::Level;
    crowded_.clear(); // it is said of the last time only
    const bool own = !look.numbers("places").empty(), names = !meaning.categories.empty() && scale->isEven();
    TickWish wanted = wish(lengthMm);
    if (own || names) {
        ticks = withPlaces(own ? ownTicks() : map.ticks(wanted));
        chooseLabels(true);
        return;
    }
    const bool typed = wanted.every > 0 || look.integer("count") > 0;
    for (;; --wanted.about) {
        ticks = withPlaces(map.ticks(wanted));
        labels_ = labelled(false, 0);
        if (typed || wanted.about <= 2 || fits(labels_, Turn::Level)) break;
    }
    chooseLabels(false);
    // Parts of a broken axis have more ticks than were wished for: fewer numbers are no fault of the user's.
    if (!typed && map.isBroken() && labels_.size() > 1) crowded_.clear();
}

std::vector<PanelAxis::Label> PanelAxis::labelled(bool wraps, double spacing) const {
    const std::string prefix = look.text("prefix"), suffix = look.text("suffix");
    std::vector<Label> out;
    if (!numbers_) return out;
    for (const Tick& t : ticks) {
        if (t.label.empty() || (cross && t.value == 0)) continue; // where the axes meet
        const std::string words = prefix + t.label + suffix;
        out.push_back({map.place(t.value), {}, &t});
        if (wraps)
            out.back().lines = wrapped(words, text, spacing);
        else
            out.back().lines = {setText(words, text)};
        if (!isX() && !t.below.empty()) out.back().lines.push_back(setText(t.below, text));
    }
    return out;
}

bool PanelAxis::fits(const std::vector<Label>& labels, Turn turn) const {
    std::vector<std::pair<double, double>> taken; // from, to along the axis
    const double gap = (isX() ? 0.35 : 0.05) * em();
    for (const Label& l : labels) {
        double half = isX() ? widthOf(l.lines) / 2 : heightOf(l.lines, em()) / 2;
        if (turn == Turn::Upright) half = isX() ? heightOf(l.lines, em()) / 2 : widthOf(l.lines) / 2;
        if (turn == Turn::Slanted)
            half = heightOf(l.lines, em()) / 2 / std::sin(kSlant * std::numbers::pi / 180);
        taken.emplace_back(l.at - half, l.at + half);
    }
    std::ranges::sort(taken);
    for (std::size_t k = 1; k < taken.size(); ++k)
        if (taken[k].first < taken[k - 1].second + gap) return false;
    return true;
}

// Thinned, wrapped (only names), turned: the first that leaves room. Where nothing helps an issue says so.
void PanelAxis::chooseLabels(bool names) {
    const std::string told = look.text("turn");
    if (told == "slanted" || told == "upright") turn_ = told == "slanted" ? Turn::Slanted : Turn::Upright;
    labels_ = labelled(false, 0);
    if (fits(labels_, turn_)) return;
    if (isX() && names && turn_ == Turn::Level) {
        double spacing = INFINITY;
        for (std::size_t k = 1; k < labels_.size(); ++k)
            spacing = std::min(spacing, std::abs(labels_[k].at - labels_[k - 1].at));
        auto broken = labelled(true, spacing - 0.4 * em());
        const bool low = std::ranges::all_of(broken, [](const Label& l) { return l.lines.size() <= 3; });
        if (low && fits(broken, Turn::Level)) {
            labels_ = std::move(broken);
            return;
        }
    }
    if (isX() && names && told == "automatic")
        for (const Turn turn : {Turn::Slanted, Turn::Upright})
            if (fits(labels_, turn)) {
                turn_ = turn;
                return;
            }
    leaveOutCrowded();
}

void PanelAxis::leaveOutCrowded() {
    const std::size_t all = labels_.size();
    for (std::size_t stride = 2; stride <= all; ++stride) {
        std::vector<Label> kept;
        for (std::size_t k = 0; k < all; k += stride) kept.push_back(labels_[k]);
        if (!fits(kept, turn_)) continue;
        crowded_ = fmt::format(
            "{} of an axis had no room and {} left out; a larger distance of ticks or smaller text "
            "helps.",
            counted(static_cast<long long>(all - kept.size()), "number"),
            all - kept.size() == 1 ? "was" : "were");
        labels_ = std::move(kept);
        return;
    }
}

// Further marks of a dataset (its fit, its parts) are not asked.
void PanelAxis::tell(const Mark& mark, const AxisMeaning& from) {
    if (!mark.of || from.name.empty() || !mark.hasExtent()) return;
    if (std::ranges::find(told_, mark.of, &Told::of) == told_.end())
        told_.push_back({mark.of, from.name, from.unit});
}

std::string PanelAxis::toldTitle() const {
    std::vector<std::string> names, units;
    for (const Told& t : told_) {
        const std::string unit = unitMarkup(t.unit);
        if (std::ranges::find(units, unit) == units.end()) units.push_back(unit);
    }
    const bool each = units.size() > 1; // else one behind all of them
    for (const Told& t : told_) {
        std::string name = literal(t.name) + (each && !t.unit.empty() ? " (" + unitMarkup(t.unit) + ")" : "");
        if (std::ranges::find(names, name) == names.end()) names.push_back(std::move(name));
    }
    return names.size() < 2 || names.size() > kMostNames ? std::string() : joined(names, ", ");
}

void PanelAxis::makeTitle(double lengthMm) {
    std::string name = look.text("name"), unit = look.text("unit");
    if (unit.empty()) unit = meaning.unit;
    if (name.empty()) {
        name = toldTitle();
        const bool severalUnits = std::ranges::any_of(told_, [&](const Told& t) { return t.unit != told_[0].unit; });
        if (!name.empty() && severalUnits && look.text("unit").empty()) unit.clear();
        if (name.empty()) name = literal(meaning.name);
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
    if (turn_ == Turn::Slanted) return (width + height) * std::sin(kSlant * std::numbers::pi / 180);
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
