// SPDX-License-Identifier: GPL-3.0-or-later
// The part of a fit's card that says what is fitted: the model or its parts, an equation with its faults, the
// formula set as mathematics, settings, help; and keeping an equation for other projects.
#pragma once

#include "app/panes/analysis_card.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace jointer::app {

class EquationField;
class FormulaLabel;
class IngredientRow;
class ModelButton;

class ModelSection final : public QObject {
    Q_OBJECT
public:
    ModelSection(AnalysisCard& card, QVBoxLayout& layout); // its pieces stand in the layout of the card
    void sync();
    void showError(const Issue* issue);    // none: the model is all right
    void openPicker(bool further = false); // for the open part, or for one more

private:
    void buildParts(const Analysis& fit);
    void buildEquation(QVBoxLayout& layout);
    // A kind of the library, or an equation that was kept.
    void choose(const QString& key, const std::optional<UserModel>& kept, bool further);
    void showSeries(const std::string& key);
    void stepTo(int place);
    void openPart(int component);
    void keep();
    void showHelp();
    const ModelNode* node() const; // the open part, or the whole

    AnalysisCard& card_;
    ModelButton* model_;
    QWidget *parts_, *keepRow_, *seriesRow_;
    QSlider* series_;
    QLabel* seriesWords_;
    QVBoxLayout* partRows_;
    EquationField* equation_;
    QLineEdit *starts_, *keepName_;
    QLabel* error_;
    FormulaLabel* formula_;
    IngredientRow* ingredients_;
    SettingsForm* settings_;
    QPushButton *help_, *keep_;
    int open_ = 0; // the part whose settings are shown
    std::string partsShown_;
    ModelNode formulaShown_; // of which the formula was made
};

} // namespace jointer::app
