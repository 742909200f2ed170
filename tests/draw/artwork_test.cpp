// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings from elsewhere as items, by values that the standard gives; and what damaged or malicious ones do.
#include "base/base64.h"
#include "draw/artwork.h"
#include "draw/artwork_fill.h"
#include "draw/png.h"
#include "support/random.h"

#include <chrono>
#include <fmt/format.h>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::draw;
using testing::DoubleNear;

namespace {

// A page of 100 × 50 mm in which one unit is a millimetre.
std::string page(const std::string& body) {
    return "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" "
           "width=\"100mm\" height=\"50mm\" viewBox=\"0 0 100 50\">" +
           body + "</svg>";
}

Artwork drawn(const std::string& body) {
    auto read = artworkOf(page(body));
    EXPECT_TRUE(read) << body;
    return read ? std::move(*read) : Artwork{};
}

template <class T> const T& only(const std::vector<Item>& items) {
    EXPECT_EQ(items.size(), 1u);
    static const T none{};
    const auto* found = items.empty() ? nullptr : std::get_if<T>(&items.front().what);
    EXPECT_TRUE(found);
    return found ? *found : none;
}

Picture pixels(std::size_t columns, std::size_t rows,
               const std::function<Colour(std::size_t, std::size_t)>& colour) {
    std::vector<std::uint8_t> bytes;
    for (std::size_t y = 0; y < rows; ++y)
        for (std::size_t x = 0; x < columns; ++x) {
            const Colour c = colour(x, y);
            bytes.insert(bytes.end(), {c.r, c.g, c.b, c.a});
        }
    return {.bounds = {},
            .columns = columns,
            .rows = rows,
            .pixels = std::make_shared<const std::vector<std::uint8_t>>(std::move(bytes))};
}

Colour at(const Picture& p, std::size_t x, std::size_t y) {
    const std::uint8_t* v = &(*p.pixels)[4 * (y * p.columns + x)];
    return {v[0], v[1], v[2], v[3]};
}

} // namespace

TEST(Artwork, HasTheSizeThatItsUnitsTell) {
    const auto sizeOf = [](const std::string& attributes) {
        const auto read = artworkOf("<svg xmlns=\"http://www.w3.org/2000/svg\" " + attributes + "/>");
        return read ? std::pair(read->widthMm, read->heightMm) : std::pair(0.0, 0.0);
    };
    EXPECT_EQ(sizeOf("width=\"60mm\" height=\"4cm\""), std::pair(60.0, 40.0));
    EXPECT_EQ(sizeOf("width=\"1in\" height=\"72pt\""), std::pair(25.4, 25.4));
    EXPECT_EQ(sizeOf("width=\"96\" height=\"192\""), std::pair(25.4, 50.8)); // px of CSS
    EXPECT_NEAR(sizeOf("viewBox=\"0 0 96 48\"").second, 12.7, 1e-9);
    EXPECT_FALSE(artworkOf("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"0\" height=\"10\"/>"));
    EXPECT_FALSE(artworkOf("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"1e9\" height=\"10\"/>"));
}

TEST(Artwork, PathsKeepTheirPlacesColoursAndWidths) {
    const Artwork art = drawn(
        "<path transform=\"matrix(2,0,0,2,10,5)\" d=\"M 0 0 L 10 0 V 5 H 0 Z\" style=\"fill:rgb(100%,50%,"
        "0%);fill-opacity:0.5;fill-rule:evenodd;stroke:#102030;stroke-width:1.5;stroke-linecap:round;"
        "stroke-linejoin:round;stroke-dasharray:3;\"/>");
    const Path& path = only<Path>(art.items);
    ASSERT_EQ(path.lines.size(), 1u);
    EXPECT_THAT(path.lines[0].points,
                testing::ElementsAre(Point{10, 5}, Point{30, 5}, Point{30, 15}, Point{10, 15}));
    EXPECT_TRUE(path.lines[0].closed);
    EXPECT_EQ(*path.fill, (Colour{255, 128, 0, 128}));
    EXPECT_TRUE(path.evenOdd);
    EXPECT_EQ(path.stroke->widthMm, 3);
    EXPECT_EQ(path.stroke->colour, (Colour{16, 32, 48, 255}));
    EXPECT_EQ(path.stroke->cap, Cap::Round);
    EXPECT_THAT(path.stroke->dashMm, testing::ElementsAre(6, 6)); // odd lists go on changed
    EXPECT_TRUE(art.lost.empty());
}

