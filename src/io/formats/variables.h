// SPDX-License-Identifier: GPL-3.0-or-later
// Named arrays with attributes, as NetCDF and HDF5 hold them, and the tables that they make.
#pragma once

#include "io/reader.h"

#include <map>

namespace jointer::io {

struct Variable {
    std::string name, group;        // the group: "", "/entry/data"
    std::vector<std::string> axes;  // names of its dimensions
    std::vector<std::size_t> sizes; // as many
    std::vector<double> values;     // the last dimension runs fastest
    std::vector<std::string> texts; // of a variable of texts
    bool isScale = false, isBoolean = false;
    std::map<std::string, double> numbers;    // attributes
    std::map<std::string, std::string> words; // attributes

    std::size_t count() const { return texts.empty() ? values.size() : texts.size(); }
};

// Applies scale, offset, fill and missing values; "hours since 2031-05-02" makes moments of the values.
// Variables of one group over one dimension become a table, one over two dimensions a table of its own;
// single values become metadata.
void addTables(std::vector<Variable> variables, ReadResult& out);

} // namespace jointer::io
