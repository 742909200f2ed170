// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/columns.h"

#include "base/unit_text.h"
#include "data/column.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

std::vector<std::size_t> countingPlaces(const Curve& c, const List& column) {
    std::vector<std::size_t> places;
    places.reserve(c.size());
    for (std::size_t i = 0; i < c.size(); ++i)
        if (!c.isExcluded(i) && std::isfinite(c.x[i]) && std::isfinite(column[i])) places.push_back(i);
    return places;
}

List taken(const List& from, const std::vector<std::size_t>& places) {
    if (places.size() == from.size()) return from;
    List out(places.size());
    for (std::size_t k = 0; k < places.size(); ++k) out[k] = from[places[k]];
    return out;
}

CountingPoints countingPoints(const Curve& c) {
    CountingPoints p{countingPlaces(c, c.y), {}, {}};
    p.x = taken(c.x, p.places);
    p.y = taken(c.y, p.places);
    return p;
}

CountingView::CountingView(const Curve& c, const List& column) : all_(c.excluded.empty()) {
    for (std::size_t i = 0; i < c.size() && all_; ++i)
        all_ = std::isfinite(c.x[i]) && std::isfinite(column[i]);
    if (!all_) {
        places_ = countingPlaces(c, column);
        ownX_ = taken(c.x, places_);
        ownValues_ = taken(column, places_);
    }
    x_ = all_ ? Values(c.x) : Values(ownX_);
    values_ = all_ ? Values(column) : Values(ownValues_);
}

void CountingView::put(List values, List& to) const {
    if (all_) {
        to = std::move(values);
        return;
    }
    for (std::size_t k = 0; k < places_.size(); ++k) to[places_[k]] = values[k];
}

void meanOfReplicates(Curve& c) {
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (c.isExcluded(i)) continue;
        double sum = 0, present = 0;
        for (const List& r : c.replicates)
            if (std::isfinite(r[i])) sum += r[i], ++present;
        if (present > 0) c.y[i] = sum / present;
    }
}

void onEachColumn(Curve& c, const std::function<List(Values, Values)>& f) {
    auto change = [&](List& column) {
        const CountingView view(c, column);
        view.put(f(view.x(), view.values()), column);
    };
    if (c.replicates.empty()) return change(c.y);
    for (List& r : c.replicates) change(r);
    meanOfReplicates(c);
}

void applyLinear(Curve& c, const std::function<Linear(Values)>& make, const std::string& by) {
    const CountingView view(c, c.y);
    const Linear linear = make(view.x());
    if (!c.sigma.empty()) {
        List variance = view.of(c.sigma);
        for (double& v : variance) v *= v;
        variance = linear.variances(variance);
        for (double& v : variance) v = std::sqrt(v);
        view.put(std::move(variance), c.sigma);
    }
    for (CommonError& common : c.common) view.put(linear.values(view.of(common.y)), common.y);
    for (List& r : c.replicates) {
        const CountingView own(c, r);
        const bool alike = own.x().size() == view.x().size() && std::ranges::equal(own.x(), view.x());
        own.put((alike ? linear : make(own.x())).values(own.values()), r);
    }
    if (c.replicates.empty()) view.put(linear.values(view.values()), c.y);
    if (!c.replicates.empty()) meanOfReplicates(c);
    correlate(c, by);
}

namespace {

// list[i] = factor·list[i] + offset; factors and offsets of one value hold for all.
void affine(List& list, Values factor, Values offset) {
    const double f = factor[0], o = offset[0];
    const std::size_t n = list.size();
    double* v = list.data();
    if (factor.size() == 1 && offset.size() == 1) {
        for (std::size_t i = 0; i < n; ++i) v[i] = f * v[i] + o;
    } else if (factor.size() == 1) {
        for (std::size_t i = 0; i < n; ++i) v[i] = f * v[i] + offset[i];
    } else if (offset.size() == 1) {
        for (std::size_t i = 0; i < n; ++i) v[i] = factor[i] * v[i] + o;
    } else {
        for (std::size_t i = 0; i < n; ++i) v[i] = factor[i] * v[i] + offset[i];
    }
}

} // namespace

void applyAffine(Curve& c, Values factor, Values offset) {
    if (c.size() == 0) return;
    const double none[] = {0.0};
    affine(c.y, factor, offset);
    for (List& r : c.replicates) affine(r, factor, offset);
    for (CommonError& common : c.common) affine(common.y, factor, none);
    affine(c.sigma, factor, none);
    for (double& s : c.sigma) s = std::abs(s);
}

void correlate(Curve& c, const std::string& by) {
    if (c.correlatedBy.empty()) c.correlatedBy = by;
}

Layer takenLayer(const Curve& before, const Curve& after) {
    Layer layer{"taken", {}, {}};
    if (before.excluded.empty() && after.excluded.empty() && before.size() == after.size()) {
        layer.y.resize(before.size());
        double sum = 0; // finite only where all differences are
        for (std::size_t i = 0; i < before.size(); ++i) {
            layer.y[i] = before.y[i] - after.y[i];
            sum += 0 * layer.y[i];
        }
        if (sum == 0) {
            layer.x = before.x;
            return layer;
        }
        layer.y.clear();
    }
    layer.x.reserve(before.size());
    layer.y.reserve(before.size());
    for (std::size_t i = 0; i < before.size() && i < after.size(); ++i) {
        if (!before.counts(i) || !after.counts(i)) continue;
        layer.x.push_back(before.x[i]);
        layer.y.push_back(before.y[i] - after.y[i]);
    }
    return layer;
}

