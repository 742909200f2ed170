// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/measured_curve.h"

#include "base/text.h"
#include "evaluate/cells.h"

#include <cmath>
#include <fmt/format.h>
#include <numeric>
#include <span>

namespace jointer::evaluate {

namespace {

const Column* columnOf(const Table& table, const DatasetSource& source, Role role) {
    const auto at = std::ranges::find(source.roles, role, &RoleBinding::role);
    const Column* c = at == source.roles.end() ? nullptr : table.find(at->column);
    return c && c->isNumeric() ? c : nullptr;
}

// Standard uncertainties by the rule that the dataset states.
void addUncertainty(Curve& c, const Settings& rule, const std::vector<double>& errorColumn) {
    const std::string kind = rule.text("uncertainty", errorColumn.empty() ? "none" : "column");
    const double amount = rule.number("amount", 0.05);
    const auto n = c.size();
    if (kind == "column" && !errorColumn.empty())
        c.sigma = errorColumn, c.sigmaSource = "from the column of uncertainties";
    if (kind == "fraction") {
        for (double y : c.y) c.sigma.push_back(amount * std::abs(y));
        c.sigmaSource = fmt::format("{} % of y", readableNumber(100 * amount));
    }
    if (kind == "counting") {
        for (double y : c.y) c.sigma.push_back(std::sqrt(std::max(y, 1.0)));
        c.sigmaSource = "square root of the counts";
    }
    if (kind == "constant") c.sigma.assign(n, amount), c.sigmaSource = "the same for all points";
    if ((kind == "sd" || kind == "sem") && c.replicates.size() > 1) {
        for (std::size_t i = 0; i < n; ++i) {
            double sum = 0, present = 0;
            for (const auto& r : c.replicates)
                if (std::isfinite(r[i])) sum += (r[i] - c.y[i]) * (r[i] - c.y[i]), ++present;
            const double sd = present > 1 ? std::sqrt(sum / (present - 1)) : std::nan("");
            c.sigma.push_back(kind == "sd" ? sd : sd / std::sqrt(present));
        }
        c.sigmaSource = kind == "sd" ? "SD of the replicates" : "SEM of the replicates";
    }
}

bool isAscending(std::span<const double> x, std::size_t rows) {
    if (x.size() != rows) return false;
    for (std::size_t i = 0; i < rows; ++i)
        if (!std::isfinite(x[i]) || (i > 0 && x[i] < x[i - 1])) return false;
    return true;
}

// The rows one by one in order of x; gives the uncertainties of the error column.
std::vector<double> takeRows(const Table& table, const Column* x, const std::vector<const Column*>& further,
                             const std::vector<const Column*>& ys, const Column* error, const Column* errorX,
                             Curve& c) {
    std::vector<std::size_t> rows(ys[0]->numbers().size());
    std::iota(rows.begin(), rows.end(), 0);
    auto xOf = [&](std::size_t row) { return x ? cellAt(x, row) : static_cast<double>(row + 1); };
    std::erase_if(rows, [&](std::size_t row) {
        const RowKind kind = table.rowKind(row);
        return !std::isfinite(xOf(row)) || kind == RowKind::Blank || kind == RowKind::Unknown;
    });
    if (x && !std::ranges::is_sorted(rows, {}, xOf)) std::ranges::stable_sort(rows, {}, xOf);

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
    }
    return errors;
}

} // namespace

Curve curveFromColumns(const Table& table, const Dataset& d, std::vector<Issue>& issues) {
    if (d.source.kind != "columns") return curveFromMapping(table, d, issues);
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
        issues.push_back(
            {"no-y", fmt::format("The dataset “{}” has no column of numbers as y.", d.name), {}});
        return c;
    }
    const Column *error = columnOf(table, d.source, Role::YError),
                 *errorX = columnOf(table, d.source, Role::XError);
    const bool plain = x && further.empty() && ys.size() == 1 && !error && !errorX &&
                       table.rowKinds.empty() && isAscending(x->numbers(), ys[0]->numbers().size());
    std::vector<double> errors;
    if (plain) { // most curves: columns as they stand
        c.x.assign(x->numbers().begin(), x->numbers().end());
        c.y.assign(ys[0]->numbers().begin(), ys[0]->numbers().end());
        for (double& y : c.y)
            if (std::isinf(y)) y = std::nan("");
        c.rowIds.resize(c.size());
        for (std::size_t i = 0; i < c.size(); ++i) c.rowIds[i] = table.rows->id(i);
    } else
        errors = takeRows(table, x, further, ys, error, errorX, c);
    if (x)
        c.xMeaning = meaningOf(*x);
    else
        c.xMeaning.name = "row";
    c.yMeaning = meaningOf(*ys[0]);
    addUncertainty(c, d.source.settings, errors);
    return c;
}

} // namespace jointer::evaluate
