// SPDX-License-Identifier: GPL-3.0-or-later
// Multiplies by the factor by which a sample was diluted: a number, an attribute, or a column.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& dilutionInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "dilution",
        .name = "Dilution",
        .purpose = "Multiply by the factor by which a sample was diluted",
        .group = "Values",
        .settings = {number("factor", "Factor", 1, "y is multiplied by it.", {}),
                     word("attribute", "Attribute",
                          "Name of the attribute that holds the factor; it goes before the "
                          "number.",
                          {.whenEmpty = "none"}),
                     reference("column", "Column", "column",
                               "Column that holds a factor for each row; it goes before the others.")}};
    return kind;
}

Outcome<StepOutput> dilute(const StepInput& in) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    const std::string column = in.settings.reference("column"),
                      attribute = dilutionInfo().text(in.settings, "attribute");
    if (const auto at = in.facts.columns.find(column); !column.empty() && at != in.facts.columns.end()) {
        List factor(c.size(), std::nan(""));
        std::size_t without = 0;
        for (std::size_t i = 0; i < c.size(); ++i) {
            const auto held = i < c.rowIds.size() ? at->second.find(c.rowIds[i]) : at->second.end();
            if (held != at->second.end()) factor[i] = held->second;
            without += !std::isfinite(factor[i]) && c.counts(i);
        }
        applyAffine(c, factor, List{0.0});
        out.value.sentence = "Multiplied by the dilution of each row.";
        if (without > 0)
            out.issues.push_back(
                {"no-factor", countedPoints(without) + " without a factor: no value there.", {}});
        return out;
    }
    double factor = dilutionInfo().number(in.settings, "factor");
    std::string from;
    if (!attribute.empty()) {
        const auto at = std::ranges::find(in.facts.attributes, attribute, &Attribute::name);
        const auto value = at == in.facts.attributes.end() ? std::nullopt : parseNumber(at->value);
        if (!value)
            return leftAlone(in.curve, "Dilution: nothing was done.", "the attribute holds no number",
                             {"no-factor",
                              fmt::format("The dataset has no attribute “{}” that is a number.", attribute),
                              {}});
        factor = *value;
        from = " (" + attribute + ")";
    }
    applyAffine(c, List{factor}, List{0.0});
    out.value.sentence = fmt::format("Multiplied by the dilution, {}{}.", readableNumber(factor), from);
    return out;
}

} // namespace

StepKind dilutionStep() {
    return {.info = dilutionInfo(), .asksFacts = true, .apply = dilute};
}

} // namespace jointer::steps
