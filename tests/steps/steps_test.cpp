// SPDX-License-Identifier: GPL-3.0-or-later
// What holds for each step, whatever it does.
#include "make_curve.h"

using namespace jointer;
using namespace jointer::steps;
using testing::ElementsAre;

namespace {

// Settings under which each step really does something.
std::vector<Settings> active(const std::string& key) {
    if (key == "exclude")
        return {with({{"rows", Numbers{2, 3}}, {"outside-y", Numbers{-1e9, 1e9}}}),
                with({{"rule", word("y > 3")}}), with({{"outliers", true}, {"every", 2.0}}),
                with({{"what", word("take-back")}, {"inside", Numbers{0, 5}}})};
    if (key == "despike")
        return {with({{"threshold", 3.0}}), with({{"then", word("leave-out")}}),
                with({{"compare", word("repeats")}})};
    if (key == "crop") return {with({{"span", Numbers{2, 8}}})};
    if (key == "smooth") {
        std::vector<Settings> all;
        for (const char* method :
             {"moving-average", "savitzky-golay", "median", "low-pass", "loess", "whittaker"})
            all.push_back(with({{"method", word(method)}, {"window", 5.0}, {"degree", 2.0}}));
        all.push_back(with({{"method", word("loess")}, {"window", 9.0}, {"degree", 1.0}, {"robust", true}}));
        all.push_back(with({{"window-in", word("x")}, {"width", 4.0}, {"degree", 1.0}}));
        all.push_back(with({{"method", word("moving-average")}, {"window-in", word("x")}, {"width", 4.0}}));
        return all;
    }
    if (key == "baseline") {
        std::vector<Settings> all;
        for (const char* through : {"line", "spline", "shape", "polynomial"})
            all.push_back(with({{"through", word(through)}, {"anchors", Numbers{0, 0, 4, 1, 9, 9}}}));
        for (const char* method : {"als", "arpls", "rolling-ball", "polynomial", "snip", "shirley",
                                   "tougaard", "constant", "line"})
            all.push_back(with({{"method", word(method)}, {"radius", 3.0}, {"remove", word("divide")}}));
        all.push_back(with({{"method", word("als")}, {"span", Numbers{3, 15}}}));
        return all;
    }
    if (key == "derivative")
        return {with({{"window", 5.0}, {"degree", 2.0}, {"order", word("2")}}),
                with({{"method", word("differences")}})};
    if (key == "integral") return {with({{"from", word("end")}})};
    if (key == "normalise") {
        std::vector<Settings> all;
        for (const char* to : {"maximum", "min-max", "area", "sum", "value", "mean", "norm", "references"})
            all.push_back(with({{"to", word(to)}, {"at", 3.0}}));
        all.push_back(with({{"to", word("references")},
                            {"zero-from", word("dataset")},
                            {"zero-of", Reference{"d7"}},
                            {"hundred-from", word("span")},
                            {"hundred-span", Numbers{3, 9}}}));
        return all;
    }
    if (key == "transform")
        return {with({{"y", word("ln(y)")}}),
                with({{"x", word("1/x")}, {"outside", word("replace")}, {"value", 9.0}}),
                with({{"y-by", word("log10")}, {"outside", word("decade-below")}}),
                with({{"x-by", word("ln")}, {"outside", word("control")}})};
    if (key == "convert")
        return {with({{"from", word("nm")}, {"to", word("ev")}, {"intensity", word("density")}})};
    if (key == "dilution") return {with({{"factor", 3.0}}), with({{"attribute", word("dose")}})};
    if (key == "drift")
        return {with({{"first-read", 1.0}, {"first-true", 2.0}}),
                with({{"last-read", 2.0}, {"last-true", 3.0}, {"as", word("factor")}})};
    if (key == "shift") return {with({{"x", 2.0}, {"y", -1.0}})};
    if (key == "scale") return {with({{"x", -2.0}, {"y", 3.0}})};
    if (key == "align")
        return {with({{"at", 3.0}}), with({{"by", word("curve")}, {"with", Reference{"d7"}}})};
    if (key == "calibrate") return {with({{"lines", Numbers{3, 3.5, 8, 9}}, {"by", word("line")}})};
    if (key == "resample")
        return {with({{"every", 0.7}}),
                with({{"every", 3.0}, {"by", word("bins")}, {"scatter", word("sem")}}),
                with({{"onto", word("dataset")}, {"with", Reference{"d7"}}}),
                with({{"onto", word("calendar")}, {"unit", word("minute")}}),
                with({{"every", 2.0}, {"by", word("bins")}, {"statistic", word("count")}})};
    if (key == "strip-doublet") return {with({{"rule", word("distance")}, {"distance", 2.0}}), Settings()};
    if (key == "sort") return {with({{"equal", word("average")}, {"within", 1.0}})};
    if (key == "average" || key == "join-pieces")
        return {with({{"with", References{{"d7"}}}}),
                with({{"with", References{{"d7"}}}, {"overlap", word("blend")}, {"match", word("factor")}})};
    if (key == "subtract" || key == "divide" || key == "multiply")
        return {with({{"with", Reference{"d7"}}, {"scale", 2.0}}),
                with({{"with", Reference{"d7"}}, {"fit-in", Numbers{2, 8}}})};
    if (key == "scattering-background")
        return {with({{"medium", Reference{"d7"}}, {"transmission", 0.6}, {"medium-transmission", 0.8}})};
    if (key == "absolute-scale") return {with({{"standard", Reference{"d7"}}, {"within", Numbers{2, 8}}})};
    ADD_FAILURE() << "no settings for " << key;
    return {};
}

struct Named {
    const char* name;
    Curve curve;
};

std::vector<Named> difficultCurves() {
    std::vector<Named> all = {{"empty", {}},
                              {"one point", curveOf(1, [](double) { return 2.0; })},
                              {"two points", curveOf(2, [](double x) { return x; })},
                              {"constant", curveOf(20, [](double) { return 1.0; })},
                              {"zero", curveOf(20, [](double) { return 0.0; })},
                              {"all missing", curveOf(20, [](double) { return std::nan(""); })},
                              {"some missing", curveOf(20, [](double x) { return x; })},
                              {"one place", curveOf(12, [](double x) { return x; })},
                              {"double x", curveOf(20, [](double x) { return std::sin(x); })},
                              {"left out", curveOf(20, [](double x) { return std::sin(x); })},
                              {"replicates", curveOf(20, [](double x) { return std::sin(x) + 2; })},
                              {"times", curveOf(20, [](double x) { return std::sin(x) + 2; })},
                              {"huge", curveOf(20, [](double x) { return x * 1e300; })}};
    for (Named& n : all) {
        const std::string name = n.name;
        Curve& c = n.curve;
        if (name == "some missing")
            for (std::size_t i = 0; i < c.size(); i += 3) c.y[i] = NAN;
        if (name == "one place") c.x.assign(c.size(), 3.0);
        if (name == "double x")
            for (double& x : c.x) x = std::floor(x / 2);
        if (name == "left out") c.excluded = {1, 1, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 1, 1};
        if (name == "replicates") {
            c.replicates = {c.y, c.y, c.y};
            for (std::size_t i = 0; i < c.size(); ++i) c.replicates[0][i] -= 0.25, c.replicates[1][i] += 0.25;
            c.replicates[2][4] = NAN;
            c.common = {{"a reference", std::vector<double>(c.size(), 0.1)}};
        }
        if (name == "times") c.xMeaning.isTime = true;
    }
    return all;
}

Outcome<StepOutput> applyKind(const StepKind& kind, const Curve& curve, const Settings& settings) {
    return applyWith(kind.info.key, curve, curveOf(15, [](double x) { return 1 + x; }), settings);
}

} // namespace

