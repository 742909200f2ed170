// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fit_names.h"

#include "analyses/analysis.h"

#include <algorithm>

namespace jointer::app {

std::string nameBeside(const Project& project, const Analysis& analysis, DatasetId dataset) {
    const std::string name = analyses::nameOf(analysis);
    const bool alike = std::ranges::any_of(analysesOf(project, dataset), [&](const auto& other) {
        return other->id != analysis.id && analyses::nameOf(*other) == name;
    });
    const auto input = std::ranges::find(analysis.inputs, dataset, &AnalysisInput::dataset);
    return alike && input != analysis.inputs.end() ? name + ", " + analyses::spanText(input->span) : name;
}

} // namespace jointer::app
