// SPDX-License-Identifier: GPL-3.0-or-later
// What is told of a water sample, in one list: columns of a table, the command line and the manual are made
// from it.
#pragma once

#include "waters/samples.h"

namespace jointer::waters {

struct SampleQuantity {
    std::string_view key, label, unit, meaning;
    double (*number)(const Sample& s) = nullptr;    // NaN: not defined
    std::string (*word)(const Sample& s) = nullptr; // instead; empty where the sample cannot be placed
};

std::span<const SampleQuantity> sampleQuantities();
const SampleQuantity* findQuantity(std::string_view key);

} // namespace jointer::waters