TEST(Steps, SurviveEveryInput) {
    for (const StepKind& kind : catalogue()) {
        std::vector<Settings> all = active(kind.info.key);
        all.push_back({});
        for (std::size_t k = 0; k < all.size(); ++k)
            for (const auto& [name, curve] : difficultCurves()) {
                SCOPED_TRACE(kind.info.key + " (" + std::to_string(k) + "), " + name);
                const auto out = applyKind(kind, curve, all[k]);
                const Curve& c = out.value.curve;
                EXPECT_EQ(c.x.size(), c.y.size());
                c.eachList([&](const auto& list) { EXPECT_EQ(list.size(), c.size()); });
                EXPECT_TRUE(std::ranges::is_sorted(c.x));
                for (double x : c.x) EXPECT_TRUE(std::isfinite(x));
                for (const Layer& layer : out.value.layers) EXPECT_EQ(layer.x.size(), layer.y.size());
                for (const Handle& handle : out.value.handles) EXPECT_TRUE(std::isfinite(handle.x));
                EXPECT_THAT(out.value.sentence, testing::EndsWith("."));
                EXPECT_THAT(out.value.sentence, testing::Not(testing::HasSubstr("nan")));
                EXPECT_EQ(digestOf(applyKind(kind, curve, all[k]).value.curve), digestOf(c))
                    << "not deterministic";
            }
    }
}

