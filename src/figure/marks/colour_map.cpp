// SPDX-License-Identifier: GPL-3.0-or-later
// A field as colours: a colour for each cell, or blended between the nodes.
#include "base/parallel.h"
#include "figure/marks/field_mark.h"

#include <cmath>
#include <cstring>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr std::size_t kColours = 1024, kMostPixels = 6000, kFewRows = 32;

using Rgba = std::array<std::uint8_t, 4>;

// Colours of values, looked up.
class Lookup {
public:
    Lookup(const ColourScale& scale, Colour missing) : scale_(scale) {
        for (const Colour& c : scale.table(kColours)) colours_.push_back({c.r, c.g, c.b, c.a});
        missing_ = {missing.r, missing.g, missing.b, missing.a};
        low_ = scale.logarithmic ? std::log(scale.range.low) : scale.range.low;
        const double high = scale.logarithmic ? std::log(scale.range.high) : scale.range.high;
        per_ = static_cast<double>(kColours - 1) / (high - low_);
    }
    const Rgba& operator()(double v) const {
        if (scale_.logarithmic) v = v > 0 ? std::log(v) : NAN;
        if (std::isnan(v)) return missing_;
        const double at = (v - low_) * per_;
        return colours_[at <= 0 ? 0 : at >= kColours - 1 ? kColours - 1 : static_cast<std::size_t>(at + 0.5)];
    }

private:
    const ColourScale& scale_;
    std::vector<Rgba> colours_;
    Rgba missing_;
    double low_, per_;
};

// Where each pixel along one direction takes its value: two nodes and the share of the second.
struct Taken {
    std::size_t first = 0, second = 0;
    float share = 0;
    bool there = false;
};

std::vector<double> edgesOf(const std::vector<double>& nodes) {
    std::vector<double> edges{nodes[0] - (nodes[1] - nodes[0]) / 2};
    for (std::size_t k = 0; k + 1 < nodes.size(); ++k) edges.push_back((nodes[k] + nodes[k + 1]) / 2);
    edges.push_back(nodes.back() + (nodes.back() - nodes[nodes.size() - 2]) / 2);
    return edges;
}

class ColourMap final : public FieldMark {
public:
    bool smooth = false;
    Colour missing{0, 0, 0, 0};

    void draw(const Frame& frame, Group& into) const override {
        if (isEmpty() || !colours) return;
        Group group = outlined(frame);
        if (!smooth && isPlain(frame))
            add(group, cells(frame));
        else if (auto picture = resampled(frame))
            add(group, std::move(*picture));
        if (!group.items.empty()) add<>(into, std::move(group));
    }

private:
    // Even nodes on even axes, not more than the target can show: the cells themselves are the pixels.
    bool isPlain(const Frame& frame) const {
        const auto fits = [&](const AxisMap& map, const std::vector<double>& nodes) {
            const Range reach = reachOf(nodes);
            const double mm = std::abs(map.place(reach.high) - map.place(reach.low));
            return map.scale().isEven() && !map.isBroken() && !map.isBound() && std::isfinite(mm) &&
                   static_cast<double>(nodes.size()) <= mm * frame.pixelsPerMm && mm < 5000;
        };
        return field->isEven() && fits(frame.x, field->x) && fits(frame.y, field->y);
    }

    Picture cells(const Frame& frame) const {
        const Range x = reachOf(field->x), y = reachOf(field->y);
        const Point a = frame.at(x.low, y.low), b = frame.at(x.high, y.high);
        const std::size_t n = field->columns(), m = field->rows();
        const Lookup lookup(*colours, missing);
        auto pixels = std::make_shared<std::vector<std::uint8_t>>(4 * n * m);
        for (std::size_t row = 0; row < m; ++row)
            for (std::size_t column = 0; column < n; ++column) {
                const std::size_t i = b.x > a.x ? column : n - 1 - column, j = b.y > a.y ? row : m - 1 - row;
                std::memcpy(&(*pixels)[4 * (row * n + column)], lookup(field->at(i, j)).data(), 4);
            }
        return {.bounds = boundsOf({a, b}),
                .columns = n,
                .rows = m,
                .pixels = std::move(pixels),
                .smooth = false};
    }

