// SPDX-License-Identifier: GPL-3.0-or-later
// Readings of samples that a standard curve shall turn into amounts: rows of kind unknown, or where nothing
// is said those without an x; and blanks beside them.
#include "analyses/unknowns/unknowns.h"
#include "evaluate/mappings/kinds.h"

#include <map>

namespace jointer::evaluate {

using analyses::kBlankReading, analyses::kSampleReading;

namespace {

struct Parts {
    std::vector<const Column*> readings;
    const Column *x = nullptr, *name = nullptr, *dilution = nullptr;

    Parts(const Table& table, const Roles& roles) : readings(columnsOf(table, roles, Role::Y)) {
        for (const RoleBinding& b : roles) {
            if (b.role == Role::X) x = table.find(b.column);
            if (b.role == Role::Label) name = table.find(b.column);
            if (b.role == Role::Companion) dilution = table.find(b.column);
        }
    }

    // What a row is; 0: neither.
    double kindOf(const Table& table, std::size_t row) const {
        const double at = cellAt(x, row);
        switch (table.rowKind(row)) {
        case RowKind::Unknown:
            return kSampleReading;
        case RowKind::Blank:
            return kBlankReading;
        case RowKind::Control:
            return 0;
        case RowKind::Standard:
            return at == 0 ? kBlankReading : 0;
        case RowKind::Plain:
            break;
        }
        if (!table.rowKinds.empty()) return at == 0 ? kBlankReading : 0;
        return at == 0             ? kBlankReading
               : std::isfinite(at) ? 0
                                   : kSampleReading; // without a column x all are samples
    }
};

Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    const Parts parts(table, d.source.roles);
    c.more.resize(2);
    c.moreMeanings = {{"dilution"}, {"kind"}};
    c.xMeaning.name = parts.name ? parts.name->name : "sample";
    if (!parts.readings.empty()) c.yMeaning = meaningOf(*parts.readings[0]);
    std::map<std::string, double, std::less<>> places;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const double kind = parts.kindOf(table, row);
        if (kind == 0) continue;
        std::string name = parts.name ? cellText(*parts.name, row) : std::string();
        if (name.empty() || name == "–") name = fmt::format("row {}", row + 1);
        if (kind == kBlankReading) name = "blank";
        const auto [at, isNew] = places.try_emplace(name, static_cast<double>(places.size() + 1));
        if (isNew) c.xMeaning.categories.push_back(name);
        for (const Column* readings : parts.readings)
            if (const double y = cellAt(readings, row); std::isfinite(y)) {
                c.x.push_back(at->second);
                c.y.push_back(y);
                c.rowIds.push_back(table.rows->id(row));
                c.more[0].push_back(parts.dilution ? cellAt(parts.dilution, row, 1) : 1);
                c.more[1].push_back(kind);
            }
    }
    std::vector<std::size_t> order(c.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return c.x[i]; });
    return arranged(c, order);
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const Roles& roles = source.roles;
    const Parts parts(table, roles);
    long long unknown = 0, blank = 0;
    bool read = false;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const double kind = parts.kindOf(table, row);
        unknown += kind == kSampleReading;
        blank += kind == kBlankReading;
        if (kind != 0)
            for (const Column* c : parts.readings) read = read || std::isfinite(cellAt(c, row));
    }
    addFact(check, counted(unknown, "row") + " of samples, " + counted(blank, "blank"));
    if (unknown > 0 && table.rowKinds.empty())
        addFact(check, "rows without x are taken as samples; the kinds of rows can say otherwise");
    if (unknown + blank > 0 && !read) problem(check, "No sample and no blank has a number as its reading.");
    if (unknown == 0)
        problem(check, "No row is a sample: give rows the kind “unknown”, or leave their x open.");
}

bool isDilution(const Column& c) {
    return c.isNumeric() && lowerAscii(c.name).find("dilut") != std::string::npos;
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    if (slot.role == Role::Label)
        return takeFirst(slot, table, out, [](const Column& c) { return !c.isNumeric(); });
    if (slot.role == Role::Companion) return takeFirst(slot, table, out, isDilution);
    if (slot.several)
        return takeAll(slot, table, out,
                       [](const Column& c) { return c.isNumeric() && c.role == Role::Y && !isDilution(c); });
    takeFirst(slot, table, out, [](const Column& c) { return c.isNumeric() && c.role == Role::X; });
}

} // namespace

MappingKind samplesMapping() {
    return {.info = {.key = "samples",
                     .name = "Samples",
                     .purpose = "Readings of unknowns and blanks, for a standard curve"},
            .slots = {{.role = Role::X, .label = "x", .help = "Of the standards: rows without are samples."},
                      {.role = Role::Y,
                       .label = "readings",
                       .help = "Several are replicates.",
                       .needed = true,
                       .several = true},
                      {.role = Role::Label,
                       .label = "name",
                       .help = "Rows of one name are one sample.",
                       .maybeWords = true},
                      {.role = Role::Companion,
                       .of = "dilution",
                       .label = "dilution",
                       .help = "By how much a sample was diluted."}},
            .guess = guess,
            .check = check,
            .curve = curve};
}

} // namespace jointer::evaluate
