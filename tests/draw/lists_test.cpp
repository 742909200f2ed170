// SPDX-License-Identifier: GPL-3.0-or-later
// Display lists: how far items reach, what differs between two lists, colours, outlines of symbols, embedded
// pictures.
#include "draw/bounds.h"
#include "draw/markup.h"
#include "draw/png.h"
#include "draw/svg.h"
#include "support/random.h"

#include <gmock/gmock.h>
#include <zlib.h>

using namespace jointer;
using namespace jointer::draw;

namespace {

struct Random : test::Random {
    using test::Random::Random;
    int below(int n) { return static_cast<int>(test::Random::below(static_cast<std::size_t>(n))); }
    Point point() { return {between(0, 100), between(0, 80)}; }
    std::vector<Point> points() {
        std::vector<Point> out(static_cast<std::size_t>(1 + below(5)));
        for (Point& p : out) p = point();
        return out;
    }
    Item item(int depth = 0) {
        const Stroke stroke{.widthMm = between(0.05, 2), .colour = {}, .dashMm = {}};
        switch (below(depth < 2 ? 5 : 4)) {
        case 0:
            return {{}, Path{{{points(), below(2) == 0}}, stroke, {}}};
        case 1:
            return {{},
                    Symbols{static_cast<SymbolShape>(below(15)), between(0.2, 4), points(), stroke,
                            Colour{1, 2, 3}}};
        case 2:
            return {{},
                    TextRun{.text = "abc",
                            .face = "sans",
                            .sizePt = between(4, 14),
                            .origin = point(),
                            .widthMm = 6}};
        case 3:
            return {{}, Mesh{{point(), point(), point()}, std::vector<Colour>(3), {0, 1, 2}}};
        default: {
            Group g{.clip = {}, .items = {}};
            for (int k = 0; k < 3; ++k) g.items.push_back(item(depth + 1));
            if (below(3) == 0) g.clip = Rect{between(0, 50), between(0, 40), 20, 20};
            if (below(3) == 0)
                g.matrix = Matrix{between(0.5, 2), 0, 0, between(0.5, 2), between(-9, 9), between(-9, 9)};
            return {{}, std::move(g)};
        }
        }
    }
    DisplayList list(int items) {
        DisplayList out{.widthMm = 100, .heightMm = 80, .items = {}, .regions = {}};
        for (int k = 0; k < items; ++k) out.items.push_back(item());
        return out;
    }
};

// The corners of all that an item draws, without what its widths and letters add.
void corners(const Item& item, const Matrix& by, const std::optional<Rect>& clip, std::vector<Point>& out) {
    auto add = [&](const std::vector<Point>& points) {
        for (const Point& p : points)
            if (!clip || clip->contains(p)) out.push_back(by(p));
    };
    if (const auto* path = std::get_if<Path>(&item.what))
        for (const Polyline& l : path->lines) add(l.points);
    if (const auto* symbols = std::get_if<Symbols>(&item.what)) add(symbols->places);
    if (const auto* mesh = std::get_if<Mesh>(&item.what)) add(mesh->corners);
    if (const auto* text = std::get_if<TextRun>(&item.what))
        add({text->origin, {text->origin.x + text->widthMm, text->origin.y}});
}

double areaOf(const Polyline& line) {
    double twice = 0;
    for (std::size_t k = 0; k < line.points.size(); ++k) {
        const Point &a = line.points[k], &b = line.points[(k + 1) % line.points.size()];
        twice += a.x * b.y - b.x * a.y;
    }
    return std::abs(twice) / 2;
}

std::uint32_t numberAt(const std::string& bytes, std::size_t at) {
    std::uint32_t v = 0;
    for (std::size_t k = 0; k < 4; ++k) v = v << 8 | static_cast<unsigned char>(bytes[at + k]);
    return v;
}

} // namespace

TEST(Bounds, HoldWhatIsDrawn) {
    Random random(1);
    for (int round = 0; round < 2000; ++round) {
        const Item item = random.item();
        const Rect bounds = boundsOf(item);
        std::vector<Point> inside;
        if (const auto* group = std::get_if<Group>(&item.what)) {
            for (const Item& inner : group->items) // one level is enough: groups within are asked themselves
                if (!std::holds_alternative<Group>(inner.what))
                    corners(inner, group->matrix.value_or(Matrix{}), group->clip, inside);
        } else
            corners(item, {}, {}, inside);
        for (const Point& p : inside) EXPECT_TRUE(bounds.grown(1e-9).contains(p)) << round;
    }
    EXPECT_LT(boundsOf(Item{{}, Path{}}).width, 0) << "nothing is nowhere";
    EXPECT_LT(boundsOf(Item{{}, Group{}}).width, 0);
    EXPECT_FALSE(meet(boundsOf(Item{{}, Path{}}), {0, 0, 100, 100}));
}

