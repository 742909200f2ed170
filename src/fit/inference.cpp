// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/inference.h"

#include "formula/program.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <map>
#include <optional>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;
using LongMatrix = Eigen::Matrix<long double, -1, -1>;

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

// The free parameters that are not on a limit, without as many undetermined ones as the rank lacks: what is
// left spans the same tangents, so that all others have the errors that they have without those.
std::vector<std::uint8_t> independent(const FreeLayout& layout, const Attempt& a, const Matrices& J,
                                      const VectorXd& scale) {
    std::vector<std::uint8_t> active(a.atLimit.size());
    for (std::size_t k = 0; k < active.size(); ++k) active[k] = !a.atLimit[k];
    Index lacks = a.unseen.cols();
    if (lacks == 0) return active;
    Vectors nothing;
    for (const MatrixXd& m : J) nothing.push_back(VectorXd::Zero(m.rows()));
    for (double tolerance = 1e-14; lacks > 0 && tolerance < 1e-3;) {
        const auto dependent = BlockTriangle(layout, J, nothing, active, scale).dependent(tolerance);
        for (Index k : dependent)
            if (lacks > 0) {
                active[static_cast<std::size_t>(k)] = 0;
                --lacks;
            }
        if (dependent.empty()) tolerance *= 4;
    }
    return active;
}

// (JᵀJ)⁻¹ = root·rootᵀ of the given columns.
template <class Matrix> MatrixXd inverseRoot(const Matrix& jacobian, const std::vector<Index>& columns) {
    const auto m = static_cast<Index>(columns.size());
    Matrix a(jacobian.rows(), m);
    for (Index k = 0; k < m; ++k) a.col(k) = jacobian.col(columns[static_cast<std::size_t>(k)]);
    const auto scale = a.colwise().norm().transpose().eval();
    a = (a * scale.cwiseInverse().asDiagonal()).eval();
    const Matrix r =
        Eigen::HouseholderQR<Matrix>(a).matrixQR().topRows(m).template triangularView<Eigen::Upper>();
    const Matrix inverse = r.template triangularView<Eigen::Upper>().solve(Matrix::Identity(m, m));
    return (scale.cwiseInverse().asDiagonal() * inverse).template cast<double>();
}

// Each is read once in a thread.
const FollowingFormula* followingFormula(const std::string& text, const models::Model& model) {
    static thread_local std::map<std::string, FollowingFormula> known;
    std::string key = text;
    for (const models::ParameterInfo& p : model.parameters()) key += '\n' + p.name;
    const auto at = known.find(key);
    return at != known.end() ? &at->second
                             : &known.emplace(key, *FollowingFormula::read(text, model)).first->second;
}

// The range that the points of a member span.
AskedCurve askedOf(const FitMember& member) {
    const auto [low, high] = std::ranges::minmax(member.predictors[0]);
    const models::Model::Asked asked = member.model->asked();
    return {asked.model, (low - asked.origin) / asked.unit, (high - asked.origin) / asked.unit};
}

// Whether a quantity with this gradient is the same along all of them.
bool isSeen(const VectorXd& gradient, const MatrixXd& unseen) {
    for (Index s = 0; s < unseen.cols(); ++s) {
        const double size = gradient.cwiseAbs().dot(unseen.col(s).cwiseAbs());
        if (std::abs(gradient.dot(unseen.col(s))) > 1e-6 * size) return false;
    }
    return true;
}

bool dependsOnlyOnShared(const MemberReport& member, const VectorXd& gradient) {
    bool any = false;
    for (std::size_t k = 0; k < member.parameters.size(); ++k) {
        if (gradient[static_cast<Index>(k)] == 0) continue;
        any |= member.parameters[k].shared;
        if (!member.parameters[k].shared) return false;
    }
    return any;
}

