// SPDX-License-Identifier: GPL-3.0-or-later
// A row for each peak of a set: name and place, shape and a quantity of choice; the selected one opens with
// its name, its shape and its parameters.
#pragma once

#include "analyses/peaks/peaks.h"
#include "app/panes/analysis_card.h"

class QComboBox;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace jointer::app {

class ParameterDetails;
class RowButton;

class PeakRows final : public QWidget {
    Q_OBJECT
public:
    PeakRows(AnalysisCard& card, QWidget* parent = nullptr);
    void show(std::shared_ptr<const analyses::AnalysisResult> result);
    void showQuantity(const std::string& key); // "area", "height"…
    void sync();                               // which peak is selected

private:
    struct Row {
        int number;
        RowButton* button;
    };
    void rebuild();
    void fill();
    void openSelected();
    QLayout* buildForm();  // its name and shape
    QLayout* buildLinks(); // what can be done with it
    void fillOpen();
    void openParameter(int row);
    void offerTies();
    void fillTies();
    const analyses::PeaksDetail* detail() const;
    // An edit over the peaks as they are shown.
    void edit(const QString& name, const std::function<void(Analysis&, const analyses::PeaksDetail&)>& how);

    AnalysisCard& card_;
    std::shared_ptr<const analyses::AnalysisResult> result_;
    std::string quantity_ = "area";
    std::vector<Row> rows_;
    QVBoxLayout* layout_;
    QWidget* open_ = nullptr; // of the selected peak
    QLineEdit* name_ = nullptr;
    QComboBox* shape_ = nullptr;
    ParameterGrid* parameters_ = nullptr;
    QVBoxLayout* details_ = nullptr;
    QVBoxLayout* ties_ = nullptr;
    QPushButton* tie_ = nullptr;
    std::string tiesShown_;
    std::string openParameter_;
    int selected_ = 0;
};

} // namespace jointer::app
