// SPDX-License-Identifier: GPL-3.0-or-later
// Steps with settings at random on curves at random: what must hold whatever they are. A failure is made
// smaller before it is told. JOINTER_SEEDS="1-500" runs more.
#include "make_curve.h"
#include "steps/handles.h"
#include "support/random_settings.h"

#include <cstdlib>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

using namespace jointer;
using namespace jointer::steps;
using List = std::vector<double>;

namespace {

struct Case {
    Curve curve;
    DatasetFacts facts;
    std::string kind;
    Settings settings;
};

class Random {
public:
    explicit Random(std::uint64_t seed) : random_(seed) {}
    bool chance(double p) { return uniform_(random_) < p; }
    double number() { return std::normal_distribution<double>()(random_); }
    std::size_t below(std::size_t n) { return std::uniform_int_distribution<std::size_t>(0, n - 1)(random_); }
    std::mt19937_64& source() { return random_; }

    // Even or not, with missing values, uncertainties, replicates, left-out and made points as it happens.
    Curve curve() {
        static constexpr std::size_t sizes[] = {0, 1, 2, 3, 4, 7, 17, 60, 200};
        Curve c;
        const std::size_t n = sizes[below(std::size(sizes))];
        const double step = chance(0.1) ? 0 : std::pow(10, std::round(2 * number())), from = 10 * number();
        const bool even = chance(0.6), gaps = chance(0.2);
        double x = chance(0.2) ? 1.9e9 : from, missing = chance(0.3) ? 0.2 : 0;
        const double scale = chance(0.1) ? 1e12 : chance(0.1) ? 1e-12 : 1;
        for (std::size_t i = 0; i < n; ++i) {
            c.x.push_back(x);
            c.y.push_back(chance(missing) ? std::nan("") : scale * (std::sin(x / step / 9) * 5 + number()));
            c.rowIds.push_back(static_cast<std::uint32_t>(i + 1));
            x += step * (even ? 1 : std::abs(number())) * (gaps && chance(0.05) ? 40 : 1);
        }
        if (chance(0.5))
            for (std::size_t i = 0; i < n; ++i)
                c.sigma.push_back(chance(0.05) ? 0 : scale * std::abs(number()));
        if (chance(0.2)) c.sigmaX.assign(n, 0.1 * step);
        if (chance(0.3))
            for (std::size_t i = 0; i < n; ++i) c.excluded.push_back(chance(0.2));
        if (chance(0.2))
            for (std::size_t i = 0; i < n; ++i) c.made.push_back(chance(0.1) ? 2 : 0);
        if (chance(0.3)) {
            c.replicates.assign(1 + below(3), c.y);
            for (auto& r : c.replicates)
                for (double& v : r) v = chance(0.1) ? std::nan("") : v + number();
            for (std::size_t i = 0; i < n; ++i) { // y is their mean
                double sum = 0, present = 0;
                for (const auto& r : c.replicates)
                    if (std::isfinite(r[i])) sum += r[i], ++present;
                c.y[i] = present > 0 ? sum / present : std::nan("");
            }
        }
        if (chance(0.2)) c.common = {{"a reference", std::vector<double>(n, 0.1)}};
        if (chance(0.1)) c.more = {c.y};
        if (chance(0.1)) c.rowIds.clear();
        c.xMeaning.isTime = chance(0.2);
        c.xMeaning.unit = chance(0.5) ? "nm" : "";
        return c;
    }

private:
    std::mt19937_64 random_;
    std::uniform_real_distribution<double> uniform_{0, 1};
};

Case made(std::uint64_t seed, const StepKind& kind) {
    Random random(seed);
    Case c{random.curve(), {}, kind.info.key, {}};
    const double low = c.curve.size() ? c.curve.x.front() : 0, high = c.curve.size() ? c.curve.x.back() : 1;
    c.settings = test::RandomSettings(random.source(), low, high).of(kind.info);
    for (std::uint32_t row = 1; row < 30; ++row)
        if (random.chance(0.2))
            c.facts.rowKinds[row] = random.chance(0.5) ? RowKind::Blank : RowKind::Control;
    c.facts.attributes = {{"dose", "3.5", "mg"}};
    c.facts.columns["c1"] = {{1, 2.0}, {2, NAN}, {3, 0.0}};
    if (random.chance(0.3)) c.facts.readings[RowKind::Blank] = {1, 2};
    return c;
}

// What does not hold; empty: all does.
std::string faultOf(const Case& c) {
    const auto other = std::make_shared<const Curve>(curveOf(40, [](double x) { return 1 + x; }));
    const OtherCurve others[] = {{"d7", "blank", other}, {"d8", "empty", std::make_shared<const Curve>()}};
    const StepInput input{.curve = c.curve, .settings = c.settings, .facts = c.facts, .others = others};
    const auto out = steps::apply(c.kind, input);
    const Curve& now = out.value.curve;
    bool sizes = now.x.size() == now.y.size();
    now.eachList([&](const auto& list) { sizes &= list.size() == now.size(); });
    if (!sizes) return "lists of different sizes";
    if (!std::ranges::is_sorted(now.x)) return "x is not in order";
    for (double x : now.x)
        if (!std::isfinite(x)) return "x is not finite";
    for (double s : now.sigma)
        if (s < 0) return "a negative uncertainty";
    for (std::size_t i = 0; i < now.size(); ++i)
        if (std::isinf(now.y[i])) return "y is infinite";
    for (const Layer& layer : out.value.layers)
        if (layer.x.size() != layer.y.size()) return "a layer of two sizes";
    const std::string said = out.value.sentence + out.value.detail;
    for (const char* word : {"nan", "inf ", "-0 "})
        if (said.find(word) != said.npos)
            return "it says “" + out.value.sentence + " " + out.value.detail + "”";
    if (!out.value.sentence.ends_with(".")) return "no sentence: “" + out.value.sentence + "”";
    for (const Issue& issue : out.issues)
        if (issue.text.empty() || issue.code.empty()) return "an issue without words";
    const StepKind& kind = *catalogue().find(c.kind);
    for (const Handle& h : out.value.handles) {
        if (!std::isfinite(h.x) || !std::isfinite(h.y)) return "a handle nowhere";
        if (h.form != HandleForm::Grip && h.form != HandleForm::Found && !kind.info.find(h.setting))
            return "a handle without a setting";
        for (const Settings& after :
             {afterMove(out.value, c.settings, h, h.x, h.y), afterClick(out.value, c.settings, h),
              afterRemoval(out.value, c.settings, h)})
            if (validate(kind.info, c.settings) && !validate(kind.info, after))
                return "a gesture breaks the settings";
    }
    if (out.value.draft && !validate(kind.info, *out.value.draft)) return "a draft that cannot be taken";
    auto known = [](const Curve& of) {
        return std::ranges::any_of(of.sigma, [](double v) { return std::isfinite(v); });
    };
    if (known(c.curve) && !known(now) && now.size() > 0 &&
        std::ranges::find(out.issues, std::string("uncertainty-lost"), &Issue::code) == out.issues.end())
        return "uncertainties are dropped without a word";
    if (digestOf(steps::apply(c.kind, input).value.curve) != digestOf(now))
        return "another result the second time";
    return {};
}

// The same case with x or y in another unit, a thousandth or so: a power of two, so that numbers stay exact.
constexpr double kUnit = 1024;
enum class Axis { X, Y };

Numbers inOtherUnit(const Setting& s, Numbers numbers, Axis axis) {
    const bool points = s.kind == SettingKind::Points, bothX = s.pair.first == "found";
    const std::string unit = axis == Axis::X ? "x" : "y";
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const bool isX = bothX || i % 2 == 0;
        if (points ? isX == (axis == Axis::X) : s.unit == unit) numbers[i] *= kUnit;
    }
    return numbers;
}

