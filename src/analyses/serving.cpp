// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/serving.h"

#include "fit/fit.h"
#include "models/catalogue.h"

#include <algorithm>
#include <cmath>

namespace jointer::analyses {

namespace {

constexpr std::size_t kPoints = 150;                                     // that are looked at
constexpr std::string_view kLeftOut[] = {"tide", "exponential-decay-3"}; // need many good points
constexpr std::size_t kMostParameters = 8;

fit::FitMember some(const Curve& c, const Span& span) {
    std::vector<std::size_t> places;
    for (std::size_t i = 0; i < c.size(); ++i)
        if (c.counts(i) && span.takes(c.x[i])) places.push_back(i);
    const std::size_t stride = std::max<std::size_t>(1, places.size() / kPoints);
    fit::FitMember out{.predictors = {{}}};
    for (std::size_t k = 0; k < places.size(); k += stride) {
        out.predictors[0].push_back(c.x[places[k]]);
        out.y.push_back(c.y[places[k]]);
    }
    return out;
}

std::optional<Serving> tried(const models::ModelKind& kind, const fit::FitMember& points,
                             const Cancellation& stop) {
    const models::ModelPtr model = kind.make({});
    const std::size_t count = model->parameters().size();
    if (kind.read || model->predictorCount() > 1 || count > kMostParameters || points.y.size() < count + 2 ||
        std::ranges::find(kLeftOut, kind.info.key) != std::end(kLeftOut))
        return std::nullopt;
    fit::FitProblem problem{.members = {points}};
    problem.members[0].model = model;
    const auto report = fit::fit(problem, {.maxIterations = 60, .restarts = false}, stop);
    if (!report || report->state != fit::FitState::Converged || !std::isfinite(report->aicc))
        return std::nullopt;
    // A curve that follows nothing serves nobody.
    if (!(report->r2 > 0.2)) return std::nullopt;
    return Serving{kind.info.key, report->aicc, report->one().values()};
}

} // namespace

std::vector<Serving> fitsThatServe(const Curve& curve, const Span& span, const Cancellation& stop) {
    const fit::FitMember points = some(curve, span);
    if (points.y.size() < 4) return {};
    const auto& all = models::catalogue();
    std::vector<std::optional<Serving>> found(all.size());
    parallelRanges(all.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end && !stop.stop_requested(); ++k)
            found[k] = tried(all[k], points, stop);
    });
    std::vector<Serving> out;
    for (auto& f : found)
        if (f) out.push_back(std::move(*f));
    std::ranges::stable_sort(out, {}, &Serving::aiccDifference);
    for (std::size_t k = out.size(); k-- > 0;) out[k].aiccDifference -= out[0].aiccDifference;
    return out;
}

} // namespace jointer::analyses
