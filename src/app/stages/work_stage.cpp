// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/work_stage.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "figure/kinds.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

namespace {

Element mark(const char* kind, const std::string& source,
             std::initializer_list<std::pair<const char*, Value>> settings) {
    Element e = figure::newMark(kind, source);
    for (const auto& [key, value] : settings) e.settings.set(key, value);
    return e;
}

// A dataset's colour as it shows on the ground of the work plots.
Value shownColour(const Dataset& d) {
    const QColor c(QString::fromStdString(d.colour));
    return Value((theme().dark ? c.lighter(150) : c).name().toStdString());
}

Value str(const QColor& c) {
    return Value(c.name().toStdString());
}

} // namespace

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
    connect(&document_, &Document::selectionChanged, this, [this] {
        yRange_.reset();
        refresh();
    });
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
        {Tool::Exclude, tr("Exclude"), "E",
         tr("Click or box points to leave them out or take them back (E)")}};
    if (focus_ == ProtocolFocus::Steps)
        entries.push_back({Tool::Anchor, tr("Anchor"), "A",
                           tr("Click to place baseline anchors; right-click removes one (A)")});
    for (const Entry& e : entries) {
        auto* button = new QPushButton(e.name + "  " + e.letter);
        button->setObjectName("tool");
        button->setCheckable(true);
        button->setToolTip(e.tip);
        button->setAccessibleName(e.name);
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
const Step* WorkStage::openBaseline() const {
    static Step found;
    const auto d = document_.currentDataset();
    const Step* last = nullptr;
    if (!d) return nullptr;
    for (const Step& s : d->protocol)
        if (s.kind == "baseline" && s.on &&
            (s.id == document_.step() || !last || last->id != document_.step()))
            last = &s;
    if (!last) return nullptr;
    found = *last;
    return &found;
}

void WorkStage::editAnchors(const std::function<void(Numbers&)>& how, bool merge) {
    if (!document_.currentDataset()) return;
    const Step* step = openBaseline();
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

// The x of the point nearest to a place; the place itself beyond the curve.
double WorkStage::snapped(double x) const {
    const auto d = document_.currentDataset();
    const auto curve = d ? document_.session().evaluator().measured(document_.project(), *d).value : nullptr;
    if (!curve || curve->size() == 0 || x < curve->x.front() || x > curve->x.back()) return x;
    return curve->x[nearestPoint(curve->x, x)];
}

void WorkStage::setSpan(double low, double high) {
    low = snapped(low);
    high = snapped(high);
    if (focus_ == ProtocolFocus::Analyses && document_.analysis()) {
        document_.apply(edits::changeAnalysis(
            document_.analysis(), "Change span",
            [=](Analysis& a) { a.inputs[0].low = low, a.inputs[0].high = high; },
            "span " + document_.analysis().text()));
        return;
    }
    const auto d = document_.currentDataset();
    const auto crop =
        d ? std::ranges::find_if(d->protocol,
                                 [&](const Step& s) { return s.id == document_.step() && s.kind == "crop"; })
          : std::vector<Step>::const_iterator{};
    if (d && crop != d->protocol.end()) {
        document_.apply(edits::setStep(document_.dataset(), crop->id, "range", Value(Numbers{low, high})));
        return;
    }
    shownSpan_ = {low, high};
    refresh();
}

// The numbers of the span at the right of the readout: points, area, maximum.
void WorkStage::reportSpan() {
    if (!shownSpan_ || !document_.currentDataset()) return;
    const auto protocol = document_.session().evaluator().protocol(document_.project(), document_.dataset());
    const Curve& c = protocol.end().curve();
    double area = 0, top = -INFINITY, at = 0;
    std::size_t n = 0, before = c.size();
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < shownSpan_->first || c.x[i] > shownSpan_->second) continue;
        if (before < c.size()) area += 0.5 * (c.y[i] + c.y[before]) * (c.x[i] - c.x[before]);
        if (c.y[i] > top) top = c.y[i], at = c.x[i];
        before = i;
        ++n;
    }
    auto number = [](double v, int digits = 5) { return QString::fromStdString(readableNumber(v, digits)); };
    if (n > 0)
        Q_EMIT document_.readout({}, tr("span %1 … %2   Δx %3   %4 points   area %5   maximum %6 at %7")
                                         .arg(number(shownSpan_->first), number(shownSpan_->second),
                                              number(shownSpan_->second - shownSpan_->first))
                                         .arg(n)
                                         .arg(number(area, 4), number(top, 4), number(at)));
}

