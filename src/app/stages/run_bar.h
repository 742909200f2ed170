// SPDX-License-Identifier: GPL-3.0-or-later
// Above Analyse while a curve of a run is looked at: why it is doubtful, and on to the next one.
#pragma once

#include "app/document.h"

#include <QFrame>

class QLabel;
class QPushButton;

namespace jointer::app {

class RunsView;

class RunBar final : public QFrame {
    Q_OBJECT
public:
    RunBar(Document& document, RunsView& runs, QWidget* parent = nullptr);
    void setInPlace(bool inPlace); // whether the stage is Analyse

Q_SIGNALS:
    void backWanted(); // to the gallery

private:
    void refresh();
    void next(bool looked);

    Document& document_;
    RunsView& runs_;
    QLabel* words_;
    QPushButton *good_, *next_;
    bool inPlace_ = false;
};

} // namespace jointer::app
