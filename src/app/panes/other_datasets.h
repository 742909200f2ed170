// SPDX-License-Identifier: GPL-3.0-or-later
// Which datasets a figure shows in place of those that it has. A popup that goes by itself.
#pragma once

#include "app/document.h"
#include "project/figure_edits.h"

#include <QFrame>

class QComboBox;

namespace jointer::app {

class OtherDatasets final : public QFrame {
    Q_OBJECT
public:
    // Those that are selected and not drawn yet are proposed, in their order.
    OtherDatasets(const Document& document, const Figure& figure, QWidget* parent);

Q_SIGNALS:
    void chosen(const jointer::edits::DatasetPairs& pairs, bool inCopy);

private:
    void choose();

    struct Row {
        DatasetId drawn;
        QComboBox* other;
    };
    std::vector<Row> rows_;
    QAbstractButton* copy_ = nullptr;
};

} // namespace jointer::app
