// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/starts.h"

#include "models/start_values.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace jointer::models::scattering {

namespace {

constexpr std::size_t kMostPoints = 70;
constexpr double kLeastShare = 1e-7; // of the largest intensity: what is below counts as if it were this
constexpr double kFirstFraction = 0.02;

} // namespace

SeenPoints seenPoints(const Curve& curve) {
    const SortedPoints all = sortedPoints(curve);
    SeenPoints points;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (all.x[i] > 0) points.q.push_back(all.x[i]), points.intensity.push_back(all.y[i]);
    if (points.size() < 4) return {};
    if (points.size() <= kMostPoints) return points;
    SeenPoints few;
    for (std::size_t k = 0; k < kMostPoints; ++k) {
        const std::size_t i = k * (points.size() - 1) / (kMostPoints - 1);
        few.q.push_back(points.q[i]);
        few.intensity.push_back(points.intensity[i]);
    }
    return few;
}

AmountFound amountOf(const SeenPoints& points, std::span<const double> shape) {
    const double least = kLeastShare * std::max(0.0, std::ranges::max(points.intensity));
    double ss = 0, sb = 0, bb = 0, sy = 0, by = 0, yy = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const double w = 1 / std::max(std::abs(points.intensity[i]), std::max(least, 1e-300));
        const double s = shape[i] * w, y = points.intensity[i] * w;
        if (!std::isfinite(s)) return {0, 0, INFINITY};
        ss += s * s, sb += s * w, bb += w * w, sy += s * y, by += w * y, yy += y * y;
    }
    if (!(ss > 0)) return {0, 0, INFINITY};
    const double det = ss * bb - sb * sb;
    double a = (sy * bb - by * sb) / det, b = (ss * by - sb * sy) / det;
    if (!(det > 1e-14 * ss * bb) || b < 0) a = sy / ss, b = 0;
    if (!(a > 0)) return {0, 0, INFINITY};
    const double left = yy - 2 * a * sy - 2 * b * by + a * a * ss + 2 * a * b * sb + b * b * bb;
    return {a, b, std::max(left, 0.0)};
}

std::vector<double> scanned(const SeenPoints& points, const std::vector<Scan>& scans, const ShapeOf& shapeOf,
                            AmountFound& found) {
    std::vector<double> now(scans.size()), best;
    std::vector<double> shape(points.size());
    found = {0, 0, INFINITY};
    const auto look = [&](const std::vector<double>& at) {
        if (!shapeOf(at, shape)) return;
        const AmountFound here = amountOf(points, shape);
        if (here.left < found.left) found = here, best = at;
    };
    std::vector<std::size_t> place(scans.size(), 0);
    for (bool more = true; more;) {
        for (std::size_t k = 0; k < scans.size(); ++k)
            now[k] = scans[k].count < 2
                         ? scans[k].low
                         : scans[k].low * std::pow(scans[k].high / scans[k].low,
                                                   double(place[k]) / double(scans[k].count - 1));
        look(now);
        more = false;
        for (std::size_t k = 0; k < scans.size() && !more; ++k) {
            more = ++place[k] < std::max<std::size_t>(scans[k].count, 1);
            if (!more) place[k] = 0;
        }
    }
    if (best.empty()) return best;
    std::vector<double> step;
    for (const Scan& s : scans)
        step.push_back(s.count < 2 ? 1 : std::pow(s.high / s.low, 0.5 / double(s.count - 1)));
    for (int round = 0; round < 6; ++round)
        for (std::size_t k = 0; k < scans.size(); ++k) {
            const std::vector<double> centre = best;
            for (const double by : {step[k], 1 / step[k]}) {
                std::vector<double> moved = centre;
                moved[k] *= by;
                look(moved);
            }
            step[k] = std::sqrt(step[k]);
        }
    return best;
}

namespace {

// The search looks at dilute particles of one scale; what holds them apart begins where it usually is.
class ParticleSearch {
public:
    ParticleSearch(const Population& population, SeenPoints points)
        : pop_(population), points_(std::move(points)), dilute_(particles(diluteOf(population))),
          base_(dilute_->parameters().size(), 1.0) {}

    // Whether anything was found.
    bool search() {
        chooseScans();
        // Contrasts of shells against the first one: how they are is not told by any other search.
        const bool shelled =
            std::ranges::count(pop_.form->parameters(), FormQuantity::Contrast, &FormParameter::quantity) > 1;
        for (const double ratio : shelled ? std::vector{0.5, 3.0, 1.5, -1.0, -0.4} : std::vector{1.0}) {
            for (std::size_t k = 0; k < base_.size(); ++k)
                if (const FormParameter* f = formParameter(dilute_->parameters()[k].name);
                    f && f->quantity == FormQuantity::Contrast)
                    base_[k] = ratio;
            AmountFound found{};
            const auto best = scanned(
                points_, scans_,
                [&](std::span<const double> at, std::span<double> shape) {
                    dilute_->evaluate(points_.q, full(at), shape, {});
                    return true;
                },
                found);
            if (!best.empty() && found.left < found_.left) found_ = found, best_ = full(best);
        }
        return !best_.empty();
    }

