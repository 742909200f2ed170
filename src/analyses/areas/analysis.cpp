// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/areas/areas.h"
#include "analyses/areas/separation.h"
#include "analyses/points_within.h"
#include "base/text.h"
#include "fit/peak_finding.h"
#include "models/catalogue.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

constexpr double kNoiseReach = 10; // widths on each side of a peak, where its noise is looked for
} // namespace

const LimitedPeak* AreasDetail::find(int number) const {
    const auto at = std::ranges::find(peaks, number, &LimitedPeak::number);
    return at == peaks.end() ? nullptr : &*at;
}

const AreasDetail* areasDetail(const AnalysisResult& result) {
    return dynamic_cast<const AreasDetail*>(result.kept.get());
}

namespace {

class Areas {
public:
    explicit Areas(const Task& task)
        : task_(task), settings_(task.spec.settings), curve_(pointsWithin(task.inputs.front())) {}

    Result<AnalysisResult> run() {
        takePoints();
        if (d_->points.x.size() < 5)
            return failure("no-points",
                           "There are too few points: all are missing, left out or outside the span.");
        const auto events = areaEvents(areasSettings().text(settings_, "events"));
        if (!events) return std::unexpected(events.error());
        events_ = *events;
        auto factors = areaFactors(areasSettings().text(settings_, "factors"));
        if (!factors) return std::unexpected(factors.error());
        factors_ = std::move(*factors);
        settings_.rows("limits").empty() ? find() : takeRows();
        if (d_->peaks.empty())
            return failure("no-peaks",
                           "No peak stands out of the noise: place limits with the tool Peak, or look for "
                           "lower ones.");
        std::vector<PeakLimits> limits;
        for (const LimitedPeak& p : d_->peaks) limits.push_back(p.limits);
        const auto measured = measure(d_->points, limits);
        for (std::size_t k = 0; k < measured.size(); ++k) d_->peaks[k].measured = measured[k];
        return tell();
    }

private:
    void takePoints() {
        d_->draft = settings_.rows("limits").empty();
        const Curve& c = *curve_;
        std::vector<std::size_t> order;
        for (std::size_t i = 0; i < c.size(); ++i)
            if (c.counts(i)) order.push_back(i);
        std::ranges::stable_sort(order, {}, [&](std::size_t i) { return c.x[i]; });
        PeakPoints& p = d_->points;
        for (const std::size_t i : order) {
            if (!p.x.empty() && p.x.back() == c.x[i]) continue; // of one place the first
            p.x.push_back(c.x[i]);
            p.y.push_back(c.y[i]);
            if (!c.sigma.empty()) p.sigma.push_back(c.sigma[i]);
        }
        noise_ = p.y.size() > 4 ? fit::noiseOf(p.y) : 0;
        if (p.sigma.empty()) p.sigma.assign(p.x.size(), noise_);
        p.ends = static_cast<std::size_t>(areasSettings().integer(settings_, "ends"));
    }

    Ground groundAt(double x, Ground usual) const {
        Ground ground = usual;
        for (const AreaEvent& e : events_)
            if (x >= e.from && x <= e.to && e.what != "leave-out") ground = groundFromKey(e.what);
        return ground;
    }
    bool isLeftOut(double x) const {
        return std::ranges::any_of(
            events_, [&](const AreaEvent& e) { return e.what == "leave-out" && x >= e.from && x <= e.to; });
    }

    void find() {
        const bool down = areasSettings().text(settings_, "direction") == "down";
        PeakPoints turned = d_->points;
        if (down)
            for (double& v : turned.y) v = -v;
        const int count = areasSettings().integer(settings_, "count");
        auto found = fit::findPeaks(turned.x, turned.y,
                                    {.most = count > 0 ? static_cast<std::size_t>(count) : 0,
                                     .prominence = areasSettings().number(settings_, "prominence")},
                                    task_.stop);
        std::erase_if(found, [&](const fit::FoundPeak& p) { return isLeftOut(p.place) || !(p.height > 0); });
        std::vector<std::pair<double, double>> peaks;
        for (const fit::FoundPeak& p : found) peaks.emplace_back(p.place, p.width);
        const Ground usual = groundFromKey(areasSettings().text(settings_, "ground"));
        auto limits = limitsAround(turned, peaks, usual);
        for (std::size_t k = 0; k < limits.size(); ++k) {
            limits[k].ground = groundAt(peaks[k].first, usual);
            const int number = static_cast<int>(k) + 1;
            d_->peaks.push_back({number, std::to_string(number), limits[k], {}});
        }
    }

    void takeRows() {
        const std::string usual = areasSettings().text(settings_, "ground");
        for (const Settings& row : settings_.rows("limits")) {
            PeakLimits l{row.number("low"), row.number("high"), groundFromKey(row.text("ground", usual))};
            if (!(l.low < l.high)) continue;
            l.ground = groundAt(0.5 * (l.low + l.high), l.ground);
            const int number = row.integer("number");
            const std::string name = row.text("name");
            d_->peaks.push_back({number, name.empty() ? std::to_string(number) : name, l, {}});
        }
        std::ranges::stable_sort(d_->peaks, {}, [](const LimitedPeak& p) { return p.limits.low; });
    }

