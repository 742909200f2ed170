// SPDX-License-Identifier: GPL-3.0-or-later
// One numbered sentence of a protocol; opened, it is a card with a body.
#pragma once

#include <QFrame>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace jointer::app {

class SentenceRow final : public QFrame {
    Q_OBJECT
public:
    SentenceRow(const QString& number, bool on, bool open, QWidget* parent = nullptr);
    void setSentence(const QString& sentence, const QString& detail);
    void setWarnings(const QStringList& warnings);
    void addBody(QWidget* body);
    void addTools(bool canMove); // up, down, remove at the upper right of an open card

Q_SIGNALS:
    void clicked();
    void switched();
    void moved(int by);
    void removed();

protected:
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    QPushButton* number_;
    QLabel *sentence_, *detail_, *warnings_;
    QVBoxLayout* body_;
    bool open_;
};

} // namespace jointer::app
