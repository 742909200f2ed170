// SPDX-License-Identifier: GPL-3.0-or-later
// y against x: the usual dataset, with replicates, further predictors and uncertainties.
#include "data/column_names.h"
#include "evaluate/mappings/kinds.h"
#include "evaluate/uncertainty.h"

#include <numeric>
#include <set>
#include <span>

namespace jointer::evaluate {

namespace {

const Column* columnOf(const Table& table, const DatasetSource& source, Role role) {
    const auto at = std::ranges::find(source.roles, role, &RoleBinding::role);
    const Column* c = at == source.roles.end() ? nullptr : table.find(at->column);
    return c && c->isNumeric() ? c : nullptr;
}

bool isAscending(std::span<const double> x, std::size_t rows) {
    if (x.size() != rows) return false;
    for (std::size_t i = 0; i < rows; ++i)
        if (!std::isfinite(x[i]) || (i > 0 && x[i] < x[i - 1])) return false;
    return true;
}

const Column* wordsAsX(const Table& table, const DatasetSource& source) {
    const auto at = std::ranges::find(source.roles, Role::X, &RoleBinding::role);
    const Column* c = at == source.roles.end() ? nullptr : table.find(at->column);
    return c && !c->isNumeric() ? c : nullptr;
}

// The rows one by one in order of x; gives the uncertainties of the error column.
std::vector<double> takeRows(const Table& table, const Column* x, const std::vector<double>& places,
                             const std::vector<const Column*>& further, const std::vector<const Column*>& ys,
                             const Column* error, const Column* errorX, const Column* resolution, Curve& c) {
    std::vector<std::size_t> rows(ys[0]->numbers().size());
    std::iota(rows.begin(), rows.end(), 0);
    auto xOf = [&](std::size_t row) {
        if (!places.empty()) return row < places.size() ? places[row] : std::nan("");
        return x ? cellAt(x, row) : static_cast<double>(row + 1);
    };
    std::erase_if(rows, [&](std::size_t row) {
        const RowKind kind = table.rowKind(row);
        return !std::isfinite(xOf(row)) || kind == RowKind::Blank || kind == RowKind::Unknown;
    });
    if ((x || !places.empty()) && !std::ranges::is_sorted(rows, {}, xOf))
        std::ranges::stable_sort(rows, {}, xOf);

    std::vector<double> errors;
    if (ys.size() > 1) c.replicates.resize(ys.size());
    c.more.resize(further.size());
    for (std::size_t row : rows) {
        c.x.push_back(xOf(row));
        for (std::size_t k = 0; k < further.size(); ++k) c.more[k].push_back(cellAt(further[k], row));
        c.rowIds.push_back(table.rows->id(row));
        double sum = 0, present = 0;
        for (std::size_t k = 0; k < ys.size(); ++k) {
            const double y = cellAt(ys[k], row);
            if (ys.size() > 1) c.replicates[k].push_back(y);
            if (std::isfinite(y)) sum += y, ++present;
        }
        c.y.push_back(present > 0 ? sum / present : std::nan(""));
        if (error) errors.push_back(std::abs(cellAt(error, row)));
        if (errorX) c.sigmaX.push_back(std::abs(cellAt(errorX, row)));
        if (resolution) c.resolution.push_back(std::abs(cellAt(resolution, row)));
    }
    return errors;
}

Curve curve(const Table& table, const Dataset& d, std::vector<Issue>& issues) {
    Curve c;
    std::vector<const Column*> ys;
    for (const RoleBinding& b : d.source.roles)
        if (const Column* y = b.role == Role::Y ? table.find(b.column) : nullptr; y && y->isNumeric())
            ys.push_back(y);
    // Several columns may be x: the first is drawn, equations call them x1, x2…
    std::vector<const Column*> xs;
    for (const RoleBinding& b : d.source.roles)
        if (const Column* of = b.role == Role::X ? table.find(b.column) : nullptr; of && of->isNumeric())
            xs.push_back(of);
    const Column* x = xs.empty() ? nullptr : xs.front();
    const std::vector<const Column*> further(xs.begin() + (xs.empty() ? 0 : 1), xs.end());
    if (ys.empty()) {
        issues.push_back({"no-y", "This dataset has no column of numbers as y.", {}});
        return c;
    }
    const Column *error = columnOf(table, d.source, Role::YError),
                 *errorX = columnOf(table, d.source, Role::XError),
                 *resolution = columnOf(table, d.source, Role::Resolution);
    const bool plain = x && further.empty() && ys.size() == 1 && !error && !errorX && !resolution &&
                       table.rowKinds.empty() && isAscending(x->numbers(), ys[0]->numbers().size());
    Categories categories;
    if (const Column* words = x ? nullptr : wordsAsX(table, d.source)) {
        categories = categoriesOf(*words, ys[0]->numbers().size());
        c.xMeaning.name = words->name;
        c.xMeaning.categories = categories.names;
    }
    std::vector<double> errors;
    if (plain) { // most curves: columns as they stand
        c.x.assign(x->numbers().begin(), x->numbers().end());
        c.y.assign(ys[0]->numbers().begin(), ys[0]->numbers().end());
        for (double& y : c.y)
            if (std::isinf(y)) y = std::nan("");
        c.rowIds.resize(c.size());
        for (std::size_t i = 0; i < c.size(); ++i) c.rowIds[i] = table.rows->id(i);
    } else
        errors = takeRows(table, x, categories.places, further, ys, error, errorX, resolution, c);
    if (x)
        c.xMeaning = meaningOf(*x);
    else if (categories.names.empty())
        c.xMeaning.name = "row";
    c.yMeaning = meaningOf(*ys[0]);
    c.yMeaning.name = commonName(ys);
    addUncertainty(c, errors, d.source.settings);
    return c;
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const Roles& roles = source.roles;
    const auto ys = columnsOf(table, roles, Role::Y), xs = columnsOf(table, roles, Role::X);
    if (ys.empty()) return;
    std::size_t points = 0;
    std::multiset<double> seen;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const double x = xs.empty() ? static_cast<double>(row + 1) : cellAt(xs[0], row);
        const bool there =
            std::ranges::any_of(ys, [&](const Column* y) { return std::isfinite(cellAt(y, row)); });
        if (!there || !std::isfinite(x)) continue;
        ++points;
        seen.insert(x);
    }
    addFact(check, counted(static_cast<long long>(points), "point") +
                       (ys.size() > 1 ? " of " + std::to_string(ys.size()) + " replicates" : ""));
    std::size_t repeated = 0;
    for (auto at = seen.begin(); at != seen.end(); at = seen.upper_bound(*at))
        repeated += seen.count(*at) > 1;
    if (repeated > 0)
        addFact(check, counted(static_cast<long long>(repeated), "value") + " of x with several points");
    if (points == 0) problem(check, "No row has a number for both x and y.");
    for (const Column* y : ys)
        if (y->unit != ys[0]->unit)
            problem(check,
                    fmt::format("The replicates “{}” and “{}” have different units.", ys[0]->name, y->name));
    for (const Column* error : columnsOf(table, roles, Role::YError))
        if (std::ranges::any_of(error->numbers(), [](double v) { return v <= 0; }))
            problem(check, fmt::format("“{}” holds uncertainties that are not above zero.", error->name));
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    auto fits = [&](const Column& c) { return c.role == slot.role; };
    slot.several ? takeAll(slot, table, out, fits) : takeFirst(slot, table, out, fits);
}

} // namespace

MappingKind curveMapping() {
    return {.info = {.key = "columns",
                     .name = "Curve",
                     .purpose = "Points y against x, with replicates and uncertainties"},
            .slots = {{.role = Role::X,
                       .label = "x",
                       .help = "Several are several predictors.",
                       .needed = true,
                       .several = true,
                       .maybeWords = true},
                      {.role = Role::Y,
                       .label = "y",
                       .help = "Several are replicates.",
                       .needed = true,
                       .several = true},
                      {.role = Role::XError, .label = "± x", .help = "Standard uncertainties of x."},
                      {.role = Role::YError, .label = "± y", .help = "Standard uncertainties of y."},
                      {.role = Role::Resolution,
                       .label = "resolution",
                       .help = "Standard deviation of the x that a point averages over, such as dq."}},
            .saysWhatItLacks = true,
            .guess = guess,
            .check = check,
            .curve = curve};
}

} // namespace jointer::evaluate
