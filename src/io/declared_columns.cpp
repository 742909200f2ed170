// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/declared_columns.h"

#include "base/text.h"
#include "io/cell_text.h"

#include <algorithm>
#include <array>
#include <optional>
#include <tuple>

namespace jointer::io {

namespace {

bool isLetter(char c) {
    const auto lower = static_cast<unsigned char>(c | 0x20);
    return (lower >= 'a' && lower <= 'z') || static_cast<unsigned char>(c) >= 0x80;
}

DeclaredColumn namedColumn(std::string_view heading) {
    DeclaredColumn c;
    std::tie(c.name, c.unit) = nameAndUnit(heading);
    return c;
}

// The value of a line "columns: …"; nothing where it is none.
std::optional<std::string_view> afterColumnsKey(std::string_view line) {
    static constexpr std::array<std::string_view, 9> keys = {"columns",  "column names", "column headings",
                                                             "fields",   "field names",  "names",
                                                             "headings", "variables",    "header"};
    const std::size_t at = line.find_first_of(":=");
    if (at == line.npos) return std::nullopt;
    const std::string key = lowerAscii(trimmed(line.substr(0, at)));
    if (std::ranges::find(keys, key) == keys.end()) return std::nullopt;
    return trimmed(line.substr(at + 1));
}

// "Column 3: flux", "col3 = flux", "3 FLUX …", "(3) flux": the number and the description.
struct Numbered {
    long number = 0;
    bool worded = false; // says that it is a column
    std::string_view description;
};
std::optional<Numbered> numbered(std::string_view line) {
    static constexpr std::array<std::string_view, 4> words = {"column", "col.", "col", "field"};
    Numbered n;
    const std::string lower = lowerAscii(line);
    for (std::string_view word : words)
        if (!n.worded && lower.starts_with(word)) {
            n.worded = true;
            line = trimmed(line.substr(word.size()));
        }
    while (line.starts_with('#') || line.starts_with('(')) line.remove_prefix(1);
    std::size_t digits = 0;
    while (digits < line.size() && isDigit(line[digits])) ++digits;
    if (digits == 0 || digits > 4) return std::nullopt;
    n.number = static_cast<long>(*parseNumber(line.substr(0, digits)));
    const std::string_view rest = line.substr(digits);
    const std::size_t text = rest.find_first_not_of(" \t.:)=-");
    if (text == 0 || text == rest.npos || !(isLetter(rest[text]) || rest[text] == '_')) return std::nullopt;
    n.description = trimmed(rest.substr(text));
    return n;
}

// A run of lines numbered from 0 or 1, one for each column.
Declaration numberedList(const std::vector<std::string_view>& lines, std::size_t columns,
                         const std::string& comment) {
    for (std::size_t first = 0; first + columns <= lines.size(); ++first) {
        Declaration found{.firstLine = first, .lastLine = first + columns - 1};
        long start = 0;
        for (std::size_t k = 0; k < columns; ++k) {
            const std::string_view line = lines[first + k];
            const auto n = numbered(withoutComment(line, comment));
            if (!n || !(n->worded || isComment(line, comment))) break;
            if (k == 0) start = n->number;
            if (start > 1 || n->number != start + static_cast<long>(k)) break;
            found.columns.push_back(describedColumn(n->description));
        }
        const auto next = first + columns < lines.size()
                              ? numbered(withoutComment(lines[first + columns], comment))
                              : std::nullopt;
        const bool goesOn = next && next->number == start + static_cast<long>(columns);
        if (found.columns.size() == columns && columns > 0 && !goesOn) return found;
    }
    return {};
}

// "columns:" over a comment line for each.
Declaration listBelow(const std::vector<std::string_view>& lines, std::size_t at, std::size_t columns,
                      const std::string& comment) {
    Declaration found{.firstLine = at};
    for (std::size_t i = at + 1; i < lines.size() && isComment(lines[i], comment); ++i) {
        std::string_view text = withoutComment(lines[i], comment);
        while (text.starts_with('-') || text.starts_with('*')) text = trimmed(text.substr(1));
        if (text.empty()) break;
        const auto n = numbered(text);
        found.columns.push_back(describedColumn(n ? n->description : text));
        found.lastLine = i;
    }
    return found.columns.size() == columns ? found : Declaration{};
}

} // namespace

std::vector<DeclaredColumn> columnsInLine(std::string_view line, std::size_t columns) {
    auto list = afterColumnsKey(line);
    if (!list || list->empty()) return {};
    for (const auto& [open, close] : {std::pair('[', ']'), std::pair('{', '}')}) // around all of it
        if (list->front() == open && list->find(close) == list->size() - 1)
            list = trimmed(list->substr(1, list->size() - 2));
    if (columns == 1 && list->find_first_of(",;|\t") == list->npos) return {namedColumn(*list)};
    for (const char separator : {',', ';', '|', '\t', kWideBlanks, kBlanks}) {
        const bool wide = separator == kWideBlanks;
        if (separator != kBlanks && list->find(wide ? "  " : std::string(1, separator)) == list->npos)
            continue;
        const auto fields = fieldTexts(*list, separator);
        const bool words = std::ranges::all_of(
            fields, [](const std::string& f) { return std::ranges::any_of(f, isLetter); });
        if (fields.size() != columns || !words) return {};
        std::vector<DeclaredColumn> out;
        for (std::string_view field : fields) {
            const bool quoted = field.size() > 1 && field.front() == '\'' && field.back() == '\'';
            out.push_back(namedColumn(quoted ? field.substr(1, field.size() - 2) : field));
        }
        return out;
    }
    return {};
}

DeclaredColumn describedColumn(std::string_view text) {
    text = trimmed(text);
    for (std::string_view mark : {": ", " - ", " – ", " = ", "  ", "\t"}) {
        const std::size_t at = text.find(mark);
        if (at == text.npos || at == 0) continue;
        DeclaredColumn c = namedColumn(text.substr(0, at));
        auto [remark, unit] = nameAndUnit(text.substr(at + mark.size()));
        if (c.unit.empty()) c.unit = unit;
        c.remark = c.unit == unit ? remark : std::string(trimmed(text.substr(at + mark.size())));
        return c;
    }
    // "FLUX Flux of the line [mJy]": a word that is no word of prose, then what it is.
    const std::size_t blank = text.find(' ');
    const std::string_view first = text.substr(0, blank);
    const bool capitals = first.size() > 1 && std::ranges::all_of(first, [](char c) {
                              return (c >= 'A' && c <= 'Z') || isDigit(c) || c == '_';
                          });
    const bool overUnit = blank != text.npos && text.substr(blank).starts_with(" / ");
    if (blank == text.npos || overUnit || (!capitals && !first.contains('_'))) return namedColumn(text);
    std::string_view rest = trimmed(text.substr(blank));
    DeclaredColumn c{.name = std::string(first)};
    for (const auto& [open, close] : {std::pair('[', ']'), std::pair('(', ')')})
        if (const std::size_t end = rest.find(close); rest.starts_with(open) && end != rest.npos) {
            c.unit = trimmed(rest.substr(1, end - 1));
            c.remark = trimmed(rest.substr(end + 1));
            return c;
        }
    std::tie(c.remark, c.unit) = nameAndUnit(rest);
    return c;
}

std::vector<std::size_t> describingLines(const std::vector<std::string_view>& lines,
                                         const std::string& comment) {
    std::vector<std::size_t> found;
    long last = -1;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (!isComment(lines[i], comment)) continue;
        const std::string_view text = withoutComment(lines[i], comment);
        const auto n = numbered(text);
        if (n && last >= 0 && n->number == last + 1) { // one number alone says nothing
            if (found.empty() || found.back() + 1 != i) found.push_back(i - 1);
            found.push_back(i);
        }
        last = n && (n->number <= 1 || n->number == last + 1) ? n->number : -1;
        if (const auto list = afterColumnsKey(text); list && !list->empty()) found.push_back(i);
    }
    return found;
}

Declaration declaredAbove(const std::vector<std::string_view>& lines, std::size_t columns,
                          const std::string& comment) {
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const std::string_view text = withoutComment(lines[i], comment);
        if (auto list = columnsInLine(text, columns); !list.empty())
            return {.columns = std::move(list), .firstLine = i, .lastLine = i, .isList = true};
        if (const auto value = afterColumnsKey(text); value && value->empty())
            if (auto below = listBelow(lines, i, columns, comment); !below.columns.empty()) return below;
    }
    return numberedList(lines, columns, comment);
}

void applyDeclared(Table& table, const std::vector<DeclaredColumn>& declared) {
    for (const DeclaredColumn& d : declared) {
        const auto c = std::ranges::find(table.columns, d.name, &Column::name);
        if (c == table.columns.end()) continue;
        if (!d.unit.empty()) c->unit = d.unit;
        if (!d.remark.empty()) c->comment = d.remark;
    }
}

} // namespace jointer::io
