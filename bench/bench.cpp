// SPDX-License-Identifier: GPL-3.0-or-later
// What must be fast, timed: reading, fitting, formulas, pictures, a drag on a protocol. Run by bench/run.
#include "analyses/peaks/peaks.h"
#include "base/files.h"
#include "base/memory.h"
#include "evaluate/doubt.h"
#include "evaluate/evaluator.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "fit/bootstrap.h"
#include "fit/fit.h"
#include "fit/profile.h"
#include "io/reader.h"
#include "models/catalogue.h"
#include "numerics/loess.h"
#include "numerics/smoothing_spline.h"
#include "paint/painter.h"
#include "project/edit.h"
#include "project/project_file.h"
#include "project/recipe_json.h"
#include "session/recipe_batch.h"
#include "steps/step.h"

#include <QGuiApplication>
#include <benchmark/benchmark.h>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <random>

using namespace jointer;

namespace {

const std::string& millionRows() {
    static const std::string text = [] {
        std::mt19937 random(1);
        std::uniform_real_distribution<double> value(0, 1000);
        std::string t = "c0,c1,c2,c3,c4,c5,c6,c7,c8,c9\n";
        for (int i = 0; i < 1000000; ++i)
            for (int c = 0; c < 10; ++c) t += fmt::format("{:.9f}{}", value(random), c == 9 ? '\n' : ',');
        return t;
    }();
    return text;
}

void readMillion(benchmark::State& state) {
    limitThreads(static_cast<int>(state.range(0)));
    (void)millionRows(); // made before the clock starts
    for (auto _ : state) benchmark::DoNotOptimize(io::read(millionRows(), "big.csv", {}));
    state.SetBytesProcessed(static_cast<std::int64_t>(state.iterations() * millionRows().size()));
    limitThreads(2);
}
BENCHMARK(readMillion)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

// Steps over a million evenly spaced points.
const Curve& longCurve() {
    static const Curve curve = [] {
        std::mt19937 random(3);
        std::normal_distribution<double> noise;
        Curve c;
        for (int i = 0; i < 1000000; ++i) {
            c.x.push_back(0.25 * i);
            c.y.push_back(50 + 20 * std::sin(i * 1e-4) + noise(random));
        }
        return c;
    }();
    return curve;
}

void runStep(benchmark::State& state, const char* kind, std::vector<std::pair<const char*, Value>> list) {
    Settings settings;
    for (auto& [key, value] : list) settings.set(key, value);
    (void)longCurve();
    for (auto _ : state) benchmark::DoNotOptimize(steps::apply(kind, longCurve(), settings));
}
Value word(const char* text) {
    return Value(std::string(text));
}
#define STEP(name, kind, ...)                                                                                \
    BENCHMARK_CAPTURE(runStep, name, kind, {__VA_ARGS__})->Unit(benchmark::kMillisecond)->UseRealTime()
STEP(movingAverage51, "smooth", {"method", word("moving-average")}, {"window", 51.0});
STEP(savitzkyGolay51, "smooth", {"window", 51.0}, {"degree", 3.0});
STEP(derivative51, "derivative", {"window", 51.0});
STEP(median51, "smooth", {"method", word("median")}, {"window", 51.0});
STEP(lowPass51, "smooth", {"method", word("low-pass")}, {"window", 51.0});
STEP(whittaker, "smooth", {"method", word("whittaker")}, {"smoothness", 1e4});
STEP(als, "baseline", {"method", word("als")});
STEP(despike, "despike");
STEP(outliers51, "exclude", {"outliers", true}, {"window", 51.0});
STEP(loess51, "smooth", {"method", word("loess")}, {"window", 51.0}, {"degree", 1.0});
STEP(normalise, "normalise");
STEP(logarithm, "transform", {"y-by", word("ln")});
STEP(dailyMeans, "resample", {"every", 96.0}, {"by", word("bins")});

// A protocol of five steps over ten thousand points, computed anew each time.
void fiveSteps(benchmark::State& state) {
    Curve c;
    for (std::size_t i = 0; i < 10000; ++i) c.x.push_back(longCurve().x[i]), c.y.push_back(longCurve().y[i]);
    Settings als, window, total;
    als.set("method", "als");
    window.set("window", 25);
    total.set("to", "area");
    const std::pair<const char*, Settings> protocol[] = {
        {"despike", {}}, {"baseline", als}, {"smooth", window}, {"normalise", total}, {"derivative", window}};
    for (auto _ : state) {
        Curve now = c;
        for (const auto& [kind, settings] : protocol) now = steps::apply(kind, now, settings).value.curve;
        benchmark::DoNotOptimize(now);
    }
}
BENCHMARK(fiveSteps)->Unit(benchmark::kMillisecond);

// As many bytes with two quoted columns of words among numbers.
const std::string& quotedRows() {
    static const std::string text = [] {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> value(0, 1000);
        const char* sites[] = {"north pan", "creek, upper", "south \"old\" pan", "marsh edge"};
        std::string t = "sample,site,c2,c3,c4,c5,c6,c7\n";
        for (int i = 0; t.size() < millionRows().size(); ++i) {
            std::string site = sites[random() % 4];
            for (std::size_t at = 0; (at = site.find('"', at)) != site.npos; at += 2) site.insert(at, 1, '"');
            t += fmt::format("\"shell {}\",\"{}\"", i, site);
            for (int c = 0; c < 6; ++c) t += fmt::format(",{:.9f}", value(random));
            t += '\n';
        }
        return t;
    }();
    return text;
}

void readQuoted(benchmark::State& state) {
    limitThreads(static_cast<int>(state.range(0)));
    (void)quotedRows();
    for (auto _ : state) benchmark::DoNotOptimize(io::read(quotedRows(), "big.csv", {}));
    state.SetBytesProcessed(static_cast<std::int64_t>(state.iterations() * quotedRows().size()));
    limitThreads(2);
}
BENCHMARK(readQuoted)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

fit::FitProblem sixPeaks() {
    std::string equation = "o + s*x";
    fit::FitProblem p{.members = {{}}};
    fit::FitMember& m = p.members[0];
    for (int k = 1; k <= 6; ++k) {
        equation += fmt::format(" + h{0}/(1 + 4*((x - c{0})/w{0})^2)", k);
        p.parameters.push_back({.name = fmt::format("h{}", k), .start = 90.0, .lower = 0});
        p.parameters.push_back({.name = fmt::format("c{}", k), .start = 15.0 * k + 0.4});
        p.parameters.push_back({.name = fmt::format("w{}", k), .start = 4.0, .lower = 0.1, .upper = 40});
    }
    p.parameters.push_back({.name = "o", .start = 5.0});
    p.parameters.push_back({.name = "s", .start = 0.1});
    m.model = *models::equationModel(equation);
    std::mt19937 random(2);
    std::normal_distribution<double> noise(0, 1);
    m.predictors = {{}};
    for (int i = 0; i < 2000; ++i) {
        const double x = 0.055 * i;
        double y = 4 + 0.12 * x;
        for (int k = 1; k <= 6; ++k) y += (80 + 10 * k) / (1 + 4 * std::pow((x - 15 * k) / (3 + 0.4 * k), 2));
        m.predictors[0].push_back(x);
        m.y.push_back(y + noise(random));
    }
    return p;
}

void fitSixPeaks(benchmark::State& state) {
    const fit::FitProblem p = sixPeaks();
    for (auto _ : state) {
        const auto r = fit::fit(p);
        if (!r || r->state != fit::FitState::Converged) state.SkipWithError("did not converge");
    }
}
BENCHMARK(fitSixPeaks)->Unit(benchmark::kMillisecond);

// Six Voigt lines upon a straight one, as library models in a sum.
fit::FitProblem sixVoigts(unsigned seed = 2) {
    fit::FitProblem p{.members = {{.predictors = {{}}}}};
    std::vector<models::Component> parts;
    for (int k = 1; k <= 6; ++k)
        parts.push_back({.number = k, .name = "Voigt", .model = *models::makeModel("voigt", {})});
    parts.push_back({.number = 7, .name = "Line", .model = *models::makeModel("line", {})});
    p.members[0].model = models::combiners().find("sum")->make(std::move(parts));
    std::vector<double> truth;
    for (int k = 1; k <= 6; ++k) {
        const std::vector<double> start = {15.0 * k + 0.4, 90, 2.5, 2.5};
        truth.insert(truth.end(), {15.0 * k, 80.0 + 10 * k, 2 + 0.3 * k, 1.5 + 0.2 * k});
        for (std::size_t i = 0; i < 4; ++i)
            p.parameters.push_back(
                {.name = p.members[0].model->parameters()[static_cast<std::size_t>(k - 1) * 4 + i].name,
                 .start = start[i]});
    }
    truth.insert(truth.end(), {4, 0.12});
    p.parameters.push_back({.name = "intercept_7", .start = 5.0});
    p.parameters.push_back({.name = "slope_7", .start = 0.1});
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, 1);
    for (int i = 0; i < 2000; ++i) p.members[0].predictors[0].push_back(0.055 * i);
    const std::span<const double> xs(p.members[0].predictors[0]);
    p.members[0].y.resize(xs.size());
    p.members[0].model->evaluate({&xs, 1}, truth, p.members[0].y);
    for (double& y : p.members[0].y) y += noise(random);
    return p;
}

