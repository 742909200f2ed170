// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/fields.h"

namespace jointer::evaluate {

namespace {

struct Sort {
    std::string_view name;
    Node (*plan)(const Ground&, const NodeId&);
};
constexpr Sort kSorts[] = {{"column", planColumn}, {"measured", planMeasured}, {"samples", planSamples},
                           {"step", planStep},     {"field", planField},       {"unsmoothed", planStep},
                           {"taken", planTaken},   {"analysis", planAnalysis}};

} // namespace

Node plannedNode(const Ground& ground, const NodeId& id) {
    return std::ranges::find(kSorts, id.sort, &Sort::name)->plan(ground, id);
}

NodeId columnNode(TableId table, ColumnId column) {
    return {"column", table.value, column.value};
}
NodeId measuredNode(DatasetId dataset) {
    return {"measured", dataset.value};
}
NodeId samplesNode(DatasetId dataset) {
    return {"samples", dataset.value};
}
NodeId takenNode(AnalysisId analysis) {
    return {"taken", analysis.value};
}
NodeId analysisNode(AnalysisId analysis) {
    return {"analysis", analysis.value};
}

template <class T> Digest PartDigests::once(const std::shared_ptr<const T>& part, Digest (*take)(const T&)) {
    {
        const std::lock_guard lock(mutex_);
        const auto at = known_.find(part.get());
        if (at != known_.end() && at->second.first.lock() == part) return at->second.second;
    }
    const Digest d = take(*part);
    const std::lock_guard lock(mutex_);
    known_[part.get()] = {part, d};
    if (known_.size() >= clearAt_) { // now and then, so that no look-up pays for all
        std::erase_if(known_, [](const auto& e) { return e.second.first.expired(); });
        clearAt_ = 2 * known_.size() + 256;
    }
    return d;
}

Digest PartDigests::of(const std::shared_ptr<const Cells>& cells) {
    return once<Cells>(cells, [](const Cells& c) { return digestOf(c); });
}

Digest PartDigests::of(const std::shared_ptr<const Rows>& rows) {
    return once<Rows>(rows, [](const Rows& r) {
        Hasher h;
        h.add(r.ids.size());
        for (std::uint32_t id : r.ids) h.add(id);
        return h.digest();
    });
}

void ResultMemory::adopt(const std::map<std::string, std::string>& stored) {
    const std::lock_guard lock(mutex_);
    for (const auto& [key, text] : stored) stored_[Digest::fromHex(key)] = text;
}

std::string ResultMemory::stored(const Digest& key) const {
    const std::lock_guard lock(mutex_);
    const auto at = stored_.find(key);
    return at == stored_.end() ? std::string{} : at->second;
}

} // namespace jointer::evaluate
