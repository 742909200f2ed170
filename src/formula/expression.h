// SPDX-License-Identifier: GPL-3.0-or-later
// Plain mathematics as a tree. Typed equations, computed columns, ties and transforms all start here; a
// Program (program.h) evaluates the tree column by column with exact derivatives. Immutable, thread-safe.
// Grammar: numbers, names, 'names with blanks', + - * / ^, comparisons, parentheses, functions. −x^2 is
// −(x²), ^ binds to the right. Example: `auto e = Expression::parse("a*exp(-b*x) + c");`
#pragma once

#include "base/issue.h"

#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::formula {

enum class Op : unsigned char {
    Constant,
    Name,
    Negate,
    Add,
    Subtract,
    Multiply,
    Divide,
    Power,
    Less,
    LessEqual,
    Greater,
    GreaterEqual,
    Equal,
    NotEqual,
    Exp,
    Ln,
    Log10,
    Log2,
    Sqrt,
    Cbrt,
    Abs,
    Sin,
    Cos,
    Tan,
    Asin,
    Acos,
    Atan,
    Sinh,
    Cosh,
    Tanh,
    Erf,
    Erfc,
    ScaledErfc,
    Gamma,
    LnGamma,
    Floor,
    Ceil,
    Sign,
    Step,
    Atan2,
    Min,
    Max,
    If,
    Voigt,
    Integral,    // of the first argument over `name`, from the second to the third
    Sum,         // the same over whole numbers
    WholeColumn, // a function of column_functions.h, by its name
    OfCurve      // a number of a curve that is known elsewhere, by its name: "slope"
};

struct Node {
    Op op = Op::Constant;
    double constant = 0;
    std::string name;
    std::vector<std::shared_ptr<const Node>> arguments;
};
using NodePtr = std::shared_ptr<const Node>;

// Computed columns know functions of whole columns beside the others; numbers that follow from a fit those of
// its curve.
enum class Vocabulary { Scalar, Columns, Curve };

class Expression {
public:
    // Errors: "formula" with the place (`place.sign`, from 1, where there is one) and what is expected. A
    // leading "name =" is taken as the name of the response and left out.
    static Result<Expression> parse(std::string_view text, Vocabulary vocabulary = Vocabulary::Scalar);
    static Expression fromTree(NodePtr root, std::string text = {}, std::vector<std::string> names = {});

    const NodePtr& root() const { return root_; }
    const std::string& text() const { return text_; }
    // Names that are neither functions nor constants, in order of first appearance.
    const std::vector<std::string>& names() const { return names_; }
    bool uses(std::string_view name) const;

private:
    std::string text_;
    NodePtr root_;
    std::vector<std::string> names_;
};

struct FunctionInfo {
    std::string_view name;
    Op op;
    int fewest, most; // arguments; most < 0: any number
    std::string_view meaning;
};

// All functions, for completion and the manual. Aliases are not listed.
const std::vector<FunctionInfo>& functions();

// What may be asked of a curve; without the ends of a range the whole of it is meant.
struct CurveFunctionInfo {
    std::string_view name, arguments;
    int fewest, most;
    std::string_view meaning;
};
const std::vector<CurveFunctionInfo>& curveFunctions();

// The text with names replaced: `other` gives the new spelling of a name, or nothing to keep it. Functions
// and constants are not asked about.
std::string renamed(std::string_view text, const std::function<std::string(const std::string&)>& other);

// The tree as TeX-like markup for display: fractions, powers, Greek names.
std::string toMarkup(const Expression& expression);

} // namespace jointer::formula