    std::string unit(const char* pattern) const {
        return models::unitText(pattern, curve_->xMeaning.unit, curve_->yMeaning.unit);
    }
    void add(const LimitedPeak& p, const char* name, const char* meaning, std::string unitName, Measured m) {
        if (!std::isfinite(m.value)) return;
        const double t = 1.959963984540054; // the noise of a point is known from very many
        out_.quantities.push_back({.key = models::nameInWhole(name, p.number),
                                   .label = name,
                                   .meaning = meaning,
                                   .unit = std::move(unitName),
                                   .value = m.value,
                                   .se = m.se,
                                   .low = m.value - t * m.se,
                                   .high = m.value + t * m.se,
                                   .state = "measured",
                                   .member = task_.inputs.front().spec.dataset,
                                   .component = p.number,
                                   .subject = p.name});
    }
    double factorOf(const LimitedPeak& p) const {
        for (const std::string& name : {p.name, std::to_string(p.number)})
            if (const auto at = factors_.find(name); at != factors_.end()) return at->second;
        return 1;
    }

    AnalysisResult tell() {
        out_.state = "done";
        double sum = 0, squares = 0;
        for (const LimitedPeak& p : d_->peaks) {
            if (!std::isfinite(p.measured.area.value)) continue;
            sum += factorOf(p) * std::abs(p.measured.area.value);
            squares += std::pow(factorOf(p) * p.measured.area.se, 2);
        }
        for (std::size_t k = 0; k < d_->peaks.size(); ++k) tellPeak(k, sum, squares);
        addCurves();
        out_.kept = d_;
        out_.sentence =
            fmt::format("{} the areas of {}, standing on {}.", d_->draft ? "Found and measured" : "Measured",
                        counted(std::ssize(d_->peaks), "peak"), groundsText());
        out_.detail =
            fmt::format("errors from {}", curve_->sigma.empty()
                                              ? "a noise of " + readableNumber(noise_, 3) + " of a point"
                                              : "the uncertainties of the points");
        out_.quality.push_back({.key = "n",
                                .label = "n",
                                .value = static_cast<double>(d_->points.x.size()),
                                .state = "quality"});
        return std::move(out_);
    }
    std::string groundsText() const {
        std::vector<std::string> used;
        for (const LimitedPeak& p : d_->peaks) {
            const auto at = std::ranges::find(areaGrounds(), groundKey(p.limits.ground), &Choice::key);
            const std::string words = at->key == "drop" ? "a line under all" : at->label;
            if (std::ranges::find(used, words) == used.end()) used.push_back(words);
        }
        return joined(used, ", ");
    }

    void tellPeak(std::size_t k, double sum, double squares) {
        const LimitedPeak& p = d_->peaks[k];
        const MeasuredPeak& m = p.measured;
        if (!std::isfinite(m.area.value)) {
            out_.issues.push_back(
                {"no-points", fmt::format("There are no points between the limits of peak {}.", p.name), {}});
            out_.good = false;
            return;
        }
        add(p, "area", "area above its ground", unit("xy"), m.area);
        add(p, "height", "height above its ground", unit("y"), m.height);
        add(p, "place", "where it is highest", unit("x"), m.place);
        add(p, "fwhm", "width at half of its height", unit("x"), m.width);
        add(p, "centroid", "centre of gravity", unit("x"), m.centroid);
        add(p, "asymmetry_10", "right over left half of the width at a tenth of the height", "",
            {m.asymmetry, NAN});
        const double own = factorOf(p) * std::abs(m.area.value), f = factorOf(p) * m.area.se;
        const double rest = sum - own, others = squares - f * f;
        if (d_->peaks.size() > 1)
            add(p, "area_share", "of the sum of all", "%",
                {100 * own / sum,
                 100 / (sum * sum) * std::sqrt(rest * rest * f * f + own * own * std::max(others, 0.0))});
        if (m.area.se > 0 && std::abs(m.area.value) < 3 * m.area.se)
            out_.issues.push_back(
                {"in-noise",
                 fmt::format("The area of peak {} is within three times its error.", p.name),
                 {}});
        if (areasSettings().text(settings_, "numbers") == "separation") tellSeparation(k);
    }