DerivedResult derived(const DerivedNumber& number, const MemberReport& member, double t) {
    DerivedResult d{number.info.name, number.info.unit};
    const std::vector<double> values = member.values();
    VectorXd gradient(std::ssize(values));
    d.value = number.value(values, {gradient.data(), values.size()});
    bool known = member.root.size() > 0 && isSeen(gradient, member.unseen);
    for (std::size_t k = 0; k < values.size(); ++k)
        known &= gradient[static_cast<Index>(k)] == 0 || !member.parameters[k].atLimit;
    d.gradient.assign(gradient.begin(), gradient.end());
    d.shared = dependsOnlyOnShared(member, gradient);
    d.se = known ? (gradient.transpose() * member.root).norm() : kNaN;
    d.low = d.value - t * d.se;
    d.high = d.value + t * d.se;
    return d;
}

} // namespace

double tQuantile(double level, double dof) {
    const double upper = 0.5 + level / 2;
    if (std::isinf(dof)) return boost::math::quantile(boost::math::normal(), upper);
    if (!(dof > 0)) return kNaN;
    // Many fits of one kind ask for the same value.
    static thread_local double lastLevel = 0, lastDof = 0, last = 0;
    if (level != lastLevel || dof != lastDof) {
        last = boost::math::quantile(boost::math::students_t(dof), upper);
        lastLevel = level;
        lastDof = dof;
    }
    return last;
}

double tQuantile(const FitReport& report) {
    return tQuantile(report.level, report.absolute ? INFINITY : static_cast<double>(report.dof));
}

namespace {

// The directions that a triangle of unit columns does not see. Shape: columns × directions.
MatrixXd unseenBy(const MatrixXd& triangle) {
    const Index m = triangle.cols();
    MatrixXd square = MatrixXd::Zero(m, m);
    square.topRows(triangle.rows()) = triangle;
    // Only a triangle with a small pivot can hide a direction without effect; then the costly look is taken.
    if (m == 0 || square.diagonal().cwiseAbs().minCoeff() > 1e-4) return MatrixXd(m, 0);
    const Eigen::JacobiSVD<MatrixXd> svd(square, Eigen::ComputeFullV);
    Index lacks = 0;
    while (lacks < m && svd.singularValues()[m - 1 - lacks] <= 3e-13 * svd.singularValues()[0]) ++lacks;
    return svd.matrixV().rightCols(lacks);
}

} // namespace

MatrixXd undeterminedDirections(const FreeLayout& layout, const Matrices& J,
                                const std::vector<std::uint8_t>& leftOut) {
    VectorXd scale = columnNorms(layout, J);
    std::vector<std::uint8_t> active(static_cast<std::size_t>(layout.count), 0);
    std::vector<VectorXd> directions;
    for (Index k = 0; k < layout.count; ++k) {
        const auto i = static_cast<std::size_t>(k);
        if (leftOut[i]) continue;
        active[i] = scale[k] > 0 && std::isfinite(scale[k]);
        if (!active[i]) directions.push_back(VectorXd::Unit(layout.count, k)); // no effect at all
    }
    Vectors nothing;
    for (const MatrixXd& m : J) nothing.push_back(VectorXd::Zero(m.rows()));
    auto add = [&](const std::vector<Index>& places, const VectorXd& values) {
        VectorXd direction = VectorXd::Zero(layout.count);
        for (Index k = 0; k < values.size(); ++k) direction[places[static_cast<std::size_t>(k)]] = values[k];
        directions.push_back(std::move(direction));
    };
    std::optional<BlockTriangle> t(std::in_place, layout, J, nothing, active, scale, true);
    bool singular = false;
    for (std::size_t b = 0; b < layout.blocks(); ++b) {
        const MatrixXd unseen = unseenBy(t->ownTriangle(b));
        for (Index s = 0; s < unseen.cols(); ++s) add(t->ownActive(b), unseen.col(s));
        if (unseen.cols() == 0 || layout.shared() == 0) continue;
        // For the shared ones the block is seen with as many fewer columns.
        const Eigen::ColPivHouseholderQR<MatrixXd> qr(t->ownTriangle(b));
        for (Index s = 0; s < unseen.cols(); ++s) {
            const Index column = qr.colsPermutation().indices()[qr.cols() - 1 - s];
            active[static_cast<std::size_t>(t->ownActive(b)[static_cast<std::size_t>(column)])] = 0;
        }
        singular = true;
    }
    if (layout.shared() > 0) {
        if (singular) t.emplace(layout, J, nothing, active, scale);
        const MatrixXd unseen = unseenBy(t->sharedTriangle());
        for (Index s = 0; s < unseen.cols(); ++s) {
            add(t->sharedActive(), unseen.col(s));
            for (std::size_t b = 0; b < layout.blocks(); ++b) {
                const VectorXd own = t->answer(b) * unseen.col(s);
                for (Index k = 0; k < own.size(); ++k)
                    directions.back()[t->ownActive(b)[static_cast<std::size_t>(k)]] = own[k];
            }
            directions.back().normalize();
        }
    }
    MatrixXd out(layout.count, std::ssize(directions));
    for (Index i = 0; i < out.cols(); ++i) out.col(i) = directions[static_cast<std::size_t>(i)];
    return out;
}

