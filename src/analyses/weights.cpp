// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/weights.h"

#include "models/examples.h"

#include <algorithm>

namespace jointer::analyses {

bool goesOverDecades(const ModelNode& model) {
    const models::Example* example = models::exampleOf(model.kind);
    return (example && example->overDecades) || std::ranges::any_of(model.children, goesOverDecades);
}

std::string weightsInForce(const Settings& given, bool hasSigma, const ModelNode& model) {
    const char* const usual = hasSigma ? "absolute" : goesOverDecades(model) ? "1/y2" : "none";
    return given.text("weights", usual);
}

} // namespace jointer::analyses
