// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/peaks/telling.h"

#include "analyses/fit_telling.h"
#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

constexpr double kTail = 0.1; // of the height, where asymmetry is read

std::span<const double> of(const PlannedPeak& p, const std::vector<double>& all) {
    return std::span(all).subspan(p.firstParameter, p.begin.size());
}

// Quantities of peaks and baseline in place of those of parts of a model.
class PeaksTeller {
public:
    PeaksTeller(std::shared_ptr<const PeaksDetail> detail, const Task& task, bool held)
        : detail_(std::move(detail)), d_(*detail_), member_(d_.report.one()), task_(task), held_(held) {}

    AnalysisResult tell() {
        out_ = toldOf(std::static_pointer_cast<const FitDetail>(detail_), task_, held_);
        given_ = std::move(out_.quantities);
        out_.quantities.clear();
        out_.covariance = {};
        for (std::size_t k = 0; k < d_.plan.peaks.size(); ++k) addPeak(k);
        addOthers();
        addCurves();
        if (held_) out_.good = true; // nothing was fitted that could be doubted
        if (!held_ && !d_.report.provisional) addDoubts();
        out_.sentence = sentence();
        out_.detail = fmt::format("{}; {}; {}, R² {:.4f}", baselineText(), d_.taken->weightsNote,
                                  counted(static_cast<long long>(d_.report.n), "point"), d_.report.r2);
        return std::move(out_);
    }

private:
    std::string unit(const char* pattern) const {
        const Curve& c = *d_.taken->members.front().curve;
        return models::unitText(pattern, c.xMeaning.unit, c.yMeaning.unit);
    }

    void add(Quantity q, const Eigen::RowVectorXd& row, bool known) {
        const Eigen::Index own = std::min(member_.own, row.size());
        out_.covariance.add({0, row.head(own), row.tail(row.size() - own), known});
        out_.quantities.push_back(std::move(q));
    }

    void addNumber(const PlannedPeak& p, const char* name, const char* meaning, const char* pattern,
                   const models::PeakNumber& n) {
        if (std::isfinite(n.value))
            addDerived(p, name, meaning, unit(pattern), n.value, d_.errorRow(p, n), isDetermined(p, n));
    }
    void addDerived(const PlannedPeak& p, const char* name, const char* meaning, std::string unit,
                    double value, const Eigen::RowVectorXd& row, bool determined) {
        const bool known = !held_ && !d_.report.provisional && row.size() > 0 && determined;
        const double se = known ? row.norm() : std::nan(""), t = fit::tQuantile(d_.report);
        add({.key = models::nameInWhole(name, p.number),
             .label = name,
             .meaning = meaning,
             .unit = std::move(unit),
             .value = value,
             .se = se,
             .low = value - t * se,
             .high = value + t * se,
             .state = "derived",
             .member = d_.taken->members.front().dataset,
             .component = p.number,
             .subject = p.name},
            row, known);
    }
    // It hangs on nothing that the data leave open.
    bool isDetermined(const PlannedPeak& p, const models::PeakNumber& n) const {
        for (std::size_t k = 0; k < n.gradient.size(); ++k)
            if (n.gradient[k] != 0 && !member_.parameters[p.firstParameter + k].determined) return false;
        return true;
    }

    void addParameter(std::size_t place, const PlannedPeak* p, bool known) {
        Quantity q = given_[place];
        if (p) {
            q.component = p->number;
            q.subject = p->name;
            q.label = p->model->parameters()[place - p->firstParameter].name;
        } else
            q.component = 0;
        add(std::move(q),
            member_.root.size() > 0 ? Eigen::RowVectorXd(member_.root.row(static_cast<Eigen::Index>(place)))
                                    : Eigen::RowVectorXd(),
            known);
    }

