// SPDX-License-Identifier: GPL-3.0-or-later
// Asking for files and folders. All dialogs begin in the folder that the user last worked in, else in that of the
// project.
#pragma once

#include "app/document.h"

#include <QStringList>

namespace jointer::app::ask {

// Each gives an empty answer when the dialog was left. Filters: "Jointer projects (*.jointer)", several by ";;".
QString file(QWidget* owner, Document& document, const QString& title, const QString& filters);
QStringList files(QWidget* owner, Document& document, const QString& title, const QString& filters);
QString folder(QWidget* owner, Document& document, const QString& title);

// Where to write. The ending follows the chosen type; one that is not typed is added before it is asked whether a
// file of that name shall be replaced.
QString newFile(QWidget* owner, Document& document, const QString& title, const QString& name,
                const QString& filters);

// "report.pdf" with the filter "SVG (*.svg)" → "report.svg"; a filter of several endings keeps one that it allows. Only
// an ending that one of the filters knows is replaced: "1.5 m" → "1.5 m.svg".
QString withEndingOf(const QString& filter, const QString& name, const QString& filters);

} // namespace jointer::app::ask
