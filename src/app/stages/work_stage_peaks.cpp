// SPDX-License-Identifier: GPL-3.0-or-later
// What the tool Peak and the handles of peaks do on the work plot.
#include "app/panes/protocol_pane.h"
#include "app/stages/peak_handles.h"
#include "app/stages/work_stage.h"
#include "app/widgets.h"

#include <QMenu>

namespace jointer::app {

void WorkStage::changeShown(const char* name, const std::function<void(Analysis&)>& how) {
    const AnalysisId shown = plot_->content().handledAnalysis;
    if (!document_.isDragging()) document_.session().endMerging();
    document_.apply(edits::changeAnalysis(shown, name, how, std::string("peaks ") + name));
    if (!document_.isDragging()) document_.session().endMerging();
}

bool WorkStage::changePeaks(const char* name,
                            const std::function<void(Analysis&, const analyses::PeaksDetail&)>& how) {
    const auto keep = plot_->content().handledResult;
    const analyses::PeaksDetail* detail = keep ? analyses::peaksDetail(*keep) : nullptr;
    if (detail) changeShown(name, [&](Analysis& a) { how(a, *detail); });
    return detail;
}

bool WorkStage::changeAreas(const char* name,
                            const std::function<void(Analysis&, const analyses::AreasDetail&)>& how) {
    const auto keep = plot_->content().handledResult;
    const analyses::AreasDetail* detail = keep ? analyses::areasDetail(*keep) : nullptr;
    if (detail) changeShown(name, [&](Analysis& a) { how(a, *detail); });
    return detail;
}

void WorkStage::offerAreaActions(const steps::Handle& handle, QPoint at) {
    QMenu* menu = newMenu(this);
    const int number = static_cast<int>(handle.index);
    for (const Choice& c : analyses::areaGrounds())
        connect(menu->addAction(tr("Stand on: %1").arg(text(c.label))), &QAction::triggered, this,
                [this, number, key = c.key] {
                    changeAreas("Ground of a peak", [&](Analysis& a, const analyses::AreasDetail& shown) {
                        analyses::standOn(a, shown, number, analyses::groundFromKey(key));
                    });
                });
    menu->addSeparator();
    connect(menu->addAction(tr("Take it out")), &QAction::triggered, this, [this, number] {
        changeAreas("Remove peak", [&](Analysis& a, const analyses::AreasDetail& shown) {
            analyses::removeArea(a, shown, number);
        });
    });
    menu->popup(at);
}

// A click selects a peak, and takes in what is only proposed.
void WorkStage::clickPeak(const steps::Handle& handle) {
    if (handle.setting != "further") {
        const int number = static_cast<int>(handle.index);
        if (handle.form == steps::HandleForm::Peak)
            document_.selectPeak(document_.peak() == number ? 0 : number);
        return;
    }
    int number = 0;
    changePeaks("Take peak in", [&](Analysis& a, const analyses::PeaksDetail& shown) {
        number = analyses::addPeak(a, &shown, handle.x);
    });
    if (number > 0) document_.selectPeak(number);
}

void WorkStage::offerPeakActions(const steps::Handle& handle, QPoint at) {
    if (const auto keep = plot_->content().handledResult; keep && analyses::areasDetail(*keep))
        return offerAreaActions(handle, at);
    QMenu* menu = newMenu(this);
    const auto add = [&](const QString& words, std::function<void()> act) {
        connect(menu->addAction(words), &QAction::triggered, this, std::move(act));
    };
    const int number = static_cast<int>(handle.index);
    if (handle.setting == "further") {
        add(tr("Take it in"), [=, this] { clickPeak(handle); });
    } else {
        add(tr("Fit this one only"), [=, this] {
            changePeaks("Fit one peak", [=](Analysis& a, const analyses::PeaksDetail& shown) {
                analyses::fitOnly(a, shown, number);
            });
        });
        add(tr("Fit all"), [=, this] {
            changePeaks("Fit", [](Analysis& a, const analyses::PeaksDetail& shown) {
                analyses::fitOnly(a, shown, 0);
            });
        });
        add(tr("Take it out"), [=, this] {
            changePeaks("Remove peak", [=](Analysis& a, const analyses::PeaksDetail& shown) {
                analyses::removePeak(a, shown, number);
            });
        });
    }
    menu->popup(at);
}

// To the open set of peaks, else to one that is made for it.
void WorkStage::addPeak(double x, double, bool free) {
    const auto d = document_.currentDataset();
    if (!d) return;
    double place = x;
    if (!free) {
        const auto protocol = document_.session().evaluator().protocol(document_.project(), d->id);
        const Curve& curve = protocol.at(CurvePoint{}).curve();
        const fit::FoundPeak seen = fit::peakAt(curve.x, curve.y, x, true);
        place = seen.place;
    }
    int number = 0;
    const auto open = document_.project().analyses.find(document_.analysis());
    if (open && open->kind == "areas") {
        const auto protocol = document_.session().evaluator().protocol(document_.project(), d->id);
        const Curve& curve = protocol.at(CurvePoint{}).curve();
        const fit::FoundPeak seen = fit::peakAt(curve.x, curve.y, place, false);
        const auto keep = plot_->content().handledResult;
        const analyses::AreasDetail* shown = keep ? analyses::areasDetail(*keep) : nullptr;
        document_.apply(edits::changeAnalysis(open->id, "Place peak", [&](Analysis& a) {
            number = analyses::addArea(a, shown, place - 1.5 * seen.width, place + 1.5 * seen.width);
        }));
        return document_.selectPeak(number);
    }
    if (changePeaks("Place peak", [&](Analysis& a, const analyses::PeaksDetail& shown) {
            number = analyses::addPeak(a, &shown, place);
        })) {
        return document_.selectPeak(number);
    }
    if (open && open->kind == "peaks") { // one that could not be computed: without peaks
        document_.apply(edits::changeAnalysis(
            open->id, "Place peak", [&](Analysis& a) { number = analyses::addPeak(a, nullptr, place); }));
        return document_.selectPeak(number);
    }
    const bool added = document_.addAnalysis([&](DatasetId each) {
        Analysis made = newAnalysis(each, "peaks");
        number = analyses::addPeak(made, nullptr, place);
        return made;
    });
    if (added) document_.selectPeak(number);
}

} // namespace jointer::app
