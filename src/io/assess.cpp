// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/assess.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/fixed_width.h"
#include "io/headings.h"
#include "io/line_bits.h"
#include "io/moment_text.h"
#include "io/number_text.h"

#include <algorithm>
#include <map>
#include <set>

namespace jointer::io {

namespace {

using Lines = std::vector<std::string_view>;

class Assessor {
public:
    Assessor(const Lines& lines, Reading reading, const std::string& comment)
        : lines_(lines), base_(std::move(reading)) {
        form_.form = base_.form;
        form_.separator = base_.separator;
        form_.decimal = base_.decimal;
        form_.borders = base_.borders;
        form_.comment = comment;
        base_.bits = Reading::kNever;
    }

    Reading assess() {
        for (std::string_view line : lines_) look_.push_back(lookedAt(line, form_));
        for (std::size_t i = 0; i < look_.size(); ++i)
            if (look_[i].used && !look_[i].comment) body_.push_back(i);
        if (body_.empty()) return base_;
        std::size_t widest = 1;
        for (std::size_t i : body_) widest = std::max(widest, look_[i].fields.size());
        mostRows_ = std::clamp<std::size_t>(60000 / widest, 8, 120);
        const std::size_t candidates = std::min(body_.size(), std::clamp<std::size_t>(30000 / widest, 4, 60));
        end_ = std::min(body_.size(), candidates + mostRows_);
        double above = 0; // what the lines above cost as no part of the table
        Reading best = base_;
        for (std::size_t k = 0; k < candidates; ++k) {
            consider(k, above, best);
            above += preambleBits(look_[body_[k]]);
        }
        // A single line of words names columns that are still empty.
        if (body_.size() == 1 && best.columns > 1 && best.valueShare == 0) {
            best.headingIndex = body_[0];
            best.firstIndex = lines_.size();
        }
        return best;
    }

private:
    // A line above the data. One that looks like a row of many values hardly stands there.
    double preambleBits(const Line& line) const {
        const auto values = std::ranges::count_if(line.fields, &FieldBits::value);
        const std::size_t n = line.filled;
        const bool pair = n == 2 && !line.fields[0].value && !line.fields[0].empty; // a fact in two fields
        const bool row = n > 1 && !pair && 2 * values >= std::ssize(line.fields);
        // Prose is not cut by separators often.
        const bool sign = base_.form == Form::Separated && base_.separator != kBlanks;
        const double cut =
            sign && !line.comment
                ? (pair ? 1 : std::min(20.0, 3.0 * static_cast<double>(std::max<std::size_t>(n, 1) - 1)))
                : 0;
        return line.prose + cut + (line.comment || line.fact ? 1 : row ? 12 : 4);
    }

    // ---- the body --------------------------------------------------------------------------------------

    // The numbers of fields that rows from here on may have: the most frequent ones, at most three.
    std::vector<std::size_t> widths(std::size_t from) const {
        std::map<std::size_t, double> weight;
        for (std::size_t k = from; k < end_; ++k) weight[look_[body_[k]].fields.size()] += 1;
        std::vector<std::pair<double, std::size_t>> sorted;
        for (const auto& [n, count] : weight) sorted.emplace_back(count, n);
        std::ranges::sort(sorted, std::greater{});
        std::vector<std::size_t> out;
        for (const auto& [count, n] : sorted)
            if (out.size() < 3) out.push_back(n);
        return out;
    }

    bool fits(const Line& line, std::size_t columns) const {
        const std::size_t n = line.fields.size();
        return n == columns || (n == columns + 1 && line.fields.back().empty && columns > 1);
    }

    // The cheapest type for each column, by the rows that have all of them.
    std::vector<Type> typesOf(std::size_t from, std::size_t columns) const {
        std::vector<std::array<double, 4>> sums(columns, kTypePrice);
        for (std::size_t k = from; k < end_; ++k) {
            const Line& line = look_[body_[k]];
            if (!fits(line, columns)) continue;
            for (std::size_t c = 0; c < columns; ++c)
                for (std::size_t t = 0; t < 4; ++t) sums[c][t] += line.fields[c].in[t];
        }
        std::vector<Type> types;
        for (const auto& sum : sums)
            types.push_back(static_cast<Type>(std::ranges::min_element(sum) - sum.begin()));
        return types;
    }

    double separatorBits(std::size_t fields) const { return kSeparator * static_cast<double>(fields - 1); }

