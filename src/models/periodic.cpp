// SPDX-License-Identifier: GPL-3.0-or-later
// What comes again: sinusoids, damped ones, with harmonics, and tides by their constituents.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/start_values.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <numeric>

namespace jointer::models {

namespace {

constexpr double kTurn = 2 * std::numbers::pi;

// offset + s·sin(2πfx) + c·cos(2πfx), weighted by w(x): the best for a frequency.
struct Wave {
    double offset = 0, s = 0, c = 0, rss = INFINITY;
};
Wave waveAt(const SortedPoints& p, double frequency, double decayRate) {
    Eigen::Matrix3d a = Eigen::Matrix3d::Zero();
    Eigen::Vector3d b = Eigen::Vector3d::Zero();
    double squares = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const double w = std::exp(-decayRate * (p.x[i] - p.x.front()));
        const Eigen::Vector3d row(1, w * std::sin(kTurn * frequency * p.x[i]),
                                  w * std::cos(kTurn * frequency * p.x[i]));
        a += row * row.transpose();
        b += row * p.y[i];
        squares += p.y[i] * p.y[i];
    }
    a.diagonal().array() += 1e-9 * a.trace();
    const Eigen::Vector3d found = a.ldlt().solve(b);
    return {found[0], found[1], found[2], squares - found.dot(b)};
}

struct Best {
    double frequency = 0;
    Wave wave;
};

// Frequencies from a third of a turn over the range up to one turn for two points, then finer about the best.
std::optional<Best> bestWave(const Curve& curve, double decayRate) {
    SortedPoints p = sortedPoints(curve);
    if (p.size() < 4 || !(p.x.back() > p.x.front())) return std::nullopt;
    const double mean = std::accumulate(p.y.begin(), p.y.end(), 0.0) / static_cast<double>(p.size());
    for (double& y : p.y) y -= mean; // so that what is left over keeps its digits
    const double range = p.x.back() - p.x.front();
    const auto turns = static_cast<int>(std::min<std::size_t>(p.size(), 1500) / 2);
    Best best;
    auto look = [&](double frequency) {
        const Wave w = waveAt(p, frequency, decayRate);
        if (w.rss < best.wave.rss) best = {frequency, w};
    };
    for (double t = 0.33; t <= turns; t += 0.2) look(t / range);
    double width = 0.2 / range;
    for (int round = 0; round < 4; ++round, width *= 0.3) {
        const double about = best.frequency;
        for (int k = -4; k <= 4; ++k)
            if (about + k * width / 4 > 0) look(about + k * width / 4);
    }
    best.wave.offset += mean;
    return best;
}

// The place of an upward passage nearest to x = 0.
double shiftOf(const Best& b) {
    return -std::atan2(b.wave.c, b.wave.s) / (kTurn * b.frequency);
}

ModelPtr makeSinusoid(const Settings&) {
    return libraryModel("offset + amplitude*sin(2*pi*(x - shift)/period)",
                        {{"offset", "mean level", "y"},
                         {"amplitude", "half the way from trough to crest", "y"},
                         {"period", "from crest to crest", "x", 0},
                         {"shift", "x of an upward passage", "x"}},
                        {{"frequency", "1/period", "1/x"}},
                        [](const Curve& c) -> std::optional<std::vector<double>> {
                            const auto b = bestWave(c, 0);
                            if (!b) return std::nullopt;
                            return std::vector<double>{b->wave.offset, std::hypot(b->wave.s, b->wave.c),
                                                       1 / b->frequency, shiftOf(*b)};
                        });
}

ModelPtr makeDamped(const Settings&) {
    return libraryModel(
        "offset + amplitude*exp(-x/decay)*sin(2*pi*(x - shift)/period)",
        {{"offset", "level that is reached in the end", "y"},
         {"amplitude", "at x = 0", "y"},
         {"decay", "time constant of the decay", "x", 0},
         {"period", "from crest to crest", "x", 0},
         {"shift", "x of an upward passage", "x"}},
        {{"frequency", "1/period", "1/x"}, {"quality factor", "pi*decay/period", ""}},
        [](const Curve& c) -> std::optional<std::vector<double>> {
            const SortedPoints p = sortedPoints(c);
            if (p.size() < 5) return std::nullopt;
            const double range = p.x.back() - p.x.front();
            std::optional<Best> best;
            double decay = range;
            for (double share : {0.05, 0.1, 0.2, 0.4, 0.8, 2.0})
                if (const auto b = bestWave(c, 1 / (share * range));
                    b && (!best || b->wave.rss < best->wave.rss))
                    best = b, decay = share * range;
            if (!best) return std::nullopt;
            const double atZero = std::exp(p.x.front() / decay); // the search counts from the first point
            return std::vector<double>{best->wave.offset, atZero * std::hypot(best->wave.s, best->wave.c),
                                       decay, 1 / best->frequency, shiftOf(*best)};
        });
}

ModelPtr makeHarmonics(const Settings& s) {
    const int n = s.integer("harmonics", 3);
    std::string text = "offset";
    std::vector<ParameterInfo> parameters = {{"offset", "mean level", "y"},
                                             {"period", "of the whole", "x", 0}};
    std::vector<DerivedInfo> derived;
    for (int k = 1; k <= n; ++k) {
        const std::string turn = fmt::format("2*pi*{}*x/period", k);
        text += fmt::format(" + s{0}*sin({1}) + c{0}*cos({1})", k, turn);
        parameters.push_back({fmt::format("s{}", k), fmt::format("sine of harmonic {}", k), "y"});
        parameters.push_back({fmt::format("c{}", k), fmt::format("cosine of harmonic {}", k), "y"});
        derived.push_back({fmt::format("amplitude {}", k), fmt::format("sqrt(s{0}^2 + c{0}^2)", k), "y"});
    }
    return libraryModel(std::move(text), std::move(parameters), std::move(derived),
                        [n](const Curve& c) -> std::optional<std::vector<double>> {
                            const auto b = bestWave(c, 0);
                            if (!b) return std::nullopt;
                            std::vector<double> start(2 + 2 * static_cast<std::size_t>(n), 0.0);
                            start[0] = b->wave.offset, start[1] = 1 / b->frequency;
                            start[2] = b->wave.s, start[3] = b->wave.c;
                            return start;
                        });
}

struct Constituent {
    const char* name;
    double degreesPerHour;
};
// Speeds after A. T. Doodson, Proc. R. Soc. A 100 (1921) 305.
constexpr Constituent kConstituents[] = {
    {"M2", 28.9841042}, {"S2", 30.0},       {"N2", 28.4397295}, {"K2", 30.0821373}, {"K1", 15.0410686},
    {"O1", 13.9430356}, {"P1", 14.9589314}, {"Q1", 13.3986609}, {"M4", 57.9682084}, {"MS4", 58.9841042},
    {"M6", 86.9523127}, {"Mf", 1.0980331},  {"Mm", 0.5443747}};

ModelPtr makeTide(const Settings& s) {
    const std::string unit = s.text("x-is", "hours"), which = s.text("constituents", "main");
    const double hours = unit == "days" ? 24 : unit == "seconds" ? 1 / 3600.0 : 1;
    std::vector<const Constituent*> taken;
    for (const Constituent& c : kConstituents) {
        const std::string name = c.name;
        const bool main = name == "M2" || name == "S2" || name == "N2" || name == "K1" || name == "O1";
        if (which == "all" || main || (which == "shallow" && (name == "M4" || name == "MS4" || name == "M6")))
            taken.push_back(&c);
    }
    std::string text = "level";
    std::vector<ParameterInfo> parameters = {{"level", "mean level", "y"}};
    std::vector<DerivedInfo> derived;
    for (const Constituent* c : taken) {
        const std::string turn = fmt::format("{}*x", c->degreesPerHour * hours / 180) + "*pi";
        text += fmt::format(" + {0}_s*sin({1}) + {0}_c*cos({1})", c->name, turn);
        parameters.push_back({fmt::format("{}_s", c->name), fmt::format("sine of {}", c->name), "y"});
        parameters.push_back({fmt::format("{}_c", c->name), fmt::format("cosine of {}", c->name), "y"});
        derived.push_back(
            {fmt::format("{} amplitude", c->name), fmt::format("sqrt({0}_s^2 + {0}_c^2)", c->name), "y"});
        derived.push_back(
            {fmt::format("{} phase", c->name), fmt::format("atan2({0}_s, {0}_c)*180/pi", c->name), "=°"});
    }
    const std::size_t n = parameters.size();
    return libraryModel(std::move(text), std::move(parameters), std::move(derived),
                        [n](const Curve&) { return std::optional(std::vector<double>(n, 0.0)); });
}

} // namespace

