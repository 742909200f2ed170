// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/doubt.h"

#include "analyses/ingredients.h"
#include "analyses/model_parts.h"
#include "analyses/neighbours.h"
#include "analyses/peaks/peaks.h"
#include "analyses/weights.h"
#include "base/text.h"
#include "base/unit_text.h"
#include "project/edit.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::evaluate {

namespace {

constexpr int kInwards = 7, kOutwards = 4; // steps of an end of the span, of a tenth of the points each
constexpr const char* kModel = "model";
constexpr double kReach = 10; // of AICc: a model that lies higher is none that could be meant
constexpr std::size_t kMostAnchors = 8, kMostModels = 3, kFewestLeft = 5;

using Change = std::function<void(Analysis&)>;

// The counting places of a dataset as the analysis takes it.
std::vector<double> placesOf(const Project& project, const Analysis& a, DatasetId dataset,
                             Evaluator& evaluator) {
    std::vector<double> out;
    const auto protocol = evaluator.protocol(project, dataset);
    const auto in = std::ranges::find(a.inputs, dataset, &AnalysisInput::dataset);
    const Curve& curve = protocol.at(in == a.inputs.end() ? CurvePoint{} : in->point).curve();
    for (std::size_t i = 0; i < curve.size(); ++i)
        if (curve.counts(i)) out.push_back(curve.x[i]);
    return out;
}

class Choices {
public:
    Choices(const Project& project, const Analysis& a, DatasetId dataset, Evaluator& evaluator)
        : project_(project), a_(a), dataset_(dataset), evaluator_(evaluator),
          places_(placesOf(project, a, dataset, evaluator)) {
        const auto protocol = evaluator.protocol(project, dataset);
        x_ = protocol.end().curve().xMeaning;
    }

    std::vector<DoubtChoice> all() {
        addSpanEnd(true);
        addSpanEnd(false);
        addWeights();
        addPoints();
        addWindows();
        addAnchors();
        addAssumptions();
        addModels();
        std::erase_if(out_, [](const DoubtChoice& c) { return c.variations.size() < 2; });
        return std::move(out_);
    }

private:
    void add(DoubtChoice& to, DoubtPoint point, const Change& change) {
        auto changed = edits::changeAnalysis(a_.id, "doubt", change).apply(project_);
        if (changed) to.variations.emplace_back(std::move(point), std::move(*changed));
    }
    const AnalysisInput* input() const {
        const auto in = std::ranges::find(a_.inputs, dataset_, &AnalysisInput::dataset);
        return in == a_.inputs.end() ? nullptr : &*in;
    }
    static void setSpan(Analysis& a, double low, double high) {
        for (AnalysisInput& in : a.inputs) in.span = Span(low, high);
    }

    std::string placeAt(double x) const { return x_.isTime ? placeText(x_, x) : readableNumber(x, 4); }

    // By tenths of the points inside, and outwards as far as there are any.
    void addSpanEnd(bool upper) {
        const AnalysisInput* in = input();
        if (!in || in->span.outside || in->span.pieces.size() > 1 || places_.size() < 2 * kFewestLeft) return;
        const double low = in->span.isAll() ? places_.front() : std::max(in->span.low(), places_.front()),
                     high = in->span.isAll() ? places_.back() : std::min(in->span.high(), places_.back());
        const auto first = std::ranges::lower_bound(places_, low) - places_.begin(),
                   last = std::ranges::upper_bound(places_, high) - places_.begin() - 1;
        const auto step = std::max<std::ptrdiff_t>(1, (last - first + 1) / 10);
        DoubtChoice c{upper ? "end of the span" : "start of the span", x_.unit, {}};
        const int below = upper ? kInwards : kOutwards, above = upper ? kOutwards : kInwards;
        for (int k = -below; k <= above; ++k) {
            const std::ptrdiff_t at = (upper ? last : first) + k * step;
            const std::ptrdiff_t left = upper ? at - first : last - at;
            if (at < 0 || at >= std::ssize(places_) || left + 1 < static_cast<std::ptrdiff_t>(kFewestLeft))
                continue;
            const double x = places_[static_cast<std::size_t>(at)];
            add(c, {.label = (upper ? "to " : "from ") + placeAt(x), .place = x, .chosen = k == 0},
                [=](Analysis& a) { upper ? setSpan(a, low, x) : setSpan(a, x, high); });
        }
        out_.push_back(std::move(c));
    }

