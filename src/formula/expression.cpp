// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/expression.h"

#include "base/text.h"
#include "formula/column_functions.h"
#include "formula/vocabulary.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <numbers>

namespace jointer::formula {

namespace {

constexpr int kDeepest = 200; // nesting that a hostile formula may reach

NodePtr make(Op op, std::vector<NodePtr> arguments) {
    return std::make_shared<Node>(Node{op, 0, {}, std::move(arguments)});
}
NodePtr makeConstant(double value) {
    return std::make_shared<Node>(Node{Op::Constant, value, {}, {}});
}

// Letters, digits, underscore, and everything beyond ASCII except the operators written there.
bool isNameByte(std::string_view text, std::size_t i, bool first) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c < 0x80) return std::isalpha(c) || c == '_' || (!first && (std::isdigit(c) || c == '.'));
    const std::string_view rest = text.substr(i);
    for (std::string_view sign : {"×", "·", "−", "≤", "≥", "≠"})
        if (rest.starts_with(sign)) return false;
    return true;
}

// The end of a name or number that starts at i; i itself for anything else.
std::size_t wordEnd(std::string_view text, std::size_t i) {
    const bool number = std::isdigit(static_cast<unsigned char>(text[i]));
    if (!number && !isNameByte(text, i, true)) return i;
    std::size_t end = i + 1;
    while (end < text.size() && isNameByte(text, end, false)) ++end;
    return end;
}

// Recursive descent. Every function returns a null pointer once an issue is set.
class Parser {
public:
    Parser(std::string_view text, Vocabulary vocabulary) : text_(text), vocabulary_(vocabulary) {}

    Result<NodePtr> run(std::vector<std::string>& names) {
        names_ = &names;
        skipResponse();
        NodePtr node = comparison();
        skipBlanks();
        if (node && at_ < text_.size()) fail(at_, unexpectedRest());
        if (!issue_.text.empty()) return std::unexpected(issue_);
        return node;
    }

private:
    NodePtr fail(std::size_t at, std::string why) {
        const std::size_t sign = decodeUtf8(text_.substr(0, at)).size() + 1;
        if (issue_.text.empty())
            issue_ = {"formula",
                      fmt::format("At place {} of “{}”: {}", sign, text_, why),
                      {.sign = static_cast<long>(sign)}};
        return nullptr;
    }

    std::string unexpectedRest() const {
        const char c = text_[at_];
        if (c == ')') return "this closing parenthesis has no opening one.";
        if (c == '=') return "the response of an equation stands alone on the left; compare with ==.";
        if (c == ',') return "a comma only separates the arguments of a function; decimals take a point.";
        return "an operator is expected here (write * for a product).";
    }

