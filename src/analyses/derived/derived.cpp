// SPDX-License-Identifier: GPL-3.0-or-later
// Errors: Σ over independent directions of (gradient · their rows)², as analyses/covariance.h keeps them;
// where a formula is curved, the same directions are drawn. Degrees of freedom of several sources by Welch
// and Satterthwaite.
#include "analyses/derived/names.h"

#include "base/text.h"
#include "fit/fit.h"
#include "formula/lines.h"
#include "formula/program.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <random>
#include <set>

namespace jointer::analyses {

namespace {

constexpr std::size_t kDraws = 40000;
constexpr double kCurved = 0.1; // of the half-width, by which an end may move before the curvature counts
constexpr double kInfiniteDof = 1e9;

double dofOf(const AnalysisResult& result) {
    const Quantity* dof = result.find("dof");
    return dof && dof->value > 0 ? dof->value : kInfiniteDof;
}

// The independent directions of error of all sources, one behind the other.
class Directions {
public:
    explicit Directions(const DerivedTask& task) : task_(task) {}

    // What one standard error along each direction does to the ground. Makes room for those that are new.
    Eigen::RowVectorXd rowOf(const DerivedGround& g) {
        std::vector<std::pair<Eigen::Index, double>> entries;
        if (g.source < 0) {
            if (g.ownError > 0 && std::isfinite(g.ownError))
                entries.emplace_back(place({-1, 0, g.name}, 1), g.ownError);
        } else {
            const ErrorRow& row =
                task_.sources[static_cast<std::size_t>(g.source)].result->covariance.row(g.quantity);
            const auto add = [&](int block, const Eigen::RowVectorXd& part) {
                if (part.size() == 0) return;
                const Eigen::Index first = place({g.source, block, {}}, part.size());
                for (Eigen::Index k = 0; k < part.size(); ++k) entries.emplace_back(first + k, part[k]);
            };
            if (row.block >= 0) add(row.block, row.own);
            add(-1, row.common);
        }
        Eigen::RowVectorXd out = Eigen::RowVectorXd::Zero(count_);
        for (const auto& [at, value] : entries) out[at] = value;
        return out;
    }
    Eigen::Index count() const { return count_; }
    // Of which source each direction is; −1: none.
    int sourceOf(Eigen::Index direction) const { return sources_[static_cast<std::size_t>(direction)]; }

private:
    using Key = std::tuple<int, int, std::string>;
    Eigen::Index place(const Key& key, Eigen::Index size) {
        const auto [at, fresh] = places_.try_emplace(key, count_);
        if (fresh) {
            count_ += size;
            sources_.insert(sources_.end(), static_cast<std::size_t>(size), std::get<0>(key));
        }
        return at->second;
    }

    const DerivedTask& task_;
    std::map<Key, Eigen::Index> places_;
    std::vector<int> sources_;
    Eigen::Index count_ = 0;
};

Eigen::RowVectorXd padded(const Eigen::RowVectorXd& row, Eigen::Index size) {
    Eigen::RowVectorXd out = Eigen::RowVectorXd::Zero(size);
    out.head(row.size()) = row;
    return out;
}

class Deriver {
public:
    explicit Deriver(const DerivedTask& task) : task_(task), names_(task), directions_(task) {}

    Result<AnalysisResult> all() {
        for (const DerivedFormula& f : task_.formulas)
            if (auto done = one(f); !done) return std::unexpected(done.error());
        for (const auto& [row, known] : rows_)
            out_.covariance.add({.common = padded(row, directions_.count()), .known = known});
        out_.state = "done";
        sayRest();
        return std::move(out_);
    }

private:
    Result<void> one(const DerivedFormula& f) {
        const auto fail = [&](const Issue& issue) {
            Issue told = issue;
            told.place.line = f.line;
            return std::unexpected(std::move(told));
        };
        std::map<std::string, Unit> units = earlierUnits_;
        for (const std::string& name : f.expression.names()) {
            if (earlier_.contains(name)) continue;
            const auto ground = names_.find(name);
            if (!ground) return fail(ground.error());
            units[name] = ground->unit;
        }
        formula::Measured measured = formula::measured(f.expression, units);
        if (f.wished) measured = formula::measuredIn(std::move(measured), *f.wished);
        for (const std::string& clash : measured.clashes) say("unit-clash", f.name + ": " + clash);
        for (const std::string& taken : measured.taken) say("unit-taken", f.name + ": " + taken + ".");
        // Earlier lines are put in as they are computed: each has its unit already.
        measured.expression = formula::withNames(measured.expression, earlier_);
        const std::vector<std::string>& names = measured.expression.names();
        earlier_[f.name] = measured.expression;
        earlierUnits_[f.name] = measured.unit;
        std::vector<DerivedGround> grounds;
        for (const std::string& name : names) grounds.push_back(*names_.find(name));
        const auto program = formula::Program::compile(measured.expression, {}, names);
        if (!program) return fail(program.error());
        Quantity q = quantityOf(f, measured, grounds, *program);
        out_.quantities.push_back(std::move(q));
        return {};
    }

