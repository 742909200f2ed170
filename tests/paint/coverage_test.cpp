// SPDX-License-Identifier: GPL-3.0-or-later
// Our own rasteriser of long lines and areas against closed forms and against the toolkit's.
#include "paint/coverage.h"
#include "paint/painter.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

using namespace jointer;
using paint::Coverage;

namespace {

constexpr int kWide = 120, kHigh = 80;

QImage sheet() {
    QImage image(kWide, kHigh, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::white);
    return image;
}
QImage byUs(const std::vector<QPointF>& points, const QColor& colour, double width = 0,
            const QRect& clip = QRect(0, 0, kWide, kHigh)) {
    QImage image = sheet();
    Coverage c;
    c.begin(image, clip);
    if (width > 0)
        c.line(points, width);
    else
        c.area(points);
    c.blend(image, colour);
    return image;
}
QImage byToolkit(const std::vector<QPointF>& points, const QColor& colour) {
    QImage image = sheet();
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath path;
    path.addPolygon(QPolygonF(QList<QPointF>(points.begin(), points.end())));
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    painter.drawPath(path);
    return image;
}
// The sum of what is darker than white, in whole pixels of black.
double inkOf(const QImage& image) {
    double ink = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) ink += 1 - qGreen(image.pixel(x, y)) / 255.0;
    return ink;
}
int farApart(const QImage& a, const QImage& b, int by) {
    int n = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) n += std::abs(qGreen(a.pixel(x, y)) - qGreen(b.pixel(x, y))) > by;
    return n;
}

// An area under a curve by seed, smooth or rough.
std::vector<QPointF> areaBySeed(unsigned seed, double noise = 2) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> of(0, 1);
    std::vector<QPointF> out;
    const double wave = 3 + 40 * of(random), high = 5 + 25 * of(random), base = 60 + 10 * of(random);
    const int n = 40 + static_cast<int>(400 * of(random));
    const double left = -30 + 60 * of(random), right = 80 + 70 * of(random);
    for (int k = 0; k <= n; ++k) {
        const double x = std::lerp(left, right, static_cast<double>(k) / n);
        out.emplace_back(x, base - high * (1 + std::sin(x / wave)) + noise * of(random));
    }
    out.emplace_back(right, base);
    out.emplace_back(left, base);
    return out;
}

double coveredBySampling(const std::vector<QPointF>& line, double half, int px, int py) {
    constexpr int n = 8;
    int within = 0;
    std::vector<std::size_t> near; // pieces that may matter
    for (std::size_t k = 1; k < line.size(); ++k) {
        const auto [x0, x1] = std::minmax(line[k - 1].x(), line[k].x());
        const auto [y0, y1] = std::minmax(line[k - 1].y(), line[k].y());
        if (x0 < px + 1 + half && x1 > px - half && y0 < py + 1 + half && y1 > py - half) near.push_back(k);
    }
    for (int i = 0; i < n * n && !near.empty(); ++i) {
        const QPointF p(px + (i % n + 0.5) / n, py + (i / n + 0.5) / n);
        within += std::ranges::any_of(near, [&](std::size_t k) {
            const QPointF a = line[k - 1], d = line[k] - a;
            const double square = QPointF::dotProduct(d, d);
            const double t = square > 0 ? std::clamp(QPointF::dotProduct(p - a, d) / square, 0.0, 1.0) : 0;
            const QPointF e = p - a - t * d;
            return QPointF::dotProduct(e, e) <= half * half;
        });
    }
    return static_cast<double>(within) / (n * n);
}

} // namespace

TEST(Coverage, OfRectanglesAndTrianglesIsExact) {
    const std::vector<QPointF> cases[] = {{{10, 10}, {20, 10}, {20, 30}, {10, 30}},
                                          {{10.25, 10.5}, {20.75, 10.5}, {20.75, 30.25}, {10.25, 30.25}},
                                          {{10, 10}, {50, 10}, {10, 33}},
                                          {{5.5, 60.5}, {100.25, 61.25}, {40.125, 12.875}}};
    for (const auto& points : cases) {
        double area = 0; // by the coordinates of the corners
        for (std::size_t k = 0; k < points.size(); ++k) {
            const QPointF a = points[k], b = points[(k + 1) % points.size()];
            area += (a.x() * b.y() - b.x() * a.y()) / 2;
        }
        EXPECT_NEAR(inkOf(byUs(points, Qt::black)), std::abs(area), 0.002 * std::abs(area) + 0.2);
    }
    // One pixel, covered by a quarter.
    EXPECT_NEAR(qGreen(byUs({{30, 30}, {30.5, 30}, {30.5, 30.5}, {30, 30.5}}, Qt::black).pixel(30, 30)), 191,
                1);
}

TEST(Coverage, OfAreasIsThatOfTheToolkit) {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        const auto points = areaBySeed(seed);
        for (const QColor& colour : {QColor(0, 0, 0), QColor(47, 96, 145, 77)}) {
            const QImage own = byUs(points, colour), wanted = byToolkit(points, colour);
            EXPECT_EQ(farApart(own, wanted, 12), 0) << "seed " << seed;
            EXPECT_NEAR(inkOf(own), inkOf(wanted), 0.004 * inkOf(wanted) + 1) << "seed " << seed;
        }
    }
}

