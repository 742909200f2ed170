// SPDX-License-Identifier: GPL-3.0-or-later
// What "+ Draw" shows: how the selected dataset would look as each kind of mark, drawn small from its own
// numbers, the likeliest first; then its fits, then what needs no data. A popup that goes by itself.
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
    // Kind of mark, and its source: empty for what needs none, and for several datasets as a group.
    void chosen(const QString& kind, const QString& source);

private:
    struct Offer {
        std::string kind, source;
        QToolButton* button;
    };
    void offer(QGridLayout& grid, int& place, const std::string& kind, const std::string& source);
    void drawPictures();

    Document& document_;
    LatestJob job_;
    std::vector<Offer> offers_;
};

} // namespace jointer::app
