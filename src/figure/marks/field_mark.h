// SPDX-License-Identifier: GPL-3.0-or-later
// What marks of fields have in common: the field they show, how far it reaches, its colours, its outline.
#pragma once

#include "evaluate/fields.h"
#include "figure/marks/parts.h"

namespace jointer::figure {

class FieldMark : public Mark {
public:
    fields::FieldPtr field;
    std::optional<ColourScale> colours;
    bool wholeCells = false; // it reaches half a cell beyond the outer nodes

    std::optional<Range> extentX(const Scale& x) const override;
    std::optional<Range> extentY(const Scale& y, const Range& x) const override;
    std::vector<double> flushValues() const override;
    bool isEmpty() const override { return !field || field->isEmpty(); }
    const ColourScale* colourScale() const override { return colours ? &*colours : nullptr; }

protected:
    Range reachOf(const std::vector<double>& nodes) const;
    // Where everything goes that ends at the outline of what was measured.
    draw::Group outlined(const Frame& frame) const;
};

// The field of the task's dataset with name, meanings and ink; none with an issue where it has none. It
// stands in the coordinates of the panel, unless the mark places it itself.
enum class FieldPlaces { OfPanel, Own };
void prepareField(const MarkTask& task, FieldMark& mark, FieldPlaces places = FieldPlaces::OfPanel);
// Its colours, by its settings.
void giveColours(const MarkTask& task, FieldMark& mark);
// Levels by its settings, within the range of its colours or of the field.
std::vector<double> levelsOf(const Look& look, const fields::Field& field, const ColourScale* colours);

std::vector<Setting> fieldSettings(const std::string& whoseName = "the name");
std::vector<Setting> levelSettings();

} // namespace jointer::figure
