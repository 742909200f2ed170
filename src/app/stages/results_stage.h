// SPDX-License-Identifier: GPL-3.0-or-later
// Results: every number of the project in a grid; at the right where the selected one comes from.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "evaluate/results.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableView;
class QLayout;
class QVBoxLayout;

namespace jointer::app {

class ResultsModel;

class ResultsStage final : public QWidget {
    Q_OBJECT
public:
    explicit ResultsStage(Document& document, QWidget* parent = nullptr);
    bool isCurrent() const { return !job_.isBusy() && !sourceJob_.isBusy(); }
    Table table() const; // as it is shown, for copying and saving

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
    void showSource();
    void takeSource(const std::vector<evaluate::Source>& sources);
    enum class As { Cells, Text, Latex };
    void copy(As what);
    void save();
    void offerTrends();
    void keepTrendOver(const std::string& attribute);

    Document& document_;
    LatestJob job_, sourceJob_, methodsJob_;
    ResultsModel* model_;
    QTableView* grid_;
    QLineEdit* filter_;
    QComboBox *form_ = nullptr, *order_ = nullptr;
    QVBoxLayout* source_;
    QLabel *name_, *value_, *empty_, *fault_;
    QPushButton *open_, *methods_, *over_;
};

} // namespace jointer::app
