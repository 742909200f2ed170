// SPDX-License-Identifier: GPL-3.0-or-later
// The columns of a table that a node reads: as inputs, in its digest, and filled in once they are computed.
#pragma once

#include "evaluate/nodes.h"

namespace jointer::evaluate {

class ColumnInputs {
public:
    // Those of the bindings that are there; all that is read of them but their cells goes to the hasher.
    ColumnInputs(std::shared_ptr<const Table> table, const std::vector<RoleBinding>& bindings, Hasher& h)
        : table_(std::move(table)) {
        for (const RoleBinding& b : bindings) {
            const Column* c = table_->find(b.column);
            h.add(static_cast<int>(b.role)).add(b.of).add(c != nullptr);
            if (!c) continue;
            h.add(c->name).add(c->unit).add(static_cast<int>(c->kind));
            nodes.push_back(columnNode(table_->id, c->id));
            places_.push_back(static_cast<std::size_t>(c - table_->columns.data()));
        }
    }

    // The table with these cells, in the order of the nodes.
    Table filled(std::span<const Stored> cells) const {
        Table out = *table_;
        for (std::size_t i = 0; i < places_.size(); ++i) out.columns[places_[i]].cells = cells[i].as<Cells>();
        return out;
    }

    std::vector<NodeId> nodes;

private:
    std::shared_ptr<const Table> table_;
    std::vector<std::size_t> places_; // of the nodes, in the table
};

// What stands in the place of a dataset that needs itself.
inline Issue madeOfItself(const std::string& name, const std::string& loop) {
    return {"circle", "“" + name + "” is made of itself (" + loop + "): choose other datasets.", {}};
}

// Rows that were read or typed: what computed columns have as many cells as.
inline std::size_t ownRows(const Table& table) {
    std::size_t rows = 0;
    for (const Column& c : table.columns)
        if (c.formula.empty()) rows = std::max(rows, c.cells->size());
    return rows;
}

} // namespace jointer::evaluate
