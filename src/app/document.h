// SPDX-License-Identifier: GPL-3.0-or-later
// The open project as the window sees it: the session with signals, what is selected, and messages. All panes
// talk to this one object and never to each other. Lives in the window's thread. What changed is told once
// the event that changed it is over: a pane may build itself anew without taking away the widget that is just
// handling a click or losing the focus.
#pragma once

#include "session/session.h"

#include <QObject>
#include <QString>

namespace jointer::app {

class Document final : public QObject {
    Q_OBJECT
public:
    explicit Document(const std::string& stateFolder, QObject* parent = nullptr);

    Session& session() { return session_; }
    const Project& project() const { return session_.project(); }

    bool apply(const Edit& edit); // a refused edit becomes a message
    // The edit made for the current dataset, and for each other selected one that agrees: that has such a
    // step, or such an analysis. One entry of the history.
    bool onEach(const std::function<Edit(DatasetId)>& make);
    bool onEachStep(StepId step, const std::function<Edit(DatasetId, StepId)>& make);
    bool onEachAnalysis(AnalysisId analysis, const std::function<Edit(AnalysisId)>& make);
    void say(const QString& text, bool isError = false);

    DatasetId dataset() const { return dataset_; }
    std::shared_ptr<const Dataset> currentDataset() const { return project().datasets.find(dataset_); }
    void selectDataset(DatasetId id);
    // The selected datasets, the current one first.
    const std::vector<DatasetId>& selection() const { return selection_; }
    void selectDatasets(std::vector<DatasetId> ids); // the first becomes the current one

    TableId table() const { return table_; }
    void selectTable(TableId id);

    StepId step() const { return step_; } // whose card is open
    void openStep(StepId id);

    // Which picture of the protocol the work plot of Clean shows: what is natural (what the open step does,
    // else the end), the curve before or after a step, or as measured while a key is held.
    enum class Seen { Natural, Before, After, Measured };
    Seen seen() const { return seen_; }
    StepId seenStep() const { return seenStep_; }
    void see(Seen what, StepId step = {});

    // Settings of the step changed by a gesture, on each selected dataset that agrees; what is bound to rows
    // only on the current one.
    bool changeSettings(StepId step, const Settings& after, const std::string& name);

    // As text; empty: all of the protocol. `of`: another dataset than the current one.
    std::string copySteps(const std::vector<StepId>& steps, DatasetId of = {}) const;
    bool pasteSteps(const std::string& text, std::vector<DatasetId> to, bool replace);

    // The steps of a dataset as places of its protocol: ids and "after 2 · Baseline".
    std::vector<std::pair<std::string, std::string>> placesOf(DatasetId id) const;

    void levelStep(StepId step); // the further selected datasets get its settings
    bool xIsTime() const;        // of the current dataset, as measured

    void stepDataset(int by); // to the next or the one before, in the order of the project

    AnalysisId analysis() const { return analysis_; }
    void openAnalysis(AnalysisId id);
    // One for each selected dataset, over the span that waits for it; the one of the current dataset is opened.
    bool addAnalysis(const std::function<Analysis(DatasetId)>& make);
    // A span of x that was chosen before there was an analysis: the next one takes it.
    const std::optional<std::pair<double, double>>& spanToTake() const { return spanToTake_; }
    void keepSpan(std::optional<std::pair<double, double>> span);
    int peak() const { return peak_; } // of the open set of peaks, by its number; 0: none
    void selectPeak(int number);

    FigureId figure() const { return figure_; }
    ElementId element() const { return element_; } // none: the figure itself
    void selectFigure(FigureId id);
    void selectElement(ElementId id, DatasetId of = {}); // of a group: which of its datasets
    // Several elements: the last one chosen shows its settings, all change together.
    const std::vector<ElementId>& elements() const { return elements_; }
    void toggleElement(ElementId id);
    DatasetId elementDataset() const { return elementDataset_; }

    // While a handle or a slider is dragged, edits merge into one and fits are only provisional; letting go
    // computes them fully.
    void beginDrag();
    void endDrag();
    void cancelDrag(); // takes back what it did
    bool isDragging() const { return dragging_; }
    evaluate::Effort effort() const {
        return dragging_ ? evaluate::Effort::Provisional : evaluate::Effort::Full;
    }

    // What is open and selected, as text that is saved beside the project, and found again with it.
    std::string viewText(int stage) const;
    int restoreView(const std::string& text); // gives the stage; -1 when the text tells none

    // The attribute by which datasets are ordered and grouped; empty: as they were made.
    const std::string& order() const { return order_; }
    void orderBy(const std::string& attribute);

    // Where dialogs begin: the folder last worked in, else that of the project.
    QString folder() const;
    void workedIn(const QString& path); // a file or a folder

    int sideWidth = 296; // of the pane at the right, in pixels; remembered with the project

    bool logX = false, logY = false; // of the plot in Analyse; a new figure takes them over
    // The visible range of x that work plots share; empty: all.
    std::optional<std::pair<double, double>> xRange;

    bool isTold() const { return told_ == News::None; } // panes know all that has changed
    void tellAll();                                     // shows everything anew, as after a change of theme

Q_SIGNALS:
    void changed();          // the project, perhaps the selection too
    void selectionChanged(); // dataset, table, step, analysis, figure or element; not the project
    void message(const QString& text, bool isError);
    void readout(const QString& left, const QString& right);
    void busyChanged(bool busy); // fits are being computed

private:
    enum class News { None, Selection, Project };
    void keepSelectionValid();
    bool applyEach(std::vector<Edit> list);
    void announce(News news);
    void tell();
    Session session_;
    DatasetId dataset_;
    std::vector<DatasetId> selection_;
    TableId table_;
    StepId step_, seenStep_;
    Seen seen_ = Seen::Natural;
    AnalysisId analysis_;
    int peak_ = 0;
    std::optional<std::pair<double, double>> spanToTake_;
    FigureId figure_;
    ElementId element_;
    std::vector<ElementId> elements_;
    DatasetId elementDataset_;
    std::string order_;
    QString folder_;
    bool dragging_ = false;
    std::size_t beforeDrag_ = 0; // entries of the history
    News told_ = News::None;     // still to be told
};

} // namespace jointer::app
