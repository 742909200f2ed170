// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/program.h"

#include "base/kernel.h"
#include "formula/elementary.h"
#include "formula/inner.h"
#include "numerics/faddeeva.h"
#include "numerics/voigt.h"

#include <algorithm>
#include <cmath>
#include <deque>

namespace jointer::formula {

namespace {

constexpr std::size_t kBlock = 256;

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

// One evaluation: its registers and the rows it is at.
class Program::Run {
public:
    Run(const Program& program, std::span<const std::span<const double>> inputs,
        std::span<const double> scalars, bool slopes, std::size_t width)
        : p_(program), inputs_(inputs), scalars_(scalars), slopes_(slopes), width_(width),
          memory_(workspace(static_cast<std::size_t>(program.registers_) * width)) {
        ++depth_;
    }
    ~Run() { --depth_; }
    Run(const Run&) = delete;
    Run& operator=(const Run&) = delete;

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
    // One for each integral within an integral.
    static std::vector<double>& workspace(std::size_t size) {
        static thread_local std::deque<std::vector<double>> memories;
        while (memories.size() <= depth_) memories.emplace_back();
        std::vector<double>& memory = memories[depth_];
        if (memory.size() < size) memory.resize(size);
        return memory;
    }
    inline static thread_local std::size_t depth_ = 0;

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
        if (in.inner) return running(in, a, b, out, n, slopes);
        if (isUnary(in.op))
            unary(in, a, out, n, slopes);
        else
            binary(in, a, b, out, n, slopes);
    }

    // An integral or a sum from a to b. Where its body is the same for all rows, each row goes on from the
    // one with the nearest smaller end.
    void running(const Instruction& in, const double* a, const double* b, double* out, std::size_t n,
                 bool slopes) {
        InnerRun run(*in.inner, scalars_, static_cast<std::size_t>(in.inner->program.variables_), slopes);
        std::vector<double> row(inputs_.size()), gradient(slopes ? in.inner->program.variables_ : 0);
        std::vector<std::size_t> order(n);
        for (std::size_t i = 0; i < n; ++i) order[i] = i;
        const bool goesOn = !in.inner->usesRow && !in.inner->sum &&
                            std::all_of(a, a + n, [&](double v) { return v == a[0]; });
        if (goesOn) std::ranges::sort(order, {}, [&](std::size_t i) { return b[i]; });
        std::vector<double> soFar(gradient.size(), 0.0);
        double total = 0, reached = n > 0 ? a[0] : 0;
        for (const std::size_t i : order) {
            for (std::size_t k = 0; k < row.size(); ++k)
                row[k] = from_ + i < inputs_[k].size() ? inputs_[k][from_ + i] : 0;
            std::ranges::fill(gradient, 0);
            if (goesOn && std::isfinite(b[i])) {
                total += run.over(row, reached, b[i], soFar);
                reached = b[i];
                out[i] = total;
                gradient = soFar;
            } else
                out[i] = run.over(row, a[i], b[i], gradient);
            if (slopes) putSlopes(in, run, row, a, b, gradient, i);
        }
    }

    // What the body changes, and what the ends do: f(b)·db − f(a)·da.
    void putSlopes(const Instruction& in, InnerRun& run, const std::vector<double>& row, const double* a,
                   const double* b, const std::vector<double>& gradient, std::size_t i) {
        auto slopeOf = [&](int argument, int variable) {
            const auto& slots = at(argument).slots;
            const auto found = std::ranges::find(slots, variable, &Slot::variable);
            return found == slots.end() ? 0.0 : found->reg < 0 ? 1.0 : reg(found->reg)[i];
        };
        for (const Slot& s : in.slots) {
            double d = gradient[static_cast<std::size_t>(s.variable)];
            const double low = slopeOf(in.a, s.variable), high = slopeOf(in.b, s.variable);
            if (high != 0 && !in.inner->sum) d += high * run.at(row, b[i]);
            if (low != 0 && !in.inner->sum) d -= low * run.at(row, a[i]);
            reg(s.reg)[i] = d;
        }
    }