Case inOtherUnit(const Case& c, Axis axis) {
    Case other = c;
    auto scale = [](List& list) {
        for (double& v : list) v *= kUnit;
    };
    if (axis == Axis::X) {
        scale(other.curve.x);
        scale(other.curve.sigmaX);
    } else {
        scale(other.curve.y);
        scale(other.curve.sigma);
        for (List& r : other.curve.replicates) scale(r);
        for (CommonError& common : other.curve.common) scale(common.y);
        for (auto& [kind, readings] : other.facts.readings) scale(readings);
    }
    const KindInfo& kind = catalogue().find(c.kind)->info;
    for (const auto& [key, value] : c.settings.entries()) {
        const Setting& s = *kind.find(key);
        if (const double* number = std::get_if<double>(&value))
            other.settings.set(key, Value(inOtherUnit(s, {*number}, axis).front()));
        if (const Numbers* numbers = std::get_if<Numbers>(&value); numbers && !s.ofRows)
            other.settings.set(key, Value(inOtherUnit(s, *numbers, axis)));
    }
    return other;
}

// By which power of the unit the new y goes.
int powerOf(Axis axis, const Case& c) {
    const KindInfo& kind = catalogue().find(c.kind)->info;
    auto is = [&](const char* key, const char* value) { return kind.text(c.settings, key) == value; };
    if (axis == Axis::Y) {
        const bool ratio = c.kind == "normalise" || (c.kind == "baseline" && is("remove", "divide")) ||
                           (c.kind == "resample" && is("statistic", "count") && is("by", "bins"));
        return ratio ? 0 : 1;
    }
    if (c.kind == "derivative") return -std::stoi(kind.text(c.settings, "order"));
    if (c.kind == "integral") return 1;
    return c.kind == "normalise" && is("to", "area") ? -1 : 0;
}

