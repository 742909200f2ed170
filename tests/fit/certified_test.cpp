// SPDX-License-Identifier: GPL-3.0-or-later
// The certified regression problems of a national metrology institute (public data,
// tests/data_files/certified).
#include "fit/fit.h"
#include "models/catalogue.h"
#include "stats/summary.h"

#include <cmath>
#include <fmt/format.h>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

using namespace jointer;
using nlohmann::json;

namespace {

json problems(const std::string& file) {
    std::ifstream in(std::string(JOINTER_SOURCE_DIR) + "/tests/data_files/certified/" + file);
    return json::parse(in)["problems"];
}

// Correct decimal digits; 16 when equal.
double digits(double got, double certified) {
    if (got == certified) return 16;
    return -std::log10(std::abs(got - certified) / std::max(std::abs(certified), 1e-300));
}

std::vector<double> numbers(const json& list) {
    std::vector<double> out;
    for (const json& v : list)
        out.push_back(v.is_string() ? std::stod(v.get<std::string>()) : v.get<double>());
    return out;
}

} // namespace

TEST(Certified, NonlinearProblemsFromBothStarts) {
    for (const json& p : problems("certified_nonlinear.json")) {
        fit::FitProblem problem{.members = {{}}};
        std::vector<std::string> predictors = p["predictors"];
        for (const auto& x : predictors) problem.members[0].predictors.push_back(numbers(p["data"][x]));
        problem.members[0].y = numbers(p["data"][p["response"].get<std::string>()]);
        const auto model = models::equationModel(p["expression"].get<std::string>(), predictors);
        ASSERT_TRUE(model) << model.error().text;
        problem.members[0].model = *model;
        for (const char* which : {"start1", "start2"}) {
            problem.parameters.clear();
            for (std::size_t k = 0; k < p["parameters"].size(); ++k)
                problem.parameters.push_back(
                    {.name = p["parameters"][k], .start = p[which][k].get<double>()});
            const auto report = fit::fit(problem);
            ASSERT_TRUE(report) << report.error().text;
            double worst = 16, worstError = 16;
            for (std::size_t k = 0; k < p["parameters"].size(); ++k) {
                const auto found =
                    std::ranges::find(report->one().parameters, p["parameters"][k].get<std::string>(),
                                      &fit::ParameterResult::name);
                worst = std::min(worst, digits(found->value, p["certified"]["values"][k]));
                worstError =
                    std::min(worstError, digits(found->se, p["certified"]["standard_deviations"][k]));
            }
            const std::string name =
                fmt::format("{} {}: {:.1f} and {:.1f} digits, rss {:.1f}, {} iterations, {} restarts, {}",
                            p["name"].get<std::string>(), which, worst, worstError,
                            digits(report->rss, p["certified"]["residual_sum_of_squares"]),
                            report->iterations, report->restarts, fit::stateKey(report->state));
            EXPECT_GE(worst, 8) << name;
            EXPECT_GE(worstError, 6) << name;
            RecordProperty(p["name"].get<std::string>() + "_" + which, name);
        }
    }
}

TEST(Certified, LinearProblems) {
    for (const json& p : problems("certified_linear.json")) {
        fit::FitProblem problem{.members = {{}}};
        std::vector<std::string> predictors;
        for (const auto& [key, values] : p["data"].items())
            if (key != "y") predictors.push_back(key);
        for (const auto& x : predictors) problem.members[0].predictors.push_back(numbers(p["data"][x]));
        problem.members[0].y = numbers(p["data"]["y"]);
        const bool constant = p["intercept"];
        std::string equation;
        std::size_t number = constant ? 0 : 1;
        for (const json& parameter : p["parameters"]) {
            const std::string b = parameter;
            const std::string term = number == 0             ? ""
                                     : predictors.size() > 1 ? "*" + predictors[number - 1]
                                                             : fmt::format("*x^{}", number);
            equation += (equation.empty() ? "" : " + ") + b + term;
            ++number;
        }
        std::vector<models::ModelPtr> all = {*models::equationModel(equation, predictors)};
        Settings settings;
        if (!constant) settings.set("through-origin", Value(true));
        const std::size_t degree = p["parameters"].size() - (constant ? 1 : 0);
        if (predictors.size() == 1 && degree <= 9)
            all.push_back(
                *models::makeModel(degree == 1 ? "line" : fmt::format("polynomial-{}", degree), settings));
        for (const models::ModelPtr& model : all) {
            problem.members[0].model = model;
            const auto report = fit::fit(problem);
            ASSERT_TRUE(report) << report.error().text;
            const auto estimates = numbers(p["exact_arithmetic"]["estimates"]),
                       errors = numbers(p["exact_arithmetic"]["standard_deviations"]);
            double worst = 16, worstError = 16;
            for (std::size_t k = 0; k < estimates.size(); ++k) {
                worst = std::min(worst, digits(report->one().parameters[k].value, estimates[k]));
                if (errors[k] > 1e-9)
                    worstError = std::min(worstError, digits(report->one().parameters[k].se, errors[k]));
            }
            const double needed = p["name"] == "Filip" && model == all[0] ? 7 : 9;
            EXPECT_GE(worst, needed) << p["name"] << " " << model->formula();
            EXPECT_GE(worstError, needed) << p["name"] << " " << model->formula();
            EXPECT_GE(digits(report->r2, std::stod(p["exact_arithmetic"]["r_squared"].get<std::string>())), 9)
                << p["name"];
        }
    }
}

TEST(Certified, Summaries) {
    for (const json& p : problems("certified_univariate.json")) {
        const auto s = stats::summarise(numbers(p["data"]));
        const json& exact = p.contains("exact_arithmetic") ? p["exact_arithmetic"] : p["certified"];
        auto value = [&](const char* key) {
            return exact[key].is_string() ? std::stod(exact[key].get<std::string>())
                                          : exact[key].get<double>();
        };
        EXPECT_GE(digits(s.mean, value("mean")), 14) << p["name"];
        EXPECT_GE(digits(s.sd, value("standard_deviation_n_minus_1")), 9) << p["name"];
    }
}
