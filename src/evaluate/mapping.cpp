// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/mapping.h"

#include "base/text.h"
#include "evaluate/cells.h"
#include "evaluate/ions.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace jointer::evaluate {

namespace {

const Slot kX = {.role = Role::X,
                 .label = "x",
                 .help = "Several are several predictors.",
                 .needed = true,
                 .several = true};
const Slot kLabel = {.role = Role::Label, .label = "label", .help = "A name for each point."};
const Slot kClass = {.role = Role::Class, .label = "class", .help = "What points are told apart by."};

std::vector<MappingKind> catalogue() {
    std::vector<Slot> ions;
    for (const Ion& ion : mainIons())
        ions.push_back({.role = Role::Component,
                        .of = std::string(ion.key),
                        .label = std::string(ion.key),
                        .help = std::string(ion.word),
                        .needed = ion.key != "CO3" && ion.key != "NO3"});
    ions.push_back(kLabel);
    ions.push_back(kClass);
    auto part = [](const char* which) {
        return Slot{.role = Role::Component,
                    .of = which,
                    .label = which,
                    .help = "One of three parts.",
                    .needed = true};
    };
    return {
        {"columns",
         "Curve",
         "y against x, with replicates and uncertainties",
         {kX,
          {.role = Role::Y, .label = "y", .help = "Several are replicates.", .needed = true, .several = true},
          {.role = Role::XError, .label = "± x", .help = "Standard uncertainties of x."},
          {.role = Role::YError, .label = "± y", .help = "Standard uncertainties of y."}}},
        {"surface",
         "Surface",
         "z at places x and y, a row for each",
         {{.role = Role::X, .label = "x", .needed = true},
          {.role = Role::Y, .label = "y", .needed = true},
          {.role = Role::Z, .label = "z", .needed = true}}},
        {"grid",
         "Grid",
         "z in a block: rows along y, a column for each x, its heading the number",
         {{.role = Role::Y, .label = "y", .help = "The column with the other axis; none: row numbers."},
          {.role = Role::Z,
           .label = "z",
           .help = "The columns of the block.",
           .needed = true,
           .several = true}}},
        {"groups",
         "Groups",
         "lists of numbers to be compared: a column for each, or one with a column of groups",
         {{.role = Role::Y,
           .label = "values",
           .help = "Several: each column is a group.",
           .needed = true,
           .several = true},
          {.role = Role::Class, .label = "group", .help = "Which group a row belongs to."}}},
        {"ions", "Water ions", "amounts of the main ions, a row for each sample", ions},
        {"composition",
         "Three parts",
         "shares of three components, a row for each sample",
         {part("A"), part("B"), part("C"), kLabel, kClass}},
    };
}

bool isFree(const Column& c, const std::vector<RoleBinding>& taken) {
    return std::ranges::none_of(taken, [&](const RoleBinding& b) { return b.column == c.id; });
}

void guessSlot(const MappingKind& kind, const Slot& slot, const Table& table, std::vector<RoleBinding>& out) {
    auto first = [&](auto fits) {
        for (const Column& c : table.columns)
            if (isFree(c, out) && fits(c)) return out.push_back({slot.role, c.id, slot.of}), true;
        return false;
    };
    auto all = [&](auto fits) {
        for (const Column& c : table.columns)
            if (isFree(c, out) && fits(c)) out.push_back({slot.role, c.id, slot.of});
    };
    if (kind.key == "ions" && (slot.role == Role::Label || slot.role == Role::Class)) {
        first([](const Column& c) { return !c.isNumeric(); }); // names first, then what tells samples apart
        return;
    }
    if (kind.key == "ions" && slot.role == Role::Component) {
        first([&](const Column& c) { return c.isNumeric() && ionNamed(c.name) == findIon(slot.of); });
        return;
    }
    if (kind.key == "grid" && slot.role == Role::Z) return all([](const Column& c) { return c.isNumeric(); });
    if (kind.key == "grid") {
        first([](const Column& c) { return c.isNumeric() && !parseNumber(c.name); });
        return;
    }
    if (kind.key == "surface" || kind.key == "composition") {
        const bool plain = slot.role == Role::Label || slot.role == Role::Class;
        first([&](const Column& c) {
            return plain ? c.role == slot.role
                         : c.isNumeric() && c.role != Role::Class && c.role != Role::Label;
        });
        return;
    }
    if (kind.key == "groups" && slot.role == Role::Class) {
        first([](const Column& c) { return !c.isNumeric(); });
        return;
    }
    const bool words = std::ranges::any_of(table.columns, [](const Column& c) { return !c.isNumeric(); });
    if (kind.key == "groups") {
        if (words)
            first([](const Column& c) { return c.isNumeric() && c.role == Role::Y; });
        else
            all([](const Column& c) { return c.isNumeric(); });
        return;
    }
    if (slot.several)
        all([&](const Column& c) { return c.role == slot.role; });
    else
        first([&](const Column& c) { return c.role == slot.role; });
}

} // namespace

const std::vector<MappingKind>& mappingCatalogue() {
    static const std::vector<MappingKind> all = catalogue();
    return all;
}

std::vector<Role> offeredRoles() {
    std::set<Role> read;
    for (const MappingKind& kind : mappingCatalogue())
        for (const Slot& slot : kind.slots)
            if (slot.role != Role::Component) read.insert(slot.role); // which part is chosen in the mapping
    return {read.begin(), read.end()};
}

const MappingKind* findMapping(std::string_view key) {
    const auto at = std::ranges::find(mappingCatalogue(), key, &MappingKind::key);
    return at == mappingCatalogue().end() ? nullptr : &*at;
}

std::vector<RoleBinding> guessedRoles(const MappingKind& kind, const Table& table) {
    std::vector<RoleBinding> out;
    for (const Slot& slot : kind.slots) guessSlot(kind, slot, table, out);
    return out;
}

IonCharges chargesOf(const Table& table, const std::vector<RoleBinding>& roles) {
    IonCharges out{.samples = std::vector<Charges>(table.rowCount())};
    for (const RoleBinding& b : roles) {
        const Ion* ion = b.role == Role::Component ? findIon(b.of) : nullptr;
        const Column* c = ion ? table.find(b.column) : nullptr;
        if (!c || !c->isNumeric()) continue;
        const auto known = toMilliequivalents(*ion, c->unit);
        if (!known) out.unknownUnits.push_back(c);
        const double factor = known ? *known : *toMilliequivalents(*ion, "mg/L");
        const auto side = ion->charge > 0 ? &Charges::cations : &Charges::anions;
        (ion->charge > 0 ? out.cations : out.anions) = true;
        for (std::size_t row = 0; row < out.samples.size(); ++row)
            if (const double amount = cellAt(c, row) * factor; std::isfinite(amount))
                out.samples[row].*side += amount;
    }
    return out;
}

std::vector<const Column*> columnsOf(const Table& table, const std::vector<RoleBinding>& roles, Role role) {
    std::vector<const Column*> out;
    for (const RoleBinding& b : roles)
        if (const Column* c = b.role == role ? table.find(b.column) : nullptr; c && c->isNumeric())
            out.push_back(c);
    return out;
}

} // namespace jointer::evaluate
