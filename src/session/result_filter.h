// SPDX-License-Identifier: GPL-3.0-or-later
// Results filtered by what they say.
#pragma once

#include "evaluate/results.h"

namespace jointer {

// Conditions that all must hold, with commas between them: "doubtful", "site = north", "centre > 701", or a
// word that some cell holds. A name is an attribute, a quantity, or one of dataset, analysis, quantity,
// subject, unit, state, value, error.
class ResultFilter {
public:
    // Errors: "filter", with the condition that cannot be read.
    static Result<ResultFilter> parse(const std::string& text);
    bool isEmpty() const { return conditions_.empty(); }

    // The places of the rows to show. One dataset's row of a quantity decides for that row alone, an
    // attribute for all rows of its dataset.
    std::vector<std::size_t> rows(const Project& project, const std::vector<evaluate::ResultRow>& all) const;
    // The datasets of which for each condition some row holds, in their order.
    std::vector<DatasetId> datasets(const Project& project,
                                    const std::vector<evaluate::ResultRow>& all) const;

private:
    enum class Compare { Holds, Doubtful, Equal, Unequal, Less, Greater, AtMost, AtLeast };
    struct Condition {
        Compare compare = Compare::Holds;
        std::string name, value; // of "holds": the word, lower case
        std::optional<double> number;
    };
    class Asker;
    std::vector<Condition> conditions_;
};

} // namespace jointer
