// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/analysis.h"
#include "analyses/answers.h"
#include "analyses/areas/areas.h"
#include "analyses/course/course.h"
#include "analyses/derived/derived.h"

#include "base/text.h"
#include "models/catalogue.h"

#include <algorithm>
#include <cmath>

namespace jointer::analyses {

namespace {

Catalogue<AnalysisKind>& all() {
    static Catalogue<AnalysisKind> kinds(
        {fitAnalysis(),           freeCurveAnalysis(),      peaksAnalysis(),
         areasAnalysis(),         sizesAnalysis(),          latticeAnalysis(),
         separationAnalysis(),    comparisonAnalysis(),     differencesAnalysis(),
         groupsAnalysis(),        unknownsAnalysis(),       standardAdditionAnalysis(),
         potencyAnalysis(),       derivedAnalysis(),        courseAnalysis(),
         distributionAnalysis(),  scatteringLawsAnalysis(), freeSizesAnalysis(),
         pairDistancesAnalysis(), summaryAnalysis()});
    return kinds;
}

} // namespace

const Catalogue<AnalysisKind>& catalogue() {
    return all();
}

void addKind(AnalysisKind kind) {
    all().add(std::move(kind));
}

const AnalysisKind* kindOf(const Analysis& analysis) {
    return catalogue().find(analysis.kind);
}

void addTo(Hasher& h, const ModelNode& node) {
    h.add(node.kind).add(node.component).add(node.children.size());
    node.settings.addTo(h);
    if (const models::ModelKind* kind = models::catalogue().find(node.kind)) h.add(kind->info.version);
    for (const ModelNode& child : node.children) addTo(h, child);
}

std::vector<std::string> curvesOf(const ModelNode& node) {
    std::vector<std::string> ids = node.settings.references("curves");
    for (const ModelNode& child : node.children) std::ranges::move(curvesOf(child), std::back_inserter(ids));
    return ids;
}

void addTo(Hasher& h, const Analysis& a) {
    h.add(a.kind).add(a.inputs.size()).add(a.parameters.size());
    if (const AnalysisKind* kind = kindOf(a)) h.add(kind->info.version);
    a.settings.addTo(h);
    addTo(h, a.model);
    for (const AnalysisInput& in : a.inputs) {
        h.add(in.span.outside).add(in.span.pieces.size());
        for (const auto& [low, high] : in.span.pieces) h.add(low).add(high);
        in.weights.addTo(h);
    }
    for (const ParameterChoice& p : a.parameters)
        h.add(p.name)
            .add(p.member.value)
            .add(treatmentKey(p.treatment))
            .add(p.start.has_value())
            .add(p.start.value_or(0))
            .add(p.lower)
            .add(p.upper)
            .add(p.tie);
}

std::string spanText(const Span& span) {
    if (span.isAll()) return "all x";
    std::vector<std::string> pieces;
    for (const auto& [low, high] : span.pieces)
        pieces.push_back((std::isfinite(low) ? readableNumber(low, 5) : "") + " … " +
                         (std::isfinite(high) ? readableNumber(high, 5) : ""));
    return (span.outside ? "outside of " : pieces.size() > 1 ? "spans " : "span ") + joined(pieces, ", ");
}

std::string nameOf(const Analysis& analysis) {
    if (!analysis.name.empty()) return analysis.name;
    const AnalysisKind* kind = kindOf(analysis);
    if (!kind) return analysis.kind;
    return kind->name ? kind->name(analysis) : kind->info.name;
}

const Quantity* AnalysisResult::find(std::string_view wanted) const {
    for (const auto* list : {&quantities, &quality}) {
        for (const Quantity& q : *list)
            if (q.key == wanted) return &q;
        for (const Quantity& q : *list)
            if (q.label == wanted) return &q;
    }
    return nullptr;
}

const NamedCurve* AnalysisResult::curve(std::string_view role, DatasetId member, std::string_view label,
                                        int component) const {
    const NamedCurve* first = nullptr;
    for (const NamedCurve& c : curves) {
        if (c.role != role || (!label.empty() && c.label != label) ||
            (component > 0 && c.component != component))
            continue;
        if (c.member == member) return &c;
        if (!first) first = &c;
    }
    return member ? nullptr : first;
}

} // namespace jointer::analyses
