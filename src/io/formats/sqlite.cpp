// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of an SQLite file, opened from memory, read-only, without views and without trust in its schema.
#include "base/text.h"
#include "io/column_meaning.h"
#include "io/formats/made_table.h"

#include <algorithm>

#include <fmt/format.h>
#include <sqlite3.h>

namespace jointer::io {

namespace {

constexpr std::size_t kMostCells = 100000000;

struct Closer {
    void operator()(sqlite3* db) const { sqlite3_close(db); }
    void operator()(sqlite3_stmt* s) const { sqlite3_finalize(s); }
};
using Database = std::unique_ptr<sqlite3, Closer>;
using Statement = std::unique_ptr<sqlite3_stmt, Closer>;

Statement prepared(sqlite3* db, const std::string& sql) {
    sqlite3_stmt* s = nullptr;
    sqlite3_prepare_v2(db, sql.c_str(), -1, &s, nullptr);
    return Statement(s);
}

std::string textOf(sqlite3_stmt* s, int c) {
    const auto* bytes = reinterpret_cast<const char*>(sqlite3_column_text(s, c));
    return bytes ? safeText({bytes, static_cast<std::size_t>(sqlite3_column_bytes(s, c))}) : std::string();
}

std::string quotedName(const std::string& name) {
    std::string out = "\"";
    for (char c : name) {
        out += c;
        if (c == '"') out += '"';
    }
    return out + "\"";
}

// A column may hold values of every kind: it is kept as texts until all are seen, unless all are numbers.
struct Growing {
    std::vector<double> numbers;
    std::vector<std::string> texts;
    bool isText = false;
    std::size_t rounded = 0;