    std::vector<Taken> takenAlong(const AxisMap& map, const std::vector<double>& nodes, double from,
                                  double mm, std::size_t pixels) const {
        std::vector<Taken> out(pixels);
        const std::vector<double> edges = smooth ? nodes : edgesOf(nodes);
        const bool rising = map.value(from + mm * static_cast<double>(pixels)) >= map.value(from);
        std::size_t k = rising ? 0 : edges.size() - 2;
        for (std::size_t p = 0; p < pixels; ++p) {
            const double v = map.value(from + mm * (static_cast<double>(p) + 0.5));
            if (!(v >= edges.front() && v <= edges.back())) continue;
            while (k + 2 < edges.size() && v >= edges[k + 1]) ++k;
            while (k > 0 && v < edges[k]) --k;
            out[p] = {k, smooth ? k + 1 : k,
                      smooth ? static_cast<float>((v - edges[k]) / (edges[k + 1] - edges[k])) : 0.F, true};
        }
        return out;
    }

    std::optional<Picture> resampled(const Frame& frame) const {
        const Range x = reachOf(field->x), y = reachOf(field->y);
        const auto ends = [](const AxisMap& map, const Range& reach, double low, double high) {
            const double a = map.place(std::max(reach.low, map.low())),
                         b = map.place(std::min(reach.high, map.high()));
            return std::pair(std::max(std::fmin(a, b), low), std::min(std::fmax(a, b), high));
        };
        const auto [left, right] = ends(frame.x, x, frame.area.x, frame.area.right());
        const auto [top, bottom] = ends(frame.y, y, frame.area.y, frame.area.bottom());
        if (!(left < right) || !(top < bottom)) return {};
        const auto count = [&](double mm) {
            return std::clamp<std::size_t>(static_cast<std::size_t>(std::ceil(mm * frame.pixelsPerMm)), 1,
                                           kMostPixels);
        };
        const std::size_t w = count(right - left), h = count(bottom - top);
        const auto across = takenAlong(frame.x, field->x, left, (right - left) / static_cast<double>(w), w),
                   down = takenAlong(frame.y, field->y, top, (bottom - top) / static_cast<double>(h), h);
        const Lookup lookup(*colours, missing);
        auto pixels = std::make_shared<std::vector<std::uint8_t>>(4 * w * h, 0);
        parallelRanges(h, kFewRows, [&](std::size_t begin, std::size_t end) {
            for (std::size_t row = begin; row < end; ++row)
                if (down[row].there) fillRow(&(*pixels)[4 * row * w], across, down[row], lookup);
        });
        return Picture{.bounds = {left, top, right - left, bottom - top},
                       .columns = w,
                       .rows = h,
                       .pixels = std::move(pixels),
                       .smooth = false}; // it has the target's resolution: nothing is left to blend
    }

    void fillRow(std::uint8_t* to, const std::vector<Taken>& across, const Taken& row,
                 const Lookup& lookup) const {
        const double* a = &field->z[row.first * field->columns()];
        const double* b = &field->z[row.second * field->columns()];
        const double t = static_cast<double>(row.share);
        for (const Taken& at : across) {
            if (at.there) {
                double v = a[at.first];
                if (smooth) {
                    const double s = static_cast<double>(at.share);
                    const double low = a[at.first] + s * (a[at.second] - a[at.first]),
                                 high = b[at.first] + s * (b[at.second] - b[at.first]);
                    v = low + t * (high - low);
                }
                std::memcpy(to, lookup(v).data(), 4);
            }
            to += 4;
        }
    }
};

MarkPtr prepare(const MarkTask& task) {
    auto mark = std::make_unique<ColourMap>();
    mark->smooth = task.look.text("between") == "smooth";
    mark->wholeCells = !mark->smooth;
    prepareField(task, *mark);
    giveColours(task, *mark);
    mark->missing = Colour::fromText(task.look.text("missing"), Colour{0, 0, 0, 0});
    mark->named = false;
    return mark;
}

} // namespace

MarkKind colourMapMark() {
    using namespace describe;
    return {.info = {.key = "colour-map",
                     .name = "Colour map",
                     .purpose = "A field in colours",
                     .group = "Marks",
                     .settings = together(
                         {fieldSettings(),
                          {choice("between", "Cells", {{"cells", "a colour each"}, {"smooth", "blended"}},
                                  "Each node's cell in one colour, or blended between the nodes.")},
                          colourScaleSettings("Colours"),
                          {made(SettingKind::Colour, "missing", "Missing", std::string(),
                                "Colour of cells without a value; empty: none.",
                                {.group = "Colours", .whenEmpty = "none"})}})},
            .prepare = prepare,
            .behind = true,
            .of = evaluate::fieldKinds()};
}

} // namespace jointer::figure