TEST(Bounds, MeetIsSymmetricAndRightAtBorders) {
    const Rect a{0, 0, 10, 10};
    for (const auto& [b, wanted] : {std::pair(Rect{10, 0, 5, 5}, true),
                                    {Rect{10.1, 0, 5, 5}, false},
                                    {Rect{2, 2, 1, 1}, true},
                                    {Rect{-5, -5, 20, 20}, true},
                                    {Rect{0, 11, 10, 10}, false}}) {
        EXPECT_EQ(meet(a, b), wanted);
        EXPECT_EQ(meet(b, a), wanted);
    }
}

// Only what has changed is painted again: a change lies within the difference, and alike lists have none.
TEST(Difference, HoldsEveryChange) {
    Random random(2);
    for (int round = 0; round < 500; ++round) {
        const DisplayList before = random.list(12);
        EXPECT_FALSE(difference(before, before));
        DisplayList now = before;
        for (int k = random.below(3); k >= 0; --k) {
            const auto at = static_cast<std::size_t>(random.below(12));
            now.items[at] = random.item();
            const auto found = difference(before, now);
            ASSERT_TRUE(found.has_value());
            for (const Rect& part : {boundsOf(before.items[at]), boundsOf(now.items[at])}) {
                if (part.width < 0) continue;
                EXPECT_TRUE(found->grown(1e-9).contains({part.x, part.y})) << round;
                EXPECT_TRUE(found->grown(1e-9).contains({part.right(), part.bottom()})) << round;
            }
        }
        now.items.pop_back();
        EXPECT_EQ(difference(before, now), (Rect{0, 0, 100, 80})) << "of another length: the page";
        DisplayList larger = before;
        larger.widthMm = 120;
        EXPECT_EQ(difference(before, larger), (Rect{0, 0, 120, 80}));
    }
}

TEST(KeepNear, LeavesNoPlaceThatABackendCannotTake) {
    Random random(3);
    const std::vector<double> odd = {NAN, INFINITY, -INFINITY, 1e300, -1e300, 1e6, -1e6};
    for (int round = 0; round < 1000; ++round) {
        std::vector<Item> items;
        for (int k = 0; k < 4; ++k) items.push_back(random.item());
        for (Item& item : items) {
            const auto spoil = [&](Point& p) {
                if (random.below(3) == 0)
                    (random.below(2) ? p.x : p.y) = odd[static_cast<std::size_t>(random.below(7))];
            };
            if (auto* path = std::get_if<Path>(&item.what))
                for (Polyline& l : path->lines) std::ranges::for_each(l.points, spoil);
            if (auto* symbols = std::get_if<Symbols>(&item.what))
                std::ranges::for_each(symbols->places, spoil);
            if (auto* text = std::get_if<TextRun>(&item.what)) spoil(text->origin);
        }
        keepNear(items, 1000);
        for (const Item& item : items) {
            std::vector<Point> left;
            corners(item, {}, {}, left);
            for (const Point& p : left) {
                EXPECT_TRUE(std::isfinite(p.x) && std::isfinite(p.y)) << round;
                EXPECT_LE(std::abs(p.x), 1100) << round;
                EXPECT_LE(std::abs(p.y), 1100) << round;
            }
        }
    }
}

// A line from far left to far right is cut, not lost, and keeps its slope.
TEST(KeepNear, CutsLinesWhereTheyLeave) {
    std::vector<Item> items = {{{}, Path{{{{{-1e7, -1e6}, {1e7, 1e6}}, false}}, Stroke{}, {}}}};
    keepNear(items, 1000);
    ASSERT_EQ(items.size(), 1U);
    const auto& lines = std::get<Path>(items[0].what).lines;
    ASSERT_EQ(lines.size(), 1U);
    ASSERT_EQ(lines[0].points.size(), 2U);
    for (const Point& p : lines[0].points) EXPECT_NEAR(p.y, 0.1 * p.x, 1e-6);
    EXPECT_GT(lines[0].points[1].x - lines[0].points[0].x, 1000);
}

