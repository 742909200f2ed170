// SPDX-License-Identifier: GPL-3.0-or-later
// Samples read on a standard curve. Source of the errors: E. J. Williams, Regression Analysis (1959), ch. 6;
// limits: L. A. Currie, Pure Appl. Chem. 67 (1995) 1699.
#include "analyses/unknowns/drift.h"
#include "analyses/unknowns/repeated_readings.h"
#include "analyses/unknowns/unknowns.h"
#include "base/text.h"
#include "base/unit_text.h"
#include "describe/setting_makers.h"
#include "fit/residual_tests.h"
#include "stats/summary.h"

#include <algorithm>
#include <boost/math/distributions/fisher_f.hpp>
#include <fmt/format.h>

namespace jointer::analyses {

const KindInfo& unknownsSettings() {
    using namespace describe;
    static const KindInfo kind{
        .key = "unknowns",
        .name = "Unknowns",
        .purpose = "Amounts of samples from their readings by a standard curve, with intervals",
        .group = "Analyses",
        .settings = {
            choice("interval", "Interval",
                   {{"slope", "by the slope"}, {"band", "by the band"}, {"bootstrap", "by bootstrap"}},
                   "By the slope of the curve at the reading (to first order); where the band of the curve "
                   "meets the "
                   "reading, which is wider where the curve flattens; or by fitting 1000 times what the "
                   "standards could as "
                   "well have been."),
            flag("drift", "Bracketing standards", false,
                 "Each reading is divided by the drift of the standards before and after it, in the order of "
                 "the "
                 "rows."),
            flag("rank", "Rank curves", false,
                 "Which curves would serve: each level of the standards is left out in turn and read "
                 "back on the curve of the others.")}};
    return kind;
}

const UnknownsDetail* unknownsDetail(const AnalysisResult& result) {
    return dynamic_cast<const UnknownsDetail*>(result.kept.get());
}

namespace {

// The samples of a dataset, and the readings of its blanks.
struct Readings {
    std::vector<Sample> samples;
    std::vector<double> blanks;

    explicit Readings(const Curve& c) {
        for (std::size_t i = 0; i < c.size(); ++i) {
            if (!c.counts(i)) continue;
            if (c.more.size() > 1 && c.more[1][i] == kBlankReading) {
                blanks.push_back(c.y[i]);
                continue;
            }
            if (samples.empty() || samples.back().place != c.x[i]) {
                const auto k = static_cast<std::size_t>(c.x[i] - 1);
                const auto& names = c.xMeaning.categories;
                samples.push_back(
                    {.name = k < names.size() ? names[k] : readableNumber(c.x[i]), .place = c.x[i]});
                if (!c.more.empty()) samples.back().dilution = c.more[0][i];
            }
            samples.back().readings.push_back(c.y[i]);
        }
        for (Sample& s : samples) s.meanReading = stats::summarise(s.readings).mean;
    }
};

// Of samples that were all diluted alike: the attribute of their dataset whose name begins with "dilut".
std::optional<double> dilutionOf(const std::map<std::string, double>& attributes) {
    for (const auto& [name, value] : attributes)
        if (startsWithNoCase(name, "dilut") && value > 0) return value;
    return {};
}

class ReadingBack {
public:
    ReadingBack(const StandardCurve& curve, double low, double high, std::string interval)
        : curve_(curve), inversion_([&curve](double x) { return curve.y(x); }, low, high),
          interval_(std::move(interval)) {}

    // Errors: of intervals by bootstrap.
    Result<void> read(std::vector<Sample>& samples, const Cancellation& stop) const {
        std::vector<double> xs;
        for (Sample& s : samples) {
            place(s);
            if (s.state == fit::ReadState::InRange) xs.push_back(s.x);
        }
        const auto variances = curve_.variances(xs);
        std::vector<double> ofReadings(samples.size(), NAN);
        for (std::size_t i = 0, k = 0; i < samples.size(); ++i)
            if (samples[i].state == fit::ReadState::InRange) {
                ofReadings[i] = variances.reading[k];
                takeErrors(samples[i], variances.curve[k], variances.reading[k]);
                ++k;
            }
        if (interval_ != "bootstrap") return {};
        return takeRepeatedIntervals(curve_, inversion_, samples, ofReadings, stop);
    }