std::vector<ModelKind> periodicModels() {
    const char* group = "Waves and tides";
    const Setting harmonics{.key = "harmonics",
                            .label = "Harmonics",
                            .kind = SettingKind::WholeNumber,
                            .fallback = 3.0,
                            .help = "How many multiples of the frequency; more follow sharper forms.",
                            .lowest = 1,
                            .highest = 12};
    const Setting xIs{.key = "x-is",
                      .label = "x is",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("hours"),
                      .help = "The unit of x; dates and times are seconds.",
                      .choices = {{"hours", "in hours"}, {"days", "in days"}, {"seconds", "in seconds"}}};
    const Setting which{
        .key = "constituents",
        .label = "Constituents",
        .kind = SettingKind::Choice,
        .fallback = std::string("main"),
        .help = "M2, S2, N2, K1, O1; with those of shallow water M4, MS4, M6; or thirteen. "
                "Neighbours in frequency need half a month or more to be told apart.",
        .choices = {{"main", "the five main ones"}, {"shallow", "with shallow water"}, {"all", "thirteen"}}};
    return {{{.key = "sinusoid",
              .name = "Sinusoid",
              .purpose = "A single wave of unknown period",
              .group = group},
             makeSinusoid},
            {{.key = "damped-sinusoid",
              .name = "Damped sinusoid",
              .purpose = "A wave that dies away: ringing, relaxation with a beat",
              .group = group},
             makeDamped},
            {{.key = "harmonics",
              .name = "Wave with harmonics",
              .purpose = "Anything that comes again, whatever its form",
              .group = group,
              .settings = {harmonics}},
             makeHarmonics},
            {{.key = "tide",
              .name = "Tide",
              .purpose = "Water levels by named constituents, with their amplitudes and phases",
              .group = group,
              .settings = {which, xIs}},
             makeTide}};
}

} // namespace jointer::models
