// SPDX-License-Identifier: GPL-3.0-or-later
// The datasets that are made without a table, as the menus and the list of datasets offer them.
#pragma once

#include <QCoreApplication>

namespace jointer::app {

struct MadeDataset {
    const char *kind, *name, *tip;
};

inline constexpr MadeDataset kMadeDatasets[] = {
    {"function", QT_TRANSLATE_NOOP("MadeDataset", "Add function"),
     QT_TRANSLATE_NOOP("MadeDataset", "A dataset by an expression in x")},
    {"join", QT_TRANSLATE_NOOP("MadeDataset", "Join two datasets"),
     QT_TRANSLATE_NOOP("MadeDataset", "One dataset against another, at the same x or time")},
    {"plane", QT_TRANSLATE_NOOP("MadeDataset", "Add function of x and y"),
     QT_TRANSLATE_NOOP("MadeDataset", "A surface by an expression in x and y")},
    {"flow", QT_TRANSLATE_NOOP("MadeDataset", "Add vector field"),
     QT_TRANSLATE_NOOP("MadeDataset", "Vectors by two expressions in x and y")},
    {"stack", QT_TRANSLATE_NOOP("MadeDataset", "Map of curves"),
     QT_TRANSLATE_NOOP("MadeDataset", "The selected curves as the rows of a map, over an attribute")},
    {"cut", QT_TRANSLATE_NOOP("MadeDataset", "Cut through the field"),
     QT_TRANSLATE_NOOP("MadeDataset", "z of the selected field along a line, as a curve that follows")},
    {"changed-field", QT_TRANSLATE_NOOP("MadeDataset", "Change the field"),
     QT_TRANSLATE_NOOP("MadeDataset",
                       "The selected field smoothed, finer, or without its trend or baseline")},
    {"fitted-surface", QT_TRANSLATE_NOOP("MadeDataset", "Surface of the fit"),
     QT_TRANSLATE_NOOP("MadeDataset",
                       "What the fit of the selected x, y and z gives, over a grid that follows it")}};

inline QString madeName(const MadeDataset& made) {
    return QCoreApplication::translate("MadeDataset", made.name);
}
inline QString madeTip(const MadeDataset& made) {
    return QCoreApplication::translate("MadeDataset", made.tip);
}

} // namespace jointer::app
