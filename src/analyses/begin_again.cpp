// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/begin_again.h"

#include "analyses/fit_edits.h"
#include "analyses/peaks/peak_edits.h"

namespace jointer::analyses {

void beginAt(Analysis& analysis, const AnalysisResult& reached) {
    if (const PeaksDetail* peaks = peaksDetail(reached)) {
        takeOver(analysis, *peaks);
        return;
    }
    if (analysis.kind != "fit") return;
    const bool held = analysis.settings.flag("hold");
    holdAtValues(analysis, reached.quantities);
    if (!held) analysis.settings.remove("hold");
}

} // namespace jointer::analyses
