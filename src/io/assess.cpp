// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/assess.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/fixed_width.h"
#include "io/headings.h"
#include "io/moment_text.h"
#include "io/number_text.h"

#include <algorithm>
#include <map>

namespace jointer::io {

namespace {

using Lines = std::vector<std::string_view>;

struct LineShape {
    std::size_t fields = 0, missing = 0;
    double values = 0;
    bool firstIsValue = false;
    bool looksLikeData() const {
        return values > 0 && 2 * (values + static_cast<double>(missing)) >= static_cast<double>(fields);
    }
    bool couldBeData() const { return values > 0; }
};

LineShape shapeOf(std::string_view line, const Dialect& form) {
    const auto fields = fieldsOfLine(line, form);
    LineShape s{.fields = fields.size()};
    for (std::size_t i = 0; i < fields.size(); ++i) {
        const double weight = valueWeight(fields[i], form.decimal);
        if (i == 0) s.firstIsValue = weight > 0;
        if (weight > 0)
            s.values += weight;
        else if (isMissing(fields[i], {}))
            ++s.missing;
    }
    return s;
}

// Assesses one way of reading.
class Assessor {
public:
    Assessor(const Lines& lines, Reading reading, const std::string& comment)
        : lines_(lines), r_(std::move(reading)) {
        form_.form = r_.form;
        form_.separator = r_.separator;
        form_.decimal = r_.decimal;
        form_.borders = r_.borders;
        form_.comment = comment;
    }

    Reading assess() {
        std::map<std::size_t, double> weight; // values by field count
        for (std::string_view line : lines_) {
            const bool skip = isBlankLine(line) || isRuleLine(line) || isComment(line, form_.comment) ||
                              !sectionName(line).empty();
            shapes_.push_back(skip ? LineShape{} : shapeOf(line, form_));
            if (shapes_.back().looksLikeData()) weight[shapes_.back().fields] += shapes_.back().values;
        }
        if (weight.empty()) {
            r_.score = 0;
            return r_;
        }
        r_.columns = std::ranges::max_element(weight, {}, [](const auto& e) { return e.second; })->first;
        r_.firstIndex = firstOfData();
        score();
        return r_;
    }

private:
    bool isData(std::size_t i) const {
        return shapes_[i].fields == r_.columns && (shapes_[i].looksLikeData() || shapes_[i].couldBeData());
    }
    std::size_t nextUsed(std::size_t i) const {
        do ++i;
        while (i < shapes_.size() && shapes_[i].fields == 0);
        return i;
    }

    // Whether words such as those of an overflow stand in the line.
    bool isOdd(std::size_t i) const {
        return std::ranges::any_of(fieldsOfLine(lines_[i], form_), [](const std::string& f) {
            return isOverflowWord(f) || isSheetError(f) || f.find_first_not_of('-') == f.npos;
        });
    }

    // Data begin where such lines go on: one of the next three is of the same shape.
    bool goesOn(std::size_t i) const {
        std::size_t next = nextUsed(i);
        if (next >= shapes_.size()) return true;
        const LineShape& below = shapes_[next]; // names below mean that this was a fact above them
        if (below.fields == r_.columns && r_.columns > 1 && below.values == 0 && below.missing == 0 &&
            !isOdd(next))
            return false;
        for (int k = 0; k < 3 && next < shapes_.size(); ++k, next = nextUsed(next))
            if (isData(next)) return true;
        return false;
    }

    // A run of equal lines with a heading of its own above the main data is a block too.
    std::size_t startOfEarlierBlock(std::size_t before) {
        for (std::size_t i = 1; i < before; ++i) {
            const std::size_t n = shapes_[i].fields;
            if (n < 2 || n == r_.columns || !shapes_[i].looksLikeData() || !shapes_[i].firstIsValue) continue;
            std::size_t above = i;
            do --above;
            while (above > 0 && isBlankLine(lines_[above]));
            Dialect form = form_;
            form.columns = n;
            const auto names = fieldsOfLine(lines_[above], form);
            const bool headed = names.size() == n && shapes_[above].values == 0 && isHeadingLine(names, form);
            std::size_t run = 0;
            for (std::size_t k = i; k < before && shapes_[k].fields == n && shapes_[k].looksLikeData(); ++k)
                ++run;
            if (headed && run >= 2) {
                r_.columns = n;
                return i;
            }
        }
        return before;
    }