Layer curveLayer(std::string role, const Curve& curve, List y) {
    return {std::move(role), curve.x, std::move(y)};
}

double noiseOf(Values y) {
    if (y.size() < 5) return std::nan("");
    const std::size_t every = std::max<std::size_t>(1, y.size() / 20000); // an estimate needs no more
    List second;
    for (std::size_t i = 1; i + 1 < y.size(); i += every)
        second.push_back(std::abs(y[i - 1] - 2 * y[i] + y[i + 1]));
    const auto middle = second.begin() + static_cast<std::ptrdiff_t>(second.size() / 2);
    std::ranges::nth_element(second, middle);
    return stats::kSdOfMedianDeviation * *middle / std::sqrt(6.0);
}

Spacing spacingOf(Values x) {
    Spacing s;
    if (x.size() < 2) return s;
    // The usual step is a median: of long curves that of a part of the steps says as much.
    const std::size_t stride = std::max<std::size_t>(1, x.size() / 20000);
    List some;
    for (std::size_t i = 1; i < x.size(); i += stride) some.push_back(x[i] - x[i - 1]);
    const auto middle = some.begin() + static_cast<std::ptrdiff_t>(some.size() / 2);
    std::ranges::nth_element(some, middle);
    s.usual = *middle;
    std::size_t near = 0;
    for (std::size_t i = 1; i < x.size(); ++i) {
        const double step = x[i] - x[i - 1], off = std::abs(step - s.usual);
        near += off <= 0.1 * s.usual;
        if (off <= 1e-4 * s.usual || !s.even) continue;
        // Steps over points that are missing are whole multiples.
        const double multiple = s.usual > 0 ? std::round(step / s.usual) : 0;
        s.even = multiple >= 2 && std::abs(step - multiple * s.usual) < 0.01 * s.usual;
    }
    s.counts = s.usual > 0 && near * 20 >= (x.size() - 1) * 19;
    if (!(s.usual > 0)) s.even = false;
    return s;
}

std::vector<Piece> piecesOf(Values x, const Spacing& spacing, double widest) {
    std::vector<Piece> pieces;
    std::size_t begin = 0;
    for (std::size_t i = 1; spacing.counts && i < x.size(); ++i)
        if (x[i] - x[i - 1] > widest * spacing.usual) pieces.push_back({begin, i}), begin = i;
    if (begin < x.size()) pieces.push_back({begin, x.size()});
    return pieces;
}

Outcome<StepOutput> leftAlone(const Curve& curve, std::string sentence, std::string detail) {
    return {{.curve = curve, .sentence = std::move(sentence), .detail = std::move(detail)}, {}};
}

Outcome<StepOutput> leftAlone(const Curve& curve, std::string sentence, std::string detail, Issue issue) {
    auto out = leftAlone(curve, std::move(sentence), std::move(detail));
    out.issues.push_back(std::move(issue));
    return out;
}

std::optional<std::pair<double, double>> intervalOf(const KindInfo& info, const Settings& given,
                                                    std::string_view key) {
    const Value value = info.value(given, key);
    const Numbers* numbers = std::get_if<Numbers>(&value);
    if (!numbers || numbers->size() != 2) return std::nullopt;
    if (std::isinf((*numbers)[0]) && std::isinf((*numbers)[1])) return std::nullopt; // open: everywhere
    return std::pair((*numbers)[0], (*numbers)[1]);
}

std::optional<double> numberOf(const KindInfo& info, const Settings& given, std::string_view key) {
    const Value value = info.value(given, key);
    const double* number = std::get_if<double>(&value);
    return number && std::isfinite(*number) ? std::optional(*number) : std::nullopt;
}

std::string spanText(const AxisMeaning& meaning, double low, double high) {
    if (!std::isfinite(low)) return "up to " + placeText(meaning, high);
    if (!std::isfinite(high)) return "from " + placeText(meaning, low);
    if (meaning.isTime) return placeText(meaning, low) + " … " + placeText(meaning, high);
    return readableNumber(low) + " … " + placeText(meaning, high);
}

std::string unitOfDistance(const AxisMeaning& meaning) {
    return meaning.isTime ? "s" : meaning.unit;
}

std::string signedDistance(const AxisMeaning& meaning, double distance) {
    const std::string unit = readableUnit(unitOfDistance(meaning));
    return (distance < 0 ? "" : "+") + readableNumber(distance) + (unit.empty() ? "" : " " + unit);
}

std::string countedPoints(std::size_t n) {
    return counted(static_cast<long long>(n), "point");
}

std::string shareText(double share) {
    return readableNumber(100 * share, 2) + "\u202f%";
}

std::string unitProduct(const std::string& a, const std::string& b) {
    if (a.empty() || b.empty()) return a + b;
    if (a == b) return bracketedUnit(a) + "^2";
    return (a.find('/') == a.npos ? a : "(" + a + ")") + " " + b; // what follows a slash would be below it
}

std::string unitQuotient(const std::string& a, const std::string& b) {
    if (b.empty()) return a;
    if (a == b) return {};
    if (a.empty()) // the inverse of an inverse
        for (std::string_view power : {"^{-1}", "^{−1}", "^-1", "⁻¹", "-1"})
            if (b.size() > power.size() && b.ends_with(power) && b.find(' ') == std::string::npos)
                return b.substr(0, b.size() - power.size());
    const bool simple = b.find_first_of(" /^-") == std::string::npos;
    return (a.empty() ? "1" : a) + "/" + (simple ? b : "(" + b + ")");
}

} // namespace jointer::steps
