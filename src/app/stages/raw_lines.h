// SPDX-License-Identifier: GPL-3.0-or-later
// The raw text of a file that is being imported, each line tinted by what it was recognised as. A click on a
// line asks what it is: headings, units, or the first line of the data.
#pragma once

#include "io/dialect.h"

#include <QListWidget>

namespace jointer::app {

class RawLines final : public QListWidget {
    Q_OBJECT
public:
    explicit RawLines(QWidget* parent = nullptr);
    void show(const QStringList& lines, const std::vector<io::LineKind>& kinds);
    void goTo(long line); // from 1
    void setPointable(bool on) { pointable_ = on; }

Q_SIGNALS:
    void told(const QString& key, int line); // "heading", "units", "first"; line 0: there are none

private:
    void ask(QListWidgetItem* item);
    bool pointable_ = true;
};

} // namespace jointer::app
