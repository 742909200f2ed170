// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas grown at random: a tree is written as text, read back, and computed as the tree itself says; its
// slopes are those of differences, and what is shown as mathematics can be read by none but a person.
#include "formula/expression.h"
#include "formula/program.h"

#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <gmock/gmock.h>
#include <memory>
#include <random>

using namespace jointer;
using namespace jointer::formula;

namespace {

struct Tree {
    enum class Kind { Number, X, A, B, Add, Subtract, Multiply, Divide, Power, Minus, Call } kind;
    double number = 0;
    std::string function{};
    std::vector<std::unique_ptr<Tree>> parts{};
};

struct Function {
    const char* name;
    double (*value)(double);
};
const Function kFunctions[] = {
    {"exp", [](double v) { return std::exp(v); }},     {"ln", [](double v) { return std::log(v); }},
    {"log10", [](double v) { return std::log10(v); }}, {"sqrt", [](double v) { return std::sqrt(v); }},
    {"cbrt", [](double v) { return std::cbrt(v); }},   {"abs", [](double v) { return std::abs(v); }},
    {"sin", [](double v) { return std::sin(v); }},     {"cos", [](double v) { return std::cos(v); }},
    {"tan", [](double v) { return std::tan(v); }},     {"atan", [](double v) { return std::atan(v); }},
    {"sinh", [](double v) { return std::sinh(v); }},   {"tanh", [](double v) { return std::tanh(v); }},
    {"erf", [](double v) { return std::erf(v); }},     {"erfc", [](double v) { return std::erfc(v); }}};

class Grower {
public:
    explicit Grower(std::uint64_t seed) : random_(seed) {}

    std::unique_ptr<Tree> grow(int depth) {
        using K = Tree::Kind;
        auto t = std::make_unique<Tree>();
        const std::size_t pick = depth == 0 ? below(4) : below(11);
        t->kind = static_cast<K>(pick);
        if (t->kind == K::Number) t->number = std::round(100 * normal()) / 10;
        if (t->kind == K::Call) t->function = kFunctions[below(std::size(kFunctions))].name;
        const std::size_t parts = pick < 4 ? 0 : t->kind == K::Minus || t->kind == K::Call ? 1 : 2;
        for (std::size_t k = 0; k < parts; ++k) t->parts.push_back(grow(depth - 1));
        return t;
    }
    double normal() { return std::normal_distribution<double>()(random_); }
    std::size_t below(std::size_t n) { return random_() % n; }

private:
    std::mt19937_64 random_;
};

// With no more brackets than the rules of mathematics ask for, and blanks as it happens.
class Writer {
public:
    explicit Writer(Grower& chance) : chance_(chance) {}

    std::string write(const Tree& t) {
        using K = Tree::Kind;
        const auto two = [&](const char* sign, int left, int right) {
            return bracketed(*t.parts[0], left) + blank() + sign + blank() + bracketed(*t.parts[1], right);
        };
        switch (t.kind) {
        case K::Number:
            return fmt::format("{}", t.number);
        case K::X:
            return "x";
        case K::A:
            return "a";
        case K::B:
            return "b_2";
        case K::Add:
            return two("+", 1, 1);
        case K::Subtract:
            return two("-", 1, 2);
        case K::Multiply:
            return two("*", 2, 2);
        case K::Divide:
            return two("/", 2, 3);
        case K::Power:
            return two("^", 5, 4); // to the right, and tighter than the sign before it
        case K::Minus:
            return "-" + bracketed(*t.parts[0], 3);
        case K::Call:
            return t.function + "(" + write(*t.parts[0]) + ")";
        }
        return {};
    }

private:
    static int strength(const Tree& t) {
        using K = Tree::Kind;
        switch (t.kind) {
        case K::Add:
        case K::Subtract:
            return 1;
        case K::Multiply:
        case K::Divide:
            return 2;
        case K::Minus:
            return 3;
        case K::Power:
            return 4;
        case K::Number:
            return t.number < 0 ? 3 : 6;
        default:
            return 6;
        }
    }
    std::string bracketed(const Tree& t, int least) {
        return strength(t) < least ? "(" + write(t) + ")" : write(t);
    }
    std::string blank() { return chance_.below(3) == 0 ? " " : ""; }

