// SPDX-License-Identifier: GPL-3.0-or-later
// What handles, spans, anchors and drops on the work plots change.
#include "app/panes/following.h"
#include "app/stages/peak_handles.h"
#include "app/stages/work_stage.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QMenu>
#include <cmath>

namespace jointer::app {

void WorkStage::connectHandles() {
    connect(plot_, &PlotCanvas::drawn, this, [this] {
        if (const std::string& span = plot_->content().spanText; isVisible())
            Q_EMIT document_.readout({}, span.empty() ? QString(" ") : text(span));
        // A picture that is out of date tells nothing of what is wanted now.
        if (focus_ == ProtocolFocus::Analyses && isVisible() && plot_->isCurrent()) takeFound();
    });
    connect(plot_, &PlotCanvas::spanChosen, this, &WorkStage::setSpan);
    connect(plot_, &PlotCanvas::pointsToggled, this,
            [this](const std::vector<std::uint32_t>& rows, bool out) {
                const QString points = text(counted(static_cast<long long>(rows.size()), "point"));
                if (document_.apply(edits::excludeRows(document_.dataset(), rows, out)))
                    document_.say(out ? tr("Left out %1.").arg(points) : tr("Took back %1.").arg(points));
            });
    connect(plot_, &PlotCanvas::placeClicked, this, [this](double x, double y, bool free) {
        if (focus_ == ProtocolFocus::Steps)
            addAnchor(x, y);
        else
            addPeak(x, y, free);
    });
    connect(plot_, &PlotCanvas::handleMoved, this, &WorkStage::moveHandled);
    connect(plot_, &PlotCanvas::handleClicked, this, [this](const steps::Handle& handle) {
        if (plot_->content().handledResult) return clickPeak(handle);
        changeHandled("Accept or refuse", [&](const steps::StepOutput& shown, const Settings& now) {
            return steps::afterClick(shown, now, handle);
        });
    });
    connect(plot_, &PlotCanvas::handleRemoved, this, &WorkStage::removeHandled);
    connect(plot_, &PlotCanvas::handleAsked, this, &WorkStage::offerActions);
    connect(strip_, &PlotCanvas::cutoffMoved, this, &WorkStage::moveCutoff);
    if (focus_ != ProtocolFocus::Analyses) return;
    connect(strip_, &PlotCanvas::pointClicked, this, &WorkStage::showWithout);
    plot_->setAcceptDrops(true);
    plot_->takeDropsOf(kTableMime);
    connect(plot_, &PlotCanvas::tableDropped, this, [this](const QString& id, QPoint at) {
        if (!document_.analysis())
            return document_.say(tr("Fit a model first; a column can follow it then."));
        offerFollowing(this, document_, document_.analysis(), TableId::fromText(id.toStdString()), at);
    });
}

void WorkStage::moveHandled(const steps::Handle& handle, double x, double y) {
    if (changePeaks("Move peak",
                    [&](Analysis& a, const analyses::PeaksDetail& shown) {
                        moveHandle(a, shown, handle, x, y);
                    }) ||
        changeAreas("Move limit", [&](Analysis& a, const analyses::AreasDetail& shown) {
            if (handle.form == steps::HandleForm::Anchor)
                analyses::moveLimit(a, shown, static_cast<int>(handle.index), handle.setting == "high", x);
        }))
        return;
    if (handle.form == steps::HandleForm::SpanEnd) x = plot_->nearestX(x);
    changeHandled("Move handle", [&](const steps::StepOutput& shown, const Settings& now) {
        return steps::afterMove(shown, now, handle, x, y);
    });
}

void WorkStage::removeHandled(const steps::Handle& handle) {
    if (changePeaks("Remove peak",
                    [&](Analysis& a, const analyses::PeaksDetail& shown) {
                        if (handle.index > 0)
                            analyses::removePeak(a, shown, static_cast<int>(handle.index));
                    }) ||
        changeAreas("Remove peak", [&](Analysis& a, const analyses::AreasDetail& shown) {
            analyses::removeArea(a, shown, static_cast<int>(handle.index));
        }))
        return;
    changeHandled("Remove handle", [&](const steps::StepOutput& shown, const Settings& now) {
        return steps::afterRemoval(shown, now, handle);
    });
}

void WorkStage::changeHandled(const std::string& name,
                              const std::function<Settings(const steps::StepOutput&, const Settings&)>& how) {
    const PlotContent& shown = plot_->content();
    const std::optional<Step> step = shown.handledOutput ? stepOfCurrent(shown.handled) : std::nullopt;
    if (!step) return;
    if (!document_.isDragging()) document_.session().endMerging();
    document_.changeSettings(step->id, how(*shown.handledOutput, step->settings), name);
    if (!document_.isDragging()) document_.session().endMerging();
}

void WorkStage::offerActions(const steps::Handle& handle, QPoint at) {
    const PlotContent& shown = plot_->content();
    if (shown.handledResult) return offerPeakActions(handle, at);
    const std::optional<Step> step = shown.handledOutput ? stepOfCurrent(shown.handled) : std::nullopt;
    if (!step) return;
    QMenu* menu = newMenu(this);
    for (const steps::HandleAction& action : steps::actionsOf(*shown.handledOutput, step->settings, handle))
        connect(menu->addAction(text(action.words)), &QAction::triggered, this,
                [this, id = step->id, action] { document_.changeSettings(id, action.after, action.words); });
    menu->popup(at);
}

// To the open step where it takes anchors, else to the last that does, else to a baseline that is made for
// it.
void WorkStage::addAnchor(double x, double y) {
    const auto d = document_.currentDataset();
    if (!d) return;
    std::optional<Step> to;
    for (const Step& s : d->protocol) {
        const steps::StepKind* kind = s.on ? steps::catalogue().find(s.kind) : nullptr;
        if (!kind || steps::anchorSetting(*kind).empty()) continue;
        if (s.id == document_.step() || !to || to->id != document_.step()) to = s;
    }
    const steps::StepKind& kind = *steps::catalogue().find(to ? to->kind : "baseline");
    const PlotContent& shown = plot_->content();
    const bool seen = to && shown.handled == to->id && shown.handledOutput;
    const Settings after = steps::afterAdding(kind, seen ? *shown.handledOutput : steps::StepOutput{},
                                              to ? to->settings : Settings(), x, y);
    document_.session().endMerging();
    if (to) {
        document_.changeSettings(to->id, after, "Add anchor");
    } else if (document_.apply(edits::addStep(document_.dataset(), kind.info.key, after,
                                              "Add step: " + kind.info.name))) {
        document_.openStep(document_.currentDataset()->protocol.back().id);
    }
    document_.session().endMerging();
}

void WorkStage::moveCutoff(double frequency) {
    const std::optional<Step> step = openStep();
    const steps::StepKind* kind = step ? steps::catalogue().find(step->kind) : nullptr;
    if (kind && kind->withCutoff)
        document_.changeSettings(step->id,
                                 kind->withCutoff(step->settings, frequency * strip_->content().cutoffUnit),
                                 "Move cut-off");
}

std::optional<Step> WorkStage::stepOfCurrent(StepId id) const {
    const auto d = document_.currentDataset();
    const Step* step = d ? d->find(id) : nullptr;
    return step ? std::optional(*step) : std::nullopt;
}

std::optional<Step> WorkStage::openStep() const {
    return focus_ == ProtocolFocus::Steps ? stepOfCurrent(document_.step()) : std::nullopt;
}

std::vector<std::string> WorkStage::openIntervals(const Step& step) const {
    std::vector<std::string> keys;
    const steps::StepKind* kind = steps::catalogue().find(step.kind);
    for (const Setting& s : kind ? kind->info.settings : std::vector<Setting>{})
        if (s.kind == SettingKind::Interval && s.unit == "x" && isShown(kind->info, s, step.settings))
            keys.push_back(s.key);
    return keys;
}

// Of several intervals the first that is still open; of those that are set the one nearest to the new one.
std::string WorkStage::intervalFor(const Step& step, double low, double high) const {
    std::string nearest;
    double least = INFINITY;
    for (const std::string& key : openIntervals(step)) {
        const Numbers set = step.settings.numbers(key);
        if (set.size() != 2) return key;
        const double away = std::abs(set[0] - low) + std::abs(set[1] - high);
        if (!(away >= least)) nearest = key, least = away;
    }
    return nearest;
}

// A new piece in place of all, one more with Shift, or the one whose end was dragged.
void WorkStage::setSpan(double low, double high, std::optional<std::size_t> piece, bool further) {
    low = plot_->nearestX(low);
    high = plot_->nearestX(high);
    if (!(low < high)) return document_.say(tr("A span goes from one point to another; both ends came to the same."));
    if (focus_ == ProtocolFocus::Analyses && document_.analysis()) {
        document_.onEachAnalysis(document_.analysis(), [&](AnalysisId id) {
            return edits::changeAnalysis(
                id, "Change span",
                [=](Analysis& a) {
                    for (AnalysisInput& in : a.inputs) {
                        auto& pieces = in.span.pieces;
                        if (piece && *piece < pieces.size())
                            pieces[*piece] = {low, high};
                        else if (further)
                            pieces.emplace_back(low, high);
                        else
                            pieces = {{low, high}};
                    }
                },
                "span " + document_.analysis().text());
        });
        return;
    }
    if (focus_ == ProtocolFocus::Analyses) {
        document_.say(tr("The analysis that you add next takes this span."));
        return document_.keepSpan(std::pair(low, high));
    }
    const std::optional<Step> step = openStep();
    if (const std::string key = step ? intervalFor(*step, low, high) : std::string(); !key.empty()) {
        document_.onEachStep(step->id, [&](DatasetId id, StepId theirs) {
            return edits::setStep(id, theirs, key, Value(Numbers{low, high}));
        });
        return;
    }
    shownSpan_ = {low, high};
    refresh();
}

void WorkStage::showWithout(std::uint32_t row) {
    const Without asked{document_.analysis(), document_.dataset(), row};
    without_ = without_ == asked ? std::nullopt : std::optional(asked);
    refresh();
}

} // namespace jointer::app