    void addWeights() {
        const AnalysisInput* in = input();
        if (!in) return;
        const Curve& curve = *evaluator_.measured(project_, dataset_).value;
        const std::string now = analyses::weightsInForce(in->weights, !curve.sigma.empty(), a_.model);
        std::vector<std::pair<const char*, const char*>> ways = {
            {"none", "all alike"}, {"1/y", "1/y"}, {"1/y2", "1/y²"}};
        if (!curve.sigma.empty()) ways.emplace_back("absolute", "uncertainties");
        DoubtChoice c{"weights", "", {}};
        for (const auto& [key, words] : ways)
            add(c, {.label = words, .chosen = now == key}, [key = std::string(key)](Analysis& a) {
                for (AnalysisInput& each : a.inputs) each.weights.set("weights", Value(key));
            });
        out_.push_back(std::move(c));
    }

    // What a model is made of: each ingredient left away, and of those with several forms each other one.
    void addAssumptions() {
        const auto switches = analyses::ingredientsOf(a_.model);
        if (switches.empty()) return;
        DoubtChoice c{"assumptions", "", {}};
        add(c, {.label = "as told", .chosen = true}, [](Analysis&) {});
        for (const analyses::IngredientSwitch& s : switches) {
            if (!s.on) continue;
            add(c, {.label = "no " + s.label},
                [=](Analysis& x) { analyses::switchIngredient(x, s, false, false); });
            const ModelNode& part = analyses::partOf(a_.model, s.component);
            const models::ModelKind* kind = models::catalogue().find(part.kind);
            if (s.setting == "distribution") addOthers(c, *kind, part, s.component, "distribution");
            if (s.setting == "structure") addOthers(c, *kind, part, s.component, "coupling");
        }
        out_.push_back(std::move(c));
    }
    void addOthers(DoubtChoice& c, const models::ModelKind& kind, const ModelNode& part, int component,
                   const char* key) {
        const Setting* setting = kind.info.find(key);
        if (!setting) return;
        for (const Choice& other : setting->choices)
            if (other.key != "none" && other.key != kind.info.text(part.settings, key))
                add(c, {.label = other.label}, [=, key = std::string(key)](Analysis& x) {
                    analyses::partOf(x.model, component).settings.set(key, Value(other.key));
                });
    }

    // Smoothed points against those before it, where there are both.
    void addPoints() {
        const AnalysisInput* in = input();
        if (!in || !evaluator_.protocol(project_, dataset_).unsmoothed) return;
        DoubtChoice c{"points", "", {}};
        for (const auto& [key, words] :
             {std::pair("before-smoothing", "before smoothing"), {"end", "smoothed"}}) {
            const CurvePoint point = CurvePoint::fromText(key);
            add(c, {.label = words, .chosen = in->point.text() == point.text()}, [=](Analysis& a) {
                for (AnalysisInput& each : a.inputs) each.point = point;
            });
        }
        out_.push_back(std::move(c));
    }

    void change(DoubtChoice& to, DoubtPoint point, const Step& step, const char* key, const Value& value) {
        auto changed = edits::setStep(dataset_, step.id, key, value).apply(project_);
        if (changed) to.variations.emplace_back(std::move(point), std::move(*changed));
    }

    void addWindows() {
        const auto d = project_.datasets.find(dataset_);
        for (const Step& step : d ? d->protocol : std::vector<Step>()) {
            const steps::StepKind* kind = step.on ? steps::catalogue().find(step.kind) : nullptr;
            const Setting* window = kind ? kind->info.find("window") : nullptr;
            if (!window) continue;
            const double now = kind->info.number(step.settings, "window");
            DoubtChoice c{"window of " + kind->info.name, window->unit, {}};
            for (const double by : {0.5, 0.75, 1.0, 1.5, 2.0}) {
                const double width =
                    std::max(window->lowest, 2 * std::round(by * now / 2) + std::fmod(now, 2));
                if (by != 1 && width == now) continue;
                change(c, {.label = readableNumber(width, 4), .place = width, .chosen = by == 1}, step,
                       "window", Value(width));
            }
            out_.push_back(std::move(c));
        }
    }