    Grower& chance_;
};

struct Values {
    double x, a, b;
};

double valueOf(const Tree& t, const Values& v) {
    using K = Tree::Kind;
    const auto part = [&](std::size_t k) { return valueOf(*t.parts[k], v); };
    switch (t.kind) {
    case K::Number:
        return t.number;
    case K::X:
        return v.x;
    case K::A:
        return v.a;
    case K::B:
        return v.b;
    case K::Add:
        return part(0) + part(1);
    case K::Subtract:
        return part(0) - part(1);
    case K::Multiply:
        return part(0) * part(1);
    case K::Divide:
        return part(0) / part(1);
    case K::Power:
        return std::pow(part(0), part(1));
    case K::Minus:
        return -part(0);
    case K::Call:
        for (const Function& f : kFunctions)
            if (t.function == f.name) return f.value(part(0));
    }
    return NAN;
}

std::optional<Program> programOf(const std::string& text) {
    const auto expression = Expression::parse(text);
    EXPECT_TRUE(expression) << text << ": " << expression.error().text;
    if (!expression) return std::nullopt;
    auto program = Program::compile(*expression, {"x"}, {"a", "b_2"});
    EXPECT_TRUE(program) << text;
    return program ? std::optional(std::move(*program)) : std::nullopt;
}

double run(const Program& program, const Values& v, std::span<double> slopes = {}) {
    const double parameters[] = {v.a, v.b};
    const std::span<const double> x(&v.x, 1);
    double out = NAN;
    program.evaluate({&x, 1}, parameters, {&out, 1}, slopes);
    return out;
}

} // namespace

TEST(RandomFormulas, AreReadAsTheyWereMeant) {
    for (std::uint64_t seed = 1; seed <= 4000; ++seed) {
        Grower grower(seed);
        const auto tree = grower.grow(1 + static_cast<int>(seed % 6));
        const std::string text = Writer(grower).write(*tree);
        const auto program = programOf(text);
        ASSERT_TRUE(program) << "seed " << seed;
        for (int trial = 0; trial < 4; ++trial) {
            const Values v{3 * grower.normal(), grower.normal(), 2 + grower.normal()};
            const double wanted = valueOf(*tree, v), found = run(*program, v);
            if (std::isnan(wanted)) {
                EXPECT_TRUE(std::isnan(found)) << "seed " << seed << ": " << text << " is " << found;
            } else if (std::isinf(wanted) || std::abs(wanted) > 1e290) {
                EXPECT_FALSE(std::isfinite(found) && std::abs(found) < 1e280)
                    << "seed " << seed << ": " << text;
            } else {
                EXPECT_NEAR(found, wanted, 1e-9 * std::max(1.0, std::abs(wanted)))
                    << "seed " << seed << ": " << text;
            }
        }
    }
}

// By central differences, wherever the curve is smooth enough for them.
TEST(RandomFormulas, HaveTheSlopesOfDifferences) {
    std::size_t compared = 0, without = 0;
    for (std::uint64_t seed = 1; seed <= 1500; ++seed) {
        Grower grower(10000 + seed);
        const auto tree = grower.grow(1 + static_cast<int>(seed % 5));
        const std::string text = Writer(grower).write(*tree);
        const auto program = programOf(text);
        ASSERT_TRUE(program);
        const Values v{2 + grower.normal(), 1.5 + 0.5 * grower.normal(), 2 + 0.5 * grower.normal()};
        double slopes[2] = {NAN, NAN};
        const double here = run(*program, v, slopes);
        if (!(std::abs(here) < 1e8)) continue; // differences of such numbers say nothing
        for (const bool second : {false, true}) {
            const auto at = [&](double by) {
                Values w = v;
                (second ? w.b : w.a) += by;
                return valueOf(*tree, w);
            };
            const double h = 1e-4, one = (at(h) - at(-h)) / (2 * h), two = (at(2 * h) - at(-2 * h)) / (4 * h);
            const double wanted = (4 * one - two) / 3, doubt = std::abs(one - two);
            if (!std::isfinite(wanted) || doubt > 1e-4 * std::max(1.0, std::abs(wanted)))
                continue; // a corner
            // A power of a number below zero has no slope by its exponent, though the value may stand still.
            if (std::isnan(slopes[second]) && text.find('^') != text.npos) {
                ++without;
                continue;
            }
            EXPECT_NEAR(slopes[second], wanted, 1e-5 * std::max(1.0, std::abs(wanted)) + 10 * doubt)
                << "seed " << seed << ": " << text << " by " << (second ? "b_2" : "a");
            ++compared;
        }
    }
    EXPECT_GT(compared, 1500U);
    EXPECT_LT(without, compared / 50);
}

// A text with one letter changed is read or refused with a place within it; it never ends the program.
TEST(RandomFormulas, WithAFaultAreRefusedAtAPlace) {
    static const std::string letters = "+-*/^(),.x2ae \"'_%µ";
    std::size_t refused = 0;
    for (std::uint64_t seed = 1; seed <= 3000; ++seed) {
        Grower grower(20000 + seed);
        std::string text = Writer(grower).write(*grower.grow(3));
        for (std::size_t k = 0; k <= seed % 3; ++k)
            text[grower.below(text.size())] = letters[grower.below(letters.size())];
        const auto read = Expression::parse(text);
        if (read) continue;
        ++refused;
        EXPECT_FALSE(read.error().text.empty()) << text;
    }
    EXPECT_GT(refused, 300U);
}
