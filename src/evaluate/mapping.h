// SPDX-License-Identifier: GPL-3.0-or-later
// What a table can be mapped to: for each kind of dataset over columns, the places that columns take, a first
// guess by names and usual roles, and a check of what was chosen in plain sentences.
#pragma once

#include "base/issue.h"
#include "data/curve.h"
#include "describe/catalogue.h"
#include "project/project.h"

namespace jointer::evaluate {

// A place that a column takes, or several columns.
struct Slot {
    Role role;
    std::string of{}; // of components: which
    std::string label;
    std::string help{};
    bool needed = false, several = false;
    bool maybeWords = false; // a column of words will do
};

using Roles = std::vector<RoleBinding>;
using Check = Outcome<std::vector<std::string>>; // facts, and what is wrong

struct MappingKind {
    KindInfo info; // its key is that of DatasetSource::kind
    std::vector<Slot> slots;
    bool saysWhatItLacks = false; // its `curve` does, without the whole check
    bool maySlotsBeEmpty = false; // needed ones without a column are told, not refused
    void (*guess)(const Slot& slot, const Table& table, Roles& out);
    void (*check)(const Table& table, const DatasetSource& source, Check& check);
    Curve (*curve)(const Table& table, const Dataset& dataset, std::vector<Issue>& issues);
};

const Catalogue<MappingKind>& mappingCatalogue();
// The roles that some kind of dataset reads, in order, with their labels: no others are offered.
std::vector<Role> offeredRoles();

// The likeliest columns for the places of a kind.
std::vector<RoleBinding> guessedRoles(const MappingKind& kind, const Table& table);

// Facts about the data as mapped ("3 × 24 grid, complete"), and what is wrong or deserves a look. The table
// has its computed columns filled in. Cost: linear.
Outcome<std::vector<std::string>> checkedSource(const MappingKind& kind, const Table& table,
                                                const DatasetSource& source);

// The columns bound to a role, in order.
std::vector<const Column*> columnsOf(const Table& table, const std::vector<RoleBinding>& roles, Role role);

} // namespace jointer::evaluate
