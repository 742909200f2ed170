// SPDX-License-Identifier: GPL-3.0-or-later
// The open fit: model, span, points, weights; a row for each parameter; buttons; quality and warnings.
#pragma once

#include "app/background.h"
#include "app/panes/analysis_card.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace jointer::app {

class FitFurther;
class FormulaLabel;
class ModelButton;
class ParameterGrid;

class SettingsForm;

class FitCard final : public AnalysisCard {
    Q_OBJECT
public:
    FitCard(Document& document, AnalysisId id, QWidget* parent = nullptr);
    void showOutcome(const evaluate::AnalysisOutcome& outcome) override;
    void openPicker() override;

private:
    void changeParameter(const std::string& parameter, const QString& name,
                         const std::function<void(ParameterChoice&)>& how, const std::string& mergeKey = {});
    void chooseModel(const std::string& key);
    void fitNow();
    void oneIteration();
    void startValues();
    void buildModelRow(QVBoxLayout& layout);
    void buildInputRows(QVBoxLayout& layout);
    void buildParameters(QVBoxLayout& layout);
    void buildButtons(QVBoxLayout& layout);
    void buildFurther(QVBoxLayout& layout);
    void offerMembers();
    void showRunning(bool running);
    void stop();
    void syncFields();
    void keepReached(const analyses::AnalysisResult& result);
    void openParameter(int row);
    std::optional<double> valueShown(const std::string& parameter) const;

    LatestJob job_;
    QComboBox *points_, *weights_;
    QLineEdit* equation_;
    SpanFields* span_;
    SettingsForm* settings_;
    ParameterGrid* parameters_;
    QVBoxLayout* details_;
    QLabel *quality_, *warnings_, *equationError_;
    ModelButton* model_;
    QPushButton *fit_, *more_, *members_;
    FormulaLabel* formula_;
    FitFurther* further_;
    bool running_ = false;
    std::string openParameter_;
    std::vector<analyses::Quantity> shown_;
};

} // namespace jointer::app
