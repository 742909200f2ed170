// SPDX-License-Identifier: GPL-3.0-or-later
// The look of the window: colours by role (light and dark), fonts, one style sheet, tinted icons.
#pragma once

#include <QColor>
#include <QIcon>
#include <QString>
#include <string>

class QApplication;

namespace jointer::app {

struct Theme {
    bool dark;
    QColor ground, panel, line, ink, muted, accent, accentSoft, copper, warning, warningSoft, error, plot;
};

const Theme& theme();
void applyTheme(QApplication& app, bool dark);
// A dataset's colour as it shows on the ground of the work plots: lighter in the dark theme.
std::string shownColour(const std::string& colour);
QIcon icon(const QString& name); // one of resources/icons, in the ink of the theme

} // namespace jointer::app
