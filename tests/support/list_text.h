// SPDX-License-Identifier: GPL-3.0-or-later
// A display list as text, one line for each item, with lengths to a thousandth of a millimetre: what golden
// files hold. Long paths are told by their ends, their box and a sum.
#pragma once

#include "base/files.h"
#include "draw/display_list.h"

#include <cstdlib>
#include <filesystem>
#include <fmt/format.h>
#include <gtest/gtest.h>

namespace jointer::test {

inline std::string mm(double v) {
    const std::string s = fmt::format("{:.3f}", v);
    return s == "-0.000" ? "0.000" : s;
}

inline std::string pointsText(const std::vector<draw::Point>& points) {
    std::string out;
    if (points.size() <= 8) {
        for (const draw::Point& p : points) out += fmt::format(" {},{}", mm(p.x), mm(p.y));
        return out;
    }
    double x = 0, y = 0;
    for (const draw::Point& p : points) {
        x += p.x;
        y += p.y;
    }
    const auto n = static_cast<double>(points.size());
    const draw::Point &a = points.front(), &b = points.back();
    return fmt::format(" {} points {},{} … {},{} about {},{}", points.size(), mm(a.x), mm(a.y), mm(b.x),
                       mm(b.y), mm(x / n), mm(y / n));
}

inline std::string paintText(const std::optional<draw::Stroke>& stroke,
                             const std::optional<draw::Colour>& fill) {
    std::string out;
    if (stroke) out += fmt::format(" {} {}", mm(stroke->widthMm), stroke->colour.text());
    if (stroke && stroke->colour.a != 255) out += fmt::format("/{}", stroke->colour.a);
    if (stroke && !stroke->dashMm.empty()) out += fmt::format(" dash {}", mm(stroke->dashMm.front()));
    if (fill) out += fmt::format(" fill {}/{}", fill->text(), fill->a);
    return out;
}

inline void addText(const draw::Item& item, const std::string& indent, std::string& out) {
    out += indent + item.element.text();
    if (const auto* path = std::get_if<draw::Path>(&item.what)) {
        out += " path" + paintText(path->stroke, path->fill);
        for (const draw::Polyline& l : path->lines) out += (l.closed ? " o" : " -") + pointsText(l.points);
    } else if (const auto* symbols = std::get_if<draw::Symbols>(&item.what)) {
        out += fmt::format(" symbols {} {}", static_cast<int>(symbols->shape), mm(symbols->sizeMm)) +
               paintText(symbols->stroke, symbols->fill) + pointsText(symbols->places);
    } else if (const auto* run = std::get_if<draw::TextRun>(&item.what)) {
        out += fmt::format(" text “{}” {} {} {},{} {}", run->text, run->face, mm(run->sizePt),
                           mm(run->origin.x), mm(run->origin.y), mm(run->angleDeg));
    } else if (const auto* group = std::get_if<draw::Group>(&item.what)) {
        out += " group";
        if (group->clip)
            out += fmt::format(" clip {} {} {} {}", mm(group->clip->x), mm(group->clip->y),
                               mm(group->clip->width), mm(group->clip->height));
        out += "\n";
        for (const draw::Item& inner : group->items) addText(inner, indent + "  ", out);
        return;
    }
    out += "\n";
}

inline std::string textOf(const draw::DisplayList& list) {
    std::string out = fmt::format("page {} × {}\n", mm(list.widthMm), mm(list.heightMm));
    for (const draw::Item& item : list.items) addText(item, "", out);
    for (const draw::Region& r : list.regions)
        out += fmt::format("{} region {} {} {} {}\n", r.element.text(), mm(r.bounds.x), mm(r.bounds.y),
                           mm(r.bounds.width), mm(r.bounds.height));
    return out;
}

// Compares with tests/figure/golden/NAME.txt; with JOINTER_GOLDEN=write in the environment it is written.
inline void expectGolden(const std::string& name, const draw::DisplayList& list) {
    const std::filesystem::path path =
        std::filesystem::path(__FILE__).parent_path().parent_path() / "figure" / "golden" / (name + ".txt");
    const std::string now = textOf(list);
    if (std::getenv("JOINTER_GOLDEN")) {
        ASSERT_TRUE(replaceFile(path, now).has_value());
        return;
    }
    const auto held = readFile(path);
    ASSERT_TRUE(held.has_value()) << "JOINTER_GOLDEN=write makes " << path;
    EXPECT_EQ(*held, now) << name
                          << " is drawn otherwise; if that is meant, write it with JOINTER_GOLDEN=write";
}

} // namespace jointer::test
