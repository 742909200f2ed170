// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/step.h"

namespace jointer::steps {

const Catalogue<StepKind>& catalogue() {
    static const Catalogue<StepKind> all(
        {excludeStep(), cropStep(), smoothStep(), baselineStep(), transformStep()});
    return all;
}

Outcome<StepOutput> apply(std::string_view key, const Curve& curve, const Settings& settings) {
    const StepKind* kind = catalogue().find(key);
    if (!kind)
        return {{.curve = curve, .sentence = "Unknown step “" + std::string(key) + "”: nothing was done."},
                {{"unknown-step",
                  "This step comes from a newer version of Jointer; it is kept but not applied.",
                  {}}}};
    auto out = kind->apply(curve, settings);
    if (auto good = validate(kind->info, settings); !good) out.issues.push_back(good.error());
    return out;
}

} // namespace jointer::steps
