// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/fit_output.h"

#include "analyses/residual_looks.h"
#include "base/text.h"
#include "cli/commands.h"
#include "fit/differences.h"
#include "fit/quality.h"
#include "fit/residual_tests.h"

#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>
#include <set>

namespace jointer::cli {

using Json = nlohmann::ordered_json;

namespace {

constexpr std::size_t kMostCorrelated = 60; // free parameters
constexpr std::size_t kMostTested = 50;     // members whose equality is asked for by itself

const fit::FitReport& reportOf(const FitOutput& o) {
    return o.detail.report;
}
bool several(const FitOutput& o) {
    return reportOf(o).members.size() > 1;
}

Json interval(double low, double high) {
    return {number(low), number(high)};
}

Json parameterJson(const FitOutput& o, const fit::ParameterResult& p, const std::string& member) {
    Json j = {{"name", p.name},
              {"value", number(p.value)},
              {"se", number(p.se)},
              {"ci", interval(p.low, p.high)},
              {"fixed", p.treatment == fit::Treatment::Fixed},
              {"at_limit", p.atLimit},
              {"determined", p.determined}};
    if (several(o)) j["member"] = p.shared ? Json() : Json(member);
    return j;
}

Json derivedJson(const FitOutput& o, const fit::DerivedResult& d, const std::string& member) {
    Json j = {
        {"name", d.name}, {"value", number(d.value)}, {"se", number(d.se)}, {"ci", interval(d.low, d.high)}};
    if (several(o)) j["member"] = d.shared ? Json() : Json(member);
    return j;
}

Json correlationJson(const FitOutput& o) {
    std::size_t free = 0;
    for (const fit::MemberReport& m : reportOf(o).members)
        free += static_cast<std::size_t>(std::ranges::count_if(
            m.parameters, [](const auto& p) { return p.treatment == fit::Treatment::Free && !p.shared; }));
    if (free > kMostCorrelated && !o.correlation) return {};
    const fit::Correlation c = fit::correlation(reportOf(o));
    Json rows = Json::array();
    for (Eigen::Index i = 0; i < c.values.rows(); ++i) {
        Json row = Json::array();
        for (Eigen::Index k = 0; k < c.values.cols(); ++k) row.push_back(number(c.values(i, k)));
        rows.push_back(row);
    }
    return rows;
}

Json placeJson(const FitOutput& o, std::size_t member, double x) {
    return o.detail.taken->members[member].curve->xMeaning.isTime ? Json(isoDateTime(x)) : number(x);
}

Json predictedJson(const FitOutput& o) {
    Json out = Json::array();
    if (o.predictAt.empty()) return out;
    const std::span<const double> xs(o.predictAt);
    for (std::size_t m = 0; m < reportOf(o).members.size(); ++m) {
        const fit::Prediction p = fit::predict(o.detail.taken->problem, reportOf(o), {&xs, 1}, m);
        for (std::size_t i = 0; i < o.predictAt.size(); ++i) {
            Json j = {{"x", placeJson(o, m, o.predictAt[i])},
                      {"y", number(p.y[i])},
                      {"confidence", interval(p.y[i] - p.confidence[i], p.y[i] + p.confidence[i])},
                      {"prediction", interval(p.y[i] - p.prediction[i], p.y[i] + p.prediction[i])}};
            if (several(o)) j["member"] = reportOf(o).members[m].name;
            out.push_back(std::move(j));
        }
    }
    return out;
}

Json optional(const std::optional<double>& value) {
    return value ? number(*value) : Json();
}

Json membersJson(const FitOutput& o) {
    Json out = Json::array();
    for (const fit::MemberReport& m : reportOf(o).members)
        out.push_back({{"member", m.name}, {"n", m.n}, {"rss", number(m.rss)}, {"r2", number(m.r2)}});
    return out;
}

Json differencesJson(const fit::FitReport& r) {
    Json out = Json::array();
    for (const fit::Difference& d : fit::differencesOf(r))
        out.push_back({{"name", d.parameter},
                       {"of", {d.first, d.second}},
                       {"value", number(d.value)},
                       {"se", number(d.se)},
                       {"ci", interval(d.low, d.high)},
                       {"p", number(d.p)},
                       {"p_holm", number(d.corrected)}});
    return out;
}

Json testsJson(const FitOutput& o, const std::vector<fit::Influence>& weighed) {
    const fit::ResidualTests t = fit::residualTests(o.detail.taken->problem, reportOf(o), weighed);
    Json out = {
        {"runs", {{"p", number(t.runs.p)}, {"few", t.runs.few}}},
        {"scatter", t.scatter ? Json{{"p", number(t.scatter->p)}, {"grows", t.scatter->grows}} : Json()},
        {"normal", {{"p", number(t.normalP)}}},
        {"lack_of_fit", Json()}};
    if (t.lackOfFit) {
        const bool f = t.lackOfFit->dof[1] > 0;
        out["lack_of_fit"] = {
            {f ? "f" : "chi2", number(t.lackOfFit->statistic)},
            {"dof", f ? Json({t.lackOfFit->dof[0], t.lackOfFit->dof[1]}) : Json({t.lackOfFit->dof[0]})},
            {"p", number(t.lackOfFit->p)},
            {"pure_sd", number(t.lackOfFit->pureSd)}};
    }
    return out;
}

// A row for each observation, in the order in which the fit takes them.
Json influenceJson(const FitOutput& o, const std::vector<fit::Influence>& weighed) {
    Json out = Json::array();
    for (std::size_t m = 0; m < weighed.size(); ++m)
        for (std::size_t i = 0; i < weighed[m].leverage.size(); ++i) {
            Json j = {{"x", placeJson(o, m, o.detail.taken->problem.members[m].predictors[0][i])},
                      {"residual", number(reportOf(o).members[m].residuals[i])},
                      {"leverage", number(weighed[m].leverage[i])},
                      {"standardised", number(weighed[m].standardised[i])},
                      {"distance", number(weighed[m].distance[i])}};
            if (several(o)) j["member"] = reportOf(o).members[m].name;
            out.push_back(std::move(j));
        }
    return out;
}

// "parameter" null: the whole curve.
Json equalitiesJson(const FitOutput& o) {
    Json out = Json::array();
    const bool chi2 = reportOf(o).absolute;
    for (const fit::Equality& e : fit::equalitiesOf(o.detail.taken->problem))
        out.push_back({{"parameter", e.parameter.empty() ? Json() : Json(e.parameter)},
                       {chi2 ? "chi2" : "f", number(e.test.f)},
                       {"dof", chi2 ? Json({e.test.dof[0]}) : Json({e.test.dof[0], e.test.dof[1]})},
                       {"p", number(e.test.p)},
                       {"aicc_difference", number(e.test.aiccDifference)}});
    return out;
}

Json countsJson(const FitOutput& o) {
    Json out = Json::array();
    for (const fit::MemberReport& m : reportOf(o).members)
        for (std::size_t i = 0; i < m.counts.size(); ++i) out.push_back(number(m.counts[i]));
    return out;
}

Json stagesJson(const fit::FitReport& r) {
    Json out = Json::array();
    for (const fit::Stage& s : r.stages)
        out.push_back({{"released", s.released},
                       {"rss", number(s.rss)},
                       {"iterations", s.iterations},
                       {"state", fit::stateKey(s.state)}});
    return out;
}

// Values by name; of several members by "k of y1".
Json endsJson(const FitOutput& o) {
    Json out = Json::array();
    for (const fit::End& e : reportOf(o).ends) {
        Json values;
        for (std::size_t at = 0; const fit::MemberReport& m : reportOf(o).members)
            for (const fit::ParameterResult& p : m.parameters) {
                values[several(o) && !p.shared ? p.name + " of " + m.name : p.name] = number(e.values[at]);
                ++at;
            }
        out.push_back({{"rss", number(e.rss)},
                       {"starts", e.count},
                       {"state", fit::stateKey(e.state)},
                       {"values", values}});
    }
    return out;
}

Json doubtsJson(const FitOutput& o) {
    Json out = Json::array();
    for (const evaluate::Doubt& d : o.doubts) {
        Json choices = Json::array();
        for (const evaluate::DoubtSeries& s : d.series) {
            Json points = Json::array();
            for (const evaluate::DoubtPoint& p : s.points)
                points.push_back({{"variation", p.label},
                                  {"place", number(p.place)},
                                  {"value", number(p.value)},
                                  {"ci", interval(p.low, p.high)},
                                  {"chosen", p.chosen}});
            choices.push_back(
                {{"choice", s.choice}, {"unit", s.unit}, {"reach", number(s.reach())}, {"points", points}});
        }
        out.push_back({{"name", d.quantity},
                       {"value", number(d.value)},
                       {"se", number(d.se)},
                       {"ci", interval(d.low, d.high)},
                       {"sentence", d.sentence},
                       {"choices", choices}});
    }
    return out;
}

Json regionsJson(const FitOutput& o) {
    const auto pairs = [](const std::vector<std::pair<double, double>>& list) {
        Json out = Json::array();
        for (const auto& [x, y] : list) out.push_back({number(x), number(y)});
        return out;
    };
    Json out = Json::array();
    for (const fit::Region& r : o.regions)
        out.push_back({{"parameters", {r.first, r.second}},
                       {"correlation", number(r.correlation)},
                       {"level", r.level},
                       {"ellipse", pairs(r.ellipse)},
                       {"edge", pairs(r.edge)},
                       {"closed", !r.open},
                       {"sentence", fit::sentenceOf(r)}});
    return out;
}

} // namespace

nlohmann::ordered_json fitJson(const FitOutput& o) {
    const fit::FitReport& r = reportOf(o);
    Json parameters = Json::array(), derived = Json::array();
    std::set<std::string> shared; // once each
    for (const fit::MemberReport& m : r.members) {
        for (const fit::ParameterResult& p : m.parameters)
            if (!p.shared || shared.insert(p.name).second) parameters.push_back(parameterJson(o, p, m.name));
        for (const fit::DerivedResult& d : m.derived)
            if (!d.shared || shared.insert(d.name).second) derived.push_back(derivedJson(o, d, m.name));
    }
    Json out = {{"model", o.name},
                {"formula", o.detail.taken->model().formula()},
                {"n", r.n},
                {"dof", r.dof},
                {"state", fit::stateKey(r.state)},
                {"iterations", r.iterations},
                {"restarts", r.restarts},
                {"parameters", parameters},
                {"derived", derived},
                {"rss", number(r.rss)},
                {"residual_sd", number(r.residualSd)},
                {"chi2", optional(r.chi2)},
                {"reduced_chi2", optional(r.reducedChi2)},
                {"r2", number(r.r2)},
                {"adjusted_r2", number(r.adjustedR2)},
                {"aicc", number(r.aicc)},
                {"bic", number(r.bic)}};
    if (const auto& time = o.detail.taken->time)
        out["time"] = {{"unit", time->symbol}, {"origin", isoDateTime(time->origin)}};
    if (Json c = correlationJson(o); !c.is_null()) out["correlation"] = std::move(c);
    if (several(o)) out["members"] = membersJson(o);
    if (r.comparison)
        out["comparison"] = {{r.absolute ? "chi2" : "f", number(r.comparison->f)},
                             {"dof", r.absolute ? Json({r.comparison->dof[0]})
                                                : Json({r.comparison->dof[0], r.comparison->dof[1]})},
                             {"p", number(r.comparison->p)},
                             {"aicc_difference", number(r.comparison->aiccDifference)}};
    if (several(o)) out["differences"] = differencesJson(r);
    if (several(o) && r.members.size() <= kMostTested) out["equalities"] = equalitiesJson(o);
    if (r.scale > 0) {
        out["scale"] = number(r.scale);
        out["loss_weights"] = countsJson(o);
    }
    if (!r.stages.empty()) out["stages"] = stagesJson(r);
    if (!r.ends.empty()) out["ends"] = endsJson(o);
    const bool looked = o.influence || r.n <= analyses::kMostLookedAt;
    const auto weighed =
        looked ? fit::influencesOf(o.detail.taken->problem, r) : std::vector<fit::Influence>();
    out["residual_tests"] = looked ? testsJson(o, weighed) : Json();
    out["not_shown"] = o.result.notShown;
    if (o.influence) out["influence"] = influenceJson(o, weighed);
    if (!o.doubts.empty()) out["doubt"] = doubtsJson(o);
    if (!o.regions.empty()) out["regions"] = regionsJson(o);
    out["predicted"] = predictedJson(o);
    out["warnings"] = o.warnings;
    return out;
}

namespace {

std::string intervalText(double low, double high) {
    auto end = [](double v) {
        return std::isinf(v) ? std::string(v < 0 ? "−∞" : "∞") : readableNumber(v, 5);
    };
    return std::isnan(low) || std::isnan(high) ? "" : fmt::format("[{}, {}]", end(low), end(high));
}

void printLine(const std::string& name, double value, double se, double low, double high,
               const std::string& word) {
    const ValueText t = readableWithError(value, se);
    std::cout << fmt::format("  {:<16} {:>16} {:<14} {} {}\n", name, t.value,
                             t.error.empty() ? "" : "± " + t.error, intervalText(low, high), word);
}

std::string wordOf(const fit::ParameterResult& p) {
    return p.treatment != fit::Treatment::Free ? std::string(fit::treatmentKey(p.treatment))
           : p.atLimit                         ? "on a limit"
           : !p.determined                     ? "undetermined"
           : p.shared                          ? "shared"
                                               : "";
}

void printPredictions(const FitOutput& o) {
    const std::span<const double> xs(o.predictAt);
    for (std::size_t m = 0; m < reportOf(o).members.size() && !xs.empty(); ++m) {
        const fit::Prediction p = fit::predict(o.detail.taken->problem, reportOf(o), {&xs, 1}, m);
        for (std::size_t i = 0; i < xs.size(); ++i)
            std::cout << fmt::format("  {}at x = {}: {} ± {} (confidence), ± {} (prediction)\n",
                                     several(o) ? reportOf(o).members[m].name + " " : "",
                                     askedPlace(o.detail.taken->members[m].curve->xMeaning, xs[i]),
                                     readableNumber(p.y[i], 8), readableNumber(p.confidence[i], 3),
                                     readableNumber(p.prediction[i], 3));
    }
}

void printDoubt(const evaluate::Doubt& d) {
    std::cout << "\n  " << d.sentence << "\n";
    for (const evaluate::DoubtSeries& s : d.series)
        for (const evaluate::DoubtPoint& p : s.points)
            std::cout << fmt::format("  {:<22} {:<26} {:>14} {}{}\n", s.choice, p.label,
                                     readableNumber(p.value, 6), intervalText(p.low, p.high),
                                     p.chosen ? "  as chosen" : "");
}

} // namespace

void printFit(const FitOutput& o) {
    const fit::FitReport& r = reportOf(o);
    std::cout << o.detail.taken->model().formula();
    if (o.detail.taken->time) std::cout << ", x in " << words(*o.detail.taken->time);
    std::cout << "\n"
              << counted(static_cast<long long>(r.n), "point") << ", " << fit::stateText(r.state) << " after "
              << counted(r.iterations, "iteration") << "\n";
    std::set<std::string> shared;
    for (const fit::MemberReport& m : r.members) {
        std::cout << "\n";
        if (several(o)) std::cout << "  " << m.name << "\n";
        for (const fit::ParameterResult& p : m.parameters)
            if (!p.shared || shared.insert(p.name).second)
                printLine(p.name, p.value, p.se, p.low, p.high, wordOf(p));
        for (const fit::DerivedResult& d : m.derived)
            if (!d.shared || shared.insert(d.name).second)
                printLine(d.name, d.value, d.se, d.low, d.high, "derived");
    }
    std::cout << fmt::format("\n  R² {}   residual SD {}   AICc {}   BIC {}\n", readableNumber(r.r2, 6),
                             readableNumber(r.residualSd, 6), readableNumber(r.aicc, 5),
                             readableNumber(r.bic, 5));
    if (r.reducedChi2) std::cout << fmt::format("  χ² {:.6g}   χ²/dof {:.6g}\n", *r.chi2, *r.reducedChi2);
    if (const std::string sharing = fit::sharingText(r); !sharing.empty())
        std::cout << "  " << sharing << "\n";
    if (!o.result.notShown.empty()) std::cout << "  " << o.result.notShown << "\n";
    if (r.ends.size() > 1) {
        std::cout << "\n  Ends from several starts:\n";
        for (const fit::End& e : r.ends)
            std::cout << fmt::format("  {:<14} residual sum {:<14} {}\n", counted(e.count, "start"),
                                     readableNumber(e.rss, 6), fit::stateText(e.state));
    }
    for (const evaluate::Doubt& d : o.doubts) printDoubt(d);
    for (const fit::Region& region : o.regions) std::cout << "  " << fit::sentenceOf(region) << "\n";
    printPredictions(o);
}

} // namespace jointer::cli
