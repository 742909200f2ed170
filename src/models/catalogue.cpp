// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/catalogue.h"

#include "base/text.h"

#include <algorithm>

namespace jointer::models {

const std::vector<ModelKind>& catalogue() {
    static const std::vector<ModelKind> all = [] {
        std::vector<ModelKind> kinds;
        for (auto part : {polynomialModels, exponentialModels, powerModels, logisticModels, peakModels})
            std::ranges::move(part(), std::back_inserter(kinds));
        return kinds;
    }();
    return all;
}

const ModelKind* findModel(std::string_view key) {
    const auto at = std::ranges::find(catalogue(), key,
                                      [](const ModelKind& k) -> const std::string& { return k.info.key; });
    return at == catalogue().end() ? nullptr : &*at;
}

Result<ModelPtr> makeModel(std::string_view key, const Settings& settings) {
    const ModelKind* kind = findModel(key);
    if (!kind) {
        std::vector<std::string> keys;
        for (const ModelKind& k : catalogue()) keys.push_back(k.info.key);
        return failure("unknown-model", "There is no model called “" + std::string(key) +
                                            "”; the library has " + joined(keys, ", ") + ".");
    }
    if (auto good = validate(kind->info, settings); !good) return std::unexpected(good.error());
    return kind->make(settings);
}

} // namespace jointer::models
