// SPDX-License-Identifier: GPL-3.0-or-later
// Ticks of an axis, and their labels: as many as have room.
#include "base/text.h"
#include "figure/page/axis.h"
#include "figure/page/set_lines.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <utility>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr int kChosenFactor = 99;

std::string withoutSign(const std::string& number) {
    for (const std::string minus : {"−", "-"})
        if (number.starts_with(minus)) return number.substr(minus.size());
    return number;
}

} // namespace

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
        const std::string words = prefix + (meaning.twoSided ? withoutSign(t.label) : t.label) + suffix;
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
            half = heightOf(l.lines, em()) / 2 / std::sin(kSlantDeg * std::numbers::pi / 180);
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

} // namespace jointer::figure
