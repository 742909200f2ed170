// SPDX-License-Identifier: GPL-3.0-or-later
// The two kinds of button that draw themselves: a stage of the track, and a tool with its key.
#pragma once

#include <QPushButton>

namespace jointer::app {

// A number in a circle, the name of the stage and a small count; filled when it is the present stage.
class StageButton final : public QPushButton {
    Q_OBJECT
public:
    StageButton(int number, const QString& name, QWidget* parent = nullptr);
    void setCount(const QString& count);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    int number_;
    QString count_;
};

// The name of a tool and the key that chooses it.
class ToolButton final : public QPushButton {
    Q_OBJECT
public:
    ToolButton(const QString& name, const QString& key, const QString& tip, QWidget* parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString key_;
};

} // namespace jointer::app
