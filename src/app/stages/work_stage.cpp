// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/work_stage.h"

#include "app/controls.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

WorkStage::WorkStage(Document& document, ProtocolFocus focus, QWidget* parent)
    : QWidget(parent), document_(document), focus_(focus), plot_(new PlotCanvas), strip_(new PlotCanvas),
      pane_(new ProtocolPane(document, focus)), tools_(new QButtonGroup(this)) {
    const auto [column, sideLayout] = layOutStage(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildTools());
    auto* plots = new QVBoxLayout;
    plots->setContentsMargins(14, 10, 14, 10);
    plots->setSpacing(2);
    plots->addWidget(plot_, 1);
    plots->addWidget(strip_);
    strip_->setFixedHeight(focus == ProtocolFocus::Steps ? 118 : 178);
    column->addLayout(plots, 1);
    sideLayout->setContentsMargins(1, 0, 0, 0);
    sideLayout->addWidget(pane_);
    plot_->setObjectName("workPlot");
    connectCanvas();
    connect(&document_, &Document::changed, this, &WorkStage::refresh);
    connect(&document_, &Document::selectionChanged, this, &WorkStage::refresh);
    refresh();
}

QWidget* WorkStage::buildTools() {
    QHBoxLayout* row = nullptr;
    QWidget* strip = toolStrip(row);
    struct Entry {
        Tool tool;
        QString name, letter, tip;
    };
    std::vector<Entry> entries = {
        {Tool::Pointer, tr("Pointer"), "Esc", tr("Read values; drag handles (Esc)")},
        {Tool::Zoom, tr("Zoom"), "Z", tr("Drag a region; double-click shows all (Z)")},
        {Tool::Span, tr("Span"), "S", tr("Drag an interval of x (S)")},
        {Tool::LeaveOut, tr("Leave out"), "L",
         tr("Click or box points to leave them out or take them back (L)")}};
    if (focus_ == ProtocolFocus::Steps)
        entries.push_back({Tool::Anchor, tr("Anchor"), "A",
                           tr("Click to place baseline anchors; right-click removes one (A)")});
    for (const Entry& e : entries) {
        auto* button = new ToolButton(e.name, e.letter, e.tip);
        button->setChecked(e.tool == Tool::Pointer);
        tools_->addButton(button, static_cast<int>(e.tool));
        row->addWidget(button);
    }
    row->addStretch(1);
    row->addWidget(button(plot_, tr("Show all"), "tool",
                          tr("Show the whole curve (double-click on the plot)"),
                          [this] { Q_EMIT plot_->rangeReset(); }));
    connect(tools_, &QButtonGroup::idClicked, this, [this](int id) { chooseTool(static_cast<Tool>(id)); });
    return strip;
}

void WorkStage::chooseTool(Tool tool) {
    if (QAbstractButton* button = tools_->button(static_cast<int>(tool))) {
        button->setChecked(true);
        plot_->setTool(tool);
        plot_->setFocus();
    }
}

void WorkStage::connectCanvas() {
    for (PlotCanvas* canvas : {plot_, strip_}) {
        connect(canvas, &PlotCanvas::rangeChosen, this,
                [this, canvas](double low, double high, std::optional<std::pair<double, double>> y) {
                    document_.xRange = {low, high};
                    if (canvas == plot_) yRange_ = y;
                    refresh();
                });
        connect(canvas, &PlotCanvas::rangeReset, this, [this] {
            document_.xRange.reset();
            yRange_.reset();
            refresh();
        });
        connect(canvas, &PlotCanvas::escaped, this, [this] {
            if (plot_->tool() != Tool::Pointer) return chooseTool(Tool::Pointer);
            shownSpan_.reset();
            refresh();
        });
        connect(canvas, &PlotCanvas::probed, this,
                [this](const QString& t) { Q_EMIT document_.readout(t, {}); });
    }
    connect(plot_, &PlotCanvas::drawn, this, [this] {
        if (const std::string& span = plot_->content().spanText; isVisible())
            Q_EMIT document_.readout({}, span.empty() ? QString(" ") : text(span));
    });
    connect(plot_, &PlotCanvas::dragBegan, &document_, &Document::beginDrag);
    connect(plot_, &PlotCanvas::dragEnded, &document_, &Document::endDrag);
    connect(plot_, &PlotCanvas::spanChosen, this, &WorkStage::setSpan);
    connect(plot_, &PlotCanvas::pointsToggled, this,
            [this](const std::vector<std::uint32_t>& rows, bool out) {
                if (document_.apply(edits::excludeRows(document_.dataset(), rows, out)))
                    document_.say(out ? tr("Left out %1.")
                                            .arg(QString::fromStdString(
                                                counted(static_cast<long long>(rows.size()), "point")))
                                      : tr("Took back %1.")
                                            .arg(QString::fromStdString(
                                                counted(static_cast<long long>(rows.size()), "point"))));
            });
    connect(plot_, &PlotCanvas::anchorAdded, this, [this](double x, double y) {
        editAnchors([=](Numbers& a) { a.push_back(x), a.push_back(y); }, false);
    });
    connect(plot_, &PlotCanvas::anchorMoved, this, [this](int i, double x, double y) {
        editAnchors(
            [=](Numbers& a) {
                const auto k = static_cast<std::size_t>(2 * i);
                if (k + 1 < a.size()) a[k] = x, a[k + 1] = y;
            },
            true);
    });
    connect(plot_, &PlotCanvas::anchorRemoved, this, [this](int i) {
        editAnchors(
            [=](Numbers& a) {
                if (static_cast<std::size_t>(2 * i + 1) < a.size())
                    a.erase(a.begin() + 2 * i, a.begin() + 2 * i + 2);
            },
            false);
    });
}

