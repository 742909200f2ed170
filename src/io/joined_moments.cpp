// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/joined_moments.h"

#include "base/text.h"
#include "io/column_meaning.h"
#include "io/text_tables.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::io {

Result<void> joinColumns(Table& table, const std::string& wanted) {
    const auto names = split(wanted, ',');
    auto indexOf = [&](std::string_view name) {
        const Column* c = table.findByName(trimmed(name));
        return c ? c - table.columns.data() : -1;
    };
    const auto date = names.size() == 2 ? indexOf(names[0]) : -1,
               time = names.size() == 2 ? indexOf(names[1]) : -1;
    if (date < 0 || time < 0)
        return failure("join", fmt::format("“{}” does not name two columns to be joined; there are {}.",
                                           wanted, columnNames(table)));
    auto joined = joinedMoments(table.columns[static_cast<std::size_t>(date)],
                                table.columns[static_cast<std::size_t>(time)]);
    if (!joined) return std::unexpected(joined.error());
    table.columns[static_cast<std::size_t>(date)] = std::move(*joined);
    table.columns.erase(table.columns.begin() + time);
    return {};
}

namespace {

// The only column of a kind; nullptr: there is none, or several.
const Column* only(const Table& table, ColumnKind kind) {
    if (std::ranges::count(table.columns, kind, &Column::kind) != 1) return nullptr;
    return &*std::ranges::find(table.columns, kind, &Column::kind);
}

// Whether the dates come again, and with the times the rows run forwards or backwards throughout.
bool runTogether(const Column& date, const Column& time) {
    const std::size_t n = std::min(date.numbers().size(), time.numbers().size());
    double lastDate = NAN, last = NAN;
    bool again = false, rises = true, falls = true;
    for (std::size_t i = 0; i < n; ++i) {
        const double day = date.numbers()[i], moment = day + time.numbers()[i];
        if (!std::isfinite(moment)) continue;
        again |= day == lastDate;
        rises &= !(moment < last);
        falls &= !(moment > last);
        lastDate = day;
        last = moment;
    }
    return again && rises != falls;
}

} // namespace

std::string columnsToJoin(const Table& table) {
    const Column *date = only(table, ColumnKind::Date), *time = only(table, ColumnKind::TimeOfDay);
    const bool moments = std::ranges::count(table.columns, ColumnKind::DateTime, &Column::kind) > 0;
    const auto isPlain = [](const std::string& name) { return name.find(',') == name.npos; };
    if (!date || !time || moments || !isPlain(date->name) || !isPlain(time->name)) return {};
    return runTogether(*date, *time) ? date->name + "," + time->name : std::string();
}

void joinMoments(ReadResult& reading, const Settings& told) {
    if (told.has("join") && !told.text("join").empty()) return;
    for (ReadTable& t : reading.tables) {
        const std::string which = columnsToJoin(t.table);
        if (which.empty() || !joinColumns(t.table, which)) continue;
        suggestRoles(t.table);
        const auto comma = which.find(',');
        reading.issues.push_back(
            {"joined-moments",
             fmt::format(
                 "“{}” and “{}” are one moment together and were joined; “{}” under Join keeps them apart.",
                 which.substr(0, comma), which.substr(comma + 1), kApart),
             {}});
    }
}

} // namespace jointer::io
