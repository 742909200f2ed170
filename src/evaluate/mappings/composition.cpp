// SPDX-License-Identifier: GPL-3.0-or-later
// Shares of three components.
#include "evaluate/fields.h"
#include "evaluate/mappings/kinds.h"

namespace jointer::evaluate {

namespace {

// The share of the first part in each sample.
Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    const Roles& roles = d.source.roles;
    const auto parts = threeParts(table, roles);
    c.xMeaning.name = "sample";
    if (parts.size() != 3) return c;
    c.yMeaning = {parts[0]->name, "%", false};
    c.more.resize(parts.size());
    for (const Column* p : parts) c.moreMeanings.push_back(meaningOf(*p));
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        double sum = 0;
        for (const Column* p : parts) sum += cellAt(p, row);
        if (!std::isfinite(sum) || sum <= 0) continue;
        c.x.push_back(static_cast<double>(row + 1));
        c.y.push_back(100 * cellAt(parts[0], row) / sum);
        for (std::size_t k = 0; k < parts.size(); ++k) c.more[k].push_back(cellAt(parts[k], row));
        c.rowIds.push_back(table.rows->id(row));
    }
    return c;
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const Roles& roles = source.roles;
    const auto parts = threeParts(table, roles);
    if (parts.size() != 3) return;
    std::vector<double> sums;
    long long negative = 0;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        double sum = 0;
        for (const Column* p : parts) {
            sum += cellAt(p, row);
            negative += cellAt(p, row) < 0;
        }
        if (std::isfinite(sum)) sums.push_back(sum);
    }
    if (sums.empty()) return problem(check, "No row has all three parts.");
    const auto [low, high] = std::ranges::minmax(sums);
    if (!(high > 0)) return problem(check, "No row has parts that sum to more than zero.");
    addFact(check,
            fmt::format("{} with sums from {} to {}", counted(static_cast<long long>(sums.size()), "sample"),
                        readableNumber(low, 4), readableNumber(high, 4)));
    if (high - low > 0.02 * high)
        addFact(check, "the sums differ; each sample is taken as shares of its sum");
    if (negative > 0) problem(check, counted(negative, "part") + " below zero.");
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    if (slot.role == Role::Label || slot.role == Role::Class) {
        const std::size_t before = out.size();
        takeFirst(slot, table, out, [&](const Column& c) { return c.role == slot.role; });
        if (out.size() == before) takeWords(slot, table, out);
        return;
    }
    if (slot.role == Role::Z) return; // only where it is asked for
    takeFirst(slot, table, out, [](const Column& c) {
        return c.isNumeric() && c.role != Role::Class && c.role != Role::Label;
    });
}

Slot part(const char* which) {
    return {
        .role = Role::Component, .of = which, .label = which, .help = "One of three parts.", .needed = true};
}

} // namespace

std::vector<const Column*> threeParts(const Table& table, const Roles& roles) {
    std::vector<const Column*> parts;
    for (const char* which : {"A", "B", "C"})
        for (const RoleBinding& b : roles)
            if (const Column* c = b.role == Role::Component && b.of == which ? table.find(b.column) : nullptr;
                c && c->isNumeric()) {
                parts.push_back(c);
                break;
            }
    return parts;
}

MappingKind compositionMapping() {
    return {.info = {.key = "composition",
                     .name = "Three parts",
                     .purpose = "Shares of three components, a row for each sample",
                     .settings = scatteredSettings()},
            .slots = {part("A"),
                      part("B"),
                      part("C"),
                      {.role = Role::Z,
                       .label = "value",
                       .help = "Measured of the mixture: contours and maps show it."},
                      kLabelSlot,
                      kClassSlot},
            .guess = guess,
            .check = check,
            .curve = curve};
}

} // namespace jointer::evaluate
