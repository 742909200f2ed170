// SPDX-License-Identifier: GPL-3.0-or-later
// What gestures on handles do to the settings of their step: one rule for all kinds, so that the canvas has
// one tool for all of them and each gesture is one edit. A proposed anchor that is moved, added to or removed
// takes the whole draft over. Pure functions, thread-safe.
#pragma once

#include "steps/step.h"

namespace jointer::steps {

// The setting that clicks with the tool Anchor add to; empty: the kind takes none.
std::string anchorSetting(const StepKind& kind);

Settings afterMove(const StepOutput& shown, const Settings& now, const Handle& handle, double x, double y);
Settings afterRemoval(const StepOutput& shown, const Settings& now, const Handle& handle);

// A click: a found thing is refused, then accepted, then refused again; a proposed anchor takes the draft
// over, a proposed level becomes a number. Settings that stay equal mean that a click does nothing here.
Settings afterClick(const StepOutput& shown, const Settings& now, const Handle& handle);

Settings afterAdding(const StepKind& kind, const StepOutput& shown, const Settings& now, double x, double y);

// In words for a menu: what can be done to a handle, with the settings after it.
struct HandleAction {
    std::string words;
    Settings after;
};
std::vector<HandleAction> actionsOf(const StepOutput& shown, const Settings& now, const Handle& handle);

} // namespace jointer::steps
