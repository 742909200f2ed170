// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers side by side: the parameters of a fit over its datasets, or those of several fits of one dataset in
// adjoining columns. A click on a parameter's name shares or separates it.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace jointer::app {

class NumbersGrid final : public QWidget {
    Q_OBJECT
public:
    explicit NumbersGrid(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return !waiting_; }

    // One column of numbers.
    struct Column {
        std::string name;
        AnalysisId analysis;
        DatasetId member; // of several
        evaluate::AnalysisOutcome outcome;
        Span span;
    };

private:
    void fill(const std::vector<Column>& columns, bool joint);
    void offer(int row);

    Document& document_;
    LatestJob job_;
    QTableWidget* grid_;
    QLabel* sentence_;
    bool joint_ = false;
    bool waiting_ = false;
};

// What can and cannot be said of fits that stand side by side.
std::string sideBySideSentence(const std::vector<NumbersGrid::Column>& columns);

} // namespace jointer::app