TEST(Artwork, CurvesLieWhereTheirFormulaHasThem) {
    // The usual four arcs of a circle of radius 20 are off by 0.027 % of it at most.
    const double k = 20 * 0.5522847498;
    const auto lines = svg::linesIn(
        fmt::format("M 20 0 C 20 {0} {0} 20 0 20 S -20 {0} -20 0 S -{0} -20 0 -20 S 20 -{0} 20 0 Z", k),
        Matrix{}, 1e-3);
    ASSERT_TRUE(lines);
    ASSERT_EQ(lines->size(), 1u);
    EXPECT_GT(lines->front().points.size(), 40u);
    for (const Point& p : lines->front().points) EXPECT_NEAR(std::hypot(p.x, p.y), 20, 0.006);
    // A parabola: y = x² / 4 from its control point.
    const auto bow = svg::linesIn("M -2 1 q 2 -2 4 0", Matrix{}, 1e-4);
    for (const Point& p : bow->front().points) EXPECT_NEAR(p.y, p.x * p.x / 4, 1e-9);
    // The same in relative letters, and pairs without a letter are lines.
    const auto relative = svg::linesIn("m1 1 2 0 v2 h-2z m5 5 l1 1", Matrix{}, 1e-3);
    ASSERT_EQ(relative->size(), 2u);
    EXPECT_EQ(relative->at(0).points.back(), (Point{1, 3}));
    EXPECT_EQ(relative->at(1).points.front(), (Point{6, 6}));            // from where the first one began
    EXPECT_FALSE(svg::linesIn("M 0 0 A 1 1 0 0 0 2 2", Matrix{}, 1e-3)); // cairo writes no arcs
    EXPECT_FALSE(svg::linesIn("10 10 L 3 3", Matrix{}, 1e-3));
}

TEST(Artwork, LettersAreUsedAgainWhereTheyStand) {
    const Artwork art =
        drawn("<defs><g><symbol id=\"g1\"><path d=\"M 0 0 L 1 0 L 1 1 Z\" style=\"stroke:none;\"/></symbol>"
              "</g></defs><g style=\"fill:rgb(0%,0%,100%);\"><use xlink:href=\"#g1\" x=\"10\" y=\"20\"/>"
              "<use xlink:href=\"#g1\" x=\"12\" y=\"20\" transform=\"translate(0,1)\"/></g>");
    ASSERT_EQ(art.items.size(), 2u);
    const auto& second = std::get<Path>(art.items[1].what);
    EXPECT_EQ(second.lines[0].points[0], (Point{12, 21}));
    EXPECT_EQ(*second.fill, (Colour{0, 0, 255, 255})) << "style goes down to what is used";
}

TEST(Artwork, ClipsAreRectanglesOrOutlines) {
    const Artwork art =
        drawn("<defs><clipPath id=\"a\"><path d=\"M 1 1 L 9 1 L 9 9 L 1 9 Z\"/></clipPath><clipPath id=\"b\">"
              "<path clip-rule=\"evenodd\" d=\"M 0 0 L 8 0 L 4 8 Z\"/></clipPath></defs>"
              "<g clip-path=\"url(#a)\" transform=\"translate(2,0)\"><g clip-path=\"url(#b)\">"
              "<rect width=\"50\" height=\"50\"/></g></g>");
    const Group& outer = only<Group>(art.items);
    EXPECT_EQ(*outer.clip, (Rect{3, 1, 8, 8}));
    const Group& inner = only<Group>(outer.items);
    EXPECT_FALSE(inner.clip);
    ASSERT_EQ(inner.outline.size(), 1u);
    EXPECT_EQ(inner.outline[0].points[2], (Point{6, 8}));
    EXPECT_TRUE(inner.evenOdd);
}

