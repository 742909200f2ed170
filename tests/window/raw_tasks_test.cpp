// SPDX-License-Identifier: GPL-3.0-or-later
// Whole tasks from raw files through the real window, each with the answer that its data were made from: a
// decay from ten hours on, a plate in triplicate, shore snails, growth with a shared rate, a line with its
// partner.
#include "desk.h"

#include "analyses/peaks/peaks.h"
#include "app/panes/find_field.h"
#include "data/logarithm_name.h"
#include "support/drawn.h"

#include <QCheckBox>
#include <cmath>
#include <fmt/format.h>
#include <random>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

struct Bench : Desk {
    std::mt19937 random{20};

    double noise(double sigma) { return std::normal_distribution<double>(0, sigma)(random); }
    void import(const QString& name, const std::string& text) {
        const QString path = folder.filePath(name);
        std::ofstream(path.toStdString()) << text;
        d.drop({path});
        d.click(d.window.data()->import(), "Import");
        actions += 2;
    }
    void selectAll() {
        QListWidget* list = d.window.findChild<DatasetList*>()->list();
        list->setFocus();
        QTest::keyClick(list, Qt::Key_A, Qt::ControlModifier);
        d.settle();
        ++actions;
    }
    void find(const QString& words) {
        d.find(words);
        ++actions;
    }
    // A setting of the step that is open.
    void setStep(const QString& key, const QString& typed) {
        d.type(d.window.clean(), key, typed);
        ++actions;
    }
    void chooseInStep(const QString& key, const QString& data) {
        d.choose(d.window.clean(), key, data);
        ++actions;
    }
    // A parameter of an analysis; NaN: it has none called so.
    double value(const Analysis& a, std::string_view name) {
        const auto out = d.window.document().session().evaluator().analysis(project(), a);
        EXPECT_TRUE(out.exists());
        for (const analyses::Quantity& q : out->quantities)
            if (q.label == name || q.key == name) return q.value;
        return NAN;
    }
    std::string words() {
        std::string all;
        for (const draw::TextRun& run : itemsOf<draw::TextRun>(layout().list.items)) all += run.text + " ";
        return all;
    }
};

} // namespace

TEST(RawTasks, ALineFromTenHoursOnInADecayOnALogPlot) {
    Bench k;
    std::string text = "# core C9\ntime / h,activity / Bq\n";
    for (int i = 0; i < 82; ++i) {
        const double t = 0.75 * i, mean = 8200 * std::exp(-t / 2.1) + 5400 * std::exp(-t / 17.5);
        text += fmt::format("{},{}\n", t, std::poisson_distribution<int>(mean)(k.random));
    }
    k.import("sediment tracer.csv", text);
    EXPECT_EQ(k.project().tables[0].columns[1].unit, "Bq");
    k.d.stage("Clean");
    k.find("step transform");
    k.chooseInStep("y-by", "ln");
    k.d.stage("Analyse");
    QTest::keyClick(k.d.window.analyse(), Qt::Key_S); // the tool Span
    k.d.window.analyse()->chooseTool(Tool::Span);
    k.d.dragPlot(k.d.window.analyse()->canvas(), 10, 62, 7);
    k.find("straight line");
    k.actions += 3;
    EXPECT_NEAR(-1 / k.value(k.project().analyses[0], "slope"), 17.5, 0.8) << "the slow time constant";
    k.newFigure();
    k.find("original values");
    EXPECT_LT(k.actions, 14);
    EXPECT_EQ(k.words().find("ln("), std::string::npos) << k.words();
    EXPECT_NE(k.words().find("activity"), std::string::npos) << k.words();
    EXPECT_NE(k.words().find("Bq"), std::string::npos) << k.words();
    k.d.click(&k.d.window, "Undo");
    EXPECT_NE(k.words().find("ln("), std::string::npos) << "and back";
}