// After a step the points have uncertainties, or it says that they have not.
TEST(Steps, NeverDropUncertaintiesSilently) {
    const Curve known = curveOf(20, [](double x) { return 3 + std::sin(x); });
    Curve bare = curveOf(15, [](double x) { return 1 + x; });
    bare.sigma.clear();
    for (const StepKind& kind : catalogue()) {
        std::vector<Settings> all = active(kind.info.key);
        if (kind.info.key == "average")
            all.push_back(with({{"with", References{{"d7"}}}, {"uncertainty", word("carried")}}));
        for (std::size_t k = 0; k < all.size(); ++k) {
            SCOPED_TRACE(kind.info.key + " " + std::to_string(k));
            const auto out = applyWith(kind.info.key, known, bare, all[k]);
            const Curve& c = out.value.curve;
            if (c.size() == 0) continue;
            const bool kept =
                std::ranges::any_of(c.sigma, [](double s) { return std::isfinite(s) && s > 0; });
            const bool said = std::ranges::count(out.issues, std::string("uncertainty-lost"), &Issue::code);
            EXPECT_TRUE(kept || said);
            EXPECT_EQ(said, !c.sigmaCarried);
        }
    }
    const auto joined = applyWith("join-pieces", known, bare, with({{"with", References{{"d7"}}}}));
    EXPECT_TRUE(joined.value.curve.sigma.empty()) << "not all of them are known";
}

TEST(Steps, AreDescribed) {
    for (const StepKind& kind : catalogue()) {
        EXPECT_FALSE(kind.info.purpose.empty());
        EXPECT_FALSE(kind.info.group.empty()) << kind.info.key;
        for (const Setting& s : kind.info.settings) {
            EXPECT_FALSE(s.help.empty()) << kind.info.key << "." << s.key;
            const bool none = std::holds_alternative<std::monostate>(s.fallback);
            EXPECT_TRUE(!none || !s.whenEmpty.empty() || s.hidden) << kind.info.key << "." << s.key;
            EXPECT_TRUE(validate(kind.info, kind.info.value({}, s.key).index() == 0
                                                ? Settings()
                                                : with({{s.key.c_str(), s.fallback}})))
                << kind.info.key << "." << s.key;
        }
    }
}

TEST(Steps, UnknownKindsChangeNothing) {
    const Curve c = curveOf(3, [](double x) { return x; });
    const auto out = apply("from-the-future", c, {});
    EXPECT_EQ(digestOf(out.value.curve), digestOf(c));
    EXPECT_EQ(out.issues.at(0).code, "unknown-step");
}

