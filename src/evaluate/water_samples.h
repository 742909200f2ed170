// SPDX-License-Identifier: GPL-3.0-or-later
// The samples of a dataset of waters: its columns as amounts, by its settings. Between the table and waters/,
// which knows of no tables.
#pragma once

#include "data/table.h"
#include "project/project.h"
#include "waters/samples.h"

namespace jointer::evaluate {

struct WaterSamples {
    std::vector<waters::Sample> samples; // one for each row
    std::vector<std::string> names;      // of the label column, else "row 3"
    bool cations = false, anions = false;    // whether a column holds any
    std::vector<const Column*> unknownUnits; // taken as mg/L
    std::vector<std::string> read;           // how headings and units were understood, in sentences
};
// Requires: the table has its computed columns filled in. Cost: linear.
WaterSamples waterSamples(const Table& table, const DatasetSource& source);

waters::Rules waterRules(const Settings& settings);

// "S3, S7 and 4 more".
std::string namesInShort(const std::vector<std::string>& names);

} // namespace jointer::evaluate
