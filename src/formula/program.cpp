// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/program.h"

#include "base/kernel.h"
#include "base/text.h"

#include <algorithm>
#include <boost/math/special_functions/digamma.hpp>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <numbers>
#include <numeric>

namespace jointer::formula {

namespace {

constexpr std::size_t kBlock = 256;

double digammaOr(double x) {
    if (std::isnan(x) || (x <= 0 && std::floor(x) == x)) return std::numeric_limits<double>::quiet_NaN();
    return boost::math::digamma(x);
}

double signOf(double x) {
    return x > 0 ? 1.0 : x < 0 ? -1.0 : x;
}

// Value of a unary function.
double unaryValue(Op op, double x) {
    switch (op) {
    case Op::Negate:
        return -x;
    case Op::Exp:
        return std::exp(x);
    case Op::Ln:
        return std::log(x);
    case Op::Log10:
        return std::log10(x);
    case Op::Log2:
        return std::log2(x);
    case Op::Sqrt:
        return std::sqrt(x);
    case Op::Cbrt:
        return std::cbrt(x);
    case Op::Abs:
        return std::abs(x);
    case Op::Sin:
        return std::sin(x);
    case Op::Cos:
        return std::cos(x);
    case Op::Tan:
        return std::tan(x);
    case Op::Asin:
        return std::asin(x);
    case Op::Acos:
        return std::acos(x);
    case Op::Atan:
        return std::atan(x);
    case Op::Sinh:
        return std::sinh(x);
    case Op::Cosh:
        return std::cosh(x);
    case Op::Tanh:
        return std::tanh(x);
    case Op::Erf:
        return std::erf(x);
    case Op::Erfc:
        return std::erfc(x);
    case Op::Gamma:
        return std::tgamma(x);
    case Op::LnGamma:
        return std::lgamma(x);
    case Op::Floor:
        return std::floor(x);
    case Op::Ceil:
        return std::ceil(x);
    case Op::Sign:
        return signOf(x);
    case Op::Step:
        return std::isnan(x) ? x : x >= 0 ? 1.0 : 0.0;
    default:
        return std::numeric_limits<double>::quiet_NaN();
    }
}

// Derivative of a unary function at x, given its value v.
double unarySlope(Op op, double x, double v) {
    constexpr double erfScale = 2 * std::numbers::inv_sqrtpi;
    switch (op) {
    case Op::Negate:
        return -1;
    case Op::Exp:
        return v;
    case Op::Ln:
        return 1 / x;
    case Op::Log10:
        return std::numbers::log10e / x;
    case Op::Log2:
        return std::numbers::log2e / x;
    case Op::Sqrt:
        return 0.5 / v;
    case Op::Cbrt:
        return 1 / (3 * v * v);
    case Op::Abs:
        return signOf(x);
    case Op::Sin:
        return std::cos(x);
    case Op::Cos:
        return -std::sin(x);
    case Op::Tan:
        return 1 + v * v;
    case Op::Asin:
        return 1 / std::sqrt((1 - x) * (1 + x));
    case Op::Acos:
        return -1 / std::sqrt((1 - x) * (1 + x));
    case Op::Atan:
        return 1 / (1 + x * x);
    case Op::Sinh:
        return std::cosh(x);
    case Op::Cosh:
        return std::sinh(x);
    case Op::Tanh:
        return 1 - v * v;
    case Op::Erf:
        return erfScale * std::exp(-x * x);
    case Op::Erfc:
        return -erfScale * std::exp(-x * x);
    case Op::Gamma:
        return v * digammaOr(x);
    case Op::LnGamma:
        return digammaOr(x);
    default:
        return 0; // floor, ceil, sign, step
    }
}

double powerValue(double x, double p) {
    if (p == 2) return x * x;
    if (p == 3) return x * x * x;
    if (p == 1) return x;
    return std::pow(x, p);
}

bool isUnary(Op op) {
    return op == Op::Negate || (op >= Op::Exp && op <= Op::Step);
}

double compare(Op op, double a, double b) {
    switch (op) {
    case Op::Less:
        return a < b;
    case Op::LessEqual:
        return a <= b;
    case Op::Greater:
        return a > b;
    case Op::GreaterEqual:
        return a >= b;
    case Op::Equal:
        return a == b;
    default:
        return a != b;
    }
}

bool isComparison(Op op) {
    return op >= Op::Less && op <= Op::NotEqual;
}

JOINTER_KERNEL void addRows(const double* a, const double* b, double* out, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) out[i] = a[i] + b[i];
}
JOINTER_KERNEL void subtractRows(const double* a, const double* b, double* out, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) out[i] = a[i] - b[i];
}
JOINTER_KERNEL void multiplyRows(const double* a, const double* b, double* out, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) out[i] = a[i] * b[i];
}
JOINTER_KERNEL void divideRows(const double* a, const double* b, double* out, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) out[i] = a[i] / b[i];
}
JOINTER_KERNEL void shiftRows(double by, double* out, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) out[i] += by;
}
// out += weight · d
JOINTER_KERNEL void addProductRows(const double* weight, const double* d, double* out, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) out[i] += weight[i] * d[i];
}

} // namespace

