// SPDX-License-Identifier: GPL-3.0-or-later
// Results: every number of the project in a grid; at the right where the selected one comes from.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "evaluate/results.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;
class QLayout;
class QVBoxLayout;

namespace jointer::app {

class ResultsStage final : public QWidget {
    Q_OBJECT
public:
    explicit ResultsStage(Document& document, QWidget* parent = nullptr);
    bool isCurrent() const { return !job_.isBusy(); }
    Table table() const; // for copying and saving

Q_SIGNALS:
    void fitWanted(jointer::AnalysisId id);

protected:
    void showEvent(QShowEvent*) override { refresh(); } // what is hidden is brought up to date when it shows

private:
    QLayout* buildHead();
    void prepareResults();
    void buildSide(QVBoxLayout& side);
    const evaluate::ResultRow* currentRow() const;
    void copyMethods();
    void refresh();
    void fill();
    void showSource();
    void copy();
    void save();
    Document& document_;
    LatestJob job_;
    std::vector<evaluate::ResultRow> rows_;
    QTableWidget* grid_;
    QComboBox* order_ = nullptr;
    QVBoxLayout* source_;
    QLabel *name_, *value_, *empty_;
    QPushButton *open_, *methods_;
};

} // namespace jointer::app
