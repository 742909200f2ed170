// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/peaks/plan.h"

#include "analyses/fit_taking.h"
#include "analyses/peaks/rules.h"
#include "analyses/peaks/starts.h"
#include "base/text.h"
#include "models/integral_background.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <fmt/format.h>
#include <numeric>
#include <utility>

namespace jointer::analyses {

Ordered inOrder(const fit::FitMember& member, const std::vector<double>& values) {
    std::vector<std::size_t> order(values.size());
    std::iota(order.begin(), order.end(), 0);
    std::ranges::sort(order, {}, [&](std::size_t i) { return member.predictors[0][i]; });
    Ordered out;
    for (std::size_t i : order) {
        out.x.push_back(member.predictors[0][i]);
        out.y.push_back(values[i]);
    }
    return out;
}

fit::Direction directionOf(const Settings& settings) {
    const std::string key = peaksSettings().text(settings, "direction");
    return key == "down" ? fit::Direction::Down : key == "both" ? fit::Direction::Both : fit::Direction::Up;
}

std::string commonShape(const Analysis& peaks) {
    return peaks.model.kind.empty() ? "gaussian" : peaks.model.kind;
}

namespace {

constexpr double kReachInWidths = 2; // of a name, where none is told

constexpr std::size_t kMostPeaks = 100;    // that a draft holds
constexpr std::size_t kNodesForAPoint = 2; // of an integral background
constexpr std::size_t kMostNodes = 4000;

fit::PeakSearch searchOf(const Settings& settings) {
    const KindInfo& info = peaksSettings();
    return {.direction = directionOf(settings),
            .most = settings.has("count") ? static_cast<std::size_t>(std::max(1, settings.integer("count")))
                                          : kMostPeaks,
            .prominence = info.number(settings, "prominence"),
            .significance = info.number(settings, "significance"),
            .narrowest = settings.number("narrowest"),
            .widest = settings.number("widest")};
}

models::PartnerRule ruleOf(const Settings& settings, const std::string& key) {
    using By = models::PartnerRule::By;
    const KindInfo& info = peaksSettings();
    return {.by = key == "distance" ? By::Distance
                  : key == "factor" ? By::Factor
                                    : By::Wavelengths,
            .first = info.number(settings, "wavelength"),
            .second = info.number(settings, "wavelength-2")};
}

// A part whose derived numbers are not asked for: those of peaks are read from them, those of a baseline mean
// nothing.
class Bare final : public models::Model {
public:
    explicit Bare(models::ModelPtr of) : of_(std::move(of)) {}
    const std::vector<models::ParameterInfo>& parameters() const override { return of_->parameters(); }
    std::string formula() const override { return of_->formula(); }
    bool isLinear() const override { return of_->isLinear(); }
    void evaluate(models::Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        of_->evaluate(xs, p, values, gradient);
    }

private:
    models::ModelPtr of_;
};

models::Component bare(int number, const std::string& name, const models::ModelPtr& model) {
    return {.number = number, .name = name, .model = std::make_shared<Bare>(model)};
}

class Planner {
public:
    Planner(const Task& task, const FitTaken& points) : task_(task), settings_(task.spec.settings) {
        out_.taken = std::make_shared<FitTaken>(points);
        const fit::FitMember& member = points.problem.members.front();
        points_ = inOrder(member, member.y);
    }

    Result<Planned> plan(bool asTold) {
        measure();
        takePeaks();
        if (auto good = giveShapes(); !good) return std::unexpected(good.error());
        std::ranges::stable_sort(plan_.peaks, {}, &PlannedPeak::place);
        giveNames();
        if (auto good = giveBaseline(); !good) return std::unexpected(good.error());
        const LawOfWidths law = lawOfWidths(plan_, settings_);
        if (auto good = giveModel(law, asTold); !good) return std::unexpected(good.error());
        if (auto good = addRules(task_, plan_, law, out_.taken->problem); !good)
            return std::unexpected(good.error());
        takeSettings(settings_, out_.taken->problem);
        spellSchedule();
        out_.plan = std::move(plan_);
        return std::move(out_);
    }

private:
    // A name without a number stands for that of every peak, "baseline" for all of what they stand on.
    void spellSchedule() {
        fit::FitProblem& problem = out_.taken->problem;
        const auto& all = problem.members.front().model->parameters();
        std::size_t ofPeaks = 0;
        for (const PlannedPeak& p : plan_.peaks)
            ofPeaks = std::max(ofPeaks, p.firstParameter + p.begin.size());
        for (std::vector<std::string>& step : problem.schedule) {
            std::vector<std::string> spelled;
            for (const std::string& name : step) {
                const std::size_t before = spelled.size();
                for (const PlannedPeak& p : plan_.peaks)
                    for (const models::ParameterInfo& info : p.model->parameters())
                        if (info.name == name) spelled.push_back(models::nameInWhole(name, p.number));
                if (name == "baseline")
                    for (std::size_t k = ofPeaks; k < all.size(); ++k) spelled.push_back(all[k].name);
                if (spelled.size() == before) spelled.push_back(name);
            }
            step = std::move(spelled);
        }
    }

