// SPDX-License-Identifier: GPL-3.0-or-later
// A figure as text that people read, change, keep under version control and draw with other data:
// docs/file-format.md describes it. It holds the data, the fits and the house style that the figure needs.
#pragma once

#include "project/edit.h"
#include "session/command_project.h"

namespace jointer {

inline constexpr const char* kFigureFormat = "jointer-figure";
inline constexpr int kFigureVersion = 1;

// The figure and all that it needs, as JSON. Ids are counted anew, so that the same figure gives the same
// text.
std::string figureText(const Project& project, const Figure& figure);

// Data that take the place of those of the same name, or are there for elements that name them.
struct FigureData {
    std::string name;
    Table table;
    ColumnChoice columns;
};

struct FigureOfText {
    Project project; // with this figure alone
    FigureId figure;
    std::vector<Issue> issues; // settings that make no sense and gave way
};

// Files that the text names are read from its folder or below. Errors: "figure-file" with the line or the
// element, "no-column".
Result<FigureOfText> figureFromText(std::string_view text, const std::string& file = {},
                                    std::vector<FigureData> data = {});

namespace edits {
// The figure with its data and fits joins the project; a house style of the same name is the project's own.
Edit joinFigure(FigureOfText figure);
} // namespace edits

} // namespace jointer
