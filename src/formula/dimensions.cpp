// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/dimensions.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace jointer::formula {

namespace {

constexpr double kCelsiusZero = 273.15;

NodePtr constant(double v) {
    return std::make_shared<Node>(Node{Op::Constant, v, {}, {}});
}

NodePtr scaled(NodePtr tree, double factor) {
    if (factor == 1) return tree;
    return std::make_shared<Node>(Node{Op::Multiply, 0, {}, {constant(factor), std::move(tree)}});
}

// The value of a tree of plain numbers.
std::optional<double> numberOf(const Node& n) {
    const auto of = [&](std::size_t k) { return numberOf(*n.arguments[k]); };
    switch (n.op) {
    case Op::Constant:
        return n.constant;
    case Op::Negate:
        if (const auto a = of(0)) return -*a;
        return std::nullopt;
    case Op::Divide: {
        const auto a = of(0), b = of(1);
        return a && b ? std::optional(*a / *b) : std::nullopt;
    }
    default:
        return std::nullopt;
    }
}

bool isCelsius(const Unit& unit) {
    static const Unit celsius = *Unit::parse("°C");
    return unit.text() == celsius.text();
}

class Measurer {
public:
    Measurer(const std::map<std::string, Unit>& units, Measured& out) : units_(units), out_(out) {}

    struct Part {
        NodePtr tree;
        Unit unit;
        bool adopts = false; // a plain number, which takes any unit in a sum
    };

    Part of(const NodePtr& node) {
        const Node& n = *node;
        std::vector<Part> parts;
        for (const NodePtr& a : n.arguments) parts.push_back(of(a));
        switch (n.op) {
        case Op::Constant:
            return {node, {}, true};
        case Op::Name: {
            const auto at = units_.find(n.name);
            return {node, at == units_.end() ? Unit() : at->second, false};
        }
        case Op::Negate:
        case Op::Abs:
        case Op::Floor:
        case Op::Ceil:
            return rebuilt(n, parts, parts[0].unit, parts[0].adopts);
        case Op::Add:
        case Op::Subtract:
            return sum(n, parts);
        case Op::Min:
        case Op::Max:
            align(parts, 0, "compared");
            return rebuilt(n, parts, parts[0].unit, false);
        case Op::If:
            align(parts, 1, "put beside each other");
            return rebuilt(n, parts, parts[1].unit, false);
        case Op::Less:
        case Op::LessEqual:
        case Op::Greater:
        case Op::GreaterEqual:
        case Op::Equal:
        case Op::NotEqual:
        case Op::Atan2:
            align(parts, 0, "compared");
            return rebuilt(n, parts, {}, false);
        case Op::Multiply:
            return rebuilt(n, parts, parts[0].unit.times(parts[1].unit), parts[0].adopts && parts[1].adopts);
        case Op::Divide:
            return rebuilt(n, parts, parts[0].unit.times(parts[1].unit, -1),
                           parts[0].adopts && parts[1].adopts);
        case Op::Power:
            return power(n, parts);
        case Op::Sqrt:
            return rebuilt(n, parts, parts[0].unit.raised(0.5), parts[0].adopts);
        case Op::Cbrt:
            return rebuilt(n, parts, parts[0].unit.raised(1.0 / 3), parts[0].adopts);
        case Op::Sign:
        case Op::Step:
            return rebuilt(n, parts, {}, false);
        default:
            for (Part& p : parts) makePlain(p, n);
            return rebuilt(n, parts, {}, false);
        }
    }

private:
    static Part rebuilt(const Node& n, const std::vector<Part>& parts, Unit unit, bool adopts) {
        auto made = std::make_shared<Node>(Node{n.op, n.constant, n.name, {}});
        for (const Part& p : parts) made->arguments.push_back(p.tree);
        return {std::move(made), std::move(unit), adopts};
    }

    // Terms of a sum: °C and 273.15 make kelvins.
    Part sum(const Node& n, std::vector<Part>& parts) {
        const auto zero = numberOf(*parts[1].tree);
        if (zero == kCelsiusZero && isCelsius(parts[0].unit) && n.op == Op::Add)
            return rebuilt(n, parts, *Unit::parse("K"), false);
        if (zero == kCelsiusZero && parts[0].unit.text() == "K" && n.op == Op::Subtract)
            return rebuilt(n, parts, *Unit::parse("°C"), false);
        const bool plus = n.op == Op::Add;
        align(parts, 0, plus ? "added" : "subtracted");
        return rebuilt(n, parts, parts[0].unit, parts[0].adopts);
    }

    // All from `first` on in the unit of the first that has one.
    void align(std::vector<Part>& parts, std::size_t first, const char* what) {
        const Part* leader = nullptr;
        for (std::size_t k = first; k < parts.size() && !leader; ++k)
            if (!parts[k].adopts) leader = &parts[k];
        if (!leader) return;
        const Unit unit = leader->unit;
        for (std::size_t k = first; k < parts.size(); ++k) {
            Part& p = parts[k];
            if (!p.adopts && p.unit.text() != unit.text()) {
                if (const auto factor = conversion(p.unit, unit)) {
                    p.tree = scaled(p.tree, *factor);
                    if (*factor != 1)
                        say(out_.taken, fmt::format("what is in {} is taken in {}", unitInWords(p.unit),
                                                    unitInWords(unit)));
                } else {
                    say(out_.clashes,
                        affineConversion(p.unit, unit)
                            ? fmt::format("{} and {} have different zeros: write T + 273.15 for kelvins.",
                                          unitInWords(unit), unitInWords(p.unit))
                            : fmt::format("{} and {} are {}: they do not measure the same.",
                                          upperFirst(unitInWords(unit)), unitInWords(p.unit), what));
                }
            }
            p.unit = unit;
            p.adopts = false;
        }
    }

