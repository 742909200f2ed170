// SPDX-License-Identifier: GPL-3.0-or-later
// A field for an equation of one or several lines. Return takes it, Shift+Return begins a new line; where it
// cannot be read is underlined.
#pragma once

#include <QPlainTextEdit>

namespace jointer::app {

class EquationField final : public QPlainTextEdit {
    Q_OBJECT
public:
    explicit EquationField(QWidget* parent = nullptr);
    void showText(const QString& text); // as it stands; what is being typed is not disturbed
    void mark(long line, long sign);    // counted from 1; 0, 0: nothing is wrong

Q_SIGNALS:
    void taken(const QString& text); // it was changed and is to be used

protected:
    void keyPressEvent(QKeyEvent*) override;
    void focusOutEvent(QFocusEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void take();
    void fitHeight();
    QString last_;
};

} // namespace jointer::app
