// SPDX-License-Identifier: GPL-3.0-or-later
// How each parameter of a fit is treated, and the map from the free ones, which the solver moves, to those of
// every member. All parameters of all members stand in one list, member after member.
#pragma once

#include "base/issue.h"
#include "fit/blocks.h"
#include "formula/program.h"

#include <limits>
#include <memory>
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
    std::string tie;     // formula over the other parameters of the same member, when tied
    bool shared = false; // one value for all members in which it is free
    bool operator==(const ParameterSpec&) const = default;
};
using Specs = std::vector<ParameterSpec>; // one for each parameter of the model

class ParameterMap {
public:
    // Errors: "tie" when a formula cannot be read, names what is not a parameter, or goes round in a circle.
    static Result<ParameterMap> make(const std::vector<Specs>& members);

    const FreeLayout& layout() const { return layout_; }
    Eigen::Index freeCount() const { return layout_.count; }
    // For each free one its place in the list of all; of a shared one the first.
    const std::vector<std::size_t>& free() const { return free_; }

    // All parameters, given the free ones; the others come from `base`.
    std::vector<double> all(const Eigen::VectorXd& free, std::vector<double> base) const;
    Eigen::VectorXd freeOf(const std::vector<double>& all) const;

    // ∂(parameters of the member)/∂(its own free ones, then the shared ones).
    Eigen::MatrixXd slopes(std::size_t member, const std::vector<double>& all) const;
    bool hasTies() const { return hasTies_; }
    bool isIdentity(std::size_t member) const { return members_[member].identity; }
    std::size_t members() const { return members_.size(); }
    std::size_t parameters() const { return parameters_; } // of each member

private:
    struct Tie {
        std::size_t parameter;
        formula::Program program;
    };
    using Ties = std::vector<Tie>; // in an order in which each depends only on earlier ones
    struct Member {
        std::vector<Eigen::Index> column; // of each parameter, among the member's own and the shared; or −1
        std::shared_ptr<const Ties> ties;
        bool identity = false; // the free ones are the parameters, in order
    };
    static Result<Ties> tiesOf(const Specs& specs);

    FreeLayout layout_;
    std::size_t parameters_ = 0;
    std::vector<std::size_t> free_;
    std::vector<Member> members_;
    bool hasTies_ = false;
};

} // namespace jointer::fit
