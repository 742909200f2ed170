// SPDX-License-Identifier: GPL-3.0-or-later
// Columns that follow a fit: the curve at the values of a column, as a computed column beside it.
#pragma once

#include "app/document.h"

class QPoint;
class QWidget;

namespace jointer::app {

inline constexpr const char* kTableMime = "application/x-jointer-table"; // the text of a table's id

// Adds the column; false: there is nothing to follow.
bool addFollowingColumn(Document& document, AnalysisId fit, TableId table, ColumnId x);

// A menu of the columns whose values the curve may be asked at: of one table, or of all.
void offerFollowing(QWidget* owner, Document& document, AnalysisId fit, TableId table, QPoint at);

} // namespace jointer::app
