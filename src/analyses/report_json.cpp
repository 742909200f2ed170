// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/fit_analysis.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace jointer::analyses {

using Json = nlohmann::ordered_json;

namespace {

Json number(double v) {
    return std::isfinite(v) ? Json(v) : std::isnan(v) ? Json() : Json(v > 0 ? "inf" : "-inf");
}
double number(const Json& j) {
    if (j.is_number()) return j.get<double>();
    return j.is_string() ? (j.get<std::string>() == "inf" ? INFINITY : -INFINITY) : std::nan("");
}

Json numbers(const std::vector<double>& list) {
    Json out = Json::array();
    for (double v : list) out.push_back(number(v));
    return out;
}
std::vector<double> numbers(const Json& list) {
    std::vector<double> out;
    for (const Json& v : list) out.push_back(number(v));
    return out;
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
    f("runs_p", r.runsP), f("level", r.level), f("scale", r.scale);
}

Json toJson(const fit::ParameterResult& p) {
    return {{"name", p.name},       {"value", number(p.value)}, {"se", number(p.se)},
            {"low", number(p.low)}, {"high", number(p.high)},   {"treatment", fit::treatmentKey(p.treatment)},
            {"shared", p.shared},   {"at_limit", p.atLimit},    {"determined", p.determined}};
}
fit::ParameterResult parameterFrom(const Json& p) {
    return {p.at("name"),         number(p.at("value")),
            number(p.at("se")),   number(p.at("low")),
            number(p.at("high")), fit::treatmentFromKey(p.at("treatment").get<std::string>()),
            p.at("shared"),       p.at("at_limit"),
            p.at("determined")};
}

Json toJson(const fit::DerivedResult& d) {
    return {{"name", d.name},
            {"unit", d.unit},
            {"value", number(d.value)},
            {"se", number(d.se)},
            {"low", number(d.low)},
            {"high", number(d.high)},
            {"gradient", numbers(d.gradient)},
            {"shared", d.shared}};
}
fit::DerivedResult derivedFrom(const Json& d) {
    return {d.at("name"),        d.at("unit"),         number(d.at("value")),     number(d.at("se")),
            number(d.at("low")), number(d.at("high")), numbers(d.at("gradient")), d.at("shared")};
}

Json toJson(const fit::MemberReport& m) {
    Json j = {{"name", m.name}, {"n", m.n}, {"rss", number(m.rss)}, {"r2", number(m.r2)}};
    for (const auto& p : m.parameters) j["parameters"].push_back(toJson(p));
    j["derived"] = Json::array();
    for (const auto& d : m.derived) j["derived"].push_back(toJson(d));
    j["starts"] = numbers(m.starts);
    j["root"] = matrix(m.root);
    j["own"] = m.own;
    j["unseen"] = matrix(m.unseen);
    if (!m.apart.empty()) j["apart"] = numbers(m.apart);
    if (!m.counts.empty()) j["counts"] = numbers(m.counts);
    return j;
}
fit::MemberReport memberFrom(const Json& j) {
    fit::MemberReport m{
        .name = j.at("name"), .n = j.at("n"), .rss = number(j.at("rss")), .r2 = number(j.at("r2"))};
    for (const Json& p : j.at("parameters")) m.parameters.push_back(parameterFrom(p));
    for (const Json& d : j.at("derived")) m.derived.push_back(derivedFrom(d));
    m.starts = numbers(j.at("starts"));
    m.root = matrix(j.at("root"));
    m.own = j.at("own");
    m.unseen = matrix(j.at("unseen"));
    if (const auto apart = j.find("apart"); apart != j.end()) m.apart = numbers(*apart);
    if (const auto counts = j.find("counts"); counts != j.end()) m.counts = numbers(*counts);
    return m;
}

Json toJson(const fit::End& e) {
    return {{"state", fit::stateKey(e.state)},
            {"rss", number(e.rss)},
            {"count", e.count},
            {"values", numbers(e.values)}};
}
fit::End endFrom(const Json& e) {
    return {fit::stateFromKey(e.at("state").get<std::string>()), number(e.at("rss")), e.at("count"),
            numbers(e.at("values"))};
}

Json toJson(const fit::Stage& s) {
    return {{"released", s.released},
            {"state", fit::stateKey(s.state)},
            {"rss", number(s.rss)},
            {"iterations", s.iterations}};
}
fit::Stage stageFrom(const Json& s) {
    return {s.at("released"), fit::stateFromKey(s.at("state").get<std::string>()), number(s.at("rss")),
            s.at("iterations")};
}

template <class Part> Json listOf(const std::vector<Part>& parts) {
    Json out = Json::array();
    for (const Part& part : parts) out.push_back(toJson(part));
    return out;
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
    for (const fit::MemberReport& m : r.members) j["members"].push_back(toJson(m));
    if (r.comparison)
        j["comparison"] = {number(r.comparison->f), r.comparison->dof[0], r.comparison->dof[1],
                           number(r.comparison->p), number(r.comparison->aiccDifference)};
    if (!r.stages.empty()) j["stages"] = listOf(r.stages);
    if (!r.ends.empty()) j["ends"] = listOf(r.ends);
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
        for (const Json& m : j.at("members")) r.members.push_back(memberFrom(m));
        if (const auto c = j.find("comparison"); c != j.end())
            r.comparison = {number(c->at(0)), {c->at(1), c->at(2)}, number(c->at(3)), number(c->at(4))};
        for (const Json& stage : j.value("stages", Json::array())) r.stages.push_back(stageFrom(stage));
        for (const Json& end : j.value("ends", Json::array())) r.ends.push_back(endFrom(end));
        for (const Json& w : j.at("warnings")) r.warnings.push_back({w.at("code"), w.at("text"), {}});
        const bool fits = std::ranges::equal(r.members, problem.members, [](const auto& m, const auto& of) {
            return m.parameters.size() == of.model->parameters().size() && m.n == of.y.size();
        });
        if (!fits) return failure("stored-result", "The stored result is not of this fit.");
        fit::fillResiduals(problem, r);
        return r;
    } catch (const Json::exception&) {
        return failure("stored-result", "The stored result is damaged; it is computed again.");
    }
}

} // namespace jointer::analyses
