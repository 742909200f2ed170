// SPDX-License-Identifier: GPL-3.0-or-later
// The forms in which JCAMP-DX writes ordinates: AFFN, PAC, SQZ, DIF, DUP, also mixed.
#pragma once

#include "io/cell_text.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::io {

// The ordinates of one line after another, in whatever form each is written.
class Ordinates {
public:
    // Takes one line; `x` becomes its abscissa where it has one. False when a sign is none of the forms.
    bool take(std::string_view line, double& x, bool& check) {
        check = true;
        std::size_t at = 0;
        auto skip = [&] {
            while (at < line.size() &&
                   (line[at] == ' ' || line[at] == '\t' || line[at] == ',' || line[at] == ';'))
                ++at;
        };
        skip();
        const std::size_t from = at;
        x = kNaN;
        if (at < line.size() &&
            (isDigit(line[at]) || line[at] == '+' || line[at] == '-' || line[at] == '.')) {
            at = endOfNumber(line, at);
            double value;
            if (readNumber(line.data() + from, line.data() + at, '.', value)) x = value;
        }
        const bool lineAfterDifference = lastWasDifference_;
        bool first = true;
        for (skip(); at < line.size(); skip()) {
            const char c = line[at];
            if (c == '?') {
                add(kNaN);
                lastWasDifference_ = false;
                ++at;
                first = false;
                continue;
            }
            char lead = 0;
            Kind kind = Kind::Plain;
            if (!classify(c, kind, lead)) return false;
            std::string text;
            if (kind == Kind::Plain) {
                const std::size_t end = endOfNumber(line, at);
                if (end == at) return false;
                text.assign(line.substr(at, end - at));
                at = end;
            } else {
                if (negative(c)) text += '-';
                text += lead;
                for (++at; at < line.size() && (isDigit(line[at]) || line[at] == '.'); ++at) text += line[at];
            }
            double value;
            if (!readNumber(text.data(), text.data() + text.size(), '.', value)) return false;
            if (kind == Kind::Duplicate) {
                repeat(value);
                continue;
            }
            if (kind == Kind::Difference) {
                difference_ = value;
                value += values_.empty() ? 0 : values_.back();
            }
            // The first ordinate of a line repeats the last one when that was a difference.
            if (first && lineAfterDifference && kind != Kind::Difference) {
                check = values_.empty() ||
                        std::abs(values_.back() - value) <= 1e-6 * std::max(1.0, std::abs(value));
                first = false;
                lastWasDifference_ = false;
                continue;
            }
            add(value);
            lastWasDifference_ = kind == Kind::Difference;
            first = false;
        }
        return true;
    }

    std::vector<double>& values() { return values_; }
    bool full() const { return values_.size() >= kMostPoints; }

private:
    static constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
    static constexpr std::size_t kMostPoints = 2000000; // counts of equal ordinates may claim any number
    enum class Kind { Plain, Squeezed, Difference, Duplicate };

    static bool negative(char c) { return (c >= 'a' && c <= 'i') || (c >= 'j' && c <= 'r'); }

    static bool classify(char c, Kind& kind, char& lead) {
        if (isDigit(c) || c == '+' || c == '-' || c == '.') return true;
        auto in = [&](char from, char to, Kind k, char first) {
            if (c < from || c > to) return false;
            kind = k;
            lead = static_cast<char>(first + (c - from));
            return true;
        };
        return in('@', 'I', Kind::Squeezed, '0') || in('a', 'i', Kind::Squeezed, '1') ||
               in('%', '%', Kind::Difference, '0') || in('J', 'R', Kind::Difference, '1') ||
               in('j', 'r', Kind::Difference, '1') || in('S', 'Z', Kind::Duplicate, '1') ||
               in('s', 's', Kind::Duplicate, '9');
    }

    static std::size_t endOfNumber(std::string_view line, std::size_t at) {
        if (at < line.size() && (line[at] == '+' || line[at] == '-')) ++at;
        while (at < line.size() && (isDigit(line[at]) || line[at] == '.')) ++at;
        const bool exponent = at + 2 < line.size() && (line[at] | 0x20) == 'e' &&
                              (line[at + 1] == '+' || line[at + 1] == '-') && isDigit(line[at + 2]);
        if (exponent)
            for (at += 2; at < line.size() && isDigit(line[at]);) ++at;
        return at;
    }

    void add(double value) {
        if (!full()) values_.push_back(value);
    }

    // A count of equal items, the one before included; of differences if that was one.
    void repeat(double count) {
        if (values_.empty()) return;
        for (double k = 1; k < count && !full(); ++k)
            add(values_.back() + (lastWasDifference_ ? difference_ : 0));
    }

    std::vector<double> values_;
    double difference_ = 0;
    bool lastWasDifference_ = false;
};

} // namespace jointer::io
