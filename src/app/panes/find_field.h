// SPDX-License-Identifier: GPL-3.0-or-later
// Find: a field that offers every action, step, model, dataset and setting by a few letters and runs the
// chosen one. Keys: up, down, Return, Esc.
#pragma once

#include <QLineEdit>
#include <functional>
#include <vector>

class QListWidget;

namespace jointer::app {

struct Findable {
    QString path;     // as shown: "Step › Smooth"
    QString shortcut; // may be empty
    std::function<void()> run;
    QString purpose{}; // its words are sought too, after those of the path
};

class FindField final : public QLineEdit {
    Q_OBJECT
public:
    // `list` is asked each time that something is typed, so that it speaks of the project as it is.
    explicit FindField(std::function<std::vector<Findable>()> list, QWidget* parent = nullptr);
    void begin();                        // takes the focus, ready to be typed over
    void runFirst(const QString& words); // what would stand first in the list

protected:
    void keyPressEvent(QKeyEvent*) override;
    void focusOutEvent(QFocusEvent*) override;

private:
    void offer(const QString& typed);
    void run();
    void leave();

    std::function<std::vector<Findable>()> list_;
    std::vector<Findable> offered_;
    QListWidget* found_;
};

} // namespace jointer::app