    double background() const { return found_.background; }

    // Where a parameter of the whole population begins.
    double startOf(const std::string& name) const {
        const FormParameter* form = formParameter(name);
        const double units = 1e8 * std::pow(pop_.lengthUnit, 3);
        if (form && form->quantity == FormQuantity::Contrast) return contrastStart(*form, units);
        if (name == "scale") return found_.amount;
        if (name == "volume_fraction") {
            if (pop_.known == Known::Fraction) return pop_.knownFraction;
            if (pop_.known == Known::Neither) return kFirstFraction;
            return std::clamp(found_.amount / (units * pop_.knownContrast * pop_.knownContrast), 1e-9, 0.5);
        }
        if (name == "interaction_radius") return touchingRadius();
        if (name == "interaction_fraction") return 0.1;
        if (name == "stickiness") return 1;
        return valueOfBest(name).value_or(1);
    }

private:
    static Population diluteOf(Population p) {
        p.structure = Structure::None;
        p.known = Known::Scale;
        return p;
    }
    const FormParameter* formParameter(const std::string& name) const {
        const auto& all = pop_.form->parameters();
        const auto at = std::ranges::find(all, name, &FormParameter::name);
        return at == all.end() ? nullptr : &*at;
    }

    void chooseScans() {
        const bool oriented = pop_.form->isOriented(), spread = pop_.distribution != Distribution::None;
        const double first = points_.q.front(), last = points_.q.back();
        for (std::size_t k = 0; k < base_.size(); ++k) {
            const std::string& name = dilute_->parameters()[k].name;
            const FormParameter* form = formParameter(name);
            std::optional<Scan> scan;
            if (form && form->quantity == FormQuantity::Radius) {
                const double low = 0.7 / last, high = std::max(std::min(5 / first, 600 / last), 2 * low);
                const double ratio = spread || oriented ? 1.12 : 1.03;
                scan = Scan{low, high, 2 + static_cast<std::size_t>(std::log(high / low) / std::log(ratio))};
            } else if (name == "sd")
                scan = Scan{0.07, 0.5, 4};
            else if (form && form->quantity == FormQuantity::Ratio)
                scan = Scan{0.2, 5, 6};
            else if (form && form->quantity == FormQuantity::Length)
                scan = form->start > 2 ? Scan{1, 30, 6} : Scan{0.05, 0.8, 5};
            if (!scan) continue;
            searched_.push_back(k);
            scans_.push_back(*scan);
            // Lengths and the standard deviation are searched for as ratios to the radius, which comes first.
            overRadius_.push_back(name == "sd" || (form && form->quantity == FormQuantity::Length));
        }
    }

    std::vector<double> full(std::span<const double> at) const {
        std::vector<double> p = base_;
        for (std::size_t k = 0; k < searched_.size(); ++k)
            p[searched_[k]] = at[k] * (overRadius_[k] ? at[0] : 1);
        return p;
    }

    std::optional<double> valueOfBest(const std::string& name) const {
        const auto& all = dilute_->parameters();
        const auto at = std::ranges::find(all, name, &ParameterInfo::name);
        if (at == all.end()) return {};
        return best_[static_cast<std::size_t>(at - all.begin())];
    }

    double contrastStart(const FormParameter& form, double units) const {
        const double ratio = valueOfBest(form.name).value_or(1); // the first one is not among them
        if (pop_.known == Known::Scale) return ratio;
        if (pop_.known == Known::Contrast) return pop_.knownContrast * ratio;
        const double fraction =
            pop_.known == Known::Fraction ? std::max(pop_.knownFraction, 1e-12) : kFirstFraction;
        return std::sqrt(found_.amount / (units * fraction)) * ratio;
    }

    double touchingRadius() const {
        std::vector<double> form;
        for (const FormParameter& f : pop_.form->parameters())
            form.push_back(valueOfBest(f.name).value_or(1));
        return pop_.form->interactionRadius(form).value;
    }

    const Population& pop_;
    SeenPoints points_;
    BarePtr dilute_;
    std::vector<double> base_, best_;
    std::vector<std::size_t> searched_;
    std::vector<std::uint8_t> overRadius_;
    std::vector<Scan> scans_;
    AmountFound found_{0, 0, INFINITY};
};

} // namespace

std::optional<std::vector<double>> particleStart(const BareCurve& particles, const Population& population,
                                                 const Curve& curve) {
    SeenPoints points = seenPoints(curve);
    if (points.size() == 0) return {};
    ParticleSearch search(population, std::move(points));
    if (!search.search()) return {};
    std::vector<double> out;
    for (const ParameterInfo& info : particles.parameters()) out.push_back(search.startOf(info.name));
    out.push_back(search.background());
    return out;
}

} // namespace jointer::models::scattering
