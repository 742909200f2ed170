// SPDX-License-Identifier: GPL-3.0-or-later
// The line at the top: the project's name, the track of stages, Find, undo and redo.
#pragma once

#include <QWidget>
#include <array>

class QButtonGroup;
class QLabel;
class QPushButton;

namespace jointer::app {

class FindField;
class StageButton;

inline constexpr std::array kStageNames = {"Data", "Clean", "Analyse", "Figure", "Results"};

class Header final : public QWidget {
    Q_OBJECT
public:
    explicit Header(FindField* find, QWidget* parent = nullptr);
    void showProject(const QString& title, const QString& state);
    void showStages(int current, const std::array<QString, kStageNames.size()>& counts);
    void showHistory(const QString& undoName, const QString& redoName);

Q_SIGNALS:
    void stageChosen(int stage);
    void undoWanted();
    void redoWanted();

private:
    QLabel *title_, *state_;
    QButtonGroup* track_;
    std::array<StageButton*, kStageNames.size()> stages_{};
    QPushButton *undo_, *redo_;
};

} // namespace jointer::app
