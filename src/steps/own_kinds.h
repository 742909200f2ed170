// SPDX-License-Identifier: GPL-3.0-or-later
// For programs that bring steps of their own, before they do anything else.
#pragma once

#include "steps/step.h"

namespace jointer::steps {

void addKind(StepKind kind);

} // namespace jointer::steps
