// SPDX-License-Identifier: GPL-3.0-or-later
// The two sides of the stage Results: all numbers, and the runs of recipes.
#pragma once

#include "app/stages/results_stage.h"
#include "app/stages/runs_view.h"

class QButtonGroup;
class QStackedWidget;

namespace jointer::app {

class ResultsDesk final : public QWidget {
    Q_OBJECT
public:
    explicit ResultsDesk(Document& document, QWidget* parent = nullptr);
    ResultsStage* numbers() { return numbers_; }
    RunsView* runs() { return runs_; }
    bool showsRuns() const;
    void showRuns(bool runs);
    bool isCurrent() const;

private:
    ResultsStage* numbers_;
    RunsView* runs_;
    QStackedWidget* pages_;
    QButtonGroup* choice_;
};

} // namespace jointer::app
