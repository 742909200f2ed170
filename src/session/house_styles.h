// SPDX-License-Identifier: GPL-3.0-or-later
// House styles: taken from a figure, changed, kept as files. A change of one is seen in every figure that has
// it.
#pragma once

#include "describe/kind.h"
#include "project/edit.h"

#include <filesystem>

namespace jointer {

// As a file holds it: JSON that can be edited by hand.
std::string styleText(const HouseStyle& style);
// Values that make no sense are left out, and said. Errors: "style-file".
Outcome<Result<HouseStyle>> styleFromText(std::string_view text, const std::string& file = {});

// The kinds of elements with the settings that a style may give them.
std::vector<KindInfo> styledKinds();

namespace edits {

// A style of this name with what the figure and most of its elements of a kind have in common; the figure
// takes it, and its elements give back what the style says now. In place of a style of the same name.
Edit styleFromFigure(FigureId figure, std::string name);

// One value of a style, for a kind of elements; monostate: back to the description of the kind.
Edit setStyle(StyleId style, std::string kind, std::string key, Value value);
Edit addStyle(HouseStyle style); // in place of one of the same name, whose figures follow
Edit takeStyle(FigureId figure, HouseStyle style); // the same, and the figure has it
Edit renameStyle(StyleId style, std::string name);
// Figures that have it take the first of the others. Error: "last-style".
Edit removeStyle(StyleId style);

} // namespace edits

} // namespace jointer
