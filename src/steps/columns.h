// SPDX-License-Identifier: GPL-3.0-or-later
// What steps share: working on y or on each replicate with the points that count, linear operations that
// carry uncertainties, and words for people. Not part of the interface of the folder.
#pragma once

#include "base/text.h"
#include "steps/step.h"

#include <functional>

namespace jointer::steps {

using Values = std::span<const double>;
using List = std::vector<double>;

// The places of a list that count: not left out, x and value finite.
std::vector<std::size_t> countingPlaces(const Curve& curve, const List& column);
List taken(const List& from, const std::vector<std::size_t>& places);

// y of the curve without its missing and left-out points, with x.
struct CountingPoints {
    std::vector<std::size_t> places;
    List x, y;
};
CountingPoints countingPoints(const Curve& curve);

// The counting points of a list of the curve, without copying where all of them count.
class CountingView {
public:
    CountingView(const Curve& curve, const List& column);
    Values x() const { return x_; }
    Values values() const { return values_; }
    List of(const List& other) const { return all_ ? other : taken(other, places_); }
    void put(List values, List& to) const; // back to their places

private:
    bool all_;
    std::vector<std::size_t> places_;
    List ownX_, ownValues_;
    Values x_, values_;
};

// f(x, values) in place of the values of y, or of each replicate, of which y is then the mean.
void onEachColumn(Curve& curve, const std::function<List(Values x, Values values)>& f);
void meanOfReplicates(Curve& curve); // where a replicate counts; other points keep their y

// A linear operation over the points of one list: on values, and Σ l²·v on variances.
struct Linear {
    std::function<List(Values)> values;
    std::function<List(Values)> variances;
};

// Applies what `make` gives for the x of the points that count: to y, each replicate, the uncertainties and
// common errors. Marks the points as correlated by `by`.
void applyLinear(Curve& curve, const std::function<Linear(Values x)>& make, const std::string& by);

// y (each replicate) becomes factor·y + offset, point by point, exactly with its uncertainties.
void applyAffine(Curve& curve, Values factor, Values offset);

void correlate(Curve& curve, const std::string& by); // unless something has already

// What was taken away: y before minus y after at the points that count in both and differ.
Layer takenLayer(const Curve& before, const Curve& after);
Layer curveLayer(std::string role, const Curve& curve, List y);

// Standard deviation of the noise from point to point, by the median of second differences; NaN: too few
// points.
double noiseOf(Values y);

// Distances between points of ascending x.
struct Spacing {
    double usual = 0;   // median
    bool even = true;   // all of them within 1e-4 of it, gaps left aside
    bool counts = true; // most of them near it: windows may count points, and wide ones are gaps
};
Spacing spacingOf(Values x);

// The points from `begin` to before `end` without a gap wider than `widest` usual steps.
struct Piece {
    std::size_t begin, end;
};
std::vector<Piece> piecesOf(Values x, const Spacing& spacing, double widest);

// Results for an input that a step can do nothing with.
Outcome<StepOutput> leftAlone(const Curve& curve, std::string sentence, std::string detail);
Outcome<StepOutput> leftAlone(const Curve& curve, std::string sentence, std::string detail, Issue issue);

// The value of a setting as numbers, or as an interval where two are given.
std::optional<std::pair<double, double>> intervalOf(const KindInfo& info, const Settings& given,
                                                    std::string_view key);
std::optional<double> numberOf(const KindInfo& info, const Settings& given, std::string_view key);

std::string spanText(const AxisMeaning& meaning, double low, double high); // "2 … 8 nm"
std::string unitOfDistance(const AxisMeaning& meaning);                    // of times it is the second
std::string signedDistance(const AxisMeaning& meaning, double distance);   // "+0.3 nm"
std::string countedPoints(std::size_t n);
std::string shareText(double share); // "12 %"

// The unit of a product, a quotient or a power; empty where a unit is not known.
std::string unitProduct(const std::string& a, const std::string& b);
std::string unitQuotient(const std::string& a, const std::string& b);

} // namespace jointer::steps
