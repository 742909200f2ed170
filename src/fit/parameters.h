// SPDX-License-Identifier: GPL-3.0-or-later
// How each parameter of a fit is treated, and the map from the free ones, which the solver moves, to all.
#pragma once

#include "base/issue.h"
#include "formula/program.h"

#include <Eigen/Dense>
#include <limits>
#include <optional>
#include <string>
#include <vector>

namespace jointer::fit {

enum class Treatment { Free, Fixed, Tied };
std::string_view treatmentKey(Treatment treatment);
Treatment treatmentFromKey(std::string_view key); // anything else is free

struct ParameterSpec {
    std::string name;
    Treatment treatment = Treatment::Free;
    std::optional<double> start; // none: by the model's rule
    double lower = -std::numeric_limits<double>::infinity();
    double upper = std::numeric_limits<double>::infinity();
    std::string tie; // formula over the other parameters, when tied
    bool operator==(const ParameterSpec&) const = default;
};

class ParameterMap {
public:
    // Errors: "tie" when a formula cannot be read, names what is not a parameter, or goes round in a circle.
    static Result<ParameterMap> make(const std::vector<ParameterSpec>& specs);

    Eigen::Index freeCount() const { return static_cast<Eigen::Index>(free_.size()); }
    const std::vector<std::size_t>& free() const { return free_; } // indices into all parameters

    // All parameters, given the free ones; the others come from `base`.
    std::vector<double> all(const Eigen::VectorXd& free, std::vector<double> base) const;

    // ∂all/∂free. Shape: parameters × free.
    Eigen::MatrixXd slopes(const std::vector<double>& all) const;
    bool hasTies() const { return !ties_.empty(); }

private:
    struct Tie {
        std::size_t parameter;
        formula::Program program;
    };
    std::size_t count_ = 0;
    std::vector<std::size_t> free_;
    std::vector<Tie> ties_; // in an order in which each depends only on earlier ones
};

} // namespace jointer::fit
