// SPDX-License-Identifier: GPL-3.0-or-later
// A curve of scattering as it would be seen by a perfect instrument over no background.
#pragma once

#include "models/model.h"

#include <memory>

namespace jointer::models::scattering {

class BareCurve {
public:
    virtual ~BareCurve() = default;
    virtual const std::vector<ParameterInfo>& parameters() const = 0;
    virtual std::string formula() const = 0;
    // Shape: values like q, gradient empty or q × parameters, column after column. q ≥ 0.
    virtual void evaluate(std::span<const double> q, std::span<const double> parameters,
                          std::span<double> values, std::span<double> gradient) const = 0;
    // It oscillates no faster than cos(2·q·reach).
    virtual double reach(std::span<const double> parameters) const = 0;
    // Without it, it is smooth through q = 0; else it changes over a share of q + 1/`shortest` of them.
    virtual std::optional<double> feature(std::span<const double>) const { return {}; }
    virtual bool isSingularAtZero() const { return false; }
    // Where pieces meet.
    virtual std::vector<double> breaks(std::span<const double>) const { return {}; }

    virtual const std::vector<DerivedInfo>& derived() const;
    // A derived number without a formula.
    virtual double derive(std::size_t, std::span<const double>) const { return std::nan(""); }
    // Start values where the points go over decades.
    virtual std::optional<std::vector<double>> guess(const Curve& curve) const = 0;
};

using BarePtr = std::shared_ptr<const BareCurve>;

} // namespace jointer::models::scattering