    double rowBits(const Line& line, const std::vector<Type>& types) const {
        const std::size_t columns = types.size(), n = line.fields.size();
        double bits = separatorBits(n) + line.tabs;
        for (std::size_t c = 0; c < std::min(n, columns); ++c)
            bits += line.fields[c].in[static_cast<std::size_t>(types[c])];
        const bool byPlace = base_.form == Form::Wide || base_.separator == kBlanks;
        if (line.fact && (byPlace || columns < 3)) bits += kFactAsRow;
        if (line.filled == 1 && columns > 2) bits += kLonelyField;
        if (n < columns)
            bits += (byPlace ? 2 : 1) * kShortRow + kLackingField * static_cast<double>(columns - n);
        if (n > columns && !fits(line, columns)) {
            bits += kLongRow;
            for (std::size_t c = columns; c < n; ++c) bits += line.fields[c].in[3];
        }
        return bits;
    }

    bool repeats(const Line& line, std::size_t heading) const {
        return heading != Reading::kNone && line.texts == look_[heading].texts &&
               std::ranges::none_of(line.fields, [](const FieldBits& f) { return f.value || f.missing; });
    }

    // Lines that are none of the rows are dearer than rows, but not endlessly so.
    double bodyBits(std::size_t from, const std::vector<Type>& types, std::size_t heading,
                    double& valueShare) const {
        double bits = 0, filled = 0, values = 0;
        for (std::size_t t = 0; t < types.size(); ++t) bits += kTypePrice[static_cast<std::size_t>(types[t])];
        for (std::size_t k = from; k < end_; ++k) {
            const Line& line = look_[body_[k]];
            const double row = rowBits(line, types),
                         other = repeats(line, heading) ? kRepeatedHeading : line.apart + kInterruption;
            bits += k == from ? row : std::min(row, other); // the first line is one of the rows
            if (k > from && blankBetween(body_[k - 1], body_[k])) bits += kBlankInBody;
            for (const FieldBits& f : line.fields) {
                filled += !f.empty;
                values += f.value || (f.missing && !f.empty);
            }
        }
        valueShare = filled > 0 ? values / filled : 0;
        return bits;
    }

    // ---- headings and units ----------------------------------------------------------------------------

    // The nearest line above that holds anything; comments too.
    std::size_t above(std::size_t line) const {
        while (line-- > 0)
            if (look_[line].used) return line;
        return Reading::kNone;
    }

    bool blankBetween(std::size_t upper, std::size_t lower) const {
        for (std::size_t k = upper + 1; k < lower; ++k)
            if (isBlankLine(lines_[k])) return true;
        return false;
    }

    // Fields of a line above the data, as many as there are columns: between few columns in a line by blanks,
    // names may hold single blanks.
    std::vector<std::string> fieldsAbove(std::size_t line, std::size_t columns) const {
        Dialect d = form_;
        d.columns = columns;
        return fieldsOfLine(lines_[line], d);
    }

    double wordsBits(const std::vector<std::string>& fields) const {
        // Words with blanks between them may as well be a sentence: nothing is gained by cutting.
        double bits = base_.separator == kBlanks ? kGap * static_cast<double>(fields.size() - 1)
                                                 : separatorBits(fields.size());
        for (const std::string& f : fields) bits += proseBits(f);
        return bits;
    }

    double scaleBits(const std::vector<std::string>& names) const {
        double bits = separatorBits(names.size()) + proseBits(names[0]);
        for (std::size_t c = 1; c < names.size(); ++c)
            bits += kFigure * static_cast<double>(letters(names[c]));
        return bits;
    }

    // Names that are numbers stand over a corner, rising, such as wavelengths.
    bool isScale(const std::vector<std::string>& names, const std::vector<Type>& types) const {
        if (names.size() != types.size() || names.size() < 3) return false;
        if (!names[0].empty() && types[0] == Type::Text) return false; // rather a row with its label
        if (!names[0].empty() && valueWeight(names[0], base_.decimal) > 0) return false;
        std::set<double> seen;
        for (std::size_t c = 1; c < names.size(); ++c) {
            const auto n = numberOf(names[c], base_.decimal);
            if (!n || !seen.insert(*n).second) return false;
        }
        return true;
    }

