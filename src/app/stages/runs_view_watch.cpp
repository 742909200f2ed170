// SPDX-License-Identifier: GPL-3.0-or-later
// The watched folder of a recipe: begun, paused, ended, and taken up again after a restart.
#include "app/file_dialogs.h"
#include "app/stages/runs_view.h"
#include "app/widgets.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QProcess>
#include <QPushButton>
#include <QTemporaryDir>
#include <QVBoxLayout>

namespace jointer::app {

QWidget* RunsView::buildWatch() {
    watchRow_ = new QWidget;
    auto* column = new QVBoxLayout(watchRow_);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    watchWords_ = muted({});
    watchWords_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    row->addWidget(watchWords_, 1);
    row->addWidget(button(this, tr("Log"), "link", tr("What has come in, and when"), [this] {
        watchLog_->setVisible(!watchLog_->isVisible());
        fillWatch();
    }));
    watchPause_ = button(this, tr("Pause"), "", tr("Look no further for now"), [this] {
        if (watch_.isWatching()) return watch_.pause(!watch_.isPaused());
        if (const auto r = document_.project().recipes.find(recipe_)) watch(r->settings.text("watch"));
    });
    watchEnd_ = button(this, tr("End"), "", tr("Watch this folder no longer"), [this] {
        if (watch_.isWatching()) watch_.end();
        keepWatched({});
    });
    row->addWidget(watchPause_);
    row->addWidget(watchEnd_);
    column->addLayout(row);
    watchLog_ = new QPlainTextEdit;
    watchLog_->setReadOnly(true);
    watchLog_->setAccessibleName(tr("Log of the watched folder"));
    watchLog_->setFixedHeight(96);
    watchLog_->hide();
    column->addWidget(watchLog_);
    return watchRow_;
}

void RunsView::askForWatch() {
    const QString path = ask::folder(this, document_, tr("Watch a folder"));
    if (!path.isEmpty()) watch(path.toStdString());
}

void RunsView::watch(const std::string& folder) {
    if (!recipe_ || folder.empty()) return;
    keepWatched(folder);
    watch_.begin(folder, {}); // what was run before is known by the datasets
    fillWatch();
}

void RunsView::keepWatched(const std::string& folder) {
    const auto r = document_.project().recipes.find(recipe_);
    if (!r || r->settings.text("watch") == folder) return fillWatch();
    Recipe kept = *r;
    if (folder.empty())
        kept.settings.remove("watch");
    else
        kept.settings.set("watch", Value(folder));
    document_.apply(edits::keepRecipe(kept));
}

// A stand-in for an instrument that ships with the program, writing into a folder of its own.
void RunsView::watchScanner() {
    const QString program = QCoreApplication::applicationDirPath() + "/jointer-simulated-scanner";
    auto* folder = new QTemporaryDir;
    auto* scanner = new QProcess(this);
    connect(this, &QObject::destroyed, scanner, [folder] { delete folder; });
    connect(scanner, &QProcess::errorOccurred, this, [this] {
        document_.say(tr("The simulated scanner cannot be started: jointer-simulated-scanner is missing."),
                      true);
    });
    scanner->start(program, {folder->path(), "--count", "40", "--every", "1.5", "--broken", "0.08"});
    watch(folder->path().toStdString());
}

void RunsView::fillWatch() {
    const auto r = document_.project().recipes.find(recipe_);
    const std::string kept = r ? r->settings.text("watch") : std::string();
    const bool watching = watch_.isWatching();
    watchRow_->setVisible(watching || !kept.empty());
    if (!watching) {
        watchWords_->setText(tr("%1 was watched.").arg(text(kept)));
        relabel(watchPause_, tr("Resume"));
    } else {
        QString words = watch_.isPaused() ? tr("Paused: %1") : tr("Watching %1");
        words = words.arg(text(watch_.folder())) + tr("  ·  %1 came in").arg(watch_.come());
        if (watch_.waiting() > 0) words += tr(", %1 being written").arg(watch_.waiting());
        watchWords_->setText(words);
        relabel(watchPause_, watch_.isPaused() ? tr("Go on") : tr("Pause"));
    }
    if (!watchLog_->isVisible()) return;
    const QString log = watch_.log().join("\n");
    if (watchLog_->toPlainText() == log) return;
    watchLog_->setPlainText(log);
    watchLog_->moveCursor(QTextCursor::End);
}

} // namespace jointer::app
