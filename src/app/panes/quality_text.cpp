// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/quality_text.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "fit/quality.h"

#include <QObject>
#include <cmath>

namespace jointer::app {

namespace {
constexpr double kNoShare = 1e-9; // of the variance: rounding
}

QString qualityText(const fit::FitReport& r, const std::string& weightsNote, const std::string& notShown) {
    auto number = [](double v) { return text(readableNumber(v, 5)).replace(' ', QChar::Nbsp); };
    const double r2 = std::abs(r.r2) < kNoShare ? 0 : r.r2;
    const QString row1 = r.reducedChi2 ? QObject::tr("χ²/dof&nbsp;<b>%1</b>").arg(number(*r.reducedChi2))
                                       : QObject::tr("SD&nbsp;<b>%1</b>").arg(number(r.residualSd));
    const std::string sharing = fit::sharingText(r);
    const auto line = [](const std::string& words) { return words.empty() ? QString() : "<br>" + text(words).toHtmlEscaped(); };
    return QObject::tr("<b>%1</b>, %2<br>%3 &nbsp; dof&nbsp;<b>%4</b> &nbsp; "
                       "R²&nbsp;<b>%5</b><br>AICc&nbsp;<b>%6</b> &nbsp; BIC&nbsp;<b>%7</b><br><span "
                       "style='color:%8'>%9%10</span>")
        .arg(text(fit::stateText(r.state)))
        .arg(text(counted(r.iterations, "iteration")))
        .arg(row1)
        .arg(r.dof)
        .arg(number(r2), number(r.aicc), number(r.bic), theme().muted.name(),
             QObject::tr("Weights: %1").arg(text(weightsNote)).toHtmlEscaped(),
             line(sharing) + line(notShown));
}

} // namespace jointer::app