void fitSixVoigts(benchmark::State& state) {
    const fit::FitProblem p = sixVoigts();
    for (auto _ : state) {
        const auto r = fit::fit(p);
        state.counters["iterations"] = r ? r->iterations : 0;
        if (!r || r->state != fit::FitState::Converged) state.SkipWithError("did not converge");
    }
}
BENCHMARK(fitSixVoigts)->Unit(benchmark::kMillisecond);

fit::FitProblem oneLogistic() {
    fit::FitProblem p{.members = {{.model = *models::makeModel("logistic-4", {}), .predictors = {{}}}}};
    std::mt19937 random(3);
    std::normal_distribution<double> noise(0, 0.02);
    for (int i = 0; i < 24; ++i) {
        const double x = 0.01 * std::pow(10, 5.0 * (i / 3) / 7);
        p.members[0].predictors[0].push_back(x);
        p.members[0].y.push_back(0.1 + 1.9 / (1 + std::pow(x / 5, -1.3)) + noise(random));
    }
    return p;
}

void fitLogistic(benchmark::State& state) {
    const fit::FitProblem p = oneLogistic();
    for (auto _ : state) {
        const auto r = fit::fit(p);
        state.counters["iterations"] = r ? r->iterations : 0;
    }
    state.SetItemsProcessed(state.iterations());
}
BENCHMARK(fitLogistic)->Unit(benchmark::kMicrosecond);