TEST(RawTasks, APlateInTriplicateToPerCentOfControl) {
    Bench k;
    std::string text = "dose (uM)\tcopper 1\tcopper 2\tcopper 3\tzinc 1\tzinc 2\tzinc 3\n";
    for (const double dose : {0.0, 0.1, 0.3, 1.0, 3.0, 10.0, 30.0, 100.0}) {
        text += fmt::format("{}", dose);
        for (const auto& [half, slope] : {std::pair(2.4, 1.3), {18.0, 0.9}})
            for (int r = 0; r < 3; ++r) {
                const double left = dose > 0 ? 1 / (1 + std::pow(dose / half, slope)) : 1;
                text += fmt::format("\t{:.3f}", 1.85 * left + 0.05 + k.noise(0.02));
            }
        text += "\n";
    }
    k.import("plate 12.txt", text);
    ASSERT_EQ(k.project().datasets.size(), 2U) << "replicates of two agents";
    k.selectAll();
    k.d.stage("Clean");
    k.find("step normalise");
    k.chooseInStep("to", "value");
    k.setStep("becomes", "100");
    for (const auto& each : k.project().datasets) ASSERT_EQ(each->protocol.size(), 1U) << "in both";
    k.d.stage("Analyse");
    k.find("logistic four");
    ASSERT_EQ(k.project().analyses.size(), 2U);
    const double truth[] = {2.4, 18.0};
    for (std::size_t n = 0; n < 2; ++n) {
        const Analysis& a = k.project().analyses[n];
        const std::size_t agent = a.inputs[0].dataset == k.project().datasets[0].id ? 0 : 1;
        EXPECT_NEAR(k.value(a, "midpoint") / truth[agent], 1, 0.25) << agent;
    }
    k.d.click(k.d.window.analyse(), "log x");
    k.newFigure();
    EXPECT_EQ(k.axis("bottom")->settings.text("scale"), "log") << "as it was seen in Analyse";
    EXPECT_LT(k.actions, 14);
}

TEST(RawTasks, SnailsOfThreeShoresAsBoxesAndMeans) {
    Bench k;
    std::string text = "shore;zone;length (mm)\n";
    std::map<std::string, std::vector<double>> values;
    for (const auto& [shore, mean] : {std::pair("exposed", 14.2), {"sheltered", 19.5}, {"lagoon", 17.1}})
        for (int i = 0; i < 54; ++i) {
            const double v = std::round(10 * (mean + k.noise(2.1) + (i == 7 ? 12 : 0))) / 10;
            values[shore].push_back(v);
            std::string cell = fmt::format("{:.1f}", v);
            cell.replace(cell.find('.'), 1, ",");
            text += fmt::format("{};{};{}\n", shore, i % 3 == 0 ? "low" : i % 3 == 1 ? "mid" : "high", cell);
        }
    k.import("snail lengths.csv", text);
    k.newFigure();
    const Element* boxes = k.first("boxes");
    ASSERT_TRUE(boxes) << "groups are drawn as boxes by themselves";
    EXPECT_NE(k.words().find("sheltered"), std::string::npos);
    const auto symbols = [&] {
        std::size_t n = 0;
        for (const auto& s : itemsOf<draw::Symbols>(k.layout().list.items)) n += s.places.size();
        return n;
    };
    const std::size_t with = symbols();
    EXPECT_GE(with, 3U) << "each shore has one";
    const ElementId id = boxes->id;
    k.select(id);
    auto* outliers = k.field<QCheckBox>("outliers");
    ASSERT_TRUE(outliers);
    k.click(outliers, {8, outliers->height() / 2});
    EXPECT_LT(symbols(), with) << "without them";
    k.choose("box", "sd");
    EXPECT_EQ(k.figure().find(id)->settings.text("box"), "sd");
    EXPECT_LT(k.actions, 12);
}