    void tellSeparation(std::size_t k) {
        const LimitedPeak& p = d_->peaks[k];
        const MeasuredPeak& m = p.measured;
        if (const double dead = areasSettings().number(settings_, "dead-time"); dead > 0)
            add(p, "retention_factor", "(t − t0)/t0", "", retentionFactor(m.place, dead));
        add(p, "plates", "5.54 (t/w)² from the width at half height", "", plateNumber(m.place, m.width));
        add(p, "tailing", "width at 5 % of the height over twice its part before the top", "",
            {tailing(m.widthAtTwentieth, m.front), NAN});
        if (k + 1 < d_->peaks.size()) {
            const MeasuredPeak& next = d_->peaks[k + 1].measured;
            add(p, "resolution", "1.18 (t2 − t1)/(w1 + w2), to the next", "",
                resolution(m.place, m.width, next.place, next.width));
        }
        const double range = noiseRange(m);
        if (range > 0)
            add(p, "signal_to_noise", "2H/h, h the range of the noise", "", signalToNoise(m.height, range));
    }

    // Greatest less least of what stands between peaks, a line taken off.
    double noiseRange(const MeasuredPeak& m) const {
        Numbers told = settings_.numbers("noise-over");
        if (told.size() != 2)
            told = {m.place.value - kNoiseReach * m.width.value, m.place.value + kNoiseReach * m.width.value};
        std::vector<double> x, y;
        for (std::size_t i = 0; i < d_->points.x.size(); ++i) {
            const double at = d_->points.x[i];
            const bool inPeak = std::ranges::any_of(d_->peaks, [&](const LimitedPeak& p) {
                return at >= p.measured.low && at <= p.measured.high;
            });
            if (at < told[0] || at > told[1] || inPeak) continue;
            x.push_back(at);
            y.push_back(d_->points.y[i]);
        }
        if (x.size() < 8) return NAN;
        const double n = static_cast<double>(x.size());
        double mx = 0, my = 0, sxx = 0, sxy = 0;
        for (std::size_t i = 0; i < x.size(); ++i) mx += x[i] / n, my += y[i] / n;
        for (std::size_t i = 0; i < x.size(); ++i) {
            sxx += (x[i] - mx) * (x[i] - mx);
            sxy += (x[i] - mx) * (y[i] - my);
        }
        double low = INFINITY, high = -INFINITY;
        for (std::size_t i = 0; i < x.size(); ++i) {
            const double rest = y[i] - my - sxy / sxx * (x[i] - mx);
            low = std::min(low, rest);
            high = std::max(high, rest);
        }
        return high - low;
    }

    // The curve above the ground of a peak, and the grounds; nothing elsewhere.
    void addCurves() {
        const DatasetId member = task_.inputs.front().spec.dataset;
        const auto detail = std::static_pointer_cast<const AreasDetail>(d_);
        const NamedCurve common{.member = member,
                                .founded = Span(detail->points.x.front(), detail->points.x.back()),
                                .xMeaning = curve_->xMeaning,
                                .yMeaning = curve_->yMeaning};
        const auto groundAt = [detail](double x) {
            for (const LimitedPeak& p : detail->peaks)
                if (x >= p.measured.low && x <= p.measured.high) return p.measured.groundAt(x);
            return std::nan("");
        };
        NamedCurve ground = common;
        ground.role = "baseline";
        ground.label = "ground";
        ground.sample = [groundAt](const std::vector<double>& xs) {
            Sampled s;
            for (const double x : xs) s.y.push_back(groundAt(x));
            return s;
        };
        out_.curves.push_back(std::move(ground));
        for (const LimitedPeak& p : detail->peaks) {
            NamedCurve part = common;
            part.role = "component";
            part.label = p.name;
            part.component = p.number;
            part.sample = [detail, number = p.number](const std::vector<double>& xs) {
                const LimitedPeak& own = *detail->find(number);
                const auto& [px, py, sigma, ends] = detail->points;
                Sampled s;
                for (const double x : xs) {
                    const auto at = static_cast<std::size_t>(std::ranges::lower_bound(px, x) - px.begin());
                    if (x < own.measured.low || x > own.measured.high || at == px.size()) {
                        s.y.push_back(std::nan(""));
                        continue;
                    }
                    const double y =
                        at == 0 ? py[0]
                                : std::lerp(py[at - 1], py[at], (x - px[at - 1]) / (px[at] - px[at - 1]));
                    s.y.push_back(y - own.measured.groundAt(x));
                }
                return s;
            };
            out_.curves.push_back(std::move(part));
        }
    }

    const Task& task_;
    const Settings& settings_;
    std::shared_ptr<const Curve> curve_;
    std::shared_ptr<AreasDetail> d_ = std::make_shared<AreasDetail>();
    std::vector<AreaEvent> events_;
    std::map<std::string, double> factors_;
    double noise_ = 0;
    AnalysisResult out_;
};

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    if (task.inputs.empty()) return failure("no-input", "These areas have no dataset.");
    return Areas(task).run();
}

} // namespace

AnalysisKind areasAnalysis() {
    return {.info = areasSettings(),
            .slots = {{.key = "dataset", .label = "Dataset", .of = "dataset"}},
            .compute = compute};
}

} // namespace jointer::analyses
