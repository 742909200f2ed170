// SPDX-License-Identifier: GPL-3.0-or-later
// What could not be read in a file, or is in doubt: a list whose rows lead to the place.
#pragma once

#include "base/issue.h"

#include <QWidget>

class QLabel;
class QListWidget;

namespace jointer::app {

class ImportWarnings final : public QWidget {
    Q_OBJECT
public:
    explicit ImportWarnings(QWidget* parent = nullptr);

    // `rows`: lines are rows of a sheet.
    void show(const std::vector<Issue>& issues, bool rows);

Q_SIGNALS:
    void lineChosen(long line); // 0: of no line

private:
    QLabel* caption_;
    QListWidget* list_;
};

} // namespace jointer::app
