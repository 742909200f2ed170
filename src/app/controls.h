// SPDX-License-Identifier: GPL-3.0-or-later
// The two kinds of button that draw themselves: a stage of the track, and a tool with its key.
#pragma once

#include <QPushButton>
#include <vector>

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
    QSize minimumSizeHint() const override; // without its key, where there is no room for it
    const QString& key() const { return key_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString key_;
};

// A row that can be chosen: a name and a value side by side, quieter words and a second value below. Nothing of
// a value is cut: what has no room beside the words stands in a line of its own.
class RowButton final : public QPushButton {
    Q_OBJECT
public:
    struct Words {
        QString name, value, below, belowValue;
        bool doubtful = false; // of the words below
        bool operator==(const Words&) const = default;
    };
    explicit RowButton(QWidget* parent = nullptr);
    void setWords(const Words& words);
    const Words& words() const { return words_; }
    void setTinted(bool tinted) { tinted_ = tinted; } // it stands for all rows
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {120, sizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    struct Line {
        QString left, right;
        bool first;
    };
    std::vector<Line> linesFor(int width) const;
    QFont fontOf(const Line& line) const;
    void settle();

    Words words_;
    bool tinted_ = false;
};

} // namespace jointer::app