    void addPeak(std::size_t k) {
        const PlannedPeak& p = d_.plan.peaks[k];
        for (std::size_t i = 0; i < p.begin.size(); ++i)
            addParameter(p.firstParameter + i, &p,
                         std::isfinite(member_.parameters[p.firstParameter + i].se));
        const PeakNumbers& n = d_.numbers[k];
        const auto has = [&](const char* name) {
            return std::ranges::count(p.model->parameters(), name, &models::ParameterInfo::name) > 0;
        };
        if (!p.shape.traits->topAtCentre) addNumber(p, "maximum", "place of the maximum", "x", n.maximum);
        if (!has("height") || !p.shape.traits->topAtCentre)
            addNumber(p, has("height") ? "top" : "height", "height of the maximum above the baseline", "y",
                      n.height);
        if (!has("fwhm") || !p.shape.traits->topAtCentre)
            addNumber(p, has("fwhm") ? "full width" : "fwhm", "full width at half maximum", "x", n.fwhm);
        if (!has("area")) addNumber(p, "area", "area above the baseline", "xy", n.area);
        if (!std::isfinite(n.area.value))
            addNumber(p, "area_in_span", "area above the baseline within the span", "xy", n.areaInSpan);
        addNumber(p, "centroid", "centre of gravity within the span", "x", n.centroid);
        addNumber(p, "asymmetry_10", "right over left half of the width at a tenth of the height", "",
                  n.asymmetry);
        if (n.partner) {
            addNumber(p, "partner_centre", "place of the partner", "x", n.partner->place);
            addNumber(p, "partner_height", "height of the partner", "y", n.partner->height);
            addNumber(p, "partner_area", "area of the partner", "xy", n.partner->area);
        }
        addSignal(p, n);
        addShare(k);
    }

    // Its height over the standard deviation of the residuals.
    void addSignal(const PlannedPeak& p, const PeakNumbers& n) {
        if (held_ || d_.report.provisional || !(d_.report.residualSd > 0)) return;
        models::PeakNumber ratio = n.height;
        const double scatter = scatterOfPoint();
        ratio.value = std::abs(ratio.value) / scatter;
        for (double& g : ratio.gradient) g /= scatter;
        addNumber(p, "signal_to_noise", "height over the standard deviation of the residuals", "", ratio);
    }
    // Unweighted, whatever the weights are.
    double scatterOfPoint() const {
        double sum = 0;
        for (double r : member_.residuals) sum += r * r;
        return std::sqrt(sum / static_cast<double>(std::max<long>(1, d_.report.dof)));
    }

    // Of all areas, in per cent, with the errors of all of them.
    void addShare(std::size_t k) {
        double sum = 0;
        Eigen::RowVectorXd rows;
        for (std::size_t j = 0; j < d_.plan.peaks.size(); ++j) {
            const models::PeakNumber& area = d_.numbers[j].area;
            if (!std::isfinite(area.value)) return;
            sum += area.value;
            const Eigen::RowVectorXd row = d_.errorRow(d_.plan.peaks[j], area);
            rows = rows.size() == 0 ? row : Eigen::RowVectorXd(rows + row);
        }
        if (!(std::abs(sum) > 0) || d_.plan.peaks.size() < 2) return;
        const PlannedPeak& p = d_.plan.peaks[k];
        const models::PeakNumber& area = d_.numbers[k].area;
        const double share = area.value / sum;
        Eigen::RowVectorXd row = d_.errorRow(p, area);
        if (row.size() > 0) row = 100 * (row - share * rows) / sum;
        addDerived(p, "area_share", "share of the area of all peaks", "%", 100 * share, row, true);
    }