// What was stopped leaves the curve as it was, and says so.
TEST(Steps, StoppedOnesLeaveTheCurve) {
    const Curve c = curveOf(5000, [](double x) { return std::sin(x); });
    const Settings loess = with({{"method", word("loess")}, {"window", 501.0}, {"degree", 2.0}});
    const DatasetFacts none;
    std::stop_source stop;
    stop.request_stop();
    const auto out = apply(
        "smooth", {.curve = c, .settings = loess, .facts = none, .others = {}, .stop = stop.get_token()});
    EXPECT_EQ(digestOf(out.value.curve), digestOf(c));
    EXPECT_EQ(out.issues.at(0).code, "stopped");
}

// Of replicates it is all one which column is which.
TEST(Steps, DoNotDependOnTheOrderOfReplicates) {
    Curve c = curveOf(30, [](double x) { return 5 + std::sin(x / 3); });
    c.sigma.clear();
    std::mt19937 random(4);
    std::normal_distribution<double> normal(0, 0.2);
    for (int k = 0; k < 3; ++k) {
        c.replicates.push_back(c.y);
        for (double& y : c.replicates.back()) y += normal(random);
    }
    c.replicates[1][7] = NAN;
    for (std::size_t i = 0; i < c.size(); ++i) {
        double sum = 0, n = 0;
        for (const auto& r : c.replicates)
            if (std::isfinite(r[i])) sum += r[i], ++n;
        c.y[i] = sum / n;
    }
    Curve turned = c;
    std::ranges::reverse(turned.replicates);
    for (const StepKind& kind : catalogue())
        for (const Settings& settings : active(kind.info.key)) {
            const Curve a = applyKind(kind, c, settings).value.curve,
                        b = applyKind(kind, turned, settings).value.curve;
            ASSERT_EQ(a.size(), b.size()) << kind.info.key;
            for (std::size_t i = 0; i < a.size(); ++i) {
                if (!std::isfinite(a.y[i])) continue;
                EXPECT_NEAR(a.y[i], b.y[i], 1e-9 * (1 + std::abs(a.y[i]))) << kind.info.key;
            }
        }
}

// What a step says of the uncertainties agrees with what repeated measurements do, within 5 %.
TEST(Steps, CarryUncertaintiesAsSimulationSays) {
    struct Case {
        const char* key;
        Settings settings;
    };
    const Case cases[] = {
        {"smooth", with({{"window", 9.0}, {"degree", 2.0}})},
        {"smooth", with({{"method", word("moving-average")}, {"window", 7.0}})},
        {"smooth", with({{"method", word("low-pass")}, {"window", 9.0}})},
        {"smooth", with({{"method", word("loess")}, {"window", 12.0}, {"degree", 1.0}})},
        {"smooth", with({{"method", word("whittaker")}, {"smoothness", 30.0}})},
        {"derivative", with({{"window", 9.0}, {"degree", 3.0}})},
        {"integral", {}},
        {"integral", with({{"from", word("end")}})},
        {"transform", with({{"y", word("ln(y)")}})},
        {"transform", with({{"y", word("1/y + x")}})},
        {"convert", with({{"from", word("nm")}, {"to", word("ev")}, {"intensity", word("density")}})},
        {"resample", with({{"every", 0.6}})},
        {"resample", with({{"every", 3.0}, {"by", word("bins")}})},
        {"subtract", with({{"with", Reference{"d7"}}, {"scale", 1.5}})},
        {"divide", with({{"with", Reference{"d7"}}})},
        {"multiply", with({{"with", Reference{"d7"}}})},
        {"average", with({{"with", References{{"d7"}}}, {"uncertainty", word("carried")}})},
        {"scale", with({{"y", -4.0}})},
        {"strip-doublet", with({{"rule", word("distance")}, {"distance", 5.0}, {"ratio", 0.3}})}};
    constexpr std::size_t n = 24;
    constexpr int repeats = 4000;
    auto truth = [](double x) { return 20 + 0.2 * x; };
    auto measured = [&](std::mt19937& random, double error) {
        std::normal_distribution<double> normal(0, error);
        Curve c = curveOf(n, truth);
        for (std::size_t i = 0; i < n; ++i) {
            c.x[i] += 1;
            c.sigma[i] = error;
            c.y[i] += normal(random);
        }
        return c;
    };
    for (const Case& test : cases) {
        std::mt19937 random(7);
        std::vector<double> sum, squares, said;
        for (int k = 0; k < repeats; ++k) {
            const Curve mine = measured(random, 0.3), other = measured(random, 0.2);
            const Curve c = applyWith(test.key, mine, other, test.settings).value.curve;
            sum.resize(c.size()), squares.resize(c.size()), said.resize(c.size());
            ASSERT_EQ(c.sigma.size(), c.size()) << test.key;
            for (std::size_t i = 0; i < c.size(); ++i)
                sum[i] += c.y[i], squares[i] += c.y[i] * c.y[i], said[i] += c.sigma[i] / repeats;
        }
        double worst = 0;
        for (std::size_t i = 0; i < sum.size(); ++i) {
            const double mean = sum[i] / repeats,
                         sd = std::sqrt(std::max(0.0, squares[i] / repeats - mean * mean));
            if (sd > 1e-9) worst = std::max(worst, std::abs(said[i] / sd - 1));
        }
        EXPECT_LT(worst, std::string_view(test.key) == "strip-doublet" ? 0.1 : 0.05) << test.key;
    }
}

