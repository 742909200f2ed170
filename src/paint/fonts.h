// SPDX-License-Identifier: GPL-3.0-or-later
// The fonts that ship with Jointer as the toolkit knows them.
#pragma once

#include <QFont>
#include <string>

namespace jointer::paint {

// The toolkit's font of a face, without a size.
QFont fontOf(const std::string& face);

} // namespace jointer::paint