    // Words without blanks that differ, as a sentence's do not.
    bool areNames(const std::vector<std::string>& fields) const {
        std::set<std::string> distinct;
        return std::ranges::all_of(fields, [&](const std::string& f) {
            const std::string name = nameAndUnit(f).first;
            return !name.empty() && name.find(' ') == name.npos && valueWeight(f, base_.decimal) == 0 &&
                   distinct.insert(name).second;
        });
    }

    double namesBits(std::size_t line, std::size_t first, const std::vector<Type>& types) const {
        const std::size_t columns = types.size();
        auto names = fieldsAbove(line, columns);
        if (names.size() == columns + 1 && names.back().empty()) names.pop_back();
        const Line& l = look_[line];
        const bool scale = isScale(names, types), byBlanks = base_.separator == kBlanks;
        const bool byPlace = byBlanks || base_.form == Form::Wide || base_.form == Form::Fixed;
        double bits = scale ? scaleBits(names) : wordsBits(names);
        bits += l.tabs + (l.comment ? (columns > 1 ? 2 : 5) : 0);
        const bool wholeRow = look_[first].fields.size() >= columns;
        if (names.size() + 1 == columns && columns > 1 && wholeRow)
            bits += columns == 2 ? 9 : 6; // the column that counts the rows has none
        else if (columns > 1 && names.size() > columns && wholeRow && !byPlace && areNames(names)) {
            bits += kSurplusName * static_cast<double>(names.size() - columns); // of columns that were never filled
            names.resize(columns);
        } else if (names.size() != columns)
            return Reading::kNever;
        if (cutsWords(lines_[line], base_.borders)) bits += 20;
        std::set<std::string> distinct;
        std::size_t words = 0, units = 0;
        for (std::size_t c = 0; c < names.size(); ++c) {
            const std::string& name = names[c];
            if (name.empty()) {
                bits += 4;
                continue;
            }
            const auto blanks = std::ranges::count(nameAndUnit(name).first, ' ');
            const bool answer = isYesNo(name).has_value() || (isMissing(name, {}) && !isPlainWord(name));
            const bool isValue = answer || valueWeight(name, base_.decimal) > 0;
            if (isValue && !scale) bits += answer ? 14 : columns < 3 ? 12 : 9;
            if (blanks > 0)
                for (std::string_view word : split(name, ' '))
                    if (isSentenceWord(word)) bits += 5;
            if (byPlace && columns > 2 && isProseWord(name)) bits += 6;
            if (!isValue) ++words;
            if (!distinct.insert(name).second) bits += columns > 2 ? 2 : 4;
            if (blanks > 2) bits += std::min(12.0, 6 * static_cast<double>(blanks - 2));
            if (const std::size_t mark = name.find_first_of(":=");
                mark != name.npos && mark > 0 && columns <= 2)
                bits += 14; // rather a fact
            units += isBracketed(name) || (name.size() <= 4 && isUnitText(name));
        }
        if (units == names.size()) bits += 6;
        if (l.fact && byPlace) bits += 10;
        if (words == 0 && !scale) return Reading::kNever;
        // Words above words: the heading of a table of texts only cannot be told from a row.
        if (std::ranges::all_of(types, [](Type t) { return t == Type::Text; })) bits += 2;
        return bits;
    }

    double unitsBits(std::size_t line, std::size_t columns) const {
        auto units = fieldsAbove(line, columns);
        if (units.size() == columns + 1 && units.back().empty()) units.pop_back();
        if (units.size() > columns || units.size() + 2 < columns) return Reading::kNever;
        double bits =
            separatorBits(units.size()) + look_[line].tabs + kUnitsLine + (units.size() < columns ? 4 : 0);
        std::size_t known = 0;
        for (const std::string& f : units) {
            bits += proseBits(f) + (valueWeight(f, base_.decimal) > 0 ? 5 : 0);
            if (!isUnitField(f))
                bits += f.size() > 8 ? 14 : 7;
            else
                known += !f.empty() && f != "-" && f != "–";
        }
        const bool dashes =
            std::ranges::all_of(units, [](const std::string& f) { return f == "-" || f == "–"; });
        if (known == 0 && (!dashes || columns < 2)) return Reading::kNever;
        return known > 0 ? bits : bits + 5;
    }

    struct Above {
        double bits = kNoHeading;
        std::size_t heading = Reading::kNone, units = Reading::kNone, remarks = Reading::kNone;
    };