// Of random lines what lies in the square stays as it is: each place on the one is on the other.
TEST(KeepNear, ChangesNothingThatIsNear) {
    Random random(7);
    const auto distance = [](const Point& p, const Polyline& line) {
        double least = INFINITY;
        for (std::size_t k = 0; k + 1 < line.points.size(); ++k) {
            const Point &a = line.points[k], &b = line.points[k + 1];
            const double dx = b.x - a.x, dy = b.y - a.y, length = dx * dx + dy * dy;
            const double t =
                length > 0 ? std::clamp(((p.x - a.x) * dx + (p.y - a.y) * dy) / length, 0.0, 1.0) : 0;
            least = std::min(least, std::hypot(a.x + t * dx - p.x, a.y + t * dy - p.y));
        }
        return least;
    };
    for (int round = 0; round < 500; ++round) {
        Polyline line;
        for (int k = 0; k < 6; ++k) {
            const double far = std::pow(10, random.between(1, 6));
            line.points.push_back({random.between(-far, far), random.between(-far, far)});
        }
        std::vector<Item> items = {{{}, Path{{line}, Stroke{}, {}}}};
        keepNear(items, 1000);
        const auto& pieces = std::get<Path>(items[0].what).lines;
        for (std::size_t k = 0; k + 1 < line.points.size(); ++k)
            for (int step = 0; step <= 200; ++step) {
                const Point p{std::lerp(line.points[k].x, line.points[k + 1].x, step / 200.0),
                              std::lerp(line.points[k].y, line.points[k + 1].y, step / 200.0)};
                if (std::abs(p.x) > 999 || std::abs(p.y) > 999) continue;
                double least = INFINITY;
                for (const Polyline& piece : pieces) least = std::min(least, distance(p, piece));
                EXPECT_LT(least, 1e-6) << round;
            }
        for (const Polyline& piece : pieces)
            for (const Point& p : piece.points) EXPECT_LT(distance(p, line), 1e-6) << "nothing is made up";
    }
}

// An area far larger than the page still covers it, and one beside it does not.
TEST(KeepNear, AreasCoverWhatTheyCovered) {
    const auto areaLeft = [](double x, double y, double size) {
        std::vector<Item> items = {
            {{}, Path{{{{{x, y}, {x + size, y}, {x + size, y + size}, {x, y + size}}, true}}, {}, Colour{}}}};
        keepNear(items, 1000);
        double sum = 0;
        for (const Polyline& l : std::get<Path>(items[0].what).lines) sum += areaOf(l);
        return sum;
    };
    EXPECT_NEAR(areaLeft(-1e8, -1e8, 2e8), 4e6, 1) << "the whole square";
    EXPECT_NEAR(areaLeft(0, 0, 1e9), 1e6, 1) << "a quarter of it";
    EXPECT_NEAR(areaLeft(5000, 0, 1e6), 0, 1e-6);
    EXPECT_NEAR(areaLeft(10, 20, 30), 900, 1e-9);
}

TEST(Colour, GoesToTextAndBack) {
    Random random(4);
    for (int round = 0; round < 300; ++round) {
        const auto part = [&] { return static_cast<std::uint8_t>(random.below(256)); };
        const Colour c{part(), part(), part(), 255};
        EXPECT_EQ(Colour::fromText(c.text()), c);
    }
    EXPECT_EQ(Colour::fromText("#12345678"), (Colour{0x12, 0x34, 0x56, 0x78}));
    const Colour other{9, 9, 9};
    for (const char* text :
         {"", "#", "#12345", "#1234567", "123456", "#12345g", "red", "#12 456", "#+12345", "#-12345"})
        EXPECT_EQ(Colour::fromText(text, other), other) << text;
    EXPECT_EQ(Colour(1, 2, 3).withAlpha(0.5).a, 128);
    EXPECT_EQ(Colour(1, 2, 3).withAlpha(7).a, 255);
    EXPECT_EQ(Colour(1, 2, 3).withAlpha(-1).a, 0);
}

