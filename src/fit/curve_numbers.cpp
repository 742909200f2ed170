// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/curve_numbers.h"

#include "base/text.h"
#include "numerics/quadrature.h"

#include <Eigen/Dense>
#include <algorithm>
#include <boost/math/tools/minima.hpp>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace jointer::fit {

using Eigen::RowVectorXd;

namespace {

constexpr std::size_t kScan = 2000; // places at which a range is looked through
constexpr int kAreaPieces = 64;     // so that narrow peaks are not missed
constexpr int kHalvings = 12;       // of a difference quotient

// A number with its slopes by the parameters and by the arguments that were given.
struct Asked {
    double value = std::nan("");
    RowVectorXd byParameters;
    std::vector<double> byArguments;
};

// A fitted curve at fixed parameters.
class Shape {
public:
    Shape(const AskedCurve& curve, std::span<const double> parameters)
        : curve_(curve), p_(parameters), count_(static_cast<Eigen::Index>(parameters.size())) {}

    double low() const { return curve_.low; }
    double high() const { return curve_.high; }

    std::vector<double> at(std::span<const double> xs) const {
        std::vector<double> y(xs.size());
        curve_.model->evaluate({&xs, 1}, p_, y);
        return y;
    }
    double at(double x) const { return at(std::span(&x, 1))[0]; }

    RowVectorXd tangent(double x) const {
        RowVectorXd g(count_);
        double y = 0;
        const std::span<const double> xs(&x, 1);
        curve_.model->evaluate({&xs, 1}, p_, {&y, 1}, {g.data(), static_cast<std::size_t>(count_)});
        return g;
    }

    // The slope of the value by x, and of the tangents by x. Ridders' extrapolation of central differences
    // (C. J. F. Ridders, Adv. Eng. Softw. 4 (1982) 75), for all at the steps that are best for the value.
    struct Slope {
        double y = 0;
        RowVectorXd tangent;
    };
    Slope slope(double x) const {
        std::vector<std::vector<RowVectorXd>> table;
        double width = 0.02 * std::max(curve_.high - curve_.low, 1e-9 * std::abs(x));
        if (!(width > 0)) width = std::max(1e-3, 1e-3 * std::abs(x));
        RowVectorXd best = RowVectorXd::Constant(count_ + 1, std::nan(""));
        double error = INFINITY;
        const int side = sideOf(x, width);
        for (int i = 0; i < kHalvings; ++i, width /= 1.6) {
            table.push_back({difference(x, width, side)});
            double factor = side == 0 ? 1 : 1.6; // the errors go by even powers of the step, or by all
            for (std::size_t k = 1; k < table.size(); ++k) {
                factor *= side == 0 ? 1.6 * 1.6 : 1.6;
                const RowVectorXd finer = table.back()[k - 1], coarser = table[table.size() - 2][k - 1];
                table.back().push_back((finer * factor - coarser) / (factor - 1));
                const double off = std::max(std::abs(table.back()[k][0] - finer[0]),
                                            std::abs(table.back()[k][0] - coarser[0]));
                if (off <= error) error = off, best = table.back()[k];
            }
            if (table.size() > 1 && std::abs(table.back().back()[0] - table[table.size() - 2].back()[0]) >
                                        4 * std::max(error, 1e-300))
                break;
        }
        return {best[0], best.tail(count_)};
    }
    // The second derivative by x, from slopes on both sides.
    double curvature(double x) const {
        const double width = 1e-4 * std::max(curve_.high - curve_.low, 1e-9 * std::abs(x));
        return (slope(x + width).y - slope(x - width).y) / (2 * width);
    }

    Asked area(double from, double to) const {
        Asked out{.byParameters = RowVectorXd::Zero(count_)};
        const numerics::Integrand f = [this](std::span<const double> xs, std::span<double> values,
                                             std::span<double> gradient) {
            curve_.model->evaluate({&xs, 1}, p_, values, gradient);
        };
        out.value = numerics::integral(
            f, from, to, {out.byParameters.data(), static_cast<std::size_t>(count_)}, kAreaPieces);
        out.byArguments = {-at(from), at(to)};
        return out;
    }

    // sign 1: of the largest value, −1: of the smallest. `place`: the x of it is asked for.
    Asked extreme(double from, double to, double sign, bool place) const {
        Asked out{.byParameters = RowVectorXd::Zero(count_), .byArguments = {0, 0}};
        if (!(from < to)) return out;
        const auto [xs, ys] = scan(from, to);
        std::size_t top = xs.size();
        for (std::size_t i = 0; i < xs.size(); ++i)
            if (std::isfinite(ys[i]) && (top == xs.size() || sign * ys[i] > sign * ys[top])) top = i;
        if (top == xs.size()) return out;
        const auto [x, edge] = refined(xs, top, sign);
        const Slope slope = this->slope(x);
        if (place) {
            out.value = x;
            if (edge)
                out.byArguments[top == 0 ? 0 : 1] = 1;
            else
                out.byParameters = -slope.tangent / curvature(x);
            return out;
        }
        out.value = at(x);
        out.byParameters = tangent(x);
        if (edge) out.byArguments[top == 0 ? 0 : 1] = slope.y;
        return out;
    }

