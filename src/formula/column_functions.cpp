// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/column_functions.h"

#include "formula/program.h"
#include "numerics/compensated_sum.h"

#include <algorithm>
#include <bit>
#include <boost/math/special_functions/erf.hpp>
#include <cmath>
#include <date/date.h>
#include <deque>
#include <limits>
#include <numbers>

namespace jointer::formula {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
using Arguments = std::span<const std::vector<double>>;
using Out = std::span<double>;

void cumulative(Arguments a, Out out) {
    numerics::CompensatedSum sum;
    for (std::size_t i = 0; i < out.size(); ++i) {
        if (!std::isnan(a[0][i])) sum.add(a[0][i]);
        out[i] = std::isnan(a[0][i]) ? kNaN : sum.value();
    }
}

double argumentOr(Arguments a, std::size_t k, double fallback) {
    return k < a.size() && !a[k].empty() ? a[k][0] : fallback;
}

// The value so many rows above; below where the number is negative.
void previous(Arguments a, Out out) {
    const double by = std::round(argumentOr(a, 1, 1));
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double from = static_cast<double>(i) - by;
        out[i] =
            from >= 0 && from < static_cast<double>(out.size()) ? a[0][static_cast<std::size_t>(from)] : kNaN;
    }
}

void difference(Arguments a, Out out) {
    for (std::size_t i = 0; i < out.size(); ++i) out[i] = i > 0 ? a[0][i] - a[0][i - 1] : kNaN;
}

void rank(Arguments a, Out out) {
    std::vector<double> sorted;
    std::ranges::copy_if(a[0], std::back_inserter(sorted), [](double v) { return !std::isnan(v); });
    std::ranges::sort(sorted);
    for (std::size_t i = 0; i < out.size(); ++i) {
        const auto [first, last] = std::ranges::equal_range(sorted, a[0][i]);
        const double before = static_cast<double>(first - sorted.begin()),
                     end = static_cast<double>(last - sorted.begin());
        out[i] = std::isnan(a[0][i]) ? kNaN : (before + 1 + end) / 2;
    }
}

std::vector<double> presentIn(const std::vector<double>& column) {
    std::vector<double> there;
    std::ranges::copy_if(column, std::back_inserter(there), [](double v) { return !std::isnan(v); });
    return there;
}

double sumOf(const std::vector<double>& values) {
    numerics::CompensatedSum sum;
    for (double v : values) sum.add(v);
    return sum.value();
}

double meanOf(const std::vector<double>& values) {
    return values.empty() ? kNaN : sumOf(values) / static_cast<double>(values.size());
}

// One number of the whole column in every row.
template <class Number> void everywhere(Arguments a, Out out, Number number) {
    std::ranges::fill(out, number(presentIn(a[0])));
}

void total(Arguments a, Out out) {
    everywhere(a, out, sumOf);
}
void count(Arguments a, Out out) {
    everywhere(a, out, [](const std::vector<double>& v) { return static_cast<double>(v.size()); });
}
void mean(Arguments a, Out out) {
    everywhere(a, out, meanOf);
}
void sd(Arguments a, Out out) {
    everywhere(a, out, [](const std::vector<double>& v) {
        if (v.size() < 2) return kNaN;
        const double middle = meanOf(v);
        numerics::CompensatedSum squares;
        for (double x : v) squares.add((x - middle) * (x - middle));
        return std::sqrt(squares.value() / static_cast<double>(v.size() - 1));
    });
}
void median(Arguments a, Out out) {
    everywhere(a, out, [](std::vector<double> v) {
        if (v.empty()) return kNaN;
        std::ranges::sort(v);
        return (v[(v.size() - 1) / 2] + v[v.size() / 2]) / 2;
    });
}
void smallest(Arguments a, Out out) {
    everywhere(a, out, [](const std::vector<double>& v) { return v.empty() ? kNaN : std::ranges::min(v); });
}
void largest(Arguments a, Out out) {
    everywhere(a, out, [](const std::vector<double>& v) { return v.empty() ? kNaN : std::ranges::max(v); });
}

void range(Arguments a, Out out) {
    for (std::size_t i = 0; i < out.size(); ++i) out[i] = a[0][i] + a[1][i] * static_cast<double>(i);
}

// A number in (0, 1) for seed and row: the finaliser of SplitMix64 over a counter, so that a row keeps its
// number when the table grows. Source: G. L. Steele, D. Lea, C. H. Flood, OOPSLA 2014, 453.
double unitNumber(double seed, std::size_t row) {
    std::uint64_t z = std::bit_cast<std::uint64_t>(seed + 0.0) + 0x9e3779b97f4a7c15U * (row + 1);
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9U;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebU;
    z ^= z >> 31;
    return (static_cast<double>(z >> 11) + 0.5) * 0x1p-53;
}

void uniform(Arguments a, Out out) {
    for (std::size_t i = 0; i < out.size(); ++i) out[i] = unitNumber(a[0][i], i);
}
void normal(Arguments a, Out out) { // by the inverse of the distribution
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = -std::numbers::sqrt2 * boost::math::erfc_inv(2 * unitNumber(a[0][i], i));
}

// Parts of moments, which are seconds since 1970-01-01.
template <class Part> void partOfTime(Arguments a, Out out, Part part) {
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double t = a[0][i];
        if (!(std::abs(t) < 9e11)) { // beyond the calendar, or missing
            out[i] = kNaN;
            continue;
        }
        const auto days = date::floor<date::days>(
            date::sys_seconds(std::chrono::seconds(static_cast<long long>(std::floor(t)))));
        out[i] = part(t, days);
    }
}