    void readBack(std::vector<StandardBack>& standards) const {
        for (StandardBack& s : standards) s.computed = inversion_.nearest(s.reading, s.given).value_or(NAN);
    }

    // What lies so many SD above the mean of blanks; of none: of the scatter about the curve, at its first
    // standard.
    Limit limit(const std::vector<double>& blanks, double sds, double sdsOfScatter) const {
        const stats::Summary b = stats::summarise(blanks);
        const double first = inversion_.low(), up = inversion_.slope(first) < 0 ? -1 : 1;
        if (b.n >= 2 && b.sd > 0) {
            const double y = b.mean + up * sds * b.sd;
            return {inversion_.nearest(y, first).value_or(NAN),
                    fmt::format("{:g} SD of {}", sds, counted(static_cast<long long>(b.n), "blank"))};
        }
        const double sd = std::sqrt(curve_.variances({first}).reading[0]);
        return {sdsOfScatter * sd / std::abs(inversion_.slope(first)),
                fmt::format("{:g} SD about the curve over its slope", sdsOfScatter)};
    }

private:
    void place(Sample& s) const {
        const fit::Reading r = inversion_.read(s.meanReading);
        s.state = r.state;
        for (double x : r.solutions) s.solutions.push_back(x * s.dilution);
        for (double y : s.readings) s.each.push_back(inversion_.read(y).x.value_or(NAN) * s.dilution);
        if (!r.x) return;
        s.x = *r.x;
        s.value = s.x * s.dilution;
    }

    void takeErrors(Sample& s, double ofCurve, double ofReading) const {
        const auto m = static_cast<double>(s.readings.size());
        const double slope = inversion_.slope(s.x), se = std::sqrt(ofReading / m + ofCurve) / std::abs(slope);
        s.se = std::abs(s.dilution) * se;
        s.low = s.value - curve_.t() * s.se, s.high = s.value + curve_.t() * s.se;
        if (interval_ == "band") {
            const auto [low, high] = curve_.bandAt(inversion_, s.x, s.meanReading, m);
            s.low = s.dilution * low;
            s.high = s.dilution * high;
        }
        s.disagrees = disagree(s, ofReading);
    }

    // Replicates that scatter more than the points about the curve, at 1 %.
    bool disagree(const Sample& s, double ofReading) const {
        if (s.readings.size() < 2 || !(ofReading > 0)) return false;
        const double sd = stats::summarise(s.readings).sd,
                     freedom = static_cast<double>(s.readings.size()) - 1;
        const boost::math::fisher_f f(freedom, std::isfinite(curve_.dof()) ? curve_.dof() : 1e9);
        return boost::math::cdf(boost::math::complement(f, sd * sd / ofReading)) < 0.01;
    }

