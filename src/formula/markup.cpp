// SPDX-License-Identifier: GPL-3.0-or-later
// Formulas as set mathematics.
#include "base/text.h"
#include "formula/expression.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::formula {

namespace {

int strength(const Node& n) {
    switch (n.op) {
    case Op::Add:
    case Op::Subtract:
        return 1;
    case Op::Negate:
    case Op::Multiply:
    case Op::Divide:
        return 2;
    case Op::Power:
        return 4;
    case Op::Constant:
    case Op::Name:
        return 5;
    default:
        return n.op < Op::Exp && n.op > Op::Power ? 0 : 5;
    }
}

std::string nameMarkup(const std::string& name) {
    // What follows an underscore stands lower; of several the last.
    if (const std::size_t low = name.rfind('_'); low != name.npos && low > 0 && low + 1 < name.size())
        return nameMarkup(name.substr(0, low)) + "_{" + name.substr(low + 1) + "}";
    static const std::vector<std::string_view> greek = {
        "alpha", "beta", "gamma", "delta", "epsilon", "zeta", "eta", "theta", "kappa", "lambda",
        "mu",    "nu",   "xi",    "rho",   "sigma",   "tau",  "phi", "chi",   "psi",   "omega"};
    std::size_t digits = name.size();
    while (digits > 0 && std::isdigit(static_cast<unsigned char>(name[digits - 1]))) --digits;
    std::string stem = name.substr(0, digits);
    if (std::ranges::find(greek, stem) != greek.end())
        stem = "\\" + stem;
    else if (decodeUtf8(stem).size() == 1)
        stem = "\\textit{" + stem + "}";
    return digits < name.size() && digits > 0 ? stem + "_{" + name.substr(digits) + "}" : stem;
}

std::string markup(const Node& n);

std::string inParentheses(const Node& n, int atLeast) {
    const std::string inner = markup(n);
    return strength(n) < atLeast ? "(" + inner + ")" : inner;
}

std::string markup(const Node& n) {
    auto arg = [&](std::size_t i) -> const Node& { return *n.arguments[i]; };
    switch (n.op) {
    case Op::Constant:
        return n.constant == std::numbers::pi  ? "\\pi"
               : n.constant == std::numbers::e ? "e"
                                               : shortestNumber(n.constant);
    case Op::Name:
        return nameMarkup(n.name);
    case Op::Negate:
        return "−" + inParentheses(arg(0), 2);
    case Op::Add:
        return markup(arg(0)) + " + " + markup(arg(1));
    case Op::Subtract:
        return markup(arg(0)) + " − " + inParentheses(arg(1), 2);
    case Op::Multiply:
        return inParentheses(arg(0), 2) + "\\,· " + inParentheses(arg(1), 2);
    case Op::Divide:
        return inParentheses(arg(0), 2) + " / " + inParentheses(arg(1), 3);
    case Op::Power:
        return inParentheses(arg(0), 5) + "^{" + markup(arg(1)) + "}";
    case Op::Exp:
        return "e^{" + markup(arg(0)) + "}";
    case Op::Sqrt:
        return "√(" + markup(arg(0)) + ")";
    case Op::Less:
        return markup(arg(0)) + " < " + markup(arg(1));
    case Op::LessEqual:
        return markup(arg(0)) + " ≤ " + markup(arg(1));
    case Op::Greater:
        return markup(arg(0)) + " > " + markup(arg(1));
    case Op::GreaterEqual:
        return markup(arg(0)) + " ≥ " + markup(arg(1));
    case Op::Equal:
        return markup(arg(0)) + " = " + markup(arg(1));
    case Op::NotEqual:
        return markup(arg(0)) + " ≠ " + markup(arg(1));
    case Op::Integral:
        return "∫_{" + markup(arg(1)) + "}^{" + markup(arg(2)) + "} " + inParentheses(arg(0), 2) + "\\,d" +
               nameMarkup(n.name);
    case Op::Sum:
        return "Σ_{" + nameMarkup(n.name) + " = " + markup(arg(1)) + "}^{" + markup(arg(2)) + "} " +
               inParentheses(arg(0), 2);
    default:
        break;
    }
    const auto function = std::ranges::find(functions(), n.op, &FunctionInfo::op);
    std::vector<std::string> arguments;
    for (const NodePtr& a : n.arguments) arguments.push_back(markup(*a));
    return std::string(function->name) + "(" + joined(arguments, ", ") + ")";
}

} // namespace

std::string toMarkup(const Expression& expression) {
    return markup(*expression.root());
}

} // namespace jointer::formula
