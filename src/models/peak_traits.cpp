// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/peak_traits.h"

#include "models/catalogue.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace jointer::models {

namespace {

constexpr std::array<std::string_view, 7> kWidths = {"fwhm",  "width",   "sigma", "gauss",
                                                     "gamma", "lorentz", "tail"};
constexpr std::array<std::string_view, 5> kSizes = {"height", "area", "amplitude", "level", "size"};

// A shape of one's own begins by the names of its parameters; what is called otherwise begins at one.
Result<PeakShape> ownShape(const models::ModelKind& kind, ModelPtr model) {
    const auto& parameters = model->parameters();
    if (model->predictorCount() != 1 || parameters.empty())
        return failure("no-shape", "A shape of a peak depends on x and has parameters.");
    PeakTraits traits{.begin = {},
                      .widths = {},
                      .topAtCentre = false,
                      .symmetric = false,
                      .moves = false,
                      .hasArea = false};
    std::optional<std::size_t> centre, size;
    for (std::size_t k = 0; k < parameters.size(); ++k) {
        const std::string& name = parameters[k].name;
        if (name == "centre") centre = k;
        if (std::ranges::count(kWidths, name) > 0) traits.widths.push_back(k);
        if (!size && std::ranges::count(kSizes, name) > 0) size = k;
    }
    if (!centre || !size || traits.widths.empty())
        return failure("no-shape",
                       "An equation serves as a shape when it has parameters called centre, height or area, "
                       "and width, as “height*exp(-((x - centre)/width)^2)”.");
    traits.centre = *centre;
    traits.size = *size;
    traits.begin = [count = parameters.size(), traits](double place, double height, double width) {
        std::vector<double> p(count, 1.0);
        p[traits.centre] = place;
        p[traits.size] = height;
        for (std::size_t k : traits.widths) p[k] = width / 2;
        return p;
    };
    return PeakShape{kind.info.key, kind.info.name, std::move(model),
                     std::make_shared<const PeakTraits>(std::move(traits))};
}

} // namespace

Result<PeakShape> peakShape(std::string_view key, const Settings& settings) {
    Settings bare = settings;
    bare.remove("base"); // what peaks stand on is theirs together
    auto model = makeModel(key, bare);
    if (!model) return std::unexpected(model.error());
    const ModelKind& kind = *catalogue().find(key);
    if (kind.peak) return PeakShape{kind.info.key, kind.info.name, std::move(*model), kind.peak(bare)};
    if (kind.info.key != "equation")
        return failure("no-shape", "“" + kind.info.name + "” is no shape of a peak.");
    return ownShape(kind, std::move(*model));
}

std::vector<std::string> peakShapeKeys() {
    std::vector<std::string> keys;
    for (const ModelKind& kind : catalogue())
        if (kind.peak) keys.push_back(kind.info.key);
    return keys;
}

} // namespace jointer::models
