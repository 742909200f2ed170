// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/work_stage.h"

#include "app/controls.h"
#include "app/panes/doubt_row.h"
#include "app/panes/following.h"
#include "app/panes/model_row.h"
#include "app/panes/numbers_grid.h"
#include "app/panes/pair_row.h"
#include "app/panes/tables_row.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QButtonGroup>
#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

constexpr std::size_t kLong = 2000; // points, from which a strip of the whole series helps to find the way

bool isLongSeries(const Project& project, const Dataset& d) {
    const auto table = project.tables.find(d.source.table);
    return table && table->rowCount() > kLong;
}

} // namespace

WorkStage::WorkStage(Document& document, ProtocolFocus focus, QWidget* parent)
    : QWidget(parent), document_(document), focus_(focus), plot_(new PlotCanvas), strip_(new PlotCanvas),
      overview_(new PlotCanvas), pane_(new ProtocolPane(document, focus)), tools_(new QButtonGroup(this)),
      strips_(new QButtonGroup(this)) {
    const auto [column, sideLayout] = layOutStage(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildTools());
    auto* plots = new QVBoxLayout;
    plots->setContentsMargins(14, 10, 14, 10);
    plots->setSpacing(2);
    plots->addWidget(overview_);
    plots->addWidget(plot_, 1);
    stripHead_ = buildStripHead();
    plots->addWidget(stripHead_);
    plots->addWidget(strip_);
    if (focus == ProtocolFocus::Analyses) {
        numbers_ = new NumbersGrid(document);
        numbers_->setFixedHeight(230);
        numbers_->hide();
        plots->addWidget(numbers_);
        models_ = new ModelRow(document);
        doubt_ = new DoubtRow(document);
        pairs_ = new PairRow(document);
        tables_ = new TablesRow(document);
        connect(tables_, &TablesRow::rowChosen, this, [this](const QString& name) {
            stressed_ = name.toStdString();
            refresh();
        });
        for (QWidget* row : std::initializer_list<QWidget*>{models_, doubt_, pairs_, tables_}) {
            row->setFixedHeight(178);
            row->hide();
            plots->addWidget(row);
        }
    }
    strip_->setFixedHeight(focus == ProtocolFocus::Steps ? 118 : 178);
    overview_->setMinimumHeight(0);
    overview_->setFixedHeight(38);
    overview_->hide();
    column->addLayout(plots, 1);
    sideLayout->setContentsMargins(1, 0, 0, 0);
    sideLayout->addWidget(pane_);
    plot_->setObjectName("workPlot");
    strip_->setObjectName("workStrip");
    overview_->setObjectName("overview");
    overview_->setAccessibleName(tr("The whole curve"));
    overview_->setToolTip(tr("The whole curve; click or drag to move the part that is shown"));
    for (PlotCanvas* canvas : {plot_, strip_, overview_}) connectCanvas(canvas);
    connectHandles();
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
        {Tool::Pointer, tr("Pointer"), "Esc", tr("Read values; drag and click handles (Esc)")},
        {Tool::Zoom, tr("Zoom"), "Z", tr("Drag a region; double-click shows all (Z)")},
        {Tool::Span, tr("Span"), "S",
         focus_ == ProtocolFocus::Steps
             ? tr("Drag an interval of x; Ctrl+C copies its numbers (S)")
             : tr("Drag the span of x that counts; with Shift one more piece (S)")},
        {Tool::LeaveOut, tr("Leave out"), "L",
         tr("Click or box points to leave them out or take them back; with Alt draw around them (L)")}};
    if (focus_ == ProtocolFocus::Steps)
        entries.push_back({Tool::Anchor, tr("Anchor"), "A",
                           tr("Click to place anchors of a baseline, or lines of a calibration (A)")});
    else
        entries.push_back({Tool::Peak, tr("Peak"), "P",
                           tr("Click to place a peak at the maximum near by; with Alt just there (P)")});
    for (const Entry& e : entries) {
        auto* button = new ToolButton(e.name, e.letter, e.tip);
        button->setChecked(e.tool == Tool::Pointer);
        tools_->addButton(button, static_cast<int>(e.tool));
        row->addWidget(button);
    }
    row->addStretch(1);
    if (focus_ == ProtocolFocus::Analyses)
        for (const auto& [words, tip, which] :
             {std::tuple(tr("log x"), tr("A logarithmic axis of x, for doses and the like"), &document_.logX),
              std::tuple(tr("log y"), tr("A logarithmic axis of y"), &document_.logY)}) {
            auto* toggle = button(plot_, words, "tool", tip, [] {});
            toggle->setCheckable(true);
            (which == &document_.logX ? logToggles_.first : logToggles_.second) = toggle;
            connect(toggle, &QPushButton::toggled, this, [this, which = which](bool on) {
                *which = on;
                document_.xRange.reset();
                yRange_.reset();
                refresh();
            });
            row->addWidget(toggle);
        }
    const auto addStep = [&](const char* arrow, const QString& name, const QString& tip, int by) {
        QPushButton* step = button(plot_, arrow, "tool", tip, [this, by] { Q_EMIT plot_->viewStepped(by); });
        step->setAccessibleName(name);
        row->addWidget(step);
    };
    addStep("‹", tr("View before"), tr("The view before (Alt+Left)"), -1);
    addStep("›", tr("View after"), tr("The view after (Alt+Right)"), 1);
    row->addWidget(button(plot_, tr("Show all"), "tool",
                          tr("Show the whole curve (double-click on the plot)"),
                          [this] { Q_EMIT plot_->rangeReset(); }));
    connect(tools_, &QButtonGroup::idClicked, this, [this](int id) { chooseTool(static_cast<Tool>(id)); });
    return strip;
}

