// SPDX-License-Identifier: GPL-3.0-or-later
// Lattices from lines computed by Bragg's law, with zeros and displacements that are known.
#include "analyses/lattice.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::analyses;

namespace {

constexpr double kWavelength = 1.5406;

// 2θ of a plane, moved as an instrument does.
double place(std::array<int, 3> hkl, double a, double b, double c, bool hexagonal, double shift,
             double displaced) {
    const double h = hkl[0], k = hkl[1], l = hkl[2];
    const double q = hexagonal ? 4.0 / 3 * (h * h + h * k + k * k) / (a * a) + l * l / (c * c)
                               : h * h / (a * a) + k * k / (b * b) + l * l / (c * c);
    const double theta = std::asin(0.5 * kWavelength * std::sqrt(q));
    return 2 * theta + shift - 2 * displaced * std::cos(theta);
}

const std::vector<std::array<int, 3>> kPlanes = {{0, 1, 2}, {1, 0, 4}, {1, 1, 0}, {1, 1, 3},
                                                 {0, 2, 4}, {1, 1, 6}, {3, 0, 0}};

} // namespace

TEST(Lattice, ComesBackFromItsLines) {
    struct Case {
        CrystalSystem system;
        double a, b, c;
    };
    for (const Case& t : {Case{CrystalSystem::Cubic, 5.43, 5.43, 5.43},
                          {CrystalSystem::Tetragonal, 3.78, 3.78, 9.51},
                          {CrystalSystem::Hexagonal, 4.7591, 4.7591, 12.9918},
                          {CrystalSystem::Orthorhombic, 4.96, 7.97, 5.74}})
        for (const ZeroRule zero : {ZeroRule::None, ZeroRule::Shift, ZeroRule::Displacement}) {
            const double moved = zero == ZeroRule::None ? 0 : 7e-4;
            std::vector<IndexedLine> lines;
            for (const auto& hkl : kPlanes)
                lines.push_back(
                    {hkl,
                     place(hkl, t.a, t.b, t.c, t.system == CrystalSystem::Hexagonal,
                           zero == ZeroRule::Shift ? moved : 0, zero == ZeroRule::Displacement ? moved : 0),
                     1e-5});
            const auto found = latticeFrom(lines, kWavelength, t.system, zero);
            ASSERT_TRUE(found);
            EXPECT_NEAR(found->a, t.a, 1e-9 * t.a);
            EXPECT_NEAR(found->b, t.b, 1e-9 * t.b);
            EXPECT_NEAR(found->c, t.c, 1e-9 * t.c);
            EXPECT_NEAR(found->zero, moved, 1e-11);
            const double angle = t.system == CrystalSystem::Hexagonal ? std::sqrt(3) / 2 : 1;
            EXPECT_NEAR(found->volume, angle * t.a * t.b * t.c, 1e-7 * found->volume);
        }
}

TEST(Lattice, ErrorsAreThoseOfTheLines) {
    std::mt19937 random(3);
    const double sigma = 2e-4;
    std::normal_distribution<double> e(0, sigma);
    double sum = 0, squares = 0, volume = 0, volumes = 0, told = 0, toldVolume = 0;
    const int rounds = 800;
    for (int k = 0; k < rounds; ++k) {
        std::vector<IndexedLine> lines;
        for (const auto& hkl : kPlanes)
            lines.push_back({hkl, place(hkl, 4.7591, 0, 12.9918, true, 0, 5e-4) + e(random), sigma});
        const auto found = latticeFrom(lines, kWavelength, CrystalSystem::Hexagonal, ZeroRule::Displacement);
        ASSERT_TRUE(found);
        sum += found->c, squares += found->c * found->c;
        volume += found->volume, volumes += found->volume * found->volume;
        // Scaled up where the lines scatter more than their errors, never down.
        told += found->errors[2] / std::max(1.0, found->scatter);
        toldVolume += found->volumeError / std::max(1.0, found->scatter);
    }
    const double spread = std::sqrt(squares / rounds - std::pow(sum / rounds, 2));
    const double spreadVolume = std::sqrt(volumes / rounds - std::pow(volume / rounds, 2));
    EXPECT_NEAR(told / rounds / spread, 1, 0.08);
    EXPECT_NEAR(toldVolume / rounds / spreadVolume, 1, 0.08);
}

TEST(Lattice, SaysWhatItCannot) {
    const IndexedLine one{{1, 0, 4}, 0.61, 0};
    EXPECT_EQ(latticeFrom({one}, kWavelength, CrystalSystem::Hexagonal, ZeroRule::None).error().code,
              "lines");
    EXPECT_EQ(
        latticeFrom({one, one, one}, kWavelength, CrystalSystem::Hexagonal, ZeroRule::None).error().code,
        "lines")
        << "the same line thrice";
    EXPECT_FALSE(latticeFrom({}, kWavelength, CrystalSystem::Cubic, ZeroRule::None));
    EXPECT_EQ(*indicesFrom("104"), (std::array{1, 0, 4}));
    EXPECT_EQ(*indicesFrom("(1 0 -4)"), (std::array{1, 0, -4}));
    EXPECT_EQ(*indicesFrom("1 0 12"), (std::array{1, 0, 12}));
    EXPECT_EQ(*indicesFrom("10-4"), (std::array{1, 0, -4}));
    for (const char* wrong : {"", "1 0", "1 0 4 2", "a b c", "000", "carbonate", "1 0 4x"})
        EXPECT_FALSE(indicesFrom(wrong)) << wrong;
}
