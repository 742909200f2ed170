// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/catalogue.h"

#include "base/text.h"

#include <algorithm>

namespace jointer::models {

const Catalogue<ModelKind>& catalogue() {
    static const Catalogue<ModelKind> all([] {
        std::vector<ModelKind> kinds;
        for (auto part :
             {polynomialModels, curveModels, exponentialModels, decayModels, powerModels, logisticModels,
              sigmoidModels, saturationModels, temperatureModels, periodicModels, peakModels})
            std::ranges::move(part(), std::back_inserter(kinds));
        return kinds;
    }());
    return all;
}

Result<ModelPtr> makeModel(std::string_view key, const Settings& settings) {
    const ModelKind* kind = catalogue().find(key);
    if (!kind) {
        return failure("unknown-model", "There is no model called “" + std::string(key) +
                                            "”; the library has " + joined(catalogue().keys(), ", ") + ".");
    }
    if (auto good = validate(kind->info, settings); !good) return std::unexpected(good.error());
    return kind->make(settings);
}

} // namespace jointer::models