TEST(Artwork, GradientsAreMixedAlongThem) {
    const Artwork art = drawn(
        "<defs><linearGradient id=\"l\" gradientUnits=\"userSpaceOnUse\" x1=\"10\" y1=\"0\" x2=\"30\" "
        "y2=\"0\"><stop offset=\"0\" style=\"stop-color:rgb(0%,0%,0%);stop-opacity:1;\"/><stop "
        "offset=\"1\" style=\"stop-color:rgb(100%,100%,100%);stop-opacity:0;\"/></linearGradient></defs>"
        "<path style=\"fill:url(#l);\" d=\"M 0 0 L 40 0 L 40 10 L 0 10 Z\"/>");
    const Group& group = only<Group>(art.items);
    EXPECT_EQ(*group.clip, (Rect{0, 0, 40, 10}));
    const Picture& picture = only<Picture>(group.items);
    EXPECT_TRUE(picture.smooth);
    const auto across = [&](double mm) {
        return at(picture, static_cast<std::size_t>(mm / 40 * static_cast<double>(picture.columns)), 3);
    };
    EXPECT_EQ(across(5), (Colour{0, 0, 0, 255})); // before it begins
    EXPECT_EQ(across(35).a, 0);                   // and after its end
    EXPECT_NEAR(across(20).r, 127.5, 2);
    EXPECT_NEAR(across(20).a, 127.5, 2);

    svg::Gradient round;
    round.radial = true;
    round.from = round.to = {5, 5};
    round.radius = 4;
    EXPECT_NEAR(*round.parameter({7, 5}), 0.5, 1e-12);
    round.from = {6, 5}; // the focus aside: on the far side it is further along
    EXPECT_NEAR(*round.parameter({9, 5}), 1, 1e-12);
    EXPECT_NEAR(*round.parameter({1, 5}), 1, 1e-12);
    EXPECT_NEAR(*round.parameter({6, 5}), 0, 1e-12);
    // Each place lies on the circle between focus and middle that its parameter tells.
    test::Random random(5);
    for (int k = 0; k < 200; ++k) {
        const Point p{random.between(0, 10), random.between(0, 10)};
        const double t = *round.parameter(p);
        const Point middle{6 + t * (5 - 6.0), 5};
        EXPECT_NEAR(std::hypot(p.x - middle.x, p.y - middle.y), 4 * t, 1e-9);
    }
    svg::Gradient steps;
    steps.stops = {{0, {0, 0, 0, 255}}, {1, {200, 200, 200, 255}}};
    steps.reflects = true;
    EXPECT_EQ(steps.colour(1.25), steps.colour(0.75));
    EXPECT_EQ(steps.colour(-0.25), steps.colour(0.25));
    steps.reflects = false;
    steps.repeats = true;
    EXPECT_EQ(steps.colour(3.25), steps.colour(0.25));
    EXPECT_FALSE(steps.hasSteps());
    steps.stops = {{0, {0, 0, 0, 255}}, {0.5, {0, 0, 0, 255}}, {0.5, {9, 9, 9, 255}}};
    EXPECT_TRUE(steps.hasSteps());
}

TEST(Artwork, PatternsAreLaidWhereTheirAreaIs) {
    const std::string pattern =
        "<defs><pattern id=\"p\" patternUnits=\"userSpaceOnUse\" width=\"5\" height=\"5\" "
        "patternTransform=\"translate(1,0)\"><rect width=\"2\" height=\"2\"/></pattern></defs>";
    const Artwork art =
        drawn(pattern + "<rect x=\"11\" y=\"10\" width=\"10\" height=\"10\" style=\"fill:url(#p);\"/>");
    const Group& group = only<Group>(art.items);
    EXPECT_EQ(*group.clip, (Rect{11, 10, 10, 10}));
    ASSERT_EQ(group.items.size(), 4u);
    EXPECT_EQ(std::get<Path>(group.items[3].what).lines[0].points[0], (Point{16, 15}));
    const Artwork fine =
        drawn("<defs><pattern id=\"p\" patternUnits=\"userSpaceOnUse\" width=\"0.1\" height=\"0.1\"><rect "
              "width=\"1\" height=\"1\"/></pattern></defs><rect width=\"100\" height=\"50\" "
              "style=\"fill:url(#p);\"/>");
    EXPECT_EQ(fine.lost, "fine patterns");
}

