// SPDX-License-Identifier: GPL-3.0-or-later
// Analyses as kinds: a fit, a summary of a span, and what is to come. A kind takes datasets and other
// analyses by slots, and gives what every place reads (results grid, notes on figures, protocol, check,
// command line): quantities, curves, a sentence, issues. Only the kind's own card looks at its detail.
// Thread-safe. Example: `if (const AnalysisKind* k = catalogue().find(analysis.kind)) result =
// k->compute(task, *k->take(task));`
#pragma once

#include "analyses/covariance.h"
#include "base/hash.h"
#include "base/parallel.h"
#include "data/curve.h"
#include "data/table.h"
#include "describe/catalogue.h"
#include "models/catalogue.h"
#include "project/project.h"

#include <algorithm>
#include <functional>

namespace jointer::analyses {

// A number that an analysis has found, and of what.
struct Quantity {
    std::string key; // unique within the analysis, and the same as long as it means the same: "k", "k of d3"
    std::string label; // as people call it: "k"
    std::string meaning{};
    std::string unit{};
    double value = 0;
    double se = NAN;              // standard error; NaN: not known
    double low = NAN, high = NAN; // interval; infinite: open on that side
    std::string state{};          // a word: "free", "fixed", "on a limit"…
    bool good = true;             // false: to be looked at
    DatasetId member{};           // the one dataset it is of; none: of all
    int component = 0;            // of a composed model
    std::string subject{};        // a sample, a pair of groups, a named peak
    int digits = 6;               // that tell something where there is no error: of a probability two
};

// A table beside the quantities, such as the points of a profile.
struct NamedTable {
    std::string key, label;
    Table table;
};

// What a curve is at some x.
struct Sampled {
    std::vector<double> y, confidence, prediction; // half widths of the bands; empty: none
};

// Of a fit over two predictors: what it is at places, and the range of each over which it rests on points.
struct Surface {
    std::function<Sampled(const std::vector<double>& x, const std::vector<double>& y)> sample{};
    std::pair<double, double> x{}, y{};
    AxisMeaning yMeaning{}; // of the second predictor
};

// A curve to be drawn: a line that can be asked anywhere, or points.
struct NamedCurve {
    // "fit", "component", "residuals"; of fits that share parameters "apart"; of peaks "baseline" and
    // "partner"; over several predictors "slice" and "residuals-over"; under a robust loss "lessened" and
    // "disregarded"; "profile" and "profile-level"; of values "quantiles" over those of the normal
    // distribution, and "quantile-line"; of a fit without one of its ingredients "without"; of sizes
    // "distribution" and of distances "distances", over lengths; of a law of scattering "straight" and
    // "straight-points", over the coordinates in which it is a line.
    std::string role;
    std::string label{};
    DatasetId member{};
    int component = 0;
    Span founded{};                        // where it rests on points; beyond it is extrapolated
    std::shared_ptr<const Curve> points{}; // of "residuals", and of a fit over several predictors
    std::function<Sampled(const std::vector<double>&)> sample{};
    std::shared_ptr<const Surface> surface{}; // of a fit over two predictors
    AxisMeaning xMeaning{}, yMeaning{};
    std::string says{}; // of residuals: what they tell
};

struct Detail {
    virtual ~Detail() = default;
};
using DetailPtr = std::shared_ptr<const Detail>;

struct AnalysisResult {
    std::string state; // a word: "converged", "done"…
    bool good = true;  // false: in doubt
    std::vector<Quantity> quantities;
    std::vector<Quantity> quality; // numbers about the result: R², n…; for notes, not for the grid
    std::vector<NamedTable> tables;
    std::vector<NamedCurve> curves;
    Covariance covariance;        // of the quantities, in their order
    std::string sentence, detail; // what was done, as in a notebook
    std::string notShown;         // what it could not show, in a sentence
    std::vector<Issue> issues;
    DetailPtr kept;    // the kind's own
    bool whole = true; // false: stopped, or of less than full effort