TEST(Exclude, LeavesOutByHandAndByRule) {
    const Curve c = curveOf(5, [](double x) { return x * x; });
    const auto out = apply("exclude", c, with({{"rows", Numbers{2}}, {"outside-y", Numbers{0, 9}}}));
    EXPECT_THAT(out.value.curve.excluded, ElementsAre(0, 1, 0, 0, 1));
    EXPECT_EQ(out.value.sentence, "Left out 2 points.");
    EXPECT_EQ(apply("exclude", c, with({{"rows", Numbers{2}}})).value.sentence, "Left out 1 point by hand.");
    EXPECT_EQ(apply("exclude", c, with({{"rows", Numbers{2}}})).value.detail, "point 2");
    EXPECT_TRUE(apply("exclude", c, with({{"rows", Numbers{2}}})).issues.empty())
        << "an odd number of points is no mistake";
    EXPECT_THAT(apply("exclude", c, with({{"rule", word("y > 3*x")}})).value.curve.excluded,
                ElementsAre(0, 0, 0, 0, 1));
    EXPECT_THAT(apply("exclude", c, with({{"rule", word("abs(y - median) > 5")}})).value.curve.excluded,
                ElementsAre(0, 0, 0, 0, 1));
    EXPECT_THAT(apply("exclude", c, with({{"inside", Numbers{1, 2}}})).value.curve.excluded,
                ElementsAre(0, 1, 1, 0, 0));
    EXPECT_THAT(apply("exclude", c, with({{"every", 2.0}})).value.curve.excluded, ElementsAre(0, 1, 0, 1, 0));
    EXPECT_EQ(apply("exclude", c, with({{"rule", word("y >")}})).issues.at(0).code, "formula");
}

TEST(Exclude, TakesBackWhatEarlierStepsLeftOut) {
    Curve c = curveOf(5, [](double x) { return x; });
    c.excluded = {1, 1, 0, 0, 1};
    const auto out = apply("exclude", c, with({{"what", word("take-back")}, {"inside", Numbers{1, 4}}}));
    EXPECT_THAT(out.value.curve.excluded, ElementsAre(1, 0, 0, 0, 0));
    EXPECT_THAT(out.value.sentence, testing::HasSubstr("Took back 2 points"));
}

TEST(Exclude, FindsOutliersOfALevelThatMoves) {
    Curve c = spectrum(400, 3, 60, 1.0, 0).curve;
    for (std::size_t i : {40UL, 41UL, 200UL, 333UL}) c.y[i] += 60;
    const auto out = apply("exclude", c, with({{"outliers", true}, {"window", 15.0}, {"threshold", 8.0}}));
    for (std::size_t i : {40UL, 41UL, 200UL, 333UL}) EXPECT_TRUE(out.value.curve.isExcluded(i)) << i;
    EXPECT_EQ(std::ranges::count(out.value.curve.excluded, 1), 4);
}

