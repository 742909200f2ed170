// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/canonical.h"

#include "base/text.h"
#include "io/fixed_width.h"
#include "io/headings.h"
#include "io/key_value.h"

#include <algorithm>

namespace jointer::io {

namespace {

bool isUsed(std::string_view line, const Dialect& d) {
    return !isBlankLine(line) && !isComment(line, d.comment) && !isRuleLine(line);
}

void append(std::string& out, const std::vector<std::string>& cells) {
    for (std::size_t i = 0; i < cells.size(); ++i) {
        if (i) out += kUnitSeparator;
        out += cells[i];
    }
}

// The lines of data, each with its label in front.
std::vector<std::vector<std::string>> linesOfVariables(std::string_view text, const Dialect& d) {
    std::vector<std::vector<std::string>> variables;
    long number = 0;
    for (std::string_view line : allLines(text)) {
        if (++number < d.first || !isUsed(line, d)) continue;
        auto fields = fieldsOfLine(line, d);
        while (fields.size() > 1 && fields.back().empty()) fields.pop_back();
        variables.push_back(std::move(fields));
    }
    return variables;
}

std::string turned(std::string_view text, const Dialect& d) {
    const auto variables = linesOfVariables(text, d);
    std::size_t rows = 0;
    for (const auto& v : variables) rows = std::max(rows, v.size());
    std::string out;
    std::vector<std::string> row(variables.size());
    for (std::size_t i = 1; i < rows; ++i) {
        for (std::size_t v = 0; v < variables.size(); ++v)
            row[v] = i < variables[v].size() ? variables[v][i] : "";
        append(out, row);
        out += '\n';
    }
    return out;
}

} // namespace

bool needsRewriting(const Dialect& d) {
    return d.form != Form::Separated;
}

std::string rewritten(std::string_view text, const DialectGuess& guess) {
    const Dialect& d = guess.dialect;
    if (d.form == Form::KeyValue) return recordsFromKeyValues(text, guess.names, d.comment);
    if (d.form == Form::AlongLines) return turned(text, d);
    std::string out;
    out.reserve(text.size() + text.size() / 8);
    long number = 0;
    for (std::string_view line : allLines(text)) {
        if (++number >= d.first && isUsed(line, d)) append(out, fieldsOfLine(line, d));
        out += '\n';
    }
    if (!text.empty() && text.back() != '\n' && text.back() != '\r' && !out.empty()) out.pop_back();
    return out;
}

std::vector<std::string> labelsAlongLines(std::string_view text, const Dialect& d) {
    std::vector<std::string> labels;
    for (const auto& v : linesOfVariables(text, d)) labels.push_back(v.empty() ? "" : v[0]);
    return labels;
}

std::string withBlankLines(std::string_view text, const std::set<long>& lines) {
    std::string out(text);
    const auto all = allLines(text);
    for (long number : lines) {
        if (number < 1 || static_cast<std::size_t>(number) > all.size()) continue;
        const std::string_view line = all[static_cast<std::size_t>(number) - 1];
        std::fill_n(out.begin() + (line.data() - text.data()), line.size(), ' ');
    }
    return out;
}

} // namespace jointer::io
