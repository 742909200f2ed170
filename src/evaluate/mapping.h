// SPDX-License-Identifier: GPL-3.0-or-later
// What a table can be mapped to: for each kind of dataset over columns, the places that columns take, a first
// guess by names and usual roles, and a check of what was chosen in plain sentences.
#pragma once

#include "project/project.h"

namespace jointer::evaluate {

// A place that a column takes, or several columns.
struct Slot {
    Role role;
    std::string of{}; // of components: which
    std::string label;
    std::string help{};
    bool needed = false, several = false;
};

struct MappingKind {
    std::string key; // of DatasetSource::kind
    std::string name, purpose;
    std::vector<Slot> slots;
};

const std::vector<MappingKind>& mappingCatalogue();
// The roles that some kind of dataset reads, in order, with their labels: no others are offered.
std::vector<Role> offeredRoles();
const MappingKind* findMapping(std::string_view key);

// The likeliest columns for the places of a kind.
std::vector<RoleBinding> guessedRoles(const MappingKind& kind, const Table& table);

// Facts about the data as mapped ("3 × 24 grid, complete"), and what is wrong or deserves a look. The table
// has its computed columns filled in. Cost: linear.
Outcome<std::vector<std::string>> checkedRoles(const MappingKind& kind, const Table& table,
                                               const std::vector<RoleBinding>& roles);

// The charges of each row by the ions that its columns hold, in meq/L.
struct Charges {
    double cations = 0, anions = 0;
};
struct IonCharges {
    std::vector<Charges> samples;            // one for each row
    bool cations = false, anions = false;    // whether a column holds any
    std::vector<const Column*> unknownUnits; // taken as mg/L
};
IonCharges chargesOf(const Table& table, const std::vector<RoleBinding>& roles);

// The columns bound to a role, in order.
std::vector<const Column*> columnsOf(const Table& table, const std::vector<RoleBinding>& roles, Role role);

} // namespace jointer::evaluate
