// SPDX-License-Identifier: GPL-3.0-or-later
// Models of scattering by their settings and parameters by name, for tests.
#pragma once

#include "models/catalogue.h"

#include <gtest/gtest.h>
#include <map>
#include <string>

namespace jointer::told {

using Given = std::vector<std::pair<std::string, Value>>;
using Named = std::map<std::string, double>;

inline models::ModelPtr model(const std::string& key, const Given& given,
                              const models::ModelContext& context = {}) {
    Settings settings;
    for (const auto& [name, value] : given) settings.set(name, value);
    auto made = models::makeModel(key, settings, context);
    EXPECT_TRUE(made) << (made ? "" : made.error().text);
    return made ? *made : nullptr;
}

// Parameters by name; those that are not named are 0 (background) or 1.
inline std::vector<double> parameters(const models::Model& m, const Named& named) {
    std::vector<double> out;
    for (const auto& info : m.parameters()) {
        const auto at = named.find(info.name);
        out.push_back(at != named.end() ? at->second : info.name == "background" ? 0 : 1);
    }
    for (const auto& [name, value] : named)
        EXPECT_TRUE(std::ranges::any_of(m.parameters(), [&](const auto& p) { return p.name == name; }))
            << name;
    return out;
}

inline std::vector<double> curve(const models::Model& m, const std::vector<double>& q,
                                 const std::vector<double>& p) {
    std::vector<double> values(q.size());
    const std::span<const double> column = q;
    m.evaluate({&column, 1}, p, values);
    return values;
}

inline double at(const models::Model& m, double q, const Named& named) {
    return curve(m, {q}, parameters(m, named))[0];
}

} // namespace jointer::told
