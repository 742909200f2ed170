// SPDX-License-Identifier: GPL-3.0-or-later
// A curve as a linear combination of measured ones, such as reference spectra.
#include "base/text.h"
#include "describe/setting_makers.h"
#include "models/catalogue.h"
#include "models/start_values.h"
#include "numerics/spline.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::models {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

namespace {

struct Reference {
    std::string name;
    double low, high; // of x; beyond its ends it has its end values
    numerics::NaturalSpline curve;
    double first, last;

    double value(double x) const { return x <= low ? first : x >= high ? last : curve(x); }
    double slope(double x) const { return x < low || x > high ? 0 : curve.slope(x); }
};

enum class Shift { None, One, Each };

// The amounts on the simplex (none negative, sum 1) with the least squared distance, by exchanges between
// pairs. Shape: columns × amounts. Source: pairwise coordinate descent for convex quadratic problems.
VectorXd sharesOnSimplex(const MatrixXd& columns, const VectorXd& y) {
    const Index n = columns.cols();
    const MatrixXd g = columns.transpose() * columns;
    const VectorXd b = columns.transpose() * y;
    VectorXd a = VectorXd::Constant(n, 1.0 / static_cast<double>(n));
    for (int round = 0; round < 500; ++round) {
        double moved = 0;
        for (Index i = 0; i < n; ++i)
            for (Index j = 0; j < i; ++j) {
                const double curvature = g(i, i) + g(j, j) - 2 * g(i, j);
                if (!(curvature > 0)) continue;
                const double pull = (b - g * a)[i] - (b - g * a)[j];
                const double by = std::clamp(pull / curvature, -a[i], a[j]);
                a[i] += by;
                a[j] -= by;
                moved = std::max(moved, std::abs(by));
            }
        if (moved < 1e-10) break;
    }
    return a;
}

class Combination final : public Model {
public:
    Combination(std::vector<Reference> references, Shift shift, bool negative, bool sumIsOne,
                const Curve* fitted)
        : references_(std::move(references)), shift_(shift), negative_(negative), sumIsOne_(sumIsOne) {
        const std::size_t count = references_.size();
        for (std::size_t k = 0; k < count; ++k)
            parameters_.push_back({.name = fmt::format("amount{}", k + 1),
                                   .meaning = fmt::format("how much of “{}” there is", references_[k].name),
                                   .lowest = negative ? -INFINITY : 0});
        if (shift == Shift::One) parameters_.push_back({"shift", "of all curves along x", "x"});
        for (std::size_t k = 0; shift == Shift::Each && k < count; ++k)
            parameters_.push_back(
                {fmt::format("shift{}", k + 1), fmt::format("of “{}” along x", references_[k].name), "x"});
        if (sumIsOne)
            tieOne(fitted);
        else
            addShares();
    }

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }
    bool isLinear() const override { return shift_ == Shift::None; }

    std::string formula() const override {
        std::string text;
        for (std::size_t k = 0; k < references_.size(); ++k)
            text += fmt::format("{}{}*'{}'", k ? " + " : "", parameters_[k].name, references_[k].name);
        return text;
    }

    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::span<const double> x = xs[0];
        const std::size_t n = x.size(), count = references_.size();
        std::ranges::fill(values, 0);
        std::ranges::fill(gradient, 0);
        for (std::size_t k = 0; k < count; ++k) {
            const std::size_t own = shiftOf(k);
            const double shift = shift_ == Shift::None ? 0 : p[own];
            for (std::size_t i = 0; i < n; ++i) {
                const double r = references_[k].value(x[i] - shift);
                values[i] += p[k] * r;
                if (gradient.empty()) continue;
                gradient[k * n + i] = r;
                if (shift_ != Shift::None) gradient[own * n + i] -= p[k] * references_[k].slope(x[i] - shift);
            }
        }
    }

    // Without shifts the amounts by least squares, none below its limit.
    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        const SortedPoints points = sortedPoints(curve);
        if (points.size() == 0) return std::nullopt;
        const MatrixXd columns = columnsAt(points.x);
        const Eigen::Map<const VectorXd> y(points.y.data(), std::ssize(points.y));
        VectorXd amounts;
        if (sumIsOne_ && !negative_)
            amounts = sharesOnSimplex(columns, y);
        else
            amounts = columns.colPivHouseholderQr().solve(y);
        std::vector<double> out(parameters_.size(), 0.0);
        for (Index k = 0; k < amounts.size(); ++k)
            out[static_cast<std::size_t>(k)] = negative_ ? amounts[k] : std::max(amounts[k], 0.0);
        return out;
    }

