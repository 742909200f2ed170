// SPDX-License-Identifier: GPL-3.0-or-later
// Takes off spikes of one or two points: along the curve, or by comparing repeated acquisitions. Each found
// spike is a handle: refused it stays, accepted it goes whatever the threshold is.
#include "describe/setting_makers.h"
#include "stats/summary.h"
#include "steps/spikes.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "despike",
        .name = "Take off spikes",
        .purpose = "Narrow spikes of a detector, on top of structure and peaks",
        .group = "Points",
        .settings = {
            choice(
                "compare", "Compare", {{"neighbours", "with neighbours"}, {"repeats", "repeats"}},
                "A point with the points around it, or repeated acquisitions (several y of one dataset) with "
                "each other."),
            number("threshold", "Threshold", 6,
                   "How many standard deviations of the local scatter make a spike. Larger finds fewer.",
                   {.lowest = 2, .highest = 1e6, .slider = {{3, 50}}, .logSlider = true}),
            wholeNumber("narrowest", "Real lines", 4,
                        "Width at half height of the narrowest real line, in points. Lines of this width or "
                        "more are never touched; spikes are up to half as wide.",
                        {.unit = "points",
                         .lowest = 3,
                         .highest = 20,
                         .shownIf = "compare=neighbours",
                         .slider = {{3, 12}}}),
            choice("direction", "Direction", {{"both", "both"}, {"up", "up"}, {"down", "down"}},
                   "Which way a spike points."),
            choice(
                "then", "Then", {{"interpolate", "interpolate"}, {"leave-out", "leave out"}},
                "Put what the neighbours say in its place (marked as made, not used by fits), or leave the "
                "points out."),
            list("refused", "Refused", "Row ids of spikes that are to stay.",
                 {.hidden = true, .ofRows = true}),
            list("accepted", "Accepted", "Row ids of spikes that go whatever the threshold is.",
                 {.hidden = true, .ofRows = true})}};
    return kind;
}

// One replicate, or y.
struct Found {
    std::size_t column; // of the replicates; 0 for y alone
    std::vector<std::size_t> places;
    List filled;
    std::size_t top;
    double strength;
};

std::set<std::uint32_t> rowsOf(const Settings& s, const char* key) {
    std::set<std::uint32_t> rows;
    for (double row : s.numbers(key)) rows.insert(static_cast<std::uint32_t>(row));
    return rows;
}

class Despiking {
public:
    explicit Despiking(const StepInput& in)
        : in_(in), refused_(rowsOf(in.settings, "refused")), accepted_(rowsOf(in.settings, "accepted")) {
        order_.threshold = info().number(in.settings, "threshold");
        order_.narrowest = info().integer(in.settings, "narrowest");
        const std::string direction = info().text(in.settings, "direction");
        order_.up = direction != "down";
        order_.down = direction != "up";
    }

    Outcome<StepOutput> run() {
        Outcome<StepOutput> out{{.curve = in_.curve}, {}};
        const bool repeats = info().text(in_.settings, "compare") == "repeats";
        if (repeats && in_.curve.replicates.size() < 2)
            return leftAlone(
                in_.curve, "Spikes: nothing was done.", "there are no repeats",
                {"no-repeats",
                 "To compare repeats the dataset needs several columns as y; take “with neighbours”.",
                 {}});
        const std::vector<Found> found = repeats ? amongRepeats() : alongCurves();
        std::size_t taken = 0, kept = 0;
        Layer away{"taken", {}, {}};
        for (const Found& f : found) {
            const HandleState state = stateOf(f);
            addHandle(f, state, out.value);
            if (state == HandleState::Refused) {
                ++kept;
                continue;
            }
            ++taken;
            takeOff(f, out.value.curve, away);
        }
        if (!in_.curve.replicates.empty()) meanOfReplicates(out.value.curve);
        say(taken, kept, away.x.size(), out.value);
        out.value.layers.push_back(std::move(away));
        return out;
    }

private:
    const List& column(std::size_t k) const {
        return in_.curve.replicates.empty() ? in_.curve.y : in_.curve.replicates[k];
    }
    std::size_t columns() const { return std::max<std::size_t>(1, in_.curve.replicates.size()); }
    std::uint32_t rowOf(std::size_t place) const {
        return place < in_.curve.rowIds.size() ? in_.curve.rowIds[place]
                                               : static_cast<std::uint32_t>(place + 1);
    }

    std::vector<Found> alongCurves() const {
        std::vector<Found> all;
        for (std::size_t k = 0; k < columns(); ++k) {
            const auto places = countingPlaces(in_.curve, column(k));
            const List y = taken(column(k), places);
            std::vector<Spike> spikes = findSpikes(y, order_);
            addAccepted(y, places, spikes);
            for (const Spike& s : spikes) {
                Found f{k, {}, s.filled, places[s.top], s.strength};
                for (std::size_t i = 0; i < s.count; ++i) f.places.push_back(places[s.first + i]);
                all.push_back(std::move(f));
            }
        }
        return all;
    }