// A thousand members of fifty points, four parameters each, one of them shared.
fit::FitProblem thousandMembers() {
    const models::ModelPtr model = *models::makeModel("logistic-4", {});
    std::mt19937 random(4);
    std::normal_distribution<double> noise(0, 0.02);
    std::uniform_real_distribution<double> some(0.8, 1.25);
    fit::FitProblem p;
    for (int m = 0; m < 1000; ++m) {
        fit::FitMember member{.name = fmt::format("m{}", m), .model = model, .predictors = {{}}};
        const double middle = 5 * some(random), top = 2 * some(random);
        for (int i = 0; i < 50; ++i) {
            const double x = 0.01 * std::pow(10, 5.0 * i / 49);
            member.predictors[0].push_back(x);
            member.y.push_back(0.1 + (top - 0.1) / (1 + std::pow(x / middle, -1.3)) + noise(random));
        }
        p.members.push_back(std::move(member));
    }
    p.parameters = {{.name = model->parameters().back().name, .shared = true}};
    return p;
}

void fitThousandMembers(benchmark::State& state) {
    const fit::FitProblem p = thousandMembers();
    for (auto _ : state) {
        const auto r = fit::fit(p);
        if (!r || r->state != fit::FitState::Converged) state.SkipWithError("did not converge");
    }
}
BENCHMARK(fitThousandMembers)->Unit(benchmark::kMillisecond)->UseRealTime();

