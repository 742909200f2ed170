// SPDX-License-Identifier: GPL-3.0-or-later
// A list of samples: a table in which one column names datasets and the others say something of each. It
// becomes attributes of the datasets, found by their names.
#pragma once

#include "project/edit.h"

namespace jointer {

struct SampleList {
    Edit edit;                        // gives the attributes
    std::size_t datasets = 0;         // that get some
    std::vector<std::string> unnamed; // datasets that the list does not name
    std::vector<std::string> unknown; // names in the list that no dataset bears
};

// Names agree without regard to case and to the ending of a file; a dataset is also found by the name of its
// table. Attributes of one name are replaced. Errors: "no-names" where no column names a dataset, or none
// says anything more.
Result<SampleList> sampleList(const Project& project, const Table& list);

} // namespace jointer
