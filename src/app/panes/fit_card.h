// SPDX-License-Identifier: GPL-3.0-or-later
// The open fit: model, span, points, weights; a row for each parameter; buttons; quality and warnings.
#pragma once

#include "app/background.h"
#include "app/panes/analysis_card.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace jointer::app {

class FitFurther;
class InputRows;
class ModelSection;
class ParameterGrid;

class FitCard final : public AnalysisCard {
    Q_OBJECT
public:
    FitCard(Document& document, AnalysisId id, QWidget* parent = nullptr);
    void showOutcome(const evaluate::AnalysisOutcome& outcome) override;
    void openPicker() override;

private:
    void changeParameter(const std::string& parameter, const QString& name,
                         const std::function<void(ParameterChoice&)>& how, const std::string& mergeKey = {});
    void fitNow();
    void oneIteration();
    void startValues();
    void buildInputRows(QVBoxLayout& layout);
    void buildParameters(QVBoxLayout& layout);
    void buildButtons(QVBoxLayout& layout);
    void buildFurther(QVBoxLayout& layout);
    void offerMembers();
    void showRunning(bool running);
    void stop();
    void syncFields();
    void slideStart(const std::string& parameter, double value);
    void keepReached(const analyses::AnalysisResult& result);
    void openParameter(int row);
    void closeStaleParameter(const Analysis& fit);
    std::optional<double> valueShown(const std::string& parameter) const;

    LatestJob job_;
    InputRows* inputs_;
    ParameterGrid* parameters_;
    QVBoxLayout* details_;
    QLabel *quality_, *warnings_;
    ModelSection* model_;
    QPushButton *fit_, *more_, *members_;
    FitFurther* further_;
    bool running_ = false;
    std::string openParameter_;
    ModelNode openedModel_; // when it was opened
    std::vector<analyses::Quantity> shown_;
};

} // namespace jointer::app
