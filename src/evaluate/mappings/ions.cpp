// SPDX-License-Identifier: GPL-3.0-or-later
// Amounts of the main ions of waters.
#include "describe/setting_makers.h"
#include "evaluate/mappings/kinds.h"
#include "evaluate/water_samples.h"
#include "stats/summary.h"

namespace jointer::evaluate {

namespace {

// The balance of charges over the samples; beside it what the corners of the diagrams stand for, in meq/L.
Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    c.xMeaning.name = "sample";
    c.yMeaning = {"charge balance", "%", false};
    c.more.resize(waters::kParts);
    for (const char* part : {"Ca", "Mg", "Na + K", "Cl", "SO_{4}", "HCO_{3} + CO_{3}"})
        c.moreMeanings.push_back({.name = part, .unit = "meq/L"});
    const WaterSamples all = waterSamples(table, d.source);
    for (std::size_t row = 0; row < all.samples.size(); ++row) {
        const waters::Sample& s = all.samples[row];
        if (!s.canBePlaced()) continue;
        c.x.push_back(static_cast<double>(row + 1));
        c.y.push_back(s.balance());
        for (std::size_t k = 0; k < waters::kParts; ++k) c.more[k].push_back(s.parts[k]);
        c.rowIds.push_back(table.rows->id(row));
    }
    return c;
}

// Sentences about what is amiss with some of the samples, named.
void checkSamples(const WaterSamples& all, const waters::Rules& rules, Check& check) {
    std::vector<std::string> lacking, without, limited, unbalanced;
    for (std::size_t row = 0; row < all.samples.size(); ++row) {
        const waters::Sample& s = all.samples[row];
        std::vector<std::string> ions;
        for (const waters::Ion* ion : s.missing)
            if (ion->needed) ions.emplace_back(ion->key);
        if (!ions.empty())
            lacking.push_back(fmt::format("{} ({})", all.names[row], joined(ions, ", ")));
        else if (!s.canBePlaced())
            without.push_back(all.names[row]);
        if (!s.limited.empty()) limited.push_back(all.names[row]);
        if (std::abs(s.balance()) > rules.balanceLimit)
            unbalanced.push_back(fmt::format("{} ({} %)", all.names[row], readableNumber(s.balance(), 2)));
    }
    const auto number = [](const std::vector<std::string>& of) { return static_cast<long long>(of.size()); };
    if (!limited.empty())
        addFact(check, fmt::format("{} with values below a limit: {}", counted(number(limited), "sample"),
                                   namesInShort(limited)));
    if (!lacking.empty())
        problem(check,
                fmt::format("{} an ion and cannot be placed: {}.",
                            counted(number(lacking), "sample lacks", "samples lack"), namesInShort(lacking)));
    if (!without.empty())
        problem(check,
                fmt::format("{} no cations or no anions: {}.",
                            counted(number(without), "sample has", "samples have"), namesInShort(without)));
    if (!unbalanced.empty())
        problem(check, fmt::format("In {} the charges do not balance within ±{} %: {}.",
                                   counted(number(unbalanced), "sample"),
                                   readableNumber(rules.balanceLimit, 3), namesInShort(unbalanced)));
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const WaterSamples all = waterSamples(table, source);
    for (const Column* c : all.unknownUnits)
        problem(check,
                c->unit.empty()
                    ? fmt::format("“{}” has no unit and is taken as mg/L.", c->name)
                    : fmt::format("The unit {} of “{}” is not known for ions; give mg/L, mmol/L or meq/L.",
                                  c->unit, c->name));
    for (const std::string& read : all.read) addFact(check, read);
    if (!all.cations || !all.anions) return problem(check, "At least one cation and one anion are needed.");
    std::vector<double> errors;
    for (const waters::Sample& s : all.samples)
        if (const double e = s.balance(); std::isfinite(e)) errors.push_back(std::abs(e));
    if (errors.empty()) problem(check, "No row has amounts of all ions.");
    std::ranges::sort(errors);
    if (!errors.empty())
        addFact(check, fmt::format("{}, charge balance within ±{} %, median {} %",
                                   counted(static_cast<long long>(errors.size()), "sample"),
                                   readableNumber(errors.back(), 2),
                                   readableNumber(stats::quantile(errors, 0.5), 2)));
    checkSamples(all, waterRules(source.settings), check);
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    if (slot.role == Role::Component)
        takeFirst(slot, table, out, [&](const Column& c) {
            const auto named = c.isNumeric() ? waters::ionNamed(c.name) : std::nullopt;
            return named && named->ion->key == slot.of;
        });
    else
        takeWords(slot, table, out);
}

std::vector<Slot> ionSlots() {
    std::vector<Slot> slots;
    for (const waters::Ion& ion : waters::knownIons())
        slots.push_back({.role = Role::Component,
                         .of = std::string(ion.key),
                         .label = std::string(ion.key),
                         .help = std::string(ion.word),
                         .needed = ion.needed});
    slots.push_back(kLabelSlot);
    slots.push_back(kClassSlot);
    return slots;
}

std::vector<Setting> settings() {
    using namespace describe;
    return {choice("below-limit", "Below a limit",
                   {{"half", "half of the limit"},
                    {"limit", "the limit"},
                    {"zero", "zero"},
                    {"missing", "not known"}},
                   "What is taken for an amount of which only a limit is known, such as <0.05."),
            choice("nitrate", "Nitrate, F, Br",
                   {{"chloride", "with chloride"}, {"balance", "only in the balance"}},
                   "Whether they share the corner of chloride in diagrams, or count only where charges are "
                   "balanced."),
            number("balance-limit", "Balance within", 5,
                   "Samples whose charges balance no better are marked and listed.",
                   {.unit = "%", .lowest = 0.1, .highest = 100})};
}

} // namespace

MappingKind ionsMapping() {
    return {.info = {.key = "ions",
                     .name = "Water ions",
                     .purpose = "Amounts of the main ions, a row for each sample",
                     .settings = settings()},
            .slots = ionSlots(),
            .maySlotsBeEmpty = true,
            .guess = guess,
            .check = check,
            .curve = curve};
}

} // namespace jointer::evaluate
