// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/free_curve_output.h"

#include "base/text.h"
#include "cli/commands.h"

#include <cmath>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

using Json = nlohmann::ordered_json;

namespace {

const analyses::FreeCurveDetail& detailOf(const FreeCurveOutput& o) {
    return dynamic_cast<const analyses::FreeCurveDetail&>(*o.result.kept);
}

std::string nameOf(const FreeCurveOutput& o, std::size_t member) {
    return detailOf(o).taken->members[member].name;
}

// Of moments slopes are told by the unit that fits take; else by x as it is.
double unitOf(const FreeCurveOutput& o) {
    return detailOf(o).taken->time ? detailOf(o).taken->time->unit : 1;
}

Json predictedJson(const FreeCurveOutput& o) {
    Json out = Json::array();
    const auto& members = detailOf(o).members;
    for (std::size_t k = 0; k < members.size(); ++k)
        for (double x : o.predictAt) {
            const auto at = members[k].curve.at(x);
            const double se = members[k].scale * at.norm, confidence = members[k].t * se,
                         prediction = members[k].t * std::hypot(members[k].scale, se);
            const bool isTime = detailOf(o).taken->members[k].curve->xMeaning.isTime;
            Json j = {{"x", isTime ? Json(isoDateTime(x)) : Json(x)},
                      {"y", number(at.y)},
                      {"se", number(members[k].scale > 0 ? se : NAN)},
                      {"slope", number(at.slope * unitOf(o))},
                      {"confidence", {number(at.y - confidence), number(at.y + confidence)}},
                      {"prediction", {number(at.y - prediction), number(at.y + prediction)}}};
            if (members.size() > 1) j["member"] = nameOf(o, k);
            out.push_back(std::move(j));
        }
    return out;
}

} // namespace

nlohmann::ordered_json freeCurveJson(const FreeCurveOutput& o) {
    const auto& members = detailOf(o).members;
    Json out = {{"model", o.name},
                {"formula", members[0].curve.told},
                {"state", "converged"},
                {"parameters", Json::array()}};
    Json each = Json::array();
    for (std::size_t k = 0; k < members.size(); ++k) {
        const auto& m = members[k];
        Json j = {{"n", m.fitted.size()},
                  {"dof", number(m.curve.left)},
                  {"t_dof", number(m.curve.degrees)},
                  {"equivalent_dof", number(m.curve.dof)},
                  {"rss", number(m.rss)},
                  {"residual_sd", number(m.curve.left > 0 ? std::sqrt(m.rss / m.curve.left) : NAN)},
                  {"r2", number(m.r2)}};
        for (const analyses::Quantity& q : m.curve.own) j[q.key] = number(q.value);
        if (members.size() == 1) {
            out.update(j);
        } else {
            j["member"] = nameOf(o, k);
            each.push_back(std::move(j));
        }
    }
    if (members.size() > 1) out["members"] = std::move(each);
    if (const auto& time = detailOf(o).taken->time) out["time"] = {{"unit", time->symbol}};
    out["predicted"] = predictedJson(o);
    out["warnings"] = o.warnings;
    return out;
}

void printFreeCurve(const FreeCurveOutput& o) {
    std::cout << o.result.sentence << "\n" << o.result.detail << "\n";
    const auto& members = detailOf(o).members;
    for (std::size_t k = 0; k < members.size(); ++k) {
        std::cout << "\n";
        if (members.size() > 1) std::cout << "  " << nameOf(o, k) << "\n";
        for (const analyses::Quantity& q : o.result.quantities)
            if (q.member == detailOf(o).taken->members[k].dataset)
                std::cout << fmt::format("  {:<20} {:>14} {}\n", q.label, readableNumber(q.value, 6), q.unit);
        for (double x : o.predictAt) {
            const auto at = members[k].curve.at(x);
            std::cout << fmt::format("  at x = {}: {}",
                                     askedPlace(detailOf(o).taken->members[k].curve->xMeaning, x),
                                     readableNumber(at.y, 8));
            if (members[k].scale > 0)
                std::cout << fmt::format(
                    " ± {} (confidence), ± {} (prediction)",
                    readableNumber(members[k].t * members[k].scale * at.norm, 3),
                    readableNumber(members[k].t * members[k].scale * std::hypot(1, at.norm), 3));
            std::cout << "\n";
        }
    }
}

} // namespace jointer::cli
