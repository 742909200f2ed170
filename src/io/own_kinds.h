// SPDX-License-Identifier: GPL-3.0-or-later
// For programs that bring readers of their own, before they do anything else.
#pragma once

#include "io/reader.h"

namespace jointer::io {

void addReader(ReaderKind kind);

} // namespace jointer::io
