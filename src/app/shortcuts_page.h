// SPDX-License-Identifier: GPL-3.0-or-later
// The page of the manual with all keys and gestures. Keys are read from the window itself; a test holds the page in the
// manual against this.
#pragma once

#include <QString>

class QWidget;

namespace jointer::app {

QString shortcutsPage(const QWidget& window);

} // namespace jointer::app
