// SPDX-License-Identifier: GPL-3.0-or-later
// Which curves of a protocol the work plots show: one strong, perhaps an earlier one faint behind it, and the
// step whose handles and layers belong there. Pure functions.
#pragma once

#include "app/document.h"
#include "evaluate/evaluator.h"

namespace jointer::app {

bool sameAxes(const AxisMeaning& a, const AxisMeaning& b);

// Whether two curves can be looked at in one picture: the same axes, and neither is a flat line beside the
// other.
bool goWellTogether(const Curve& a, const Curve& b);

struct Shown {
    std::size_t strong = 0;           // place among the stages
    std::optional<std::size_t> faint; // an earlier one
    std::size_t step = 0;             // whose handles and layers they are; 0: none
};

Shown chosen(const evaluate::ProtocolResult& p, StepId open, Document::Seen seen, StepId seenStep);

// The place of a step among the stages; 0 where it is not there or off.
std::size_t placeOf(const evaluate::ProtocolResult& p, StepId step);

std::size_t lastThatTook(const evaluate::ProtocolResult& p); // took something away; else the last that is on

// The place in another dataset's protocol that corresponds; none where other steps led there.
std::optional<std::size_t> counterpartStage(const Dataset& of, std::size_t stage, const Dataset& in);

CurvePoint pointOf(const evaluate::ProtocolResult& p, std::size_t stage);

// Handles are in the coordinates of what the step takes.
bool handlesFit(const evaluate::ProtocolResult& p, const Shown& shown);

std::string nameOfStage(const Dataset& d, const evaluate::ProtocolResult& p, std::size_t stage);

} // namespace jointer::app
