// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/project.h"

namespace jointer {

const Element* Element::find(ElementId wanted) const {
    if (id == wanted) return this;
    for (const Element& child : children)
        if (const Element* found = child.find(wanted)) return found;
    return nullptr;
}

const Step* Dataset::find(StepId step) const {
    const auto at = std::ranges::find(protocol, step, &Step::id);
    return at == protocol.end() ? nullptr : &*at;
}

std::optional<std::size_t> Dataset::placeOf(StepId step) const {
    const Step* at = find(step);
    return at ? std::optional(static_cast<std::size_t>(at - protocol.data())) : std::nullopt;
}

const Element* Figure::find(ElementId wanted) const {
    for (const Element& element : elements)
        if (const Element* found = element.find(wanted)) return found;
    return nullptr;
}

bool Project::operator==(const Project& o) const {
    return title == o.title && tables == o.tables && datasets == o.datasets && analyses == o.analyses &&
           figures == o.figures && styles == o.styles && models == o.models && assets == o.assets &&
           recipes == o.recipes && extra == o.extra && unknownEntries == o.unknownEntries;
}

bool Recipe::operator==(const Recipe& o) const {
    return id == o.id && name == o.name && purpose == o.purpose && inputs == o.inputs &&
           settings == o.settings && extra == o.extra &&
           (parts == o.parts || (parts && o.parts && *parts == *o.parts));
}

namespace {

constexpr std::string_view kTreatments[] = {"free", "fixed", "shared", "tied"};

std::uint64_t highestId(const std::vector<Element>& elements) {
    std::uint64_t highest = 0;
    for (const Element& e : elements) highest = std::max({highest, e.id.value, highestId(e.children)});
    return highest;
}

} // namespace

std::string_view treatmentKey(Treatment treatment) {
    return kTreatments[static_cast<std::size_t>(treatment)];
}

Treatment treatmentFromKey(std::string_view key) {
    const auto at = std::ranges::find(kTreatments, key);
    return at == std::end(kTreatments) ? Treatment::Free
                                       : static_cast<Treatment>(at - std::begin(kTreatments));
}

std::string CurvePoint::text() const {
    switch (place) {
    case Place::Measured:
        return "measured";
    case Place::BeforeSmoothing:
        return "before-smoothing";
    case Place::AfterStep:
        return step.text();
    default:
        return "end";
    }
}

bool Span::takes(double x) const {
    if (pieces.empty()) return true;
    const bool in = std::ranges::any_of(pieces, [&](const auto& p) { return x >= p.first && x <= p.second; });
    return in != outside;
}

double Span::low() const {
    if (pieces.empty() || outside) return -std::numeric_limits<double>::infinity();
    return std::ranges::min_element(pieces)->first;
}

double Span::high() const {
    if (pieces.empty() || outside) return std::numeric_limits<double>::infinity();
    return std::ranges::max(pieces, {}, [](const auto& p) { return p.second; }).second;
}

bool Analysis::takes(DatasetId dataset) const {
    return std::ranges::any_of(inputs, [&](const AnalysisInput& in) { return in.dataset == dataset; });
}

CurvePoint CurvePoint::fromText(std::string_view text) {
    if (text == "measured") return {Place::Measured};
    if (text == "before-smoothing") return {Place::BeforeSmoothing};
    if (const StepId id = StepId::fromText(text)) return {Place::AfterStep, id};
    return {Place::End};
}

std::uint64_t highestId(const Project& p) {
    std::uint64_t highest = 0;
    auto take = [&](std::uint64_t id) { highest = std::max(highest, id); };
    for (const auto& t : p.tables) {
        take(t->id.value);
        for (const Column& c : t->columns) take(c.id.value);
    }
    for (const auto& d : p.datasets) {
        take(d->id.value);
        for (const Step& s : d->protocol) take(s.id.value);
    }
    for (const auto& a : p.analyses) take(a->id.value);
    for (const auto& f : p.figures) take(std::max(f->id.value, highestId(f->elements)));
    for (const auto& s : p.styles) take(s->id.value);
    for (const auto& m : p.models) take(m->id.value);
    for (const auto& a : p.assets) take(a->id.value);
    for (const auto& r : p.recipes) take(r->id.value);
    return highest;
}

std::vector<std::shared_ptr<const Analysis>> analysesOf(const Project& project, DatasetId dataset) {
    std::vector<std::shared_ptr<const Analysis>> out;
    for (const auto& a : project.analyses)
        if (a->takes(dataset)) out.push_back(a);
    return out;
}

} // namespace jointer
