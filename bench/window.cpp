// SPDX-License-Identifier: GPL-3.0-or-later
// Frames of the real window, timed: a table of ten million cells scrolled by lines, by pages and by jumps;
// the window of a smoothing over ten thousand points moved by its slider, until the picture is there. Run by
// bench/run; a handle of twenty peaks dragged.
#include "app/window.h"
#include "app/models/results_model.h"
#include "base/memory.h"
#include "paint/painter.h"
#include "project/edit.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QHeaderView>
#include <QMouseEvent>
#include <QScrollBar>
#include <QSlider>
#include <QTableView>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <random>
#include <string_view>

using namespace jointer;

namespace {

Table tenMillionCells() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> value(0, 1000);
    Table t;
    t.name = "ten million cells";
    for (int c = 0; c < 10; ++c) {
        std::vector<double> cells(1000000);
        for (double& v : cells) v = value(random);
        t.columns.push_back(numberColumn("c" + std::to_string(c), "mV", std::move(cells)));
    }
    return t;
}

void settle(app::Window& window) {
    for (int quiet = 0; quiet < 4;) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        quiet = window.isSettled() ? quiet + 1 : 0;
    }
}

void report(const char* how, std::vector<double>& times) {
    std::ranges::sort(times);
    const auto at = [&](double share) {
        return times[static_cast<std::size_t>(share * static_cast<double>(times.size() - 1))];
    };
    const auto within = std::ranges::count_if(times, [](double t) { return t <= 16; });
    std::printf("%-22s %4zu frames: median %.1f ms, 99 %% %.1f ms, longest %.1f ms; %.1f %% within 16 ms\n",
                how, times.size(), at(0.5), at(0.99), times.back(),
                100.0 * static_cast<double>(within) / static_cast<double>(times.size()));
}

// Asleep, as a window is: the processors belong to the work.
void waitForPicture(app::PlotCanvas* plot) {
    QEventLoop loop;
    QObject::connect(plot, &app::PlotCanvas::drawn, &loop, &QEventLoop::quit);
    QTimer::singleShot(2000, &loop, &QEventLoop::quit);
    loop.exec();
}

// A noisy curve of ten thousand points under four steps, with the smoothing open.
void openSmoothing(app::Window& window) {
    std::mt19937 random(7);
    std::normal_distribution<double> noise;
    std::vector<double> x, y;
    for (int i = 0; i < 10000; ++i) {
        x.push_back(0.1 * i);
        y.push_back(100 + 40 * std::sin(0.01 * i) + noise(random));
    }
    Table t;
    t.name = "ten thousand points";
    t.columns = {numberColumn("x", "nm", std::move(x)), numberColumn("y", "mV", std::move(y))};
    app::Document& document = window.document();
    document.apply(edits::addTable(std::move(t)));
    const Table& table = document.project().tables[document.project().tables.size() - 1];
    Dataset d;
    d.name = "curve";
    d.source.table = table.id;
    d.source.roles = {{Role::X, table.columns[0].id}, {Role::Y, table.columns[1].id}};
    document.apply(edits::addDataset(d));
    document.selectDataset(document.project().datasets[0].id);
    for (const char* kind : {"despike", "baseline", "smooth", "normalise"})
        document.apply(edits::addStep(document.dataset(), kind, {}, kind));
    window.goTo(app::Stage::Clean);
    document.openStep(document.currentDataset()->protocol[2].id);
    settle(window);
}

