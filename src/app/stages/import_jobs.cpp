// SPDX-License-Identifier: GPL-3.0-or-later
// What the import does in the background: reading, reading again, taking several files in.
#include "app/panes/import_target.h"
#include "app/stages/import_view.h"
#include "app/widgets.h"
#include "base/files.h"
#include "base/text.h"
#include "io/joined_moments.h"
#include "session/import.h"

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <cmath>

namespace jointer::app {

// What reading again would change, before it happens; rows are matched in the background.
void ImportView::showChanges() {
    planned_.reset();
    if (!again_ || !reading_ || target_->chosenTable() >= reading_->tables.size())
        return target_->showConsequences({});
    import_->setEnabled(false);
    changesJob_.request([this, project = document_.project(), id = again_, told = told_,
                         fresh = reading_->tables[target_->chosenTable()].table](
                            const Cancellation&) -> std::function<void()> {
        auto planned = std::make_shared<Result<Reimport>>(plannedReimport(project, id, fresh, told));
        return [this, planned, id] {
            if (id != again_ || !reading_) return;
            ImportTarget::Consequences what;
            if (*planned) {
                planned_ = std::move(**planned);
                for (const std::string& c : planned_->changes) what.changes << text(c);
                for (const std::string& l : planned_->losses) what.losses << text(l);
            } else
                what.losses << text(planned->error().text);
            target_->showConsequences(what);
            import_->setEnabled(planned_.has_value());
        };
    });
}

void ImportView::takeAgain() {
    if (planned_ && document_.apply(reimportEdit(*planned_))) leaveOut();
}

// Offers to make a list of samples attributes of the datasets that it names.
void ImportView::showSamples() {
    samples_.reset();
    if (!again_ && waiting_.size() == 1 && target_->chosenTable() < reading_->tables.size())
        if (auto found = sampleList(document_.project(), reading_->tables[target_->chosenTable()].table))
            samples_ = std::move(*found);
    target_->showSamples(samples_
                             ? tr("A list of samples: attributes of %1")
                                   .arg(text(counted(static_cast<long long>(samples_->datasets), "dataset")))
                             : QString());
}

void ImportView::takeSamples() {
    if (!samples_ || !document_.apply(samples_->edit)) return;
    QStringList said;
    if (!samples_->unknown.empty())
        said << tr("No dataset is called %1.").arg(text(joined(samples_->unknown, ", ")).left(200));
    if (!samples_->unnamed.empty())
        said << tr("Not in the list: %1.").arg(text(joined(samples_->unnamed, ", ")).left(200));
    leaveOut();
    if (!said.isEmpty()) document_.say(said.join("  "), false);
}

// Says how far a long reading is; Esc or the button stop it.
void ImportView::watch() {
    const bool busy = job_.isBusy();
    const double share = progress_->share();
    // Short work shows no bar that only flickers.
    const bool shown = busy && watched_.elapsed() > 300;
    bar_->setVisible(shown);
    if (shown) bar_->setValue(static_cast<int>(std::lround(100 * share)));
    if (shown && !waiting_.empty())
        title_->setText(tr("%1   reading, %2 %").arg(waiting_.front().name).arg(std::lround(100 * share)));
    if (!busy) watching_->stop();
}

void ImportView::beginWatching() {
    progress_ = std::make_shared<Progress>();
    watched_.restart();
    watching_->start(100);
}

void ImportView::read() {
    if (waiting_.empty()) return; // a field gave its value on leaving
    import_->setEnabled(false);
    job_.stopRunning();
    beginWatching();
    job_.request([this, source = waiting_.front(), told = told_,
                  progress = progress_](const Cancellation& stop) -> std::function<void()> {
        const BoundProgress bound(*progress);
        Result<io::ReadResult> reading = failure("unread", "");
        QStringList lines;
        auto take = [&](std::string_view all) {
            reading =
                io::read(all, source.path.empty() ? source.name.toStdString() : source.path, told, stop);
            for (std::string_view line : io::firstLines(all.substr(0, 200000), 400)) lines << text(line);
        };
        if (source.path.empty())
            take(source.bytes);
        else if (const auto file = MappedFile::open(source.path))
            take(file->bytes());
        else
            reading = std::unexpected(file.error());
        if (reading) io::joinMoments(*reading, told);
        auto shared = std::make_shared<Result<io::ReadResult>>(std::move(reading));
        return [this, shared, lines, stop] {
            if (!stop.stop_requested()) showReading(std::move(*shared), lines);
        };
    });
}

// The first file is read already; the others in the background, with its settings.
void ImportView::importAll() {
    if (waiting_.empty() || !reading_ || !import_->isEnabled()) return;
    if (again_) return takeAgain();
    if (target_->asSamples()) return takeSamples();
    import_->setEnabled(false);
    beginWatching();
    auto first = std::make_shared<io::ReadResult>(std::move(*reading_));
    reading_.reset();
    job_.request([this, first, sources = waiting_, told = told_, plan = target_->plan(),
                  progress = progress_](const Cancellation& stop) -> std::function<void()> {
        auto all = std::make_shared<std::vector<Edit>>();
        std::vector<Waiting> others; // of another shape
        QStringList failed;
        for (std::size_t i = 0; i < sources.size() && !stop.stop_requested(); ++i) {
            const Waiting& w = sources[i];
            Result<io::ReadResult> reading = failure("unread", "");
            if (i > 0)
                reading = w.path.empty() ? io::read(w.bytes, w.name.toStdString(), told, stop)
                                         : io::readFileAs(w.path, told, stop);
            if (reading) io::joinMoments(*reading, told);
            const io::ReadResult* read = i == 0 ? first.get() : reading ? &*reading : nullptr;
            if (read && (i == 0 || haveSameShape(*first, *read)))
                all->push_back(importEdit(*read, told, w.fileName(), plan));
            else if (read)
                others.push_back(w);
            else
                failed << text(reading.error().sentence());
            progress->set(static_cast<double>(i + 1) / static_cast<double>(sources.size()));
        }
        return [this, all, failed, others, stop] {
            if (!stop.stop_requested()) takeIn(std::move(*all), failed, others);
        };
    });
}

void ImportView::takeIn(std::vector<Edit> all, QStringList failed, std::vector<Waiting> others) {
    waiting_ = std::move(others);
    told_ = {};
    const std::string name =
        all.size() == 1 ? all.front().name : "Import " + counted(static_cast<long long>(all.size()), "file");
    if (!all.empty() && document_.apply(edits::together(name, std::move(all)))) {
        const Project& p = document_.project();
        if (!p.datasets.empty()) document_.selectDataset(p.datasets[p.datasets.size() - 1].id);
        document_.selectTable(p.tables[p.tables.size() - 1].id);
    }
    if (!waiting_.empty())
        failed << tr("%1 of another shape; look at it here.")
                      .arg(text(counted(static_cast<long long>(waiting_.size()), "file is", "files are")));
    if (waiting_.empty())
        Q_EMIT finished();
    else
        read();
    if (!failed.isEmpty()) document_.say(failed.join("  "), true);
}

} // namespace jointer::app
