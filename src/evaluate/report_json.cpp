// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/report_json.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace jointer::evaluate {

using Json = nlohmann::ordered_json;

namespace {

Json number(double v) {
    return std::isfinite(v) ? Json(v) : std::isnan(v) ? Json() : Json(v > 0 ? "inf" : "-inf");
}
double number(const Json& j) {
    if (j.is_number()) return j.get<double>();
    return j.is_string() ? (j.get<std::string>() == "inf" ? INFINITY : -INFINITY) : std::nan("");
}

Json matrix(const Eigen::MatrixXd& m) {
    Json rows = Json::array();
    for (Eigen::Index i = 0; i < m.rows(); ++i) {
        Json row = Json::array();
        for (Eigen::Index k = 0; k < m.cols(); ++k) row.push_back(number(m(i, k)));
        rows.push_back(std::move(row));
    }
    return rows;
}

Eigen::MatrixXd matrix(const Json& rows) {
    if (rows.empty()) return {};
    Eigen::MatrixXd m(static_cast<Eigen::Index>(rows.size()), static_cast<Eigen::Index>(rows[0].size()));
    for (Eigen::Index i = 0; i < m.rows(); ++i)
        for (Eigen::Index k = 0; k < m.cols(); ++k)
            m(i, k) = number(rows.at(static_cast<std::size_t>(i)).at(static_cast<std::size_t>(k)));
    return m;
}

// The plain numbers of a report, once for both directions.
template <class F> void eachNumber(auto& r, F&& f) {
    f("rss", r.rss), f("residual_sd", r.residualSd), f("r2", r.r2), f("adjusted_r2", r.adjustedR2),
        f("aicc", r.aicc), f("bic", r.bic);
    f("runs_p", r.runsP), f("level", r.level), f("typical_variance", r.typicalVariance);
}

} // namespace

std::string reportText(const fit::FitReport& r) {
    Json j = {{"state", fit::stateKey(r.state)},
              {"iterations", r.iterations},
              {"restarts", r.restarts},
              {"n", r.n},
              {"dof", r.dof},
              {"absolute", r.absolute},
              {"r2_about_zero", r.r2AboutZero}};
    eachNumber(r, [&](const char* key, double v) { j[key] = number(v); });
    j["chi2"] = r.chi2 ? number(*r.chi2) : Json();
    j["reduced_chi2"] = r.reducedChi2 ? number(*r.reducedChi2) : Json();
    for (const auto& p : r.parameters)
        j["parameters"].push_back({{"name", p.name},
                                   {"value", number(p.value)},
                                   {"se", number(p.se)},
                                   {"low", number(p.low)},
                                   {"high", number(p.high)},
                                   {"treatment", fit::treatmentKey(p.treatment)},
                                   {"at_limit", p.atLimit},
                                   {"determined", p.determined}});
    j["derived"] = Json::array();
    for (const auto& d : r.derived)
        j["derived"].push_back(
            {{"name", d.name}, {"unit", d.unit}, {"value", number(d.value)}, {"se", number(d.se)}});
    j["starts"] = r.starts;
    j["correlation"] = matrix(r.correlation);
    j["root"] = matrix(r.root);
    j["unseen"] = matrix(r.unseen);
    j["warnings"] = Json::array();
    for (const Issue& w : r.warnings) j["warnings"].push_back({{"code", w.code}, {"text", w.text}});
    return j.dump();
}

Result<fit::FitReport> reportFromText(const std::string& text, const fit::FitProblem& problem) {
    try {
        const Json j = Json::parse(text);
        fit::FitReport r;
        r.state = fit::stateFromKey(j.at("state").get<std::string>());
        r.iterations = j.at("iterations");
        r.restarts = j.at("restarts");
        r.n = j.at("n");
        r.dof = j.at("dof");
        r.absolute = j.at("absolute");
        r.r2AboutZero = j.at("r2_about_zero");
        eachNumber(r, [&](const char* key, double& v) { v = number(j.at(key)); });
        if (!j.at("chi2").is_null()) r.chi2 = number(j["chi2"]);
        if (!j.at("reduced_chi2").is_null()) r.reducedChi2 = number(j["reduced_chi2"]);
        for (const Json& p : j.at("parameters"))
            r.parameters.push_back({p.at("name"), number(p.at("value")), number(p.at("se")),
                                    number(p.at("low")), number(p.at("high")),
                                    fit::treatmentFromKey(p.at("treatment").get<std::string>()),
                                    p.at("at_limit"), p.at("determined")});
        for (const Json& d : j.at("derived"))
            r.derived.push_back({d.at("name"), d.at("unit"), number(d.at("value")), number(d.at("se"))});
        r.starts = j.at("starts").get<std::vector<double>>();
        r.correlation = matrix(j.at("correlation"));
        r.root = matrix(j.at("root"));
        r.unseen = matrix(j.at("unseen"));
        for (const Json& w : j.at("warnings")) r.warnings.push_back({w.at("code"), w.at("text"), {}});
        if (r.parameters.size() != problem.model->parameters().size() || r.n != problem.y.size())
            return failure("stored-result", "The stored result is not of this fit.");
        std::vector<std::span<const double>> xs(problem.predictors.begin(), problem.predictors.end());
        r.fitted.resize(r.n);
        problem.model->evaluate(xs, r.values(), r.fitted);
        for (std::size_t i = 0; i < r.n; ++i) r.residuals.push_back(problem.y[i] - r.fitted[i]);
        return r;
    } catch (const Json::exception&) {
        return failure("stored-result", "The stored result is damaged; it is computed again.");
    }
}

} // namespace jointer::evaluate
