// SPDX-License-Identifier: GPL-3.0-or-later
// Fits over dates and times: their numbers are those of the same points over plain numbers counted from the
// first day, in units that people choose; nothing is lost by moments being large.
#include "models/timed_model.h"

#include "analyses/free_curve.h"
#include "evaluate/evaluator.h"
#include "models/examples.h"
#include "project/edit.h"
#include "support/drawn.h"
#include "support/random.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;

namespace {

constexpr double kDay = 86400, kFirst = 1925769600; // 2031-01-10

// The same points over moments and over days from the first one on.
struct Both {
    test::Drawing d;

    // `at`: days after the first midnight.
    Both(const std::vector<double>& at, const std::vector<double>& y) {
        std::vector<double> moments;
        for (double day : at) moments.push_back(kFirst + kDay * day);
        add(moments, y, true);
        add(at, y, false);
    }
    void add(const std::vector<double>& x, const std::vector<double>& y, bool isTime) {
        Table t;
        t.columns = {numberColumn("when", isTime ? "" : "d", x), numberColumn("height", "mm", y)};
        if (isTime) t.columns[0].kind = ColumnKind::DateTime;
        d.p = *edits::addTable(std::move(t)).apply(d.p);
        const Table& made = d.p.tables[d.p.tables.size() - 1];
        Dataset set{.name = isTime ? "moments" : "days"};
        set.source.table = made.id;
        set.source.roles = {{Role::X, made.columns[0].id}, {Role::Y, made.columns[1].id}};
        d.p = *edits::addDataset(std::move(set)).apply(d.p);
    }
    analyses::ResultPtr of(std::size_t dataset, Analysis a) {
        a.inputs = {{.dataset = d.p.datasets[dataset].id}};
        return ofAll(std::move(a));
    }
    analyses::ResultPtr ofAll(Analysis a) {
        d.p = *edits::addAnalysis(std::move(a)).apply(d.p);
        const auto outcome = d.evaluator().analysis(d.p, d.p.analyses[d.p.analyses.size() - 1]);
        EXPECT_TRUE(outcome.exists()) << (outcome.exists() ? "" : outcome.result.error().text);
        return outcome.exists() ? *outcome.result : nullptr;
    }
};

std::vector<double> weekly(int n) {
    std::vector<double> at;
    for (int k = 0; k < n; ++k) at.push_back(7.0 * k);
    return at;
}

std::vector<double> values(const std::vector<double>& at, const std::function<double(double)>& truth,
                           double noise = 0.3) {
    test::Random random(5);
    std::vector<double> y;
    for (double t : at) y.push_back(truth(t) + noise * random.normal());
    return y;
}

void expectTheSame(const analyses::AnalysisResult& a, const analyses::AnalysisResult& b,
                   double relative = 1e-7) {
    ASSERT_EQ(a.quantities.size(), b.quantities.size());
    for (std::size_t k = 0; k < a.quantities.size(); ++k) {
        const analyses::Quantity &one = a.quantities[k], &two = b.quantities[k];
        EXPECT_EQ(one.label, two.label);
        EXPECT_EQ(one.unit, two.unit) << one.label;
        const double scale = std::max(std::abs(two.value), std::isfinite(two.se) ? two.se : 0);
        EXPECT_NEAR(one.value, two.value, relative * scale) << one.label;
        if (std::isfinite(two.se)) {
            EXPECT_NEAR(one.se / two.se, 1, 1e-4) << one.label;
        }
    }
}

} // namespace

