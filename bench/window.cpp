// SPDX-License-Identifier: GPL-3.0-or-later
// Frames of the real window, timed: a table of ten million cells scrolled by lines, by pages and by jumps.
// Run by bench/run.
#include "app/window.h"
#include "base/memory.h"
#include "paint/painter.h"
#include "project/edit.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QHeaderView>
#include <QScrollBar>
#include <QTableView>
#include <algorithm>
#include <cstdio>
#include <random>

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

} // namespace

int main(int argc, char** argv) {
    jointer::keepFreedMemory(); // as the programs do
    QApplication application(argc, argv);
    paint::loadFonts();
    app::Window window({});
    window.resize(1280, 800);
    window.show();
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