namespace {

// Directions of a member's parameters along which the model does not change, with the scale of their effect.
MatrixXd unseenByMember(const Fitter& fitter, const Attempt& a, std::size_t m, const VectorXd& scale) {
    if (a.unseen.cols() == 0) return {};
    const FreeLayout& layout = fitter.map().layout();
    MatrixXd directions(layout.columns(m), a.unseen.cols());
    for (Index k = 0; k < directions.rows(); ++k) {
        const Index place = layout.place(m, k);
        directions.row(k) = a.unseen.row(place) / (scale[place] > 0 ? scale[place] : 1);
    }
    return fitter.map().slopes(m, a.values) * directions;
}

// Of each member: (JᵀJ)⁻¹ = root·rootᵀ, for its own free parameters and the shared ones.
class Roots {
public:
    Roots(const Fitter& fitter, const Attempt& a, const Matrices& J, const VectorXd& scale)
        : fitter_(fitter), active_(independent(fitter.map().layout(), a, J, scale)) {
        Vectors nothing;
        for (const MatrixXd& m : J) nothing.push_back(VectorXd::Zero(m.rows()));
        triangle_.emplace(fitter.map().layout(), J, nothing, active_, scale, true);
    }
    bool any() const { return std::ranges::count(active_, 1) > 0; }
    bool has(Index free) const { return active_[static_cast<std::size_t>(free)]; }
    Index own(std::size_t m) const { return std::ssize(triangle_->ownActive(m)); }

    MatrixXd of(std::size_t m) const {
        if (!fitter_.isLinear()) return triangle_->root(m);
        std::vector<Index> columns;
        for (Index k = 0; k < fitter_.map().freeCount(); ++k)
            if (has(k)) columns.push_back(k);
        const MatrixXd some = inverseRoot(fitter_.linearJacobian(), columns);
        MatrixXd out = MatrixXd::Zero(fitter_.map().freeCount(), std::ssize(columns));
        for (std::size_t k = 0; k < columns.size(); ++k)
            out.row(columns[k]) = some.row(static_cast<Index>(k));
        return out;
    }

private:
    const Fitter& fitter_;
    std::vector<std::uint8_t> active_;
    std::optional<BlockTriangle> triangle_;
};

} // namespace

void fillValues(const Fitter& fitter, const Attempt& a, FitReport& report) {
    const std::size_t count = fitter.map().parameters();
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        MemberReport& member = report.members[m];
        for (std::size_t k = 0; k < count; ++k) {
            const ParameterSpec& spec = fitter.specs()[m][k];
            member.parameters.push_back(
                {spec.name, a.values[m * count + k], kNaN, kNaN, kNaN, spec.treatment,
                 spec.shared && spec.treatment == Treatment::Free && report.members.size() > 1});
        }
    }
}