TEST(TimeFits, AreThoseOfDaysFromTheFirst) {
    const auto at = weekly(150);
    for (const char* model : {"line", "polynomial-3", "polynomial-9", "exponential-rise", "sinusoid",
                              "gaussian", "broken-line"}) {
        SCOPED_TRACE(model);
        const bool wave = model == std::string("sinusoid"), peak = model == std::string("gaussian");
        Both b(at, values(at, [&](double t) {
                   return wave   ? 5 * std::sin(0.02 * t)
                          : peak ? 9 * std::exp(-std::pow((t - 500) / 160, 2))
                                 : 20 + 12 * (1 - std::exp(-t / 300));
               }));
        const auto moments = b.of(0, {.model = {.kind = model}}), days = b.of(1, {.model = {.kind = model}});
        ASSERT_TRUE(moments && days);
        EXPECT_EQ(moments->state, days->state);
        expectTheSame(*moments, *days, 1e-5);
        EXPECT_THAT(moments->detail, testing::HasSubstr("x in days since 2031-01-10"));
        // The curve is asked at moments, and stays where it was.
        const analyses::Sampled one = moments->curve("fit")->sample({kFirst + 200.5 * kDay}),
                                two = days->curve("fit")->sample({200.5});
        EXPECT_NEAR(one.y[0], two.y[0], 1e-6 * std::abs(two.y[0]));
        EXPECT_NEAR(one.confidence[0], two.confidence[0], 1e-4 * two.confidence[0]);
    }
}

TEST(TimeFits, CountInTheUnitThatIsAskedFor) {
    const auto at = weekly(60);
    Both b(at, values(at, [](double t) { return 3 + 0.5 * t; }));
    const double perDay = b.of(0, {.model = {.kind = "line"}})->find("slope")->value;
    for (const auto& [unit, days] :
         {std::pair("h", 1.0 / 24), {"a", 365.25}, {"min", 1.0 / 1440}, {"s", 1.0 / 86400}}) {
        Settings s;
        s.set("time-in", Value(std::string(unit)));
        const auto result = b.of(0, {.model = {.kind = "line"}, .settings = s});
        EXPECT_NEAR(result->find("slope")->value / (perDay * days), 1, 1e-9) << unit;
        EXPECT_EQ(result->find("slope")->unit, std::string("mm/") + unit);
    }
}

TEST(TimeFits, SeveralDatasetsCountFromTheFirstOfAll) {
    const auto at = weekly(40);
    Both b(at, values(at, [](double t) { return 3 + 0.5 * t; }));
    std::vector<double> later;
    for (double t : at) later.push_back(kFirst + kDay * (t + 100));
    b.add(later, values(at, [](double t) { return 53 + 0.5 * t; }), true);
    Analysis a{.model = {.kind = "line"}};
    a.inputs = {{.dataset = b.d.p.datasets[0].id}, {.dataset = b.d.p.datasets[2].id}};
    const auto result = b.ofAll(std::move(a));
    for (const analyses::Quantity& q : result->quantities)
        if (q.label == "intercept") {
            EXPECT_NEAR(q.value, 3, 0.5) << "both at the first day of all";
        }
}

TEST(TimeFits, NumbersOfTheCurveAreAskedInDays) {
    const auto at = weekly(60);
    Both b(at, values(
                   at, [](double t) { return 3 + 0.5 * t; }, 0.01));
    RowList rows;
    for (const auto& [name, formula] :
         {std::pair("middle", "value(100)"), {"steep", "slope(100)"}, {"when", "crossing(53)"}}) {
        Settings row;
        row.set("name", Value(std::string(name)));
        row.set("formula", Value(std::string(formula)));
        rows.push_back(row);
    }
    Settings s;
    s.set("derive", Value(std::make_shared<const RowList>(rows)));
    const auto moments = b.of(0, {.model = {.kind = "line"}, .settings = s}),
               days = b.of(1, {.model = {.kind = "line"}, .settings = s});
    expectTheSame(*moments, *days);
    EXPECT_NEAR(moments->find("when")->value, 100, 0.1);
    EXPECT_EQ(moments->find("steep")->unit, "mm/d");
}

