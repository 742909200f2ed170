// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/peaks/rules.h"

#include "base/text.h"
#include "formula/expression.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::analyses {

namespace {

constexpr double kWidthsApart = 3; // proposed limits: a third of the narrowest to three times the widest

// Parameters that stand for themselves: the values of a law that others follow.
class NoValue final : public models::Model {
public:
    explicit NoValue(std::vector<models::ParameterInfo> parameters) : parameters_(std::move(parameters)) {}
    const std::vector<models::ParameterInfo>& parameters() const override { return parameters_; }
    std::string formula() const override { return "0"; }
    void evaluate(models::Predictors, std::span<const double>, std::span<double> values,
                  std::span<double> gradient) const override {
        std::ranges::fill(values, 0);
        std::ranges::fill(gradient, 0);
    }

private:
    std::vector<models::ParameterInfo> parameters_;
};

const std::string& nameOf(const PlannedPeak& p, std::size_t parameter) {
    return p.model->parameters()[parameter].name;
}
std::string inWhole(const PlannedPeak& p, std::size_t parameter) {
    return models::nameInWhole(nameOf(p, parameter), p.number);
}
bool isWidth(const PlannedPeak& p, std::size_t parameter) {
    return std::ranges::count(p.shape.traits->widths, parameter) > 0;
}

class Ruler {
public:
    Ruler(const Task& task, PeaksPlan& plan, const LawOfWidths& law, fit::FitProblem& problem)
        : task_(task), settings_(task.spec.settings), plan_(plan), law_(law), problem_(problem) {}

    Result<void> rule() {
        begin();
        holdPartners();
        if (peaksSettings().text(settings_, "limits") != "off") limit();
        relateWidths();
        for (const Settings& row : settings_.rows("ties"))
            if (auto good = tie(row); !good) return good;
        for (const ParameterChoice& p : task_.spec.parameters)
            if (auto good = take(p); !good) return good;
        holdOthers();
        for (fit::ParameterSpec& s : specs_) // a start that a hand has told may lie beyond what was proposed
            if (s.start) s.lower = std::min(s.lower, *s.start), s.upper = std::max(s.upper, *s.start);
        problem_.parameters = std::move(specs_);
        return {};
    }

private:
    void begin() {
        std::vector<double> starts;
        for (const PlannedPeak& p : plan_.peaks) starts.insert(starts.end(), p.begin.begin(), p.begin.end());
        starts.insert(starts.end(), law_.begin.begin(), law_.begin.end());
        starts.insert(starts.end(), plan_.baseline.begin.begin(), plan_.baseline.begin.end());
        const auto& infos = problem_.members.front().model->parameters();
        for (std::size_t k = 0; k < infos.size(); ++k)
            specs_.push_back({.name = infos[k].name,
                              .start = starts[k],
                              .lower = infos[k].lowest,
                              .upper = infos[k].highest});
    }
    fit::ParameterSpec& specOf(const PlannedPeak& p, std::size_t parameter) {
        return specs_[p.firstParameter + parameter];
    }

    // Ratio, place and width of partners are what they are told, unless they are freed.
    void holdPartners() {
        for (const PlannedPeak& p : plan_.peaks)
            for (std::size_t k = p.begin.size() - p.partner.size(); k < p.begin.size(); ++k)
                specOf(p, k).treatment = fit::Treatment::Fixed;
    }

    void limit() {
        double narrowest = INFINITY, widest = 0;
        for (const PlannedPeak& p : plan_.peaks) {
            narrowest = std::min(narrowest, p.width);
            widest = std::max(widest, p.width);
        }
        const bool own = peaksSettings().text(settings_, "limits") == "own";
        const Numbers told = settings_.numbers("width-limits");
        plan_.widths = {std::max(narrowest / kWidthsApart, plan_.spacing),
                        std::min(widest * kWidthsApart, plan_.high - plan_.low)};
        if (plan_.widths.first >= plan_.widths.second) plan_.widths.first = 0;
        if (own && told.size() == 2) plan_.widths = {told[0], told[1]};
        const double moves = own ? peaksSettings().number(settings_, "centre-limits") : 1;
        for (const PlannedPeak& p : plan_.peaks) {
            fit::ParameterSpec& centre = specOf(p, p.shape.traits->centre);
            centre.lower = std::max(centre.lower, *centre.start - moves * p.width);
            centre.upper = std::min(centre.upper, *centre.start + moves * p.width);
            fit::ParameterSpec& size = specOf(p, p.shape.traits->size);
            (p.height < 0 ? size.upper : size.lower) = 0;
            const bool several = p.shape.traits->widths.size() > 1; // each of them may be nothing
            for (std::size_t k : p.shape.traits->widths) {
                fit::ParameterSpec& width = specOf(p, k);
                width.lower = std::max(width.lower, several ? 0 : plan_.widths.first);
                width.upper = std::min(width.upper, plan_.widths.second);
                width.start = std::clamp(*width.start, width.lower, width.upper);
            }
        }
    }

