// SPDX-License-Identifier: GPL-3.0-or-later
// How a number moves with the choices that were made by hand: the ends of the span, anchors, smoothing, weights, the points
// taken, the model. Each choice is varied alone and the whole way from the data to the number computed again.
#pragma once

#include "evaluate/evaluator.h"

namespace jointer::evaluate {

// The number under one variation of a choice.
struct DoubtPoint {
    std::string label; // of the variation: "to 12 h", "by 1/y"
    double place = NAN; // along the choice where it is a number; NaN: it is a word
    double value = NAN, low = NAN, high = NAN; // NaN: the fit failed
    bool chosen = false;                       // as it stands
    std::shared_ptr<const Project> project{};  // in which it is made so
};

struct DoubtSeries {
    std::string choice;              // "end of the span", "weights"
    std::string unit;                // of the places
    std::vector<DoubtPoint> points;  // in order of the places
    double reach() const;            // from the lowest to the highest value of those that were computed
};

struct Doubt {
    std::string quantity, unit;      // as people call it
    double value = NAN, se = NAN, low = NAN, high = NAN; // as it stands
    std::vector<DoubtSeries> series; // those that were computed
    std::string sentence;            // which choice matters most
};

// The choices that an analysis of a dataset rests on, each with its variations as projects. Cheap.
struct DoubtChoice {
    std::string choice, unit;
    std::vector<std::pair<DoubtPoint, Project>> variations;
};
std::vector<DoubtChoice> doubtChoices(const Project& project, const Analysis& analysis, DatasetId dataset, Evaluator& evaluator);

// `done` is told each series as it comes (empty: nobody). Errors: "no-quantity" where the analysis has no such number, and
// why it has no result.
Result<Doubt> doubtOf(const Project& project, const Analysis& analysis, DatasetId dataset, const std::string& quantity,
                      Evaluator& evaluator, const Cancellation& stop = {},
                      const std::function<void(const Doubt&)>& done = {});

// A row for each variation: choice, variation, place, value, interval.
Table doubtTable(const Doubt& doubt);

} // namespace jointer::evaluate
