// SPDX-License-Identifier: GPL-3.0-or-later
// A model: a function of predictors and parameters with exact derivatives, that knows what its parameters
// mean and how to find start values from the data. Library models (catalogue.h) and typed equations are the
// same type. Immutable, thread-safe.
#pragma once

#include "base/issue.h"
#include "data/curve.h"

#include <limits>
#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace jointer::models {

struct ParameterInfo {
    std::string name;
    std::string meaning;
    std::string unit; // in terms of x and y: "x", "y", "y/x", "1/x"; "=J/mol" as it is; empty: a pure number
    double lowest = -std::numeric_limits<double>::infinity(); // where the model has meaning
    double highest = std::numeric_limits<double>::infinity();
    std::string tie{}; // a formula over the others that it follows, unless it is fixed or tied otherwise
};

// A quantity that follows from the parameters.
struct DerivedInfo {
    std::string name;
    std::string formula; // over the parameter names; empty: the model computes it by itself
    std::string unit;
};

using Predictors = std::span<const std::span<const double>>; // k columns of n values

class Model;
using ModelPtr = std::shared_ptr<const Model>;

// One of the pieces that a model is composed of; its parameters stand together in those of the whole.
struct Component {
    int number = 0; // their names end in "_" and this
    std::string name;
    ModelPtr model;
    std::size_t firstParameter = 0;
};

class Model {
public:
    virtual ~Model() = default;

    virtual const std::vector<ParameterInfo>& parameters() const = 0;
    virtual const std::vector<DerivedInfo>& derived() const;
    // A derived quantity that has no formula, with its gradient over the parameters.
    virtual double derive(std::size_t which, std::span<const double> parameters,
                          std::span<double> gradient) const;
    virtual std::string formula() const = 0; // as one would type it
    virtual std::size_t predictorCount() const { return 1; }

    // Shape: predictors and values have n entries, gradient is empty or n × parameters, column after column.
    // NaN: outside the model's domain.
    virtual void evaluate(Predictors xs, std::span<const double> parameters, std::span<double> values,
                          std::span<double> gradient = {}) const = 0;

    virtual bool isLinear() const { return false; } // in the parameters

    // The columns that multiply the parameters of a linear model, in extended precision. Shape: n ×
    // parameters.
    virtual void design(Predictors xs, std::span<long double> columns) const;

    // Start values from the points that count. Nothing: the model has no rule (typed equations).
    virtual std::optional<std::vector<double>> guess(const Curve& curve) const;

    // Of a composed model; none: it is one piece.
    virtual const std::vector<Component>& components() const;

    // The model as one speaks of its curve: over x counted from an origin in a unit, where it does not count it as it is.
    struct Asked {
        const Model* model;
        double origin = 0, unit = 1;
    };
    virtual Asked asked() const { return {this}; }
};

// A typed equation over one or several lines. `predictors` are the names that vary by point ("x", or "x1",
// "x2"…), `constants` names with a value of their own; every other name becomes a parameter. `starts` holds
// rules for start values over the columns x and y, as "a = max(y); b = 1/mean(x)"; parameters without one
// begin at 1. Errors: "formula", "no-parameters".
Result<ModelPtr> equationModel(std::string_view text, const std::vector<std::string>& predictors = {"x"},
                               const std::map<std::string, double>& constants = {},
                               std::string_view starts = {});

// "counts/cm^{-1}" of a parameter's unit pattern and the units of the axes; one without measures plain numbers.
std::string unitText(std::string_view pattern, std::string_view xUnit, std::string_view yUnit);

} // namespace jointer::models
