// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/dialect.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/headings.h"
#include "io/line_cursor.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace jointer::io {

namespace {

constexpr std::size_t kLooked = 400; // lines that the guess is made from

// One way of reading the first lines, and how well it explains them.
struct Reading {
    char separator, decimal;
    double score = 0;
    std::size_t columns = 1;
    std::size_t firstIndex = 0; // of the first data line among the lines
};

bool isValue(const Field& f, char decimal) {
    return numberOf(f.text, decimal) || isoMoment(f.text) || limitOf(f.text, decimal);
}

struct LineShape {
    std::size_t fields = 0, values = 0, missing = 0;
    bool looksLikeData() const { return values > 0 && 2 * (values + missing) >= fields; }
    bool couldBeData() const { return values > 0; }
};

LineShape shapeOf(std::string_view line, char separator, char decimal) {
    std::vector<Field> fields;
    std::vector<std::string> storage;
    splitFields(line, separator, fields, storage);
    LineShape s{.fields = fields.size()};
    for (const Field& f : fields) {
        if (isMissing(f.text, {}))
            ++s.missing;
        else if (isValue(f, decimal))
            ++s.values;
    }
    return s;
}

Reading assess(const std::vector<std::string_view>& lines, char separator, char decimal,
               std::string_view comment) {
    Reading r{separator, decimal};
    std::vector<LineShape> shapes;
    std::map<std::size_t, double> weight; // values by field count
    for (std::string_view line : lines) {
        const bool skip = isBlankLine(line) || isComment(line, comment);
        shapes.push_back(skip ? LineShape{} : shapeOf(line, separator, decimal));
        if (shapes.back().looksLikeData())
            weight[shapes.back().fields] += static_cast<double>(shapes.back().values);
    }
    if (weight.empty()) return r;
    r.columns = std::ranges::max_element(weight, {}, [](const auto& e) { return e.second; })->first;

    auto isData = [&](std::size_t i) {
        return shapes[i].fields == r.columns && (shapes[i].looksLikeData() || shapes[i].couldBeData());
    };
    auto nextUsed = [&](std::size_t i) {
        do ++i;
        while (i < shapes.size() && shapes[i].fields == 0);
        return i;
    };
    // Data begin where such lines go on: one of the next three is of the same shape.
    auto goesOn = [&](std::size_t i) {
        std::size_t next = nextUsed(i);
        if (next >= shapes.size()) return true;
        for (int k = 0; k < 3 && next < shapes.size(); ++k, next = nextUsed(next))
            if (isData(next)) return true;
        return false;
    };
    std::size_t first = 0;
    while (first < shapes.size() && !(isData(first) && goesOn(first))) ++first;
    if (first == shapes.size()) {
        first = 0;
        while (first < shapes.size() && !isData(first)) ++first;
    }
    r.firstIndex = first;

    double values = 0, cells = 0, fitting = 0, others = 0;
    for (std::size_t i = first; i < shapes.size(); ++i) {
        if (shapes[i].fields == 0) continue;
        (shapes[i].fields == r.columns ? fitting : others) += 1;
        values += static_cast<double>(shapes[i].values) + 0.5 * static_cast<double>(shapes[i].missing);
        cells += static_cast<double>(shapes[i].fields);
    }
    if (cells == 0) return r;
    const double consistency = fitting / (fitting + others);
    r.score = fitting * (values / cells) * consistency * (r.columns > 1 ? 1.0 : 0.55);
    // A heading with as many names supports the reading.
    for (std::size_t i = first; i-- > 0;) {
        if (shapes[i].fields == 0) continue;
        const bool commaInName =
            r.columns == 1 && decimal == ',' && lines[i].find(',') != std::string_view::npos;
        r.score *= shapes[i].fields == r.columns && !commaInName ? 1.3 : 0.65;
        break;
    }
    return r;
}

// The prefix that starts some lines, but not most of them (those would be names such as "#12"). Without any,
// "#" still marks the comments that an instrument may write further down.
std::string guessComment(const std::vector<std::string_view>& lines) {
    for (std::string_view prefix : {"#", "%", "//", "!", "*"}) {
        const auto marked = std::ranges::count_if(lines, [&](std::string_view l) {
            return isComment(l, prefix) && !(prefix == "*" && trimmed(l).size() < 2);
        });
        const auto used = std::ranges::count_if(lines, [](std::string_view l) { return !isBlankLine(l); });
        if (marked > 0 && 10 * marked <= 6 * used) return std::string(prefix);
        if (marked > 0) return {};
    }
    return "#";
}

// Without numbers the separator that cuts most lines alike wins.
Reading assessTextOnly(const std::vector<std::string_view>& lines) {
    Reading best{',', '.'};
    for (char separator : {'\t', ';', ',', '|'}) {
        std::map<std::size_t, int> counts;
        for (std::string_view line : lines)
            if (!isBlankLine(line)) ++counts[shapeOf(line, separator, '.').fields];
        for (const auto& [fields, count] : counts)
            if (fields > 1 && count > best.score)
                best = {separator, '.', static_cast<double>(count), fields, 0};
    }
    best.firstIndex = lines.size() > 1 ? 1 : 0;
    return best;
}

char separatorFromText(const std::string& text) {
    if (text == "tab" || text == "\\t" || text == "\t") return '\t';
    if (text == "space" || text == "whitespace" || text == " ") return ' ';
    return text.empty() ? ',' : text[0];
}

Reading bestReading(const std::vector<std::string_view>& lines, const Settings& told,
                    std::string_view comment) {
    std::vector<char> separators = {'\t', ';', ',', '|', ' '}, decimals = {'.', ','};
    if (told.has("separator")) separators = {separatorFromText(told.text("separator"))};
    if (told.has("decimal")) decimals = {told.text("decimal", ".")[0]};
    Reading best{separators[0], decimals[0], -1};
    for (char separator : separators)
        for (char decimal : decimals) {
            if (separator == ',' && decimal == ',' && !(told.has("separator") && told.has("decimal")))
                continue;
            const Reading r = assess(lines, separator, decimal, comment);
            if (r.score > best.score * 1.0001) best = r;
        }
    if (best.score <= 0 && !told.has("separator")) best = assessTextOnly(lines);
    return best;
}

void takeMetadata(std::string_view line, std::vector<std::pair<std::string, std::string>>& metadata) {
    auto keyAndValue = [](std::string_view piece) -> std::optional<std::pair<std::string, std::string>> {
        const std::size_t at = piece.find_first_of(":=");
        if (at == std::string_view::npos || at == 0 || at > 60) return std::nullopt;
        const std::string_view key = trimmed(piece.substr(0, at)), value = trimmed(piece.substr(at + 1));
        if (key.empty() || value.empty() || std::ranges::count(key, ' ') > 4) return std::nullopt;
        return std::pair(std::string(key), std::string(value));
    };
    // "Sample: shell 28 d; Site: A" holds two facts when each part is one.
    std::vector<std::pair<std::string, std::string>> found;
    const auto pieces = split(line, ';');
    for (std::string_view piece : pieces)
        if (auto fact = keyAndValue(piece)) found.push_back(std::move(*fact));
    if (found.size() < pieces.size()) {
        found.clear();
        if (auto fact = keyAndValue(line)) found.push_back(std::move(*fact));
    }
    std::ranges::move(found, std::back_inserter(metadata));
}

void classify(const std::vector<std::string_view>& lines, DialectGuess& g) {
    const Dialect& d = g.dialect;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const long line = static_cast<long>(i) + 1;
        LineKind kind = line < d.first ? LineKind::Preamble : LineKind::Data;
        if (line == d.heading)
            kind = LineKind::Heading;
        else if (line == d.units)
            kind = LineKind::Units;
        else if (isBlankLine(lines[i]))
            kind = LineKind::Blank;
        else if (isComment(lines[i], d.comment))
            kind = LineKind::Comment;
        if ((kind == LineKind::Preamble || kind == LineKind::Comment) && line < d.first)
            takeMetadata(withoutComment(lines[i], d.comment), g.metadata);
        g.lineKinds.push_back(kind);
    }
}

} // namespace