QWidget* WorkStage::buildStripHead() {
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(56, 2, 0, 0);
    row->setSpacing(0);
    if (focus_ == ProtocolFocus::Steps) {
        const std::pair<Strip, QString> all[] = {{Strip::Taken, tr("taken away")},
                                                 {Strip::BeforeAfter, tr("before and after")},
                                                 {Strip::Frequencies, tr("frequencies")}};
        for (const auto& [strip, words] : all)
            addSegment(*row, static_cast<int>(strip), words, strip == shownStrip_);
    } else {
        addSegment(*row, static_cast<int>(Below::Residuals), tr("residuals"), true);
        addSegment(*row, static_cast<int>(Below::Numbers), tr("side by side"), false);
        addSegment(*row, static_cast<int>(Below::Models), tr("models"), false);
        addSegment(*row, static_cast<int>(Below::Doubt), tr("doubt"), false);
        addSegment(*row, static_cast<int>(Below::Pairs), tr("pairs"), false);
        addSegment(*row, static_cast<int>(Below::Profile), tr("profile"), false);
        addSegment(*row, static_cast<int>(Below::Quantiles), tr("quantiles"), false);
        addSegment(*row, static_cast<int>(Below::Sizes), tr("distribution"), false);
        addSegment(*row, static_cast<int>(Below::Straight), tr("straight line"), false);
        addSegment(*row, static_cast<int>(Below::Tables), tr("tables"), false);
        which_ = new QComboBox;
        which_->setObjectName("stripChoice");
        which_->setAccessibleName(tr("Shown below"));
        which_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
        which_->hide();
        row->addSpacing(8);
        row->addWidget(which_);
        connect(which_, &QComboBox::activated, this, &WorkStage::refresh);
    }
    row->addStretch(1);
    connect(strips_, &QButtonGroup::idClicked, this, [this](int id) {
        if (focus_ == ProtocolFocus::Analyses) return showBelow(static_cast<Below>(id));
        shownStrip_ = static_cast<Strip>(id);
        refresh();
    });
    return head;
}

