// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/markup.h"
#include "figure/scales/scale.h"

#include <cmath>

namespace jointer::figure {

namespace {

// Names side by side; the k-th stands at k.
class Category final : public Scale {
public:
    explicit Category(std::vector<std::string> names) : names_(std::move(names)) {}

    double forward(double v) const override { return v; }
    double back(double place) const override { return place; }
    bool isEven() const override { return true; }
    Range padded(const Range& data, double) const override {
        return {std::min(data.low, 0.5), std::max(data.high, static_cast<double>(names_.size()) + 0.5)};
    }

    std::vector<Tick> ticks(const Range& range, const TickWish&) const override {
        std::vector<Tick> ticks;
        for (std::size_t k = 0; k < names_.size(); ++k) {
            const auto value = static_cast<double>(k + 1);
            if (value >= range.low && value <= range.high)
                ticks.push_back({value, draw::literal(names_[k]), true});
        }
        return ticks;
    }

private:
    std::vector<std::string> names_;
};

} // namespace

ScaleKind categoryScale() {
    return {.info = {.key = "category", .name = "category", .purpose = "Names beside each other"},
            .make = [](const ScaleTask& task) -> ScalePtr {
                return std::make_shared<Category>(task.meaning.categories);
            }};
}

} // namespace jointer::figure