namespace {

// What an attempt found out about each free parameter, written to the members that have it.
void markFree(const Fitter& fitter, const Attempt& a, std::size_t m, MemberReport& member) {
    const FreeLayout& layout = fitter.map().layout();
    const MatrixXd slopes = fitter.map().slopes(m, a.values);
    for (std::size_t k = 0; k < member.parameters.size(); ++k) {
        if (member.parameters[k].treatment != Treatment::Free) continue;
        for (Index c = 0; c < layout.columns(m); ++c) {
            const auto place = static_cast<std::size_t>(layout.place(m, c));
            if (slopes(static_cast<Index>(k), c) != 1 || place >= a.atLimit.size()) continue;
            member.parameters[k].atLimit = a.atLimit[place];
            member.parameters[k].determined = !a.undetermined[place];
        }
    }
}

void addErrors(MemberReport& member, double t) {
    for (std::size_t k = 0; k < member.parameters.size(); ++k) {
        ParameterResult& p = member.parameters[k];
        const VectorXd alone = VectorXd::Unit(std::ssize(member.parameters), static_cast<Index>(k));
        const bool known = member.root.size() > 0 && p.determined && !p.atLimit &&
                           (p.treatment != Treatment::Tied || isSeen(alone, member.unseen));
        if (p.treatment == Treatment::Fixed)
            p.se = 0;
        else if (known)
            p.se = member.root.row(static_cast<Index>(k)).norm();
        p.low = p.value - t * p.se;
        p.high = p.value + t * p.se;
    }
}

} // namespace

double DerivedNumber::value(std::span<const double> p, std::span<double> gradient) const {
    return formula ? formula->value(curve, p, gradient) : curve.model->derive(which, p, gradient);
}

std::vector<DerivedNumber> derivedOf(const FitProblem& problem, std::size_t member) {
    const models::Model& model = *problem.members[member].model;
    std::vector<DerivedNumber> all;
    if (model.derived().empty() && problem.derive.empty()) return all;
    const AskedCurve curve = askedOf(problem.members[member]);
    auto add = [&](models::DerivedInfo info, std::size_t which) {
        const FollowingFormula* formula =
            info.formula.empty() ? nullptr : followingFormula(info.formula, model);
        if (formula && info.unit.empty()) info.unit = formula->unit();
        all.push_back({std::move(info), formula, curve, which});
    };
    for (std::size_t k = 0; k < model.derived().size(); ++k) add(model.derived()[k], k);
    for (const models::DerivedInfo& info : problem.derive) add(info, 0);
    return all;
}

namespace {

void addErrorsAndDerived(const Fitter& fitter, std::size_t m, FitReport& report) {
    MemberReport& member = report.members[m];
    const double t = tQuantile(report);
    addErrors(member, t);
    member.derived.clear();
    for (const DerivedNumber& number : derivedOf(fitter.problem(), m))
        member.derived.push_back(derived(number, member, t));
}

} // namespace

void infer(const Fitter& fitter, const Attempt& a, FitReport& report) {
    fillValues(fitter, a, report);
    const bool started = a.solved.end != SolverEnd::BadStart;
    const Matrices tangents = started ? fitter.jacobian(a) : Matrices();
    VectorXd scale;
    std::optional<Roots> roots;
    if (started) {
        scale = columnNorms(fitter.map().layout(), tangents);
        for (double& s : scale)
            if (!(s > 0)) s = 1;
        if (report.dof > 0) roots.emplace(fitter, a, tangents, scale);
    }
    const double unit = report.absolute ? 1.0 : report.residualSd;
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        MemberReport& member = report.members[m];
        markFree(fitter, a, m, member);
        if (started) member.unseen = unseenByMember(fitter, a, m, scale);
        if (roots && roots->any()) {
            member.root = fitter.map().slopes(m, a.values) * roots->of(m) * unit;
            member.own = roots->own(m);
        }
        addErrorsAndDerived(fitter, m, report);
    }
}

void replaceRoots(const Fitter& fitter, const Attempt& a, const MatrixXd& root, FitReport& report) {
    const FreeLayout& layout = fitter.map().layout();
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        MatrixXd mine(layout.columns(m), root.cols());
        for (Index k = 0; k < mine.rows(); ++k) mine.row(k) = root.row(layout.place(m, k));
        report.members[m].root = fitter.map().slopes(m, a.values) * mine;
        report.members[m].own = 0;
        addErrorsAndDerived(fitter, m, report);
    }
}

} // namespace jointer::fit