Outcome<StepOutput> applied(const Case& c, double xUnit, double yUnit) {
    Curve other = curveOf(40, [](double x) { return 1 + x + std::sin(x); });
    for (double& x : other.x) x *= xUnit;
    for (double& y : other.y) y *= yUnit;
    for (double& s : other.sigma) s *= yUnit;
    const OtherCurve others[] = {{"d7", "blank", std::make_shared<const Curve>(other)}};
    return steps::apply(c.kind,
                        {.curve = c.curve, .settings = c.settings, .facts = c.facts, .others = others});
}

// Without what has units of its own: formulas, spans of time, losses in eV, wavelengths in ångström. None:
// the step is nothing but that.
std::optional<Case> withoutUnits(Case c, Axis axis) {
    const KindInfo& kind = catalogue().find(c.kind)->info;
    if (c.kind == "transform" || c.kind == "convert" || c.kind == "absolute-scale") return std::nullopt;
    const std::string method = kind.text(c.settings, "method");
    if (method == "tougaard" || (axis == Axis::Y && method == "snip")) return std::nullopt;
    if (axis == Axis::Y && (c.kind == "divide" || c.kind == "multiply")) return std::nullopt;
    c.curve.xMeaning.isTime = false;
    for (const char* key : {"rule", "onto"}) c.settings.remove(key);
    if (c.kind == "strip-doublet") c.settings.set("rule", "distance");
    for (const Setting& s : kind.settings) // what stands for a length by default
        if (const double* fallback = std::get_if<double>(&s.fallback);
            fallback && (s.unit == "x" || s.unit == "y") && !c.settings.has(s.key))
            c.settings.set(s.key, Value(*fallback));
    return c;
}

std::string differenceOf(const Curve& a, const Curve& b, double xUnit, double yUnit) {
    if (a.size() != b.size()) return "another number of points";
    double size = 0;
    for (double y : a.y) size = std::isfinite(y) ? std::max(size, std::abs(y)) : size;
    for (std::size_t i = 0; i < a.size(); ++i) {
        if (a.isExcluded(i) && b.isExcluded(i)) continue; // they keep what was measured
        const double x = b.x[i] / xUnit, y = b.y[i] / yUnit;
        if (std::abs(x - a.x[i]) > 1e-7 * (1e-3 + std::abs(a.x[i])))
            return fmt::format("x {} becomes {}", a.x[i], x);
        if (std::isfinite(y) != std::isfinite(a.y[i]) || a.isExcluded(i) != b.isExcluded(i))
            return fmt::format("point {} counts in one only", i);
        if (std::isfinite(y) && std::abs(y - a.y[i]) > 1e-5 * size)
            return fmt::format("y {} becomes {}", a.y[i], y);
        if (a.sigma.empty() != b.sigma.empty()) return "uncertainties in one only";
        if (!a.sigma.empty() && std::isfinite(y) && std::isfinite(a.sigma[i]) &&
            !(std::abs(b.sigma[i] / std::abs(yUnit) - a.sigma[i]) <= 1e-5 * (size + a.sigma[i])))
            return fmt::format("uncertainty {} becomes {}", a.sigma[i], b.sigma[i] / yUnit);
    }
    return {};
}

