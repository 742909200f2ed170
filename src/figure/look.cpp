// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/look.h"

#include "draw/colour_sight.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace jointer::figure {

Look::Look(const KindInfo& kind, const Settings& own, const HouseStyle* style, Settings encoded)
    : kind_(kind), own_(own), style_(nullptr), encoded_(std::move(encoded)) {
    if (!style) return;
    const auto at = style->looks.find(kind.key);
    if (at != style->looks.end()) style_ = &at->second;
}

Value Look::value(std::string_view key) const {
    if (own_.has(key)) return kind_.value(own_, key);
    if (encoded_.has(key)) return kind_.value(encoded_, key);
    if (style_ && style_->has(key)) return kind_.value(*style_, key);
    const Setting* s = kind_.find(key);
    return s ? s->fallback : Value{};
}

double Look::number(std::string_view key) const {
    const Value v = value(key);
    const double* n = std::get_if<double>(&v);
    return n ? *n : std::numeric_limits<double>::quiet_NaN();
}
int Look::integer(std::string_view key) const {
    const double n = number(key);
    return std::isfinite(n) ? static_cast<int>(std::lround(std::clamp(n, -1e9, 1e9))) : 0;
}
std::string Look::text(std::string_view key) const {
    const Value v = value(key);
    const std::string* t = std::get_if<std::string>(&v);
    return t ? *t : std::string{};
}
bool Look::flag(std::string_view key) const {
    const Value v = value(key);
    const bool* b = std::get_if<bool>(&v);
    return b && *b;
}
Numbers Look::numbers(std::string_view key) const {
    const Value v = value(key);
    const Numbers* n = std::get_if<Numbers>(&v);
    return n ? *n : Numbers{};
}
Texts Look::texts(std::string_view key) const {
    const Value v = value(key);
    const Texts* t = std::get_if<Texts>(&v);
    return t ? *t : Texts{};
}
std::string Look::reference(std::string_view key) const {
    const Value v = value(key);
    const Reference* r = std::get_if<Reference>(&v);
    return r ? r->to : std::string{};
}
draw::Colour Look::colour(std::string_view key, draw::Colour fallback) const {
    return draw::Colour::fromText(text(key), fallback);
}

Settings Look::inForce() const {
    Settings all;
    for (const Setting& s : kind_.settings)
        if (Value v = value(s.key); !std::holds_alternative<std::monostate>(v)) all.set(s.key, std::move(v));
    return all;
}

namespace {

struct NamedPalette {
    const char *key, *label;
    std::vector<std::string> colours;
};

// All have as many colours. The first four are told apart best, in grey too, the eight by everyone: they were
// sought for the largest distances that all kinds of sight leave between them
// (tests/figure/palettes_test.cpp).
const std::vector<NamedPalette>& allPalettes() {
    static const std::vector<NamedPalette> all = {
        {"marsh",
         "marsh",
         {"#1d5694", "#6c3153", "#0c8490", "#bd7e2f", "#566569", "#9a3f41", "#329aa6", "#877327"}},
        {"dusk",
         "dusk (on dark)",
         {"#7c9fd8", "#bcc0d2", "#a9f2ba", "#d1a751", "#e7b944", "#f29199", "#84e9f3", "#d7d18b"}},
        {"ink",
         "ink (greys)",
         {"#000000", "#8c8c8c", "#4a4a4a", "#b4b4b4", "#2a2a2a", "#a0a0a0", "#666666", "#c4c4c4"}}};
    return all;
}

} // namespace

const std::vector<std::string>& palette(std::string_view key) {
    const auto at = std::ranges::find(allPalettes(), key, &NamedPalette::key);
    return at == allPalettes().end() ? allPalettes().front().colours : at->colours;
}

const std::vector<Choice>& palettes() {
    static const std::vector<Choice> all = [] {
        std::vector<Choice> out;
        for (const NamedPalette& p : allPalettes()) out.push_back({p.key, p.label});
        return out;
    }();
    return all;
}

std::string inPalette(const std::string& colour, std::string_view key) {
    const auto& usual = palette();
    const auto at = std::ranges::find(usual, colour);
    return at == usual.end() ? colour : palette(key)[static_cast<std::size_t>(at - usual.begin())];
}

const std::vector<Choice>& colourMaps() {
    static const std::vector<Choice> maps = {{"tide", "tide"},
                                             {"moss", "moss"},
                                             {"ember", "ember"},
                                             {"ash", "ash (greys)"},
                                             {"shore", "shore (two-sided)"},
                                             {"tidal", "tidal (cyclic)"}};
    return maps;
}

namespace {

// Even in lightness, with the hue turning and the chroma rising and falling.
struct MapShape {
    std::string_view key;
    double fromLightness, toLightness, fromHue, toHue, chroma; // degrees
};

} // namespace

draw::Colour mapped(std::string_view map, double share) {
    static constexpr std::array<MapShape, 4> shapes = {{{"tide", 0.32, 0.90, 262, 190, 0.085},
                                                        {"moss", 0.30, 0.90, 165, 110, 0.100},
                                                        {"ember", 0.32, 0.90, 18, 92, 0.130},
                                                        {"ash", 0.25, 0.90, 0, 0, 0}}};
    constexpr double perDegree = std::numbers::pi / 180;
    const double t = std::clamp(std::isfinite(share) ? share : 0.0, 0.0, 1.0);
    if (map == "shore") { // the middle is light, the ends differ in hue
        const double side = 2 * t - 1, hue = (side < 0 ? 250 : 45) * perDegree,
                     chroma = 0.13 * std::abs(side);
        return draw::shown({0.93 - 0.48 * std::abs(side), chroma * std::cos(hue), chroma * std::sin(hue)});
    }
    if (map == "tidal") { // once round all hues, at one lightness: for angles and times of day
        const double hue = 2 * std::numbers::pi * t;
        return draw::shown({0.68, 0.11 * std::cos(hue), 0.11 * std::sin(hue)});
    }
    const auto at = std::ranges::find(shapes, map, &MapShape::key);
    const MapShape& shape = at == shapes.end() ? shapes.front() : *at;
    const double hue = std::lerp(shape.fromHue, shape.toHue, t) * perDegree;
    const double chroma = shape.chroma * (0.55 + 0.45 * std::sin(std::numbers::pi * t));
    return draw::shown({std::lerp(shape.fromLightness, shape.toLightness, t), chroma * std::cos(hue),
                        chroma * std::sin(hue)});
}

} // namespace jointer::figure