    Quantity quantityOf(const DerivedFormula& f, const formula::Measured& measured,
                        const std::vector<DerivedGround>& grounds, const formula::Program& program) {
        Quantity q{.key = f.name,
                   .label = f.name,
                   .meaning = f.expression.text(),
                   .unit = measured.unit.text(),
                   .state = "summary"};
        std::vector<double> values, gradient(grounds.size());
        for (const DerivedGround& g : grounds) values.push_back(g.value);
        program.evaluate({}, values, std::span(&q.value, 1), gradient);
        bool known = std::ranges::all_of(grounds, &DerivedGround::known);
        Eigen::RowVectorXd row = Eigen::RowVectorXd::Zero(0);
        for (std::size_t i = 0; i < grounds.size(); ++i) {
            const Eigen::RowVectorXd part = directions_.rowOf(grounds[i]);
            row = padded(row, directions_.count());
            row += gradient[i] * padded(part, directions_.count());
        }
        if (!std::isfinite(q.value)) {
            q.good = false;
            say("no-value", f.name + " has no value: the formula is outside of its domain.");
            known = false;
        }
        if (!known && std::isfinite(q.value)) sayUnknown(f.name, grounds);
        q.se = known ? row.norm() : NAN;
        if (known && q.se > 0) setInterval(q, row, grounds, measured.expression, program.isLinearInScalars());
        rows_.emplace_back(std::move(row), known);
        return q;
    }

    void sayUnknown(const std::string& name, const std::vector<DerivedGround>& grounds) {
        for (const DerivedGround& g : grounds)
            if (!g.known)
                say("no-error", fmt::format("{} has no error: that of {} is not known.", name, g.name));
    }

    // Welch and Satterthwaite, over the sources.
    double dofOf(const Eigen::RowVectorXd& row) const {
        std::map<int, double> variances;
        for (Eigen::Index k = 0; k < row.size(); ++k) variances[directions_.sourceOf(k)] += row[k] * row[k];
        double all = 0, below = 0;
        for (const auto& [source, variance] : variances) {
            all += variance;
            if (source >= 0) below += variance * variance / sourceDof(source);
        }
        return below > 0 ? std::min(kInfiniteDof, all * all / below) : kInfiniteDof;
    }
    double sourceDof(int source) const {
        return analyses::dofOf(*task_.sources[static_cast<std::size_t>(source)].result);
    }

    void setInterval(Quantity& q, const Eigen::RowVectorXd& row, const std::vector<DerivedGround>& grounds,
                     const formula::Expression& expression, bool isLinear) {
        const double dof = dofOf(row);
        const double t = fit::tQuantile(0.95, dof);
        q.low = q.value - t * q.se;
        q.high = q.value + t * q.se;
        const bool asked = task_.errors == DerivedErrors::Simulated;
        if (task_.errors == DerivedErrors::FirstOrder || (isLinear && !asked)) return;
        const auto drawn = simulated(grounds, expression);
        if (drawn.first.empty()) return;
        const double low = stats::quantile(drawn.first, 0.025), high = stats::quantile(drawn.first, 0.975),
                     half = t * q.se;
        const bool curved =
            std::abs(low - q.low) > kCurved * half || std::abs(high - q.high) > kCurved * half;
        if (drawn.second > kDraws / 1000)
            say("outside-domain", fmt::format("{}: {:.1f} % of the draws of what it rests on give no value; "
                                              "its interval leaves them out.",
                                              q.label, 100.0 * static_cast<double>(drawn.second) / kDraws));
        if (!curved && !asked) return;
        q.low = low;
        q.high = high;
        simulated_.push_back(q.label);
        if ((low < 0) != (high < 0) && q.value != 0 && (high - low) > 6 * half) {
            q.good = false;
            say("unbounded", fmt::format("{} is hardly known: what it is divided by may be zero.", q.label));
        }
    }

