// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/units.h"

#include "base/known_units.h"
#include "base/text.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <fmt/format.h>

namespace jointer {

namespace {

bool nearly(double a, double b) {
    return std::abs(a - b) < 1e-9;
}

// ⁻¹, ², ³ … as plain signs; other signs as they are.
std::optional<char> lowered(char32_t c) {
    static const std::map<char32_t, char> raised = {{U'⁰', '0'}, {U'¹', '1'}, {U'²', '2'}, {U'³', '3'},
                                                    {U'⁴', '4'}, {U'⁵', '5'}, {U'⁶', '6'}, {U'⁷', '7'},
                                                    {U'⁸', '8'}, {U'⁹', '9'}, {U'⁻', '-'}, {U'⁺', '+'}};
    const auto at = raised.find(c);
    return at == raised.end() ? std::nullopt : std::optional(at->second);
}

} // namespace

// Reads products and quotients of powers, sign by sign.
class UnitReader {
public:
    explicit UnitReader(std::string_view text) : signs_(decodeUtf8(text)) {}

    Result<Unit> read() {
        Unit out;
        if (auto done = sequence(out, 0); !done) return std::unexpected(done.error());
        if (!ended()) return wrong("This bracket was never opened.");
        return out.times({}); // equal factors become one
    }

private:
    static constexpr std::u32string_view kBlanks = U" \u00a0\u2009\u202f\t";
    static constexpr std::u32string_view kDots = U"·⋅*×∙";

    bool at(std::u32string_view set) const {
        return at_ < signs_.size() && set.find(signs_[at_]) != set.npos;
    }
    bool ended() const { return at_ >= signs_.size(); }
    void skipBlanks() {
        while (at(kBlanks)) ++at_;
    }
    std::unexpected<Issue> wrong(const std::string& what) const {
        Place place;
        place.sign = static_cast<long>(at_) + 1;
        return std::unexpected(Issue{"unit", what, place});
    }

    // Up to the end or a closing bracket. After a slash all that follows is below it, up to the next one.
    Result<void> sequence(Unit& out, int depth) {
        if (depth > 20) return wrong("There are too many brackets in this unit.");
        double side = 1;
        for (skipBlanks(); !ended() && !at(U")]"); skipBlanks()) {
            if (at(U"/∕÷")) {
                ++at_;
                side = -1;
                skipBlanks();
                if (ended() || at(U")]/")) return wrong("Something has to stand below the slash.");
                continue;
            }
            if (at(kDots) || (at(U".") && at_ + 1 < signs_.size())) {
                ++at_;
                continue;
            }
            Unit part;
            if (auto done = factor(part, depth); !done) return done;
            if (isPer_) {
                isPer_ = false;
                side = -1;
                continue;
            }
            out.factors_.reserve(out.factors_.size() + part.factors_.size());
            for (Unit::Factor f : part.factors_) {
                f.power *= side;
                out.factors_.push_back(std::move(f));
            }
        }
        return {};
    }

    Result<void> factor(Unit& out, int depth) {
        if (at(U"([")) {
            ++at_;
            if (auto done = sequence(out, depth + 1); !done) return done;
            if (!at(U")]")) return wrong("A bracket is not closed.");
            ++at_;
            const double raisedBy = power(true).value_or(1);
            for (Unit::Factor& f : out.factors_) f.power *= raisedBy;
            return {};
        }
        if (at(U"0123456789")) return number(out);
        return word(out);
    }

    // A number in front: 10^3, 100, 1.
    Result<void> number(Unit& out) {
        std::string digits;
        while (at(U"0123456789.")) digits += static_cast<char>(signs_[at_++]);
        const auto value = parseNumber(digits);
        if (!value) return wrong("This number cannot be read.");
        const double raisedBy = power(false).value_or(1);
        if (*value == 1) return {};
        out.factors_.push_back({digits, raisedBy, *value, {}, 0});
        return {};
    }