TEST(Artwork, PicturesTellTheirResolutionAndMasksTheirOpacity) {
    const std::string colours = base64(pngOf(pixels(20, 10, [](std::size_t x, std::size_t) {
        return Colour{static_cast<std::uint8_t>(10 * x), 0, 0, 255};
    })));
    const std::string greys = base64(pngOf(pixels(4, 2, [](std::size_t x, std::size_t) {
        const auto v = static_cast<std::uint8_t>(x < 2 ? 255 : 51);
        return Colour{v, v, v, 255};
    })));
    const std::string images =
        "<defs><image id=\"i\" width=\"20\" height=\"10\" xlink:href=\"data:image/png;base64," + colours +
        "\"/><image id=\"m\" width=\"4\" height=\"2\" xlink:href=\"data:image/png;base64," + greys +
        "\"/><mask id=\"k\"><use xlink:href=\"#m\" transform=\"scale(5)\"/></mask></defs>";
    const Artwork plain = drawn(images + "<use xlink:href=\"#i\" transform=\"translate(3,4)\"/>");
    EXPECT_TRUE(plain.isPicture);
    EXPECT_NEAR(plain.dpi, 25.4, 1e-9); // a pixel for each millimetre
    EXPECT_EQ(only<Picture>(plain.items).bounds, (Rect{3, 4, 20, 10}));
    const Artwork masked = drawn(images + "<use xlink:href=\"#i\" mask=\"url(#k)\"/>");
    const Picture& seen = only<Picture>(masked.items);
    EXPECT_EQ(at(seen, 3, 5), (Colour{30, 0, 0, 255}));
    EXPECT_EQ(at(seen, 15, 5), (Colour{150, 0, 0, 51}));
    EXPECT_TRUE(masked.lost.empty());
    const Artwork turned = drawn(images + "<use xlink:href=\"#i\" transform=\"rotate(30)\"/>");
    EXPECT_TRUE(only<Group>(turned.items).matrix);
    const Artwork faint = drawn(
        "<defs><filter id=\"alpha\"/><mask id=\"k\"><g filter=\"url(#alpha)\"><rect width=\"100\" "
        "height=\"50\" style=\"fill:rgb(0%,0%,0%);fill-opacity:0.5;\"/></g></mask></defs>"
        "<g mask=\"url(#k)\"><rect width=\"9\" height=\"9\"/><rect x=\"4\" width=\"9\" height=\"9\"/></g>");
    EXPECT_NEAR(only<Group>(faint.items).opacity, 0.5, 0.003);
    const Artwork lost =
        drawn("<defs><mask id=\"k\"><rect width=\"9\" height=\"9\"/><rect width=\"3\" height=\"3\"/></mask>"
              "</defs><rect width=\"9\" height=\"9\" mask=\"url(#k)\"/>");
    EXPECT_EQ(lost.lost, "masks");
    EXPECT_NE(drawn("<image width=\"5\" height=\"5\" xlink:href=\"file:///etc/passwd\"/>").lost, "");
    EXPECT_EQ(drawn("<text>now</text>").lost, "“text”");
}

TEST(Artwork, BitmapsKeepPixelsAndDots) {
    test::Random random(11);
    for (int k = 0; k < 20; ++k) {
        const Picture made =
            pixels(1 + random.below(40), 1 + random.below(30), [&](std::size_t, std::size_t) {
                return Colour{static_cast<std::uint8_t>(random.below(256)),
                              static_cast<std::uint8_t>(random.below(256)),
                              static_cast<std::uint8_t>(random.below(256)),
                              static_cast<std::uint8_t>(random.below(256))};
            });
        const auto read = bitmapOf(pngOf(made, 300));
        ASSERT_TRUE(read);
        EXPECT_EQ(*read->pixels, *made.pixels);
        EXPECT_NEAR(read->dpi, 300, 0.02);
    }
    const auto art = artworkOf(pngOf(pixels(30, 15, [](std::size_t, std::size_t) { return Colour{}; }), 150));
    EXPECT_NEAR(art->widthMm, 30 / 150.0 * 25.4, 0.01);
    EXPECT_TRUE(art->isPicture);
    // A file of a few bytes that would need 16 GB.
    std::string bomb = pngOf(pixels(1, 1, [](std::size_t, std::size_t) { return Colour{}; }));
    bomb.replace(16, 8, std::string("\x00\x00\xff\xff\x00\x00\xff\xff", 8));
    const auto refused = bitmapOf(bomb);
    ASSERT_FALSE(refused);
}

TEST(Artwork, TheOrientationOfAPhotographIsRead) {
    const auto exif = [](int value, bool little) {
        const auto number = [little](std::size_t v, int bytes) {
            std::string out;
            for (int k = 0; k < bytes; ++k)
                out += static_cast<char>(v >> 8 * (little ? k : bytes - 1 - k) & 255);
            return out;
        };
        std::string tiff = (little ? "II" : "MM") + number(42, 2) + number(8, 4) + number(2, 2);
        tiff += number(0x010f, 2) + number(2, 2) + number(4, 4) + "abc" + '\0';
        tiff += number(0x0112, 2) + number(3, 2) + number(1, 4) + number(static_cast<std::size_t>(value), 2) +
                number(0, 2);
        const std::string body = std::string("Exif\0\0", 6) + tiff;
        const std::size_t length = body.size() + 2;
        return std::string("\xff\xd8\xff\xe1") + static_cast<char>(length >> 8) +
               static_cast<char>(length & 255) + body + "\xff\xda";
    };
    for (int value = 1; value <= 8; ++value)
        for (const bool little : {true, false}) EXPECT_EQ(orientationOf(exif(value, little)), value);
    EXPECT_EQ(orientationOf(exif(9, true)), 1);
    const std::string whole = exif(6, true);
    for (std::size_t n = 0; n < whole.size(); ++n) EXPECT_LE(orientationOf(whole.substr(0, n)), 8);
}

