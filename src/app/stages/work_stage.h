// SPDX-License-Identifier: GPL-3.0-or-later
// Clean and Analyse: a tool strip, the work plot with a strip below it, and the protocol at the right.
#pragma once

#include "app/canvas/plot_canvas.h"
#include "app/document.h"
#include "app/panes/protocol_pane.h"

#include <QWidget>

class QButtonGroup;

namespace jointer::app {

class WorkStage final : public QWidget {
    Q_OBJECT
public:
    WorkStage(Document& document, ProtocolFocus focus, QWidget* parent = nullptr);
    PlotCanvas* canvas() { return plot_; }
    ProtocolPane* protocol() { return pane_; }
    void chooseTool(Tool tool);

protected:
    void showEvent(QShowEvent*) override { refresh(); } // what is hidden is brought up to date when it shows

private:
    QWidget* buildTools();
    void refresh();
    void connectCanvas();
    void setSpan(double low, double high);
    std::optional<Step> openBaseline() const;
    void fillForSteps(const Dataset& d, PlotContent& main, PlotContent& strip);
    void fillForAnalyses(const Dataset& d, PlotContent& main, PlotContent& strip);
    void editAnchors(const std::function<void(Numbers&)>& how, bool merge);
    void editAnchorsOf(StepId step, Numbers anchors, bool merge);

    Document& document_;
    ProtocolFocus focus_;
    PlotCanvas *plot_, *strip_;
    ProtocolPane* pane_;
    QButtonGroup* tools_;
    std::optional<std::pair<double, double>> yRange_;
    DatasetId zoomed_;                                   // whose zoom and span these are
    std::optional<std::pair<double, double>> shownSpan_; // of Clean: numbers only
};

} // namespace jointer::app
