// SPDX-License-Identifier: GPL-3.0-or-later
// What comes into the window: projects, dropped files, the clipboard; and where projects are saved.
#include "app/file_dialogs.h"
#include "app/panes/sentence_row.h"
#include "app/widgets.h"
#include "app/window.h"
#include "tern_sands.h"

#include <QClipboard>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QGuiApplication>
#include <QMimeData>
#include <QStackedWidget>

namespace jointer::app {

void Window::openPath(const QString& path) {
    if (path == "demo:") {
        document_.session().start(demo::ternSands());
        document_.selectDataset(document_.project().datasets[1].id);
        document_.selectFigure(document_.project().figures[0].id);
        return;
    }
    document_.workedIn(path);
    if (!path.endsWith(".jointer")) {
        goTo(Stage::Data);
        data_->offer({{QFileInfo(path).fileName(), path.toStdString(), {}}});
        return;
    }
    const auto opened = document_.session().open(path.toStdString());
    if (!opened) return document_.say(text(opened.error().sentence()), true);
    for (const Issue& issue : *opened) document_.say(text(issue.text), true);
    const int stage = document_.restoreView(document_.session().view);
    if (stage >= 0 && stage < stages_->count()) goTo(static_cast<Stage>(stage));
    setSideWidth(this, document_.sideWidth);
}

void Window::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void Window::dropEvent(QDropEvent* e) {
    std::vector<Waiting> files;
    for (const QUrl& url : e->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (path.endsWith(".jointer")) {
            if (mayLeave()) openPath(path);
            return;
        }
        if (!path.isEmpty()) files.push_back({QFileInfo(path).fileName(), path.toStdString(), {}});
    }
    e->acceptProposedAction();
    if (files.empty()) return;
    document_.workedIn(text(files.front().path));
    if (files.size() == 1 && files[0].path.ends_with(".json") && results_->runs()->takeFile(files[0].path)) {
        results_->showRuns(true);
        return goTo(Stage::Results);
    }
    if (const QStringList artwork = artworkIn(*e->mimeData()); !artwork.isEmpty()) {
        goTo(Stage::Figure);
        figure_->placeFiles(artwork);
        std::erase_if(files, [&](const Waiting& f) { return artwork.contains(text(f.path)); });
        if (files.empty()) return;
    }
    const bool toRun =
        stages_->currentWidget() == results_ && results_->showsRuns() && results_->runs()->recipe();
    if (toRun) {
        std::vector<std::string> paths;
        for (const Waiting& f : files) paths.push_back(f.path);
        return results_->runs()->runOn(paths);
    }
    goTo(Stage::Data);
    data_->offer(files);
}

void Window::importFiles() {
    std::vector<Waiting> files;
    for (const QString& path : ask::files(this, document_, tr("Import data"), readerFilter()))
        files.push_back({QFileInfo(path).fileName(), path.toStdString(), {}});
    if (files.empty()) return;
    goTo(Stage::Data);
    data_->offer(files);
}

void Window::openProject() {
    if (!mayLeave()) return;
    const QString path =
        ask::file(this, document_, tr("Open project"), tr("Jointer projects (*.jointer)"));
    if (!path.isEmpty()) openPath(path);
}

bool Window::saveTo(const QString& path) {
    document_.session().view = document_.viewText(stages_->currentIndex());
    const auto done = document_.session().save(path.toStdString());
    document_.say(done ? tr("Saved %1.").arg(QFileInfo(path).fileName()) : text(done.error().sentence()),
                  !done);
    refreshHeader();
    return done.has_value();
}

bool Window::save() {
    return document_.session().path().empty() || document_.session().readOnly()
               ? saveAs()
               : saveTo(text(document_.session().path()));
}

bool Window::saveAs() {
    const QString path =
        ask::newFile(this, document_, tr("Save project"), text(document_.project().title) + ".jointer",
                     tr("Jointer projects (*.jointer)"));
    return !path.isEmpty() && saveTo(path);
}

// What the clipboard holds says where it goes.
void Window::paste() {
    const QMimeData* data = QGuiApplication::clipboard()->mimeData();
    if (data && data->hasFormat(kStepsMime)) {
        goTo(Stage::Clean);
        return clean_->protocol()->pasteSteps();
    }
    const bool onPage = stages_->currentWidget() == figure_;
    if (data && onPage && figure_->pasteArtwork(*data)) return;
    goTo(Stage::Data);
    data_->paste();
}

} // namespace jointer::app
