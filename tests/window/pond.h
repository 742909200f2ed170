// SPDX-License-Identifier: GPL-3.0-or-later
// The window with one small table in it, for tests of tables and datasets.
#pragma once

#include "driver.h"

#include "app/forms/formula_field.h"

#include <QAction>
#include <QTableView>

namespace jointer::test {

struct Pond : Driver {
    QTemporaryDir folder;
    QString path;

    explicit Pond(const std::string& text, const char* name = "pond.csv") {
        path = write(name, text);
        drop({path});
        click(window.data()->import(), "Import");
        grid()->setFocus();
    }
    QString write(const char* name, const std::string& text) {
        const QString file = folder.filePath(name);
        std::ofstream(file.toStdString(), std::ios::binary) << text;
        return file;
    }
    QTableView* grid() { return window.data()->findChild<QTableView*>("tableGrid"); }
    const Table& table() { return project().tables[0]; }
    void goTo(int row, int column) {
        grid()->setCurrentIndex(grid()->model()->index(row, column));
        settle();
    }
    QString cell(int row, int column) { return grid()->model()->index(row, column).data().toString(); }
    void act(const QString& label) {
        for (QAction* a : grid()->actions())
            if (a->text() == label) {
                a->trigger();
                return settle();
            }
        ADD_FAILURE() << "no action " << label.toStdString();
    }
    FormulaField* formula() { return window.data()->findChild<FormulaField*>("columnFormula"); }
    void chooseKind(ColumnKind kind) {
        choose(window.data(), "columnKind", QString::number(static_cast<int>(kind)));
    }
    QComboBox* is(const char* column) {
        return window.data()->mapping()->findChild<QComboBox*>(QString("is:") + column);
    }
};

inline constexpr const char* kLevels = "time,level\n0,10.125\n1,11.5\n2,12\n3,13\n";

} // namespace jointer::test
