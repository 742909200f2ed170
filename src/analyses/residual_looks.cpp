// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/residual_looks.h"

#include "base/text.h"
#include "fit/residual_tests.h"
#include "stats/group_tests.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

constexpr double kDecades = 30; // largest over smallest uncertainty

// Clear, perhaps, or nothing found; and the test with its probability.
std::string finding(double p, const char* clear, const char* perhaps, const char* none, const char* test) {
    return fmt::format("{} ({} {})",
                       p < 0.01   ? clear
                       : p < 0.05 ? perhaps
                                  : none,
                       test, stats::probabilityText(p));
}

std::string runsText(const fit::RunsTest& t) {
    return finding(t.p, t.few ? "they follow a pattern" : "they alternate",
                   t.few ? "perhaps a pattern" : "perhaps they alternate", "no pattern found", "runs test");
}

std::string scatterText(const std::optional<fit::ScatterTest>& t) {
    if (!t) return "too few points to tell whether the scatter is the same everywhere";
    return finding(t->p, t->grows ? "the scatter grows" : "the scatter shrinks",
                   t->grows ? "perhaps the scatter grows" : "perhaps the scatter shrinks",
                   "the scatter is even", "score test");
}

std::string normalText(double p) {
    if (std::isnan(p)) return "";
    return finding(p, "not normal", "perhaps not normal", "as normal ones would lie", "Shapiro–Francia");
}

std::string lackText(const fit::LackOfFit& t) {
    return fmt::format("{} (lack of fit {} = {}, {})",
                       t.p < 0.01 ? "the curve misses the replicates" : "the replicates scatter as much",
                       t.dof[1] > 0 ? "F" : "χ²", readableNumber(t.statistic, 3),
                       stats::probabilityText(t.p));
}

class Looks {
public:
    Looks(const FitDetail& detail, const std::vector<NamedCurve>& common, AnalysisResult& out)
        : report_(detail.report), taken_(*detail.taken), common_(common), out_(out) {}

    void add() {
        const std::vector<fit::Influence> weighed = fit::influencesOf(taken_.problem, report_);
        tests_ = fit::residualTests(taken_.problem, report_, weighed);
        for (std::size_t m = 0; m < weighed.size(); ++m) addMember(m, weighed[m]);
        addNumbers();
        std::vector<Issue> doubts = fit::doubtsOf(tests_, taken_.problem);
        // Replicates tell more than runs do.
        if (std::ranges::find(doubts, "lack-of-fit", &Issue::code) != doubts.end())
            std::erase_if(out_.issues, [](const Issue& i) { return i.code == "residuals-not-random"; });
        std::ranges::move(doubts, std::back_inserter(out_.issues));
        out_.notShown = fit::notShown(taken_.problem, report_, tests_);
        for (NamedCurve& curve : out_.curves)
            if (curve.role == "residuals") curve.says = overX();
    }

private:
    std::string overX() const {
        if (report_.n < 10) return "";
        return tests_.lackOfFit ? runsText(tests_.runs) + "; " + lackText(*tests_.lackOfFit)
                                : runsText(tests_.runs);
    }

    void addMember(std::size_t m, const fit::Influence& weighed) {
        const fit::MemberReport& member = report_.members[m];
        const std::string& unit = taken_.members[m].curve->yMeaning.unit;
        std::vector<double> order(member.fitted.size());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = static_cast<double>(i + 1);
        addLook(m, {"fitted value", unit, member.fitted, "residual", unit, member.residuals,
                    scatterText(tests_.scatter)});
        addLook(m, {"order", "", order, "residual", unit, member.residuals,
                    report_.n < 10 ? "" : runsText(tests_.runs)});
        addInSigma(m);
        if (weighed.leverage.empty()) return;
        std::vector<double> sizes;
        for (double r : weighed.standardised) sizes.push_back(std::sqrt(std::abs(r)));
        const char* const standard = "standardised residual";
        addLook(m, {"fitted value, as sizes", unit, member.fitted, "√|standardised|", "", sizes,
                    scatterText(tests_.scatter)});
        addLook(m, {"normal quantile", "", fit::normalScores(weighed.standardised), standard, "",
                    weighed.standardised, normalText(tests_.normalP)});
        addLook(m, {"leverage", "", weighed.leverage, standard, "", weighed.standardised,
                    distanceText(m, weighed)});
        const auto place = [&](double x) { return placeText(common_[m].xMeaning, x); };
        if (auto point = fit::decidingPoint(taken_.problem, report_, weighed, m, place))
            out_.issues.push_back(std::move(*point));
    }

