// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/headings.h"

#include "base/text.h"
#include "io/cell_text.h"

#include <algorithm>
#include <array>

namespace jointer::io {

namespace {

bool looksLikeUnit(std::string_view field) {
    static constexpr std::array known = {
        "m",    "mm",    "cm",     "km",    "µm",    "um",   "nm",    "å",     "s",    "ms",    "min",
        "h",    "d",     "g",      "mg",    "kg",    "µg",   "ug",    "ng",    "l",    "ml",    "k",
        "°c",   "c",     "degc",   "%",     "v",     "mv",   "a",     "ma",    "hz",   "khz",   "pa",
        "kpa",  "bar",   "counts", "a.u.",  "au",    "cps",  "mol",   "mmol",  "µmol", "mol/l", "mmol/l",
        "mg/l", "µg/l",  "ug/l",   "cm-1",  "cm^-1", "1/cm", "cm⁻¹",  "nm-1",  "1/nm", "deg",   "°",
        "j",    "kj",    "ev",     "kev",   "w",     "n",    "psu",   "ppm",   "ppb",  "ph",    "m/s",
        "g/l",  "meq/l", "µs/cm",  "ms/cm", "day",   "days", "hours", "years", "yr"};
    const std::string_view t = trimmed(field);
    if (t.size() >= 2 && ((t.front() == '[' && t.back() == ']') || (t.front() == '(' && t.back() == ')')))
        return true;
    const std::string lower = lowerAscii(t);
    return std::ranges::find(known, lower) != known.end();
}

std::vector<std::string> textsOf(std::string_view line, const Dialect& d) {
    std::vector<Field> fields;
    std::vector<std::string> storage;
    splitFields(line, d.separator, fields, storage);
    std::vector<std::string> texts;
    for (const Field& f : fields) texts.emplace_back(trimmed(f.text));
    return texts;
}

bool isUnitLine(const std::vector<std::string>& fields) {
    const auto units = std::ranges::count_if(fields, looksLikeUnit);
    const auto other = std::ranges::count_if(
        fields, [](const std::string& f) { return !f.empty() && !looksLikeUnit(f) && f.size() > 8; });
    const auto filled = std::ranges::count_if(fields, [](const std::string& f) { return !f.empty(); });
    return units > 0 && other == 0 && 2 * units >= filled;
}

// Whether a line can name the columns: as many fields (a missing last one is forgiven), most of them words.
bool isHeadingLine(const std::vector<std::string>& fields, const Dialect& d) {
    if (fields.size() != d.columns && fields.size() + 1 != d.columns) return false;
    const auto words = std::ranges::count_if(
        fields, [&](const std::string& f) { return !f.empty() && !numberOf(f, d.decimal); });
    const auto filled = std::ranges::count_if(fields, [](const std::string& f) { return !f.empty(); });
    return words > 0 && 2 * words >= filled;
}

class Headings {
public:
    Headings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told)
        : lines_(lines), g_(guess), d_(guess.dialect), told_(told) {}

    void find() {
        if (told_.has("heading")) d_.heading = lineOf("heading");
        if (told_.has("units")) d_.units = lineOf("units");
        if (!told_.has("heading")) guessHeading();
        if (d_.heading > 0) takeNames();
    }

private:
    long lineOf(const char* key) const {
        const Value* v = told_.find(key);
        if (const double* n = std::get_if<double>(v)) return static_cast<long>(*n);
        const auto n = parseNumber(told_.text(key));
        return n ? static_cast<long>(*n) : 0;
    }

    std::vector<std::string> fieldsOf(long line) const {
        if (line < 1 || line > static_cast<long>(lines_.size())) return {};
        return textsOf(withoutComment(lines_[static_cast<std::size_t>(line) - 1], d_.comment), d_);
    }

    // The nearest non-blank line above.
    long above(long line) const {
        do --line;
        while (line >= 1 && isBlankLine(lines_[static_cast<std::size_t>(line) - 1]));
        return line;
    }

    void guessHeading() {
        const long nearest = above(std::min(d_.first, static_cast<long>(lines_.size()) + 1));
        if (nearest < 1) return;
        const auto fields = fieldsOf(nearest);
        const long next = above(nearest);
        const bool twoLines = !told_.has("units") && isUnitLine(fields) && isHeadingLine(fieldsOf(next), d_);
        if (twoLines) {
            d_.units = nearest;
            d_.heading = next;
        } else if (d_.units == nearest)
            d_.heading = next;
        else if (isHeadingLine(fields, d_))
            d_.heading = nearest;
        else if (const auto upper = fieldsOf(next);
                 isComment(lines_[static_cast<std::size_t>(nearest) - 1], d_.comment) &&
                 isHeadingLine(upper, d_) && upper.size() > 1)
            d_.heading = next;
    }

    void takeNames() {
        const auto names = fieldsOf(d_.heading),
                   units = d_.units > 0 ? fieldsOf(d_.units) : std::vector<std::string>{};
        for (std::size_t c = 0; c < d_.columns; ++c) {
            auto [name, unit] = nameAndUnit(c < names.size() ? names[c] : "");
            if (c < units.size() && !units[c].empty())
                unit = nameAndUnit("x " + (looksLikeUnit(units[c]) && units[c].front() != '(' &&
                                                   units[c].front() != '['
                                               ? "(" + units[c] + ")"
                                               : units[c]))
                           .second;
            if (c < units.size() && unit.empty()) unit = units[c];
            g_.names[c] = std::move(name);
            g_.unitTexts[c] = std::move(unit);
        }
    }

    const std::vector<std::string_view>& lines_;
    DialectGuess& g_;
    Dialect& d_;
    const Settings& told_;
};

} // namespace

bool isBlankLine(std::string_view line) {
    return trimmed(line).empty();
}

bool isComment(std::string_view line, std::string_view prefix) {
    return !prefix.empty() && trimmed(line).starts_with(prefix);
}

std::string_view withoutComment(std::string_view line, std::string_view comment) {
    line = trimmed(line);
    if (isComment(line, comment)) line.remove_prefix(comment.size());
    return trimmed(line);
}

std::pair<std::string, std::string> nameAndUnit(std::string_view heading) {
    const std::string_view t = trimmed(heading);
    for (const auto& [open, close] : {std::pair('[', ']'), std::pair('(', ')')}) {
        const std::size_t at = t.rfind(open);
        if (t.empty() || t.back() != close || at == std::string_view::npos || at == 0) continue;
        return {std::string(trimmed(t.substr(0, at))),
                std::string(trimmed(t.substr(at + 1, t.size() - at - 2)))};
    }
    const std::size_t slash = t.find(" / ");
    if (slash != std::string_view::npos)
        return {std::string(trimmed(t.substr(0, slash))), std::string(trimmed(t.substr(slash + 3)))};
    return {std::string(t), {}};
}

void findHeadings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told) {
    Headings(lines, guess, told).find();
}

} // namespace jointer::io
