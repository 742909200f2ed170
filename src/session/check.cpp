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

void compare(const fit::FitReport& stored, const fit::FitReport& fresh, const std::string& name,
             std::vector<Issue>& issues) {
    auto differs = [&](const std::string& what, double was, double is) {
        issues.push_back({"result-differs",
                          fmt::format("{}: {} is stored as {:.12g}, but computed again it is {:.12g}.", name,
                                      what, was, is),
                          {}});
    };
    for (std::size_t k = 0; k < fresh.parameters.size() && k < stored.parameters.size(); ++k) {
        const auto &a = stored.parameters[k], &b = fresh.parameters[k];
        const double tolerance = std::isfinite(b.se) && b.se > 0 ? 1e-3 * b.se : 1e-9 * std::abs(b.value);
        if (!close(a.value, b.value, tolerance)) differs(b.name, a.value, b.value);
        if (!close(a.se, b.se, 1e-3 * std::abs(b.se))) differs("the error of " + b.name, a.se, b.se);
    }
    if (!close(stored.rss, fresh.rss, 1e-9 * std::abs(fresh.rss)))
        differs("the residual sum", stored.rss, fresh.rss);
    if (!close(stored.r2, fresh.r2, 1e-9)) differs("R²", stored.r2, fresh.r2);
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
        const auto now = fresh.fit(opened->project, *a);
        const std::string name = a->name.empty() ? a->id.text() : a->name;
        if (!now.good()) {
            out.issues.push_back({now.report.error().code, name + ": " + now.report.error().text, {}});
            continue;
        }
        if (!opened->beside.results.contains(now.key.hex())) continue;
        ++out.compared;
        const auto stored = remembering.fit(opened->project, *a);
        compare(*stored.report, *now.report, name, out.issues);
    }
    return out;
}

} // namespace jointer
