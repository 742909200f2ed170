// SPDX-License-Identifier: GPL-3.0-or-later
// Several members at once, against the same fit written as one equation over all points: that one knows no
// blocks. Random problems by seed.
#include "fit/fit.h"

#include <cmath>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::fit;

namespace {

struct Random {
    std::mt19937_64 engine;
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(engine); }
    double normal() { return std::normal_distribution()(engine); }
};

// y = a·exp(−k·x) + c over some members; each parameter shared or not as the bits of `shared` say.
struct Joint {
    FitProblem members, whole; // the whole has x1 = x and x2 = the number of the member
    std::size_t count = 0;
    unsigned shared = 0;
};

constexpr const char* kNames[] = {"a", "k", "c"};

std::string inWhole(const Joint& j, std::size_t parameter, std::size_t member) {
    return j.shared >> parameter & 1U ? kNames[parameter] : fmt::format("{}{}", kNames[parameter], member);
}

Joint randomJoint(std::uint64_t seed) {
    Random random{std::mt19937_64(seed)};
    Joint j;
    j.count = 2 + seed % 4;
    j.shared = 1 + static_cast<unsigned>(seed % 6);
    const bool weighted = seed % 3 == 0;
    const auto model = *models::equationModel("a*exp(-k*x) + c");
    const double common[] = {random.between(1, 5), random.between(0.3, 1), random.between(-1, 1)};
    std::string equation;
    FitMember all{.predictors = {{}, {}}};
    for (std::size_t m = 0; m < j.count; ++m) {
        double p[3];
        for (std::size_t k = 0; k < 3; ++k)
            p[k] = j.shared >> k & 1U ? common[k] : common[k] * random.between(0.7, 1.4);
        FitMember member{.name = fmt::format("y{}", m + 1), .model = model, .predictors = {{}}};
        const int n = 8 + static_cast<int>(random.between(0, 12));
        for (int i = 0; i < n; ++i) {
            const double x = random.between(0, 6), sigma = weighted ? random.between(0.02, 0.1) : 0.05;
            member.predictors[0].push_back(x);
            member.y.push_back(p[0] * std::exp(-p[1] * x) + p[2] + sigma * random.normal());
            if (weighted) member.sigma.push_back(sigma);
        }
        for (std::size_t i = 0; i < member.y.size(); ++i) {
            all.predictors[0].push_back(member.predictors[0][i]);
            all.predictors[1].push_back(static_cast<double>(m));
            all.y.push_back(member.y[i]);
            if (weighted) all.sigma.push_back(member.sigma[i]);
        }
        const std::string branch =
            fmt::format("{}*exp(-{}*x1) + {}", inWhole(j, 0, m), inWhole(j, 1, m), inWhole(j, 2, m));
        equation += m + 1 < j.count ? fmt::format("if(x2 == {}, {}, ", m, branch) : branch;
        j.members.members.push_back(std::move(member));
    }
    equation += std::string(j.count - 1, ')');
    all.model = *models::equationModel(equation, {"x1", "x2"});
    j.members.absolute = j.whole.absolute = weighted && seed % 2 == 0;
    for (std::size_t k = 0; k < 3; ++k)
        if (j.shared >> k & 1U) j.members.parameters.push_back({.name = kNames[k], .shared = true});
    j.whole.members = {std::move(all)};
    return j;
}

const ParameterResult& named(const FitReport& r, const std::string& name) {
    return *std::ranges::find(r.one().parameters, name, &ParameterResult::name);
}

} // namespace

TEST(Joint, IsTheSameAsOneEquationOverAllPoints) {
    for (std::uint64_t seed = 1; seed <= 60; ++seed) {
        const Joint j = randomJoint(seed);
        FitProblem whole = j.whole;
        const auto joint = fit::fit(j.members);
        ASSERT_TRUE(joint);
        // From where the members found them: the whole would have to search.
        for (std::size_t m = 0; m < j.count; ++m)
            for (std::size_t k = 0; k < 3; ++k)
                if (m == 0 || !(j.shared >> k & 1U))
                    whole.parameters.push_back(
                        {.name = inWhole(j, k, m), .start = joint->members[m].parameters[k].value * 1.01});
        const auto dense = fit::fit(whole);
        ASSERT_TRUE(dense);
        ASSERT_EQ(joint->state, FitState::Converged) << seed;
        EXPECT_EQ(joint->dof, dense->dof) << seed;
        EXPECT_NEAR(joint->rss, dense->rss, 1e-9 * dense->rss) << seed;
        EXPECT_NEAR(joint->aicc, dense->aicc, 1e-7 * std::abs(dense->aicc)) << seed;
        for (std::size_t m = 0; m < j.count; ++m)
            for (std::size_t k = 0; k < 3; ++k) {
                const ParameterResult &a = joint->members[m].parameters[k],
                                      &b = named(*dense, inWhole(j, k, m));
                EXPECT_NEAR(a.value, b.value, 1e-5 * b.se) << seed;
                EXPECT_NEAR(a.se, b.se, 1e-5 * b.se) << seed;
                EXPECT_NEAR(a.high, b.high, 1e-4 * b.se) << seed;
                EXPECT_EQ(a.shared, j.shared >> k & 1U) << seed;
            }
        // The correlations of all free parameters, by name.
        const Correlation a = correlation(*joint), b = correlation(*dense);
        ASSERT_EQ(a.names.size(), b.names.size());
        std::vector<Eigen::Index> place;
        for (const std::string& name : a.names) {
            std::string other = name;
            if (const auto of = name.find(" of y"); of != name.npos)
                other = name.substr(0, of) + std::to_string(std::stoi(name.substr(of + 5)) - 1);
            place.push_back(std::ranges::find(b.names, other) - b.names.begin());
        }
        for (std::size_t i = 0; i < place.size(); ++i)
            for (std::size_t k = 0; k < place.size(); ++k)
                EXPECT_NEAR(a.values(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k)),
                            b.values(place[i], place[k]), 1e-5)
                    << seed;
        // Bands of the last member.
        const std::vector<double> x = {0.5, 3}, which(2, static_cast<double>(j.count - 1));
        const std::span<const double> one[] = {x}, two[] = {x, which};
        const Prediction p = predict(j.members, *joint, one, j.count - 1), q = predict(whole, *dense, two);
        for (std::size_t i = 0; i < 2; ++i)
            EXPECT_NEAR(p.confidence[i], q.confidence[i], 1e-5 * q.confidence[i]);
    }
}