    void follow(const PlannedPeak& p, std::size_t parameter, std::string formula) {
        fit::ParameterSpec& s = specOf(p, parameter);
        s.treatment = fit::Treatment::Tied;
        s.tie = std::move(formula);
        s.lower = -INFINITY;
        s.upper = INFINITY;
    }

    // One value of a parameter for all: that of the first peak that has it.
    void share(const std::string& name) {
        const PlannedPeak* first = nullptr;
        for (const PlannedPeak& p : plan_.peaks)
            for (std::size_t k = 0; k < p.model->parameters().size(); ++k) {
                if (nameOf(p, k) != name) continue;
                if (first)
                    follow(p, k, models::nameInWhole(name, first->number));
                else
                    first = &p;
            }
    }

    void shareWidths() {
        std::set<std::string> names;
        for (const PlannedPeak& p : plan_.peaks)
            for (std::size_t k : p.shape.traits->widths) names.insert(nameOf(p, k));
        for (const std::string& name : names) share(name);
    }

    void relateWidths() {
        const std::string how = peaksSettings().text(settings_, "widths");
        if (how == "alike") shareWidths();
        for (const std::string& width : law_.widths)
            for (const PlannedPeak& p : plan_.peaks)
                for (std::size_t k : p.shape.traits->widths)
                    if (nameOf(p, k) == width) follow(p, k, law(p, width));
    }
    std::string law(const PlannedPeak& p, const std::string& width) const {
        const std::string from = fmt::format("({} - ({}))", inWhole(p, p.shape.traits->centre), law_.middle);
        return law_.ofSquares
                   ? fmt::format("sqrt(max({0}_middle^2 + {0}_growth*{1}, 1e-6*{0}_middle^2))", width, from)
                   : fmt::format("{0}_middle + {0}_growth*{1}", width, from);
    }

    // The area as a formula; `ofOne`: with the size that it is proportional to as one.
    static std::string areaOf(const PlannedPeak& p, bool ofOne) {
        const auto& parameters = p.shape.model->parameters();
        const std::string size = parameters[p.shape.traits->size].name;
        if (size == "area") return ofOne ? "1" : models::nameInWhole(size, p.number);
        for (const models::DerivedInfo& d : p.shape.model->derived())
            if (d.name == "area" && p.shape.traits->hasArea)
                return "(" +
                       formula::renamed(d.formula,
                                        [&](const std::string& name) {
                                            if (name == size && ofOne) return std::string("1");
                                            const bool mine =
                                                std::ranges::count(parameters, name,
                                                                   &models::ParameterInfo::name) > 0;
                                            return mine ? models::nameInWhole(name, p.number) : std::string();
                                        }) +
                       ")";
        return {};
    }

    Result<void> tie(const Settings& row) {
        const int of = row.integer("of"), to = row.integer("to");
        const PlannedPeak *a = plan_.find(of), *b = plan_.find(to);
        if (!a || !b || a == b)
            return failure("tie", fmt::format("A tie names peak {}, which is not there.", !a ? of : to));
        const std::string what = row.text("what", "distance");
        const double value = row.number("value", 1);
        if (what == "distance") {
            follow(*a, a->shape.traits->centre,
                   fmt::format("{} + ({})", inWhole(*b, b->shape.traits->centre), value));
        } else if (what == "width-ratio") {
            for (std::size_t k : a->shape.traits->widths)
                for (std::size_t j : b->shape.traits->widths)
                    if (nameOf(*a, k) == nameOf(*b, j))
                        follow(*a, k, fmt::format("({})*{}", value, inWhole(*b, j)));
        } else if (what == "area-ratio") {
            const std::string one = areaOf(*a, true), other = areaOf(*b, false);
            if (one.empty() || other.empty())
                return failure("tie",
                               fmt::format("Peaks {} and {} have no areas to be tied: tie their heights.",
                                           a->name, b->name));
            follow(*a, a->shape.traits->size, fmt::format("({})*{}/{}", value, other, one));
        } else {
            if (!a->shape.traits->topAtCentre || !b->shape.traits->topAtCentre)
                return failure("tie",
                               fmt::format("The heights of peaks {} and {} are no parameters: tie their "
                                           "areas.",
                                           a->name, b->name));
            follow(*a, a->shape.traits->size,
                   fmt::format("({})*{}", value, inWhole(*b, b->shape.traits->size)));
        }
        return {};
    }

