// SPDX-License-Identifier: GPL-3.0-or-later
// Puts points in order of x, and makes one of several with the same x.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& sortInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "sort",
        .name = "Order points",
        .purpose = "By x, with points of the same x kept, averaged or thinned",
        .group = "Points",
        .settings = {choice("equal", "Of equal x",
                            {{"average", "average"},
                             {"first", "keep the first"},
                             {"last", "keep the last"},
                             {"keep", "keep all"}},
                            "What becomes of several points with the same x."),
                     number("within", "Equal within", 0, "How far apart x may be to count as the same.",
                            {.unit = "x", .lowest = 0})}};
    return kind;
}

Outcome<StepOutput> sorted(const StepInput& in) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    const bool wasSorted = std::ranges::is_sorted(c.x);
    sortByX(c);
    const std::string equal = sortInfo().text(in.settings, "equal");
    const double within = sortInfo().number(in.settings, "within");
    std::vector<std::uint8_t> keep(c.size(), 1);
    std::size_t groups = 0, points = 0;
    for (std::size_t begin = 0, end; begin < c.size() && equal != "keep"; begin = end) {
        std::vector<std::size_t> members; // of those that count
        for (end = begin; end < c.size() && c.x[end] - c.x[begin] <= within; ++end)
            if (c.counts(end)) members.push_back(end);
        if (end == begin) ++end; // an x that is no number
        if (members.size() < 2) continue;
        ++groups;
        points += members.size();
        const std::size_t kept = equal == "last" ? members.back() : members.front();
        for (std::size_t i : members) keep[i] = i == kept;
        if (equal != "average") continue;
        const auto n = static_cast<double>(members.size());
        auto mean = [&](List& list) {
            double sum = 0, present = 0;
            for (std::size_t i : members)
                if (std::isfinite(list[i])) sum += list[i], ++present;
            list[kept] = present > 0 ? sum / present : std::nan("");
        };
        auto errorOfMean = [&](List& sigma) {
            if (sigma.empty()) return;
            double variance = 0;
            for (std::size_t i : members) variance += sigma[i] * sigma[i];
            sigma[kept] = std::sqrt(variance) / n;
        };
        mean(c.x);
        mean(c.y);
        for (List& r : c.replicates) mean(r);
        for (List& m : c.more) mean(m);
        for (CommonError& common : c.common) mean(common.y);
        errorOfMean(c.sigma);
        errorOfMean(c.sigmaX);
    }
    if (groups > 0) c = selected(c, keep);
    sortByX(c); // a mean may lie beyond a neighbour that does not count
    out.value.sentence = wasSorted ? "Points are in order of x." : "Put the points in order of x.";
    if (groups > 0)
        out.value.detail = fmt::format("{} at {} of x {}", countedPoints(points),
                                       counted(static_cast<long long>(groups), "value"),
                                       equal == "average" ? "averaged" : "thinned to one each");
    else
        out.value.detail = "no points share an x";
    return out;
}

} // namespace

StepKind sortStep() {
    return {.info = sortInfo(), .apply = sorted};
}

} // namespace jointer::steps
