// SPDX-License-Identifier: GPL-3.0-or-later
// Amounts of the main ions of waters.
#include "evaluate/ions.h"
#include "evaluate/mappings/kinds.h"
#include "stats/summary.h"

namespace jointer::evaluate {

namespace {

// The balance of charges of each sample.
Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    const Roles& roles = d.source.roles;
    c.xMeaning.name = "sample";
    c.yMeaning = {"charge balance", "%", false};
    const auto samples = chargesOf(table, roles).samples;
    for (std::size_t row = 0; row < samples.size(); ++row) {
        const double balance = chargeBalance(samples[row].cations, samples[row].anions);
        if (!std::isfinite(balance)) continue;
        c.x.push_back(static_cast<double>(row + 1));
        c.y.push_back(balance);
        c.rowIds.push_back(table.rows->id(row));
    }
    return c;
}

void check(const Table& table, const Roles& roles, Check& check) {
    const IonCharges charges = chargesOf(table, roles);
    for (const Column* c : charges.unknownUnits)
        problem(check,
                c->unit.empty()
                    ? fmt::format("“{}” has no unit and is taken as mg/L.", c->name)
                    : fmt::format("The unit {} of “{}” is not known for ions; give mg/L, mmol/L or meq/L.",
                                  c->unit, c->name));
    if (!charges.cations || !charges.anions)
        return problem(check, "At least one cation and one anion are needed.");
    std::vector<double> errors;
    long long beyond = 0;
    for (const Charges& s : charges.samples) {
        const double e = chargeBalance(s.cations, s.anions);
        if (!std::isfinite(e)) continue;
        errors.push_back(std::abs(e));
        beyond += std::abs(e) > 5;
    }
    if (errors.empty()) return problem(check, "No row has amounts of ions.");
    std::ranges::sort(errors);
    addFact(check,
            fmt::format("{}, charge balance within ±{} %, median {} %",
                        counted(static_cast<long long>(errors.size()), "sample"),
                        readableNumber(errors.back(), 2), readableNumber(stats::quantile(errors, 0.5), 2)));
    if (beyond > 0)
        problem(check,
                fmt::format("In {} the charges do not balance within ±5 %.", counted(beyond, "sample")));
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    if (slot.role == Role::Component)
        takeFirst(slot, table, out,
                  [&](const Column& c) { return c.isNumeric() && ionNamed(c.name) == findIon(slot.of); });
    else // names first, then what tells samples apart
        takeFirst(slot, table, out, [](const Column& c) { return !c.isNumeric(); });
}

std::vector<Slot> ionSlots() {
    std::vector<Slot> slots;
    for (const Ion& ion : mainIons())
        slots.push_back({.role = Role::Component,
                         .of = std::string(ion.key),
                         .label = std::string(ion.key),
                         .help = std::string(ion.word),
                         .needed = ion.key != "CO3" && ion.key != "NO3"});
    slots.push_back(kLabelSlot);
    slots.push_back(kClassSlot);
    return slots;
}

} // namespace

MappingKind ionsMapping() {
    return {.info = {.key = "ions",
                     .name = "Water ions",
                     .purpose = "Amounts of the main ions, a row for each sample"},
            .slots = ionSlots(),
            .maySlotsBeEmpty = true,
            .guess = guess,
            .check = check,
            .curve = curve};
}

} // namespace jointer::evaluate
