// SPDX-License-Identifier: GPL-3.0-or-later
// Settings at random, made from the description of a kind: each is left out, at an end of its range, or
// somewhere within. References lead to things that are there, or nowhere.
#pragma once

#include "describe/kind.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace jointer::test {

class RandomSettings {
public:
    // `low`, `high`: the range of x over which intervals and points are spread.
    RandomSettings(std::mt19937_64& random, double low, double high)
        : random_(random), low_(low), high_(high) {}

    Settings of(const KindInfo& kind) {
        Settings s;
        for (const Setting& setting : kind.settings)
            if (chance(0.6)) s.set(setting.key, value(setting));
        return s;
    }

private:
    bool chance(double p) { return std::uniform_real_distribution<double>(0, 1)(random_) < p; }
    double between(double a, double b) {
        return std::lerp(a, b, std::uniform_real_distribution<double>(0, 1)(random_));
    }
    template <class T> const T& one(const std::vector<T>& of) {
        return of[std::uniform_int_distribution<std::size_t>(0, of.size() - 1)(random_)];
    }
    double x() { return between(low_ - 0.1 * (high_ - low_), high_ + 0.1 * (high_ - low_)); }

    double number(const Setting& s) {
        const double low = std::max(s.lowest, -1000.0), high = std::clamp(s.highest, low, 1000.0);
        double v = between(low, high);
        if (chance(0.2)) v = low;
        if (chance(0.1)) v = high;
        if (chance(0.1) && low <= 0 && high >= 0) v = 0;
        if (s.slider && chance(0.6)) {
            const auto [a, b] = *s.slider;
            v = s.logSlider ? a * std::pow(b / a, between(0, 1)) : between(a, b);
        }
        if (s.unit == "x" && chance(0.5)) v = x();
        v = std::clamp(v, s.lowest, s.highest);
        return s.kind == SettingKind::WholeNumber ? std::round(v) : v;
    }

    Value value(const Setting& s) {
        static const std::vector<std::string> formulas = {
            "y", "2*x+1", "ln(y)", "1/x", "y > 3", "abs(y - median) > 1", "sqrt(-1)", "(", "nothing(3)", ""};
        static const std::vector<std::string> ids = {"d7", "d7", "d8", "c1", "d99", ""};
        switch (s.kind) {
        case SettingKind::Choice:
            return Value(s.choices.empty() ? std::string() : one(s.choices).key);
        case SettingKind::Flag:
            return Value(chance(0.5));
        case SettingKind::Number:
        case SettingKind::WholeNumber:
            return Value(number(s));
        case SettingKind::Interval: {
            Numbers ends{x(), x()};
            std::ranges::sort(ends);
            if (s.openEnds && chance(0.2)) ends[0] = -INFINITY;
            if (s.openEnds && chance(0.2)) ends[1] = INFINITY;
            return Value(std::move(ends));
        }
        case SettingKind::Points:
        case SettingKind::List: {
            Numbers list;
            const int n = std::uniform_int_distribution<int>(0, 5)(random_);
            for (int i = 0; i < n; ++i) {
                list.push_back(s.ofRows ? std::floor(between(0, 30)) : x());
                if (s.kind == SettingKind::Points) list.push_back(chance(0.3) ? list.back() : x());
            }
            return Value(std::move(list));
        }
        case SettingKind::Reference:
            return Value(Reference{one(ids)});
        case SettingKind::References: {
            References list;
            while (chance(0.6) && list.size() < 4) list.push_back({one(ids)});
            return Value(std::move(list));
        }
        case SettingKind::Formula:
            return Value(one(formulas));
        default:
            return Value(chance(0.5) ? std::string("words") : std::string());
        }
    }

    std::mt19937_64& random_;
    double low_, high_;
};

} // namespace jointer::test