    // In standard deviations, where these go over decades: else only the largest would be seen.
    void addInSigma(std::size_t m) {
        const fit::FitMember& member = taken_.problem.members[m];
        if (member.sigma.empty() || member.predictors.size() != 1) return;
        const auto [least, most] = std::ranges::minmax(member.sigma);
        if (!(most > kDecades * least)) return;
        const double scale = report_.absolute ? 1 : report_.residualSd;
        std::vector<double> standard;
        for (std::size_t i = 0; i < member.sigma.size(); ++i)
            standard.push_back(report_.members[m].residuals[i] / (member.sigma[i] * scale));
        addLook(m, {kInSigma, "", member.predictors[0], "residual/σ", "", standard, overX()});
        out_.curves.back().xMeaning = common_[m].xMeaning;
    }

    // The point that weighs most.
    std::string distanceText(std::size_t m, const fit::Influence& weighed) const {
        const auto top = std::ranges::max_element(weighed.distance) - weighed.distance.begin();
        const double x = taken_.problem.members[m].predictors[0][static_cast<std::size_t>(top)];
        return fmt::format("the point at x = {} weighs most (distance of Cook {})",
                           placeText(common_[m].xMeaning, x),
                           readableNumber(weighed.distance[static_cast<std::size_t>(top)], 2));
    }

    struct Look {
        const char* over;
        std::string overUnit;
        const std::vector<double>& xs;
        const char* what;
        std::string unit;
        const std::vector<double>& ys;
        std::string says;
    };
    void addLook(std::size_t m, const Look& look) {
        NamedCurve made = common_[m];
        made.role = "residuals-over";
        made.label = look.over;
        made.says = look.says;
        auto points = pointsOf(taken_, m, look.ys);
        points->x = look.xs;
        points->xMeaning = made.xMeaning = {
            std::string(look.over).substr(0, std::string_view(look.over).find(',')), look.overUnit};
        points->yMeaning = made.yMeaning = {look.what, look.unit};
        sortByX(*points);
        made.points = std::move(points);
        made.founded = {};
        out_.curves.push_back(std::move(made));
    }

    void addNumbers() {
        const auto add = [&](const char* key, const char* label, const char* meaning, double value) {
            if (std::isfinite(value))
                out_.quality.push_back(
                    {.key = key, .label = label, .meaning = meaning, .value = value, .state = "quality"});
        };
        if (report_.n >= 10) add("runs_p", "p of runs", "of the runs test of the residuals", tests_.runs.p);
        if (tests_.scatter)
            add("scatter_p", "p of even scatter", "of the score test of squares over fitted values",
                tests_.scatter->p);
        add("normal_p", "p of normal residuals", "of Shapiro and Francia", tests_.normalP);
        if (tests_.lackOfFit)
            add("lack_of_fit_p", "p of lack of fit", "of replicates against the curve", tests_.lackOfFit->p);
    }

    const fit::FitReport& report_;
    const FitTaken& taken_;
    const std::vector<NamedCurve>& common_;
    AnalysisResult& out_;
    fit::ResidualTests tests_;
};

} // namespace

std::shared_ptr<Curve> pointsOf(const FitTaken& taken, std::size_t member,
                                const std::vector<double>& values) {
    auto curve = std::make_shared<Curve>();
    curve->x = taken.problem.members[member].predictors[0];
    curve->y = values;
    curve->xMeaning = taken.members[member].curve->xMeaning;
    curve->yMeaning = taken.members[member].curve->yMeaning;
    const MemberPoints& points = taken.members[member];
    if (!points.curve->rowIds.empty() &&
        static_cast<std::size_t>(std::ranges::count(points.used, 1)) == values.size())
        for (std::size_t i = 0; i < points.used.size(); ++i)
            if (points.used[i]) curve->rowIds.push_back(points.curve->rowIds[i]);
    return curve;
}

void addResidualLooks(const FitDetail& detail, const std::vector<NamedCurve>& common, AnalysisResult& out) {
    if (detail.report.provisional || detail.report.n > kMostLookedAt) return;
    Looks(detail, common, out).add();
}

} // namespace jointer::analyses
