// SPDX-License-Identifier: GPL-3.0-or-later
// How the lists of datasets and tables show a row: what is drawn, and the few words and the small curve in it.
#pragma once

#include "app/panes/dragged_lists.h"
#include "project/project.h"

#include <QList>
#include <QPointF>
#include <QStyledItemDelegate>
#include <set>

namespace jointer::app {

enum Roles { IdRole = kIdRole, ColourRole, StateRole, CurveRole, WarnRole, LeadRole, OwnRole, SharedRole, DotsRole };

QStyledItemDelegate* newDatasetRows(QObject* parent); // a name, a state, a small curve; without an id a heading
QStyledItemDelegate* newTableRows(QObject* parent);   // a name with a quiet second line below it

// The curve within the unit square, few points.
QList<QPointF> tiny(const Curve& c);

// "logger · Oxygen" beside "logger · Level": what is its own, and what it shares with others and so stands in the quiet
// line. A name that shares nothing is its own.
struct NameParts {
    QString own, shared;
};
std::vector<NameParts> partsOfNames(const std::vector<QString>& names);

// Attributes by which datasets differ.
std::set<std::string> tellingAttributes(const Project& project);
// The first of them that says in a few letters what the name does not, such as where a sample comes from.
QString wordsOf(const Dataset& d, const std::set<std::string>& telling);

} // namespace jointer::app