    // What a hand has said, of one parameter or, without a number, of all peaks.
    Result<void> take(const ParameterChoice& choice) {
        bool taken = false;
        for (const PlannedPeak& p : plan_.peaks)
            for (std::size_t k = 0; k < p.model->parameters().size(); ++k) {
                const bool fwhm = choice.name == "fwhm" && nameOf(p, k) != "fwhm" && isWidth(p, k);
                if (nameOf(p, k) != choice.name && inWhole(p, k) != choice.name && !fwhm) continue;
                taken = true;
                give(choice, specOf(p, k), fwhm);
            }
        for (fit::ParameterSpec& s : specs_)
            if (!taken && s.name == choice.name) give(choice, s, false), taken = true;
        if (choice.treatment == Treatment::Shared &&
            choice.name == "fwhm") // of all sorts, made of parts or not
            shareWidths();
        else if (choice.treatment == Treatment::Shared)
            share(choice.name);
        // What was said of a peak that is gone, or was not found, waits for it.
        const auto number = choice.name.find_last_of('_');
        const bool ofOne = number != choice.name.npos && parseNumber(choice.name.substr(number + 1));
        if (taken || ofOne) return {};
        return failure("unknown-parameter",
                       fmt::format("No peak has a parameter called {}; there are {}.", choice.name, known()));
    }
    std::string known() const {
        std::vector<std::string> names;
        for (const PlannedPeak& p : plan_.peaks)
            for (std::size_t k = 0; k < p.model->parameters().size(); ++k)
                if (std::ranges::count(names, nameOf(p, k)) == 0) names.push_back(nameOf(p, k));
        return joined(names, ", ");
    }
    // `part`: one of several parts of a width, which may be nothing.
    static void give(const ParameterChoice& choice, fit::ParameterSpec& s, bool part) {
        if (choice.start) s.start = choice.start;
        if (std::isfinite(choice.lower) && !part) s.lower = choice.lower;
        if (std::isfinite(choice.upper)) s.upper = choice.upper;
        if (s.start && !choice.start) s.start = std::clamp(*s.start, s.lower, std::max(s.lower, s.upper));
        if (choice.treatment == Treatment::Fixed) s.treatment = fit::Treatment::Fixed;
        if (choice.treatment == Treatment::Free && s.treatment == fit::Treatment::Fixed && !choice.start)
            s.treatment = fit::Treatment::Free;
        if (choice.treatment == Treatment::Tied) s.treatment = fit::Treatment::Tied, s.tie = choice.tie;
    }

    // One peak alone is fitted: all else stays where it begins.
    void holdOthers() {
        const PlannedPeak* only = plan_.find(peaksSettings().integer(settings_, "only"));
        if (!only) return;
        const std::size_t first = only->firstParameter, last = first + only->begin.size();
        for (std::size_t k = 0; k < specs_.size(); ++k)
            if ((k < first || k >= last) && specs_[k].treatment == fit::Treatment::Free)
                specs_[k].treatment = fit::Treatment::Fixed;
    }

    const Task& task_;
    const Settings& settings_;
    PeaksPlan& plan_;
    const LawOfWidths& law_;
    fit::FitProblem& problem_;
    fit::Specs specs_;
};

} // namespace

LawOfWidths lawOfWidths(const PeaksPlan& plan, const Settings& settings) {
    const std::string how = peaksSettings().text(settings, "widths");
    LawOfWidths law;
    if ((how != "line" && how != "root") || plan.peaks.size() < 2) return law;
    law.ofSquares = how == "root";
    law.middle = 0.5 * (plan.peaks.front().place + plan.peaks.back().place);
    std::vector<models::ParameterInfo> parameters;
    for (const PlannedPeak& p : plan.peaks)
        for (std::size_t k : p.shape.traits->widths) {
            const std::string& name = nameOf(p, k);
            if (std::ranges::count(law.widths, name) > 0) continue;
            law.widths.push_back(name);
            parameters.push_back({name + "_middle", "width in the middle of the peaks", "x", 0});
            parameters.push_back(
                {name + "_growth",
                 law.ofSquares ? "growth of its square with x" : "growth of the width with x",
                 law.ofSquares ? "x" : ""});
            double sum = 0;
            for (const PlannedPeak& q : plan.peaks) sum += q.width;
            law.begin.push_back(sum / static_cast<double>(plan.peaks.size()) /
                                static_cast<double>(p.shape.traits->widths.size()));
            law.begin.push_back(0);
        }
    law.model = std::make_shared<NoValue>(std::move(parameters));
    return law;
}

Result<void> addRules(const Task& task, PeaksPlan& plan, const LawOfWidths& law, fit::FitProblem& problem) {
    return Ruler(task, plan, law, problem).rule();
}

} // namespace jointer::analyses
