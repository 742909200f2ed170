// SPDX-License-Identifier: GPL-3.0-or-later
// What both demo projects are made with: noise from a seed, edits applied one by one, datasets over columns.
#pragma once

#include "project/edit.h"
#include "project/project.h"

#include <cmath>
#include <cstdint>
#include <numbers>
#include <random>

namespace jointer::demo {

class Noise {
public:
    explicit Noise(std::uint64_t seed) : random_(seed) {}
    double normal() { // Box–Muller on the raw bits: the same on every machine
        const double u = share(), v = share();
        return std::sqrt(-2 * std::log(u)) * std::cos(2 * std::numbers::pi * v);
    }
    double share() { return (static_cast<double>(random_() >> 11) + 0.5) * 0x1p-53; }

private:
    std::mt19937_64 random_;
};

class Maker {
public:
    explicit Maker(const std::string& title);
    void apply(const Edit& e) {
        auto next = e.apply(p_);
        if (next) p_ = std::move(*next);
    }
    Project& project() { return p_; }
    DatasetId lastDataset() const { return p_.datasets[p_.datasets.size() - 1].id; }
    AnalysisId lastAnalysis() const { return p_.analyses[p_.analyses.size() - 1].id; }
    const Table& lastTable() const { return p_.tables[p_.tables.size() - 1]; }

    // The file as a table; the dataset that the import makes is taken away again. False: it cannot be read.
    bool addTable(const std::string& file, const std::string& text);
    // A dataset over columns of the last table, the first of which is x.
    DatasetId addColumns(const std::string& name, std::size_t first, std::size_t count,
                         std::vector<Attribute> attributes);

private:
    Project p_;
};

} // namespace jointer::demo