    void skipBlanks() {
        while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_]))) ++at_;
    }

    bool take(std::string_view token) {
        skipBlanks();
        if (!text_.substr(at_).starts_with(token)) return false;
        at_ += token.size();
        return true;
    }

    // "y = …": only a single name followed by one equals sign is a response.
    void skipResponse() {
        skipBlanks();
        const std::size_t start = at_;
        if (!readName().empty() && take("=") && !text_.substr(at_).starts_with("=")) return;
        at_ = start;
    }

    std::string readName() {
        if (at_ < text_.size() && text_[at_] == '\'') {
            const std::size_t end = text_.find('\'', at_ + 1);
            if (end == std::string_view::npos) return {};
            std::string name(text_.substr(at_ + 1, end - at_ - 1));
            at_ = end + 1;
            return name;
        }
        const std::size_t start = at_;
        while (at_ < text_.size() && isNameByte(text_, at_, at_ == start)) ++at_;
        return std::string(text_.substr(start, at_ - start));
    }

    NodePtr binaryChain(NodePtr (Parser::*next)(),
                        const std::vector<std::pair<std::string_view, Op>>& operators, bool once) {
        NodePtr left = (this->*next)();
        while (left) {
            const auto found = std::ranges::find_if(operators, [&](const auto& o) { return take(o.first); });
            if (found == operators.end()) return left;
            NodePtr right = (this->*next)();
            if (!right) return nullptr;
            left = make(found->second, {left, right});
            if (once) return left;
        }
        return nullptr;
    }

    NodePtr comparison() {
        if (++depth_ > kDeepest) return fail(at_, "the formula is nested too deeply.");
        NodePtr node = binaryChain(&Parser::sum,
                                   {{"<=", Op::LessEqual},
                                    {"≤", Op::LessEqual},
                                    {">=", Op::GreaterEqual},
                                    {"≥", Op::GreaterEqual},
                                    {"==", Op::Equal},
                                    {"!=", Op::NotEqual},
                                    {"≠", Op::NotEqual},
                                    {"<", Op::Less},
                                    {">", Op::Greater}},
                                   true);
        --depth_;
        return node;
    }
    NodePtr sum() {
        return binaryChain(&Parser::product, {{"+", Op::Add}, {"-", Op::Subtract}, {"−", Op::Subtract}},
                           false);
    }
    NodePtr product() {
        return binaryChain(&Parser::unary,
                           {{"*", Op::Multiply}, {"×", Op::Multiply}, {"·", Op::Multiply}, {"/", Op::Divide}},
                           false);
    }

    NodePtr unary() {
        if (++depth_ > kDeepest) return fail(at_, "the formula is nested too deeply.");
        NodePtr node;
        if (take("-") || take("−")) {
            node = unary();
            if (node) node = make(Op::Negate, {node});
        } else {
            take("+");
            node = power();
        }
        --depth_;
        return node;
    }

    NodePtr power() {
        NodePtr base = primary();
        if (base && take("**")) return fail(at_ - 2, "powers are written with ^.");
        if (!base || !take("^")) return base;
        NodePtr exponent = unary(); // binds to the right: 2^3^2 is 2^(3^2)
        return exponent ? make(Op::Power, {base, exponent}) : nullptr;
    }

    NodePtr primary() {
        skipBlanks();
        if (at_ >= text_.size()) return fail(at_, "a number, a name or a parenthesis is expected here.");
        const char c = text_[at_];
        if (std::isdigit(static_cast<unsigned char>(c)) || c == '.') return number();
        if (take("(")) {
            NodePtr inner = comparison();
            if (inner && !take(")")) return fail(at_, "a closing parenthesis is missing.");
            return inner;
        }
        if (c == '\'' || isNameByte(text_, at_, true)) return nameOrCall();
        return fail(at_, "a number, a name or a parenthesis is expected here.");
    }

    NodePtr number() {
        std::size_t end = at_;
        auto digits = [&] {
            while (end < text_.size() && std::isdigit(static_cast<unsigned char>(text_[end]))) ++end;
        };
        digits();
        if (end < text_.size() && text_[end] == '.') ++end, digits();
        if (end < text_.size() && (text_[end] == 'e' || text_[end] == 'E')) {
            std::size_t exponent = end + 1;
            if (exponent < text_.size() && (text_[exponent] == '+' || text_[exponent] == '-')) ++exponent;
            if (exponent < text_.size() && std::isdigit(static_cast<unsigned char>(text_[exponent])))
                end = exponent, digits();
        }
        const auto value = parseNumber(text_.substr(at_, end - at_));
        if (!value) return fail(at_, "this is not a number.");
        at_ = end;
        return makeConstant(*value);
    }

    NodePtr nameOrCall() {
        const std::size_t start = at_;
        const bool quoted = text_[at_] == '\'';
        std::string name = readName();
        if (name.empty()) return fail(start, "the closing quote of this name is missing.");
        if (!quoted && take("(")) return call(name, start);
        if (!quoted && name == "pi") return makeConstant(std::numbers::pi);
        if (!quoted && name == "π") return makeConstant(std::numbers::pi);
        if (!quoted && name == "e") return makeConstant(std::numbers::e);
        if (!quoted && (findFunction(name) || name == "log"))
            return fail(start, fmt::format("{} is a function; its argument follows in parentheses.", name));
        if (std::ranges::find(*names_, name) == names_->end()) names_->push_back(name);
        return std::make_shared<Node>(Node{Op::Name, 0, std::move(name), {}});
    }

    NodePtr call(const std::string& name, std::size_t start) {
        if (name == "log")
            return fail(start, "log can mean two things: write ln for the natural logarithm or log10.");
        if (vocabulary_ == Vocabulary::Curve)
            if (const CurveFunctionInfo* asked = findCurveFunction(name)) return ofCurve(*asked, start);
        const FunctionInfo* function = findFunction(name);
        const ColumnFunction* whole = findColumnFunction(name);
        if (!function && whole && vocabulary_ != Vocabulary::Columns)
            return fail(start, fmt::format("{} takes a whole column; only computed columns know it.", name));
        if (!function && !whole)
            return fail(start, fmt::format("there is no function called {} (write * for a product).", name));
        if (function && (function->op == Op::Integral || function->op == Op::Sum))
            return running(function->op, start);
        std::vector<NodePtr> arguments;
        if (!readArguments(arguments)) return nullptr;
        const int count = static_cast<int>(arguments.size());
        if (vocabulary_ == Vocabulary::Columns && count == 1 &&
            (name == "max" || name == "min")) // of the column
            return std::make_shared<Node>(
                Node{Op::WholeColumn, 0, name == "max" ? "largest" : "smallest", std::move(arguments)});
        const int fewest = function ? function->fewest : whole->fewest;
        const int most = function ? function->most : whole->most;
        if (count < fewest || (most >= 0 && count > most))
            return fail(start, fmt::format("{} takes {}{}, not {}.", name, most == fewest ? "" : "at least ",
                                           counted(fewest, "argument"), count));
        if (!function) return std::make_shared<Node>(Node{Op::WholeColumn, 0, name, std::move(arguments)});
        return fold(function->op, std::move(arguments));
    }

    // To the closing parenthesis. False: the issue is set.
    bool readArguments(std::vector<NodePtr>& arguments) {
        do {
            NodePtr argument = comparison();
            if (!argument) return false;
            arguments.push_back(std::move(argument));
        } while (take(","));
        return take(")") || fail(at_, "a closing parenthesis is missing.");
    }

    NodePtr ofCurve(const CurveFunctionInfo& asked, std::size_t start) {
        std::vector<NodePtr> arguments;
        if (!take(")") && !readArguments(arguments)) return nullptr;
        const int count = static_cast<int>(arguments.size());
        if (count != asked.fewest && count != asked.most)
            return fail(start, fmt::format("this is written {}({}).", asked.name, asked.arguments));
        return std::make_shared<Node>(Node{Op::OfCurve, 0, std::string(asked.name), std::move(arguments)});
    }

    // integral(f, t, a, b): t is a name of its own within f.
    NodePtr running(Op op, std::size_t start) {
        const char* form = op == Op::Sum ? "sum(f, k, from, to)" : "integral(f, t, from, to)";
        std::vector<std::string> inside;
        std::vector<std::string>* const outside = std::exchange(names_, &inside);
        NodePtr f = comparison();
        names_ = outside;
        if (!f) return nullptr;
        if (!take(",")) return fail(start, fmt::format("this is written {}.", form));
        skipBlanks();
        const std::size_t at = at_;
        std::string name = readName();
        if (name.empty() || !take(",")) return fail(at, fmt::format("a name is expected here: {}.", form));
        for (std::string& used : inside)
            if (used != name && std::ranges::find(*names_, used) == names_->end()) names_->push_back(used);
        NodePtr from = comparison();
        if (!from) return nullptr;
        if (!take(",")) return fail(at_, fmt::format("this is written {}.", form));
        NodePtr to = comparison();
        if (!to) return nullptr;
        if (!take(")")) return fail(at_, "a closing parenthesis is missing.");
        return std::make_shared<Node>(
            Node{op, 0, std::move(name), {std::move(f), std::move(from), std::move(to)}});
    }

    // min and max of many become pairs.
    static NodePtr fold(Op op, std::vector<NodePtr> arguments) {
        if (op != Op::Min && op != Op::Max) return make(op, std::move(arguments));
        NodePtr node = arguments[0];
        for (std::size_t i = 1; i < arguments.size(); ++i) node = make(op, {node, arguments[i]});
        return node;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    Vocabulary vocabulary_;
    int depth_ = 0;
    Issue issue_;
    std::vector<std::string>* names_ = nullptr;
};

