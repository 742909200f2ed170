// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/unknowns/repeated_readings.h"

#include "base/parallel.h"
#include "fit/bootstrap.h"
#include "numerics/random.h"

#include <cmath>

namespace jointer::analyses {

namespace {

constexpr int kRepetitions = 1000, kFewestReached = 100;
constexpr std::uint64_t kSeed = 20310502;

// Where this curve has the reading; where it never comes there, on that side of which it lies.
double placeOn(const fit::Inversion& curve, double y, double x, bool rising) {
    if (const auto at = curve.nearest(y, x)) return *at;
    return (y > curve.at(x)) == rising ? INFINITY : -INFINITY;
}

} // namespace

Result<void> takeRepeatedIntervals(const StandardCurve& curve, const fit::Inversion& inversion,
                                   std::vector<Sample>& samples, const std::vector<double>& variances,
                                   const Cancellation& stop) {
    if (!curve.report())
        return failure("no-model", "Intervals by bootstrap need a fit of a model; a free curve has those by "
                                   "the slope and by the band.");
    if (!(curve.t() > 0)) return {}; // nothing tells how the standards scatter
    const fit::BootstrapOptions options{.count = kRepetitions, .seed = kSeed};
    const auto fits = fit::repeatedFits(curve.taken().problem, *curve.report(), options, stop);
    if (stop.stop_requested()) return {};
    if (std::ssize(fits) < kFewestReached)
        return failure("bootstrap", "The standards drawn anew could hardly ever be fitted: take the interval "
                                    "by the slope or by the band.");
    const models::Model& model = curve.taken().model();
    const auto count = std::ssize(model.parameters());
    std::vector<double> slopes; // of the curve at each sample
    for (const Sample& s : samples)
        slopes.push_back(s.state == fit::ReadState::InRange ? inversion.slope(s.x) : NAN);
    std::vector<std::vector<double>> places(samples.size(), std::vector<double>(fits.size()));
    parallelRanges(fits.size(), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t b = begin; b < end && !stop.stop_requested(); ++b) {
            const std::vector<double> parameters(fits[b].begin(), fits[b].begin() + count);
            const fit::Inversion again = inversionOf(model, parameters, inversion.low(), inversion.high());
            numerics::Random random(kSeed * 1000003 + b);
            for (std::size_t k = 0; k < samples.size(); ++k) {
                const Sample& s = samples[k];
                if (s.state != fit::ReadState::InRange) continue;
                const double error =
                    random.normal() * std::sqrt(variances[k] / static_cast<double>(s.readings.size()));
                places[k][b] = placeOn(again, s.meanReading + error, s.x, slopes[k] > 0);
            }
        }
    });
    if (stop.stop_requested()) return {};
    for (std::size_t k = 0; k < samples.size(); ++k) {
        if (samples[k].state != fit::ReadState::InRange) continue;
        const auto [from, to] = fit::percentiles(std::move(places[k]), curve.t());
        samples[k].low = samples[k].dilution * from, samples[k].high = samples[k].dilution * to;
    }
    return {};
}

} // namespace jointer::analyses