void WorkStage::addSegment(QHBoxLayout& row, int id, const QString& words, bool checked) {
    auto* choice = new QPushButton(words);
    choice->setObjectName("segment");
    choice->setCheckable(true);
    choice->setChecked(checked);
    choice->setAccessibleName(tr("Below: %1").arg(words));
    strips_->addButton(choice, id);
    row.addWidget(choice);
}

void WorkStage::showBelow(Below what) {
    below_ = what;
    refresh();
}

// Without an analysis all that fits have is offered, and says what it needs.
bool WorkStage::goesWith(Below what, const analyses::AnalysisKind* kind) {
    switch (what) {
    case Below::Residuals:
    case Below::Models:
    case Below::Pairs:
    case Below::Profile:
        return !kind || kind->givesCurve;
    case Below::Quantiles:
        return kind && kind->givesQuantiles;
    case Below::Doubt: // lists of values have no span, windows or models that could be others
        return !kind || !kind->givesQuantiles;
    default:
        return true;
    }
}

// Beside what goes with the kind, what its result has.
bool WorkStage::isOffered(Below what) const {
    if (what == Below::Sizes) return !found_.sizes.empty();
    if (what == Below::Straight) return found_.straight;
    return goesWith(what, kindOpen());
}

const analyses::AnalysisKind* WorkStage::kindOpen() const {
    const auto a = document_.project().analyses.find(document_.analysis());
    return a ? analyses::kindOf(*a) : nullptr;
}

WorkStage::Below WorkStage::belowShown() const {
    const analyses::AnalysisKind* kind = kindOpen();
    if (isOffered(below_)) return below_;
    if (found_.straight) return Below::Straight;
    return kind && !kind->givesCurve ? Below::Tables : Below::Residuals;
}

void WorkStage::chooseTool(Tool tool) {
    if (QAbstractButton* button = tools_->button(static_cast<int>(tool))) {
        button->setChecked(true);
        plot_->setTool(tool);
        plot_->setFocus();
    }
}

void WorkStage::setRange(PlotCanvas* from, double low, double high,
                         std::optional<std::pair<double, double>> y) {
    if (from->content().ownX) return;
    history_.leave({document_.xRange, yRange_});
    document_.xRange = {low, high};
    if (from == plot_) yRange_ = y;
    refresh();
}

void WorkStage::showView(const std::optional<View>& view) {
    if (!view) return document_.say(tr("There is no other view to go to."));
    document_.xRange = view->x;
    yRange_ = view->y;
    refresh();
}

void WorkStage::connectCanvas(PlotCanvas* canvas) {
    connect(canvas, &PlotCanvas::rangeChosen, this,
            [this, canvas](double low, double high, std::optional<std::pair<double, double>> y) {
                setRange(canvas, low, high, y);
            });
    connect(canvas, &PlotCanvas::rangeReset, this, [this] {
        if (document_.xRange || yRange_) history_.leave({document_.xRange, yRange_});
        showView(View{});
    });
    connect(canvas, &PlotCanvas::viewStepped, this, [this](int by) {
        const View now{document_.xRange, yRange_};
        showView(by < 0 ? history_.back(now) : history_.forward(now));
    });
    connect(canvas, &PlotCanvas::escaped, this, [this] {
        if (plot_->tool() != Tool::Pointer) return chooseTool(Tool::Pointer);
        shownSpan_.reset();
        if (document_.spanToTake()) return document_.keepSpan(std::nullopt);
        refresh();
    });
    connect(canvas, &PlotCanvas::probed, this, [this](const QString& t) { Q_EMIT document_.readout(t, {}); });
    connect(canvas, &PlotCanvas::curveStepped, &document_, &Document::stepDataset);
    connect(canvas, &PlotCanvas::measuredHeld, this, [this](bool held) {
        if (focus_ != ProtocolFocus::Steps) return;
        if (held)
            document_.see(Document::Seen::Measured);
        else if (document_.seen() == Document::Seen::Measured)
            document_.see(Document::Seen::Natural);
    });
    connect(canvas, &PlotCanvas::dragBegan, this, [this] {
        if (const auto& shown = plot_->geometryShown())
            held_ =
                View{std::pair(shown->x.low(), shown->x.high()), std::pair(shown->y.low(), shown->y.high())};
        document_.beginDrag();
    });
    connect(canvas, &PlotCanvas::dragEnded, this, [this] {
        held_.reset();
        document_.endDrag();
    });
    connect(canvas, &PlotCanvas::dragGivenUp, this, [this] {
        held_.reset();
        document_.cancelDrag();
    });
    connect(canvas, &PlotCanvas::numbersCopied, this, &WorkStage::copyNumbers);
    if (canvas != plot_) return;
    connect(canvas, &PlotCanvas::drawn, this, [this] {
        if (waitingStrip_) stripPace_.call(document_.isDragging());
    });
}

