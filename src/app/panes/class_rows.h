// SPDX-License-Identifier: GPL-3.0-or-later
// The classes of a mark as they are found in its columns: a row for each with its colour, its symbol and what
// the legend calls it; shown or not, in an order by hand. What is said by hand goes to the mark, or to the
// house style.
#pragma once

#include "describe/settings.h"
#include "figure/symbol_class.h"

#include <QWidget>

class QGridLayout;
class QPushButton;

namespace jointer::app {

class ClassRows final : public QWidget {
    Q_OBJECT
public:
    explicit ClassRows(QWidget* parent = nullptr);

    // As they look now, and what is said of them by hand; without classes it hides.
    void show(const std::vector<figure::SymbolClass>& classes, const RowList& byHand, bool withSymbols);

Q_SIGNALS:
    void changed(const jointer::RowList& byHand);    // empty: all automatic again
    void keepWanted(const jointer::RowList& byHand); // in the house style

private:
    void build();
    QPushButton* swatch(std::size_t k);
    QPushButton* symbolButton(std::size_t k);
    void offerSymbols(std::size_t k, QPushButton* at);
    void offerColours(std::size_t k, QPushButton* at);
    void offerFurther(std::size_t k, QPushButton* at);
    void set(std::size_t k, const std::string& key, const Value& value);
    void move(std::size_t k, int by);
    RowList inOrder() const; // a row for each class, as they stand
    RowList asTheyLook() const;

    std::vector<figure::SymbolClass> classes_;
    RowList byHand_;
    bool withSymbols_ = true;
    QWidget* rows_ = nullptr;
    QPushButton* automatic_ = nullptr;
};

} // namespace jointer::app
