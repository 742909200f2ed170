// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/quantile_plot.h"

#include "fit/influence.h"
#include "stats/group_tests.h"
#include "stats/normality.h"
#include "stats/summary.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

constexpr std::size_t kMostShown = 4000;

// Every so many of an ordered list, and its last.
std::vector<double> thinned(const std::vector<double>& all) {
    const std::size_t stride = all.size() / kMostShown + 1;
    if (stride == 1) return all;
    std::vector<double> out;
    for (std::size_t i = 0; i < all.size(); i += stride) out.push_back(all[i]);
    if ((all.size() - 1) % stride != 0) out.push_back(all.back());
    return out;
}

} // namespace

void addQuantilePlot(std::vector<double> values, const std::string& label, const AxisMeaning& meaning,
                     DatasetId member, AnalysisResult& out) {
    const stats::Summary s = stats::summarise(values);
    if (values.size() < 3 || !(s.sd > 0)) return;
    std::ranges::sort(values);
    NamedCurve points{.role = "quantiles",
                      .label = label,
                      .member = member,
                      .xMeaning = {"normal quantile", ""},
                      .yMeaning = meaning};
    NamedCurve line = points;
    if (values.size() <= stats::kMostForNormality)
        points.says =
            fmt::format("normal: {} (Shapiro–Wilk)", stats::probabilityText(stats::shapiroWilk(values).p));
    auto shown = std::make_shared<Curve>();
    shown->x = thinned(fit::normalScores(values));
    shown->y = thinned(values);
    shown->xMeaning = points.xMeaning, shown->yMeaning = points.yMeaning;
    line.role = "quantile-line";
    line.founded.pieces = {{shown->x.front(), shown->x.back()}};
    line.sample = [mean = s.mean, sd = s.sd](const std::vector<double>& x) {
        Sampled at;
        for (const double z : x) at.y.push_back(mean + sd * z);
        return at;
    };
    points.points = std::move(shown);
    out.curves.push_back(std::move(points));
    out.curves.push_back(std::move(line));
}

} // namespace jointer::analyses