Case without(const Case& c, std::size_t point) {
    Case less = c;
    std::vector<std::uint8_t> keep(c.curve.size(), 1);
    keep[point] = 0;
    less.curve = selected(c.curve, keep);
    return less;
}

// As few settings and points as show the same fault.
Case shrunk(Case c, const std::string& fault) {
    for (bool less = true; less;) {
        less = false;
        const auto entries = c.settings.entries();
        for (const auto& entry : entries) {
            Case fewer = c;
            fewer.settings.remove(entry.first);
            if (faultOf(fewer) == fault) c = fewer, less = true;
        }
        for (std::size_t i = c.curve.size(); i-- > 0;)
            if (Case fewer = without(c, i); faultOf(fewer) == fault) c = fewer, less = true;
    }
    return c;
}

std::string describe(const Case& c) {
    std::string points;
    for (std::size_t i = 0; i < c.curve.size() && i < 12; ++i)
        points += fmt::format(" ({}, {}{})", c.curve.x[i], c.curve.y[i], c.curve.isExcluded(i) ? " out" : "");
    return c.kind + " " + toJson(c.settings).dump() + fmt::format("\n{} points:", c.curve.size()) + points;
}

std::pair<std::uint64_t, std::uint64_t> seeds() {
    const char* given = std::getenv("JOINTER_SEEDS");
    unsigned long long first = 1, last = 60;
    if (given && std::sscanf(given, "%llu-%llu", &first, &last) < 2) last = first;
    return {first, last};
}

} // namespace

TEST(RandomSteps, HoldWhatAllStepsHold) {
    const auto [first, last] = seeds();
    for (const StepKind& kind : catalogue()) {
        int told = 0;
        for (std::uint64_t seed = first; seed <= last && told < 3; ++seed) {
            const Case c = made(seed, kind);
            const std::string fault = faultOf(c);
            if (fault.empty()) continue;
            ++told;
            ADD_FAILURE() << "seed " << seed << ": " << fault << "\n" << describe(shrunk(c, fault));
        }
    }
}

TEST(RandomSteps, DoNotDependOnUnits) {
    const auto [first, last] = seeds();
    for (const StepKind& kind : catalogue())
        for (const Axis axis : {Axis::X, Axis::Y}) {
            int told = 0;
            for (std::uint64_t seed = first; seed <= last && told < 3; ++seed) {
                const auto c = withoutUnits(made(seed, kind), axis);
                if (!c) continue;
                const double x = axis == Axis::X ? kUnit : 1, y = axis == Axis::Y ? kUnit : 1;
                const auto a = applied(*c, 1, 1), b = applied(inOtherUnit(*c, axis), x, y);
                const std::string fault =
                    differenceOf(a.value.curve, b.value.curve, x, std::pow(kUnit, powerOf(axis, *c)));
                auto says = [&](const char* word) {
                    return a.value.sentence.find(word) != std::string::npos;
                };
                if (fault.empty() || says("nothing") || says(" yet")) continue; // left alone, as is said
                ++told;
                ADD_FAILURE() << (axis == Axis::X ? "x" : "y") << ", seed " << seed << ": " << fault << "\n"
                              << describe(*c) << "\n"
                              << a.value.sentence << " " << a.value.detail << "\n"
                              << b.value.sentence << " " << b.value.detail;
            }
        }
}
