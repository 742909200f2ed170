// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of steps, each from its file, for the catalogue.
#pragma once

#include "steps/step.h"

namespace jointer::steps {

StepKind excludeStep();
StepKind despikeStep();
StepKind cropStep();
StepKind sortStep();
StepKind smoothStep();
StepKind baselineStep();
StepKind stripDoubletStep();
StepKind derivativeStep();
StepKind integralStep();
StepKind normaliseStep();
StepKind transformStep();
StepKind convertStep();
StepKind dilutionStep();
StepKind driftStep();
StepKind shiftStep();
StepKind scaleStep();
StepKind alignStep();
StepKind calibrateStep();
StepKind resampleStep();
StepKind averageStep();
StepKind subtractStep();
StepKind divideStep();
StepKind multiplyStep();
StepKind joinPiecesStep();
StepKind scatteringBackgroundStep();
StepKind absoluteScaleStep();

} // namespace jointer::steps
