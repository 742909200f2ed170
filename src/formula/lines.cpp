// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/lines.h"

#include "base/text.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace jointer::formula {

namespace {

struct Line {
    std::string_view text;
    long number = 1; // of the line in the whole text
    long before = 0; // signs of that line before it
};

std::vector<Line> linesOf(std::string_view text) {
    std::vector<Line> out;
    long number = 1;
    std::size_t lineStart = 0;
    for (std::size_t start = 0; start <= text.size();) {
        const std::size_t end = std::min(text.find_first_of("\n;", start), text.size());
        std::string_view part = text.substr(start, end - start);
        part = part.substr(0, part.find('#'));
        if (!trimmed(part).empty()) out.push_back({part, number, static_cast<long>(start - lineStart)});
        if (end < text.size() && text[end] == '\n') {
            ++number;
            lineStart = end + 1;
        }
        start = end + 1;
    }
    return out;
}

// The name before a single equals sign; empty: there is none.
std::string nameOf(std::string_view line) {
    const std::size_t at = equalsIn(line);
    if (at == line.npos) return {};
    const std::string name(trimmed(line.substr(0, at)));
    const bool plain = !name.empty() && name.find_first_of("+-*/^()<>, ") == name.npos;
    return plain ? name : std::string();
}

class Substitution {
public:
    void add(const std::string& name, NodePtr value) { values_[name] = std::move(value); }
    bool has(const std::string& name) const { return values_.contains(name); }

    NodePtr in(const NodePtr& node) const {
        if (node->op == Op::Name) {
            const auto at = values_.find(node->name);
            return at == values_.end() ? node : at->second;
        }
        auto copy = std::make_shared<Node>(*node);
        const bool runs = node->op == Op::Integral || node->op == Op::Sum;
        if (runs && values_.contains(node->name)) { // its own name within
            Substitution others = *this;
            others.values_.erase(node->name);
            copy->arguments[0] = others.in(node->arguments[0]);
            for (std::size_t k = 1; k < copy->arguments.size(); ++k)
                copy->arguments[k] = in(node->arguments[k]);
            return copy;
        }
        for (NodePtr& argument : copy->arguments) argument = in(argument);
        return copy;
    }

private:
    std::map<std::string, NodePtr> values_;
};

std::unexpected<Issue> wrong(const Line& line, std::string text, long sign = 0) {
    return failure("formula", std::move(text),
                   {.line = line.number, .sign = sign > 0 ? sign + line.before : 0});
}

} // namespace

std::size_t equalsIn(std::string_view line) {
    const std::size_t at = line.find('=');
    if (at == line.npos || line.substr(at + 1).starts_with('=')) return line.npos;
    const bool compares = at > 0 && std::string_view("<>!").find(line[at - 1]) != std::string_view::npos;
    return compares ? line.npos : at;
}

Result<Expression> parseLines(std::string_view text) {
    const auto lines = linesOf(text);
    if (lines.size() <= 1) return Expression::parse(lines.empty() ? text : lines[0].text);
    Substitution known;
    std::vector<std::string> names;
    NodePtr root;
    for (const Line& line : lines) {
        const bool last = &line == &lines.back();
        const std::string name = nameOf(line.text);
        if (!last && name.empty())
            return wrong(line, "Each line but the last names a value, as in “k = a*exp(-b/x)”.");
        if (known.has(name)) return wrong(line, fmt::format("{} is named twice.", name));
        if (!last && std::ranges::find(names, name) != names.end())
            return wrong(line, fmt::format("{} is used before its line: move the line up.", name));
        const auto expression = Expression::parse(line.text);
        if (!expression) return wrong(line, expression.error().text, expression.error().place.sign);
        for (const std::string& used : expression->names())
            if (!known.has(used) && std::ranges::find(names, used) == names.end()) names.push_back(used);
        root = known.in(expression->root());
        if (!last) known.add(name, root);
    }
    return Expression::fromTree(std::move(root), std::string(trimmed(text)), std::move(names));
}

Expression withNames(const Expression& expression, const std::map<std::string, Expression>& known) {
    Substitution values;
    for (const auto& [name, value] : known) values.add(name, value.root());
    std::vector<std::string> names;
    const auto take = [&](const std::string& name) {
        if (std::ranges::find(names, name) == names.end()) names.push_back(name);
    };
    for (const std::string& name : expression.names())
        if (const auto at = known.find(name); at == known.end())
            take(name);
        else
            std::ranges::for_each(at->second.names(), take);
    return Expression::fromTree(values.in(expression.root()), expression.text(), std::move(names));
}

Expression withConstants(const Expression& expression, const std::map<std::string, double>& constants) {
    if (constants.empty()) return expression;
    std::map<std::string, Expression> known;
    for (const auto& [name, value] : constants)
        known[name] = Expression::fromTree(std::make_shared<Node>(Node{Op::Constant, value, {}, {}}));
    return withNames(expression, known);
}

} // namespace jointer::formula
