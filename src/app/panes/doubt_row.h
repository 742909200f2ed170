// SPDX-License-Identifier: GPL-3.0-or-later
// The doubt view: one number of the open analysis against each choice that was made by hand, small plots in a row with the
// statistical interval as a band across all, and one sentence that says which choice matters most.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "evaluate/doubt.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;

namespace jointer::app {

class DoubtRow final : public QWidget {
    Q_OBJECT
public:
    explicit DoubtRow(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return !waiting_; }
    const evaluate::Doubt& shown() const { return doubt_; }

private:
    void show(const evaluate::Doubt& doubt);
    void offerQuantities(const evaluate::AnalysisOutcome& outcome, const std::string& key);
    void keep();
    void take(const evaluate::DoubtPoint& point, const std::string& choice);

    Document& document_;
    LatestJob job_;
    QComboBox* quantity_;
    QPushButton* keep_;
    QLabel* sentence_;
    QWidget* plots_;
    evaluate::Doubt doubt_;
    bool waiting_ = false;
};

} // namespace jointer::app
