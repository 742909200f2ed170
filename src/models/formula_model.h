// SPDX-License-Identifier: GPL-3.0-or-later
// A model written as a formula, library or typed: derivatives come from the formula engine.
#pragma once

#include "formula/program.h"
#include "models/model.h"

#include <functional>

namespace jointer::models {

using Guess = std::function<std::optional<std::vector<double>>(const Curve&)>;

class FormulaModel final : public Model {
public:
    FormulaModel(std::string text, formula::Program program, std::size_t predictors,
                 std::vector<ParameterInfo> parameters, std::vector<DerivedInfo> derived = {},
                 Guess guess = {})
        : text_(std::move(text)), program_(std::move(program)), predictors_(predictors),
          parameters_(std::move(parameters)), derived_(std::move(derived)), guess_(std::move(guess)) {}

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }
    std::string formula() const override { return text_; }
    std::size_t predictorCount() const override { return predictors_; }
    bool isLinear() const override { return program_.isLinearInScalars(); }
    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        program_.evaluate(xs, p, values, gradient);
    }
    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        return guess_ ? guess_(curve) : std::nullopt;
    }

private:
    std::string text_;
    formula::Program program_;
    std::size_t predictors_;
    std::vector<ParameterInfo> parameters_;
    std::vector<DerivedInfo> derived_;
    Guess guess_;
};

// "x", or "x1", "x2"… of several.
std::vector<std::string> predictorNames(std::size_t count);

// A library model: the formula must compile (it is ours), over its predictors and the given parameters.
ModelPtr libraryModel(std::string text, std::vector<ParameterInfo> parameters,
                      std::vector<DerivedInfo> derived, Guess guess, std::size_t predictors = 1);

} // namespace jointer::models
