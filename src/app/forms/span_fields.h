// SPDX-License-Identifier: GPL-3.0-or-later
// A span of x, typed: its pieces, and whether what lies in them or outside of them counts.
#pragma once

#include "project/project.h"

#include <QWidget>

class QComboBox;
class QLineEdit;
class QVBoxLayout;

namespace jointer::app {

class SpanFields final : public QWidget {
    Q_OBJECT
public:
    explicit SpanFields(QWidget* parent = nullptr);
    void show(const Span& span);

Q_SIGNALS:
    void changed(const jointer::Span& span);

private:
    struct Piece {
        QWidget* row;
        QLineEdit *low, *high;
    };
    void build(std::size_t count);
    Piece addPiece(std::size_t number, bool removable);
    void fill();
    void take(std::size_t number);
    void give(Span span);

    Span span_;
    std::vector<Piece> pieces_;
    QVBoxLayout* rows_;
    QWidget* further_; // inside or outside, one more piece
    QComboBox* side_;
};

} // namespace jointer::app