void profileLogistic(benchmark::State& state) {
    const fit::FitProblem p = oneLogistic();
    const auto fitted = fit::fit(p);
    for (auto _ : state) {
        fit::FitReport r = *fitted;
        benchmark::DoNotOptimize(fit::profile(p, r));
    }
}
BENCHMARK(profileLogistic)->Unit(benchmark::kMillisecond);

void bootstrapLogistic(benchmark::State& state) {
    const fit::FitProblem p = oneLogistic();
    const auto fitted = fit::fit(p);
    for (auto _ : state) {
        fit::FitReport r = *fitted;
        benchmark::DoNotOptimize(fit::bootstrap(p, r, {.count = 1000}));
    }
}
BENCHMARK(bootstrapLogistic)->Unit(benchmark::kMillisecond)->UseRealTime();

constexpr std::size_t kRows = 100000;

std::vector<double> abscissas() {
    std::vector<double> x(kRows);
    for (std::size_t i = 0; i < kRows; ++i) x[i] = 1e-4 * static_cast<double>(i);
    return x;
}

void typedEquation(benchmark::State& state) {
    const auto model = *models::equationModel("a*exp(-b*x) + c*sin(d*x)");
    const std::vector<double> x = abscissas();
    const std::span<const double> column(x);
    std::vector<double> y(kRows), gradient(4 * kRows);
    for (auto _ : state) {
        model->evaluate({&column, 1}, std::array{1.0, 0.5, 0.2, 3.0}, y, gradient);
        benchmark::DoNotOptimize(y.data());
    }
}
BENCHMARK(typedEquation)->Unit(benchmark::kMicrosecond);

void handWritten(benchmark::State& state) {
    const std::vector<double> x = abscissas();
    std::vector<double> y(kRows), gradient(4 * kRows);
    double a = 1, b = 0.5, c = 0.2, d = 3;
    for (auto _ : state) {
        benchmark::DoNotOptimize(a), benchmark::DoNotOptimize(b), benchmark::DoNotOptimize(c),
            benchmark::DoNotOptimize(d);
        for (std::size_t i = 0; i < kRows; ++i) {
            const double e = std::exp(-b * x[i]), s = std::sin(d * x[i]);
            y[i] = a * e + c * s;
            gradient[i] = e;
            gradient[kRows + i] = -a * x[i] * e;
            gradient[2 * kRows + i] = s;
            gradient[3 * kRows + i] = c * x[i] * std::cos(d * x[i]);
        }
        benchmark::DoNotOptimize(y.data());
    }
}
BENCHMARK(handWritten)->Unit(benchmark::kMicrosecond);

Project projectOf(std::size_t points) {
    std::mt19937 random(4);
    std::normal_distribution<double> noise(0, 0.05);
    std::vector<double> x, y;
    for (std::size_t i = 0; i < points; ++i) {
        x.push_back(100.0 * static_cast<double>(i) / static_cast<double>(points));
        double v = 1 + 0.01 * x.back();
        for (int k = 1; k <= 6; ++k) v += 3 / (1 + std::pow((x.back() - 15 * k) / 2, 2));
        y.push_back(v + noise(random));
    }
    Project p;
    Table t;
    t.columns = {numberColumn("x", "", x), numberColumn("y", "", y)};
    p = *edits::addTable(t).apply(p);
    Dataset d;
    d.colour = "#2f6091";
    d.source.table = p.tables[0].id;
    d.source.roles = {{Role::X, p.tables[0].columns[0].id}, {Role::Y, p.tables[0].columns[1].id}};
    return *edits::addDataset(d).apply(p);
}

// Everything from the columns to the picture, nothing remembered.
void firstPicture(benchmark::State& state) {
    const Project p = projectOf(static_cast<std::size_t>(state.range(0)));
    Figure f = figure::newFigure("F", {}, {figure::newMark("line", p.datasets[0].id.text())});
    f.settings.set("width", Value(180.0));
    f.settings.set("height", Value(120.0));
    for (auto _ : state) {
        evaluate::Evaluator e;
        const auto layout = figure::layOut(p, f, e, {.pixelsPerMm = 3.78});
        benchmark::DoNotOptimize(paint::toImage(layout.list, 96, false));
    }
}
BENCHMARK(firstPicture)->Arg(1000000)->Arg(10000000)->Unit(benchmark::kMillisecond);

