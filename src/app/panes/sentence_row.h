// SPDX-License-Identifier: GPL-3.0-or-later
// One numbered sentence of a protocol; opened, it is a card with a body. A step is dragged by its sentence,
// to another place or onto other datasets.
#pragma once

#include <QFrame>
#include <functional>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace jointer::app {

inline constexpr const char* kStepsMime = "application/x-jointer-steps";

class SentenceRow final : public QFrame {
    Q_OBJECT
public:
    SentenceRow(const QString& number, bool on, bool open, QWidget* parent = nullptr);
    void setSentence(const QString& sentence, const QString& detail);
    void setNumberTip(const QString& tip); // what a click on the number does, where it is another thing
    void setWarnings(const QStringList& warnings);
    void addBody(QWidget* body);
    void addTools(bool canMove); // up, down, remove at the upper right of an open card
    // A neighbour of the number: the curve after this step, before it, and back. `tip` says what a click
    // does.
    void addLook(const QString& mark, const QString& tip, bool looking);
    void addLink(const QString& words, std::function<void()> act); // below the sentence
    // A draft, with what takes it over; empty words: none.
    void setProposal(const QString& words, std::function<void()> take);
    void setDragText(const QByteArray& steps) {
        dragText_ = steps;
    } // what is carried when the row is dragged

Q_SIGNALS:
    void clicked();
    void switched();
    void moved(int by);
    void removed();
    void looked();

protected:
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    QPushButton* number_;
    QLabel *sentence_, *detail_, *warnings_;
    QVBoxLayout *body_, *left_;
    QPushButton* proposal_ = nullptr;
    std::function<void()> take_;
    QByteArray dragText_;
    QPoint pressed_;
    bool open_;
};

} // namespace jointer::app
