// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/water_samples.h"

#include "base/text.h"
#include "evaluate/cells.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::evaluate {

namespace {

constexpr std::size_t kMostNames = 6;

std::string nameOf(const Column* label, std::size_t row) {
    std::string name = label ? plainCellText(*label, row) : "";
    return name.empty() || name == "–" ? fmt::format("row {}", row + 1) : name;
}

void tell(const Column& c, const waters::Ion& ion, const waters::WrittenAs* as, bool byConvention,
          std::vector<std::string>& into) {
    if (!as) return;
    into.push_back(fmt::format("“{}” is {} as {}{}", c.name, ion.word, as->key,
                               byConvention ? ", as alkalinity is given" : ""));
}

} // namespace

waters::Rules waterRules(const Settings& settings) {
    const double limit = settings.number("balance-limit", 5);
    return {.below = waters::belowLimitFrom(settings.text("below-limit", "half")),
            .othersWithChloride = settings.text("nitrate", "chloride") == "chloride",
            .balanceLimit = limit > 0 ? limit : 5};
}

WaterSamples waterSamples(const Table& table, const DatasetSource& source) {
    WaterSamples out;
    std::vector<waters::Amounts> all;
    const Column* label = nullptr;
    for (const RoleBinding& b : source.roles) {
        const Column* c = table.find(b.column);
        if (b.role == Role::Label && c) label = c;
        const waters::Ion* ion = b.role == Role::Component ? waters::findIon(b.of) : nullptr;
        if (!ion || !c || !c->isNumeric()) continue;
        const auto named = waters::ionNamed(c->name);
        const bool same = named && named->ion == ion;
        const waters::AmountUnit given = waters::amountUnit(c->unit);
        const waters::WrittenAs* as = given.as ? given.as : same ? named->as : nullptr;
        auto factor = waters::toMillimoles(*ion, c->unit, as);
        if (!factor) {
            out.unknownUnits.push_back(c);
            factor = waters::toMillimoles(*ion, "mg/L", as);
        }
        const bool byMass =
            given.unit.find("eq") == std::string::npos && given.unit.find("mol") == std::string::npos;
        if (byMass) tell(*c, *ion, as, !given.as && named && named->byConvention, out.read);
        waters::Amounts a{.ion = ion, .toMillimoles = *factor};
        a.values.assign(c->numbers().begin(), c->numbers().end());
        a.values.resize(table.rowCount(), NAN);
        if (!c->cells->states.empty()) {
            a.limits.resize(a.values.size(), NAN);
            for (std::size_t row = 0; row < a.limits.size(); ++row) a.limits[row] = limitAt(*c, row);
        }
        if (ion->charge > 0) out.cations = true;
        if (ion->charge < 0) out.anions = true;
        all.push_back(std::move(a));
    }
    out.samples = waters::samplesOf(all, waterRules(source.settings));
    out.names.reserve(out.samples.size());
    for (std::size_t row = 0; row < out.samples.size(); ++row) out.names.push_back(nameOf(label, row));
    return out;
}

std::string namesInShort(const std::vector<std::string>& names) {
    std::vector<std::string> shown(names.begin(),
                                   names.begin() + static_cast<std::ptrdiff_t>(std::min(names.size(), kMostNames)));
    const std::string all = joined(shown, ", ");
    return names.size() > kMostNames ? fmt::format("{} and {} more", all, names.size() - kMostNames) : all;
}

} // namespace jointer::evaluate