    // Baseline, what all peaks have in common, and further numbers that were asked for.
    void addOthers() {
        const std::size_t parameters = member_.parameters.size();
        std::size_t first = 0;
        for (const PlannedPeak& p : d_.plan.peaks) first += p.begin.size();
        for (std::size_t k = first; k < parameters; ++k)
            addParameter(k, nullptr, std::isfinite(member_.parameters[k].se));
        if (held_ || d_.report.provisional) return;
        const std::size_t asked = d_.taken->problem.derive.size();
        for (std::size_t i = member_.derived.size() - std::min(asked, member_.derived.size());
             i < member_.derived.size(); ++i) {
            const fit::DerivedResult& r = member_.derived[i];
            const auto at = std::ranges::find_if(
                given_, [&](const Quantity& q) { return q.label == r.name && q.state == "derived"; });
            if (at == given_.end()) continue;
            const Eigen::Map<const Eigen::RowVectorXd> gradient(r.gradient.data(), std::ssize(r.gradient));
            add(*at,
                member_.root.size() > 0 ? Eigen::RowVectorXd(gradient * member_.root) : Eigen::RowVectorXd(),
                std::isfinite(r.se));
        }
    }

    void addCurves() {
        std::erase_if(out_.curves, [](const NamedCurve& c) { return c.role == "component"; });
        const NamedCurve common = *out_.curve("fit");
        const auto add = [&](const char* role, const std::string& label, int component, auto sample) {
            NamedCurve c = common;
            c.role = role;
            c.label = label;
            c.component = component;
            c.points = nullptr;
            c.sample = [sample](const std::vector<double>& xs) {
                return Sampled{.y = sample(xs), .confidence = {}, .prediction = {}};
            };
            out_.curves.push_back(std::move(c));
        };
        add("baseline", "baseline", 0,
            [d = detail_](const std::vector<double>& xs) { return d->baseline(xs); });
        for (std::size_t k = 0; k < d_.plan.peaks.size(); ++k) {
            const PlannedPeak& p = d_.plan.peaks[k];
            add("component", p.name, p.number,
                [d = detail_, k](const std::vector<double>& xs) { return d->peak(k, xs); });
            if (d_.numbers[k].partner)
                add("partner", p.name, p.number, [d = detail_, k](const std::vector<double>& xs) {
                    return d->numbers[k].partner->curve(xs);
                });
        }
    }

    void addDoubts() {
        // The fit names parameters; the peaks are named instead.
        std::erase_if(out_.issues, [](const Issue& i) { return i.code == "on-limit"; });
        std::vector<Issue> doubts = doubtsOf(d_);
        if (!doubts.empty()) out_.good = false;
        std::ranges::move(doubts, std::back_inserter(out_.issues));
    }

    std::string baselineText() const {
        const Setting& s = *peaksSettings().find("baseline");
        const auto at = std::ranges::find(s.choices, d_.plan.baseline.key, &Choice::key);
        return "on " +
               (d_.plan.baseline.key == "none" ? std::string("no baseline") : "baseline: " + at->label);
    }

    std::string sentence() const {
        const auto& peaks = d_.plan.peaks;
        const bool alike = std::ranges::all_of(
            peaks, [&](const PlannedPeak& p) { return p.shape.key == peaks.front().shape.key; });
        const auto n = std::ssize(peaks);
        std::string what = !alike || peaks.front().shape.key == "equation"
                               ? (n == 1 ? "peak" : "peaks")
                               : peaks.front().shape.name + (n == 1 ? "" : "s");
        if (alike && peaks.front().shape.key != "equation" &&
            peaks.front().shape.name.find(' ') != std::string::npos)
            what = peaks.front().shape.name + (n == 1 ? " peak" : " peaks");
        if (alike && peaks.front().shape.name.ends_with("peak"))
            what = peaks.front().shape.name + (n == 1 ? "" : "s");
        static const std::map<std::string, std::string> on = {
            {"none", ""},
            {"shirley", " on the integral of the peaks"},
            {"constant", " on a level"},
            {"line", " on a line"},
            {"exponential-decay", " on an exponential tail"}};
        const auto at = on.find(d_.plan.baseline.key);
        return fmt::format("{} {} {}{}{}.", d_.plan.draft ? "Proposed and fitted" : "Fitted", n, what,
                           at == on.end() ? " on a polynomial" : at->second,
                           d_.plan.peaks.front().partner.empty() ? "" : ", with partners");
    }

