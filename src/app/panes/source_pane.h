// SPDX-License-Identifier: GPL-3.0-or-later
// Where a number comes from: the chain down to file and lines. A click on a station goes there; one on the
// number of a step tells what the result would be without it.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "evaluate/results.h"

#include <QWidget>

class QLabel;
class QVBoxLayout;

namespace jointer::app {

class SentenceRow;

class SourcePane final : public QWidget {
    Q_OBJECT
public:
    explicit SourcePane(Document& document, QWidget* parent = nullptr);
    void show(const evaluate::ResultRow* row); // nullptr: nothing is selected
    bool isCurrent() const { return !job_.isBusy(); }

Q_SIGNALS:
    void stepWanted(jointer::DatasetId dataset, jointer::StepId step);
    void fitWanted(jointer::AnalysisId id);
    void tableWanted(jointer::DatasetId dataset);

private:
    void take(const std::vector<evaluate::Source>& sources);
    void tellWithout(SentenceRow* at, const evaluate::Source& source);

    Document& document_;
    LatestJob job_, without_;
    evaluate::ResultRow row_;
    QVBoxLayout* stations_;
    QLabel *name_, *value_;
};

} // namespace jointer::app