    Result<void> word(Unit& out) {
        const std::size_t from = at_;
        const auto isInside = [&](std::size_t i) {
            const char32_t c = signs_[i];
            if (kBlanks.find(c) != kBlanks.npos || kDots.find(c) != kDots.npos || lowered(c)) return false;
            if (std::u32string_view(U"/∕÷()[]{}^").find(c) != std::u32string_view::npos) return false;
            return c != U'-' && c != U'\u2212';
        };
        while (!ended() && isInside(at_)) ++at_;
        // A hyphen within a word belongs to it, unless a power follows: "base-pairs", but "s-1".
        const auto isDigit = [&](std::size_t i) {
            return std::u32string_view(U"0123456789").find(signs_[i]) != std::u32string_view::npos;
        };
        while (at(U"-") && at_ + 1 < signs_.size() && isInside(at_ + 1) && !isDigit(at_ + 1)) {
            ++at_;
            while (!ended() && isInside(at_)) ++at_;
        }
        if (at_ == from) return wrong("This is not a unit.");
        std::string name = encoded(from, at_);
        if (name == "per") {
            isPer_ = true;
            return {};
        }
        double raisedBy = 1;
        if (const auto told = power(true))
            raisedBy = *told;
        else if (!knownUnit(name)) {
            if (const auto parts = dotted(name)) { // "mol.L" of "mol.L-1"
                for (const Unit::Factor& f : *parts) out.factors_.push_back(f);
                return {};
            }
            raisedBy = trailingPower(name);
        }
        if (raisedBy != 1 && !knownUnit(name)) {
            if (auto parts = dotted(name)) { // the power belongs to the last
                parts->back().power *= raisedBy;
                for (const Unit::Factor& f : *parts) out.factors_.push_back(f);
                return {};
            }
            raisedBy *= trailingPower(name); // "m2^2"
        }
        out.factors_.push_back(named(name, raisedBy));
        return {};
    }

    static Unit::Factor named(const std::string& name, double raisedBy) {
        if (const auto known = knownUnit(name)) {
            std::string symbol = known->shown ? known->shown : name;
            if (symbol.starts_with('u') && symbol.size() > 1) symbol = "µ" + symbol.substr(1);
            if (symbol.starts_with("\u03bc")) symbol = "µ" + symbol.substr(2);
            return {symbol, raisedBy, known->inBase, known->dimension, known->zeroAt};
        }
        return {name, raisedBy, 1, {{name, 1}}, 0};
    }

    // "mol.L": words that are all known, with points between them.
    static std::optional<std::vector<Unit::Factor>> dotted(const std::string& name) {
        if (name.find('.') == name.npos) return std::nullopt;
        std::vector<Unit::Factor> out;
        for (std::string_view part : split(name, '.')) {
            std::string word(part);
            double raisedBy = 1;
            if (!knownUnit(word)) raisedBy = trailingPower(word);
            if (!knownUnit(word)) return std::nullopt;
            out.push_back(named(word, raisedBy));
        }
        return out;
    }

    // "m2", "cm3": digits behind what is known are its power, and are taken off.
    static double trailingPower(std::string& name) {
        std::size_t end = name.size();
        while (end > 0 && std::isdigit(static_cast<unsigned char>(name[end - 1]))) --end;
        if (end == 0 || end == name.size() || !knownUnit(name.substr(0, end))) return 1;
        const double raisedBy = *parseNumber(name.substr(end));
        name.resize(end);
        return raisedBy;
    }

    // "^2", "^{-1}", "^(1/2)", "**2", "²", "⁻¹", "-1"; none: nothing of the sort follows.
    std::optional<double> power(bool plainMinus) {
        const std::size_t before = at_;
        std::string digits;
        if (at(U"^") || (at(U"*") && at_ + 1 < signs_.size() && signs_[at_ + 1] == U'*')) {
            at_ += at(U"^") ? 1 : 2;
            const bool group = at(U"{(");
            if (group) ++at_;
            while (!ended() && (std::u32string_view(U"+-\u22120123456789./").find(signs_[at_]) !=
                                std::u32string_view::npos)) {
                if (!group && !digits.empty() && at(U"/")) break;
                digits += signs_[at_] == U'\u2212' ? '-' : static_cast<char>(signs_[at_]);
                ++at_;
            }
            if (group && at(U"})")) ++at_;
        } else if (!ended() && lowered(signs_[at_])) {
            while (!ended() && lowered(signs_[at_])) digits += *lowered(signs_[at_++]);
        } else if (plainMinus && at(U"-\u2212")) {
            digits = "-";
            ++at_;
            while (at(U"0123456789")) digits += static_cast<char>(signs_[at_++]);
        }
        const std::size_t slash = digits.find('/');
        const auto above = parseNumber(digits.substr(0, slash));
        const auto below = slash == digits.npos ? std::optional(1.0) : parseNumber(digits.substr(slash + 1));
        if (!above || !below || *below == 0) {
            at_ = before;
            return std::nullopt;
        }
        return *above / *below;
    }

