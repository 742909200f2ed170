// SPDX-License-Identifier: GPL-3.0-or-later
// Results: every number of the project in a grid; at the right where the selected one comes from.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "evaluate/results.h"

#include <QSet>
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
class SourcePane;

class ResultsStage final : public QWidget {
    Q_OBJECT
public:
    explicit ResultsStage(Document& document, QWidget* parent = nullptr);
    bool isCurrent() const;
    Table table() const; // as it is shown, for copying and saving
    enum class Form { Long, Wide };
    void showAs(Form form);

Q_SIGNALS:
    void fitWanted(jointer::AnalysisId id);
    void stepWanted(jointer::DatasetId dataset, jointer::StepId step);
    void tableWanted(jointer::DatasetId dataset);
    void figureWanted();

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
    void offerColumns(QPoint at);
    void hideColumns();
    bool isHidden(const Column& column) const;
    enum class As { Cells, Text, Latex };
    void copy(As what);
    void save();
    void offerTrends();
    void putOnFigure();
    void keepTrendOver(const std::string& attribute);

    Document& document_;
    LatestJob job_, methodsJob_;
    ResultsModel* model_;
    QTableView* grid_;
    QLineEdit* filter_;
    QComboBox *form_ = nullptr, *order_ = nullptr;
    SourcePane* source_;
    QLabel *empty_, *statistics_, *fault_;
    QSet<QString> hidden_, wanted_; // columns, by their headings
    QPushButton *open_, *methods_, *over_, *figure_;
};

} // namespace jointer::app