// A zoom: the curve is remembered, layout and picture are made again.
void nextPicture(benchmark::State& state) {
    const Project p = projectOf(static_cast<std::size_t>(state.range(0)));
    Figure f = figure::newFigure("F", {}, {figure::newMark("line", p.datasets[0].id.text())});
    f.settings.set("width", Value(180.0));
    f.settings.set("height", Value(120.0));
    evaluate::Evaluator e;
    (void)figure::layOut(p, f, e, {.pixelsPerMm = 3.78});
    double low = 0;
    for (auto _ : state) {
        low = low > 40 ? 0 : low + 1;
        f.elements[0].children[0].settings.set("range", Value(Numbers{low, low + 30}));
        const auto layout = figure::layOut(p, f, e, {.pixelsPerMm = 3.78});
        benchmark::DoNotOptimize(paint::toImage(layout.list, 96, false));
    }
}
BENCHMARK(nextPicture)->Arg(1000000)->Arg(10000000)->Unit(benchmark::kMillisecond);

// One step of a drag: a baseline anchor moves under smoothing and a fit of six peaks, 10 000 points.
void dragOnProtocol(benchmark::State& state) {
    Project p = projectOf(10000);
    Settings baseline;
    baseline.set("anchors", Value(Numbers{0, 1, 50, 1.4, 100, 2}));
    p = *edits::addStep(p.datasets[0].id, "baseline", baseline, "").apply(p);
    p = *edits::addStep(p.datasets[0].id, "smooth", {}, "").apply(p);
    Analysis a;
    a.inputs = {{.dataset = p.datasets[0].id}};
    a.model.kind = "equation";
    std::string equation;
    for (int k = 1; k <= 6; ++k) {
        equation += fmt::format("{1}h{0}/(1 + ((x - c{0})/w{0})^2)", k, k > 1 ? " + " : "");
        a.parameters.push_back({.name = fmt::format("h{}", k), .start = 2.5});
        a.parameters.push_back({.name = fmt::format("c{}", k), .start = 15.0 * k});
        a.parameters.push_back({.name = fmt::format("w{}", k), .start = 2.5, .lower = 0.1});
    }
    a.model.settings.set("equation", Value(equation));
    p = *edits::addAnalysis(a).apply(p);
    evaluate::Evaluator e;
    double y = 1.4;
    for (auto _ : state) {
        y += 1e-4;
        p = *edits::setStep(p.datasets[0].id, p.datasets[0].protocol[0].id, "anchors",
                            Value(Numbers{0, 1, 50 + y, y, 100, 2}))
                 .apply(p);
        benchmark::DoNotOptimize(e.analysis(
            p, p.analyses[0],
            {.effort = state.range(0) == 1 ? evaluate::Effort::Provisional : evaluate::Effort::Full}));
    }
}
BENCHMARK(dragOnProtocol)->ArgName("provisional")->Arg(1)->Arg(0)->Unit(benchmark::kMillisecond);

void saveAndOpen(benchmark::State& state) {
    Project p = projectOf(6250000); // 100 MB of numbers
    const std::string path = "/tmp/jointer-bench.jointer";
    for (auto _ : state) {
        if (state.range(0) == 0)
            (void)saveProject(p, {}, path);
        else
            benchmark::DoNotOptimize(openProject(path));
    }
}
BENCHMARK(saveAndOpen)->ArgName("open")->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

// Six Voigt lines on a line as a set of peaks: found, fitted, read with errors.
void peaksSixVoigts(benchmark::State& state) {
    const fit::FitProblem p = sixVoigts();
    auto curve = std::make_shared<Curve>();
    curve->x = p.members[0].predictors[0];
    curve->y = p.members[0].y;
    Analysis spec{.kind = "peaks", .inputs = {{.dataset = DatasetId{1}}}};
    spec.model.kind = "voigt";
    const analyses::AnalysisKind kind = analyses::peaksAnalysis();
    analyses::Task task{.spec = spec};
    task.inputs.push_back({.name = "six", .curve = curve, .spec = spec.inputs[0]});
    const analyses::Taken taken = kind.take(task);
    for (auto _ : state) {
        const auto r = kind.compute(task, taken);
        if (!r || analyses::peaksDetail(*r)->plan.peaks.size() != 6) state.SkipWithError("not six peaks");
    }
}
BENCHMARK(peaksSixVoigts)->Unit(benchmark::kMillisecond);

