// SPDX-License-Identifier: GPL-3.0-or-later
// What could not be read in a file, or is in doubt: a list whose rows lead to the place.
#pragma once

#include "base/issue.h"
#include "io/dialect.h"

#include <QWidget>

class QLabel;
class QListWidget;
class QVBoxLayout;

namespace jointer::app {

class ImportWarnings final : public QWidget {
    Q_OBJECT
public:
    explicit ImportWarnings(QWidget* parent = nullptr);

    // `rows`: lines are rows of a sheet. What else the file could be is offered below.
    void show(const std::vector<Issue>& issues, bool rows,
              const std::vector<io::Alternative>& alternatives = {});

Q_SIGNALS:
    void lineChosen(long line); // 0: of no line
    void alternativeChosen(const Settings& told);

private:
    QLabel* caption_;
    QListWidget* list_;
    QWidget* offers_;
    QVBoxLayout* rows_;
};

} // namespace jointer::app
