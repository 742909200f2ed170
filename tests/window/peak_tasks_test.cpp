// SPDX-License-Identifier: GPL-3.0-or-later
// Three whole tasks of peaks through the real window, from raw files, with every click, drag, key and typed
// field counted.
#include "driver.h"

#include "analyses/peaks/peaks.h"
#include "app/panes/peak_rows.h"
#include "app/stages/runs_view.h"

#include <QComboBox>
#include <QSlider>
#include <cmath>
#include <fmt/format.h>
#include <random>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

using Shape = std::function<double(double)>;

double lorentz(double x, double centre, double height, double width) {
    return height / (1 + 4 * std::pow((x - centre) / width, 2));
}
double gauss(double x, double centre, double height, double width) {
    return height * std::exp(-4 * std::log(2) * std::pow((x - centre) / width, 2));
}

// A person at work: each method is one action, or says how many.
class Person {
public:
    Driver d;
    QTemporaryDir folder;
    int actions = 0;

    std::string file(const std::string& name, const std::string& heading, double from, double step,
                     int points, const Shape& y, double noise, unsigned seed) {
        std::mt19937 random(seed);
        std::normal_distribution<double> e(0, noise);
        std::string text = heading + "\n";
        for (int i = 0; i < points; ++i)
            text += fmt::format("{:.4f},{:.4f}\n", from + i * step, y(from + i * step) + e(random));
        const std::string path = folder.filePath(QString::fromStdString(name)).toStdString();
        std::ofstream(path) << text;
        return path;
    }
    void drop(const std::vector<std::string>& files) {
        QStringList all;
        for (const std::string& f : files) all << QString::fromStdString(f);
        d.drop(all);
        ++actions;
    }
    void import(const std::string& path) {
        drop({path});
        click(d.window.data()->import(), "Import");
    }
    void click(QWidget* in, const QString& label) {
        d.click(in, label);
        ++actions;
    }
    void press(const char* name) {
        auto* button = pane()->findChild<QPushButton*>(name);
        ASSERT_TRUE(button) << name;
        QTest::mouseClick(button, Qt::LeftButton);
        ++actions;
        wait();
    }
    void stage(const QString& name) { click(&d.window, name); }
    void find(const QString& words) { // Ctrl+K, the letters, Return
        d.find(words);
        actions += 3;
        wait();
    }
    void key(QWidget* on, Qt::Key key) {
        QTest::keyClick(on, key);
        ++actions;
    }
    void clickPlot(PlotCanvas* plot, double x, double y) {
        d.clickPlot(plot, x, y);
        ++actions;
    }
    void choose(const QString& box, const QString& key) { // opened, and an entry clicked
        auto* combo = pane()->findChild<QComboBox*>(box);
        ASSERT_TRUE(combo) << box.toStdString();
        const int wanted = combo->findData(key);
        ASSERT_GE(wanted, 0) << key.toStdString();
        combo->setCurrentIndex(wanted);
        Q_EMIT combo->activated(wanted);
        actions += 2;
        wait();
    }
    void type(const QString& field, const QString& words) {
        d.type(pane(), field, words);
        actions += 2; // into the field, and the words
        wait();
    }
    void wait() {
        d.settle();
        EXPECT_TRUE(QTest::qWaitFor(
            [&] {
                return d.window.analyse()->canvas()->isCurrent() &&
                       d.window.analyse()->protocol()->isCurrent();
            },
            10000));
    }
    QWidget* pane() { return d.window.analyse(); }
    void open(AnalysisId id) { // a click on its row
        d.window.document().openAnalysis(id);
        ++actions;
        wait();
    }
    const Analysis& open() { return *d.project().analyses.find(d.window.document().analysis()); }
    analyses::ResultPtr result() {
        const auto outcome = d.window.document().session().evaluator().analysis(d.project(), open());
        return outcome.exists() ? *outcome.result : nullptr;
    }
    double value(const std::string& name) {
        const auto r = result();
        const analyses::Quantity* q = r ? r->find(name) : nullptr;
        return q ? q->value : std::nan("");
    }
};

} // namespace