// The doubt view of a centre of six peaks: sixty variations of span ends, weights, anchors, windows; until the first picture,
// and until all are there.
void doubtOfSixPeaks(benchmark::State& state) {
    const fit::FitProblem six = sixVoigts();
    Project p;
    Table t;
    t.columns = {numberColumn("x", "", six.members[0].predictors[0]), numberColumn("y", "", six.members[0].y)};
    p = *edits::addTable(std::move(t)).apply(p);
    Dataset d{.name = "six"};
    d.source = {.table = p.tables[0].id, .roles = {{Role::X, p.tables[0].columns[0].id}, {Role::Y, p.tables[0].columns[1].id}}};
    p = *edits::addDataset(std::move(d)).apply(p);
    Settings anchors;
    anchors.set("anchors", Value(Numbers{0, 0, 7.5, 0, 22.5, 0, 37.5, 0, 52.5, 0, 67.5, 0, 82.5, 0, 109, 0}));
    for (int k = 0; k < 2; ++k) p = *edits::addStep(p.datasets[0].id, "baseline", anchors, "").apply(p);
    Settings smooth;
    smooth.set("window", Value(7.0));
    p = *edits::addStep(p.datasets[0].id, "smooth", smooth, "").apply(p);
    Analysis a{.kind = "peaks",
               .inputs = {{.dataset = p.datasets[0].id, .point = CurvePoint::fromText("before-smoothing")}},
               .model = {.kind = "voigt"}};
    p = *edits::addAnalysis(std::move(a)).apply(p);
    const bool onlyFirst = state.range(0) != 0;
    double refits = 0;
    for (auto _ : state) {
        evaluate::Evaluator evaluator;
        state.PauseTiming();
        const auto outcome = evaluator.analysis(p, p.analyses[0]);
        const std::string key = outcome->quantities.front().key;
        state.ResumeTiming();
        std::stop_source enough;
        const auto doubt = evaluate::doubtOf(p, p.analyses[0], p.datasets[0].id, key, evaluator, enough.get_token(),
                                             [&](const evaluate::Doubt&) {
                                                 if (onlyFirst) enough.request_stop();
                                             });
        if (!doubt) state.SkipWithError("no doubt");
        refits = 0;
        for (const evaluate::DoubtSeries& s : doubt->series) refits += static_cast<double>(s.points.size());
    }
    state.counters["refits"] = refits;
}
BENCHMARK(doubtOfSixPeaks)->ArgName("first")->Arg(1)->Arg(0)->Unit(benchmark::kMillisecond)->UseRealTime();

// The same from files by a recipe, on all processors: 1000 files take ten times as long.
void recipeOverHundredFiles(benchmark::State& state) {
    const auto folder = std::filesystem::temp_directory_path() / "jointer-bench-recipe";
    std::filesystem::create_directories(folder);
    std::vector<std::string> files;
    for (int k = 0; k < 100; ++k) {
        const fit::FitProblem p = sixVoigts(static_cast<unsigned>(k));
        std::string text = "shift,counts\n";
        for (std::size_t i = 0; i < p.members[0].y.size(); ++i)
            text += fmt::format("{:.4f},{:.6f}\n", p.members[0].predictors[0][i], p.members[0].y[i]);
        files.push_back((folder / fmt::format("shell_{:03d}.csv", k)).string());
        if (!replaceFile(files.back(), text)) return state.SkipWithError("cannot write");
    }
    const auto recipe = recipeFromText(R"({"format": "jointer-recipe", "version": 1, "name": "six",
      "inputs": [{"name": "data", "dataset": "d4"}],
      "tables": [{"id": "t1", "columns": [{"id": "c2", "name": "shift", "role": "x"}, {"id": "c3", "name": "counts", "role": "y"}]}],
      "datasets": [{"id": "d4", "name": "data", "source": {"kind": "columns", "table": "t1",
        "roles": [{"role": "x", "column": "c2"}, {"role": "y", "column": "c3"}]}}],
      "analyses": [{"id": "a5", "kind": "peaks", "inputs": [{"dataset": "d4"}], "model": {"kind": "voigt"},
        "settings": {"baseline": "line"}}]})");
    if (!recipe) return state.SkipWithError("no recipe");
    for (auto _ : state) {
        auto run = RecipeRun::make(*recipe, {});
        const auto all = runBatch(*run, {.files = files});
        if (all.size() != files.size() || all[0].failed) state.SkipWithError("failed");
    }
    std::filesystem::remove_all(folder);
}
BENCHMARK(recipeOverHundredFiles)->Unit(benchmark::kMillisecond)->UseRealTime();