private:
    std::size_t shiftOf(std::size_t k) const { return references_.size() + (shift_ == Shift::Each ? k : 0); }

    MatrixXd columnsAt(const std::vector<double>& x) const {
        MatrixXd columns(std::ssize(x), std::ssize(references_));
        for (std::size_t k = 0; k < references_.size(); ++k)
            for (std::size_t i = 0; i < x.size(); ++i)
                columns(static_cast<Index>(i), static_cast<Index>(k)) = references_[k].value(x[i]);
        return columns;
    }

    void addShares() {
        const std::size_t count = references_.size();
        if (count < 2) return;
        std::string total;
        for (std::size_t k = 0; k < count; ++k) total += (k ? " + " : "") + parameters_[k].name;
        derived_.push_back({"total", total, ""});
        for (std::size_t k = 0; k < count; ++k)
            derived_.push_back(
                {fmt::format("share{}", k + 1), fmt::format("amount{}/({})", k + 1, total), ""});
    }

    // The amount that follows from the others is the largest one: that is never on a limit.
    void tieOne(const Curve* fitted) {
        std::size_t largest = references_.size() - 1;
        if (fitted) {
            const SortedPoints points = sortedPoints(*fitted);
            const Eigen::Map<const VectorXd> y(points.y.data(), std::ssize(points.y));
            Index at = 0;
            if (points.size() > 0) {
                sharesOnSimplex(columnsAt(points.x), y).maxCoeff(&at);
                largest = static_cast<std::size_t>(at);
            }
        }
        std::string others = "1";
        for (std::size_t k = 0; k < references_.size(); ++k) {
            if (k != largest) others += " - " + parameters_[k].name;
            if (!negative_) parameters_[k].highest = 1;
        }
        parameters_[largest].tie = others;
    }

    std::vector<Reference> references_;
    Shift shift_;
    bool negative_, sumIsOne_;
    std::vector<ParameterInfo> parameters_;
    std::vector<DerivedInfo> derived_;
};

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "measured-curves",
        .name = "Measured curves combined",
        .purpose =
            "How much of each of several measured curves makes up this one, such as of the spectra of pure "
            "substances",
        .group = "Measured curves",
        .settings = {
            references("curves", "Curves", "dataset",
                       "The curves that are combined, as their protocols leave them. Beyond its ends a curve "
                       "is taken to stay as it ends.",
                       {.whenEmpty = "choose"}),
            choice("shift", "Shift",
                   {{"none", "held at zero"}, {"one", "one for all"}, {"each", "one for each"}},
                   "Whether the curves may be moved along x."),
            flag("negative", "Below zero", false, "Amounts may be negative."),
            flag("sum-is-one", "Sum is one", false,
                 "The amounts are shares that add up to one; the largest follows from the others.")}};
    return kind;
}

Result<ModelPtr> read(const Settings& settings, const ModelContext& context) {
    std::vector<Reference> references;
    for (const std::string& id : settings.references("curves")) {
        const auto at = context.curves.find(id);
        const Curve none{.x = {0, 1}, .y = {1, 1}}; // where only the parameters matter
        if (at == context.curves.end() && !context.curves.empty())
            return failure("dataset-gone", "A curve that is combined is not there: choose others.");
        const Curve& curve = at == context.curves.end() ? none : *at->second.curve;
        const SortedPoints points = sortedPoints(curve);
        const std::string name = at == context.curves.end() ? id : at->second.name;
        if (points.size() < 2)
            return failure("no-points", fmt::format("“{}” has no points to be combined.", name));
        references.push_back({name, points.x.front(), points.x.back(),
                              numerics::NaturalSpline(points.x, points.y), points.y.front(),
                              points.y.back()});
    }
    if (references.empty())
        return failure("no-curves", "Choose the curves that are combined, under “Curves”.");
    if (settings.flag("sum-is-one") && references.size() < 2)
        return failure("no-curves", "Shares that add up to one need at least two curves.");
    const std::string shift = info().text(settings, "shift");
    return std::make_shared<Combination>(std::move(references),
                                         shift == "one"    ? Shift::One
                                         : shift == "each" ? Shift::Each
                                                           : Shift::None,
                                         settings.flag("negative"), settings.flag("sum-is-one"),
                                         context.fitted.get());
}

// For lists: two curves that stand for any.
ModelPtr standIn(const Settings& given) {
    Settings settings = given;
    if (settings.references("curves").empty())
        settings.set("curves", Value(References{{"first curve"}, {"second curve"}}));
    auto made = read(settings, {});
    return made ? *made : nullptr;
}

} // namespace

std::vector<ModelKind> measuredCurveModels() {
    return {{info(), standIn, read}};
}

} // namespace jointer::models