    std::size_t firstOfData() {
        std::size_t first = 0;
        while (first < shapes_.size() && !(isData(first) && goesOn(first))) ++first;
        if (first == shapes_.size()) {
            first = 0;
            while (first < shapes_.size() && !isData(first)) ++first;
        }
        first = startOfEarlierBlock(first);
        if (isHeadingWithFigures(first)) {
            const bool title = r_.columns == 2 && r_.separator == kBlanks; // "Scan 2" names no columns
            if (!title) r_.headingIndex = first;
            first = nextUsed(first);
        }
        return std::min(first, shapes_.size());
    }

    // Numbers as headings over a corner with a word, or an empty one: its column goes on with values.
    bool isHeadingWithFigures(std::size_t first) const {
        if (first >= shapes_.size() || r_.columns < 2) return false;
        const auto top = fieldsOfLine(lines_[first], form_);
        std::vector<std::size_t> odd; // columns in which the line has no value
        for (std::size_t c = 0; c < std::min(top.size(), r_.columns); ++c) {
            const bool word =
                std::ranges::any_of(top[c], [](char x) { return (x | 0x20) >= 'a' && (x | 0x20) <= 'z'; });
            const bool corner = c == 0 && top[c].empty();
            if (valueWeight(top[c], r_.decimal) == 0 &&
                (corner || (word && !isMissing(top[c], {}) && !isOverflowWord(top[c]))))
                odd.push_back(c);
        }
        if (odd.empty() || odd.front() != 0) return false;
        std::size_t values = 0, seen = 0;
        for (std::size_t i = nextUsed(first); i < shapes_.size() && seen < 50; i = nextUsed(i)) {
            if (!isData(i)) continue;
            const auto fields = fieldsOfLine(lines_[i], form_);
            bool all = true;
            for (std::size_t c : odd)
                all = all && c < fields.size() &&
                      (top[c].empty() ? !fields[c].empty() : valueWeight(fields[c], r_.decimal) > 0);
            ++seen;
            values += all;
        }
        return seen > 0 && 5 * values >= 4 * seen;
    }

    bool bordersCutWords(std::string_view line) const {
        for (std::size_t border : r_.borders) {
            const auto cells = cutAt(line, {border, border + 1});
            if (cells[0].empty() || cells[1].empty() || border == r_.borders.back()) continue;
            if (cells[0].back() != ' ' && cells[1].front() != ' ') return true;
        }
        return false;
    }

    void score() {
        double values = 0, cells = 0, fitting = 0, others = 0;
        for (std::size_t i = r_.firstIndex; i < shapes_.size(); ++i) {
            if (shapes_[i].fields == 0) continue;
            (shapes_[i].fields == r_.columns ? fitting : others) += 1;
            values += shapes_[i].values + 0.5 * static_cast<double>(shapes_[i].missing);
            cells += static_cast<double>(shapes_[i].fields);
        }
        r_.score = 0;
        if (cells == 0) return;
        const double consistency = fitting / (fitting + others);
        r_.score = fitting * (values / cells) * consistency * (r_.columns > 1 ? 1.0 : 0.55);
        // A heading with as many names supports the reading.
        for (std::size_t i = r_.firstIndex; i-- > 0;) {
            if (isBlankLine(lines_[i]) || isRuleLine(lines_[i])) continue;
            const bool fits =
                fieldsOfLine(lines_[i], form_).size() == r_.columns && !bordersCutWords(lines_[i]);
            const bool commaInName =
                r_.columns == 1 && r_.decimal == ',' && lines_[i].find(',') != std::string_view::npos;
            r_.score *= fits && !commaInName ? 1.3 : 0.65;
            break;
        }
    }

    const Lines& lines_;
    Reading r_;
    Dialect form_;
    std::vector<LineShape> shapes_;
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

Reading assessed(const Lines& lines, Reading reading, const std::string& comment) {
    return Assessor(lines, std::move(reading), comment).assess();
}

} // namespace jointer::io