void splitFields(std::string_view line, char separator, std::vector<Field>& fields,
                 std::vector<std::string>& storage) {
    fields.clear();
    storage.clear();
    storage.reserve(line.size() / 2 + 1); // so that views into it stay valid
    const bool blanks = separator == ' ';
    std::size_t i = 0;
    auto skipBlanks = [&] {
        while (i < line.size() && (line[i] == ' ' || (line[i] == '\t' && separator != '\t'))) ++i;
    };
    if (blanks) line = trimmed(line);
    for (;;) {
        skipBlanks();
        if (i < line.size() && line[i] == '"') {
            std::string text;
            std::size_t k = i + 1;
            bool closed = false;
            for (; k < line.size(); ++k) {
                if (line[k] != '"')
                    text += line[k];
                else if (k + 1 < line.size() && line[k + 1] == '"')
                    text += line[k++];
                else {
                    closed = true;
                    break;
                }
            }
            std::size_t after = k + 1;
            while (closed && after < line.size() && line[after] == ' ') ++after;
            const bool ends = closed && (after >= line.size() || line[after] == separator ||
                                         (blanks && (line[k + 1] == ' ' || line[k + 1] == '\t')));
            if (ends) { // otherwise a stray quote or an inch mark: taken as it stands
                storage.push_back(std::move(text));
                fields.push_back({storage.back(), true});
                if (after >= line.size()) return;
                i = blanks ? after : after + 1;
                continue;
            }
        }
        std::size_t end = blanks ? line.find_first_of(" \t", i) : line.find(separator, i);
        if (end == std::string_view::npos) {
            fields.push_back({line.substr(std::min(i, line.size()))});
            return;
        }
        fields.push_back({line.substr(i, end - i)});
        i = end + 1;
    }
}

