// SPDX-License-Identifier: GPL-3.0-or-later
// The cleaning steps. A step takes a curve, its settings, what is known of the dataset and the other curves
// that it names; it gives a new curve, one sentence about what it did, layers (a baseline, what was taken
// away), and handles: marks on the plot that stand for its settings. The catalogue lists them; to add one:
// write its file, name it in catalogue.cpp, add its row to the step test. Pure functions, thread-safe.
#pragma once

#include "base/parallel.h"
#include "data/curve.h"
#include "data/table.h"
#include "describe/catalogue.h"

#include <map>
#include <memory>
#include <optional>
#include <span>

namespace jointer::steps {

// A curve beside the result, drawn by its role: "baseline", or "taken" (what was taken away).
struct Layer {
    std::string role;
    std::vector<double> x, y;
};

// A grip moves the whole curve; a level is a height, at every x; a span end one end of an interval of x. Of
// analyses: the top of a peak, and an end of its width at half height.
enum class HandleForm { Anchor, Found, Grip, Level, SpanEnd, Peak, PeakWidth };
enum class HandleState { Proposed, Accepted, Refused };

// A mark on the plot, in the coordinates of the curve that the step takes. An anchor stands for the pair
// `index` of the Points in `setting`; a found thing for the row `row` of the table in the lists "refused" and
// "accepted"; a grip for the settings "x" and "y"; a level for the number `setting`; a span end for the low
// (`index` 0) or the high end (1) of the interval `setting`.
struct Handle {
    HandleForm form = HandleForm::Anchor;
    HandleState state = HandleState::Accepted;
    double x = 0, y = 0;
    std::string setting;
    std::size_t index = 0;
    std::uint32_t row = 0;
    std::string says{};          // what it stands for, in words
    std::string label{};         // of a peak: its name, shown beside it
    bool downwards = false;      // of a peak
    bool xOnly = false;          // of an anchor: its y is no height, and stays
    double homeX = 0, homeY = 0; // of a grip: where it would be with nothing set
    Settings with{};             // of a level: what is set besides once a hand has placed it
    bool operator==(const Handle&) const = default;
};

// Points that stand at a place on an axis that is not their value, such as a zero dose beside a logarithm.
struct Substitution {
    bool ofY = false;
    std::vector<std::uint32_t> rows;
    std::string says; // "stands for 0"
    bool operator==(const Substitution&) const = default;
};

struct StepOutput {
    Curve curve;
    std::string sentence; // "Left out 2 points by hand."
    std::string detail{}; // "points 91 and 104"
    std::vector<Layer> layers{};
    std::vector<Handle> handles{};
    bool uncertaintyLost = false; // those of the points are not carried along: said, whatever is left of them
    std::vector<std::uint32_t> droppedRows{}; // points that are no longer in the curve, for want of an x
    std::vector<Substitution> substitutions{};
    // Of a filter: the frequency that it cuts off, in cycles per point.
    std::optional<double> cutoff{};
    // Settings under which what is proposed stands as if placed by hand ("take it as anchors"); none: nothing
    // is.
    std::optional<Settings> draft{};

    const Layer* layer(std::string_view role) const; // nullptr: none
};

struct Attribute {
    std::string name, value, unit;
};

// What a step may ask of its dataset besides the points.
struct DatasetFacts {
    std::map<std::uint32_t, RowKind> rowKinds{}; // by row id; plain ones are not held
    std::vector<Attribute> attributes{};
    std::map<std::string, std::map<std::uint32_t, double>> columns{}; // of references to columns: by row id
    std::map<RowKind, std::vector<double>> readings{}; // y of the rows of each kind, as measured
};

using CurvePtr = std::shared_ptr<const Curve>;

// Another curve that a setting refers to.
struct OtherCurve {
    std::string reference; // the text of the id
    std::string name;
    CurvePtr curve;
};

struct StepInput {
    const Curve& curve;
    const Settings& settings;
    const DatasetFacts& facts;
    std::span<const OtherCurve> others;
    Cancellation stop{};

    const OtherCurve* other(std::string_view reference) const; // nullptr: none
};

struct StepKind {
    KindInfo info;
    bool smooths = false;   // fits by default take the points before it
    bool asksFacts = false; // reads DatasetFacts
    bool costly = false;    // may take seconds: said, and can be stopped
    Outcome<StepOutput> (*apply)(const StepInput& input);
    bool anchorsAreX = false; // a new anchor stands for its x twice: as found and as it should be
    Settings (*withCutoff)(Settings settings, double cyclesPerPoint) = nullptr; // of filters
    // Settings of files written before the kind had its present keys, made into present ones. May be none.
    void (*upgrade)(Settings& settings) = nullptr;
};

const Catalogue<StepKind>& catalogue();
std::string nameOf(std::string_view key); // for people; the key itself of a kind that is not known

// Applies a kind by key. An unknown kind (from a newer version) leaves the curve and says so; so does any
// kind on a curve without points. Settings that cannot be taken are told, with the default in their place.
Outcome<StepOutput> apply(std::string_view key, const StepInput& input);
Outcome<StepOutput> apply(std::string_view key, const Curve& curve, const Settings& settings);

// The references of the settings to datasets, in order; empty ones are left away.
std::vector<std::string> datasetsNamed(const KindInfo& kind, const Settings& settings);
std::vector<std::string> columnsNamed(const KindInfo& kind, const Settings& settings);

} // namespace jointer::steps
