// SPDX-License-Identifier: GPL-3.0-or-later
// How an analysis takes its datasets: span, state of the protocol, weights; rows of the form of a card.
#pragma once

#include "app/panes/analysis_card.h"

class QComboBox;
class QFormLayout;

namespace jointer::app {

class InputRows final : public QObject {
    Q_OBJECT
public:
    InputRows(AnalysisCard& card, QFormLayout& form);
    void sync();

private:
    AnalysisCard& card_;
    SpanFields* span_;
    QComboBox *points_, *weights_;
};

} // namespace jointer::app
