// SPDX-License-Identifier: GPL-3.0-or-later
// Curves that another program made from the measured one are known by their names, and parts of a fit by adding up.
#include "data/companion_names.h"
#include "io/reader.h"

#include <cmath>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;

namespace {

struct Spectrum {
    std::vector<std::string> names = {"shift", "counts", "Fitted", "Background"};
    std::size_t parts = 2;
    bool standing = false, background = true;
    double wrong = 0; // what the parts miss the fit by
    unsigned seed = 1;
};

// The roles as read from a file of such a spectrum.
std::vector<Role> rolesOf(const Spectrum& s) {
    std::mt19937 random(s.seed);
    std::normal_distribution<double> noise(0, 4);
    std::string text = "shift,counts,Fitted" + std::string(s.background ? ",Background" : "");
    for (std::size_t k = 0; k < s.parts; ++k) text += fmt::format(",K{}", k);
    text += '\n';
    for (int i = 0; i < 80; ++i) {
        const double ground = s.background ? 20 + 0.1 * i : 0;
        double sum = ground;
        std::string parts;
        for (std::size_t k = 0; k < s.parts; ++k) {
            const double part = 100 * std::exp(-std::pow((i - 20.0 - 15.0 * static_cast<double>(k)) / 6, 2));
            sum += part;
            parts += fmt::format(",{:.3f}", part + (s.standing ? ground : 0) + s.wrong);
        }
        text += fmt::format("{},{:.3f},{:.3f}", 600 + i, sum + noise(random), sum);
        if (s.background) text += fmt::format(",{:.3f}", ground);
        text += parts + '\n';
    }
    const auto read = io::read(text, "s.csv", {});
    std::vector<Role> roles;
    for (const Column& c : read->tables[0].table.columns) roles.push_back(c.role);
    return roles;
}

std::size_t companions(const Spectrum& s) {
    return static_cast<std::size_t>(std::ranges::count(rolesOf(s), Role::Companion));
}

} // namespace

TEST(Companions, NamesTell) {
    struct Case {
        const char* name;
        std::optional<CompanionKind> kind;
    };
    for (const Case& c : {Case{"Fit", CompanionKind::Fit},
                          {"Ca fit", CompanionKind::Fit},
                          {"fit_2", CompanionKind::Fit},
                          {"BASELINE", CompanionKind::Background},
                          {"background_north", CompanionKind::Background},
                          {"residuals", CompanionKind::Residuals},
                          {"Component 1", CompanionKind::Part},
                          {"Fitness", std::nullopt},
                          {"profit", std::nullopt},
                          {"", std::nullopt}})
        EXPECT_EQ(companionKind(c.name), c.kind) << c.name;
}

TEST(Companions, PartsAddUpToTheFit) {
    for (std::size_t parts = 1; parts <= 5; ++parts)
        for (const bool standing : {false, true})
            for (unsigned seed = 1; seed <= 5; ++seed)
                EXPECT_EQ(companions({.parts = parts, .standing = standing, .seed = seed}), parts + 2)
                    << parts << (standing ? " on the background" : " from zero");
    EXPECT_EQ(companions({.parts = 3, .background = false}), 4U);
}

TEST(Companions, WhatDoesNotAddUpWasMeasured) {
    EXPECT_EQ(companions({.wrong = 5}), 2U) << "fit and background by their names only";
    EXPECT_EQ(companions({.parts = 1, .background = false}), 1U) << "one that equals the fit is no part of it";
}

TEST(Companions, ManyMeasuredCurvesStayThat) {
    for (unsigned seed = 1; seed <= 50; ++seed) { // with a fit beside the first
        std::mt19937 random(seed);
        std::normal_distribution<double> value(50, 20);
        std::string text = "x,a,a fit,b,c\n";
        for (int i = 0; i < 12; ++i)
            text += fmt::format("{},{:.2f},{:.2f},{:.2f},{:.2f}\n", i, value(random), value(random), value(random),
                                value(random));
        const auto read = io::read(text, "s.csv", {});
        const auto& columns = read->tables[0].table.columns;
        EXPECT_EQ(columns[3].role, Role::Y);
        EXPECT_EQ(columns[4].role, Role::Y);
    }
}
