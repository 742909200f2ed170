// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork of the demos, as if it came from a drawing program and a microscope.
#pragma once

#include "project/project.h"

namespace jointer::demo {

Asset sluiceScheme(); // a drawing in SVG: the sluice with its gate and probes
Asset diatomPlate();  // a picture in PNG: cells under a microscope, 120 µm wide

} // namespace jointer::demo