// Turns the tree into instructions, finding equal subtrees by their text key.
class Program::Compiler {
public:
    Compiler(Program& program, const std::vector<std::string>& inputs,
             const std::vector<std::string>& scalars, Differentiate what)
        : p_(program), inputs_(inputs), scalars_(scalars), what_(what) {}

    Result<void> run(const NodePtr& root) {
        const int top = visit(*root);
        if (!unknown_.empty()) {
            return failure(
                "unknown-name",
                fmt::format("“{}” is not known here; the names are {}.", unknown_,
                            joined(inputs_, ", ") + (scalars_.empty() ? "" : ", ") + joined(scalars_, ", ")));
        }
        uniformFirst(top);
        giveRegisters();
        p_.linear_ = p_.code_[static_cast<std::size_t>(p_.root_)].degree <= 1;
        return {};
    }

private:
    int visit(const Node& node) {
        Instruction in{.op = node.op};
        if (node.op == Op::Constant) in.constant = node.constant;
        if (node.op == Op::Name && !bind(node.name, in)) return 0;
        int* const places[] = {&in.a, &in.b, &in.c};
        for (std::size_t i = 0; i < node.arguments.size() && i < 3; ++i)
            *places[i] = visit(*node.arguments[i]);
        return number(std::move(in));
    }

    bool bind(const std::string& name, Instruction& in) {
        if (const auto at = std::ranges::find(inputs_, name); at != inputs_.end()) {
            in.source = static_cast<int>(at - inputs_.begin());
            in.isInput = true;
            in.uniform = false;
            if (what_ == Differentiate::Inputs) in.slots = {{in.source, -1}};
            return true;
        }
        if (const auto at = std::ranges::find(scalars_, name); at != scalars_.end()) {
            in.source = static_cast<int>(at - scalars_.begin());
            in.degree = 1;
            if (what_ == Differentiate::Scalars) in.slots = {{in.source, -1}};
            return true;
        }
        if (unknown_.empty()) unknown_ = name;
        return false;
    }

    // The instruction's number; an equal one that is there already is used again.
    int number(Instruction in) {
        const Key key{in.op, in.a, in.b, in.c, in.constant, in.source, in.isInput};
        const auto [at, fresh] = known_.try_emplace(key, static_cast<int>(p_.code_.size()));
        if (!fresh) return at->second;
        for (int argument : {in.a, in.b, in.c}) {
            if (argument < 0) continue;
            const Instruction& from = p_.code_[static_cast<std::size_t>(argument)];
            in.uniform = in.uniform && from.uniform;
            for (const Slot& s : from.slots)
                if (std::ranges::find(in.slots, s.variable, &Slot::variable) == in.slots.end())
                    in.slots.push_back({s.variable, 0});
        }
        if (in.op != Op::Name) in.degree = degreeOf(in);
        if (hasNoSlope(in.op)) in.slots.clear();
        p_.code_.push_back(std::move(in));
        return at->second;
    }

    static bool hasNoSlope(Op op) {
        return isComparison(op) || op == Op::Floor || op == Op::Ceil || op == Op::Sign || op == Op::Step;
    }

    int degreeOf(const Instruction& in) const {
        auto degree = [&](int i) { return i < 0 ? 0 : p_.code_[static_cast<std::size_t>(i)].degree; };
        const int a = degree(in.a), b = degree(in.b), c = degree(in.c);
        switch (in.op) {
        case Op::Constant:
            return 0;
        case Op::Add:
        case Op::Subtract:
            return std::max(a, b);
        case Op::Negate:
            return a;
        case Op::Multiply:
            return std::min(2, a + b);
        case Op::Divide:
            return b > 0 ? 2 : a;
        case Op::If:
            return a > 0 ? 2 : std::max(b, c);
        default:
            return a + b + c > 0 ? 2 : 0;
        }
    }