    std::shared_ptr<const PeaksDetail> detail_;
    const PeaksDetail& d_;
    const fit::MemberReport& member_;
    const Task& task_;
    bool held_;
    std::vector<Quantity> given_;
    AnalysisResult out_;
};

} // namespace

std::vector<double> PeaksDetail::peak(std::size_t which, const std::vector<double>& xs) const {
    const PlannedPeak& p = plan.peaks[which];
    const std::vector<double> all = report.one().values();
    std::vector<double> y(xs.size());
    const std::span<const double> column(xs);
    p.model->evaluate({&column, 1}, of(p, all), y);
    return y;
}

std::vector<double> PeaksDetail::fitted(const std::vector<double>& xs) const {
    const std::span<const double> column(xs);
    return fit::curve(taken->model(), report.one(), {&column, 1});
}

std::vector<double> PeaksDetail::baseline(const std::vector<double>& xs) const {
    if (const models::ModelPtr& model = plan.baseline.model) {
        const std::vector<double> all = report.one().values(); // its own are the last
        const std::span<const double> column(xs);
        std::vector<double> y(xs.size());
        model->evaluate({&column, 1}, std::span(all).last(model->parameters().size()), y);
        return y;
    }
    std::vector<double> y = fitted(xs);
    for (std::size_t k = 0; k < plan.peaks.size(); ++k) {
        const std::vector<double> one = peak(k, xs);
        for (std::size_t i = 0; i < y.size(); ++i) y[i] -= one[i];
    }
    return y;
}

Eigen::RowVectorXd PeaksDetail::errorRow(const PlannedPeak& of, const models::PeakNumber& n) const {
    const Eigen::MatrixXd& root = report.one().root;
    if (root.size() == 0) return {};
    Eigen::RowVectorXd row = Eigen::RowVectorXd::Zero(root.cols());
    for (std::size_t k = 0; k < n.gradient.size(); ++k)
        if (n.gradient[k] != 0)
            row += n.gradient[k] * root.row(static_cast<Eigen::Index>(of.firstParameter + k));
    return row;
}

double PeaksDetail::errorOf(const PlannedPeak& of, const models::PeakNumber& n) const {
    const Eigen::RowVectorXd row = errorRow(of, n);
    return row.size() > 0 ? row.norm() : std::nan("");
}

void readPeaks(PeaksDetail& d) {
    const std::vector<double> all = d.report.one().values();
    d.numbers.clear();
    for (const PlannedPeak& p : d.plan.peaks) {
        const models::PeakReading r(*p.shape.model, *p.shape.traits,
                                    of(p, all).first(p.shape.model->parameters().size()));
        PeakNumbers n{.centre = r.parameter(p.shape.traits->centre),
                      .maximum = r.maximum(),
                      .height = r.height(),
                      .fwhm = r.width(0.5),
                      .area = r.area(),
                      .areaInSpan = {},
                      .centroid = {},
                      .asymmetry = {},
                      .partner = {}};
        if (!std::isfinite(n.area.value)) n.areaInSpan = r.areaWithin(d.plan.low, d.plan.high);
        if (!p.shape.traits->symmetric) { // else it is the centre
            n.centroid = r.centroidWithin(d.plan.low, d.plan.high);
            n.asymmetry = r.asymmetry(kTail);
        }
        if (!p.partner.empty()) n.partner = models::partnerOf(*p.model, of(p, all));
        d.numbers.push_back(std::move(n));
    }
}

AnalysisResult toldOf(std::shared_ptr<const PeaksDetail> detail, const Task& task, bool held) {
    return PeaksTeller(std::move(detail), task, held).tell();
}

} // namespace jointer::analyses
