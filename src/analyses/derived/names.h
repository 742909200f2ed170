// SPDX-License-Identifier: GPL-3.0-or-later
// What the names in formulas of derived numbers stand for; for derived.cpp.
#pragma once

#include "analyses/derived/derived.h"

namespace jointer::analyses {

// A number that a formula rests on.
struct DerivedGround {
    std::string name; // as the formula writes it
    double value = 0;
    Unit unit{};
    int analysis = -1; // its place; −1: an attribute or a constant
    int source = -1;   // the same where its error is in the covariance of that
    std::size_t quantity = 0;
    double ownError = 0; // where it is not one of its source's covariance
    bool known = true;   // its error is
};

class DerivedNames {
public:
    explicit DerivedNames(const DerivedTask& task) : task_(task) {}

    // Errors: "name", with what there is.
    Result<DerivedGround> find(const std::string& name) const;

    static char letterOf(std::size_t source) { return static_cast<char>('A' + source); }

private:
    std::optional<DerivedGround> in(std::size_t source, const std::string& name) const;
    std::pair<std::string, int> apart(const std::string& name) const; // "k_B" → "k" of the second
    std::optional<DerivedGround> elsewhere(const std::string& name) const;
    std::unexpected<Issue> several(const std::string& name, const std::vector<DerivedGround>& found) const;
    std::unexpected<Issue> nothing(const std::string& name) const;

    const DerivedTask& task_;
    mutable std::map<std::string, DerivedGround> named_;
};

} // namespace jointer::analyses