// ---- display ---------------------------------------------------------------------------------------------

} // namespace

Result<Expression> Expression::parse(std::string_view text, Vocabulary vocabulary) {
    Expression e;
    e.text_ = std::string(trimmed(text));
    if (e.text_.empty()) return failure("formula", "The formula is empty.");
    if (!isUtf8(e.text_)) return failure("formula", "The formula is not valid UTF-8 text.");
    if (e.text_.size() > 20000) return failure("formula", "The formula is longer than 20 000 characters.");
    auto root = Parser(e.text_, vocabulary).run(e.names_);
    if (!root) return std::unexpected(root.error());
    e.root_ = *root;
    return e;
}

Expression Expression::fromTree(NodePtr root, std::string text, std::vector<std::string> names) {
    Expression e;
    e.root_ = std::move(root);
    e.text_ = std::move(text);
    e.names_ = std::move(names);
    return e;
}

bool Expression::uses(std::string_view name) const {
    return std::ranges::find(names_, name) != names_.end();
}

std::string renamed(std::string_view text, const std::function<std::string(const std::string&)>& other) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const bool quoted = text[i] == '\'';
        const std::size_t end =
            quoted ? std::min(text.find('\'', i + 1), text.size() - 1) + 1 : wordEnd(text, i);
        if (end == i) {
            out += text[i++];
            continue;
        }
        const std::string word(text.substr(i, end - i));
        const std::string name = quoted ? word.substr(1, word.size() - 2) : word;
        const std::size_t next = std::min(text.find_first_not_of(' ', end), text.size());
        const bool called =
            text.substr(next).starts_with('(') && (findColumnFunction(name) || findCurveFunction(name));
        const bool known =
            !quoted && (called || findFunction(name) || name == "pi" || name == "e" || name == "π");
        const bool number = !quoted && !name.empty() && std::isdigit(static_cast<unsigned char>(name[0]));
        const std::string replacement = known || number ? std::string{} : other(name);
        out += replacement.empty() ? word : replacement;
        i = end;
    }
    return out;
}

} // namespace jointer::formula