    // Reorders so that what is the same for all rows comes first; arguments still precede their use.
    void uniformFirst(int top) {
        std::vector<int> order(p_.code_.size());
        std::iota(order.begin(), order.end(), 0);
        std::ranges::stable_partition(order,
                                      [&](int i) { return p_.code_[static_cast<std::size_t>(i)].uniform; });
        std::vector<int> place(order.size());
        for (std::size_t i = 0; i < order.size(); ++i)
            place[static_cast<std::size_t>(order[i])] = static_cast<int>(i);
        std::vector<Instruction> sorted;
        for (int i : order) {
            Instruction in = std::move(p_.code_[static_cast<std::size_t>(i)]);
            for (int* argument : {&in.a, &in.b, &in.c})
                if (*argument >= 0) *argument = place[static_cast<std::size_t>(*argument)];
            sorted.push_back(std::move(in));
        }
        p_.code_ = std::move(sorted);
        p_.root_ = place[static_cast<std::size_t>(top)];
    }

    // Registers are used again after the last reader, so that a block stays in the cache. Uniform results
    // and the root are kept.
    void giveRegisters() {
        auto& code = p_.code_;
        std::vector<std::size_t> lastUse(code.size(), 0);
        for (std::size_t i = 0; i < code.size(); ++i)
            for (int argument : {code[i].a, code[i].b, code[i].c})
                if (argument >= 0) lastUse[static_cast<std::size_t>(argument)] = i;
        lastUse[static_cast<std::size_t>(p_.root_)] = code.size();

        std::vector<int> free;
        auto fresh = [&] {
            if (free.empty()) return p_.registers_++;
            const int reg = free.back();
            free.pop_back();
            return reg;
        };
        for (std::size_t i = 0; i < code.size(); ++i) {
            code[i].reg = fresh();
            for (Slot& s : code[i].slots)
                if (code[i].op != Op::Name) s.reg = fresh();
            for (std::size_t k = 0; k <= i; ++k) {
                if (lastUse[k] != i || code[k].uniform || k == i) continue;
                free.push_back(code[k].reg);
                for (const Slot& s : code[k].slots)
                    if (s.reg >= 0) free.push_back(s.reg);
            }
        }
        p_.registers_ += 3; // weights of the derivative rules
    }

    struct Key {
        Op op;
        int a, b, c;
        double constant;
        int source;
        bool isInput;
        auto operator<=>(const Key&) const = default;
    };
    struct KeyLess {
        bool operator()(const Key& l, const Key& r) const {
            return std::tie(l.op, l.a, l.b, l.c, l.constant, l.source, l.isInput) <
                   std::tie(r.op, r.a, r.b, r.c, r.constant, r.source, r.isInput);
        }
    };

    Program& p_;
    const std::vector<std::string>& inputs_;
    const std::vector<std::string>& scalars_;
    Differentiate what_;
    std::map<Key, int, KeyLess> known_;
    std::string unknown_;
};

// One evaluation: its registers and the rows it is at.
class Program::Run {
public:
    Run(const Program& program, std::span<const std::span<const double>> inputs,
        std::span<const double> scalars, bool slopes, std::size_t width)
        : p_(program), inputs_(inputs), scalars_(scalars), slopes_(slopes), width_(width),
          memory_(workspace(static_cast<std::size_t>(program.registers_) * width)) {}

    void block(std::size_t from, std::size_t rows) {
        from_ = from;
        rows_ = rows;
        for (const Instruction& in : p_.code_)
            if (!in.uniform || from == 0) step(in);
    }

    const double* value(int instruction) const { return reg(at(instruction).reg); }
    const double* slope(const Slot& s) const { return reg(s.reg); }

private:
    // Kept between evaluations of a thread: small problems would spend more time on memory than on numbers.
    static std::vector<double>& workspace(std::size_t size) {
        static thread_local std::vector<double> memory;
        if (memory.size() < size) memory.resize(size);
        return memory;
    }

    const Instruction& at(int i) const { return p_.code_[static_cast<std::size_t>(i)]; }
    double* reg(int r) { return memory_.data() + static_cast<std::size_t>(r) * width_; }
    const double* reg(int r) const { return memory_.data() + static_cast<std::size_t>(r) * width_; }
    double* weight(int k) { return reg(p_.registers_ - 3 + k); }

