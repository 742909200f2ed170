// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/predicted_columns.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::evaluate {

using formula::Node, formula::NodePtr, formula::Op;

namespace {

bool asksForFit(const Node& node) {
    return node.op == Op::WholeColumn && (node.name == "predicted" || node.name == "confidence");
}

class Extraction {
public:
    Extraction(const Project& project, std::vector<PredictedCall>& calls)
        : project_(project), calls_(calls) {}

    Result<NodePtr> without(const NodePtr& node) {
        if (!asksForFit(*node)) {
            auto copy = std::make_shared<Node>(*node);
            for (NodePtr& argument : copy->arguments) {
                auto plain = without(argument);
                if (!plain) return plain;
                argument = *plain;
            }
            return copy;
        }
        PredictedCall call{.band = node->name == "confidence"};
        call.analysis = AnalysisId::fromText(node->arguments[0]->name);
        if (node->arguments[0]->op != Op::Name || !project_.analyses.find(call.analysis))
            return failure("formula",
                           fmt::format("{} needs the name of a fit first, as in {}('Straight line', "
                                       "x).",
                                       node->name, node->name));
        if (node->arguments.size() > 2) call.member = DatasetId::fromText(node->arguments[2]->name);
        auto at = without(node->arguments[1]);
        if (!at) return at;
        call.at = *at;
        call.name = fmt::format("\nfit {}", calls_.size() + 1); // no column has a line break in its name
        calls_.push_back(call);
        return std::make_shared<const Node>(Node{Op::Name, 0, call.name, {}});
    }

private:
    const Project& project_;
    std::vector<PredictedCall>& calls_;
};

void collectNames(const NodePtr& node, std::vector<std::string>& names) {
    if (node->op == Op::Name && std::ranges::find(names, node->name) == names.end())
        names.push_back(node->name);
    for (const NodePtr& argument : node->arguments) collectNames(argument, names);
}

void collectArguments(const NodePtr& node, std::size_t which, std::vector<std::string>& names) {
    if (asksForFit(*node) && which < node->arguments.size() && node->arguments[which]->op == Op::Name)
        names.push_back(node->arguments[which]->name);
    for (const NodePtr& argument : node->arguments) collectArguments(argument, which, names);
}

} // namespace

Result<formula::Expression> withoutPredicted(const formula::Expression& expression, const Project& project,
                                             std::vector<PredictedCall>& calls) {
    auto root = Extraction(project, calls).without(expression.root());
    if (!root) return std::unexpected(root.error());
    std::vector<std::string> names;
    for (const PredictedCall& call : calls) collectNames(call.at, names);
    collectNames(*root, names);
    std::erase_if(names, [](const std::string& name) { return name.starts_with('\n'); });
    return formula::Expression::fromTree(*root, expression.text(), std::move(names));
}

Result<std::vector<double>> predictedAt(const PredictedCall& call, const analyses::AnalysisResult& result,
                                        const std::vector<double>& x, std::vector<std::size_t>& beyond) {
    const analyses::NamedCurve* curve = result.curve("fit", call.member);
    if (!curve || !curve->sample)
        return failure("formula", "That analysis has no curve over one x to be read.");
    std::vector<double> there;
    std::vector<std::size_t> rows;
    for (std::size_t i = 0; i < x.size(); ++i) {
        if (!std::isfinite(x[i])) continue;
        there.push_back(x[i]);
        rows.push_back(i);
        if (!curve->founded.takes(x[i])) beyond.push_back(i);
    }
    const analyses::Sampled sampled = curve->sample(there);
    const std::vector<double>& values = call.band ? sampled.confidence : sampled.y;
    std::vector<double> out(x.size(), std::nan(""));
    for (std::size_t k = 0; k < rows.size() && k < values.size(); ++k) out[rows[k]] = values[k];
    return out;
}

std::vector<std::string> namesOfFits(const formula::Expression& expression) {
    std::vector<std::string> names;
    collectArguments(expression.root(), 0, names);
    return names;
}

std::vector<std::string> namesOfMembers(const formula::Expression& expression) {
    std::vector<std::string> names;
    collectArguments(expression.root(), 2, names);
    return names;
}

std::string nameInFormulas(const Project& project, AnalysisId id) {
    const auto analysis = project.analyses.find(id);
    if (!analysis) return id.text();
    const std::string name = analyses::nameOf(*analysis);
    const auto same = std::ranges::count_if(
        project.analyses, [&](const auto& other) { return analyses::nameOf(*other) == name; });
    if (same == 1 && name.find('\'') == name.npos) return name;
    std::string without = name;
    std::erase(without, '\'');
    return fmt::format("{} ({})", without, id.text());
}

AnalysisId analysisInFormulas(const Project& project, const std::string& name) {
    for (const auto& analysis : project.analyses)
        if (nameInFormulas(project, analysis->id) == name || analysis->id.text() == name) return analysis->id;
    for (const auto& analysis : project.analyses)
        if (analyses::nameOf(*analysis) == name) return analysis->id;
    return {};
}

} // namespace jointer::evaluate