    const StandardCurve& curve_;
    fit::Inversion inversion_;
    std::string interval_;
};

Column numbersOf(const UnknownsDetail& d, std::string name, const std::string& unit,
                 double (*value)(const Sample&)) {
    std::vector<double> out;
    for (const Sample& s : d.samples) out.push_back(value(s));
    return numberColumn(std::move(name), unit, std::move(out));
}

NamedTable samplesTable(const UnknownsDetail& d) {
    std::vector<std::string> names, states;
    for (const Sample& s : d.samples) {
        names.push_back(s.name);
        states.emplace_back(fit::readStateWords(s.state));
    }
    const std::string &x = d.xMeaning.unit, &y = d.yMeaning.unit;
    NamedTable t{.key = "samples", .label = "Samples", .table = {}};
    t.table.columns = {
        textColumn("sample", names),
        numbersOf(d, "n", "", [](const Sample& s) { return static_cast<double>(s.readings.size()); }),
        numbersOf(d, "mean reading", y, [](const Sample& s) { return s.meanReading; }),
        numbersOf(d, d.xMeaning.name, x, [](const Sample& s) { return s.value; }),
        numbersOf(d, "±", x, [](const Sample& s) { return s.se; }),
        numbersOf(d, "low", x, [](const Sample& s) { return s.low; }),
        numbersOf(d, "high", x, [](const Sample& s) { return s.high; }),
        textColumn("state", states),
        numbersOf(d, "dilution", "", [](const Sample& s) { return s.dilution; })};
    return t;
}

NamedTable standardsTable(const UnknownsDetail& d) {
    std::vector<double> given, computed, recovery;
    for (const StandardBack& s : d.standards) {
        given.push_back(s.given);
        computed.push_back(s.computed);
        recovery.push_back(s.recovery());
    }
    NamedTable t{.key = "standards", .label = "Standards computed back", .table = {}};
    t.table.columns = {numberColumn("given", d.xMeaning.unit, given),
                       numberColumn("computed", d.xMeaning.unit, computed),
                       numberColumn("recovery", "%", recovery)};
    return t;
}

NamedTable servingTable(const UnknownsDetail& d) {
    std::vector<std::string> names, read;
    std::vector<double> typical, worst, at;
    for (const ServingCurve& c : d.serving) {
        names.push_back(c.name);
        read.push_back(fmt::format("{} of {}", c.read, c.of));
        typical.push_back(c.typical);
        worst.push_back(c.worst);
        at.push_back(c.worstAt);
    }
    NamedTable t{.key = "curves", .label = "Curves that would serve", .table = {}};
    t.table.columns = {textColumn("curve", names), textColumn("levels read", read),
                       numberColumn("typically off", "%", typical), numberColumn("farthest", "%", worst),
                       numberColumn("at", d.xMeaning.unit, at)};
    return t;
}

// "standards come back within 1.4 % (Polynomial of degree 2), 9 % (Straight line)"
std::string servingText(const UnknownsDetail& d) {
    std::vector<std::string> all;
    for (const ServingCurve& c : d.serving)
        if (std::isfinite(c.typical) && all.size() < 4)
            all.push_back(fmt::format("{} % ({})", readableNumber(c.typical, 2), c.name));
    return all.empty() ? "" : "; left out, standards come back within " + joined(all, ", ");
}

// What of a sample needs to be said aloud.
std::vector<Issue> issuesOf(const UnknownsDetail& d) {
    std::vector<Issue> out;
    std::vector<std::string> disagree, outside;
    for (const Sample& s : d.samples) {
        if (s.disagrees) disagree.push_back(s.name);
        if (s.state == fit::ReadState::InRange) continue;
        const double nearest = s.state == fit::ReadState::Below ? d.low : d.high;
        std::string words(fit::readStateWords(s.state));
        if (s.state == fit::ReadState::Below || s.state == fit::ReadState::Above)
            words += fmt::format(", the nearest is {}", placeText(d.xMeaning, nearest));
        outside.push_back(s.name + " (" + words + ")");
    }
    const auto listed = [](std::vector<std::string> names) {
        const std::size_t all = names.size();
        if (all > 8) names.resize(8);
        return joined(names, ", ") + (all > 8 ? fmt::format(" and {} more", all - 8) : "");
    };
    if (!outside.empty()) out.push_back({"outside", "Without an amount: " + listed(outside) + ".", {}});
    if (!disagree.empty())
        out.push_back(
            {"replicates",
             "Readings of one sample disagree by more than the standards scatter: " + listed(disagree) + ".",
             {}});
    return out;
}

void addQuantities(const UnknownsDetail& d, DatasetId member, AnalysisResult& out) {
    for (const Sample& s : d.samples)
        out.quantities.push_back({.key = "amount in " + s.name,
                                  .label = d.xMeaning.name,
                                  .unit = d.xMeaning.unit,
                                  .value = s.value,
                                  .se = s.se,
                                  .low = s.low,
                                  .high = s.high,
                                  .state = std::string(fit::readStateWords(s.state)),
                                  .good = s.state == fit::ReadState::InRange && !s.disagrees,
                                  .member = member,
                                  .subject = s.name});
    for (const auto& [key, label, limit] :
         {std::tuple("detection-limit", "limit of detection", &d.detection),
          std::tuple("quantification-limit", "limit of quantification", &d.quantification)})
        if (std::isfinite(limit->value))
            out.quantities.push_back({.key = key,
                                      .label = label,
                                      .meaning = limit->from,
                                      .unit = d.xMeaning.unit,
                                      .value = limit->value,
                                      .state = "summary",
                                      .member = member,
                                      .digits = 3});
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    if (task.inputs.empty() || task.analyses.empty() || !task.analyses[0])
        return failure("no-curve", "Choose a fit of the standards as the curve.");
    const auto curve = StandardCurve::of(*task.analyses[0]);
    if (!curve) return std::unexpected(curve.error());
    auto d = std::make_shared<UnknownsDetail>();
    d->standards = curve->standards();
    d->xMeaning = curve->xMeaning(), d->yMeaning = curve->yMeaning();
    if (d->standards.empty()) return failure("no-points", "There are no standards: all are left out.");
    const auto [low, high] = std::ranges::minmax(d->standards, {}, &StandardBack::given);
    d->low = low.given, d->high = high.given;
    const bool throughOrigin = std::abs(curve->y(0)) < 1e-9 * std::abs(curve->y(d->high)); // by its model
    if (!(d->high > d->low) && throughOrigin && d->high > 0) d->low = 0; // a single standard
    if (!(d->high > d->low))
        return failure("few-points",
                       "A standard curve needs standards at two places at least; a line through the "
                       "origin takes one.");
    const TaskInput& input = task.inputs[0];
    Curve taken = input.samples ? *input.samples : Curve();
    const bool drifts = unknownsSettings().flag(task.spec.settings, "drift") && taken.size() > 0;
    if (drifts) {
        if (curve->points().dataset != input.spec.dataset)
            return failure("drift",
                           "Drift is told by standards among the samples: both have to stand in one table.");
        auto corrected = driftTakenOff(*curve, std::move(taken));
        if (!corrected) return std::unexpected(corrected.error());
        taken = std::move(*corrected);
    }
    Readings readings(taken);
    const bool byColumn =
        std::ranges::any_of(readings.samples, [](const Sample& s) { return s.dilution != 1; });
    const auto diluted = byColumn ? std::nullopt : dilutionOf(input.attributes);
    if (diluted)
        for (Sample& s : readings.samples) s.dilution = *diluted;
    if (unknownsSettings().flag(task.spec.settings, "rank"))
        d->serving = servingCurves(curve->taken(), task.stop);
    const ReadingBack back(*curve, d->low, d->high, unknownsSettings().text(task.spec.settings, "interval"));
    if (const auto read = back.read(readings.samples, task.stop); !read) return std::unexpected(read.error());
    back.readBack(d->standards);
    d->samples = std::move(readings.samples);
    d->detection = back.limit(readings.blanks, 3, 3.3);
    d->quantification = back.limit(readings.blanks, 10, 10);
    AnalysisResult out{.state = "done"};
    addQuantities(*d, task.inputs[0].spec.dataset, out);
    const auto found = std::ranges::count(d->samples, fit::ReadState::InRange, &Sample::state);
    out.sentence = fmt::format("{} of {} read on the curve.", found,
                               counted(static_cast<long long>(d->samples.size()), "sample"));
    out.detail = fmt::format("standards from {} to {}", placeText(d->xMeaning, d->low),
                             placeText(d->xMeaning, d->high));
    if (diluted) out.detail += fmt::format(", all diluted {}-fold (attribute)", readableNumber(*diluted));
    if (drifts) out.detail += ", readings divided by the drift of the standards before and after them";
    out.issues = issuesOf(*d);
    if (input.stepped)
        out.issues.push_back(
            {"steps",
             "The samples are read as they were measured: the steps of the protocol change the "
             "standards alone.",
             {}});
    if (d->samples.empty())
        out.issues.push_back(
            {"no-samples", "No row is a sample: give rows the kind “unknown”, or leave their x open.", {}});
    out.tables = {samplesTable(*d), standardsTable(*d)};
    if (!d->serving.empty()) out.tables.push_back(servingTable(*d));
    out.detail += servingText(*d);
    out.whole = !task.stop.stop_requested();
    out.kept = std::move(d);
    return out;
}

} // namespace

AnalysisKind unknownsAnalysis() {
    return {.info = unknownsSettings(),
            .slots = {{.key = "curve",
                       .label = "Standard curve",
                       .of = "analysis",
                       .kinds = {"fit", "free-curve"}},
                      {.key = "samples", .label = "Standards and samples", .of = "dataset"}},
            .compute = compute,
            .takesSamples = true};
}

} // namespace jointer::analyses
