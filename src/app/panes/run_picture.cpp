// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/run_picture.h"

#include <algorithm>
#include <cmath>

namespace jointer::app {

namespace {

constexpr std::size_t kColumns = 150; // of a small plot

// Least and greatest of each column, so that no peak is lost.
QPolygonF overviewOf(const Curve& c, double left, double right, double low, double high) {
    std::vector<std::pair<double, double>> columns(kColumns, {INFINITY, -INFINITY});
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i)) continue;
        const auto at = static_cast<std::size_t>(std::clamp((c.x[i] - left) / (right - left), 0.0, 1.0) *
                                                 static_cast<double>(kColumns - 1));
        columns[at].first = std::min(columns[at].first, c.y[i]);
        columns[at].second = std::max(columns[at].second, c.y[i]);
    }
    QPolygonF out;
    for (std::size_t k = 0; k < kColumns; ++k) {
        if (columns[k].first > columns[k].second) continue;
        const double x = static_cast<double>(k) / (kColumns - 1);
        out << QPointF(x, (columns[k].first - low) / (high - low));
        if (columns[k].second > columns[k].first) out << QPointF(x, (columns[k].second - low) / (high - low));
    }
    return out;
}

} // namespace

std::shared_ptr<const RunPicture> runPicture(const Project& project, DatasetId id,
                                             evaluate::Evaluator& evaluator) {
    auto out = std::make_shared<RunPicture>();
    std::vector<const analyses::NamedCurve*> fits;
    std::vector<evaluate::AnalysisOutcome> outcomes;
    for (const auto& a : analysesOf(project, id)) outcomes.push_back(evaluator.analysis(project, *a));
    for (const auto& outcome : outcomes)
        if (outcome.exists())
            if (const auto* fit = outcome->curve("fit", id); fit && fit->sample) fits.push_back(fit);
    const auto protocol = evaluator.protocol(project, id);
    const Curve& c = protocol.end().curve();
    double left = INFINITY, right = -INFINITY, low = INFINITY, high = -INFINITY;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i)) continue;
        left = std::min(left, c.x[i]);
        right = std::max(right, c.x[i]);
        low = std::min(low, c.y[i]);
        high = std::max(high, c.y[i]);
    }
    if (!(left < right)) return out;
    if (!(low < high)) high = low + 1;
    out->measured = overviewOf(c, left, right, low, high);
    for (const auto* fit : fits) {
        std::vector<double> xs;
        for (std::size_t k = 0; k <= 2 * kColumns; ++k) {
            const double x = std::lerp(left, right, static_cast<double>(k) / (2 * kColumns));
            if (fit->founded.takes(x)) xs.push_back(x);
        }
        const auto sampled = fit->sample(xs);
        QPolygonF line;
        for (std::size_t k = 0; k < xs.size() && k < sampled.y.size(); ++k)
            if (std::isfinite(sampled.y[k]))
                line << QPointF((xs[k] - left) / (right - left),
                                std::clamp((sampled.y[k] - low) / (high - low), -0.05, 1.05));
        out->lines.push_back(std::move(line));
    }
    return out;
}

} // namespace jointer::app
