// SPDX-License-Identifier: GPL-3.0-or-later
// What Analyse shows of scattering: logarithmic axes, distributions of sizes, laws as straight lines.
#include "app/stages/plot_marks.h"
#include "app/stages/shown_curves.h"
#include "app/stages/work_stage.h"
#include "app/theme/theme.h"
#include "app/widgets.h"

#include <QColor>
#include <QComboBox>
#include <QPushButton>
#include <QSignalBlocker>
#include <algorithm>

namespace jointer::app {

// Of what goes over decades logarithmic axes are shown once; whoever turns them off has them off.
void WorkStage::showDecades() {
    if (!found_.decades || overDecades_ == document_.analysis()) return;
    const bool first = !overDecades_;
    overDecades_ = document_.analysis();
    if (!first) return;
    document_.logX = document_.logY = true;
    for (QPushButton* toggle : {logToggles_.first, logToggles_.second}) {
        const QSignalBlocker quiet(toggle);
        if (toggle) toggle->setChecked(true);
    }
}

// A distribution of sizes or distances with its band.
void WorkStage::fillSizes(const Analysis& analysis, DatasetId dataset, PlotContent& strip) {
    giveOwnX(strip);
    strip.emptyText = tr("The distribution appears here once it is computed.").toStdString();
    if (found_.sizes.empty()) return;
    const auto at = std::ranges::find(found_.sizes, which_->currentData().toString().toStdString());
    const std::string named = at == found_.sizes.end() ? found_.sizes.front() : *at;
    const auto d = document_.project().datasets.find(dataset);
    strip.marks = {stripMark("curve", analysis, dataset,
                             {{"role", named == "p(r)" ? "distances" : "distribution"},
                              {"named", Value(named)},
                              {"width", 1.6},
                              {"band", "confidence"},
                              {"colour", str(QColor(text(shownColour(d->colour))))}})};
    strip.caption = tr("%1, with its 95 % band").arg(text(named)).toStdString();
}

// The points of a law of scattering in coordinates in which it is a line.
void WorkStage::fillStraight(const Analysis& analysis, DatasetId dataset, PlotContent& strip) {
    giveOwnX(strip);
    strip.emptyText = tr("The line appears here once it is computed.").toStdString();
    if (!found_.straight) return;
    const auto d = document_.project().datasets.find(dataset);
    strip.marks = {stripMark("residuals", analysis, dataset,
                             {{"role", "straight-points"},
                              {"size", 3.5},
                              {"colour", str(QColor(text(shownColour(d->colour))))}}),
                   stripMark("curve", analysis, dataset,
                             {{"role", "straight"}, {"width", 1.6}, {"colour", str(theme().copper)}})};
}

} // namespace jointer::app
