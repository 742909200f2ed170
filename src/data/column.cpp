// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/column.h"

#include "base/bits.h"
#include "base/text.h"
#include "data/time_pattern.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <date/date.h>
#include <fmt/format.h>

namespace jointer {

namespace {

constexpr std::array<std::string_view, 9> kKinds = {
    "number", "whole-number", "text", "category", "datetime", "date", "time", "duration", "boolean"};
constexpr std::array<std::string_view, 12> kRoles = {"none",    "x",      "y",          "x-error",
                                                     "y-error", "weight", "resolution", "label",
                                                     "class",   "z",      "companion",  "component"};
constexpr std::array<std::string_view, 12> kRoleLabels = {
    "", "x", "y", "± x", "± y", "weight", "resolution", "label", "class", "z", "companion", "part"};

template <class E, std::size_t N>
E fromKey(const std::array<std::string_view, N>& keys, std::string_view key) {
    const auto at = std::ranges::find(keys, key);
    return at == keys.end() ? E{} : static_cast<E>(at - keys.begin());
}

// "06:00:00.25" of seconds in a day, the fraction to the microsecond and only where there is one.
std::string clock(double seconds) {
    if (!(std::abs(seconds) < 9e11)) return shortestNumber(seconds) + " s";
    const auto micros = static_cast<long long>(std::llround(seconds * 1e6));
    const long long whole = micros / 1000000, fraction = micros % 1000000;
    std::string text = fmt::format("{:02}:{:02}:{:02}", whole / 3600, whole / 60 % 60, whole % 60);
    if (fraction == 0) return text;
    text += fmt::format(".{:06}", fraction);
    return text.substr(0, text.find_last_not_of('0') + 1);
}

} // namespace

std::string_view kindKey(ColumnKind kind) {
    return kKinds[static_cast<std::size_t>(kind)];
}
ColumnKind kindFromKey(std::string_view key) {
    return fromKey<ColumnKind>(kKinds, key);
}
std::string_view roleKey(Role role) {
    return kRoles[static_cast<std::size_t>(role)];
}
Role roleFromKey(std::string_view key) {
    return fromKey<Role>(kRoles, key);
}
std::string_view roleLabel(Role role) {
    return kRoleLabels[static_cast<std::size_t>(role)];
}

CellState Cells::state(std::size_t row) const {
    if (row < states.size()) return states[row];
    if (row < numbers.size()) return std::isnan(numbers[row]) ? CellState::Missing : CellState::Fine;
    return row < texts.size() && !texts[row].empty() ? CellState::Fine : CellState::Missing;
}

bool Cells::operator==(const Cells& o) const {
    return std::ranges::equal(numbers, o.numbers, sameBits) && texts == o.texts && states == o.states &&
           originals == o.originals;
}

Cells arranged(const Cells& cells, bool numeric, const std::vector<std::size_t>& order) {
    Cells out;
    for (std::size_t to = 0; to < order.size(); ++to) {
        const std::size_t from = order[to];
        const bool there = from < cells.size();
        if (numeric)
            out.numbers.push_back(there ? cells.numbers[from] : std::nan(""));
        else
            out.texts.push_back(there ? cells.texts[from] : std::string());
        if (!cells.states.empty()) out.states.push_back(there ? cells.state(from) : CellState::Missing);
        if (const auto original = cells.originals.find(static_cast<std::uint32_t>(from));
            there && original != cells.originals.end())
            out.originals[static_cast<std::uint32_t>(to)] = original->second;
    }
    return out;
}

bool Column::operator==(const Column& o) const {
    return id == o.id && name == o.name && unit == o.unit && kind == o.kind && role == o.role &&
           format == o.format && extra == o.extra && timePattern == o.timePattern && comment == o.comment &&
           byHand == o.byHand && utc == o.utc && formula == o.formula &&
           (cells == o.cells || *cells == *o.cells);
}

Column numberColumn(std::string name, std::string unit, std::vector<double> values) {
    Column c;
    c.name = std::move(name);
    c.unit = std::move(unit);
    c.cells = std::make_shared<Cells>(
        Cells{.numbers = std::move(values), .texts = {}, .states = {}, .originals = {}});
    return c;
}

Column textColumn(std::string name, std::vector<std::string> values) {
    Column c;
    c.name = std::move(name);
    c.kind = ColumnKind::Text;
    c.cells = std::make_shared<Cells>(
        Cells{.numbers = {}, .texts = std::move(values), .states = {}, .originals = {}});
    return c;
}

std::string isoDate(double seconds) {
    using namespace std::chrono;
    if (!(std::abs(seconds) < 9e11)) return shortestNumber(seconds) + " s"; // beyond the year 30 000
    const auto days = date::floor<date::days>(
        date::sys_seconds(std::chrono::seconds(static_cast<long long>(std::floor(seconds)))));
    const date::year_month_day ymd(days);
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(ymd.year()), static_cast<unsigned>(ymd.month()),
                       static_cast<unsigned>(ymd.day()));
}

