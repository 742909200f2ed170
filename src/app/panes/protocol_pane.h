// SPDX-License-Identifier: GPL-3.0-or-later
// The right side of Clean and Analyse: what has been done to the dataset, as numbered sentences. The number
// is the switch; a click on a sentence opens its settings. Steps first, then analyses.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "app/paced.h"

#include <QScrollArea>

class QMimeData;
class QVBoxLayout;

namespace jointer::app {

class SentenceRow;
class AnalysisCard;

enum class ProtocolFocus { Steps, Analyses };

class ProtocolPane final : public QScrollArea {
    Q_OBJECT
public:
    ProtocolPane(Document& document, ProtocolFocus focus, QWidget* parent = nullptr);
    void openPicker(); // of the open fit
    bool isCurrent() const { return !job_.isBusy() && !filling_.isWaiting(); }

    void pasteSteps(); // from the clipboard onto the selected datasets

    void focusSetting(StepId step, const std::string& key); // opens the step

Q_SIGNALS:
    void recipeWanted(jointer::DatasetId of); // of the way of this dataset

protected:
    void keyPressEvent(QKeyEvent*) override; // copies steps
    void dragEnterEvent(QDragEnterEvent*) override;
    void dragMoveEvent(QDragMoveEvent*) override;
    void dragLeaveEvent(QDragLeaveEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    void refresh();
    void rebuild();
    void fill() { filling_.call(document_.isDragging()); }
    void fillNow();
    void addStep(const Step& step, int number, const std::vector<Dataset>& others);
    void addForm(SentenceRow& row, const Step& step);
    void addLookAt(SentenceRow& row, StepId step);
    void addAgreement(SentenceRow& row, const Step& step, const std::vector<Dataset>& others);
    void showStages(const evaluate::ProtocolResult& result);
    void showAnalyses(const std::map<AnalysisId, evaluate::AnalysisOutcome>& results);
    std::string agreementText(const std::shared_ptr<const Dataset>& d) const;
    void offerProtocol(QWidget* under);
    void copySteps(bool all);
    int placeAt(QPoint inView) const; // before which step something would be dropped
    void showDropPlace(int place);    // by a line; -1: none
    std::optional<StepId> draggedStep(const QMimeData* data) const;
    void addSteps(const Dataset& d);
    void addAnalyses();
    void addHint(const QString& words);
    void addLink(const QString& words, void (ProtocolPane::*offer)(QWidget*));
    void offerSteps(QWidget* under);
    void offerAnalyses(QWidget* under);
    void wantRecipe(QWidget* under);
    void addBeginnings(DatasetId of);

    Document& document_;
    ProtocolFocus focus_;
    Paced filling_{[this] { fillNow(); }};
    LatestJob job_;
    QVBoxLayout* rows_;
    std::string built_; // what the rows were built for
    std::vector<std::pair<StepId, SentenceRow*>> steps_;
    std::vector<std::pair<AnalysisId, SentenceRow*>> analyses_;
    AnalysisCard* card_ = nullptr;
    QFrame* dropLine_ = nullptr;
};

// The analysis that a new fit begins with: a straight line over all points.
Analysis newFit(DatasetId dataset, const std::string& model);
// One of another kind.
Analysis newAnalysis(DatasetId dataset, const std::string& kind);

} // namespace jointer::app
