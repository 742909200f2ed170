// SPDX-License-Identifier: GPL-3.0-or-later
// A library model whose start values are searched for by what its parameters are: those in which it is linear
// follow by least squares, the others are tried over a grid made from the range and the spacing of x, then on
// finer ones about the best. So a model is a formula with a line for each parameter.
// Example: `searchedModel("capacity*x/(half + x)", {{{"capacity", "…", "y"}},
//                         {{"half", "…", "x", 0}, Search::Positive}})`
#pragma once

#include "models/formula_model.h"

namespace jointer::models {

enum class Search {
    Linear,         // the model is linear in all of these together
    Place,          // within the range of x
    Positive,       // a place above zero, by ratios: from below the smallest to beyond the largest x
    PositiveSecond, // the same of the second predictor
    Length,         // a distance in x, by ratios: from the spacing to several times the range
    Rate,           // the reciprocal of a distance
    Number,         // from `low` to `high`; by ratios where both are above zero
    TimesX          // from `low` to `high` times the middle of x, by ratios
};

struct SearchedParameter {
    ParameterInfo info;
    Search search = Search::Linear;
    double low = 0, high = 0;
};

ModelPtr searchedModel(std::string text, const std::vector<SearchedParameter>& parameters,
                       std::vector<DerivedInfo> derived = {}, std::size_t predictors = 1);

// The search alone. Nothing: fewer points than parameters, or no values at all.
std::optional<std::vector<double>>
searchedStart(const Model& model, const std::vector<SearchedParameter>& parameters, const Curve& curve);

} // namespace jointer::models