void year(Arguments a, Out out) {
    partOfTime(a, out, [](double, date::sys_days d) {
        return static_cast<double>(static_cast<int>(date::year_month_day(d).year()));
    });
}
void month(Arguments a, Out out) {
    partOfTime(a, out, [](double, date::sys_days d) {
        return static_cast<double>(static_cast<unsigned>(date::year_month_day(d).month()));
    });
}
void day(Arguments a, Out out) {
    partOfTime(a, out, [](double, date::sys_days d) {
        return static_cast<double>(static_cast<unsigned>(date::year_month_day(d).day()));
    });
}
void dayOfYear(Arguments a, Out out) {
    partOfTime(a, out, [](double, date::sys_days d) {
        const date::sys_days first = date::year_month_day(d).year() / date::January / 1;
        return static_cast<double>((d - first).count() + 1);
    });
}
void hour(Arguments a, Out out) {
    partOfTime(a, out, [](double t, date::sys_days d) {
        return (t - static_cast<double>(d.time_since_epoch().count()) * 86400) / 3600;
    });
}

// Replaces calls of whole-column functions by names of columns that hold their values.
class Resolver {
public:
    Resolver(std::vector<std::string> names, std::vector<std::span<const double>> inputs, std::size_t rows)
        : names_(std::move(names)), inputs_(std::move(inputs)), rows_(rows) {}

    Result<std::vector<double>> evaluate(const NodePtr& root) {
        const auto plain = resolved(root);
        if (!plain) return std::unexpected(plain.error());
        const auto program =
            Program::compile(Expression::fromTree(*plain), names_, {}, Differentiate::Nothing);
        if (!program) return std::unexpected(program.error());
        std::vector<double> values(rows_);
        program->evaluate(inputs_, {}, values);
        return values;
    }

private:
    Result<NodePtr> resolved(const NodePtr& node) {
        if (node->op == Op::WholeColumn) return call(*node);
        Node copy = *node;
        for (NodePtr& argument : copy.arguments) {
            auto plain = resolved(argument);
            if (!plain) return plain;
            argument = *plain;
        }
        return std::make_shared<const Node>(std::move(copy));
    }

    Result<NodePtr> call(const Node& node) {
        std::vector<std::vector<double>> arguments;
        for (const NodePtr& argument : node.arguments) {
            auto values = evaluate(argument);
            if (!values) return std::unexpected(values.error());
            arguments.push_back(std::move(*values));
        }
        made_.emplace_back(rows_);
        const ColumnFunction& function = *findColumnFunction(node.name);
        if (!function.compute)
            return failure("formula",
                           node.name + " takes the name of a fit; only columns of tables know it.");
        function.compute(arguments, made_.back());
        names_.push_back("\n" + std::to_string(made_.size())); // no column has a line break in its name here
        inputs_.emplace_back(made_.back());
        return std::make_shared<const Node>(Node{Op::Name, 0, names_.back(), {}});
    }

    std::vector<std::string> names_;
    std::vector<std::span<const double>> inputs_;
    std::deque<std::vector<double>> made_; // keeps its places
    std::size_t rows_;
};

} // namespace

const std::vector<ColumnFunction>& columnFunctions() {
    static const std::vector<ColumnFunction> all = {
        {"cumulative", 1, 1, "sum from the first row to this one", cumulative},
        {"difference", 1, 1, "this row less the one above", difference},
        {"previous", 1, 2, "the row above, or so many rows above", previous},
        {"rank", 1, 1, "place of the number in the order of the column, from 1; equal ones share the mean",
         rank},
        {"total", 1, 1, "sum of the column", total},
        {"count", 1, 1, "how many cells hold a number", count},
        {"mean", 1, 1, "mean of the column", mean},
        {"sd", 1, 1, "sample SD of the column", sd},
        {"median", 1, 1, "median of the column", median},
        {"smallest", 1, 1, "smallest number of the column", smallest},
        {"largest", 1, 1, "largest number of the column", largest},
        {"range", 2, 2, "range(first, step): evenly spaced numbers", range},
        {"year", 1, 1, "year of a date", year},
        {"month", 1, 1, "month of a date, from 1", month},
        {"day", 1, 1, "day of the month of a date", day},
        {"dayofyear", 1, 1, "day of the year of a date, from 1", dayOfYear},
        {"hour", 1, 1, "hours since midnight, with fractions", hour},
        {"uniform", 1, 1, "random numbers between 0 and 1, by a seed", uniform},
        {"normal", 1, 1, "random numbers of mean 0 and SD 1, by a seed", normal},
        {"predicted", 2, 3, "predicted('Name of a fit', x): the fitted curve at x", nullptr},
        {"confidence", 2, 3, "confidence('Name of a fit', x): half width of the band of its curve", nullptr},
    };
    return all;
}

const ColumnFunction* findColumnFunction(std::string_view name) {
    const auto at = std::ranges::find(columnFunctions(), name, &ColumnFunction::name);
    return at == columnFunctions().end() ? nullptr : &*at;
}

Result<std::vector<double>> evaluateOverRows(const Expression& expression, std::vector<std::string> names,
                                             std::vector<std::span<const double>> inputs, std::size_t rows) {
    return Resolver(std::move(names), std::move(inputs), rows).evaluate(expression.root());
}

} // namespace jointer::formula