    // What names, units and remarks above the first line cost, less what the same lines cost as preamble.
    Above headingAbove(std::size_t first, std::size_t columns, const std::vector<Type>& types) const {
        Above best;
        const std::size_t a1 = above(first), a2 = a1 == Reading::kNone ? a1 : above(a1),
                          a3 = a2 == Reading::kNone ? a2 : above(a2);
        auto take = [&](std::size_t heading, std::size_t units, std::size_t remarks, double extra) {
            if (heading == Reading::kNone || look_[first].texts == look_[heading].texts) return;
            double bits = namesBits(heading, first, types) + extra;
            bits -= asPreamble(heading);
            if (units != Reading::kNone) bits += unitsBits(units, columns) - asPreamble(units);
            if (remarks != Reading::kNone) bits += look_[remarks].prose + 5 - asPreamble(remarks);
            const std::size_t lowest = std::max(
                {heading, units == Reading::kNone ? 0 : units, remarks == Reading::kNone ? 0 : remarks});
            if (blankBetween(lowest, first)) bits += kBlankBelowHeading;
            if (bits < best.bits) best = {bits, heading, units, remarks};
        };
        const std::size_t none = Reading::kNone;
        take(a1, none, none, 0);
        if (a2 == none) return best;
        take(a2, a1, none, 0);
        if (columns > 1) take(a1, a2, none, 4);
        if (look_[a1].comment && !look_[a2].comment) take(a2, none, none, 3);
        if (a3 != none && columns > 1) take(a3, a2, a1, 6);
        return best;
    }

    // Comments are not among the lines that `assess` counts as preamble: nothing is gained by taking them.
    double asPreamble(std::size_t line) const {
        return look_[line].comment ? look_[line].prose : preambleBits(look_[line]);
    }

    double prior(std::size_t columns) const {
        double bits = base_.decimal == ',' ? 2 : 0;
        switch (base_.form) {
        case Form::Wide:
            bits += 6;
            break;
        case Form::Fixed:
            bits += 8 + 2 * static_cast<double>(base_.borders.size());
            break;
        case Form::Piped:
            break;
        default:
            bits += base_.separator == '|' ? 3 : base_.separator == kBlanks ? 1.5 : 1;
        }
        return columns == 1 ? bits + 1 : bits;
    }

    // A comma between names, and decimal commas below it: rather two columns.
    double commaAboveBits(std::size_t first, std::size_t columns) const {
        const std::size_t line = above(first);
        if (columns > 1 || base_.decimal != ',' || line == Reading::kNone) return 0;
        const std::string_view text = lines_[line];
        const std::size_t comma = text.find(',');
        return comma == text.npos || comma + 1 >= text.size() || text[comma + 1] == ' ' ? 0 : kCommaAbove;
    }

    void consider(std::size_t k, double aboveBits, Reading& best) const {
        const std::size_t first = body_[k];
        for (std::size_t columns : widths(k)) {
            if (!fits(look_[first], columns) && look_[first].fields.size() + 1 != columns) continue;
            const auto types = typesOf(k, columns);
            const Above head = headingAbove(first, columns, types);
            Reading r = base_;
            r.bits = prior(columns) + commaAboveBits(first, columns) + aboveBits + head.bits +
                     bodyBits(k, types, head.heading, r.valueShare);
            if (r.bits >= best.bits) continue;
            r.columns = columns;
            r.firstIndex = first;
            r.headingIndex = head.heading;
            r.unitsIndex = head.units;
            r.remarksIndex = head.remarks;
            best = std::move(r);
        }
    }

    const Lines& lines_;
    Reading base_;
    Dialect form_;
    std::vector<Line> look_;
    std::vector<std::size_t> body_; // lines that could be rows
    std::size_t mostRows_ = 120;
    std::size_t end_ = 0; // of the lines in body_ that are weighed, the same for all hypotheses
};

} // namespace

double valueWeight(std::string_view field, char decimal) {
    if (field.empty()) return 0;
    if (numberOf(field, decimal)) return 1;
    if (limitOf(field, decimal)) return 1;
    if (const auto rich = readRichNumber(field, decimal)) {
        if (rich->suffix.empty()) return 0.9;
        if (isUnitText(rich->suffix)) return 0.7;
    }
    return looksLikeMoment(field) || isoMoment(field) ? 1 : 0;
}

Reading assessed(const std::vector<std::string_view>& lines, Reading reading, const std::string& comment) {
    return Assessor(lines, std::move(reading), comment).assess();
}

} // namespace jointer::io