// What makes something of itself, again and again.
TEST(Artwork, EndlessDrawingsAreRefusedAtOnce) {
    std::string doubling = "<defs>";
    for (int k = 0; k < 60; ++k)
        doubling += fmt::format("<g id=\"g{0}\"><use xlink:href=\"#g{1}\"/><use xlink:href=\"#g{1}\"/></g>",
                                k, k + 1);
    doubling += "<g id=\"g60\"><rect width=\"1\" height=\"1\"/></g></defs><use xlink:href=\"#g0\"/>";
    const auto begun = std::chrono::steady_clock::now();
    for (const std::string& body :
         {doubling, std::string("<g id=\"a\"><use xlink:href=\"#a\"/></g>"),
          std::string("<defs><pattern id=\"p\" patternUnits=\"userSpaceOnUse\" width=\"9\" "
                      "height=\"9\"><rect width=\"9\" "
                      "height=\"9\" style=\"fill:url(#p)\"/></pattern></defs><rect width=\"9\" height=\"9\" "
                      "style=\"fill:url(#p)\"/>")}) {
        const auto read = artworkOf(page(body));
        ASSERT_FALSE(read);
        EXPECT_EQ(read.error().code, "too-much");
    }
    std::string deep;
    for (int k = 0; k < 3000; ++k) deep += "<g>";
    for (int k = 0; k < 3000; ++k) deep += "</g>";
    EXPECT_FALSE(artworkOf(page(deep)));
    EXPECT_LT(std::chrono::steady_clock::now() - begun, std::chrono::seconds(20));
}

TEST(Artwork, DamagedFilesAreReadOrRefused) {
    const std::string image = base64(pngOf(pixels(6, 6, [](std::size_t, std::size_t) {
        return Colour{9, 9, 9, 99};
    })));
    const std::string sound =
        page("<defs><linearGradient id=\"l\" gradientUnits=\"userSpaceOnUse\" x1=\"1\" x2=\"9\"><stop "
             "offset=\"0.2\" "
             "stop-color=\"#ffee00\"/></linearGradient><clipPath id=\"c\"><path d=\"M 1 1 L 9 1 L 9 9 "
             "Z\"/></clipPath><mask "
             "id=\"m\"><image width=\"6\" height=\"6\" xlink:href=\"data:image/png;base64," +
             image +
             "\"/></mask></defs><g clip-path=\"url(#c)\" transform=\"matrix(1,0,0,1,2,2)\"><path d=\"M 0 0 C "
             "1 1 2 2 3 0 Z\" "
             "style=\"fill:url(#l);stroke:#123456;stroke-dasharray:1,2\"/><image mask=\"url(#m)\" "
             "width=\"6\" height=\"6\" "
             "xlink:href=\"data:image/png;base64," +
             image + "\"/></g>");
    ASSERT_TRUE(artworkOf(sound));
    test::Random random(3);
    static constexpr std::string_view odd = "<>\"#()-9eE.,;%/ \0M";
    int read = 0;
    for (int k = 0; k < 3000; ++k) {
        std::string bytes =
            k % 3 == 2 ? pngOf(pixels(5, 5, [](std::size_t, std::size_t) { return Colour{}; }), 72) : sound;
        for (std::size_t n = 0, changes = 1 + random.below(6); n < changes; ++n) {
            const std::size_t where = random.below(bytes.size());
            switch (random.below(3)) {
            case 0:
                bytes[where] = odd[random.below(odd.size())];
                break;
            case 1:
                bytes.erase(where, 1 + random.below(30));
                break;
            default:
                bytes.insert(where, bytes.substr(random.below(bytes.size()), 1 + random.below(20)));
            }
            if (bytes.empty()) bytes = "x";
        }
        const auto art = artworkOf(bytes);
        if (!art) {
            EXPECT_FALSE(art.error().text.empty());
            continue;
        }
        ++read;
        EXPECT_GT(art->widthMm, 0);
        EXPECT_GT(art->heightMm, 0);
    }
    EXPECT_GT(read, 300);
}
