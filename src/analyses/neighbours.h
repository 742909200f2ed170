// SPDX-License-Identifier: GPL-3.0-or-later
// Models of the library that are near another one.
#pragma once

#include "project/project.h"

namespace jointer::analyses {

// Polynomials of other degrees, others of its group; none of equations and of what is put together. At most so many.
std::vector<ModelNode> neighboursOf(const ModelNode& model, std::size_t most);

} // namespace jointer::analyses
