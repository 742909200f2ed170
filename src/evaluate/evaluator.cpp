// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/evaluator.h"

#include "base/text.h"
#include "evaluate/report_json.h"
#include "formula/program.h"
#include "models/catalogue.h"

#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace jointer::evaluate {

// What a memo entry of a step holds.
struct RememberedStep {
    steps::StepOutput output;
    std::vector<Issue> issues;
    Digest digest;
};

namespace {

std::size_t bytesOf(const Curve& c) {
    return sizeof c +
           sizeof(double) * (c.x.size() * (2 + c.replicates.size()) + c.sigma.size() + c.sigmaX.size()) +
           c.excluded.size() + 4 * c.rowIds.size();
}


const Column* columnOf(const Table& table, const DatasetSource& source, Role role) {
    const auto at = std::ranges::find(source.roles, role, &RoleBinding::role);
    const Column* c = at == source.roles.end() ? nullptr : table.find(at->column);
    return c && c->isNumeric() ? c : nullptr;
}

double cellOr(const Column* c, std::size_t row, double fallback) {
    return c && row < c->numbers().size() ? c->numbers()[row] : fallback;
}

AxisMeaning meaningOf(const Column& c) {
    return {c.name, c.unit, c.kind == ColumnKind::DateTime || c.kind == ColumnKind::Date};
}

// Standard uncertainties by the rule that the dataset states.
void addUncertainty(Curve& c, const Settings& rule, const std::vector<double>& errorColumn) {
    const std::string kind = rule.text("uncertainty", errorColumn.empty() ? "none" : "column");
    const double amount = rule.number("amount", 0.05);
    const auto n = c.size();
    if (kind == "column" && !errorColumn.empty())
        c.sigma = errorColumn, c.sigmaSource = "from the column of uncertainties";
    if (kind == "fraction") {
        for (double y : c.y) c.sigma.push_back(amount * std::abs(y));
        c.sigmaSource = fmt::format("{} % of y", readableNumber(100 * amount));
    }
    if (kind == "counting") {
        for (double y : c.y) c.sigma.push_back(std::sqrt(std::max(y, 1.0)));
        c.sigmaSource = "square root of the counts";
    }
    if (kind == "constant") c.sigma.assign(n, amount), c.sigmaSource = "the same for all points";
    if ((kind == "sd" || kind == "sem") && c.replicates.size() > 1) {
        for (std::size_t i = 0; i < n; ++i) {
            double sum = 0, present = 0;
            for (const auto& r : c.replicates)
                if (std::isfinite(r[i])) sum += (r[i] - c.y[i]) * (r[i] - c.y[i]), ++present;
            const double sd = present > 1 ? std::sqrt(sum / (present - 1)) : std::nan("");
            c.sigma.push_back(kind == "sd" ? sd : sd / std::sqrt(present));
        }
        c.sigmaSource = kind == "sd" ? "SD of the replicates" : "SEM of the replicates";
    }
}

Curve curveFromColumns(const Table& table, const Dataset& d, std::vector<Issue>& issues) {
    Curve c;
    std::vector<const Column*> ys;
    for (const RoleBinding& b : d.source.roles)
        if (const Column* y = b.role == Role::Y ? table.find(b.column) : nullptr; y && y->isNumeric())
            ys.push_back(y);
    const Column* x = columnOf(table, d.source, Role::X);
    if (ys.empty()) {
        issues.push_back(
            {"no-y", fmt::format("The dataset “{}” has no column of numbers as y.", d.name), {}});
        return c;
    }
    const Column *error = columnOf(table, d.source, Role::YError),
                 *errorX = columnOf(table, d.source, Role::XError);
    std::vector<std::size_t> rows(ys[0]->numbers().size());
    std::iota(rows.begin(), rows.end(), 0);
    auto xOf = [&](std::size_t row) {
        return x ? cellOr(x, row, std::nan("")) : static_cast<double>(row + 1);
    };
    std::erase_if(rows, [&](std::size_t row) { return !std::isfinite(xOf(row)); });
    if (x && !std::ranges::is_sorted(rows, {}, xOf)) std::ranges::stable_sort(rows, {}, xOf);

    if (ys.size() > 1) c.replicates.resize(ys.size());
    std::vector<double> errors;
    for (std::size_t row : rows) {
        c.x.push_back(xOf(row));
        c.rowIds.push_back(table.rows->id(row));
        double sum = 0, present = 0;
        for (std::size_t k = 0; k < ys.size(); ++k) {
            const double y = cellOr(ys[k], row, std::nan(""));
            if (ys.size() > 1) c.replicates[k].push_back(y);
            if (std::isfinite(y)) sum += y, ++present;
        }
        c.y.push_back(present > 0 ? sum / present : std::nan(""));
        if (error) errors.push_back(std::abs(cellOr(error, row, std::nan(""))));
        if (errorX) c.sigmaX.push_back(std::abs(cellOr(errorX, row, std::nan(""))));
    }
    if (x)
        c.xMeaning = meaningOf(*x);
    else
        c.xMeaning.name = "row";
    c.yMeaning = meaningOf(*ys[0]);
    addUncertainty(c, d.source.settings, errors);
    return c;
}

fit::ParameterSpec specOf(const ParameterChoice& p) {
    fit::ParameterSpec s{.name = p.name, .start = p.start, .lower = p.lower, .upper = p.upper, .tie = p.tie};
    if (p.treatment == "fixed") s.treatment = fit::Treatment::Fixed;
    if (p.treatment == "tied") s.treatment = fit::Treatment::Tied;
    return s;
}

void addModel(Hasher& h, const ModelNode& m) {
    h.add(m.kind).add(m.children.size());
    m.settings.addTo(h);
    if (const models::ModelKind* kind = models::findModel(m.kind)) h.add(kind->info.version);
    for (const ModelNode& child : m.children) addModel(h, child);
}

void addParameters(Hasher& h, const std::vector<ParameterChoice>& list) {
    h.add(list.size());
    for (const ParameterChoice& p : list)
        h.add(p.name)
            .add(p.treatment)
            .add(p.start.has_value())
            .add(p.start.value_or(0))
            .add(p.lower)
            .add(p.upper)
            .add(p.tie);
}

// What depends on the axes and the protocol, not on the problem: units, and the warning about smoothed
// points.
void finishReport(fit::FitReport& r, const Curve& c, bool smoothed) {
    for (fit::DerivedResult& d : r.derived)
        d.unit = models::unitText(d.unit, c.xMeaning.unit, c.yMeaning.unit);
    if (smoothed)
        r.warnings.push_back({"smoothed-points",
                              "The fit takes smoothed points: their errors are not independent, so the "
                              "uncertainties are too small.",
                              {}});
}

constexpr int kFitVersion = 1; // raised when fits change their numbers

} // namespace

