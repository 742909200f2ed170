// SPDX-License-Identifier: GPL-3.0-or-later
// Curves of a table that another program made from the measured one.
#pragma once

#include "data/table.h"

namespace jointer::io {

// Columns taken for measured ones that add up, with the background, to the column called a fit are its parts:
// they become companions, whatever their names. Both ways of giving them are known: each from zero, and each
// standing on the background.
void findParts(Table& table);

} // namespace jointer::io