    void toText() {
        if (isText) return;
        isText = true;
        for (double v : numbers) texts.push_back(std::isnan(v) ? "" : shortestNumber(v));
    }
};

// A text was stored as one on purpose: the column has another kind only where every cell fits it.
void interpretWhole(Column& column, std::vector<Issue>& issues) {
    const Column asTexts = column;
    std::vector<Issue> said;
    interpretTexts(column, {}, said);
    const auto& states = column.cells->states;
    if (std::ranges::find(states, CellState::Unreadable) != states.end())
        column = asTexts;
    else
        std::ranges::move(said, std::back_inserter(issues));
}

Result<void> readTable(sqlite3* db, const std::string& name, const Cancellation& stop, ReadResult& out,
                       std::size_t& cells) {
    const Statement s = prepared(db, "SELECT * FROM " + quotedName(name));
    if (!s) {
        out.issues.push_back({"damaged", fmt::format("The table “{}” cannot be read.", safeText(name)), {}});
        return {};
    }
    const int count = sqlite3_column_count(s.get());
    std::vector<Growing> columns(static_cast<std::size_t>(count));
    int state;
    while ((state = sqlite3_step(s.get())) == SQLITE_ROW) {
        if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");
        cells += columns.size();
        if (cells > kMostCells)
            return failure("too-large", "The file holds more cells than can be read at once.");
        for (int c = 0; c < count; ++c) {
            Growing& g = columns[static_cast<std::size_t>(c)];
            const int type = sqlite3_column_type(s.get(), c);
            if (type == SQLITE_TEXT || type == SQLITE_BLOB) g.toText();
            if (g.isText) {
                g.texts.push_back(type == SQLITE_BLOB
                                      ? fmt::format("({} bytes)", sqlite3_column_bytes(s.get(), c))
                                      : textOf(s.get(), c));
            } else if (type == SQLITE_NULL)
                g.numbers.push_back(std::numeric_limits<double>::quiet_NaN());
            else {
                const double v = sqlite3_column_double(s.get(), c);
                g.rounded += type == SQLITE_INTEGER && std::abs(v) >= 9007199254740992.0 &&
                             (std::abs(v) > 9.2e18 ||
                              static_cast<sqlite3_int64>(v) != sqlite3_column_int64(s.get(), c));
                g.numbers.push_back(v);
            }
        }
    }
    if (state != SQLITE_DONE)
        out.issues.push_back(
            {"damaged",
             fmt::format("The table “{}” is damaged: its rows end too early.", safeText(name)),
             {}});
    std::vector<Column> made;
    for (int c = 0; c < count; ++c) {
        Growing& g = columns[static_cast<std::size_t>(c)];
        auto [label, unit] = nameAndUnit(safeText(sqlite3_column_name(s.get(), c)));
        if (g.rounded > 0)
            out.issues.push_back(
                {"precision-loss", "Whole numbers beyond 2⁵³ are rounded.", {.column = label}});
        Column column = g.isText ? textColumn(label, std::move(g.texts))
                                 : numberColumn(label, unit, std::move(g.numbers));
        column.unit = unit;
        if (g.isText) interpretWhole(column, out.issues);
        made.push_back(std::move(column));
    }
    if (!made.empty()) out.tables.push_back(madeTable(safeText(name), std::move(made), out.issues));
    return {};
}

Result<ReadResult> readSqlite(std::string_view bytes, const Settings&, const Cancellation& stop) {
    sqlite3* opened = nullptr;
    if (sqlite3_open_v2(":memory:", &opened, SQLITE_OPEN_READWRITE | SQLITE_OPEN_MEMORY, nullptr) !=
        SQLITE_OK)
        return failure("sqlite", "The file cannot be opened.");
    const Database db(opened);
    auto* copy = static_cast<unsigned char*>(sqlite3_malloc64(bytes.size()));
    if (!copy) return failure("too-large", "The file is larger than the memory.");
    std::copy(bytes.begin(), bytes.end(), copy);
    const auto size = static_cast<sqlite3_int64>(bytes.size());
    // Files in write-ahead mode name versions that a file in memory cannot have.
    if (bytes.size() > 20 && copy[18] == 2) copy[18] = copy[19] = 1;
    if (sqlite3_deserialize(db.get(), "main", copy, size, size,
                            SQLITE_DESERIALIZE_FREEONCLOSE | SQLITE_DESERIALIZE_READONLY) != SQLITE_OK)
        return failure("sqlite", "The file cannot be opened.");
    sqlite3_db_config(db.get(), SQLITE_DBCONFIG_DEFENSIVE, 1, nullptr);
    sqlite3_db_config(db.get(), SQLITE_DBCONFIG_TRUSTED_SCHEMA, 0, nullptr);
    sqlite3_db_config(db.get(), SQLITE_DBCONFIG_ENABLE_TRIGGER, 0, nullptr);
    sqlite3_limit(db.get(), SQLITE_LIMIT_LENGTH, 100000000);
    sqlite3_exec(db.get(), "PRAGMA query_only=ON; PRAGMA cell_size_check=ON", nullptr, nullptr, nullptr);
    const Statement list =
        prepared(db.get(), "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE "
                           "'sqlite\\_%' ESCAPE '\\' AND sql NOT LIKE 'CREATE VIRTUAL%'");
    std::vector<std::string> names;
    while (list && sqlite3_step(list.get()) == SQLITE_ROW && names.size() < 1000) {
        const auto* name = reinterpret_cast<const char*>(sqlite3_column_text(list.get(), 0));
        if (name) names.emplace_back(name);
    }
    ReadResult out{.format = "sqlite"};
    std::size_t cells = 0;
    for (const std::string& name : names)
        if (auto good = readTable(db.get(), name, stop, out, cells); !good)
            return std::unexpected(good.error());
    if (out.tables.empty()) return failure("sqlite", "The file holds no tables, or it is damaged.");
    return out;
}

} // namespace

ReaderKind sqliteReader() {
    return {.info = {.key = "sqlite", .name = "SQLite", .purpose = "Tables of a database file"},
            .endings = {"sqlite", "sqlite3", "db"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    return head.starts_with(std::string_view("SQLite format 3\0", 16)) ? 99 : 0;
                },
            .read = readSqlite};
}

} // namespace jointer::io