const StepResult& ProtocolResult::at(std::string_view point) const {
    if (point == "measured") return stages.front();
    if (point == "before-smoothing") return unsmoothed ? *unsmoothed : stages.back();
    const StepId step = StepId::fromText(point);
    for (const StepResult& s : stages)
        if (step && s.step == step) return s;
    return stages.back();
}

Digest Evaluator::digestOfCells(const std::shared_ptr<const Cells>& cells) {
    {
        const std::lock_guard lock(mutex_);
        const auto at = digests_.find(cells.get());
        if (at != digests_.end() && at->second.first.lock() == cells) return at->second.second;
    }
    const Digest d = digestOf(*cells);
    const std::lock_guard lock(mutex_);
    std::erase_if(digests_, [](const auto& e) { return e.second.first.expired(); });
    digests_[cells.get()] = {cells, d};
    return d;
}

std::shared_ptr<const Cells> Evaluator::computedCells(const Project& project, const Table& table,
                                                      const Column& column, std::vector<ColumnId>& path,
                                                      std::vector<Issue>& issues) {
    if (column.formula.empty()) return column.cells;
    auto refuse = [&](const std::string& why) {
        issues.push_back({"formula", why, {.column = column.name}});
        return std::make_shared<const Cells>(
            Cells{.numbers = std::vector<double>(table.rowCount(), std::nan("")),
                  .texts = {},
                  .states = {},
                  .originals = {}});
    };
    if (std::ranges::find(path, column.id) != path.end()) {
        std::vector<std::string> names;
        for (auto at = std::ranges::find(path, column.id); at != path.end(); ++at)
            names.push_back(table.find(*at)->name);
        names.push_back(column.name);
        return refuse("These columns need each other in a circle: " + joined(names, " → ") + ".");
    }
    const auto expression = formula::Expression::parse(column.formula);
    if (!expression) return refuse(expression.error().text);

    path.push_back(column.id);
    std::vector<std::string> names;
    std::vector<std::shared_ptr<const Cells>> sources;
    Hasher h;
    h.add("column").add(column.formula);
    std::size_t rows = 0;
    for (const Column& c : table.columns)
        if (c.formula.empty()) rows = std::max(rows, c.cells->size());
    for (const std::string& name : expression->names()) {
        if (name == "row") continue;
        const Column* from = table.find(ColumnId::fromText(name));
        if (!from) from = table.findByName(name);
        if (!from || !from->isNumeric()) {
            path.pop_back();
            return refuse(
                fmt::format("There is no column of numbers called “{}” in this table; columns are {}.", name,
                            columnNames(table)));
        }
        sources.push_back(computedCells(project, table, *from, path, issues));
        names.push_back(name);
        h.add(name).add(digestOfCells(sources.back()));
    }
    path.pop_back();
    const Digest key = h.add(rows).digest();
    if (auto known = memo_.find<Cells>(key)) return known;

    std::vector<double> rowNumbers(rows);
    std::iota(rowNumbers.begin(), rowNumbers.end(), 1.0);
    std::vector<std::vector<double>> padded;
    padded.reserve(sources.size());
    std::vector<std::span<const double>> inputs;
    for (const auto& s : sources) {
        padded.push_back(s->numbers);
        padded.back().resize(rows, std::nan(""));
        inputs.emplace_back(padded.back());
    }
    names.push_back("row");
    inputs.emplace_back(rowNumbers);
    const auto program = formula::Program::compile(*expression, names, {}, formula::Differentiate::Nothing);
    if (!program) return refuse(program.error().text);
    auto cells = std::make_shared<Cells>();
    cells->numbers.resize(rows);
    program->evaluate(inputs, {}, cells->numbers);
    memo_.put<Cells>(key, cells, rows * sizeof(double));
    return cells;
}