void findInHundredThousand(benchmark::State& state) {
    std::mt19937 random(1);
    std::normal_distribution<double> noise;
    std::vector<double> x, y;
    for (int i = 0; i < 100000; ++i) {
        double value = noise(random);
        for (int k = std::max(0, i / 2000 - 1); k <= std::min(49, i / 2000 + 1); ++k)
            value += 50 * std::exp(-std::pow((i - 2000 * k - 1000) / (20.0 + 2 * k), 2));
        x.push_back(i);
        y.push_back(value);
    }
    std::size_t found = 0;
    for (auto _ : state) found = fit::findPeaks(x, y).size();
    state.counters["peaks"] = static_cast<double>(found);
}
BENCHMARK(findInHundredThousand)->Unit(benchmark::kMillisecond);

std::pair<std::vector<double>, std::vector<double>> noisyWave(std::size_t n) {
    std::vector<double> x(n), y(n);
    for (std::size_t i = 0; i < n; ++i) {
        x[i] = static_cast<double>(i);
        y[i] = std::sin(12.0 * x[i] / static_cast<double>(n)) + 0.3 * std::sin(1.7 * x[i] * x[i]);
    }
    return {x, y};
}

// LOESS of 10 000 points at 500 places, with its errors.
void loess(benchmark::State& state) {
    const auto [x, y] = noisyWave(10000);
    const numerics::Loess curve(x, y, {}, {.fraction = 0.5, .degree = 2});
    std::vector<double> places(500), norms(500);
    for (std::size_t k = 0; k < 500; ++k) places[k] = 20.0 * static_cast<double>(k);
    for (auto _ : state) benchmark::DoNotOptimize(curve.values(places, norms));
}
BENCHMARK(loess)->Unit(benchmark::kMillisecond)->UseRealTime();

// Its exact statistics.
void loessStatistics(benchmark::State& state) {
    const auto [x, y] = noisyWave(2000);
    const numerics::Loess curve(x, y, {}, {.fraction = 0.5, .degree = 2});
    for (auto _ : state) benchmark::DoNotOptimize(numerics::statisticsOf(curve, x));
}
BENCHMARK(loessStatistics)->Unit(benchmark::kMillisecond)->UseRealTime();

// A smoothing spline by cross-validation.
void smoothingSpline(benchmark::State& state) {
    const auto [x, y] = noisyWave(1000000);
    for (auto _ : state) benchmark::DoNotOptimize(numerics::SmoothingSpline(x, y).dof());
}
BENCHMARK(smoothingSpline)->Unit(benchmark::kMillisecond)->UseRealTime();

// The input of the comparisons, as files for the other side.
int writeFiles(const std::filesystem::path& folder) {
    const fit::FitProblem peaks = sixPeaks();
    std::string text = "x,y\n";
    for (std::size_t i = 0; i < peaks.members[0].y.size(); ++i)
        text += fmt::format("{},{}\n", peaks.members[0].predictors[0][i], peaks.members[0].y[i]);
    const auto good =
        replaceFile(folder / "million.csv", millionRows()) && replaceFile(folder / "six_peaks.csv", text);
    return good ? 0 : 5;
}

} // namespace

int main(int argc, char** argv) {
    jointer::keepFreedMemory(); // as the programs do
    if (argc == 3 && std::string_view(argv[1]) == "--write") return writeFiles(argv[2]);
    QGuiApplication app(argc, argv);
    paint::loadFonts();
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
}
