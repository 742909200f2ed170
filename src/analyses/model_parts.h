// SPDX-License-Identifier: GPL-3.0-or-later
// Putting the model of a fit together of parts, and taking it apart: what was said of its parameters goes
// with them, as do ties, derived numbers and steps of release that name them.
#pragma once

#include "project/project.h"

namespace jointer::analyses {

// Adds a part: a model of one piece becomes a sum of two. Gives the number of the part.
int addPart(Analysis& fit, ModelNode part);

// Takes a part away with all that was said of its parameters; the last but one that goes leaves a model of
// one piece. Nothing happens where there is no such part.
void removePart(Analysis& fit, int component);

// Another model in place of a part (0: of the whole); what was said of the parameters of the old one is gone.
void replacePart(Analysis& fit, int component, ModelNode part);

// The part of that number; the whole where it is 0 or there is none.
ModelNode& partOf(ModelNode& model, int component);
const ModelNode& partOf(const ModelNode& model, int component);

} // namespace jointer::analyses
