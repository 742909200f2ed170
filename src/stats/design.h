// SPDX-License-Identifier: GPL-3.0-or-later
// Measured values as an experiment has laid them out, for tests of groups.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace jointer::stats {

// The values of one group; none is NaN.
struct Group {
    std::string name;
    std::vector<double> values;
    std::size_t missing = 0;      // cells without a value, which are not among them
    std::vector<double> limits{}; // of further values, which are only known to lie below these
};

// Values by the levels of two factors at once.
struct TwoFactors {
    std::string first, second; // their names
    std::vector<std::string> firstLevels, secondLevels;
    std::vector<std::vector<std::vector<double>>> cells; // by first, then by second level
};

// How often each outcome came in each group.
struct Counts {
    std::vector<std::string> rows, columns;
    std::vector<std::vector<double>> counts; // by row, then by column
};

struct Design {
    std::vector<Group> groups{};
    // Of each subject that has a value in all groups these values, in the order of the groups; empty: nothing
    // is paired.
    std::vector<std::vector<double>> subjects{};
    std::size_t incomplete = 0; // subjects that lack a value and are left out
    std::optional<TwoFactors> factors{};
    std::optional<Counts> counts{};
    std::optional<std::size_t> control{}; // the group that the others are compared with
    double level = 0.95;                  // of intervals
    double against = 0;                   // of one sample: the mean that it may have
    int squares = 2;                      // type of the sums of squares of two factors: 2 or 3

    bool repeated = false; // it was said that subjects were measured in several groups

    bool hasSubjects() const { return !subjects.empty(); }
};

} // namespace jointer::stats