void WorkStage::refresh() {
    if (!isVisible()) return;
    const auto d = document_.currentDataset();
    PlotContent main{.project = document_.project(), .evaluator = document_.session().sharedEvaluator()};
    main.emptyText = tr("Drop files here, or paste a block with Ctrl+V.\nEach file becomes a table, and a "
                        "dataset where it has x and y.")
                         .toStdString();
    main.xRange = document_.xRange;
    main.yRange = yRange_;
    PlotContent strip = main;
    strip.yRange.reset();
    if (d) {
        const std::string id = d->id.text();
        const Value quiet = str(theme().muted);
        main.probed = d->id;
        // Plot and strip share one range of x.
        const auto measured = document_.session().evaluator().measured(document_.project(), *d).value;
        if (!main.xRange && measured->size() > 1 && measured->x.back() > measured->x.front()) {
            const double by = 0.02 * (measured->x.back() - measured->x.front());
            main.xRange = strip.xRange = {measured->x.front() - by, measured->x.back() + by};
        }
        main.probedName = d->name;
        if (focus_ == ProtocolFocus::Steps) {
            const bool cleaned = std::ranges::any_of(d->protocol, [](const Step& s) { return s.on; });
            main.marks = {mark("points-line", id,
                               {{"point", Value(std::string("measured"))},
                                {"size", 0.7},
                                {"width", 0.7},
                                {"colour", quiet},
                                {"errors", Value(false)},
                                {"label", Value(std::string("measured"))},
                                {"fill", Value(std::string("filled"))}})};
            main.marks.push_back(mark("baseline", id,
                                      {{"colour", str(theme().copper)},
                                       {"width", 1.0},
                                       {"dash", Value(std::string("dashed"))},
                                       {"label", Value(std::string("baseline"))}}));
            if (cleaned)
                main.marks.push_back(mark(
                    "line", id,
                    {{"colour", shownColour(*d)}, {"width", 1.6}, {"label", Value(std::string("result"))}}));
            Element left = mark("points", id,
                                {{"point", Value(std::string("end"))},
                                 {"shown", Value(std::string("excluded"))},
                                 {"size", 4.5},
                                 {"colour", str(theme().copper)},
                                 {"errors", Value(false)},
                                 {"excluded", Value(true)},
                                 {"label", Value(std::string("-"))},
                                 {"fill", Value(std::string("open"))}});
            main.marks.push_back(left);
            strip.marks = {mark(
                "taken", id, {{"colour", quiet}, {"width", 0.8}, {"step", Value(document_.step().text())}})};
            const auto stages = document_.session().evaluator().protocol(document_.project(), d->id).stages;
            const bool anythingTaken = std::ranges::any_of(stages, [&](const auto& s) {
                return s.on && s.step && (!document_.step() || s.step == document_.step()) &&
                       !s.output->takenX.empty();
            });
            if (!anythingTaken) strip.marks.clear();
            if (const Step* baseline = openBaseline()) {
                // Handles sit on the curve that the step takes in.
                const auto protocol = document_.session().evaluator().protocol(document_.project(), d->id);
                main.anchors = baseline->settings.numbers("anchors");
                const bool onCurve = baseline->settings.text("place", "on-curve") == "on-curve";
                for (const auto& stage : protocol.stages) {
                    if (stage.step != baseline->id || !stage.output->baseline || !onCurve ||
                        stage.curve().size() == 0)
                        continue;
                    for (std::size_t i = 0; i + 1 < main.anchors.size(); i += 2)
                        main.anchors[i + 1] =
                            (*stage.output->baseline)[nearestPoint(stage.curve().x, main.anchors[i])];
                }
            }
            main.span = shownSpan_;
            strip.yName = tr("taken away").toStdString();
        } else {
            const auto a = document_.project().analyses.find(document_.analysis());
            const std::string point = a && !a->inputs.empty() ? a->inputs[0].point : "end";
            main.marks = {mark("points", id,
                               {{"point", Value(point)},
                                {"size", 3.0},
                                {"colour", shownColour(*d)},
                                {"excluded", Value(true)},
                                {"label", Value(std::string("-"))}})};
            if (a) {
                main.marks.push_back(mark("curve", a->id.text(),
                                          {{"width", 1.8},
                                           {"colour", shownColour(*d)},
                                           {"label", Value(std::string("-"))},
                                           {"band", Value(std::string("confidence"))}}));
                strip.marks = {
                    mark("residuals", a->id.text(),
                         {{"size", 3.0}, {"colour", shownColour(*d)}, {"label", Value(std::string("-"))}})};
                double low = a->inputs[0].low, high = a->inputs[0].high;
                if (measured->size() > 0)
                    low = std::max(low, measured->x.front()), high = std::min(high, measured->x.back());
                if (low < high) main.span = {low, high};
            }
            strip.yName = tr("residual").toStdString();
        }
        strip.showXTitle = false;
        strip.emptyText =
            focus_ == ProtocolFocus::Steps
                ? tr("What a step takes away (noise, left-out points) appears here.").toStdString()
                : tr("Residuals appear here once something is fitted.").toStdString();
        strip.legend = false;
    }
    reportSpan();
    strip_->show(std::move(strip));
    plot_->show(std::move(main));
}

} // namespace jointer::app
