// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/neighbours.h"

#include "models/catalogue.h"

#include <fmt/format.h>

namespace jointer::analyses {

namespace {

constexpr int kHighestDegree = 9;

int degreeOf(const std::string& key) { // 0: it is no polynomial
    if (key == "line") return 1;
    return key.starts_with("polynomial-") ? std::stoi(key.substr(11)) : 0;
}

} // namespace

std::vector<ModelNode> neighboursOf(const ModelNode& model, std::size_t most) {
    std::vector<ModelNode> out;
    const models::ModelKind* kind = models::catalogue().find(model.kind);
    if (!kind || !model.children.empty() || model.kind == "equation" || model.kind == "measured-curves") return out;
    const auto add = [&](const std::string& key) {
        if (out.size() < most && key != model.kind && models::catalogue().find(key)) out.push_back({.kind = key});
    };
    if (const int degree = degreeOf(model.kind); degree > 0) {
        for (const int by : {-1, 1, -2, -3, 2})
            if (degree + by >= 1 && degree + by <= kHighestDegree)
                add(degree + by == 1 ? "line" : fmt::format("polynomial-{}", degree + by));
        return out;
    }
    for (const models::ModelKind& other : models::catalogue())
        if (other.info.group == kind->info.group) add(other.info.key);
    return out;
}

} // namespace jointer::analyses
