// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe run over files without a window: each file is read by the recipe's rule, goes its way in a small
// project of its own, and leaves rows of results. One bad file stops nothing. Thread-safe.
#pragma once

#include "evaluate/results.h"
#include "session/alike_reading.h"
#include "session/recipe_fill.h"

#include <map>
#include <optional>

namespace jointer {

// One number of one curve.
struct RunRow {
    std::string analysis, quantity, subject;
    double value = NAN, error = NAN;
    std::string unit, state;
    bool good = true;
};

// One curve of a file.
struct RunCurve {
    std::string dataset;
    std::vector<Attribute> attributes;
    std::string lines; // of the file, "3-2002"
    std::vector<RunRow> rows;
    std::vector<std::string> doubts; // why it should be looked at; empty: nothing is in doubt
    double scatter = NAN;            // standard deviation of the residuals of its first fit
    double runsP = NAN;              // of the runs test of the residuals, the least of its fits
    // What tests of the residuals say that depends on the recipe as much as on the curve, by their codes.
    std::map<std::string, std::string> tested;
};

struct RunFile {
    std::string file;
    std::string stamp{};           // of the file as it was read
    std::optional<Issue> failed{}; // why there is no result
    std::vector<RunCurve> curves{};
    std::vector<Issue> issues{};

    bool isGood() const; // nothing failed, nothing is in doubt
};

// Size and time of a file: another content has another one.
std::string stampOf(const std::string& file);

// What the analyses of one dataset tell, and what is in doubt of them. Computes what is not remembered.
RunCurve runCurve(const Project& project, DatasetId dataset, evaluate::Evaluator& evaluator,
                  const Cancellation& stop = {});

// Whether each file begins where the one before ended, so that they go one after the other.
bool isChained(const Recipe& recipe);

// The projects of the last file, for figures and curves to be written.
using RunProjects = std::vector<FilledRecipe>;

class RecipeRun {
public:
    // The recipe with its further inputs read from files, by their names. Errors: "input" where one is
    // missing or is not of the recipe, and those of reading.
    static Result<RecipeRun> make(Recipe recipe, const std::map<std::string, std::string>& inputs);

    // Attributes from a list of samples (sample_list.h), by the names of the files. Errors: "no-names".
    // Issues: files that the list does not name, names of no file.
    Result<std::vector<Issue>> setSamples(const Table& list, const std::vector<std::string>& files);

    const Recipe& recipe() const { return recipe_; }
    // Never fails: what goes wrong is told in the result. `before`: the projects of the file before, where
    // the recipe begins from these; replaced by those of this file.
    RunFile run(const std::string& file, RunProjects& projects, const Cancellation& stop = {}) const;

    evaluate::Evaluator& evaluator() const { return *evaluator_; }

private:
    explicit RecipeRun(Recipe recipe) : recipe_(std::move(recipe)) {}
    void begin(FilledRecipe& filled, const FilledRecipe* before, const Cancellation& stop) const;

    Recipe recipe_;
    std::map<std::string, std::vector<Attribute>> samples_; // by names of files without their endings
    // One for all files: what hangs on further inputs only is computed once.
    std::shared_ptr<evaluate::Evaluator> evaluator_ = std::make_shared<evaluate::Evaluator>(32u << 20);
    std::shared_ptr<AlikeReading> reading_ = std::make_shared<AlikeReading>();
};

// What analyses have reached, by those that are to begin there.
using Reached = std::map<AnalysisId, evaluate::AnalysisOutcome>;
Project begunAt(const Project& project, const Reached& reached);
// Of a chained recipe: whether a dataset goes on with what begins where the last ended, which is told, or by
// where it stands better.
bool goesOnWith(const Project& begun, const Recipe& recipe, const Project& plain, DatasetId dataset,
                evaluate::Evaluator& evaluator, const Cancellation& stop = {});

// Why curves do not look like their family: a scatter far from that of the others, a place that jumped (both
// from five curves on), a pattern of the residuals that chance would hardly make in so many; for each curve.
// Places are quantities called "centre". What tests say of most curves is no doubt of one: it is told once,
// by the latter.
std::vector<std::vector<std::string>> familyDoubts(const std::vector<const RunCurve*>& curves);
std::vector<std::string> familyRemarks(const std::vector<const RunCurve*>& curves);

// "site=North; age=28 d"
std::string attributesText(const std::vector<Attribute>& attributes);

} // namespace jointer