TEST(TimeFits, CurvesWithoutAFormulaHaveSlopesPerDay) {
    const auto at = weekly(60);
    for (const char* method : {"loess", "smoothing-spline", "interpolate"}) {
        Both b(at, values(
                       at, [](double t) { return 3 + 0.5 * t; }, 0.01));
        Settings s;
        s.set("method", Value(std::string(method)));
        const auto moments = b.of(0, {.kind = "free-curve", .settings = s}),
                   days = b.of(1, {.kind = "free-curve", .settings = s});
        const double one = moments->curve("derivative")->sample({kFirst + 201.5 * kDay}).y[0],
                     two = days->curve("derivative")->sample({201.5}).y[0];
        EXPECT_NEAR(one, two, 1e-4 * std::abs(two)) << method;
        EXPECT_EQ(moments->curve("derivative")->yMeaning.unit, "mm/d");
        EXPECT_NEAR(moments->curve("fit")->sample({kFirst + 201.5 * kDay}).y[0],
                    days->curve("fit")->sample({201.5}).y[0], 1e-6)
            << method;
    }
}

TEST(TimeFits, TidesCountInHours) {
    std::vector<double> at;
    for (int h = 0; h < 600; ++h) at.push_back(h / 24.0);
    Both b(at, values(
                   at, [](double t) { return 2 + std::cos(28.9841042 * 24 * t * M_PI / 180 - 0.5); }, 0.01));
    const auto tide = b.of(0, {.model = {.kind = "tide"}});
    EXPECT_NEAR(tide->find("M2 amplitude")->value, 1, 0.01);
    EXPECT_THAT(tide->detail, testing::HasSubstr("x in hours since"));
}

// Every model of the library, its own and its derivatives, at moments.
TEST(TimedModel, IsTheModelAtWhatIsCounted) {
    const models::TimeScale scale = models::timeScaleOf(kFirst + 1000, kFirst + 30 * kDay);
    EXPECT_EQ(scale.symbol, "d");
    EXPECT_EQ(scale.origin, kFirst);
    for (const models::ModelKind& kind : models::catalogue()) {
        const models::Example* example = models::exampleOf(kind.info.key);
        if (!example) continue;
        const auto model = *models::makeModel(kind.info.key, {});
        if (model->predictorCount() > 1) continue;
        const auto timed = models::timedModel(model, scale);
        const std::size_t n = 40, p = model->parameters().size();
        std::vector<double> x, moments;
        for (std::size_t i = 0; i < n; ++i) {
            moments.push_back(kFirst +
                              std::round(kDay * (example->from + (example->to - example->from) *
                                                                     (static_cast<double>(i) + 0.5) / n)));
            x.push_back(scale.fromMoment(moments.back()));
        }
        std::vector<double> one(n), two(n), oneBy(n * p), twoBy(n * p);
        const std::span<const double> a(x), b(moments);
        model->evaluate({&a, 1}, example->parameters, one, oneBy);
        timed->evaluate({&b, 1}, example->parameters, two, twoBy);
        EXPECT_EQ(one, two) << kind.info.key;
        EXPECT_EQ(oneBy, twoBy) << kind.info.key;
        EXPECT_EQ(timed->components().size(), model->components().size());
        EXPECT_EQ(timed->isLinear(), model->isLinear());
    }
}

TEST(TimeScale, ChoosesUnitsThatPeopleChoose) {
    const auto of = [](double seconds) {
        return models::timeScaleOf(kFirst + 3723.5, kFirst + 3723.5 + seconds);
    };
    EXPECT_EQ(of(100).symbol, "s");
    EXPECT_EQ(of(3 * 3600).symbol, "min");
    EXPECT_EQ(of(2 * kDay).symbol, "h");
    EXPECT_EQ(of(200 * kDay).symbol, "d");
    EXPECT_EQ(of(30 * 365 * kDay).symbol, "a");
    EXPECT_EQ(of(100).origin, kFirst + 3723);
    EXPECT_EQ(of(2 * kDay).origin, kFirst + 3600);
    EXPECT_EQ(words(of(200 * kDay)), "days since 2031-01-10");
    EXPECT_EQ(words(of(2 * kDay)), "hours since 2031-01-10T01:00:00");
}