// The baseline step that handles belong to: the open one, else the last.
std::optional<Step> WorkStage::openBaseline() const {
    const auto d = document_.currentDataset();
    std::optional<Step> last;
    if (!d) return last;
    for (const Step& s : d->protocol)
        if (s.kind == "baseline" && s.on &&
            (s.id == document_.step() || !last || last->id != document_.step()))
            last = s;
    return last;
}

void WorkStage::editAnchors(const std::function<void(Numbers&)>& how, bool merge) {
    if (!document_.currentDataset()) return;
    const std::optional<Step> step = openBaseline();
    if (!step) {
        Settings settings;
        Numbers anchors;
        how(anchors);
        settings.set("anchors", Value(anchors));
        if (document_.apply(edits::addStep(document_.dataset(), "baseline", settings,
                                           "Add step: Baseline through anchors")))
            document_.openStep(document_.currentDataset()->protocol.back().id);
        return;
    }
    Numbers anchors = step->settings.numbers("anchors");
    how(anchors);
    editAnchorsOf(step->id, anchors, merge);
}

void WorkStage::editAnchorsOf(StepId step, Numbers anchors, bool merge) {
    if (!merge) document_.session().endMerging();
    document_.apply(edits::setStep(document_.dataset(), step, "anchors", Value(std::move(anchors))));
    if (!merge) document_.session().endMerging();
}

void WorkStage::setSpan(double low, double high) {
    low = plot_->nearestX(low);
    high = plot_->nearestX(high);
    if (focus_ == ProtocolFocus::Analyses && document_.analysis()) {
        document_.onEachAnalysis(document_.analysis(), [&](AnalysisId id) {
            return edits::changeAnalysis(
                id, "Change span", [=](Analysis& a) { a.inputs[0].low = low, a.inputs[0].high = high; },
                "span " + document_.analysis().text());
        });
        return;
    }
    const auto d = document_.currentDataset();
    const auto crop =
        d ? std::ranges::find_if(d->protocol,
                                 [&](const Step& s) { return s.id == document_.step() && s.kind == "crop"; })
          : std::vector<Step>::const_iterator{};
    if (d && crop != d->protocol.end()) {
        document_.onEachStep(crop->id, [&](DatasetId id, StepId step) {
            return edits::setStep(id, step, "range", Value(Numbers{low, high}));
        });
        return;
    }
    shownSpan_ = {low, high};
    refresh();
}

// What needs computing is filled in by the canvas in the background (`prepare`).
void WorkStage::refresh() {
    if (!isVisible()) return;
    if (zoomed_ != document_.dataset()) { // a zoom belongs to its dataset
        zoomed_ = document_.dataset();
        yRange_.reset();
        shownSpan_.reset();
    }
    const auto d = document_.currentDataset();
    PlotContent main{.project = document_.project(),
                     .evaluator = document_.session().sharedEvaluator(),
                     .effort = document_.effort()};
    main.emptyText = tr("Drop files here, or paste a block with Ctrl+V.\nEach file becomes a table, and a "
                        "dataset where it has x and y.")
                         .toStdString();
    main.xRange = document_.xRange;
    main.yRange = yRange_;
    if (d) {
        main.probed = d->id;
        main.probedName = d->name;
    }
    PlotContent strip = main;
    strip.yRange.reset();
    strip.probed = {};
    strip.legend = false;
    strip.showXTitle = false;
    if (d && focus_ == ProtocolFocus::Steps) fillForSteps(*d, main, strip);
    if (d && focus_ == ProtocolFocus::Analyses) fillForAnalyses(*d, main, strip);
    strip_->show(std::move(strip));
    plot_->show(std::move(main));
}

} // namespace jointer::app