Outcome<Table> Evaluator::table(const Project& project, TableId id) {
    const auto table = project.tables.find(id);
    if (!table) return {{}, {{"table-gone", "The table is no longer there.", {}}}};
    Outcome<Table> out{*table, {}};
    for (std::size_t i = 0; i < table->columns.size(); ++i) {
        std::vector<ColumnId> path;
        out.value.columns[i].cells = computedCells(project, *table, table->columns[i], path, out.issues);
    }
    return out;
}

std::shared_ptr<const RememberedStep> Evaluator::source(const Project& project, const Dataset& d, std::vector<Issue>& issues) {
    auto filled = table(project, d.source.table);
    Hasher h;
    h.add("measured").add(d.source.kind).add(d.source.roles.size());
    for (const RoleBinding& b : d.source.roles) {
        const Column* c = filled.value.find(b.column);
        h.add(static_cast<int>(b.role)).add(c != nullptr);
        if (c) h.add(digestOfCells(c->cells)).add(c->name).add(c->unit).add(static_cast<int>(c->kind));
    }
    d.source.settings.addTo(h);
    h.add(filled.value.rows->ids.size());
    for (std::uint32_t id : filled.value.rows->ids) h.add(id);
    const Digest key = h.digest();
    issues = std::move(filled.issues);
    if (auto known = memo_.find<RememberedStep>(key)) return known;
    auto made = std::make_shared<RememberedStep>();
    made->output.curve = curveFromColumns(filled.value, d, issues);
    made->digest = digestOf(made->output.curve);
    memo_.put<RememberedStep>(key, made, bytesOf(made->output.curve));
    return made;
}

Outcome<std::shared_ptr<const Curve>> Evaluator::measured(const Project& project, const Dataset& d) {
    Outcome<std::shared_ptr<const Curve>> out;
    const auto known = source(project, d, out.issues);
    out.value = std::shared_ptr<const Curve>(known, &known->output.curve);
    return out;
}