    // Each anchor up and down by its noise; those on the curve stand at the mean of the points around them.
    void addAnchors() {
        const auto d = project_.datasets.find(dataset_);
        const auto protocol = evaluator_.protocol(project_, dataset_);
        for (std::size_t k = 0; d && k < d->protocol.size() && k < protocol.stages.size(); ++k) {
            const Step& step = d->protocol[k];
            const steps::StepKind* kind = step.on ? steps::catalogue().find(step.kind) : nullptr;
            Numbers anchors = kind && kind->info.find("place") ? step.settings.numbers("anchors") : Numbers();
            if (anchors.size() < 4) continue;
            const Curve& before = protocol.stages[k].curve();
            double noise = noiseOf(before);
            if (kind->info.text(step.settings, "place") == "on-curve") {
                const int over = kind->info.integer(step.settings, "mean-over");
                for (std::size_t i = 0; i + 1 < anchors.size(); i += 2)
                    anchors[i + 1] = meanAbout(before, anchors[i], over);
                noise /= std::sqrt(over);
            }
            addMoved(step, anchors, noise);
        }
    }
    void addMoved(const Step& step, const Numbers& anchors, double noise) {
        DoubtChoice c{"anchors", "", {}};
        c.variations.emplace_back(DoubtPoint{.label = "as placed", .chosen = true}, project_);
        for (std::size_t k = 0; k + 1 < anchors.size() && k / 2 < kMostAnchors; k += 2)
            for (const double sign : {-1.0, 1.0}) {
                Numbers moved = anchors;
                moved[k + 1] += sign * noise;
                auto free =
                    edits::setStep(dataset_, step.id, "place", Value(std::string("free"))).apply(project_);
                if (free) free = edits::setStep(dataset_, step.id, "anchors", Value(moved)).apply(*free);
                if (free)
                    c.variations.emplace_back(
                        DoubtPoint{.label = fmt::format("{} {} by its noise", placeAt(anchors[k]),
                                                        sign > 0 ? "up" : "down")},
                        std::move(*free));
            }
        out_.push_back(std::move(c));
    }
    static double meanAbout(const Curve& curve, double x, int over) {
        const auto nearest = static_cast<std::ptrdiff_t>(nearestPoint(curve.x, x));
        double sum = 0, n = 0;
        for (std::ptrdiff_t i = std::max<std::ptrdiff_t>(0, nearest - over / 2);
             i <= std::min(std::ssize(curve.x) - 1, nearest + over / 2); ++i)
            if (curve.counts(static_cast<std::size_t>(i))) sum += curve.y[static_cast<std::size_t>(i)], ++n;
        return n > 0 ? sum / n : NAN;
    }
    // From differences of neighbours: σ√2 is 1.4826 times the median of their sizes.
    static double noiseOf(const Curve& curve) {
        std::vector<double> steps;
        for (std::size_t i = 1; i < curve.size(); ++i)
            if (curve.counts(i) && curve.counts(i - 1))
                steps.push_back(std::abs(curve.y[i] - curve.y[i - 1]));
        if (steps.empty()) return 0;
        const auto middle = steps.begin() + std::ssize(steps) / 2;
        std::ranges::nth_element(steps, middle);
        return 1.4826 * *middle / std::sqrt(2.0);
    }

    void addModels() {
        if (a_.kind != "fit") return;
        DoubtChoice c{kModel, "", {}};
        c.variations.emplace_back(DoubtPoint{.label = analyses::nameOf(a_), .chosen = true}, project_);
        for (const ModelNode& node : analyses::neighboursOf(a_.model, kMostModels)) {
            const models::ModelKind* kind = models::catalogue().find(node.kind);
            add(c, {.label = kind ? kind->info.name : node.kind}, [=](Analysis& a) {
                a.model = node;
                a.parameters.clear();
            });
        }
        out_.push_back(std::move(c));
    }

    const Project& project_;
    const Analysis& a_;
    DatasetId dataset_;
    Evaluator& evaluator_;
    std::vector<double> places_;
    AxisMeaning x_;
    std::vector<DoubtChoice> out_;
};

const analyses::Quantity* quantityOf(const AnalysisOutcome& outcome, const std::string& key) {
    return outcome.exists() ? outcome->find(key) : nullptr;
}

bool isWithinReach(const AnalysisOutcome& other, const AnalysisOutcome& now) {
    const analyses::Quantity *a = quantityOf(other, "aicc"), *b = quantityOf(now, "aicc");
    return !a || !b || a->value <= b->value + kReach;
}

// Some variation says that the number is another one: it lies farther off than half more than its own
// interval, which of a dozen hardly one does by chance.
bool speaksAgainst(const DoubtSeries& series, double value) {
    return std::ranges::any_of(series.points, [&](const DoubtPoint& p) {
        return std::isfinite(p.value) && std::abs(p.value - value) > 1.5 * (p.high - p.low) / 2;
    });
}

std::string sentenceOf(const Doubt& d) {
    // Fewer points move a number further by chance: first those that do more than that.
    const DoubtSeries* most = nullptr;
    const auto rank = [&](const DoubtSeries& s) { return std::pair(speaksAgainst(s, d.value), s.reach()); };
    for (const DoubtSeries& s : d.series)
        if (std::isfinite(s.reach()) && (!most || rank(s) > rank(*most))) most = &s;
    if (!most || !(most->reach() > 0))
        return d.quantity + " does not move with any choice that was made by hand.";
    const std::string moved =
        readableNumber(most->reach(), 3) + (d.unit.empty() ? "" : " " + readableUnit(d.unit));
    if (!(d.se > 0)) return fmt::format("{} moves most with the {}: by {}.", d.quantity, most->choice, moved);
    const double times = most->reach() / d.se;
    if (times < 1)
        return fmt::format(
            "{} hardly moves with any choice, most with the {}: by {}, less than its standard error.",
            d.quantity, most->choice, moved);
    return fmt::format(
        "{} moves most with the {}: by {}, {}{}.", d.quantity, most->choice, moved,
        times >= 2 ? readableNumber(times, 2) + " times its standard error" : "about its standard error",
        speaksAgainst(*most, d.value) ? "" : ", no further than the variations’ own intervals");
}

// With as many peaks as were found: what a variation finds anew would be other peaks, and many of them in a smoothed curve.
Project withPeaksHeld(const Project& project, const Analysis& analysis, const AnalysisOutcome& now) {
    const analyses::PeaksDetail* peaks = analyses::peaksDetail(*now);
    if (!peaks || analysis.settings.has("count")) return project;
    const auto count = static_cast<double>(peaks->plan.peaks.size());
    const auto held = edits::changeAnalysis(analysis.id, "doubt", [=](Analysis& a) { a.settings.set("count", Value(count)); });
    auto out = held.apply(project);
    return out ? std::move(*out) : project;
}

} // namespace