void WorkStage::copyNumbers() {
    const std::string& numbers = plot_->content().spanTable;
    if (numbers.empty())
        return document_.say(tr("Drag an interval with the tool Span first; its numbers are copied then."));
    QGuiApplication::clipboard()->setText(text(numbers));
    document_.say(tr("Copied the numbers of the span."));
}

void WorkStage::refreshBelow() {
    const Below what = belowShown();
    strips_->button(static_cast<int>(what))->setChecked(true);
    for (QAbstractButton* segment : strips_->buttons())
        segment->setVisible(isOffered(static_cast<Below>(strips_->id(segment))));
    static constexpr Below kStrips[] = {Below::Residuals, Below::Profile, Below::Quantiles, Below::Sizes,
                                        Below::Straight};
    strip_->setVisible(std::ranges::find(kStrips, what) != std::end(kStrips));
    numbers_->setVisible(what == Below::Numbers);
    models_->setVisible(what == Below::Models);
    doubt_->setVisible(what == Below::Doubt);
    pairs_->setVisible(what == Below::Pairs);
    tables_->setVisible(what == Below::Tables);
    if (what == Below::Numbers) numbers_->refresh();
    if (what == Below::Models) models_->refresh();
    if (what == Below::Tables) tables_->refresh();
    if (document_.isDragging()) return;
    if (what == Below::Doubt) doubt_->refresh();
    if (what == Below::Pairs) pairs_->refresh();
}

// What needs computing is filled in by the canvas in the background (`prepare`).
void WorkStage::refresh() {
    if (!isVisible()) return;
    if (zoomed_ != document_.dataset()) { // a zoom belongs to its dataset
        zoomed_ = document_.dataset();
        yRange_.reset();
        shownSpan_.reset();
        history_.clear();
    }
    if (focus_ == ProtocolFocus::Analyses) refreshBelow();
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
    strip.emptyText.clear(); // once is enough
    strip.yRange.reset();
    strip.probed = {};
    strip.legend = false;
    strip.showXTitle = false;
    if (d && focus_ == ProtocolFocus::Steps) fillForSteps(*d, main, strip);
    const bool isLong = d && focus_ == ProtocolFocus::Steps && isLongSeries(document_.project(), *d);
    overview_->setVisible(isLong); // whether zoomed or not: the plot keeps its place
    if (isLong) fillOverview(*d);
    if (d && focus_ == ProtocolFocus::Analyses) fillForAnalyses(*d, main, strip);
    if (held_) {
        main.xRange = held_->x;
        main.yRange = held_->y;
    }
    plot_->show(std::move(main));
    // Under a dragging hand the main picture goes first.
    waitingStrip_.reset();
    if (document_.isDragging())
        waitingStrip_ = std::move(strip);
    else
        strip_->show(std::move(strip));
}

void WorkStage::showWaitingStrip() {
    if (waitingStrip_) strip_->show(*std::exchange(waitingStrip_, std::nullopt));
}

} // namespace jointer::app
