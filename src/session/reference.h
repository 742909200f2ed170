// SPDX-License-Identifier: GPL-3.0-or-later
// The reference of the manual, made from the descriptions of all kinds: steps, models, sources and rules of
// datasets, elements of figures, formats, functions. `jointer-cli reference` prints it.
#pragma once

#include "describe/catalogue.h"

#include <string>

namespace jointer {

// Markdown. The formats of figures are handed in, since they are written above this layer.
std::string referenceText(const Catalogue<KindInfo>& figureFormats);

} // namespace jointer
