// SPDX-License-Identifier: GPL-3.0-or-later
// jointer [--demo] [--dark] [--stage NAME] [FILE…]; --picture FILE takes a picture of the window and ends.
#include "app/faults.h"
#include "app/shortcuts_page.h"
#include "app/theme/theme.h"
#include "app/window.h"
#include "base/memory.h"

#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QPainter>
#include <QStandardPaths>
#include <QTimer>
#include <cstdio>

namespace {

// The window with what stands open over it.
QPixmap pictureOf(QWidget& window) {
    QPixmap picture = window.grab();
    if (QWidget* popup = QApplication::activePopupWidget()) {
        QPainter painter(&picture);
        painter.drawPixmap(window.mapFromGlobal(popup->mapToGlobal(QPoint(0, 0))), popup->grab());
    }
    return picture;
}

} // namespace

int main(int argc, char** argv) {
    using namespace jointer::app;
    jointer::keepFreedMemory();
    QElapsedTimer sinceStart;
    sinceStart.start();
    Application app(argc, argv);
    app.setApplicationName("jointer");
    app.setApplicationVersion("0.1.0");
    QCommandLineParser parser;
    parser.setApplicationDescription("From measured data to a printed figure.");
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo("demo", "Open the demo project."), dark("dark", "Use the dark theme."),
        stage("stage", "Stage to begin with: data, clean, analyse, figure, results.", "name"),
        find("find", "Do what Find offers first for these words; may be given several times.", "words"),
        picture("picture", "Write a picture of the window to a file and end.", "file"),
        figure("export", "Export the current figure to a file and end.", "file"),
        keys("keys", "Print the manual's page of keys and gestures and end.");
    parser.addOptions({demo, dark, stage, find, picture, figure, keys});
    parser.addPositionalArgument("files", "A project, or data files to import.", "[files…]");
    parser.process(app);

    applyTheme(app, parser.isSet(dark));
    const bool alone = parser.isSet(picture) || parser.isSet(figure);
    const QString base = qEnvironmentVariable("XDG_STATE_HOME", QDir::homePath() + "/.local/state");
    const QString state = alone ? QString() : base + "/jointer";
    Window window(state.toStdString());
    if (parser.isSet(keys)) return std::fputs(shortcutsPage(window).toUtf8().constData(), stdout) < 0 ? 5 : 0;
    if (parser.isSet(demo)) window.openPath("demo:");
    for (const QString& path : parser.positionalArguments()) window.openPath(path);
    const QStringList stages = {"data", "clean", "analyse", "figure", "results"};
    const auto wanted = stages.indexOf(parser.value(stage).toLower());
    if (wanted >= 0) window.goTo(static_cast<Stage>(wanted));
    window.show();
    for (const QString& words : parser.values(find)) {
        // What the one before has opened is there.
        for (QElapsedTimer waited; alone && !window.isSettled();) {
            if (!waited.isValid()) waited.start();
            if (waited.elapsed() > 10000) break;
            QApplication::processEvents(QEventLoop::AllEvents, 20);
        }
        QApplication::processEvents();
        window.find(words);
    }

    if (alone) {
        // Once everything visible is computed and drawn; a minute at most.
        auto* timer = new QTimer(&window);
        auto quiet = std::make_shared<int>(0);
        auto* first = new QTimer(&window); // says when the window was usable, for the benchmarks
        QObject::connect(first, &QTimer::timeout, &window, [&, first] {
            if (!window.isSettled()) return;
            first->stop();
            std::fprintf(stderr, "usable after %lld ms\n", static_cast<long long>(sinceStart.elapsed()));
        });
        first->start(5);
        QObject::connect(timer, &QTimer::timeout, &window, [&, quiet] {
            *quiet = window.isSettled() ? *quiet + 1 : 0;
            if (*quiet < 8) return;
            timer->stop();
            bool good = !parser.isSet(picture) || pictureOf(window).save(parser.value(picture));
            if (parser.isSet(figure)) {
                QObject::connect(&window.document(), &Document::message, &app,
                                 [&](const QString& text, bool bad) {
                                     if (text.endsWith(QChar(0x2026))) return; // still writing
                                     std::puts(text.toUtf8().constData());
                                     app.exit(bad ? 5 : 0);
                                 });
                if (window.exportTo(parser.value(figure))) return;
                good = false;
            }
            app.exit(good ? 0 : 5);
        });
        timer->start(50);
    }
    return app.exec();
}
