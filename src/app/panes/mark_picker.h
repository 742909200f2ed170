// SPDX-License-Identifier: GPL-3.0-or-later
// What "+ Draw" shows: how the selected dataset would look as each kind of mark, drawn small from its own
// numbers, the likeliest first; then the curves that came with it, its fits, and what needs no data. A popup
// that goes by itself.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QFrame>

class QGridLayout;
class QToolButton;

namespace jointer::app {

class MarkPicker final : public QFrame {
    Q_OBJECT
public:
    MarkPicker(Document& document, QWidget* parent);

Q_SIGNALS:
    void chosen(const std::vector<jointer::Element>& marks); // of the selected dataset, or of none

private:
    struct Offer {
        std::vector<Element> marks;
        QToolButton* button;
    };
    struct Section {
        QGridLayout* grid;
        int place = 0;
    };
    Section section(const QString& title);
    void offer(Section& section, const std::string& name, const std::string& purpose,
               std::vector<Element> marks);
    void offerKind(Section& section, const std::string& kind, const std::string& source);
    void drawPictures();

    Document& document_;
    LatestJob job_;
    std::vector<Offer> offers_;
};

} // namespace jointer::app
