// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of figures beyond those of edit.h: whole arrangements, looks of several elements, copies, their
// order.
#pragma once

#include "project/edit.h"

#include <map>

namespace jointer {

Element* findElement(std::vector<Element>& elements, ElementId id); // nullptr: not there

// In a figure, else in any other of the project; nullptr: in none.
const Element* findElement(const Project& project, const Figure& first, ElementId id);

// All references of the element and those within it go to what came in place of the old.
using NewIds = std::map<std::string, std::string>; // by the old ones
void follow(Element& element, const NewIds& ids);

// The elements above the wanted one, from the outermost, and itself at the end; empty: not there.
std::vector<const Element*> chainTo(const std::vector<Element>& elements, ElementId id);

// The datasets that are drawn, themselves or by a fit, in the order of the marks.
std::vector<DatasetId> drawnDatasets(const Project& project, const Figure& figure);

namespace edits {

// A change of the elements; what is added gets ids. `change` may take ids from the project for elements that
// others refer to.
Edit arrange(FigureId figure, std::string name, std::function<Result<void>(Project&, Figure&)> change,
             std::string mergeKey = {});

// One setting of several elements, or of the figure where none is told; monostate: back to the style.
Edit setElements(FigureId figure, std::vector<ElementId> elements, std::string key, Value value);
Edit removeElements(FigureId figure, std::vector<ElementId> elements);

// Before the one that lies above it, or behind the one below.
Edit moveElement(FigureId figure, ElementId element, int by);

// A copy with new ids after it, called as told; references among its elements go to the copies.
Edit duplicateFigure(FigureId figure, std::string name);
Edit duplicateElement(FigureId figure, ElementId element); // a panel, a mark, a note: after itself
Edit moveFigure(FigureId figure, int by);

// All marks of the first dataset of a pair show the second, with its own fits.
using DatasetPairs = std::vector<std::pair<DatasetId, DatasetId>>;
Edit swapDatasets(FigureId figure, DatasetPairs pairs);
Edit copyWithDatasets(FigureId figure, std::string name, DatasetPairs pairs); // the figure itself stays

} // namespace edits

} // namespace jointer