std::string isoTimeOfDay(double seconds) {
    return clock(seconds);
}

std::string isoDateTime(double seconds) {
    const double rounded = std::round(seconds * 1e6) / 1e6; // so that 59.9999999 s never shows as 60
    const double day = std::floor(rounded / 86400);
    if (!(std::abs(seconds) < 9e11)) return isoDate(seconds);
    return isoDate(day * 86400) + "T" + clock(rounded - day * 86400);
}

std::string formatNumber(double value, const NumberFormat& format) {
    if (!std::isfinite(value)) return readableNumber(value);
    std::string text;
    switch (format.style) {
    case NumberFormat::Style::Automatic:
        return readableNumber(value, format.digits);
    case NumberFormat::Style::Fixed:
        text = fmt::format("{:.{}f}", value, format.digits);
        break;
    case NumberFormat::Style::Scientific:
        text = fmt::format("{:.{}e}", value, format.digits);
        break;
    case NumberFormat::Style::Significant:
        text = fmt::format("{:#.{}g}", value, std::max(1, format.digits));
        break;
    case NumberFormat::Style::Engineering: {
        const int exponent =
            value == 0 ? 0 : static_cast<int>(std::floor(std::log10(std::abs(value)) / 3)) * 3;
        text = fmt::format("{:.{}f}e{}", value / std::pow(10.0, exponent), format.digits, exponent);
        break;
    }
    }
    if (text.starts_with('-')) text.replace(0, 1, "−");
    if (text.ends_with('.')) text.pop_back();
    return text;
}

namespace {

std::string textOf(const Column& column, std::size_t row, bool formatted) {
    const Cells& cells = *column.cells;
    if (row >= cells.size()) return {};
    if (cells.state(row) == CellState::Missing && !column.isNumeric()) return {};
    if (cells.state(row) != CellState::Fine) {
        const auto original = cells.originals.find(static_cast<std::uint32_t>(row));
        return original == cells.originals.end() || cells.state(row) == CellState::Unreadable
                   ? "–"
                   : original->second;
    }
    if (!column.isNumeric()) return cells.texts[row];
    const double value = cells.numbers[row];
    if (formatted && column.isTime() && !column.timePattern.empty())
        return timeText(value, column.timePattern,
                        column.kind == ColumnKind::Duration ? TimeMeaning::Duration : TimeMeaning::Moment);
    switch (column.kind) {
    case ColumnKind::DateTime:
        return isoDateTime(value) + (column.utc ? "Z" : "");
    case ColumnKind::Date:
        return isoDate(value);
    case ColumnKind::TimeOfDay:
    case ColumnKind::Duration:
        return value < 0 ? "−" + clock(-value) : clock(value);
    case ColumnKind::Boolean:
        return value != 0 ? "yes" : "no";
    default:
        return formatNumber(value, formatted ? column.format : NumberFormat{});
    }
}

} // namespace

std::string cellText(const Column& column, std::size_t row) {
    return textOf(column, row, true);
}

namespace {

constexpr std::size_t kCellsLookedAt = 500;
constexpr int kMostNoughts = 2;

// −1: it is not written with a point alone, as powers of ten are.
int decimalsOf(std::string_view text) {
    if (text.empty() || text.find_first_not_of("0123456789., \u2212\u2009-") != text.npos) return -1;
    const auto point = text.find('.');
    return point == text.npos ? 0 : static_cast<int>(text.size() - point - 1);
}

} // namespace

int commonDecimals(const Column& column) {
    if (column.kind != ColumnKind::Number || column.format.style != NumberFormat::Style::Automatic) return 0;
    int most = 0;
    for (std::size_t row = 0; row < std::min(column.cells->size(), kCellsLookedAt); ++row)
        if (column.cells->state(row) == CellState::Fine) most = std::max(most, decimalsOf(cellText(column, row)));
    return most;
}

std::string cellText(const Column& column, std::size_t row, int decimals) {
    std::string text = cellText(column, row);
    if (decimals <= 0 || row >= column.cells->size() || column.cells->state(row) != CellState::Fine) return text;
    const int own = decimalsOf(text);
    if (own < 0 || decimals <= own || decimals - own > kMostNoughts) return text;
    if (own == 0) text += '.';
    return text.append(static_cast<std::size_t>(decimals - own), '0');
}

std::string plainCellText(const Column& column, std::size_t row) {
    return textOf(column, row, false);
}

Digest digestOf(const Cells& cells) {
    Hasher h;
    h.add(std::span<const double>(cells.numbers)).add(cells.texts.size());
    for (const std::string& t : cells.texts) h.add(t);
    h.add(cells.states.size());
    for (CellState s : cells.states) h.add(static_cast<int>(s));
    for (const auto& [row, text] : cells.originals) h.add(row).add(text);
    return h.digest();
}

} // namespace jointer
