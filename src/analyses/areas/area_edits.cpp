// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/areas/areas.h"

#include <algorithm>

namespace jointer::analyses {

namespace {

void setRows(Analysis& areas, RowList rows) {
    std::ranges::sort(rows, {}, [](const Settings& r) { return r.number("low"); });
    areas.settings.set("limits", Value(std::make_shared<const RowList>(std::move(rows))));
}

// Changes the row of a peak, after all have been taken over.
void changeRow(Analysis& areas, const AreasDetail& shown, int number,
               const std::function<void(Settings&)>& how) {
    takeOverAreas(areas, shown);
    RowList rows = areas.settings.rows("limits");
    for (Settings& row : rows)
        if (row.integer("number") == number) how(row);
    setRows(areas, std::move(rows));
}

} // namespace

void takeOverAreas(Analysis& areas, const AreasDetail& shown) {
    if (!areas.settings.rows("limits").empty()) return;
    RowList rows;
    for (const LimitedPeak& p : shown.peaks) {
        Settings row;
        row.set("number", p.number);
        row.set("low", Value(p.limits.low));
        row.set("high", Value(p.limits.high));
        row.set("ground", Value(groundKey(p.limits.ground)));
        rows.push_back(std::move(row));
    }
    setRows(areas, std::move(rows));
}

void moveLimit(Analysis& areas, const AreasDetail& shown, int number, bool high, double x) {
    takeOverAreas(areas, shown);
    RowList rows = areas.settings.rows("limits");
    const auto own =
        std::ranges::find_if(rows, [&](const Settings& r) { return r.integer("number") == number; });
    if (own == rows.end()) return;
    const char *end = high ? "high" : "low", *other = high ? "low" : "high";
    const double before = own->number(end), kept = own->number(other);
    if (high ? !(x > kept) : !(x < kept)) return;
    for (Settings& row : rows)
        if (row.number(other) == before && &row != &*own &&
            (high ? row.number("high") > x : row.number("low") < x))
            row.set(other, Value(x));
    own->set(end, Value(x));
    setRows(areas, std::move(rows));
}

void standOn(Analysis& areas, const AreasDetail& shown, int number, Ground ground) {
    changeRow(areas, shown, number, [&](Settings& row) { row.set("ground", Value(groundKey(ground))); });
}

void nameArea(Analysis& areas, const AreasDetail& shown, int number, const std::string& name) {
    changeRow(areas, shown, number, [&](Settings& row) { row.set("name", Value(name)); });
}

void removeArea(Analysis& areas, const AreasDetail& shown, int number) {
    takeOverAreas(areas, shown);
    RowList rows = areas.settings.rows("limits");
    std::erase_if(rows, [&](const Settings& r) { return r.integer("number") == number; });
    if (rows.empty())
        areas.settings.remove("limits");
    else
        setRows(areas, std::move(rows));
}

int addArea(Analysis& areas, const AreasDetail* shown, double low, double high) {
    if (shown) takeOverAreas(areas, *shown);
    RowList rows = areas.settings.rows("limits");
    int number = 1;
    for (const Settings& r : rows) number = std::max(number, r.integer("number") + 1);
    Settings row;
    row.set("number", number);
    row.set("low", Value(std::min(low, high)));
    row.set("high", Value(std::max(low, high)));
    rows.push_back(std::move(row));
    setRows(areas, std::move(rows));
    return number;
}

} // namespace jointer::analyses
