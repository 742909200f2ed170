// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/recipe_run.h"

#include "analyses/begin_again.h"
#include "analyses/fit_analysis.h"
#include "base/text.h"
#include "fit/quality.h"
#include "io/joined_moments.h"
#include "session/import.h"
#include "session/sample_list.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>

namespace jointer {

namespace {

std::string startsOf(const Recipe& recipe) {
    return recipeSettings().text(recipe.settings, "starts");
}

// The analyses that are told for the curve: those that take it, without what only holds start values.
std::vector<std::shared_ptr<const Analysis>> toldAnalyses(const Project& project, DatasetId dataset) {
    auto all = analysesOf(project, dataset);
    std::erase_if(all, [](const auto& a) { return a->settings.flag("hold"); });
    return all;
}

double qualityOf(const analyses::AnalysisResult& result, std::string_view key) {
    const auto at = std::ranges::find(result.quality, key, &analyses::Quantity::key);
    return at == result.quality.end() ? std::nan("") : at->value;
}

// How well a dataset stands: analyses that failed or are in doubt first, then what the fits left.
struct Standing {
    int failed = 0, doubtful = 0;
    double left = 0; // sum of the logarithms of the residual standard deviations
    auto operator<=>(const Standing&) const = default;
};

Standing standingOf(const Project& project, DatasetId dataset, evaluate::Evaluator& evaluator,
                    const Cancellation& stop) {
    Standing out;
    for (const auto& a : toldAnalyses(project, dataset)) {
        const auto outcome = evaluator.analysis(project, *a, {.stop = stop});
        if (!outcome.exists())
            ++out.failed;
        else {
            if (!outcome.good()) ++out.doubtful;
            if (const double sd = qualityOf(*outcome, "residual_sd"); std::isfinite(sd))
                out.left += std::log(sd);
        }
    }
    return out;
}

void giveAttributes(FilledRecipe& filled, const std::vector<Attribute>& given) {
    Dataset d = *filled.project.datasets.find(filled.dataset);
    for (const Attribute& a : given) setAttribute(d.attributes, a);
    filled.project.datasets = filled.project.datasets.with(std::move(d));
}

} // namespace

bool RunFile::isGood() const {
    return !failed && std::ranges::all_of(curves, [](const RunCurve& c) { return c.doubts.empty(); });
}

std::string attributesText(const std::vector<Attribute>& attributes) {
    std::vector<std::string> out;
    for (const Attribute& a : attributes)
        out.push_back(a.name + "=" + a.value + (a.unit.empty() ? "" : " " + a.unit));
    return joined(out, "; ");
}

Result<RecipeRun> RecipeRun::make(Recipe recipe, const std::map<std::string, std::string>& inputs) {
    for (const auto& [name, file] : inputs)
        if (std::ranges::none_of(recipe.inputs, [&](const auto& in) { return in.name == name; }))
            return failure("input", fmt::format("The recipe takes no “{}”.", name));
    for (std::size_t i = 1; i < recipe.inputs.size(); ++i) {
        const RecipeInput& in = recipe.inputs[i];
        const auto at = inputs.find(in.name);
        if (at == inputs.end())
            return failure(
                "input",
                fmt::format("The recipe takes “{0}”: give its file by --with \"{0}=FILE\".", in.name));
        auto reading = io::readFileAs(at->second, readingOf(recipe, in.dataset));
        if (reading) io::joinMoments(*reading, readingOf(recipe, in.dataset));
        if (!reading) return std::unexpected(reading.error());
        auto made = filled(recipe, in.name, *reading, at->second);
        if (!made) return std::unexpected(made.error());
        recipe.parts = std::make_shared<const Project>(std::move(made->project));
    }
    const auto data = recipe.parts->datasets.find(recipe.inputs.front().dataset);
    if (!recipe.parts->tables.find(data->source.table))
        return failure("takes-no-file",
                       "The data of this recipe are no file: run it on datasets of a project.");
    return RecipeRun(std::move(recipe));
}

Result<std::vector<Issue>> RecipeRun::setSamples(const Table& list, const std::vector<std::string>& files) {
    Project names;
    for (const std::string& file : files)
        names.datasets = names.datasets.with({.id = names.newId<DatasetId>(), .name = nameFromPath(file)});
    const auto samples = sampleList(names, list);
    if (!samples) return std::unexpected(samples.error());
    const auto named = samples->edit.apply(names);
    if (!named) return std::unexpected(named.error());
    for (const auto& d : named->datasets) samples_[d->name] = d->attributes;
    std::vector<Issue> out;
    if (!samples->unnamed.empty())
        out.push_back(
            {"no-names", "The list of samples does not name " + joined(samples->unnamed, ", ") + ".", {}});
    if (!samples->unknown.empty())
        out.push_back(
            {"no-names",
             "The list of samples names what no file is called: " + joined(samples->unknown, ", ") + ".",
             {}});
    return out;
}

bool isChained(const Recipe& recipe) {
    return startsOf(recipe) != "recipe";
}

std::string stampOf(const std::string& file) {
    std::error_code error;
    const auto size = std::filesystem::file_size(file, error);
    if (error) return "gone";
    const auto time = std::filesystem::last_write_time(file, error);
    return fmt::format("{} {}", size, time.time_since_epoch().count());
}

Project begunAt(const Project& project, const Reached& reached) {
    Project out = project;
    for (const auto& [id, last] : reached) {
        const auto a = project.analyses.find(id);
        if (!a || !last.good()) continue;
        Analysis begun = *a;
        analyses::beginAt(begun, *last);
        out.analyses = out.analyses.with(std::move(begun));
    }
    return out;
}

bool goesOnWith(const Project& begun, const Recipe& recipe, const Project& plain, DatasetId dataset,
                evaluate::Evaluator& evaluator, const Cancellation& stop) {
    return startsOf(recipe) == "previous" ||
           standingOf(begun, dataset, evaluator, stop) < standingOf(plain, dataset, evaluator, stop);
}

void RecipeRun::begin(FilledRecipe& filled, const FilledRecipe* before, const Cancellation& stop) const {
    if (!before || !isChained(recipe_)) return;
    Reached reached;
    for (const auto& a : before->project.analyses) reached[a->id] = evaluator_->analysis(before->project, *a);
    Project begun = begunAt(filled.project, reached);
    if (goesOnWith(begun, recipe_, filled.project, filled.dataset, *evaluator_, stop))
        filled.project = std::move(begun);
}

RunCurve runCurve(const Project& project, DatasetId dataset, evaluate::Evaluator& evaluator,
                  const Cancellation& stop) {
    const auto d = project.datasets.find(dataset);
    if (!d) return {};
    RunCurve out{.dataset = d->name, .attributes = d->attributes};
    if (const auto t = project.tables.find(d->source.table); t && t->rowCount() > 0 && t->rows->line(0) > 0)
        out.lines = fmt::format("{}-{}", t->rows->line(0), t->rows->line(t->rowCount() - 1));
    const auto doubt = [&](const std::string& text) {
        if (std::ranges::find(out.doubts, text) == out.doubts.end()) out.doubts.push_back(text);
    };
    for (const auto& a : toldAnalyses(project, dataset)) {
        const auto outcome = evaluator.analysis(project, *a, {.stop = stop});
        const std::string name = analyses::nameOf(*a);
        if (!outcome.exists()) {
            out.rows.push_back({.analysis = name,
                                .quantity = {},
                                .subject = {},
                                .unit = {},
                                .state = "failed",
                                .good = false});
            doubt(outcome.result.error().text);
            continue;
        }
        if (std::isnan(out.scatter)) out.scatter = qualityOf(*outcome, "residual_sd");
        for (evaluate::ResultRow& row : evaluate::rowsOf(*a, outcome)) {
            std::ranges::replace(row.state, ' ', '-');
            out.rows.push_back({name, std::move(row.quantity), std::move(row.subject), row.value, row.error,
                                std::move(row.unit), std::move(row.state), row.good});
        }
        const bool told = outcome->state == "converged" || outcome->state == "done"; // by what follows
        if (!outcome->good && !told) doubt(name + ": " + outcome->state + ".");
        const analyses::FitDetail* fit = analyses::fitDetail(*outcome);
        for (const Issue& issue : outcome->issues) {
            if (fit &&
                issue.code == "residuals-not-random") // some of many are so by chance: the family tells
                out.runsP = std::fmin(out.runsP, fit->report.runsP);
            else if (issue.code == "uneven-scatter" || issue.code == "lack-of-fit")
                out.tested.emplace(issue.code, issue.text);
            else
                doubt(issue.text);
        }
    }
    for (const Issue& issue : evaluator.protocol(project, dataset, {.stop = stop}).issues) doubt(issue.text);
    return out;
}

RunFile RecipeRun::run(const std::string& file, RunProjects& projects, const Cancellation& stop) const {
    RunFile out{.file = file, .stamp = stampOf(file)};
    const auto reading = reading_->read(file, readingOf(recipe_, recipe_.inputs.front().dataset), stop);
    if (!reading) {
        out.failed = reading.error();
        return out;
    }
    auto all = filledWithData(recipe_, *reading, file);
    if (!all) {
        out.failed = all.error();
        return out;
    }
    out.issues = reading->issues;
    for (std::size_t i = 0; i < all->size(); ++i) {
        FilledRecipe& one = (*all)[i];
        if (const auto known = samples_.find(nameFromPath(file)); known != samples_.end())
            giveAttributes(one, known->second);
        const FilledRecipe* before = i > 0 ? &(*all)[i - 1] : projects.empty() ? nullptr : &projects.back();
        begin(one, before, stop);
        out.curves.push_back(runCurve(one.project, one.dataset, *evaluator_, stop));
        for (const Issue& issue : one.issues) out.curves.back().doubts.push_back(issue.text);
    }
    projects = std::move(*all);
    return out;
}

namespace {

constexpr std::size_t kFamily = 5;  // fewest curves that are one
constexpr double kFarOut = 5;       // standard deviations
constexpr double kScatterRatio = 2; // at least, and as many times less
constexpr double kRunsP = 0.01;     // of the runs test of one curve
constexpr double kRunsOfAll = 0.05; // chance that any of all curves is told without reason

double medianOf(std::vector<double> values) {
    std::ranges::sort(values);
    return values.empty() ? std::nan("") : stats::quantile(values, 0.5);
}

// The tests that say the same of most curves, and of how many.
std::map<std::string, std::size_t> sharedTests(const std::vector<const RunCurve*>& curves) {
    std::map<std::string, std::size_t> counts;
    for (const RunCurve* c : curves)
        for (const auto& [code, text] : c->tested) ++counts[code];
    std::erase_if(counts, [&](const auto& c) { return c.second < kFamily || 2 * c.second <= curves.size(); });
    return counts;
}

// One number of a peak, of all curves that have it.
struct Followed {
    std::vector<std::size_t> curves;
    std::vector<double> places, widths;
};

} // namespace

std::vector<std::vector<std::string>> familyDoubts(const std::vector<const RunCurve*>& curves) {
    std::vector<std::vector<std::string>> out(curves.size());
    std::vector<double> scatters;
    std::map<std::pair<std::string, std::string>, Followed> peaks; // by analysis and subject
    for (std::size_t i = 0; i < curves.size(); ++i) {
        if (curves[i]->scatter > 0) scatters.push_back(std::log(curves[i]->scatter));
        for (const RunRow& r : curves[i]->rows) {
            if (r.quantity == "fwhm" && r.value > 0) peaks[{r.analysis, r.subject}].widths.push_back(r.value);
            if (r.quantity != "centre" || !std::isfinite(r.value)) continue;
            Followed& peak = peaks[{r.analysis, r.subject}];
            peak.curves.push_back(i);
            peak.places.push_back(r.value);
        }
    }
    if (scatters.size() >= kFamily) {
        const double usual = medianOf(scatters),
                     far = std::max(kFarOut * stats::robustSd(scatters), std::log(kScatterRatio));
        for (std::size_t i = 0; i < curves.size(); ++i)
            if (const double away = std::log(curves[i]->scatter) - usual; std::abs(away) > far)
                out[i].push_back(
                    fmt::format("The residuals scatter {:.2g} times {} than those of the others.",
                                std::exp(std::abs(away)), away > 0 ? "more" : "less"));
    }
    const auto shared = sharedTests(curves);
    for (std::size_t i = 0; i < curves.size(); ++i)
        for (const auto& [code, text] : curves[i]->tested)
            if (!shared.contains(code)) out[i].push_back(text);
    const double least =
        std::min(kRunsP, kRunsOfAll / std::max<double>(1, static_cast<double>(curves.size())));
    for (std::size_t i = 0; i < curves.size(); ++i)
        if (const double p = curves[i]->runsP; p < least) out[i].push_back(fit::notRandomText(p));
    for (const auto& [whose, peak] : peaks) {
        if (peak.places.size() < kFamily) continue;
        const double usual = medianOf(peak.places), width = peak.widths.empty() ? 0 : medianOf(peak.widths);
        const double far = std::max(kFarOut * stats::robustSd(peak.places), width / 2);
        for (std::size_t k = 0; k < peak.places.size(); ++k)
            if (std::abs(peak.places[k] - usual) > far)
                out[peak.curves[k]].push_back(
                    fmt::format("Peak {} jumped: it stands at {}, those of the others at {}.", whose.second,
                                readableNumber(peak.places[k]), readableNumber(usual)));
    }
    return out;
}

std::vector<std::string> familyRemarks(const std::vector<const RunCurve*>& curves) {
    std::vector<std::string> out;
    for (const auto& [code, count] : sharedTests(curves)) {
        const auto first =
            std::ranges::find_if(curves, [&](const RunCurve* c) { return c->tested.contains(code); });
        out.push_back(fmt::format("In {} of {} curves: {}", count, curves.size(), (*first)->tested.at(code)));
    }
    return out;
}

} // namespace jointer