std::vector<std::string_view> wholeLines(std::vector<std::string_view> lines) {
    constexpr std::string_view separators = ",;|\t";
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (endOfLine(lines[i], separators, false) != LineEnd::Inside) continue;
        std::size_t end = i + 1;
        LineEnd state = LineEnd::Inside;
        while (end < lines.size() && (state = endOfLine(lines[end], separators, true)) == LineEnd::Inside)
            ++end;
        if (end == lines.size() || state != LineEnd::Outside) continue;
        lines[i] = {lines[i].data(), lines[end].data() + lines[end].size()};
        for (std::size_t k = i + 1; k <= end; ++k) lines[k] = {};
        i = end;
    }
    return lines;
}

std::vector<std::string_view> firstLines(std::string_view text, std::size_t most) {
    std::vector<std::string_view> lines;
    std::size_t from = 0;
    while (from < text.size() && lines.size() < most) {
        std::size_t end = text.find_first_of("\r\n", from);
        if (end == std::string_view::npos) end = text.size();
        lines.push_back(text.substr(from, end - from));
        from = end + (text.substr(end).starts_with("\r\n") ? 2 : 1);
    }
    return lines;
}

DialectGuess guessDialect(std::string_view text, const Settings& told) {
    const auto lines = wholeLines(firstLines(text, kLooked));
    DialectGuess g;
    Dialect& d = g.dialect;
    d.comment = told.has("comment") ? told.text("comment") : guessComment(lines);
    const Reading r = bestReading(lines, told, d.comment);
    d.separator = r.separator;
    d.decimal = r.decimal;
    d.columns = std::max<std::size_t>(r.columns, 1);
    d.first = static_cast<long>(r.firstIndex) + 1;
    if (told.has("first")) {
        d.first = std::max(1L, static_cast<long>(told.number("first", 1)));
        const std::size_t index = static_cast<std::size_t>(d.first) - 1;
        if (index < lines.size())
            d.columns = std::max<std::size_t>(1, shapeOf(lines[index], d.separator, d.decimal).fields);
    }
    const std::string markers = told.text("missing"); // outlives the pieces
    for (std::string_view marker : split(markers, ','))
        if (!trimmed(marker).empty()) d.missing.emplace_back(trimmed(marker));
    g.names.resize(d.columns);
    g.unitTexts.resize(d.columns);
    findHeadings(lines, g, told);
    // Headings told to stand at or below the guessed data push the data down.
    d.first = std::max({d.first, d.heading + 1, d.units + 1});
    classify(lines, g);
    return g;
}

} // namespace jointer::io