    // Draws of the value in ascending order, and how many had none.
    std::pair<std::vector<double>, std::size_t> simulated(const std::vector<DerivedGround>& grounds,
                                                          const formula::Expression& expression) {
        std::vector<Eigen::RowVectorXd> parts;
        std::vector<std::string> names;
        for (const DerivedGround& g : grounds) {
            parts.push_back(directions_.rowOf(g));
            names.push_back(g.name);
        }
        std::set<Eigen::Index> used; // directions that matter
        for (Eigen::RowVectorXd& p : parts) {
            p = padded(p, directions_.count());
            for (Eigen::Index k = 0; k < p.size(); ++k)
                if (p[k] != 0) used.insert(k);
        }
        if (used.empty() || used.size() > 400) return {};
        std::mt19937_64 random(20310502);
        std::normal_distribution<double> normal;
        std::map<int, std::chi_squared_distribution<double>> chi;
        for (Eigen::Index k : used)
            if (const int s = directions_.sourceOf(k); s >= 0 && sourceDof(s) < 1e6)
                chi.emplace(s, std::chi_squared_distribution<double>(sourceDof(s)));
        std::vector<std::vector<double>> columns(grounds.size(), std::vector<double>(kDraws));
        std::map<int, double> wider;
        for (std::size_t n = 0; n < kDraws; ++n) {
            for (auto& [source, distribution] : chi)
                wider[source] = std::sqrt(sourceDof(source) / distribution(random));
            for (std::size_t i = 0; i < grounds.size(); ++i) columns[i][n] = grounds[i].value;
            for (Eigen::Index k : used) {
                const auto factor = wider.find(directions_.sourceOf(k));
                const double z = normal(random) * (factor == wider.end() ? 1 : factor->second);
                for (std::size_t i = 0; i < grounds.size(); ++i) columns[i][n] += z * parts[i][k];
            }
        }
        const auto program =
            formula::Program::compile(expression, names, {}, formula::Differentiate::Nothing);
        if (!program) return {};
        std::vector<std::span<const double>> inputs(columns.begin(), columns.end());
        std::vector<double> values(kDraws);
        program->evaluate(inputs, {}, values);
        const auto none = std::erase_if(values, [](double v) { return !std::isfinite(v); });
        std::ranges::sort(values);
        return {std::move(values), none};
    }

    void say(const std::string& code, std::string words) {
        for (const Issue& i : out_.issues)
            if (i.text == words) return;
        out_.issues.push_back({code, std::move(words), {}});
    }

    void sayRest() {
        std::vector<std::string> doubtful;
        for (const DerivedSource& s : task_.sources)
            if (!s.result->good) doubtful.push_back("“" + s.name + "”");
        if (!doubtful.empty())
            say("doubtful-source", "It rests on " + joined(doubtful, ", ") + ", which is in doubt itself.");
        out_.good = doubtful.empty() && std::ranges::all_of(out_.quantities, &Quantity::good) &&
                    std::ranges::none_of(out_.issues, [](const Issue& i) { return i.code == "unit-clash"; });
        std::vector<std::string> told;
        for (const DerivedFormula& f : task_.formulas) told.push_back(f.name + " = " + f.expression.text());
        out_.sentence = "Derived " + joined(told, ", ") + ".";
        out_.detail = simulated_.empty() ? "errors of first order, with the correlations of what they rest on"
                                         : fmt::format("errors of first order; {} of {} draws for {}",
                                                       simulated_.size() > 1 ? "intervals" : "interval",
                                                       kDraws, joined(simulated_, ", "));
    }

    const DerivedTask& task_;
    DerivedNames names_;
    Directions directions_;
    std::map<std::string, formula::Expression> earlier_;
    std::map<std::string, Unit> earlierUnits_;
    std::vector<std::pair<Eigen::RowVectorXd, bool>> rows_; // of each quantity; false: not known
    std::vector<std::string> simulated_;
    AnalysisResult out_;
};

} // namespace

Result<AnalysisResult> derive(const DerivedTask& task) {
    return Deriver(task).all();
}

} // namespace jointer::analyses
