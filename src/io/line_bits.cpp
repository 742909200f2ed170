// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/line_bits.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/headings.h"
#include "io/moment_text.h"
#include "io/number_text.h"

#include <algorithm>

namespace jointer::io {

// What stands in sentences and names no column; or ends as only sentences and facts do.
bool isProseWord(std::string_view f) {
    static constexpr std::array<std::string_view, 16> words = {"the", "of",    "from", "by",   "was", "were",
                                                               "and", "after", "to",   "with", "for", "is",
                                                               "are", "this",  "on",   "that"};
    const std::string lower = lowerAscii(f);
    return std::ranges::find(words, lower) != words.end() || f.ends_with(':') || f.ends_with(',') ||
           (f.size() > 3 && f.ends_with('.'));
}

// "missing", "none": a marker of missing cells, but a name as well.
bool isPlainWord(std::string_view f) {
    return f.size() >= 4 &&
           std::ranges::all_of(f, [](char c) { return (c | 0x20) >= 'a' && (c | 0x20) <= 'z'; });
}

// In a name of several words: it is a sentence.
bool isSentenceWord(std::string_view f) {
    static constexpr std::array<std::string_view, 11> words = {"the",  "was",  "were", "and", "after", "from",
                                                               "this", "that", "with", "is",  "are"};
    return std::ranges::find(words, f) != words.end();
}

std::size_t letters(std::string_view text) {
    return static_cast<std::size_t>(std::ranges::count_if(text, [](char c) {
        return c != ' ' && c != '\t' && (static_cast<unsigned char>(c) & 0xC0) != 0x80;
    }));
}

// Words as they stand in a line of prose.
double proseBits(std::string_view text) {
    text = trimmed(text);
    double bits = kLetter * static_cast<double>(letters(text));
    bool gap = false;
    for (char c : text) {
        const bool blank = c == ' ' || c == '\t';
        if (blank && !gap) bits += kGap;
        gap = blank;
    }
    return bits;
}

// A unit or an empty place, as lines of units have them.
bool isUnitField(const std::string& f) {
    return f.empty() || f == "-" || f == "–" || isBracketed(f) || isUnitText(f);
}

namespace {

// "Site: North pan", "lamp = 3.2": a few words, a mark, a value.
bool isFact(std::string_view line) {
    Metadata facts;
    takeMetadata(line, kBlanks, facts);
    return !facts.empty() && line.find_first_of("\t\"|") == line.npos;
}

// Tabs are rarely mere blanks, and never two in a row.
double tabBits(std::string_view text) {
    const bool mixed = trimmed(text).find(' ') != std::string_view::npos;
    double bits = 0;
    for (std::size_t i = 0; i < text.size(); ++i)
        if (text[i] == '\t') bits += i > 0 && text[i - 1] == '\t' ? kTabs : mixed ? kMixedTab : kTab;
    return bits;
}

FieldBits fieldBits(const std::string& f, const Dialect& form) {
    FieldBits b;
    const double length = static_cast<double>(letters(f));
    double asText = proseBits(f), stray = 0;
    for (char c : f)
        if ((c == ';' || c == '\t' || c == '|' || c == '"') && c != form.separator) stray += kStraySign;
    asText += stray;
    if (f.ends_with(':') || f.ends_with('=')) asText += kStraySign; // the name of a fact
    b.empty = f.empty();
    b.missing = f.empty() || isMissing(f, {});
    if (b.missing) {
        const double price = f.empty() ? kMissing : isPlainWord(f) ? 10 : kMissing + 1;
        b.in = {static_cast<float>(price), static_cast<float>(price), static_cast<float>(price),
                static_cast<float>(std::min(asText, price + 1))};
        return b;
    }
    double number = asText + kOddCell, moment = asText + kOddCell;
    const double weight = valueWeight(f, form.decimal);
    const bool time = looksLikeMoment(f) || isoMoment(f).has_value();
    if (weight > 0 && !time) {
        number = kFigure * length + stray + (weight < 1 ? 4 : 0);
        if (f.find(form.decimal) != f.npos) number += kSeparator - kFigure; // cuts as a separator does
        if (hasLeadingZero(f)) number += kLeadingZero;
        if (f.find_first_of("eE") != f.npos && f.find(form.decimal) == f.npos) number += kBareExponent;
    } else if (isOverflowWord(f) || isSheetError(f))
        number = asText;
    if (time) moment = kTimeFigure * length;
    const bool yes = isYesNo(f).has_value();
    b.number = number < asText;
    b.value = b.number || time || yes;
    b.in = {static_cast<float>(number), static_cast<float>(moment),
            static_cast<float>(yes ? kYesNo : asText + kOddCell), static_cast<float>(asText)};
    return b;
}

} // namespace

Line lookedAt(std::string_view text, const Dialect& form) {
    Line line;
    if (isBlankLine(text) || isRuleLine(text) || !sectionName(text).empty()) return line;
    line.used = true;
    line.comment = isComment(text, form.comment);
    line.fact = isFact(text);
    std::string_view words = trimmed(text);
    if (form.separator != kBlanks && form.separator != kWideBlanks)
        while (words.ends_with(form.separator)) words.remove_suffix(1); // of empty fields
    line.prose = proseBits(words);
    if (form.separator == kBlanks || form.separator == kWideBlanks) line.tabs = tabBits(text);
    if (form.form == Form::Piped && !trimmed(text).starts_with('|')) line.tabs = kNoBar;
    line.texts = fieldsOfLine(text, form);
    double apart = kSeparator * static_cast<double>(line.texts.size() - 1);
    for (const std::string& f : line.texts) {
        line.fields.push_back(fieldBits(f, form));
        apart += proseBits(f);
        if (!f.empty()) line.filled = line.fields.size();
    }
    line.apart = std::min(line.prose, apart);
    return line;
}

} // namespace jointer::io