    void step(const Instruction& in) {
        // Uniform values fill the whole width once, since later blocks may be read against them.
        const std::size_t n = in.uniform ? width_ : rows_;
        double* out = reg(in.reg);
        if (in.op == Op::Constant) return void(std::fill_n(out, n, in.constant));
        if (in.op == Op::Name) {
            const auto source = static_cast<std::size_t>(in.source);
            if (in.isInput)
                std::copy_n(inputs_[source].data() + from_, n, out);
            else
                std::fill_n(out, n, scalars_[source]);
            return;
        }
        const double* a = value(in.a);
        const double* b = in.b >= 0 ? value(in.b) : nullptr;
        const bool slopes = slopes_ && !in.slots.empty();
        if (isUnary(in.op))
            unary(in, a, out, n, slopes);
        else
            binary(in, a, b, out, n, slopes);
    }

    void unary(const Instruction& in, const double* a, double* out, std::size_t n, bool slopes) {
        if (in.op == Op::Exp) {
            for (std::size_t i = 0; i < n; ++i) out[i] = std::exp(a[i]);
            if (slopes) chain(in, {{in.a, out}}, n);
            return;
        }
        for (std::size_t i = 0; i < n; ++i) out[i] = unaryValue(in.op, a[i]);
        if (!slopes) return;
        double* w = weight(0);
        for (std::size_t i = 0; i < n; ++i) w[i] = unarySlope(in.op, a[i], out[i]);
        chain(in, {{in.a, w}}, n);
    }

    void binary(const Instruction& in, const double* a, const double* b, double* out, std::size_t n,
                bool slopes) {
        double *wa = weight(0), *wb = weight(1), *wc = weight(2);
        switch (in.op) {
        case Op::Add:
            addRows(a, b, out, n);
            if (slopes) sum(in, false, n);
            return;
        case Op::Subtract:
            subtractRows(a, b, out, n);
            if (slopes) sum(in, true, n);
            return;
        case Op::Multiply:
            multiplyRows(a, b, out, n);
            if (slopes) chain(in, {{in.a, b}, {in.b, a}}, n);
            return;
        case Op::Divide:
            divideRows(a, b, out, n);
            if (slopes)
                for (std::size_t i = 0; i < n; ++i) wa[i] = 1 / b[i], wb[i] = -out[i] / b[i];
            break;
        case Op::Power:
            if (at(in.b).op == Op::Constant && at(in.b).constant == 2) {
                multiplyRows(a, a, out, n);
                if (!slopes) return;
                addRows(a, a, wa, n);
                break;
            }
            for (std::size_t i = 0; i < n; ++i) out[i] = powerValue(a[i], b[i]);
            if (slopes) powerSlopes(in, a, b, out, n);
            break;
        case Op::Atan2:
            for (std::size_t i = 0; i < n; ++i) out[i] = std::atan2(a[i], b[i]);
            if (slopes)
                for (std::size_t i = 0; i < n; ++i) {
                    const double r2 = a[i] * a[i] + b[i] * b[i];
                    wa[i] = b[i] / r2;
                    wb[i] = -a[i] / r2;
                }
            break;
        case Op::Min:
        case Op::Max:
            for (std::size_t i = 0; i < n; ++i) {
                const bool first = std::isnan(a[i]) || (in.op == Op::Min ? a[i] <= b[i] : a[i] >= b[i]);
                out[i] = first ? a[i] : b[i];
                wa[i] = first ? 1 : 0;
                wb[i] = first ? 0 : 1;
            }
            break;
        case Op::If: {
            const double* c = value(in.c);
            for (std::size_t i = 0; i < n; ++i) {
                const bool yes = a[i] != 0;
                out[i] = std::isnan(a[i]) ? a[i] : yes ? b[i] : c[i];
                wa[i] = 0;
                wb[i] = yes ? 1 : 0;
                wc[i] = yes ? 0 : 1;
            }
            if (slopes) chain(in, {{in.b, wb}, {in.c, wc}}, n);
            return;
        }
        default:
            for (std::size_t i = 0; i < n; ++i)
                out[i] = std::isnan(a[i]) || std::isnan(b[i]) ? std::numeric_limits<double>::quiet_NaN()
                                                              : compare(in.op, a[i], b[i]);
        }
        if (slopes) chain(in, {{in.a, wa}, {in.b, wb}}, n);
    }