    // Those that were accepted stay found under a higher threshold.
    void addAccepted(const List& y, const std::vector<std::size_t>& places,
                     std::vector<Spike>& spikes) const {
        if (accepted_.empty()) return;
        SpikeOrder low = order_;
        low.threshold = info().find("threshold")->lowest;
        for (Spike& s : findSpikes(y, low)) {
            bool wanted = false, there = false;
            for (std::size_t i = s.first; i < s.first + s.count; ++i)
                wanted |= accepted_.contains(rowOf(places[i]));
            for (const Spike& held : spikes)
                there |= s.first < held.first + held.count && held.first < s.first + s.count;
            if (wanted && !there) spikes.push_back(std::move(s));
        }
        std::ranges::sort(spikes, {}, &Spike::first);
    }

    // A reading far from the median of the others at the same x, by the scatter of all such distances.
    std::vector<Found> amongRepeats() const {
        const std::size_t n = in_.curve.size();
        std::vector<List> off(columns(), List(n, std::nan("")));
        std::vector<List> middle = off;
        List all;
        for (std::size_t i = 0; i < n; ++i) {
            if (in_.curve.isExcluded(i)) continue;
            for (std::size_t k = 0; k < columns(); ++k) {
                List others;
                for (std::size_t m = 0; m < columns(); ++m)
                    if (m != k && std::isfinite(column(m)[i])) others.push_back(column(m)[i]);
                if (others.empty() || !std::isfinite(column(k)[i])) continue;
                std::ranges::sort(others);
                middle[k][i] = stats::quantile(others, 0.5);
                off[k][i] = column(k)[i] - middle[k][i];
                all.push_back(off[k][i]);
            }
        }
        const double scatter = stats::robustSd(all);
        std::vector<Found> found;
        for (std::size_t i = 0; i < n; ++i)
            for (std::size_t k = 0; k < columns(); ++k) {
                const double strength = std::abs(off[k][i]) / scatter;
                const bool way = off[k][i] > 0 ? order_.up : order_.down;
                if (!(strength > order_.threshold) || !way) continue;
                // Of two readings the one that also sticks out of its curve.
                if (columns() == 2 && !sticksOut(k, i)) continue;
                found.push_back({k, {i}, {middle[k][i]}, i, strength});
            }
        return found;
    }
    bool sticksOut(std::size_t k, std::size_t i) const {
        auto bend = [&](std::size_t m) {
            const List& y = column(m);
            if (i == 0 || i + 1 >= y.size()) return 0.0;
            return std::abs(y[i] - 0.5 * (y[i - 1] + y[i + 1]));
        };
        return bend(k) >= bend(1 - k);
    }

    HandleState stateOf(const Found& f) const {
        auto any = [&](const std::set<std::uint32_t>& rows) {
            return std::ranges::any_of(f.places, [&](std::size_t p) { return rows.contains(rowOf(p)); });
        };
        return any(refused_)    ? HandleState::Refused
               : any(accepted_) ? HandleState::Accepted
                                : HandleState::Proposed;
    }

    void addHandle(const Found& f, HandleState state, StepOutput& out) const {
        out.handles.push_back({.form = HandleForm::Found,
                               .state = state,
                               .x = in_.curve.x[f.top],
                               .y = column(f.column)[f.top],
                               .row = rowOf(f.top),
                               .says = fmt::format("spike at {}, {} standard deviations",
                                                   placeText(in_.curve.xMeaning, in_.curve.x[f.top]),
                                                   readableNumber(f.strength, 2))});
    }

    void takeOff(const Found& f, Curve& c, Layer& away) const {
        const bool leaveOut = info().text(in_.settings, "then") == "leave-out";
        List& values = c.replicates.empty() ? c.y : c.replicates[f.column];
        for (std::size_t i = 0; i < f.places.size(); ++i) {
            const std::size_t at = f.places[i];
            away.x.push_back(c.x[at]);
            away.y.push_back(values[at] - f.filled[i]);
            if (!c.replicates.empty() && (leaveOut || c.replicates.size() > 1)) {
                values[at] = leaveOut ? std::nan("") : f.filled[i];
                continue;
            }
            if (leaveOut) {
                c.excluded.resize(c.size(), 0);
                c.excluded[at] = 1;
            } else {
                values[at] = f.filled[i];
                c.made.resize(c.size(), 0);
                c.made[at] = static_cast<std::uint8_t>(PointOrigin::Interpolated);
            }
        }
    }

    void say(std::size_t taken, std::size_t kept, std::size_t points, StepOutput& out) const {
        const bool leaveOut = info().text(in_.settings, "then") == "leave-out";
        out.sentence = taken == 0
                           ? "No spikes taken off."
                           : fmt::format("Took off {}.", counted(static_cast<long long>(taken), "spike"));
        out.detail = fmt::format("{} {} · above {} times the scatter", countedPoints(points),
                                 leaveOut ? "left out" : "interpolated", readableNumber(order_.threshold, 3));
        if (kept > 0) out.detail += fmt::format(" · {} refused", kept);
    }

    const StepInput& in_;
    SpikeOrder order_;
    std::set<std::uint32_t> refused_, accepted_;
};

Outcome<StepOutput> apply(const StepInput& in) {
    return Despiking(in).run();
}

} // namespace

StepKind despikeStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