void moveSlider(app::Window& window) {
    openSmoothing(window);
    QSlider* slider = nullptr; // the first of the open step: its window
    for (QSlider* s : window.clean()->findChildren<QSlider*>())
        if (s->isVisible() && !slider) slider = s;
    if (!slider) return void(std::puts("no slider"));
    std::vector<double> times;
    QElapsedTimer clock;
    window.activateWindow();
    slider->setFocus(); // as under a hand: the form keeps what has the focus
    Q_EMIT slider->sliderPressed();
    for (int i = 0; i < 200; ++i) {
        clock.restart();
        slider->setValue(3 + i % 90);
        waitForPicture(window.clean()->canvas());
        times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    Q_EMIT slider->sliderReleased();
    report("a slider, 10 k points", times);
}

// Twenty peaks over 4000 points; the triangle of one dragged, until the picture is there.
void dragPeak(app::Window& window) {
    std::mt19937 random(8);
    std::normal_distribution<double> noise;
    std::vector<double> x, y;
    for (int i = 0; i < 4000; ++i) {
        x.push_back(0.25 * i);
        double value = 20 + 0.02 * x.back() + noise(random);
        for (int k = 0; k < 20; ++k) value += 120 / (1 + std::pow((x.back() - 50 * k - 25) / 4, 2));
        y.push_back(value);
    }
    Table t;
    t.name = "twenty peaks";
    t.columns = {numberColumn("x", "nm", std::move(x)), numberColumn("y", "mV", std::move(y))};
    app::Document& document = window.document();
    document.apply(edits::addTable(std::move(t)));
    const Table& table = document.project().tables[document.project().tables.size() - 1];
    Dataset d;
    d.name = "twenty";
    d.source.table = table.id;
    d.source.roles = {{Role::X, table.columns[0].id}, {Role::Y, table.columns[1].id}};
    document.apply(edits::addDataset(d));
    document.selectDataset(document.project().datasets[document.project().datasets.size() - 1].id);
    Analysis peaks{
        .kind = "peaks", .inputs = {{.dataset = document.dataset()}}, .model = {.kind = "lorentzian"}};
    document.apply(edits::addAnalysis(std::move(peaks)));
    document.openAnalysis(document.project().analyses[document.project().analyses.size() - 1].id);
    window.goTo(app::Stage::Analyse);
    settle(window);
    app::PlotCanvas* plot = window.analyse()->canvas();
    const auto& handles = plot->content().handles;
    const auto at = std::ranges::find_if(
        handles, [](const steps::Handle& h) { return h.form == steps::HandleForm::Peak && h.x > 500; });
    if (at == handles.end()) return void(std::puts("no handle"));
    const QPointF from = plot->toPixels(at->x, at->y) - QPointF(0, 7);
    const auto send = [&](QEvent::Type type, const QPointF& place, Qt::MouseButton button) {
        QMouseEvent event(type, place, plot->mapToGlobal(place), button, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(plot, &event);
    };
    send(QEvent::MouseButtonPress, from, Qt::LeftButton);
    std::vector<double> times;
    QElapsedTimer clock;
    for (int i = 1; i <= 150; ++i) {
        clock.restart();
        send(QEvent::MouseMove, from + QPointF(0.1 * i + 5, 0.4 * (i % 50)), Qt::NoButton);
        waitForPicture(plot);
        times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    send(QEvent::MouseButtonRelease, from, Qt::LeftButton);
    report("a peak of 20 dragged", times);
}

void scrollTable(app::Window& window) {
    QElapsedTimer clock;
    clock.start();
    window.document().apply(edits::addTable(tenMillionCells()));
    window.document().selectTable(window.document().project().tables[0].id);
    settle(window);
    std::printf("shown after            %lld ms\n", static_cast<long long>(clock.elapsed()));
    auto* grid = window.data()->findChild<QTableView*>("tableGrid");
    auto* bar = grid->verticalScrollBar();
    std::mt19937 random(6);
    for (const auto& [how, step] :
         {std::pair("by three lines", 3), std::pair("by pages", 25), std::pair("by jumps", 0)}) {
        std::vector<double> times;
        for (int i = 0; i < 600; ++i) {
            clock.restart();
            bar->setValue(step > 0 ? bar->value() + step : static_cast<int>(random() % 999000));
            grid->viewport()->repaint();
            grid->verticalHeader()->viewport()->repaint();
            times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
            QApplication::processEvents();
        }
        report(how, times);
    }
}

// A hundred thousand results of a thousand datasets: each heading clicked up and down, then scrolled.
void sortResults() {
    auto content = std::make_shared<app::ResultsContent>();
    std::mt19937 random(9);
    std::normal_distribution<double> value(5, 2);
    for (int k = 0; k < 1000; ++k)
        content->project = *edits::addDataset({.name = "shell " + std::to_string(k)}).apply(content->project);
    for (const auto& d : content->project.datasets)
        for (int q = 0; q < 100; ++q) {
            content->shown.push_back(content->rows.size());
            content->rows.push_back({.dataset = d->id,
                                     .quantity = "c" + std::to_string(q),
                                     .unit = "mg/L",
                                     .state = "converged",
                                     .value = value(random),
                                     .error = 0.1});
        }
    app::ResultsModel model;
    QTableView view;
    view.setModel(&model);
    view.resize(900, 700);
    model.show(content);
    view.show();
    QApplication::processEvents();
    QElapsedTimer clock;
    std::vector<double> times;
    for (int column = 0; column < model.columnCount(); ++column)
        for (const Qt::SortOrder order : {Qt::AscendingOrder, Qt::DescendingOrder}) {
            clock.restart();
            model.sort(column, order);
            view.viewport()->repaint();
            times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
        }
    report("100 k results sorted", times);
    times.clear();
    for (int i = 0; i < 600; ++i) {
        clock.restart();
        view.verticalScrollBar()->setValue(i % 2 ? i * 25 : static_cast<int>(random() % 99000));
        view.viewport()->repaint();
        times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    report("100 k results scrolled", times);
}

} // namespace

// Use: jointer-bench-window [table|slider|drag|results]
int main(int argc, char** argv) {
    jointer::keepFreedMemory(); // as the programs do
    QApplication application(argc, argv);
    paint::loadFonts();
    app::Window window({});
    window.resize(1280, 800);
    window.show();
    const std::string_view only = argc > 1 ? argv[1] : "";
    if (only.empty() || only == "table") scrollTable(window);
    if (only.empty() || only == "slider") moveSlider(window);
    if (only.empty() || only == "drag") dragPeak(window);
    if (only.empty() || only == "results") sortResults();
}