    // Slopes of a sum or a difference: no weights are needed.
    void sum(const Instruction& in, bool difference, std::size_t n) {
        auto slotOf = [&](int argument, int variable) -> const Slot* {
            const auto& slots = at(argument).slots;
            const auto found = std::ranges::find(slots, variable, &Slot::variable);
            return found == slots.end() ? nullptr : &*found;
        };
        for (const Slot& s : in.slots) {
            double* d = reg(s.reg);
            const Slot *left = slotOf(in.a, s.variable), *right = slotOf(in.b, s.variable);
            if (!left)
                std::fill_n(d, n, 0.0);
            else if (left->reg < 0)
                std::fill_n(d, n, 1.0);
            else
                std::copy_n(reg(left->reg), n, d);
            if (!right) continue;
            const double sign = difference ? -1 : 1;
            if (right->reg < 0)
                shiftRows(sign, d, n);
            else if (difference)
                subtractRows(d, reg(right->reg), d, n);
            else
                addRows(d, reg(right->reg), d, n);
        }
    }

    void powerSlopes(const Instruction& in, const double* a, const double* b, const double* out,
                     std::size_t n) {
        double *wa = weight(0), *wb = weight(1);
        if (!at(in.a).slots.empty())
            for (std::size_t i = 0; i < n; ++i) wa[i] = b[i] == 0 ? 0 : b[i] * powerValue(a[i], b[i] - 1);
        if (!at(in.b).slots.empty())
            for (std::size_t i = 0; i < n; ++i) wb[i] = a[i] == 0 && b[i] > 0 ? 0 : out[i] * std::log(a[i]);
    }

    // d(out)/dv = Σ weight · d(argument)/dv for each variable v.
    void chain(const Instruction& in, std::initializer_list<std::pair<int, const double*>> parts,
               std::size_t n) {
        for (const Slot& s : in.slots) {
            double* d = reg(s.reg);
            bool started = false;
            for (const auto& [argument, w] : parts) {
                const auto& from = at(argument).slots;
                const auto found = std::ranges::find(from, s.variable, &Slot::variable);
                if (found == from.end()) continue;
                if (found->reg < 0) {
                    if (started)
                        addRows(d, w, d, n);
                    else
                        std::copy_n(w, n, d);
                } else if (started)
                    addProductRows(w, reg(found->reg), d, n);
                else
                    multiplyRows(w, reg(found->reg), d, n);
                started = true;
            }
            if (!started) std::fill_n(d, n, 0.0);
        }
    }

    const Program& p_;
    std::span<const std::span<const double>> inputs_;
    std::span<const double> scalars_;
    bool slopes_;
    std::size_t width_;
    std::vector<double>& memory_;
    std::size_t from_ = 0, rows_ = 0;
};

Result<Program> Program::compile(const Expression& expression, const std::vector<std::string>& inputs,
                                 const std::vector<std::string>& scalars, Differentiate what) {
    Program program;
    if (auto done = Compiler(program, inputs, scalars, what).run(expression.root()); !done)
        return std::unexpected(done.error());
    program.variables_ = what == Differentiate::Nothing
                             ? 0
                             : static_cast<int>((what == Differentiate::Scalars ? scalars : inputs).size());
    return program;
}

void Program::evaluate(std::span<const std::span<const double>> inputs, std::span<const double> scalars,
                       std::span<double> values, std::span<double> gradient) const {
    const std::size_t n = values.size();
    if (n == 0) return;
    const Instruction& root = code_[static_cast<std::size_t>(root_)];
    const bool slopes = !gradient.empty();
    if (slopes) std::ranges::fill(gradient.first(n * static_cast<std::size_t>(variables_)), 0.0);
    Run run(*this, inputs, scalars, slopes, std::min(n, kBlock));
    for (std::size_t from = 0; from < n; from += kBlock) {
        const std::size_t rows = std::min(kBlock, n - from);
        run.block(from, rows);
        std::copy_n(run.value(root_), rows, values.data() + from);
        if (!slopes) continue;
        for (const Slot& s : root.slots) {
            double* column = gradient.data() + static_cast<std::size_t>(s.variable) * n + from;
            if (s.reg < 0)
                std::fill_n(column, rows, 1.0);
            else
                std::copy_n(run.slope(s), rows, column);
        }
    }
}

double Program::evaluateOne(std::span<const double> inputs, std::span<const double> scalars) const {
    std::vector<std::span<const double>> columns;
    for (const double& v : inputs) columns.emplace_back(&v, 1);
    double value = 0;
    evaluate(columns, scalars, {&value, 1});
    return value;
}

} // namespace jointer::formula
