// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/text.h"
#include "formula/elementary.h"
#include "formula/inner.h"
#include "formula/program.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <numeric>

namespace jointer::formula {

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
        if (node.op == Op::Integral || node.op == Op::Sum) return running(node, std::move(in));
        int* const places[] = {&in.a, &in.b, &in.c};
        for (std::size_t i = 0; i < node.arguments.size() && i < 3; ++i)
            *places[i] = visit(*node.arguments[i]);
        return number(std::move(in));
    }

    // Its body is a program of its own; the ends are arguments.
    int running(const Node& node, Instruction in) {
        auto inner = std::make_shared<Inner>();
        inner->sum = node.op == Op::Sum;
        std::vector<std::string> inputs = inputs_, scalars = scalars_;
        for (std::string& name : inputs)
            if (name == node.name) name += " outside"; // hidden by the one that runs
        for (std::string& name : scalars)
            if (name == node.name) name += " outside";
        inputs.push_back(node.name);
        const auto body = Expression::fromTree(node.arguments[0]);
        if (auto done = Compiler(inner->program, inputs, scalars, what_).run(body.root()); !done) {
            if (unknown_.empty()) unknown_ = unknownIn(done.error());
            return 0;
        }
        inner->program.variables_ = what_ == Differentiate::Nothing   ? 0
                                    : what_ == Differentiate::Scalars ? static_cast<int>(scalars_.size())
                                                                      : static_cast<int>(inputs_.size() + 1);
        for (const Instruction& i : inner->program.code_) {
            inner->usesRow |= i.op == Op::Name && i.isInput && i.source + 1 < static_cast<int>(inputs.size());
            for (const Slot& s : i.slots)
                if (std::ranges::find(inner->variables, s.variable) == inner->variables.end() &&
                    s.variable <
                        static_cast<int>(what_ == Differentiate::Inputs ? inputs_.size() : scalars_.size()))
                    inner->variables.push_back(s.variable);
        }
        in.a = visit(*node.arguments[1]);
        in.b = visit(*node.arguments[2]);
        in.uniform = !inner->usesRow;
        in.constant = static_cast<double>(++running_); // never the same as another
        for (int v : inner->variables) in.slots.push_back({v, 0});
        in.degree = inner->program.code_[static_cast<std::size_t>(inner->program.root_)].degree;
        in.inner = std::move(inner);
        return number(std::move(in));
    }
    static std::string unknownIn(const Issue& issue) {
        const std::size_t from = issue.text.find("“"), to = issue.text.find("”");
        return from == issue.text.npos ? "?" : issue.text.substr(from + 3, to - from - 3);
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
        case Op::Integral:
        case Op::Sum:
            return a + b > 0 ? 2 : in.degree; // of the body
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
    int running_ = 0; // integrals and sums so far
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

} // namespace jointer::formula