    const Quantity* find(std::string_view keyOrLabel) const;
    // Of a member, else the first; with a label the one so called.
    const NamedCurve* curve(std::string_view role, DatasetId member = {}, std::string_view label = {},
                            int component = 0) const;
};
using ResultPtr = std::shared_ptr<const AnalysisResult>;

// One dataset as it is taken.
struct TaskInput {
    std::string name;
    std::shared_ptr<const Curve> curve;         // at the point of the protocol that was asked for
    bool smoothed = false;                      // and it is a smoothed one
    std::map<std::string, double> attributes{}; // of the dataset, those that are numbers
    std::map<std::string, std::string> attributeUnits{};
    AnalysisInput spec{};
    // Readings of the samples and blanks in its table, as the mapping of samples lays them out; only for kinds
    // that take them.
    std::shared_ptr<const Curve> samples{};
    bool stepped = false; // its protocol changes what was measured: not so the samples
};

enum class Effort { OneIteration, Provisional, Full };

struct Task {
    const Analysis& spec;
    std::vector<TaskInput> inputs{};
    std::vector<ResultPtr> analyses{};
    // Other curves that its model names, by the text of their datasets' ids.
    std::map<std::string, models::MeasuredCurve> curves{};
    Effort effort = Effort::Full;
    Cancellation stop{};
    std::vector<double> lastValues{}; // where the analysis last stood, for provisional results to begin with
};

// What an analysis takes of its inputs: cheap, and its digest decides whether anything is to be computed.
struct Taken {
    DetailPtr value{}; // none: it cannot be taken, the first issue says why
    std::vector<Issue> issues{};
    Digest digest{}; // of all that decides the result
    std::size_t bytes = 0;
};

struct InputSlot {
    std::string key, label;
    std::string of;                   // "dataset", "analysis"
    std::vector<std::string> kinds{}; // of analyses: only of these; empty: of any
    std::size_t fewest = 1, most = 1;
    bool eager = false;     // filled at first even where it may stay empty
    bool elsewhere = false; // for what further datasets have, where the first is of one dataset alone

    bool takes(const std::string& kind) const {
        return kinds.empty() || std::ranges::find(kinds, kind) != kinds.end();
    }
};

struct AnalysisKind {
    KindInfo info;
    std::vector<InputSlot> slots;
    Taken (*take)(const Task& task) = nullptr;
    Result<AnalysisResult> (*compute)(const Task& task, const Taken& taken) = nullptr;
    // As project files keep a result, and back; a kind without computes it again.
    std::string (*text)(const AnalysisResult& result) = nullptr;
    Result<AnalysisResult> (*fromText)(const std::string& text, const Task& task,
                                       const Taken& taken) = nullptr;
    // The values where it stands, for the next provisional result.
    std::vector<double> (*values)(const AnalysisResult& result) = nullptr;
    // What it is called in lists before anything is computed.
    std::string (*name)(const Analysis& spec) = nullptr;
    bool costly = true; // computed in the background, can be stopped
    bool givesCurve = false; // "fit" and "residuals" of each dataset
    bool takesSamples = false;
    bool givesQuantiles = false;

    bool takesPoints() const { return std::ranges::find(slots, "dataset", &InputSlot::of) != slots.end(); }
    // One for all selected datasets, not one for each.
    bool spansDatasets() const { return std::ranges::find(slots, true, &InputSlot::elsewhere) != slots.end(); }
};

const Catalogue<AnalysisKind>& catalogue();
void addKind(AnalysisKind kind); // for programs that bring one of their own, before anything else

const AnalysisKind* kindOf(const Analysis& analysis);
// All that is written in an analysis but its name, and the digests of what it takes.
void addTo(Hasher& hasher, const Analysis& analysis);
void addTo(Hasher& hasher, const ModelNode& model);
// The curves that a model is made of, by the text of their datasets' ids.
std::vector<std::string> curvesOf(const ModelNode& model);
// "all x", "span 2 … 8", "spans 2 … 8, 11 … 14", "outside of 2 … 8".
std::string spanText(const Span& span);
std::string nameOf(const Analysis& analysis); // what the user called it, else what the kind does

// Settings of an analysis as its kind describes them, and how the points of an input are weighted.
const KindInfo& weightSettings();

// One file each.
AnalysisKind fitAnalysis();
AnalysisKind peaksAnalysis();
AnalysisKind sizesAnalysis();
AnalysisKind summaryAnalysis();
AnalysisKind groupsAnalysis();
AnalysisKind unknownsAnalysis();
AnalysisKind freeCurveAnalysis();
AnalysisKind comparisonAnalysis();
AnalysisKind differencesAnalysis();
AnalysisKind separationAnalysis();
AnalysisKind latticeAnalysis();
AnalysisKind scatteringLawsAnalysis();
AnalysisKind freeSizesAnalysis();
AnalysisKind pairDistancesAnalysis();

} // namespace jointer::analyses
