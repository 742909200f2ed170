// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/table_search.h"

#include "base/text.h"
#include "io/number_text.h"

#include <functional>

namespace jointer {

namespace {

using Fits = std::function<bool(const Column&, std::size_t row)>;

Fits comparison(std::string_view wanted) {
    for (std::string_view sign : {"<=", ">=", "≤", "≥", "<", ">", "="}) {
        if (!wanted.starts_with(sign)) continue;
        const auto number = io::readRichNumber(trimmed(wanted.substr(sign.size())), '.');
        if (!number || !number->suffix.empty()) return {};
        return [sign, limit = number->value](const Column& c, std::size_t row) {
            if (!c.isNumeric() || row >= c.numbers().size()) return false;
            const double v = c.numbers()[row];
            if (sign == "=") return v == limit;
            if (sign == "<") return v < limit;
            if (sign == ">") return v > limit;
            return sign == "<=" || sign == "≤" ? v <= limit : v >= limit;
        };
    }
    return {};
}

Fits fitsFor(std::string_view wanted) {
    if (Fits compared = comparison(wanted)) return compared;
    const std::string lower = lowerAscii(wanted);
    if (lower == "missing")
        return [](const Column& c, std::size_t row) { return c.cells->state(row) != CellState::Fine; };
    return [lower](const Column& c, std::size_t row) {
        if (row >= c.cells->size()) return false;
        const auto original = c.cells->originals.find(static_cast<std::uint32_t>(row));
        return lowerAscii(cellText(c, row)).find(lower) != std::string::npos ||
               (original != c.cells->originals.end() &&
                lowerAscii(original->second).find(lower) != std::string::npos);
    };
}

} // namespace

std::optional<CellPlace> findCell(const Table& table, std::string_view wanted, CellPlace from, bool forward,
                                  const Cancellation& stop) {
    const std::size_t columns = table.columns.size(), cells = table.rowCount() * columns;
    const std::string_view text = trimmed(wanted);
    if (cells == 0 || text.empty()) return std::nullopt;
    const Fits fits = fitsFor(text);
    const std::size_t start = (from.row * columns + from.column) % cells;
    for (std::size_t step = 1; step <= cells; ++step) {
        const std::size_t at = forward ? (start + step) % cells : (start + cells - step) % cells;
        if (fits(table.columns[at % columns], at / columns)) return CellPlace{at / columns, at % columns};
        if (step % 4096 == 0 && stop.stop_requested()) return std::nullopt;
    }
    return std::nullopt;
}

} // namespace jointer