TEST(Joint, NothingSharedIsEachForItselfWithTheScatterOfAll) {
    Joint j = randomJoint(8);
    j.members.parameters.clear();
    const auto joint = fit::fit(j.members);
    ASSERT_TRUE(joint);
    EXPECT_FALSE(joint->comparison);
    double rss = 0;
    for (std::size_t m = 0; m < j.count; ++m) {
        FitProblem alone{.members = {j.members.members[m]}, .absolute = j.members.absolute};
        const auto one = fit::fit(alone);
        rss += one->rss;
        for (std::size_t k = 0; k < 3; ++k) {
            EXPECT_NEAR(joint->members[m].parameters[k].value, one->one().parameters[k].value, 1e-8);
            EXPECT_NEAR(joint->members[m].parameters[k].se / joint->residualSd,
                        one->one().parameters[k].se / one->residualSd, 1e-6);
        }
    }
    EXPECT_NEAR(joint->rss, rss, 1e-9 * rss);
}

// F = ((RSS₁ − RSS₂)/(p₂ − p₁))/(RSS₂/(n − p₂)), with both sums from fits of their own.
TEST(Joint, SharedIsComparedWithSeparate) {
    const Joint j = randomJoint(7); // k is shared
    FitProblem apart = j.members;
    apart.parameters.clear();
    const auto shared = fit::fit(j.members), separate = fit::fit(apart);
    ASSERT_TRUE(shared && separate && shared->comparison);
    const double more = static_cast<double>(shared->dof - separate->dof),
                 left = static_cast<double>(separate->dof);
    EXPECT_NEAR(shared->comparison->f, (shared->rss - separate->rss) / more / (separate->rss / left), 1e-9);
    EXPECT_EQ(shared->comparison->dof[0], more);
    EXPECT_EQ(shared->comparison->dof[1], left);
    EXPECT_NEAR(shared->comparison->aiccDifference, shared->aicc - separate->aicc, 1e-8);
    EXPECT_GT(shared->comparison->p, 0);
    EXPECT_LT(shared->comparison->p, 1);
}

TEST(Joint, AMemberMayDifferAndBeTied) {
    Joint j = randomJoint(2); // k and c are shared
    j.members.members[1].parameters = {{.name = "a", .treatment = Treatment::Fixed, .start = 2.0}};
    auto r = fit::fit(j.members);
    ASSERT_TRUE(r);
    EXPECT_EQ(r->members[1].parameters[0].value, 2.0);
    EXPECT_EQ(r->members[1].parameters[0].treatment, Treatment::Fixed);
    EXPECT_NE(r->members[0].parameters[0].se, 0);
    j.members.members[1].parameters = {{.name = "a", .treatment = Treatment::Tied, .tie = "3*k"}};
    r = fit::fit(j.members);
    EXPECT_NEAR(r->members[1].parameters[0].value, 3 * r->members[1].parameters[1].value, 1e-12);
    EXPECT_NEAR(r->members[1].parameters[0].se, 3 * r->members[1].parameters[1].se, 1e-12);
    j.members.members[1].y.clear();
    EXPECT_FALSE(fit::fit(j.members));
}

// What one member cannot tell is undetermined there, and leaves the others as they are.
TEST(Joint, AnUndeterminedMemberIsNamed) {
    Joint j = randomJoint(1); // k is shared
    FitMember flat = j.members.members[0];
    flat.name = "far";
    for (double& x : flat.predictors[0]) x = 900; // nothing is left of the decay: no a
    for (double& y : flat.y) y = 1;
    flat.sigma.clear();
    for (FitMember& m : j.members.members) m.sigma.clear();
    j.members.absolute = false;
    j.members.members.push_back(flat);
    const auto r = fit::fit(j.members);
    ASSERT_TRUE(r);
    EXPECT_EQ(r->state, FitState::Undetermined);
    EXPECT_FALSE(r->members.back().parameters[0].determined);
    EXPECT_TRUE(r->members[0].parameters[0].determined);
    EXPECT_GT(r->members[0].parameters[1].se, 0);
    ASSERT_FALSE(r->warnings.empty());
    EXPECT_THAT(r->warnings[0].text, testing::HasSubstr("a of far"));
}