ProtocolResult Evaluator::protocol(const Project& project, DatasetId id) {
    ProtocolResult out;
    const auto dataset = project.datasets.find(id);
    std::shared_ptr<const RememberedStep> first = std::make_shared<RememberedStep>();
    if (dataset) first = source(project, *dataset, out.issues);
    else out.issues.push_back({"dataset-gone", "The dataset is no longer there.", {}});
    out.stages.push_back({.step = {}, .on = true, .output = std::shared_ptr<const steps::StepOutput>(first, &first->output), .issues = {}, .digest = first->digest});
    if (!dataset) return out;

    // One chain with all steps, and one that passes over those that smooth, for fits.
    auto applyStep = [&](const Step& step, const StepResult& before) {
        Hasher h;
        const steps::StepKind* kind = steps::findStep(step.kind);
        h.add("step").add(step.kind).add(kind ? kind->info.version : 0).add(before.digest);
        step.settings.addTo(h);
        const Digest key = h.digest();
        auto known = memo_.find<RememberedStep>(key);
        if (!known) {
            auto applied = steps::apply(step.kind, before.curve(), step.settings);
            auto made = std::make_shared<RememberedStep>(
                RememberedStep{std::move(applied.value), std::move(applied.issues), {}});
            made->digest = digestOf(made->output.curve);
            memo_.put<RememberedStep>(key, made,
                                      bytesOf(made->output.curve) + 16 * made->output.takenX.size());
            known = made;
        }
        return StepResult{step.id, true, std::shared_ptr<const steps::StepOutput>(known, &known->output),
                          known->issues, known->digest};
    };
    std::shared_ptr<StepResult> unsmoothed;
    for (const Step& step : dataset->protocol) {
        const StepResult before = out.stages.back();
        if (!step.on) {
            StepResult same = before;
            same.step = step.id;
            same.on = false;
            out.stages.push_back(std::move(same));
            continue;
        }
        const steps::StepKind* kind = steps::findStep(step.kind);
        const bool smooths = kind && kind->smooths;
        if (smooths && !unsmoothed)
            unsmoothed = std::make_shared<StepResult>(before);
        else if (!smooths && unsmoothed)
            *unsmoothed = applyStep(step, *unsmoothed);
        out.stages.push_back(applyStep(step, before));
    }
    out.unsmoothed = unsmoothed;
    return out;
}

Result<models::ModelPtr> modelOf(const ModelNode& node) {
    if (node.kind == "equation") return models::equationModel(node.settings.text("equation"));
    return models::makeModel(node.kind, node.settings);
}

FitResult Evaluator::fit(const Project& project, const Analysis& analysis, const Request& request) {
    FitResult out;
    auto refuse = [&](Issue issue) {
        out.report = std::unexpected(std::move(issue));
        return out;
    };
    if (analysis.inputs.empty()) return refuse({"no-input", "This fit has no dataset.", {}});
    const AnalysisInput& input = analysis.inputs.front();
    const ProtocolResult chain = protocol(project, input.dataset);
    const StepResult& stage = chain.at(input.point);
    out.points = std::shared_ptr<const Curve>(stage.output, &stage.output->curve);
    const Curve& c = *out.points;
    auto model = modelOf(analysis.model);
    if (!model) return refuse(model.error());
    out.model = *model;

    fit::FitProblem problem{.model = *model, .predictors = {{}}};
    const std::string weights = input.weights.text("weights", c.sigma.empty() ? "none" : "absolute");
    const bool weighted = weights != "none" && !c.sigma.empty();
    problem.absolute = weights == "absolute" && weighted;
    out.weightsNote =
        !weighted ? "all points count alike" : c.sigmaSource + (problem.absolute ? "" : ", relative");
    const bool separate = !c.replicates.empty() && !weighted; // each replicate is an observation of its own
    out.used.assign(c.size(), 0);
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < input.low || c.x[i] > input.high) continue;
        out.used[i] = 1;
        auto observe = [&](double y) {
            if (!std::isfinite(y)) return;
            problem.predictors[0].push_back(c.x[i]);
            problem.y.push_back(y);
            if (weighted) problem.sigma.push_back(c.sigma[i]);
        };
        if (!separate)
            observe(c.y[i]);
        else
            for (const auto& r : c.replicates) observe(r[i]);
    }
    for (const ParameterChoice& p : analysis.parameters) problem.parameters.push_back(specOf(p));
    const double level = analysis.settings.number("level", 0.95);

    Hasher h;
    h.add("fit")
        .add(kFitVersion)
        .add(level)
        .add(analysis.settings.integer("iterations", 500))
        .add(problem.absolute);
    addModel(h, analysis.model);
    addParameters(h, analysis.parameters);
    h.add(std::span<const double>(problem.predictors[0]))
        .add(std::span<const double>(problem.y))
        .add(std::span<const double>(problem.sigma));
    h.add(c.xMeaning.unit).add(c.yMeaning.unit);
    out.key = h.digest();

    if (analysis.settings.flag("hold")) { // start values are shown as they stand
        out.report =
            fit::fit(problem, {.level = level, .maxIterations = 0, .provisional = true}, request.stop);
        return out;
    }
    const bool smoothed =
        input.point == "end" && chain.unsmoothed && chain.unsmoothed->digest != stage.digest;
    if (auto known = memo_.find<fit::FitReport>(out.key)) {
        out.report = *known;
        finishReport(*out.report, c, smoothed);
        return out;
    }
    const Digest storedKey = Hasher().add("stored").add(out.key).digest(); // a stored report is read once
    if (auto known = memo_.find<fit::FitReport>(storedKey)) {
        out.report = *known;
        return out;
    }
    std::string storedText;
    {
        const std::lock_guard lock(mutex_);
        if (const auto at = stored_.find(out.key); at != stored_.end()) storedText = at->second;
    }
    if (!storedText.empty()) out.report = reportFromText(storedText, problem);
    if (out.good())
        memo_.put<fit::FitReport>(storedKey, std::make_shared<fit::FitReport>(*out.report),
                                  16 * out.report->fitted.size() + 4096);
    if (!out.good()) {
        const fit::FitOptions options{.level = level,
                                      .maxIterations = analysis.settings.integer("iterations", 500),
                                      .provisional = request.provisional};
        out.report = request.provisional ? fit::fit(problem, options, request.stop)
                                         : computeOnce(problem, options, out.key, request.stop);
        if (!out.good()) return out;
        finishReport(*out.report, c, smoothed);
    }
    return out;
}

