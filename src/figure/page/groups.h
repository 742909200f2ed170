// SPDX-License-Identifier: GPL-3.0-or-later
// Groups: several datasets drawn as one. The marks of a group are drawn for each of its datasets; looks vary
// by order, attribute or class; curves are moved apart.
#pragma once

#include "figure/marks/mark.h"
#include "figure/page/page.h"

namespace jointer::figure {

// One dataset of a group, with what the group gives to its marks.
struct GroupMember {
    std::shared_ptr<const Dataset> dataset;
    Settings looks; // colour, symbol, dash, size, width
    std::string label;
    std::optional<double> offset; // by hand
    std::vector<Mark*> marks{};   // drawn for it
};

struct GroupMembers {
    const Element* element = nullptr;
    Look look;
    std::vector<GroupMember> members;
    // Of colours on a scale.
    std::string attribute, unit;
    std::optional<Range> scale;
};

GroupMembers membersOf(Page& page, const Element& group);

// The source of a mark of a group for one of its datasets: the dataset, or its last fit. Empty: it has none.
std::string sourceFor(const Page& page, const Element& mark, DatasetId dataset);

// Moves the marks of the members apart as the group wishes. Requires: the range of x is known.
void stagger(GroupMembers& group, const AxisMap& x, const Scale& y);

// "{name}, {age}": a label by a pattern.
std::string labelBy(std::string_view pattern, const Dataset& dataset);

} // namespace jointer::figure