    Asked crossing(double y, double from, double to) const {
        Asked out{.byParameters = RowVectorXd::Zero(count_), .byArguments = {0, 0, 0}};
        const std::optional<double> x = firstAt(y, from, to);
        if (!x) return out;
        const double slope = this->slope(*x).y;
        out.value = *x;
        out.byParameters = -tangent(*x) / slope;
        out.byArguments[0] = 1 / slope;
        return out;
    }

    Eigen::Index parameters() const { return count_; }

private:
    // The first place from one end to the other at which the curve is y.
    std::optional<double> firstAt(double y, double from, double to) const {
        const auto [xs, ys] = scan(from, to);
        for (std::size_t i = 0; i < xs.size(); ++i) {
            if (ys[i] == y) return xs[i];
            if (i + 1 == xs.size()) break;
            const double a = ys[i] - y, b = ys[i + 1] - y;
            if (!std::isfinite(a) || !std::isfinite(b) || b == 0 || (a > 0) == (b > 0)) continue;
            std::uintmax_t most = 200;
            const double low = std::min(xs[i], xs[i + 1]), high = std::max(xs[i], xs[i + 1]);
            const bool turned = xs[i + 1] < xs[i];
            const auto bracket = boost::math::tools::toms748_solve(
                [&](double u) { return at(u) - y; }, low, high, turned ? b : a, turned ? a : b,
                boost::math::tools::eps_tolerance<double>(50), most);
            return (bracket.first + bracket.second) / 2;
        }
        return std::nullopt;
    }

    // Of the value and then of the tangents; on one side of x alone where there is nothing on the other.
    RowVectorXd difference(double x, double width, int side) const {
        std::vector<double> places = {x - width, x + width}, shares = {-0.5, 0.5};
        if (side != 0) {
            places = {x, x + side * width, x + 2 * side * width};
            shares = {-1.5 * side, 2.0 * side, -0.5 * side};
        }
        const std::size_t n = places.size();
        std::vector<double> y(n), g(n * static_cast<std::size_t>(count_));
        const std::span<const double> xs(places);
        curve_.model->evaluate({&xs, 1}, p_, y, g);
        RowVectorXd out = RowVectorXd::Zero(count_ + 1);
        for (std::size_t i = 0; i < n; ++i) {
            out[0] += shares[i] * y[i] / width;
            for (Eigen::Index k = 0; k < count_; ++k)
                out[k + 1] += shares[i] * g[static_cast<std::size_t>(k) * n + i] / width;
        }
        return out;
    }

    // 0: the curve goes on at both sides of x; 1: only above, −1: only below.
    int sideOf(double x, double width) const {
        const bool below = std::isfinite(at(x - width)), above = std::isfinite(at(x + width));
        return below == above ? 0 : above ? 1 : -1;
    }

    std::pair<std::vector<double>, std::vector<double>> scan(double from, double to) const {
        std::vector<double> xs(kScan + 1);
        for (std::size_t i = 0; i <= kScan; ++i)
            xs[i] =
                i == kScan ? to : from + (to - from) * static_cast<double>(i) / static_cast<double>(kScan);
        std::vector<double> ys = at(xs);
        return {std::move(xs), std::move(ys)};
    }

    // The best place about a scanned one, and whether it is an end of the range.
    std::pair<double, bool> refined(const std::vector<double>& xs, std::size_t top, double sign) const {
        const double a = xs[top == 0 ? 0 : top - 1], b = xs[std::min(top + 1, xs.size() - 1)];
        double x = boost::math::tools::brent_find_minima(
                       [&](double u) {
                           const double y = at(u);
                           return std::isfinite(y) ? -sign * y : INFINITY;
                       },
                       a, b, 40)
                       .first;
        const bool outer = top == 0 || top + 1 == xs.size();
        const double end = xs[top];
        if (outer && sign * at(x) <= sign * at(end)) return {end, true};
        // Where the slope is zero, more exactly than values can tell.
        for (int i = 0; i < 4; ++i) {
            const double by = slope(x).y / curvature(x);
            if (!std::isfinite(by) || x - by < a || x - by > b) break;
            x -= by;
        }
        return {x, false};
    }

    const AskedCurve& curve_;
    std::span<const double> p_;
    Eigen::Index count_;
};

Asked ask(const std::string& function, const Shape& shape, const std::vector<double>& arguments) {
    auto end = [&](std::size_t k, double whole) { return k < arguments.size() ? arguments[k] : whole; };
    const double from = end(0, shape.low()), to = end(1, shape.high());
    if (!std::ranges::all_of(arguments, [](double a) { return std::isfinite(a); }))
        return {.byParameters = RowVectorXd::Zero(shape.parameters()), .byArguments = {0, 0, 0}};
    if (function == "value")
        return {shape.at(arguments[0]), shape.tangent(arguments[0]), {shape.slope(arguments[0]).y}};
    if (function == "slope") {
        const Shape::Slope s = shape.slope(arguments[0]);
        return {s.y, s.tangent, {shape.curvature(arguments[0])}};
    }
    if (function == "area") return shape.area(from, to);
    if (function == "crossing")
        return shape.crossing(arguments[0], end(1, shape.low()), end(2, shape.high()));
    const double sign = function.starts_with("max") ? 1 : -1;
    return shape.extreme(from, to, sign, function.ends_with("_at"));
}

std::string unitOf(const std::string& function) {
    if (function == "slope") return "y/x";
    if (function == "area") return "xy";
    return function == "crossing" || function.ends_with("_at") ? "x" : "y";
}

std::string nameOf(std::size_t call) {
    return fmt::format("number {} of the curve", call + 1);
}

} // namespace

