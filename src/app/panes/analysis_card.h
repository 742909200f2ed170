// SPDX-License-Identifier: GPL-3.0-or-later
// The open fit: model, span, points, weights; a row for each parameter; buttons; quality and warnings.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace jointer::app {

class ParameterGrid;

class SettingsForm;

class AnalysisCard final : public QWidget {
    Q_OBJECT
public:
    AnalysisCard(Document& document, AnalysisId id, QWidget* parent = nullptr);
    void showResult(const evaluate::FitResult& result);

private:
    std::shared_ptr<const Analysis> analysis() const { return document_.project().analyses.find(id_); }
    void change(const QString& name, const std::function<void(Analysis&)>& how,
                const std::string& mergeKey = {});
    void changeParameter(const std::string& parameter, const QString& name,
                         const std::function<void(ParameterChoice&)>& how, const std::string& mergeKey = {});
    void chooseModel(const std::string& key);
    void takeSpan();
    void fitNow();
    void oneIteration();
    void startValues();
    void buildModelRow(QVBoxLayout& layout);
    void buildInputRows(QVBoxLayout& layout);
    void buildParameters(QVBoxLayout& layout);
    void buildButtons(QVBoxLayout& layout);
    void syncFields();
    void keepReached(const fit::FitReport& report);
    void openParameter(int row);
    std::optional<double> valueShown(const std::string& parameter) const;

    Document& document_;
    AnalysisId id_;
    LatestJob job_;
    QComboBox *model_, *points_, *weights_;
    QLineEdit *equation_, *low_, *high_;
    SettingsForm* settings_;
    ParameterGrid* parameters_;
    QVBoxLayout* details_;
    QLabel *quality_, *warnings_, *equationError_;
    QPushButton *fit_, *stop_;
    std::string openParameter_;
    std::vector<fit::ParameterResult> shown_;
};

} // namespace jointer::app