// Closed symbols of one size cover about the area of the circle; the middle of each is its place.
TEST(Symbols, OfOneSizeLookAlikeInSize) {
    const double circle = M_PI / 4;
    for (int k = 1; k < 15; ++k) {
        const auto shape = static_cast<SymbolShape>(k);
        const auto outline = symbolOutline(shape, 1);
        ASSERT_FALSE(outline.empty()) << k;
        double left = 0, right = 0;
        for (const Polyline& l : outline)
            for (const Point& p : l.points) {
                left = std::min(left, p.x);
                right = std::max(right, p.x);
                EXPECT_LE(std::hypot(p.x, p.y), 0.75) << k;
            }
        if (isOfStrokes(shape)) continue;
        ASSERT_EQ(outline.size(), 1U);
        EXPECT_TRUE(outline[0].closed);
        EXPECT_NEAR(areaOf(outline[0]), circle, 0.4 * circle) << k;
        const auto larger = symbolOutline(shape, 3);
        EXPECT_NEAR(areaOf(larger[0]), 9 * areaOf(outline[0]), 1e-9);
    }
    EXPECT_TRUE(symbolOutline(SymbolShape::Circle, 1).empty()) << "circles are drawn as such";
}

// Left and right, upper and lower halves make the whole.
TEST(Symbols, HalvesMakeTheWhole) {
    for (int k = 0; k < 15; ++k) {
        const auto shape = static_cast<SymbolShape>(k);
        if (isOfStrokes(shape)) continue;
        const double whole = shape == SymbolShape::Circle ? M_PI / 4 : areaOf(symbolOutline(shape, 1)[0]);
        EXPECT_NEAR(areaOf(symbolHalf(shape, 1, Half::Left)) + areaOf(symbolHalf(shape, 1, Half::Right)),
                    whole, 0.01)
            << k;
        EXPECT_NEAR(areaOf(symbolHalf(shape, 1, Half::Upper)) + areaOf(symbolHalf(shape, 1, Half::Lower)),
                    whole, 0.01)
            << k;
        for (const Point& p : symbolHalf(shape, 1, Half::Left).points) EXPECT_LE(p.x, 1e-9) << k;
        for (const Point& p : symbolHalf(shape, 1, Half::Right).points) EXPECT_GE(p.x, -1e-9) << k;
        for (const Point& p : symbolHalf(shape, 1, Half::Upper).points) EXPECT_LE(p.y, 1e-9) << k;
        for (const Point& p : symbolHalf(shape, 1, Half::Lower).points) EXPECT_GE(p.y, -1e-9) << k;
    }
}

// ISO/IEC 15948: signature, chunks with their sums, rows without filter.
TEST(Png, HoldsThePixelsThatWereGiven) {
    Random random(5);
    for (const auto& [columns, rows] : {std::pair<std::size_t, std::size_t>(1, 1), {3, 2}, {16, 40}}) {
        auto pixels = std::make_shared<std::vector<std::uint8_t>>(4 * columns * rows);
        for (auto& byte : *pixels) byte = static_cast<std::uint8_t>(random.below(256));
        const std::string png = pngOf({.bounds = {}, .columns = columns, .rows = rows, .pixels = pixels});
        ASSERT_TRUE(png.starts_with("\x89PNG\r\n\x1a\n"));
        std::string packed;
        std::vector<std::string> names;
        for (std::size_t at = 8; at + 12 <= png.size();) {
            const std::uint32_t length = numberAt(png, at);
            names.push_back(png.substr(at + 4, 4));
            const std::string body = png.substr(at + 4, 4 + length);
            EXPECT_EQ(crc32(0, reinterpret_cast<const Bytef*>(body.data()), static_cast<uInt>(body.size())),
                      numberAt(png, at + 8 + length));
            if (names.back() == "IHDR") {
                EXPECT_EQ(numberAt(body, 4), columns);
                EXPECT_EQ(numberAt(body, 8), rows);
                EXPECT_EQ(body.substr(12), std::string("\x08\x06\0\0\0", 5)) << "eight bits, with opacity";
            }
            if (names.back() == "IDAT") packed += body.substr(4);
            at += 12 + length;
        }
        EXPECT_THAT(names, testing::ElementsAre("IHDR", "IDAT", "IEND"));
        std::string raw(rows * (4 * columns + 1), '\0');
        uLongf size = raw.size();
        ASSERT_EQ(uncompress(reinterpret_cast<Bytef*>(raw.data()), &size,
                             reinterpret_cast<const Bytef*>(packed.data()),
                             static_cast<uLong>(packed.size())),
                  Z_OK);
        ASSERT_EQ(size, raw.size());
        for (std::size_t row = 0; row < rows; ++row) {
            EXPECT_EQ(raw[row * (4 * columns + 1)], 0);
            for (std::size_t k = 0; k < 4 * columns; ++k)
                EXPECT_EQ(static_cast<std::uint8_t>(raw[row * (4 * columns + 1) + 1 + k]),
                          (*pixels)[row * 4 * columns + k]);
        }
    }
}

