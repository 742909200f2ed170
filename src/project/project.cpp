// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/project.h"

namespace jointer {

const Element* Element::find(ElementId wanted) const {
    if (id == wanted) return this;
    for (const Element& child : children)
        if (const Element* found = child.find(wanted)) return found;
    return nullptr;
}

const Element* Figure::find(ElementId wanted) const {
    for (const Element& element : elements)
        if (const Element* found = element.find(wanted)) return found;
    return nullptr;
}

bool Project::operator==(const Project& o) const {
    return title == o.title && tables == o.tables && datasets == o.datasets && analyses == o.analyses &&
           figures == o.figures && styles == o.styles && models == o.models && assets == o.assets &&
           extra == o.extra && unknownEntries == o.unknownEntries;
}

std::vector<std::shared_ptr<const Analysis>> analysesOf(const Project& project, DatasetId dataset) {
    std::vector<std::shared_ptr<const Analysis>> out;
    for (const auto& a : project.analyses)
        if (!a->inputs.empty() && a->inputs.front().dataset == dataset) out.push_back(a);
    return out;
}

} // namespace jointer
