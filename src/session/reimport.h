// SPDX-License-Identifier: GPL-3.0-or-later
// Reading the file of a table again, with other settings or after it has grown. What was built on the table
// lives on: columns are found again by name, else by place; rows by their line in the file where x agrees,
// else by x. What changes and what would be lost is told before anything happens.
#pragma once

#include "io/reader.h"
#include "project/edit.h"

namespace jointer {

struct Reimport {
    Table table; // as it will be: ids kept where columns and rows were found again, none for new columns
    std::vector<std::string> changes; // in plain sentences
    std::vector<std::string> losses;  // what was built on what is no longer there
};

// `fresh` is a table of the new reading and `told` what the reader was told. Computed columns and columns
// made by hand stay. Errors: "table-gone". Cost: n·log n in rows.
Result<Reimport> plannedReimport(const Project& project, TableId old, const Table& fresh,
                                 const Settings& told);

Edit reimportEdit(const Reimport& plan);

} // namespace jointer