// The box stands at its place by its side, and turns about it.
static TextRun runAt(const std::vector<Item>& items, std::size_t k) {
    return std::get<TextRun>(items[k].what);
}

TEST(Markup, BoxesAreAlignedAndTurned) {
    for (const char* markup : {"Depth", "x^{2}_{i}", "\\alpha \\times 10^{−3} (cm)"}) {
        const SetText t = setText(markup, {.sizePt = 9});
        const double x = runAt(placed(t, {0, 0}, HAlign::Left, VAlign::Baseline), 0).origin.x;
        EXPECT_NEAR(runAt(placed(t, {0, 0}, HAlign::Centre, VAlign::Baseline), 0).origin.x, x - t.widthMm / 2,
                    1e-9);
        EXPECT_NEAR(runAt(placed(t, {0, 0}, HAlign::Right, VAlign::Baseline), 0).origin.x, x - t.widthMm,
                    1e-9);
        const double y = runAt(placed(t, {0, 0}, HAlign::Left, VAlign::Baseline), 0).origin.y;
        EXPECT_NEAR(runAt(placed(t, {0, 0}, HAlign::Left, VAlign::Top), 0).origin.y, y + t.ascentMm, 1e-9);
        EXPECT_NEAR(runAt(placed(t, {0, 0}, HAlign::Left, VAlign::Bottom), 0).origin.y, y - t.descentMm,
                    1e-9);
        EXPECT_NEAR(runAt(placed(t, {0, 0}, HAlign::Left, VAlign::Middle), 0).origin.y,
                    y + (t.ascentMm - t.descentMm) / 2, 0.5);
        for (const double angle : {30.0, 90.0, -45.0, 180.0})
            for (std::size_t k = 0; k < t.runs.size(); ++k) {
                const TextRun level = runAt(placed(t, {5, 7}, HAlign::Left, VAlign::Baseline), k),
                              turned = runAt(placed(t, {5, 7}, HAlign::Left, VAlign::Baseline, angle), k);
                const double a = angle * M_PI / 180, dx = level.origin.x - 5, dy = level.origin.y - 7;
                EXPECT_NEAR(turned.origin.x, 5 + dx * std::cos(a) + dy * std::sin(a), 1e-9)
                    << markup << angle;
                EXPECT_NEAR(turned.origin.y, 7 - dx * std::sin(a) + dy * std::cos(a), 1e-9)
                    << markup << angle;
            }
    }
}

// Whatever items there are, the file is well-formed: each element that opens closes, in order.
TEST(Svg, IsWellFormedWhateverItDraws) {
    Random random(6);
    for (int round = 0; round < 60; ++round) {
        DisplayList list = random.list(8);
        for (TextRun run : setText("a < b & \"c\" > '塩'", {}).runs) list.items.push_back({{}, run});
        const std::string svg = toSvg(list, {.transparent = round % 2 == 0, .embedFonts = false});
        std::vector<std::string> open;
        for (std::size_t at = svg.find('<'); at != std::string::npos; at = svg.find('<', at + 1)) {
            const std::size_t end = svg.find('>', at);
            ASSERT_NE(end, std::string::npos);
            const std::string tag = svg.substr(at + 1, end - at - 1);
            ASSERT_FALSE(tag.empty());
            if (tag[0] == '?' || tag[0] == '!' || tag.back() == '/') continue;
            const std::string name =
                tag.substr(tag[0] == '/' ? 1 : 0, tag.find_first_of(" \n/", 1) - (tag[0] == '/' ? 1 : 0));
            if (tag[0] != '/') {
                open.push_back(name);
                continue;
            }
            ASSERT_FALSE(open.empty()) << tag;
            EXPECT_EQ(open.back(), name);
            open.pop_back();
        }
        EXPECT_TRUE(open.empty());
        EXPECT_EQ(svg.find("nan"), std::string::npos);
    }
}
