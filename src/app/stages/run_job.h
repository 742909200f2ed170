// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe runs over files in the background; what comes of them joins the project some at a time, so that
// the window stays free. One bad file stops nothing.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "session/recipe_run.h"

#include <QStringList>

namespace jointer::app {

struct RunFailure {
    std::string file;
    QString why;
};

class RunJob final : public QObject {
    Q_OBJECT
public:
    explicit RunJob(Document& document, QObject* parent = nullptr);

    // Files that were run before by this recipe are passed over. Returns how many are begun. Errors: an input
    // without a dataset.
    Result<std::size_t> begin(RecipeId recipe, std::vector<std::string> files);
    // Over datasets of the project; a chained recipe goes through them in the background, one after the other.
    void beginOn(RecipeId recipe, std::vector<DatasetId> datasets);
    void stop();
    bool isRunning() const { return running_; }
    std::size_t done() const { return done_; }
    std::size_t all() const { return all_; }
    const std::vector<RunFailure>& failures() const { return failures_; }
    void forgetFailures() { failures_.clear(); }

Q_SIGNALS:
    void progressed();
    void ended();

private:
    void expect(std::size_t n);
    void finishOne(); // of what was asked for
    struct Batch; // what is on its way to the window
    void work(const Recipe& recipe, const InputDatasets& inputs, const Project& project,
              const std::vector<std::string>& files, int run, const Cancellation& stop);
    void take(int run, const Recipe& recipe, const InputDatasets& inputs,
              const std::shared_ptr<Batch>& batch);

    Document& document_;
    JobQueue queue_;
    std::vector<RunFailure> failures_;
    std::size_t done_ = 0, all_ = 0;
    int run_ = 0; // merge key: one run is one entry of the history
    bool running_ = false;
};

} // namespace jointer::app
