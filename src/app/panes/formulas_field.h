// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas of an analysis, one to a line, with the names that they may use to choose from.
#pragma once

#include "analyses/analysis.h"

#include <QWidget>

class QPushButton;

namespace jointer::app {

class EquationField;

class FormulasField final : public QWidget {
    Q_OBJECT
public:
    FormulasField(const QString& label, const QString& help, const QString& example,
                  QWidget* parent = nullptr);
    void showText(const QString& text);
    void showNames(const analyses::AnalysisResult& result); // its table "names"
    void mark(const Issue* wrong); // where they cannot be read; none: nothing is wrong

Q_SIGNALS:
    void taken(const QString& text);

private:
    void offerNames();
    struct Name {
        QString spelling, words;
    };
    EquationField* field_;
    QPushButton* names_;
    std::vector<Name> known_;
};

} // namespace jointer::app