    void measure() {
        plan_.noise = fit::noiseOf(points_.y);
        if (points_.x.empty()) return;
        plan_.low = points_.x.front();
        plan_.high = points_.x.back();
        plan_.spacing =
            (plan_.high - plan_.low) / std::max<double>(1, static_cast<double>(points_.x.size() - 1));
    }

    // Those that a hand has placed, else those that are found.
    void takePeaks() {
        for (const Settings& row : settings_.rows("peaks")) {
            PlannedPeak p{.number = row.integer("number"),
                          .name = row.text("name"),
                          .place = row.number("place"),
                          .height = row.number("height"),
                          .width = row.number("width")};
            if (!(p.width > 0) || p.height == 0) { // told is only where it stands
                const fit::FoundPeak seen =
                    fit::peakAt(points_.x, points_.y, p.place, false, directionOf(settings_));
                if (!(p.width > 0)) p.width = seen.width;
                if (p.height == 0) p.height = seen.height;
            }
            plan_.peaks.push_back(std::move(p));
        }
        rows_ = settings_.rows("peaks");
        if (!plan_.peaks.empty()) return;
        plan_.draft = true;
        fit::PeakSearch search = searchOf(settings_);
        const std::size_t most = std::exchange(search.most, 0);
        auto found = fit::findPeaks(points_.x, points_.y, search, task_.stop);
        std::ranges::sort(found, std::greater(), [](const fit::FoundPeak& f) { return std::abs(f.height); });
        dropPartners(found);
        plan_.found = found.size();
        if (found.size() > most) found.resize(most);
        std::ranges::sort(found, {}, &fit::FoundPeak::place);
        for (const fit::FoundPeak& f : found)
            plan_.peaks.push_back({.number = static_cast<int>(plan_.peaks.size()) + 1,
                                   .place = f.place,
                                   .height = f.height,
                                   .width = std::max(f.width, 2 * plan_.spacing),
                                   .signalToNoise = f.signalToNoise});
    }

    // What stands where the partner of a higher one does, and is not much higher than it, is that partner.
    void dropPartners(std::vector<fit::FoundPeak>& highestFirst) const {
        const std::string partner = peaksSettings().text(settings_, "partner");
        if (partner == "none") return;
        const models::PartnerRule rule = ruleOf(settings_, partner);
        const double by = partner == "wavelengths" ? 0 : peaksSettings().number(settings_, partner),
                     ratio = peaksSettings().number(settings_, "ratio");
        std::vector<fit::FoundPeak> kept;
        for (const fit::FoundPeak& f : highestFirst) {
            const bool isPartner = std::ranges::any_of(kept, [&](const fit::FoundPeak& g) {
                const double away = std::abs(f.place - models::partnerPlace(rule, g.place, by));
                return away < 0.5 * g.width + plan_.spacing && f.height * g.height > 0 &&
                       std::abs(f.height) < 1.6 * ratio * std::abs(g.height);
            });
            if (!isPartner) kept.push_back(f);
        }
        highestFirst = std::move(kept);
    }

    // Its own where its row names one, else that of all.
    Result<models::PeakShape> shapeOf(const Settings* row) const {
        const std::string own = row ? row->text("shape") : std::string();
        if (own.empty()) {
            return models::peakShape(commonShape(task_.spec), task_.spec.model.settings);
        }
        return models::peakShape(own, *row);
    }

    Result<void> giveShapes() {
        const std::string partner = peaksSettings().text(settings_, "partner");
        for (std::size_t k = 0; k < plan_.peaks.size(); ++k) {
            PlannedPeak& p = plan_.peaks[k];
            const Settings* row = k < rows_.size() ? &rows_[k] : nullptr;
            auto shape = shapeOf(row);
            if (!shape) return std::unexpected(shape.error());
            p.shape = std::move(*shape);
            p.model = p.shape.model;
            if (partner == "none" || (row && !row->flag("partner", true))) continue;
            p.model = models::partneredPeak(p.shape, ruleOf(settings_, partner));
            p.partner = {peaksSettings().number(settings_, "ratio")};
            if (partner != "wavelengths") p.partner.push_back(peaksSettings().number(settings_, partner));
            p.partner.push_back(1);
        }
        return {};
    }

