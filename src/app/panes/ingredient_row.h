// SPDX-License-Identifier: GPL-3.0-or-later
// The switches of a model's ingredients: distribution, interaction, resolution, background.
#pragma once

#include "app/panes/analysis_card.h"

class QCheckBox;
class QGridLayout;

namespace jointer::app {

class IngredientRow final : public QWidget {
    Q_OBJECT
public:
    explicit IngredientRow(AnalysisCard& card);
    void sync(const Analysis& fit); // hidden where the model has none

private:
    void build(const Analysis& fit);

    AnalysisCard& card_;
    QGridLayout* grid_;
    std::vector<QCheckBox*> boxes_;
    std::vector<std::string> shown_;
};

} // namespace jointer::app