// A baseline by hand, two bands each with a shoulder, limits on all widths, kept as a recipe, run on six
// more.
TEST(PeakTasks, BandsOfSevenShells) {
    Person p;
    const auto shell = [&](int k) {
        return p.file(
            fmt::format("pan_{}.csv", k), "shift (cm^-1),counts", 600, 0.4, 500,
            [&](double x) {
                return 150 + 0.4 * (x - 600) + lorentz(x, 660 + 0.1 * k, 800, 9) + lorentz(x, 671, 420, 10) +
                       lorentz(x, 725, 600 + 20 * k, 9) + lorentz(x, 735, 300, 11);
            },
            5, static_cast<unsigned>(k));
    };
    p.import(shell(0));
    p.stage("Clean");
    PlotCanvas* clean = p.d.window.clean()->canvas();
    p.key(clean, Qt::Key_A);
    for (const double x : {603.0, 630.0, 698.0, 775.0, 797.0}) p.clickPlot(clean, x, 200);
    p.stage("Analyse");
    p.find("peaks");
    p.click(p.pane(), "Lorentzian");
    p.wait();
    p.press("allPeaks");
    p.choose("limits", "own");
    p.type("width-limits-low", "4");
    p.type("width-limits-high", "20");
    ASSERT_TRUE(analyses::peaksDetail(*p.result()));
    ASSERT_EQ(analyses::peaksDetail(*p.result())->plan.peaks.size(), 4U) << "shoulders too";
    EXPECT_NEAR(p.value("centre_1"), 660, 0.4);
    EXPECT_NEAR(p.value("fwhm_2"), 10, 2.5);
    p.click(p.pane(), "Keep as a recipe");
    std::vector<std::string> more;
    for (int k = 1; k <= 6; ++k) more.push_back(shell(k));
    p.drop(more);
    EXPECT_TRUE(QTest::qWaitFor([&] { return p.d.window.runs()->isCurrent(); }, 20000));
    EXPECT_EQ(p.d.project().datasets.size(), 7U);
    EXPECT_EQ(p.d.window.runs()->gallery()->tiles().size(), 7U);
    std::cout << "Bands of seven shells: " << p.actions << " actions\n";
    EXPECT_LT(p.actions, 35);
}

// A line of two wavelengths, and the size of the crystallites with and without the partner.
TEST(PeakTasks, ADoubletAndItsSize) {
    Person p;
    const double l1 = 1.540593, l2 = 1.544427, theta = 38.2 / 2 * M_PI / 180;
    const double second = 2 * std::asin(std::sin(theta) * l2 / l1) * 180 / M_PI;
    const std::string path = p.file(
        "calcite.csv", "2Theta (deg),counts", 36, 0.01, 440,
        [&](double x) { return 60 + lorentz(x, 38.2, 900, 0.22) + lorentz(x, second, 450, 0.22); }, 6, 3);
    p.import(path);
    p.stage("Analyse");
    p.find("peaks");
    p.click(p.pane(), "Lorentzian");
    p.wait();
    auto* count = p.pane()->findChild<QSlider*>("peakCount");
    if (count && count->isVisible() && count->value() > 1) {
        count->setValue(1);
        ++p.actions;
        p.wait();
    }
    p.press("allPeaks");
    p.choose("partner", "wavelengths");
    EXPECT_NEAR(p.value("fwhm_1"), 0.22, 0.01);
    p.click(p.pane(), "+ sizes from widths");
    p.wait();
    ASSERT_EQ(p.open().kind, "sizes");
    const double size = 0.9 * 1.5406 / (0.22 * M_PI / 180 * std::cos(theta));
    EXPECT_NEAR(p.value("size_1"), size, 0.05 * size);
    const double with = p.value("size_1");
    const AnalysisId sizes = p.open().id;
    p.open(p.d.project().analyses[0].id);
    p.choose("partner", "none");
    p.open(sizes);
    EXPECT_LT(p.value("size_1"), 0.97 * with) << "without its partner the line looks wider";
    std::cout << "A doublet and its size: " << p.actions << " actions\n";
    EXPECT_LT(p.actions, 25);
}

// Spikes out, smoothed, six peaks of an emission spectrum.
TEST(PeakTasks, SixPeaksOfAnEmission) {
    Person p;
    const std::string path = p.file(
        "emission.csv", "wavelength (nm),intensity", 400, 0.5, 800,
        [&](double x) {
            double y = 40;
            for (int k = 0; k < 6; ++k) y += gauss(x, 440 + 55 * k, 300 - 30 * k, 22 + 2 * k);
            const int at = static_cast<int>(std::lround(x * 2));
            return y + (at % 331 == 7 ? 900 : 0);
        },
        4, 5);
    p.import(path);
    p.stage("Clean");
    p.find("take off spikes");
    p.find("step smooth");
    p.stage("Analyse");
    p.find("peaks");
    const auto* found = analyses::peaksDetail(*p.result());
    ASSERT_TRUE(found);
    EXPECT_EQ(found->plan.peaks.size(), 6U);
    for (int k = 0; k < 6; ++k) {
        EXPECT_NEAR(p.value(fmt::format("centre_{}", k + 1)), 440 + 55 * k, 0.5);
        EXPECT_NEAR(p.value(fmt::format("fwhm_{}", k + 1)), 22 + 2 * k, 1);
    }
    std::cout << "Six peaks of an emission: " << p.actions << " actions\n";
    EXPECT_LT(p.actions, 30);
}
