// SPDX-License-Identifier: GPL-3.0-or-later
// The journal check of the figure that is shown: what a publisher would send back. A click selects the
// culprit; what can be mended is one press away. A popup that goes by itself.
#pragma once

#include "app/canvas/page_view.h"
#include "app/document.h"
#include "figure/journal.h"

#include <QFrame>

class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace jointer::app {

class JournalPane final : public QFrame {
    Q_OBJECT
public:
    JournalPane(Document& document, PageView& page, std::vector<figure::JournalProfile> profiles,
                QWidget* parent);
    static constexpr int kWidth = 380;

private:
    void refresh();
    void select(int row);
    void mend(bool all);

    Document& document_;
    PageView& page_;
    std::vector<figure::JournalProfile> profiles_;
    std::vector<figure::Finding> findings_;
    QComboBox *profile_, *sight_;
    QListWidget* list_;
    QLabel* said_;
    QPushButton *mend_, *mendAll_;
};

} // namespace jointer::app
