// SPDX-License-Identifier: GPL-3.0-or-later
// What a model is for and what its parameters mean, from its description, as rich text.
#pragma once

#include "describe/settings.h"

#include <QString>
#include <string>

namespace jointer::app {

QString modelHelp(const std::string& key, const Settings& settings = {});

} // namespace jointer::app