TEST(Coverage, OfLinesIsTheirLengthTimesTheirWidth) {
    for (const double width : {0.4, 1.0, 1.3, 2.7, 6.0})
        for (const double degrees : {0.0, 17.0, 45.0, 71.0, 90.0}) {
            const double a = degrees * std::numbers::pi / 180;
            const QPointF from(20.3, 10.6), to(20.3 + 50 * std::cos(a), 10.6 + 50 * std::sin(a));
            const double wanted = 50 * width + std::numbers::pi * width * width / 4; // with its round ends
            EXPECT_NEAR(inkOf(byUs({from, to}, Qt::black, width)), wanted, 0.03 * wanted + 1.2)
                << width << " at " << degrees;
        }
}

// The truth by its definition: how many of 8 × 8 places in each pixel are within half the width of the line.
TEST(Coverage, OfLongLinesIsWhatLiesWithinHalfTheirWidth) {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        // Where a rough line fills one pixel by several pieces, the nearest of them tells: somewhat lighter.
        const bool rough = seed % 2 == 1;
        std::vector<QPointF> points = areaBySeed(seed, rough ? 1.5 : 0.1);
        points.resize(points.size() - 2);
        for (const double width : {1.3, 3.0}) {
            const QImage own = byUs(points, Qt::black, width);
            int far = 0;
            double ink = 0;
            for (int y = 0; y < kHigh; ++y)
                for (int x = 0; x < kWide; ++x) {
                    const double covered = coveredBySampling(points, width / 2, x, y);
                    ink += covered;
                    far += std::abs(255 * (1 - covered) - qGreen(own.pixel(x, y))) > (rough ? 110 : 60);
                }
            EXPECT_LE(far, 6) << "seed " << seed << ", " << width;
            EXPECT_NEAR(inkOf(own), ink, (rough ? 0.12 : 0.04) * ink) << "seed " << seed << ", " << width;
        }
    }
}

TEST(Coverage, StaysWithinItsClipAndLeavesNothingBehind) {
    QImage image = sheet();
    Coverage c;
    const QRect clip(30, 20, 40, 30);
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const auto points = areaBySeed(seed);
        const QImage whole = byUs(points, QColor(0, 0, 0, 128)),
                     part = byUs(points, QColor(0, 0, 0, 128), 0, clip);
        const QImage line = byUs(points, Qt::black, 2), partOfLine = byUs(points, Qt::black, 2, clip);
        for (int y = 0; y < kHigh; ++y)
            for (int x = 0; x < kWide; ++x) {
                const bool in = clip.contains(x, y);
                ASSERT_NEAR(qGreen(part.pixel(x, y)), in ? qGreen(whole.pixel(x, y)) : 255, 1) << seed;
                ASSERT_NEAR(qGreen(partOfLine.pixel(x, y)), in ? qGreen(line.pixel(x, y)) : 255, 1) << seed;
            }
        c.begin(image, clip);
        c.area(points);
        c.blend(image, QColor(0, 0, 0, 0));
    }
    EXPECT_EQ(inkOf(image), 0);
    c.begin(image, QRect(0, 0, kWide, kHigh)); // with what the last ones left, if anything
    c.blend(image, Qt::black);
    EXPECT_EQ(inkOf(image), 0);
}

// A translucent line that crosses itself is of one colour, and one laid twice is darker.
TEST(Coverage, ALineIsOfOneColourWhereItCrossesItself) {
    const QImage image = byUs({{10, 10}, {60, 60}, {60, 10}, {10, 60}}, QColor(0, 0, 0, 128), 4);
    EXPECT_NEAR(qGreen(image.pixel(35, 35)), 127, 2);
    EXPECT_NEAR(qGreen(image.pixel(20, 20)), 127, 2);
}

TEST(Coverage, TellsAreasBetweenCurvesFromOthers) {
    EXPECT_TRUE(paint::isBetweenCurves(std::vector<draw::Point>{{0, 0}, {5, 3}, {9, 1}, {9, 9}, {0, 9}}));
    EXPECT_FALSE(paint::isBetweenCurves(std::vector<draw::Point>{{0, 0}, {5, 3}, {2, 1}, {9, 9}, {0, 9}}));
}

// Lists with many points go this way, also within clips of several parts and groups with opacity.
TEST(Coverage, ListsLookAlikeHoweverManyPointsTheirCurvesHave) {
    paint::loadFonts();
    auto listOf = [](std::size_t points, double opacity) {
        draw::Polyline line;
        for (std::size_t k = 0; k < points; ++k) {
            const double x = 60.0 * static_cast<double>(k) / static_cast<double>(points - 1);
            line.points.push_back({x, 20 + x / 6});
        }
        draw::Polyline area = line;
        area.points.push_back({60, 38});
        area.points.push_back({0, 38});
        area.closed = true;
        draw::Group group{.clip = draw::Rect{5, 5, 50, 30}, .opacity = opacity};
        group.parts = {{5, 5, 20, 30}, {30, 5, 25, 30}};
        group.items = {{{}, draw::Path{.lines = {area}, .stroke = {}, .fill = draw::Colour{200, 30, 30, 90}}},
                       {{}, draw::Path{.lines = {line}, .stroke = draw::Stroke{.widthMm = 0.5}, .fill = {}}}};
        return draw::DisplayList{.widthMm = 60, .heightMm = 40, .items = {{{}, group}}};
    };
    for (const double opacity : {1.0, 0.5}) {
        const QImage few = paint::toImage(listOf(3, opacity), 96, false),
                     many = paint::toImage(listOf(2000, opacity), 96, false);
        EXPECT_LE(farApart(few, many, 70), 4) << opacity;
        EXPECT_NEAR(inkOf(few), inkOf(many), 0.02 * inkOf(few)) << opacity;
        EXPECT_EQ(qGreen(many.pixel(105, 100)), 255) << "between the parts";
    }
}
