// SPDX-License-Identifier: GPL-3.0-or-later
// Places of samples in triangles and in the diagram of waters, there and back.
#include "figure/projection.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace jointer::figure {

namespace {

std::array<double, 3> someParts(std::mt19937& random) {
    std::exponential_distribution<double> part;
    const double a = part(random), b = part(random), c = part(random), sum = a + b + c;
    return {a / sum, b / sum, c / sum};
}

} // namespace

TEST(Projections, TrianglesThereAndBack) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> least(0, 0.3);
    for (int k = 0; k < 2000; ++k) {
        const Triangle t = k % 2 ? Triangle({least(random), least(random), least(random)}) : Triangle();
        const auto parts = someParts(random);
        const double times = std::pow(10.0, k % 7 - 3); // parts need not sum to one
        const auto back = t.parts(t.place(times * parts[0], times * parts[1], times * parts[2]));
        for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(back[i], parts[i], 1e-12);
    }
    EXPECT_FALSE(std::isfinite(Triangle().place(0, 0, 0).x));
    EXPECT_FALSE(std::isfinite(Triangle().place(NAN, 1, 1).x));
}

// Distances from the sides are the shares: the closed form of the triangle (Viviani).
TEST(Projections, SharesAreDistancesFromTheSides) {
    std::mt19937 random(5);
    for (int k = 0; k < 200; ++k) {
        const auto [a, b, c] = someParts(random);
        const draw::Point p = Triangle().place(a, b, c);
        const double h = Triangle::kHeight;
        EXPECT_NEAR(p.y, a * h, 1e-14);
        EXPECT_NEAR(h - h * p.x - 0.5 * p.y, b * h, 1e-12) << "from the right side";
        EXPECT_NEAR(h * p.x - 0.5 * p.y, c * h, 1e-12) << "from the left side";
    }
}

TEST(Projections, AnEnlargedPartHoldsWhatIsInIt) {
    const Triangle t({0.5, 0.1, 0.2});
    EXPECT_NEAR(t.high(0), 0.7, 1e-15);
    EXPECT_TRUE(t.holds({0.6, 0.15, 0.25}));
    EXPECT_FALSE(t.holds({0.45, 0.3, 0.25}));
    const draw::Point top = t.place(0.7, 0.1, 0.2);
    EXPECT_NEAR(top.x, 0.5, 1e-12);
    EXPECT_NEAR(top.y, Triangle::kHeight, 1e-12);
}

// The diamond stands where lines through both places, along the outer edges of the triangles, meet.
TEST(Projections, TheDiamondIsMetAlongTheEdges) {
    std::mt19937 random(11);
    for (const double gap : {0.0, 0.22, 0.5}) {
        const WaterPlane plane(gap);
        for (int k = 0; k < 500; ++k) {
            const auto caMgNa = someParts(random), clSo4Carbonate = someParts(random);
            const draw::Point c = plane.cation(caMgNa), a = plane.anion(clSo4Carbonate);
            const double alkalis = caMgNa[2], strong = clSo4Carbonate[0] + clSo4Carbonate[1];
            const draw::Point d = plane.diamond(alkalis, strong);
            const double h = Triangle::kHeight;
            EXPECT_NEAR((d.y - c.y) * 0.5, (d.x - c.x) * h, 1e-12) << "along (½, √3/2)";
            EXPECT_NEAR((d.y - a.y) * -0.5, (d.x - a.x) * h, 1e-12) << "along (−½, √3/2)";
            EXPECT_GE(d.y, c.y - 1e-12);
            const auto back = plane.sharesAt(d);
            EXPECT_NEAR(back[0], alkalis, 1e-12);
            EXPECT_NEAR(back[1], strong, 1e-12);
            for (std::size_t i = 0; i < 3; ++i) {
                EXPECT_NEAR(plane.cationsAt(c)[i], caMgNa[i], 1e-12);
                EXPECT_NEAR(plane.anionsAt(a)[i], clSo4Carbonate[i], 1e-12);
            }
            EXPECT_LE(d.x, plane.width());
            EXPECT_LE(d.y, plane.height() + 1e-12);
        }
    }
}

} // namespace jointer::figure