    // By hand, else by the list of names and its rule, else by their order.
    void giveNames() {
        const RowList names = settings_.rows("names");
        const std::string by = peaksSettings().text(settings_, "naming");
        if (by == "order" || by == "height") {
            std::vector<PlannedPeak*> turn;
            for (PlannedPeak& p : plan_.peaks) turn.push_back(&p);
            if (by == "height")
                std::ranges::stable_sort(turn, std::greater{}, [](const auto* p) { return std::abs(p->height); });
            for (std::size_t k = 0; k < std::min(names.size(), turn.size()); ++k)
                if (turn[k]->name.empty()) turn[k]->name = names[k].text("name");
        } else {
            nameByPlace(names, by == "highest");
        }
        for (PlannedPeak& p : plan_.peaks)
            if (p.name.empty()) p.name = std::to_string(p.number);
    }
    // Of all names and the peaks within their reach the best pair first: the nearest, or the highest.
    void nameByPlace(const RowList& names, bool highest) {
        struct Pair {
            double rank;
            std::size_t name;
            PlannedPeak* peak;
        };
        std::vector<Pair> pairs;
        for (std::size_t k = 0; k < names.size(); ++k)
            for (PlannedPeak& p : plan_.peaks) {
                const double away = std::abs(p.place - names[k].number("place")),
                             told = names[k].has("reach") ? names[k].number("reach") : 0;
                if (p.name.empty() && away < (told > 0 ? told : kReachInWidths * p.width))
                    pairs.push_back({highest ? -std::abs(p.height) : away, k, &p});
            }
        std::ranges::stable_sort(pairs, {}, &Pair::rank);
        std::vector<std::uint8_t> given(names.size());
        for (const Pair& pair : pairs) {
            if (given[pair.name] || !pair.peak->name.empty()) continue;
            given[pair.name] = 1;
            pair.peak->name = names[pair.name].text("name");
        }
    }

    Result<void> giveBaseline() {
        plan_.baseline.key = peaksSettings().text(settings_, "baseline");
        const std::string& key = plan_.baseline.key;
        if (key == "none" || key == "shirley") return {};
        auto model = models::makeModel(key, {});
        if (!model) return std::unexpected(model.error());
        plan_.baseline.model = std::move(*model);
        return {};
    }

    models::ModelPtr model(const LawOfWidths& law) {
        std::vector<models::Component> parts;
        for (const PlannedPeak& p : plan_.peaks) parts.push_back(bare(p.number, p.name, p.model));
        if (law.model) parts.push_back(bare(0, "widths", law.model));
        if (plan_.baseline.model) parts.push_back(bare(0, "baseline", plan_.baseline.model));
        models::ModelPtr sum = models::combiners().find("sum")->make(parts);
        std::size_t at = 0;
        for (PlannedPeak& p : plan_.peaks) {
            p.firstParameter = at;
            at += p.model->parameters().size();
        }
        if (plan_.baseline.key != "shirley") return sum;
        const std::size_t nodes = kNodesForAPoint * std::max<std::size_t>(points_.x.size(), 100);
        return models::onIntegral(std::move(sum), plan_.low, plan_.high, std::min(kMostNodes, nodes));
    }

    Result<void> giveModel(const LawOfWidths& law, bool asTold) {
        if (points_.x.empty())
            return failure("no-points", "There are no points to fit: all are missing, left out or outside "
                                        "the span.");
        if (plan_.peaks.empty())
            return failure("no-peaks",
                           "No peak stands out of the noise: place one by hand with the tool Peak, "
                           "or look for weaker ones (a smaller least bend).");
        out_.taken->problem.members.front().model = model(law);
        giveStarts(plan_, points_.x, points_.y, asTold);
        return {};
    }

    const Task& task_;
    const Settings& settings_;
    RowList rows_;
    Ordered points_;
    PeaksPlan plan_;
    Planned out_;
};

} // namespace

const PlannedPeak* PeaksPlan::find(int number) const {
    const auto at = std::ranges::find(peaks, number, &PlannedPeak::number);
    return at == peaks.end() ? nullptr : &*at;
}

Result<Planned> planned(const Task& task, const FitTaken& points, bool asTold) {
    return Planner(task, points).plan(asTold);
}

} // namespace jointer::analyses