TEST(Normalise, ReferencesBecomeNoughtAndHundred) {
    Curve c = curveOf(4, [](double x) { return 2 + x; });
    DatasetFacts facts;
    facts.readings[RowKind::Blank] = {1.9, 2.1};
    facts.rowKinds[4] = RowKind::Control; // the last point, 5
    const Settings to = with({{"to", word("references")}});
    const auto out = apply("normalise", {.curve = c, .settings = to, .facts = facts, .others = {}});
    EXPECT_THAT(out.value.curve.y,
                testing::Pointwise(testing::DoubleNear(1e-12), {0.0, 100.0 / 3, 200.0 / 3, 100.0}));
    EXPECT_EQ(out.value.curve.yMeaning.unit, "%");
    // The blank's error is common to all: at 100 % it counts nothing, at 0 % it is 0.1/3 of the whole.
    ASSERT_EQ(out.value.curve.common.size(), 1U);
    EXPECT_NEAR(out.value.curve.common[0].y[3], 0, 1e-12);
    EXPECT_NEAR(std::abs(out.value.curve.common[0].y[0]), 100 * 0.1 / 3, 1e-9);
}

TEST(Transform, CarriesUncertaintiesByItsDerivative) {
    const Curve c = curveOf(5, [](double x) { return x + 1; });
    const auto out = apply("transform", c, with({{"y", word("ln(y)")}}));
    EXPECT_NEAR(out.value.curve.y[3], std::log(4.0), 1e-15);
    EXPECT_NEAR(out.value.curve.sigma[3], 0.5 / 4, 1e-15);
}

TEST(Transform, CountsWhatHasNoValue) {
    const Curve c = curveOf(5, [](double x) { return x - 2; });
    const auto out = apply("transform", c, with({{"y", word("ln(y)")}}));
    EXPECT_THAT(out.value.curve.excluded, ElementsAre(1, 1, 1, 0, 0));
    EXPECT_THAT(out.value.detail, testing::HasSubstr("3 points without a value left out"));
    const auto replaced =
        apply("transform", c, with({{"y", word("ln(y)")}, {"outside", word("replace")}, {"value", -9.0}}));
    EXPECT_EQ(replaced.value.curve.y[0], -9);
    EXPECT_TRUE(replaced.value.curve.isMade(0));
    EXPECT_EQ(apply("transform", c, with({{"y", word("ln(")}})).issues.at(0).code, "formula");
    // The smallest value above zero is 1: a tenth of it has the logarithm −1.
    const auto below =
        apply("transform", c, with({{"y-by", word("log10")}, {"outside", word("decade-below")}}));
    EXPECT_NEAR(below.value.curve.y[1], -1, 1e-15);
}

TEST(Transform, AZeroDoseStaysAsControl) {
    Curve c = curveOf(4, [](double x) { return 10 + x; });
    const auto out = apply("transform", c, with({{"x-by", word("log10")}, {"outside", word("control")}}));
    ASSERT_EQ(out.value.curve.size(), 4U);
    EXPECT_NEAR(out.value.curve.x[0], -1, 1e-15);
    EXPECT_EQ(out.value.curve.made[0], static_cast<std::uint8_t>(PointOrigin::Control));
    const auto gone = apply("transform", c, with({{"x-by", word("log10")}}));
    EXPECT_EQ(gone.value.curve.size(), 3U);
    EXPECT_THAT(gone.value.droppedRows, ElementsAre(1));
}