TEST(RawTasks, TwoCagesGrowWithOneRate) {
    Bench k;
    std::string text = "day,cage north (mm),cage south (mm)\n";
    for (int day = 0; day < 420; day += 21)
        text +=
            fmt::format("{},{:.2f},{:.2f}\n", day, 31 * (1 - std::exp(-0.0082 * (day + 35))) + k.noise(0.25),
                        24 * (1 - std::exp(-0.0082 * (day + 12))) + k.noise(0.25));
    k.import("growth cages.csv", text);
    ASSERT_EQ(k.project().datasets.size(), 2U);
    k.datasets({k.project().datasets[0].name});
    k.d.stage("Analyse");
    k.find("own equation");
    k.d.type(k.d.window.analyse(), "equation", "L*(1 - exp(-k*(x + t0)))");
    const AnalysisId id = k.project().analyses[0].id;
    k.d.window.document().apply(edits::changeAnalysis(id, "Fit together", [&](Analysis& a) {
        AnalysisInput second = a.inputs[0];
        second.dataset = k.project().datasets[1].id;
        a.inputs.push_back(second);
        ParameterChoice shared{.name = "k", .treatment = Treatment::Shared};
        shared.lower = 0;
        a.parameters = {shared};
    }));
    k.d.settle();
    EXPECT_NEAR(k.value(*k.project().analyses.find(id), "k"), 0.0082, 0.0006);
    EXPECT_TRUE(k.d.window.document()
                    .session()
                    .evaluator()
                    .analysis(k.project(), *k.project().analyses.find(id))
                    .good());
}

TEST(RawTasks, ALineWithItsPartnerAndTheWidthOfAStandard) {
    Bench k;
    const auto pattern = [&](double at, double sigma, double height) {
        std::string text;
        const double theta = std::asin(1.54443 / 1.5406 * std::sin(at / 360 * std::numbers::pi));
        const double second = theta * 360 / std::numbers::pi;
        for (int i = 0; i < 300; ++i) {
            const double x = 34 + 0.01 * i;
            const auto line = [&](double c, double h) {
                return h * std::exp(-0.5 * std::pow((x - c) / sigma, 2));
            };
            const double mean = 150 + line(at, height) + line(second, height / 2);
            text += fmt::format("{:.3f} {}\n", x, std::poisson_distribution<int>(mean)(k.random));
        }
        return text;
    };
    k.import("corundum.xy", pattern(35.15, 0.03, 9000));
    k.import("silt.xy", pattern(35.42, 0.09, 4200));
    k.selectAll();
    k.d.stage("Analyse");
    k.find("fit peaks");
    ASSERT_EQ(k.project().analyses.size(), 2U);
    for (const auto& a : std::vector<AnalysisId>{k.project().analyses[0].id, k.project().analyses[1].id}) {
        k.d.window.document().apply(edits::changeAnalysis(a, "Partner", [](Analysis& peaks) {
            peaks.settings.set("partner", "wavelengths");
            peaks.settings.set("wavelength-2", Value(1.54443));
        }));
    }
    k.d.settle();
    k.datasets({"silt"});
    k.find("fit sizes");
    const Analysis sizes = k.project().analyses[2];
    ASSERT_EQ(sizes.kind, "sizes");
    ASSERT_EQ(sizes.analyses.size(), 1U) << "it begins with the peaks of the dataset";
    const auto sizeNow = [&] {
        const auto out = k.d.window.document().session().evaluator().analysis(
            k.project(), *k.project().analyses.find(sizes.id));
        for (const analyses::Quantity& q : out->quantities)
            if (q.label.find("size") != q.label.npos) return q.value;
        return std::nan("");
    };
    // K·λ/(β·cos θ) with the full width in radians; Gaussian widths differ by their squares.
    const double fwhm = 2 * std::sqrt(2 * std::log(2)), theta = 35.42 / 360 * std::numbers::pi;
    const auto sizeOf = [&](double sigma) {
        return 0.9 * 1.5406 / (fwhm * sigma * std::numbers::pi / 180 * std::cos(theta));
    };
    EXPECT_NEAR(sizeNow() / sizeOf(0.09), 1, 0.03);
    AnalysisId standard;
    for (const auto& a : k.project().analyses)
        if (a->kind == "peaks" && a->inputs[0].dataset == k.project().datasets[0].id) standard = a->id;
    k.d.window.document().apply(edits::changeAnalysis(sizes.id, "Standard", [&](Analysis& a) {
        a.analyses.push_back(standard);
        a.settings.set("profile", "gaussian");
    }));
    k.d.settle();
    EXPECT_NEAR(sizeNow() / sizeOf(std::sqrt(0.09 * 0.09 - 0.03 * 0.03)), 1, 0.03);
}
