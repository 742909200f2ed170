// SPDX-License-Identifier: GPL-3.0-or-later
// The cleaning steps. A step takes a curve and its settings, and gives a new curve, one sentence about what
// it did, and what it took away. The catalogue lists them; to add one: write its file, name it in
// catalogue.cpp, add its row to the step test. Pure functions, thread-safe.
#pragma once

#include "data/curve.h"
#include "describe/catalogue.h"

#include <optional>

namespace jointer::steps {

// Of what a result point depends on: fits by default take the points before the first Window or Whole
// smoothing.
enum class Locality { Point, Window, Whole };

struct StepOutput {
    Curve curve;
    std::string sentence;               // "Left out 2 points by hand."
    std::string detail;                 // "points 91 and 104"
    std::vector<double> takenX, takenY; // what was taken away (noise, spikes…), for the strip below the plot
    std::optional<std::vector<double>> baseline; // y of a baseline at the curve's x before it was taken off
};

struct StepKind {
    KindInfo info;
    Locality locality = Locality::Point;
    bool smooths = false; // makes neighbouring points depend on each other
    Outcome<StepOutput> (*apply)(const Curve& curve, const Settings& settings);
};

const Catalogue<StepKind>& catalogue();

// Applies a kind by key. An unknown kind (from a newer version) leaves the curve and says so; empty curves
// pass.
Outcome<StepOutput> apply(std::string_view key, const Curve& curve, const Settings& settings);

// One file each.
StepKind excludeStep();
StepKind cropStep();
StepKind smoothStep();
StepKind baselineStep();
StepKind transformStep();

} // namespace jointer::steps
