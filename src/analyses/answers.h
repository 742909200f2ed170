// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds that answer one question each, in a file of their own.
#pragma once

#include "analyses/analysis.h"

namespace jointer::analyses {

AnalysisKind standardAdditionAnalysis(); // unknowns/standard_addition.cpp
AnalysisKind potencyAnalysis();
AnalysisKind distributionAnalysis();

} // namespace jointer::analyses
