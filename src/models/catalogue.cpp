// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/catalogue.h"

#include "base/text.h"

#include <algorithm>

namespace jointer::models {

namespace {

// Groups in the order in which their first models come, and models in theirs within the group.
void keepGroupsTogether(std::vector<ModelKind>& list) {
    std::vector<std::string> groups;
    for (const ModelKind& kind : list)
        if (std::ranges::find(groups, kind.info.group) == groups.end()) groups.push_back(kind.info.group);
    std::ranges::stable_sort(
        list, {}, [&](const ModelKind& kind) { return std::ranges::find(groups, kind.info.group); });
}

Catalogue<ModelKind>& all() {
    static Catalogue<ModelKind> kinds([] {
        std::vector<ModelKind> list;
        for (auto part : {polynomialModels, curveModels, pieceModels, exponentialModels, decayModels,
                          kineticModels, powerModels, logisticModels, sigmoidModels, saturationModels,
                          inhibitionModels, temperatureModels, periodicModels, peakModels, spectralLineModels,
                          scatteringModels, measuredCurveModels, equationModels})
            std::ranges::move(part(), std::back_inserter(list));
        keepGroupsTogether(list);
        return list;
    }());
    return kinds;
}

} // namespace

const Catalogue<ModelKind>& catalogue() {
    return all();
}

void addKind(ModelKind kind) {
    all().add(std::move(kind));
}

const Catalogue<CombinerKind>& combiners() {
    static const Catalogue<CombinerKind> kinds({sumCombiner(), productCombiner()});
    return kinds;
}

std::string nameInWhole(const std::string& name, int component) {
    return component == 0 ? name : name + "_" + std::to_string(component);
}

Result<ModelPtr> makeModel(std::string_view key, const Settings& settings, const ModelContext& context) {
    const ModelKind* kind = catalogue().find(key);
    if (!kind) {
        return failure("unknown-model", "There is no model called “" + std::string(key) +
                                            "”; the library has " + joined(catalogue().keys(), ", ") + ".");
    }
    if (auto good = validate(kind->info, settings); !good) return std::unexpected(good.error());
    return kind->read ? kind->read(settings, context) : kind->make(settings);
}

} // namespace jointer::models
