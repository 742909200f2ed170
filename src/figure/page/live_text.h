// SPDX-License-Identifier: GPL-3.0-or-later
// Texts with names in braces that stand for what the project has found: numbers of analyses, attributes,
// dates.
#pragma once

#include "figure/page/page.h"

namespace jointer::figure {

// "2.31 ± 0.04", with a form: "3" so many digits of the error, "()" as 2.31(4), "2()" both.
std::string quantityText(const analyses::Quantity& quantity, std::string_view form, bool withUnit);

// Text of a note with {name} replaced by the numbers of its analysis.
std::string filledIn(std::string_view text, const evaluate::AnalysisOutcome& outcome);

// The same for an element: {centre} and {centre:3} of its analysis, {fit/centre} of the analysis of that
// name; {n}, {name}, {date}, {project} and the attributes of its dataset, with the unit, or without: {age.}.
// What is not known stays as it is and is told once as an issue of the page. Braces of markup are passed
// over.
std::string liveText(Page& page, const Element& element, std::string_view text);

// The names that may stand in braces, with what each would be now: for completion while typing.
struct LiveName {
    std::string name, now;
};
std::vector<LiveName> liveNames(const Project& project, evaluate::Evaluator& evaluator,
                                const Element& element);

} // namespace jointer::figure