    Part power(const Node& n, std::vector<Part>& parts) {
        if (const auto p = numberOf(*parts[1].tree))
            return rebuilt(n, parts, parts[0].unit.raised(*p), parts[0].adopts);
        makePlain(parts[1], n);
        if (!parts[0].unit.isNone()) makePlain(parts[0], n);
        return rebuilt(n, parts, {}, false);
    }

    // The argument of a function that takes numbers: ratios become numbers, ° radians.
    void makePlain(Part& p, const Node& n) {
        if (p.adopts || p.unit.isNone()) return;
        if (p.unit.isRatio()) {
            p.tree = scaled(p.tree, p.unit.inBase());
        } else
            say(out_.clashes,
                fmt::format(
                    "{} takes plain numbers, here it is given one in {}: the result hangs on that unit.",
                    nameOf(n.op), unitInWords(p.unit)));
        p.unit = {};
    }

    static std::string nameOf(Op op) {
        for (const FunctionInfo& f : functions())
            if (f.op == op) return std::string(f.name);
        return op == Op::Power ? "An exponent" : "This function";
    }
    static std::string upperFirst(std::string words) {
        if (!words.empty() && words[0] >= 'a' && words[0] <= 'z')
            words[0] = static_cast<char>(words[0] - 'a' + 'A');
        return words;
    }
    static void say(std::vector<std::string>& to, std::string words) {
        if (std::ranges::find(to, words) == to.end()) to.push_back(std::move(words));
    }

    const std::map<std::string, Unit>& units_;
    Measured& out_;
};

Expression with(const Expression& like, NodePtr root) {
    return Expression::fromTree(std::move(root), like.text(), like.names());
}

} // namespace

Measured measured(const Expression& expression, const std::map<std::string, Unit>& units) {
    Measured out{expression, {}, {}, {}};
    const auto part = Measurer(units, out).of(expression.root());
    if (!out.clashes.empty()) { // no conversion that may be wrong
        out.unit = part.unit;
        out.taken.clear();
        return out;
    }
    const Unit::Gathered whole = part.unit.gathered();
    out.expression = with(expression, scaled(part.tree, whole.scale));
    out.unit = whole.unit;
    return out;
}

Measured measuredIn(Measured what, const Unit& wished) {
    const auto to = affineConversion(what.unit, wished);
    if (!to || !what.clashes.empty()) {
        if (!to)
            what.clashes.push_back(fmt::format("The formula comes to {}, which cannot be told in {}.",
                                               unitInWords(what.unit), unitInWords(wished)));
        what.unit = wished;
        return what;
    }
    NodePtr tree = scaled(what.expression.root(), to->first);
    if (std::abs(to->second) > 1e-12)
        tree = std::make_shared<Node>(Node{Op::Add, 0, {}, {tree, constant(to->second)}});
    what.expression = with(what.expression, std::move(tree));
    what.unit = wished;
    return what;
}

const std::vector<PhysicalConstant>& physicalConstants() {
    static const std::vector<PhysicalConstant> all = {
        {"gas_constant", 8.31446261815324, "J/(mol K)", "molar gas constant, also R"},
        {"avogadro", 6.02214076e23, "1/mol", "Avogadro constant, also N_A"},
        {"boltzmann", 1.380649e-23, "J/K", "Boltzmann constant, also k_B"},
        {"planck", 6.62607015e-34, "J s", "Planck constant"},
        {"light_speed", 299792458, "m/s", "speed of light in vacuum"},
        {"elementary_charge", 1.602176634e-19, "C", "elementary charge"},
        {"faraday", 96485.33212331002, "C/mol", "Faraday constant, also F"},
        {"gravity", 9.80665, "m/s^2", "standard acceleration of free fall"},
        {"stefan_boltzmann", 5.6703744191844294e-8, "W/(m^2 K^4)", "Stefan–Boltzmann constant"},
        {"vacuum_permittivity", 8.8541878128e-12, "F/m", "electric constant", 1.5e-10},
        {"vacuum_permeability", 1.25663706212e-6, "N/A^2", "magnetic constant", 1.5e-10},
        {"electron_mass", 9.1093837015e-31, "kg", "mass of the electron", 3e-10},
        {"proton_mass", 1.67262192369e-27, "kg", "mass of the proton", 3.1e-10},
        {"atomic_mass", 1.66053906660e-27, "kg", "atomic mass constant", 3e-10},
        {"bohr_magneton", 9.2740100783e-24, "J/T", "Bohr magneton", 3e-10},
        {"rydberg", 10973731.568160, "1/m", "Rydberg constant", 1.9e-12}};
    return all;
}

const PhysicalConstant* findConstant(std::string_view name) {
    static const std::map<std::string_view, std::string_view> aliases = {
        {"R", "gas_constant"}, {"N_A", "avogadro"}, {"k_B", "boltzmann"}, {"F", "faraday"}};
    if (const auto at = aliases.find(name); at != aliases.end()) name = at->second;
    const auto at = std::ranges::find(physicalConstants(), name, &PhysicalConstant::name);
    return at == physicalConstants().end() ? nullptr : &*at;
}

} // namespace jointer::formula