fit::Prediction FitResult::sample(const std::vector<double>& xs) const {
    const std::span<const double> column(xs);
    return fit::predict(*model, *report, {&column, 1});
}

// Several panes ask for the same fit at once: the first computes it, the others wait and take its report.
Result<fit::FitReport> Evaluator::computeOnce(const fit::FitProblem& problem, const fit::FitOptions& options,
                                              const Digest& key, const Cancellation& stop) {
    std::stop_token own;
    {
        std::unique_lock lock(mutex_);
        finished_.wait(lock, [&] { return !running_.contains(key); });
        if (const auto at = stopped_.find(key); at != stopped_.end()) return at->second;
        if (auto known = memo_.find<fit::FitReport>(key)) return *known;
        running_.insert(key);
        ++runningCount_;
        own = stop_.get_token();
    }
    // Ends when this request is given up or when all fits are to stop.
    std::stop_source both;
    const auto end = [&both] { both.request_stop(); };
    const std::stop_callback byRequest(stop, end), byUser(own, end);
    auto report = fit::fit(problem, options, both.get_token());
    const std::lock_guard lock(mutex_);
    if (report && report->state == fit::FitState::Stopped && own.stop_requested()) stopped_[key] = *report;
    if (report && report->state != fit::FitState::Stopped)
        memo_.put<fit::FitReport>(key, std::make_shared<fit::FitReport>(*report),
                                  16 * report->fitted.size() + 4096);
    running_.erase(key);
    --runningCount_;
    finished_.notify_all();
    return report;
}

void Evaluator::stopFits() {
    const std::lock_guard lock(mutex_);
    stop_.request_stop();
    stop_ = std::stop_source();
}

void Evaluator::forgetStopped() {
    const std::lock_guard lock(mutex_);
    stopped_.clear();
}

void Evaluator::adopt(const std::map<std::string, std::string>& stored) {
    const std::lock_guard lock(mutex_);
    for (const auto& [key, text] : stored) stored_[Digest::fromHex(key)] = text;
}

std::map<std::string, std::string> Evaluator::collect(const Project& project) {
    std::map<std::string, std::string> out;
    for (const auto& a : project.analyses) {
        if (a->settings.flag("hold")) continue;
        const FitResult r = fit(project, *a);
        if (r.good() && r.report->state != fit::FitState::Stopped) out[r.key.hex()] = reportText(*r.report);
    }
    return out;
}

std::string formulaShown(std::string_view stored, const Table& table) {
    const auto expression = formula::Expression::parse(stored);
    if (!expression) return std::string(stored);
    std::string out(stored);
    for (const std::string& name : expression->names()) {
        const Column* c = table.find(ColumnId::fromText(name));
        if (!c) continue;
        const std::string quoted = "'" + name + "'";
        const auto plain = formula::Expression::parse(c->name);
        const bool isWord = plain && plain->names().size() == 1 && plain->names()[0] == c->name;
        for (std::size_t at = 0; (at = out.find(quoted, at)) != std::string::npos; at += c->name.size())
            out.replace(at, quoted.size(), isWord ? c->name : "'" + c->name + "'");
    }
    return out;
}

std::string formulaStored(std::string_view shown, const Table& table) {
    const auto expression = formula::Expression::parse(shown);
    if (!expression) return std::string(shown);
    return formula::renamed(shown, [&](const std::string& name) -> std::string {
        const Column* c = table.findByName(name);
        return c && name != "row" ? "'" + c->id.text() + "'" : std::string{};
    });
}

} // namespace jointer::evaluate
