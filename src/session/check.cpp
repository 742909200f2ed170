// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/check.h"

#include "evaluate/evaluator.h"
#include "session/validation.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer {

namespace {

bool close(double a, double b, double tolerance) {
    return a == b || (std::isnan(a) && std::isnan(b)) || std::abs(a - b) <= tolerance;
}

void compare(const analyses::AnalysisResult& stored, const analyses::AnalysisResult& fresh,
             const std::string& name, std::vector<Issue>& issues) {
    auto differs = [&](const std::string& what, double was, double is) {
        issues.push_back({"result-differs",
                          fmt::format("{}: {} is stored as {:.12g}, but computed again it is {:.12g}.", name,
                                      what, was, is),
                          {}});
    };
    auto each = [&](const std::vector<analyses::Quantity>& list) {
        for (const analyses::Quantity& is : list) {
            const analyses::Quantity* was = stored.find(is.key);
            if (!was) continue;
            const double tolerance =
                std::isfinite(is.se) && is.se > 0 ? 1e-3 * is.se : 1e-9 * std::abs(is.value);
            if (!close(was->value, is.value, tolerance)) differs(is.label, was->value, is.value);
            if (!close(was->se, is.se, 1e-3 * std::abs(is.se)))
                differs("the error of " + is.label, was->se, is.se);
        }
    };
    each(fresh.quantities);
    each(fresh.quality);
}

} // namespace

Result<Checked> checkProject(const std::string& path) {
    const auto opened = openValidated(path);
    if (!opened) return std::unexpected(opened.error());
    Checked out{.issues = opened->issues};
    evaluate::Evaluator remembering, fresh;
    remembering.adopt(opened->beside.results);
    for (const auto& a : opened->project.analyses) {
        ++out.fits;
        const auto now = fresh.analysis(opened->project, *a);
        const std::string name = analyses::nameOf(*a);
        if (!now.exists()) {
            out.issues.push_back({now.result.error().code, name + ": " + now.result.error().text, {}});
            continue;
        }
        if (!opened->beside.results.contains(now.key.hex())) continue;
        ++out.compared;
        const auto stored = remembering.analysis(opened->project, *a);
        compare(*stored, *now, name, out.issues);
    }
    return out;
}

} // namespace jointer