// Takes the calls out of a tree, the inner ones first.
class FollowingFormula::Reader {
public:
    Reader(FollowingFormula& into, std::vector<std::string> names) : into_(into), names_(std::move(names)) {}

    Result<void> read(const formula::Expression& expression) {
        const formula::NodePtr root = without(expression.root());
        if (!issue_.text.empty()) return std::unexpected(issue_);
        auto whole = formula::Program::compile(formula::Expression::fromTree(root), {}, names_);
        if (!whole) return std::unexpected(whole.error());
        into_.whole_ = std::move(*whole);
        if (root->op == formula::Op::Name && !into_.calls_.empty())
            into_.unit_ = unitOf(into_.calls_.back().function);
        return {};
    }

private:
    formula::NodePtr without(const formula::NodePtr& node) {
        auto copy = std::make_shared<formula::Node>(*node);
        for (formula::NodePtr& argument : copy->arguments) argument = without(argument);
        if (node->op != formula::Op::OfCurve) return copy;
        Call call{.function = node->name};
        for (const formula::NodePtr& argument : copy->arguments) {
            auto program = formula::Program::compile(formula::Expression::fromTree(argument), {}, names_);
            if (!program) {
                if (issue_.text.empty()) issue_ = program.error();
                return copy;
            }
            call.arguments.push_back(std::move(*program));
        }
        names_.push_back(nameOf(into_.calls_.size()));
        into_.calls_.push_back(std::move(call));
        return std::make_shared<formula::Node>(formula::Node{formula::Op::Name, 0, names_.back(), {}});
    }

    FollowingFormula& into_;
    std::vector<std::string> names_; // of the parameters, then of the calls so far
    Issue issue_;
};

Result<FollowingFormula> FollowingFormula::read(const std::string& text, const models::Model& model) {
    const auto expression = formula::Expression::parse(text, formula::Vocabulary::Curve);
    if (!expression) return std::unexpected(expression.error());
    std::vector<std::string> names;
    for (const models::ParameterInfo& p : model.parameters()) names.push_back(p.name);
    FollowingFormula out;
    if (auto good = Reader(out, names).read(*expression); !good) {
        if (good.error().code != "unknown-name") return std::unexpected(good.error());
        const auto known = std::ranges::find_if(expression->names(), [&](const std::string& used) {
            return std::ranges::find(names, used) == names.end();
        });
        return failure("formula",
                       fmt::format("“{}” is not known here; the parameters are {}.",
                                   known == expression->names().end() ? text : *known, joined(names, ", ")));
    }
    if (!out.calls_.empty() && model.predictorCount() > 1)
        return failure("formula", fmt::format("{} needs a curve over one predictor; this model has {}.",
                                              out.calls_.front().function, model.predictorCount()));
    return out;
}

double FollowingFormula::value(const AskedCurve& curve, std::span<const double> parameters,
                               std::span<double> gradient) const {
    double v = 0;
    if (calls_.empty()) {
        whole_.evaluate({}, parameters, {&v, 1}, gradient);
        return v;
    }
    const Shape shape(curve, parameters);
    const auto count = static_cast<Eigen::Index>(parameters.size());
    std::vector<double> known(parameters.begin(), parameters.end());
    // ∂(known)/∂(parameters), row by row.
    Eigen::MatrixXd slopes = Eigen::MatrixXd::Identity(count + std::ssize(calls_), count);
    // A program's value at what is known by then, and its slopes by the parameters.
    const auto run = [&](const formula::Program& program, RowVectorXd& by) {
        double out = 0;
        RowVectorXd direct = RowVectorXd::Zero(std::ssize(known));
        program.evaluate({}, known, {&out, 1}, {direct.data(), known.size()});
        by = direct * slopes.topRows(std::ssize(known));
        return out;
    };
    for (const Call& call : calls_) {
        std::vector<double> arguments(call.arguments.size());
        std::vector<RowVectorXd> by(call.arguments.size());
        for (std::size_t k = 0; k < arguments.size(); ++k) arguments[k] = run(call.arguments[k], by[k]);
        Asked asked = ask(call.function, shape, arguments);
        for (std::size_t k = 0; k < arguments.size(); ++k)
            if (by[k].any()) asked.byParameters += asked.byArguments[k] * by[k];
        slopes.row(std::ssize(known)) = asked.byParameters;
        known.push_back(asked.value);
    }
    RowVectorXd by;
    v = run(whole_, by);
    std::ranges::copy(by, gradient.begin());
    return v;
}

} // namespace jointer::fit