    std::string encoded(std::size_t from, std::size_t to) const {
        std::string out;
        for (std::size_t i = from; i < to; ++i) appendUtf8(out, signs_[i]);
        return out;
    }

    std::u32string signs_;
    std::size_t at_ = 0;
    bool isPer_ = false;
};

Result<Unit> Unit::parse(std::string_view text) {
    const std::string_view plain = trimmed(text);
    if (plain.empty() || plain == "-" || plain == "–") return Unit();
    UnitReader reader(plain);
    return reader.read();
}

Unit Unit::times(const Unit& other, double power) const {
    Unit out;
    const auto take = [&](const Factor& f, double by) {
        const auto same = std::ranges::find_if(
            out.factors_, [&](const Factor& g) { return g.symbol == f.symbol && g.inBase == f.inBase; });
        if (same != out.factors_.end()) {
            same->power += by * f.power;
            return;
        }
        out.factors_.push_back(f);
        out.factors_.back().power *= by;
    };
    for (const Factor& f : factors_) take(f, 1);
    for (const Factor& f : other.factors_) take(f, power);
    std::erase_if(out.factors_, [](const Factor& f) { return nearly(f.power, 0); });
    return out;
}

double Unit::inBase() const {
    double product = 1;
    for (const Factor& f : factors_) product *= std::pow(f.inBase, f.power);
    return product;
}

Dimension Unit::dimension() const {
    Dimension out;
    for (const Factor& f : factors_)
        for (const auto& [base, power] : f.dimension) out[base] += power * f.power;
    std::erase_if(out, [](const auto& d) { return nearly(d.second, 0); });
    return out;
}

std::string Unit::text() const {
    const auto told = [](const Factor& f, double power) {
        if (nearly(power, 1)) return f.symbol;
        const double twice = 2 * power;
        if (!nearly(power, std::round(power)) && nearly(twice, std::round(twice)))
            return fmt::format("{}^{{{:.0f}/2}}", f.symbol, twice);
        return fmt::format("{}^{{{}}}", f.symbol, readableNumber(power, 6));
    };
    std::vector<std::string> above, below;
    for (const Factor& f : factors_) (f.power > 0 ? above : below).push_back(told(f, std::abs(f.power)));
    std::string out = joined(above, " ");
    if (below.empty()) return out;
    if (out.empty()) out = "1";
    return out + "/" + (below.size() > 1 ? "(" + joined(below, " ") + ")" : below.front());
}

// A factor that measures the same as one before it is told in that one's unit.
Unit::Gathered Unit::gathered() const {
    Gathered out;
    for (const Factor& f : factors_) {
        const auto like = std::ranges::find_if(out.unit.factors_, [&](const Factor& g) {
            return g.dimension == f.dimension && !g.dimension.empty();
        });
        if (like == out.unit.factors_.end()) {
            if (f.dimension.empty() && factors_.size() > 1)
                out.scale *= std::pow(f.inBase, f.power); // a % among others is a number
            else
                out.unit.factors_.push_back(f);
            continue;
        }
        out.scale *= std::pow(f.inBase / like->inBase, f.power);
        like->power += f.power;
    }
    std::erase_if(out.unit.factors_, [](const Factor& f) { return nearly(f.power, 0); });
    return out;
}

std::optional<std::pair<double, double>> affineConversion(const Unit& from, const Unit& to) {
    if (from.dimension() != to.dimension()) {
        Dimension a = from.dimension();
        for (const auto& [base, power] : to.dimension()) a[base] -= power;
        if (std::ranges::any_of(a, [](const auto& d) { return !nearly(d.second, 0); })) return std::nullopt;
    }
    const auto zeroOf = [](const Unit& u) { // of a scale by itself; of 1/°C it is a difference
        return u.factors_.size() == 1 && nearly(u.factors_[0].power, 1) ? u.factors_[0].zeroAt : 0.0;
    };
    const double factor = from.inBase() / to.inBase();
    return std::pair(factor, (zeroOf(from) - zeroOf(to)) / to.inBase());
}

std::optional<double> conversion(const Unit& from, const Unit& to) {
    const auto both = affineConversion(from, to);
    if (!both || std::abs(both->second) > 1e-9) return std::nullopt;
    return both->first;
}

std::string unitInWords(const Unit& unit) {
    return unit.isNone() ? "a plain number" : "“" + unit.text() + "”";
}

} // namespace jointer