double DoubtSeries::reach() const {
    double low = INFINITY, high = -INFINITY;
    for (const DoubtPoint& p : points)
        if (std::isfinite(p.value)) low = std::min(low, p.value), high = std::max(high, p.value);
    return low <= high ? high - low : NAN;
}

std::vector<DoubtChoice> doubtChoices(const Project& project, const Analysis& analysis, DatasetId dataset,
                                      Evaluator& evaluator) {
    return Choices(project, analysis, dataset, evaluator).all();
}

Result<Doubt> doubtOf(const Project& project, const Analysis& analysis, DatasetId dataset,
                      const std::string& quantity, Evaluator& evaluator, const Cancellation& stop,
                      const std::function<void(const Doubt&)>& done) {
    const auto now = evaluator.analysis(project, analysis, {.stop = stop});
    if (!now.exists()) return std::unexpected(now.result.error());
    const analyses::Quantity* q = quantityOf(now, quantity);
    if (!q) return failure("no-quantity", "This analysis has no number called “" + quantity + "”.");
    Doubt d{.quantity = q->label,
            .unit = q->unit,
            .value = q->value,
            .se = q->se,
            .low = q->low,
            .high = q->high};
    const std::string key = q->key;
    const Project held = withPeaksHeld(project, analysis, now);
    for (DoubtChoice& choice : doubtChoices(held, *held.analyses.find(analysis.id), dataset, evaluator)) {
        DoubtSeries series{choice.choice, choice.unit, std::vector<DoubtPoint>(choice.variations.size())};
        parallelRanges(choice.variations.size(), 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t k = begin; k < end && !stop.stop_requested(); ++k) {
                auto& [point, changed] = choice.variations[k];
                const auto at = changed.analyses.find(analysis.id);
                const auto outcome =
                    at ? evaluator.analysis(changed, *at, {.stop = stop}) : AnalysisOutcome{};
                series.points[k] = point;
                series.points[k].project = std::make_shared<const Project>(std::move(changed));
                const analyses::Quantity* found = quantityOf(outcome, key);
                if (!found || !found->good || (choice.choice == kModel && !isWithinReach(outcome, now)))
                    continue;
                series.points[k].value = found->value;
                series.points[k].low = found->low;
                series.points[k].high = found->high;
            }
        });
        // A model without such a number tells nothing.
        std::erase_if(series.points, [&](const DoubtPoint& p) {
            return choice.choice == kModel && !std::isfinite(p.value);
        });
        if (stop.stop_requested()) break;
        if (series.points.size() < 2) continue;
        d.series.push_back(std::move(series));
        d.sentence = sentenceOf(d);
        if (done) done(d);
    }
    d.sentence = sentenceOf(d);
    return d;
}

Table doubtTable(const Doubt& d) {
    std::vector<std::string> choices, labels;
    std::vector<double> places, values, lows, highs;
    for (const DoubtSeries& s : d.series)
        for (const DoubtPoint& p : s.points) {
            choices.push_back(s.choice);
            labels.push_back(p.chosen ? p.label + " (chosen)" : p.label);
            places.push_back(p.place);
            values.push_back(p.value);
            lows.push_back(p.low);
            highs.push_back(p.high);
        }
    Table t{.name = "Doubt of " + d.quantity};
    t.columns = {textColumn("choice", choices),     textColumn("variation", labels),
                 numberColumn("place", "", places), numberColumn(d.quantity, d.unit, values),
                 numberColumn("low", d.unit, lows), numberColumn("high", d.unit, highs)};
    return t;
}

} // namespace jointer::evaluate