    void unary(const Instruction& in, const double* a, double* out, std::size_t n, bool slopes) {
        if (in.op == Op::Exp) {
            for (std::size_t i = 0; i < n; ++i) out[i] = std::exp(a[i]);
            if (slopes) chain(in, {{in.a, out}}, n);
            return;
        }
        double* w = weight(0);
        if (slopes && (in.op == Op::Sin || in.op == Op::Cos)) { // both at once cost little more than one
            for (std::size_t i = 0; i < n; ++i) {
                double sine, cosine;
                ::sincos(a[i], &sine, &cosine);
                out[i] = in.op == Op::Sin ? sine : cosine;
                w[i] = in.op == Op::Sin ? cosine : -sine;
            }
            return chain(in, {{in.a, w}}, n);
        }
        if (in.op == Op::ScaledErfc) {
            numerics::scaledErfc({a, n}, {out, n}, slopes ? std::span(w, n) : std::span<double>());
            if (slopes) chain(in, {{in.a, w}}, n);
            return;
        }
        for (std::size_t i = 0; i < n; ++i) out[i] = unaryValue(in.op, a[i]);
        if (!slopes) return;
        for (std::size_t i = 0; i < n; ++i) w[i] = unarySlope(in.op, a[i], out[i]);
        chain(in, {{in.a, w}}, n);
    }

    void binary(const Instruction& in, const double* a, const double* b, double* out, std::size_t n,
                bool slopes) {
        double *wa = weight(0), *wb = weight(1);
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
            }
            if (slopes) choose(in, wa, in.a, in.b, n);
            return;
        case Op::Voigt: {
            double* wc = weight(2);
            auto rows = [&](auto* of) { return std::span(of, n); };
            if (slopes)
                numerics::voigt(rows(a), rows(b), rows(value(in.c)), rows(out), rows(wa), rows(wb), rows(wc));
            else
                numerics::voigt(rows(a), rows(b), rows(value(in.c)), rows(out));
            if (slopes) chain(in, {{in.a, wa}, {in.b, wb}, {in.c, wc}}, n);
            return;
        }
        case Op::If: {
            const double* c = value(in.c);
            for (std::size_t i = 0; i < n; ++i) {
                const bool yes = a[i] != 0;
                out[i] = std::isnan(a[i]) ? a[i] : yes ? b[i] : c[i];
                wa[i] = yes ? 1 : 0;
            }
            if (slopes) choose(in, wa, in.b, in.c, n);
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
            for (std::size_t i = 0; i < n; ++i) {
                // The quotient spares a power, where it loses nothing.
                const bool plain =
                    std::abs(a[i]) > 1e-100 && std::abs(out[i]) > 1e-200 && std::isfinite(out[i]);
                wa[i] = b[i] == 0 ? 0 : b[i] * (plain ? out[i] / a[i] : powerValue(a[i], b[i] - 1));
            }
        if (!at(in.b).slots.empty())
            for (std::size_t i = 0; i < n; ++i) wb[i] = a[i] == 0 && b[i] > 0 ? 0 : out[i] * std::log(a[i]);
    }

    // The slopes of the one argument or the other: the one not taken may have none at all there, and does not
    // matter.
    void choose(const Instruction& in, const double* first, int one, int other, std::size_t n) {
        auto slopeOf = [&](int argument, int variable, std::size_t i) {
            const auto& slots = at(argument).slots;
            const auto found = std::ranges::find(slots, variable, &Slot::variable);
            return found == slots.end() ? 0.0 : found->reg < 0 ? 1.0 : reg(found->reg)[i];
        };
        for (const Slot& s : in.slots) {
            double* d = reg(s.reg);
            for (std::size_t i = 0; i < n; ++i)
                d[i] = first[i] != 0 ? slopeOf(one, s.variable, i) : slopeOf(other, s.variable, i);
        }
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

void Program::evaluate(std::span<const std::span<const double>> inputs, std::span<const double> scalars,
                       std::span<double> values, std::span<double> gradient) const {
    const std::size_t n = values.size();
    if (n == 0) return;
    const Instruction& root = code_[static_cast<std::size_t>(root_)];
    const bool slopes = !gradient.empty();
    if (slopes) // what the value does not depend on
        for (int v = 0; v < variables_; ++v)
            if (std::ranges::find(root.slots, v, &Slot::variable) == root.slots.end())
                std::ranges::fill(gradient.subspan(static_cast<std::size_t>(v) * n, n), 0.0);
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
