// SPDX-License-Identifier: GPL-3.0-or-later
// Clean and Analyse: a tool strip, the work plot with a strip below it, and the protocol at the right.
#pragma once

#include "analyses/areas/areas.h"
#include "analyses/peaks/peaks.h"
#include "app/canvas/plot_canvas.h"
#include "app/document.h"
#include "app/paced.h"
#include "app/panes/protocol_pane.h"
#include "app/stages/view_history.h"

#include <QWidget>

class QButtonGroup;
class QPushButton;
class QComboBox;
class QHBoxLayout;

namespace jointer::app {

class DoubtRow;
class ModelRow;
class NumbersGrid;
class PairRow;
class TablesRow;

class WorkStage final : public QWidget {
    Q_OBJECT
public:
    WorkStage(Document& document, ProtocolFocus focus, QWidget* parent = nullptr);
    PlotCanvas* canvas() { return plot_; }
    PlotCanvas* strip() { return strip_; }
    bool arePlotsCurrent() const { return plot_->isCurrent() && (strip_->isHidden() || (!waitingStrip_ && strip_->isCurrent())); }
    ProtocolPane* protocol() { return pane_; }
    void chooseTool(Tool tool);

    // What the strip of Clean shows of the open step, or of the last one.
    enum class Strip { Taken, BeforeAfter, Frequencies };
    // What the place below the plot shows of Analyse.
    enum class Below {
        Residuals,
        Numbers,
        Profile,
        Models,
        Doubt,
        Pairs,
        Tables,
        Quantiles,
        Sizes,
        Straight
    };
    NumbersGrid* numbers() { return numbers_; }
    ModelRow* models() { return models_; }
    DoubtRow* doubt() { return doubt_; }
    PairRow* pairs() { return pairs_; }
    TablesRow* tables() { return tables_; }
    void showBelow(Below what);

protected:
    void showEvent(QShowEvent*) override { refresh(); } // what is hidden is brought up to date when it shows

private:
    QWidget* buildTools();
    QWidget* buildStripHead();
    void addSegment(QHBoxLayout& row, int id, const QString& words, bool checked);
    void refresh();
    void refreshBelow();
    void offerStripChoices();
    static bool goesWith(Below what, const analyses::AnalysisKind* kind);
    const analyses::AnalysisKind* kindOpen() const;
    Below belowShown() const; // what was chosen; of an analysis that has none such its tables
    void fillBelow(const Analysis& fit, DatasetId dataset, PlotContent& strip);
    void fillQuantiles(const Analysis& analysis, DatasetId dataset, PlotContent& strip);
    void fillProfile(const Analysis& fit, DatasetId dataset, PlotContent& strip);
    void fillSizes(const Analysis& analysis, DatasetId dataset, PlotContent& strip);
    void fillStraight(const Analysis& analysis, DatasetId dataset, PlotContent& strip);
    bool isOffered(Below what) const;
    void showDecades();
    void connectCanvas(PlotCanvas* canvas);
    void connectHandles();
    void moveHandled(const steps::Handle& handle, double x, double y);
    void removeHandled(const steps::Handle& handle);
    void setSpan(double low, double high, std::optional<std::size_t> piece, bool further);
    void setRange(PlotCanvas* from, double low, double high, std::optional<std::pair<double, double>> y);
    void showView(const std::optional<View>& view);
    void copyNumbers();
    std::optional<Step> stepOfCurrent(StepId id) const; // none: not in its protocol
    std::optional<Step> openStep() const;
    std::vector<std::string> openIntervals(const Step& step) const; // settings that the tool Span sets
    std::string intervalFor(const Step& step, double low, double high) const; // which of them; empty: none
    void changeHandled(const std::string& name,
                       const std::function<Settings(const steps::StepOutput&, const Settings&)>& how);
    void addAnchor(double x, double y);
    void addPeak(double x, double y, bool free);
    // An edit over the peaks as they are shown; false: none are.
    bool changePeaks(const char* name,
                     const std::function<void(Analysis&, const analyses::PeaksDetail&)>& how);
    // The same over areas between limits.
    bool changeAreas(const char* name,
                     const std::function<void(Analysis&, const analyses::AreasDetail&)>& how);
    void changeShown(const char* name, const std::function<void(Analysis&)>& how);
    void offerAreaActions(const steps::Handle& handle, QPoint at);
    void clickPeak(const steps::Handle& handle);
    void offerPeakActions(const steps::Handle& handle, QPoint at);
    void moveCutoff(double frequency);
    void offerActions(const steps::Handle& handle, QPoint at);
    std::optional<std::pair<double, double>> spanOfSteps() const;
    void fillForSteps(const Dataset& d, PlotContent& main, PlotContent& strip);
    void fillOverview(const Dataset& d);
    void fillForAnalyses(const Dataset& d, PlotContent& main, PlotContent& strip);
    void showWaitingStrip();

    Document& document_;
    ProtocolFocus focus_;
    PlotCanvas *plot_, *strip_, *overview_;
    ProtocolPane* pane_;
    QButtonGroup *tools_, *strips_;
    std::pair<QPushButton*, QPushButton*> logToggles_{}; // of x and y
    QWidget* stripHead_;
    Strip shownStrip_ = Strip::Taken;
    Below below_ = Below::Residuals;
    QComboBox* which_ = nullptr; // of the profiles, of the predictors that residuals are shown over, or of
                                 // the lists with quantiles
    struct Found {               // of the fit shown, as far as it is computed
        std::vector<std::string> profiles;
        std::vector<std::string> overs;     // what residuals can be shown over, beside x
        std::vector<std::string> quantiles; // whose quantiles there are
        std::vector<std::string> sizes;     // distributions over a length
        bool straight = false;              // a law of scattering as a line
        bool decades = false;               // its values go over decades
        bool operator==(const Found&) const = default;
    };
    void takeFound();
    Found found_;
    AnalysisId overDecades_{}; // whose axes have been made logarithmic
    struct Without { // a point without which the open fit is shown too
        AnalysisId fit;
        DatasetId dataset;
        std::uint32_t row = 0;
        bool operator==(const Without&) const = default;
    };
    void showWithout(std::uint32_t row); // or no longer, if it is shown
    std::optional<Without> without_;
    NumbersGrid* numbers_ = nullptr; // of Analyse
    ModelRow* models_ = nullptr;
    DoubtRow* doubt_ = nullptr;
    PairRow* pairs_ = nullptr;
    TablesRow* tables_ = nullptr;
    std::string stressed_; // the row of the tables that is chosen
    std::optional<std::pair<double, double>> yRange_;
    std::optional<View> held_; // while a handle is dragged the axes stay
    std::optional<PlotContent> waitingStrip_; // until the main plot is drawn
    Paced stripPace_{[this] { showWaitingStrip(); }};
    ViewHistory history_;
    DatasetId zoomed_;                                   // whose zoom and span these are
    std::optional<std::pair<double, double>> shownSpan_; // of Clean: numbers only
};

} // namespace jointer::app
