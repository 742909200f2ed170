// SPDX-License-Identifier: GPL-3.0-or-later
#include "scheme.h"

#include "draw/markup.h"
#include "draw/png.h"
#include "draw/revise.h"
#include "draw/svg.h"
#include "maker.h"

#include <algorithm>

namespace jointer::demo {

using namespace draw;

namespace {

constexpr Colour kWater{143, 186, 199, 255}, kMud{186, 168, 140, 255}, kInk{40, 48, 52, 255},
    kGate{154, 63, 65, 255};

std::vector<Point> wave(double left, double right, double level, double high) {
    std::vector<Point> out;
    for (int k = 0; k <= 60; ++k) {
        const double x = left + (right - left) * k / 60;
        out.push_back({x, level - high * std::sin(x * 0.9)});
    }
    return out;
}

class Drawing {
public:
    DisplayList list{.widthMm = 80, .heightMm = 48, .items = {}, .regions = {}};

    void area(std::vector<Point> points, Colour fill) {
        list.items.push_back({{}, Path{.lines = {{std::move(points), true}}, .stroke = {}, .fill = fill}});
    }
    void line(std::vector<Point> points, double width = 0.35, Colour colour = kInk) {
        list.items.push_back(
            {{},
             Path{.lines = {{std::move(points), false}},
                  .stroke =
                      Stroke{.widthMm = width, .colour = colour, .cap = Cap::Round, .join = Join::Round},
                  .fill = {}}});
    }
    void text(const char* words, Point at, HAlign align = HAlign::Left) {
        for (Item& part : placed(setText(words, {.family = "sans", .sizePt = 7, .colour = kInk}), at, align,
                                 VAlign::Middle))
            list.items.push_back(std::move(part));
    }
    void probe(Point top, double deep) {
        line({top, {top.x, top.y + deep}}, 0.5);
        area({{top.x - 1, top.y + deep},
              {top.x + 1, top.y + deep},
              {top.x + 1, top.y + deep + 3},
              {top.x - 1, top.y + deep + 3}},
             kInk);
    }
};

} // namespace

Asset sluiceScheme() {
    Drawing d;
    std::vector<Point> sea = wave(2, 40, 16, 0.7), pond = wave(39.5, 78, 24, 0.25);
    sea.insert(sea.end(), {{40, 39}, {2, 39}});
    pond.insert(pond.end(), {{78, 39}, {39.5, 39}});
    d.area(std::move(sea), kWater);
    d.area(std::move(pond), kWater);
    d.area({{2, 38}, {26, 38}, {36, 34}, {44, 34}, {54, 38}, {78, 38}, {78, 44}, {2, 44}}, kMud);
    d.area({{38.6, 8}, {41.4, 8}, {41.4, 27}, {38.6, 27}}, kGate);
    d.line({{34, 8}, {46, 8}}, 0.7);
    d.line({{40, 4}, {40, 8}}, 0.7);
    d.line({{37, 4}, {43, 4}}, 0.7);
    d.probe({16, 10}, 16);
    d.probe({62, 10}, 18);
    for (const double y : {29.0, 31.0}) d.line({{34, y}, {46, y}, {44.6, y - 0.8}}, 0.3);
    d.text("sea", {8, 12.4});
    d.text("pond", {71, 21});
    d.text("gate", {43.5, 14});
    d.text("A", {16, 7.5}, HAlign::Centre);
    d.text("B", {62, 7.5}, HAlign::Centre);
    return {.id = {},
            .name = "sluice.svg",
            .type = "image/svg+xml",
            .bytes = std::make_shared<const std::string>(toSvg(outlined(d.list), {.transparent = true}))};
}

Asset diatomPlate() {
    constexpr std::size_t kColumns = 480, kRows = 320;
    struct Cell {
        double x, y, length, width, angle;
    };
    static constexpr Cell cells[] = {{120, 90, 86, 17, 0.4},  {300, 70, 64, 14, -0.7},
                                     {390, 190, 92, 18, 1.2}, {190, 210, 78, 16, -0.2},
                                     {70, 250, 58, 13, 0.9},  {300, 280, 70, 15, 0.1}};
    Noise noise(71);
    std::vector<std::uint8_t> pixels;
    pixels.reserve(4 * kColumns * kRows);
    for (std::size_t row = 0; row < kRows; ++row)
        for (std::size_t column = 0; column < kColumns; ++column) {
            const double x = static_cast<double>(column), y = static_cast<double>(row);
            double grey = 205 - 0.03 * x + 0.02 * y;
            for (const Cell& c : cells) {
                const double u = ((x - c.x) * std::cos(c.angle) + (y - c.y) * std::sin(c.angle)) /
                                 (c.length / 2),
                             v = ((y - c.y) * std::cos(c.angle) - (x - c.x) * std::sin(c.angle)) /
                                 (c.width / 2);
                const double r = u * u + v * v * (1 + 1.5 * u * u * u * u);
                if (r < 1.15) {
                    const double edge = std::exp(-std::pow((r - 1) / 0.14, 2));
                    const double ribs = r < 1 ? 18 * std::sin(u * c.length * 0.9) * (1 - r) : 0;
                    grey += (r < 1 ? -34 * (1 - 0.5 * r) : 0) - 78 * edge + ribs -
                            (std::abs(v) < 0.12 && r < 1 ? 30 : 0);
                }
            }
            const auto level = static_cast<std::uint8_t>(
                4 * std::lround(std::clamp(grey + 1.5 * noise.normal(), 0.0, 252.0) / 4));
            pixels.insert(pixels.end(), {level, level, static_cast<std::uint8_t>(level * 0.94), 255});
        }
    return {.id = {},
            .name = "plate_7.png",
            .type = "image/png",
            .bytes = std::make_shared<const std::string>(
                pngOf({.bounds = {},
                       .columns = kColumns,
                       .rows = kRows,
                       .pixels = std::make_shared<const std::vector<std::uint8_t>>(std::move(pixels))},
                      300))};
}

} // namespace jointer::demo