// The mean of logarithms is not the logarithm of the mean; each lost replicate is counted.
// What is put in has no uncertainty: neither infinity, as the derivative would have it, nor one of its
// neighbours.
TEST(Transform, WhatIsPutInHasNoUncertainty) {
    Curve c = curveOf(3, [](double x) { return x; });
    c.common.push_back({"reference", {0.1, 0.1, 0.1}});
    for (const char* outside : {"replace", "decade-below", "control"}) {
        const auto out = apply("transform", c, with({{"y-by", word("ln")}, {"outside", word(outside)}}));
        EXPECT_TRUE(std::isnan(out.value.curve.sigma[0])) << outside;
        EXPECT_EQ(out.value.curve.common[0].y[0], 0) << outside;
        EXPECT_NEAR(out.value.curve.sigma[2], 0.25, 1e-12);
        EXPECT_NEAR(out.value.curve.common[0].y[2], 0.05, 1e-12);
    }
}

TEST(Sort, AnAverageHasTheErrorOfAMean) {
    Curve c = curveOf(4, [](double x) { return x; });
    c.x = {1, 1, 1, 2};
    c.sigmaX = {0.3, 0.3, 0.3, 0.3};
    const auto out = apply("sort", c, {});
    EXPECT_NEAR(out.value.curve.sigma[0], 0.5 / std::sqrt(3), 1e-12);
    EXPECT_NEAR(out.value.curve.sigmaX[0], 0.3 / std::sqrt(3), 1e-12);
}

TEST(Transform, WorksOnEachReplicate) {
    Curve c;
    c.x = {1, 2};
    c.replicates = {{1, 4}, {std::exp(2.0), -3}};
    c.y = {(1 + std::exp(2.0)) / 2, 0.5};
    const auto out = apply("transform", c, with({{"y", word("ln(y)")}}));
    ASSERT_EQ(out.value.curve.size(), 2U);
    EXPECT_DOUBLE_EQ(out.value.curve.y[0], 1);
    EXPECT_DOUBLE_EQ(out.value.curve.y[1], std::log(4));
    EXPECT_TRUE(std::isnan(out.value.curve.replicates[1][1]));
    ASSERT_EQ(out.issues.size(), 1U);
    EXPECT_THAT(out.issues[0].text, testing::HasSubstr("1 replicate value"));
    const auto put =
        apply("transform", c, with({{"y", word("ln(y)")}, {"outside", word("replace")}, {"value", -9.0}}));
    EXPECT_DOUBLE_EQ(put.value.curve.replicates[1][1], -9);
    EXPECT_DOUBLE_EQ(put.value.curve.y[1], (std::log(4) - 9) / 2);
}

TEST(Transform, NewXIsInOrderAgain) {
    const Curve c = curveOf(4, [](double x) { return 10 * x; });
    const auto out = apply("transform", c, with({{"x", word("1/x")}}));
    EXPECT_THAT(out.value.curve.x, ElementsAre(1.0 / 3, 0.5, 1));
    EXPECT_THAT(out.value.curve.rowIds, ElementsAre(4, 3, 2));
}

// Files of the first version: their keys become the present ones, and mean the same.
TEST(Steps, OldKeysBecomeNewOnes) {
    auto upgraded = [](const char* key, Settings s) {
        catalogue().find(key)->upgrade(s);
        return s;
    };
    EXPECT_EQ(upgraded("exclude", with({{"keep-x", Numbers{1, 2}}})), with({{"outside", Numbers{1, 2}}}));
    EXPECT_EQ(upgraded("crop", with({{"range", Numbers{1, 2}}})), with({{"span", Numbers{1, 2}}}));
    EXPECT_EQ(upgraded("smooth", with({{"order", 2.0}})), with({{"degree", 2.0}}));
    EXPECT_EQ(upgraded("baseline", with({{"then", word("show")}})), with({{"remove", word("no")}}));
    EXPECT_EQ(upgraded("transform", with({{"what", word("x")},
                                          {"formula", word("1/x")},
                                          {"unit", word("s")},
                                          {"outside", word("drop")}})),
              with({{"x", word("1/x")}, {"x-unit", word("s")}, {"outside", word("leave-out")}}));
}
