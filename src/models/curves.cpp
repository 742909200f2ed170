// SPDX-License-Identifier: GPL-3.0-or-later
// Powers, roots, logarithms and quotients without a theory of their own; lines that break.
#include "models/catalogue.h"
#include "models/searched_model.h"

#include <cmath>

namespace jointer::models {

namespace {

ModelPtr makePowerOffset(const Settings&) {
    return searchedModel("factor*if(x > zero, (x - zero)^exponent, 0)",
                         {{{"factor", "value one unit of x above the zero", "y"}},
                          {{"zero", "x at which it begins", "x"}, Search::Place},
                          {{"exponent", "power", "", 0.01, 20}, Search::Number, 0.2, 5}},
                         {});
}

ModelPtr makeRatingCurve(const Settings&) {
    return searchedModel(
        "factor*if(x > bed, (x - bed)^exponent, 0)",
        {{{"factor", "discharge one unit above the bed", "y"}},
         {{"bed", "level at which nothing flows", "x"}, Search::Place},
         {{"exponent", "between 1.5 and 2.5 for most sections", "", 0.1, 10}, Search::Number, 1, 4}},
        {});
}

ModelPtr makeSquareRoot(const Settings&) {
    return searchedModel("start + factor*sqrt(x)",
                         {{{"start", "value at x = 0", "y"}}, {{"factor", "rise with the root of x", "y"}}},
                         {});
}

ModelPtr makeLogarithm(const Settings&) {
    return searchedModel("level + slope*ln(x)",
                         {{{"level", "value at x = 1", "y"}}, {{"slope", "rise for each factor of e", "y"}}},
                         {});
}

ModelPtr makeHyperbola(const Settings&) {
    return searchedModel("level + factor/(x + shift)",
                         {{{"level", "level at large x", "y"}},
                          {{"factor", "numerator", "xy"}},
                          {{"shift", "distance of the pole below zero", "x"}, Search::Positive}},
                         {});
}

ModelPtr makeRational(const Settings&) {
    return searchedModel("(level + slope*x)/(1 + bend*x)",
                         {{{"level", "value at x = 0", "y"}},
                          {{"slope", "of the numerator", "y/x"}},
                          {{"bend", "of the denominator; 0: a straight line", "1/x"}, Search::Rate}},
                         {});
}

ModelPtr makeBrokenLine(const Settings&) {
    return searchedModel("level + if(x < breakpoint, before, after)*(x - breakpoint)",
                         {{{"level", "value at the break", "y"}},
                          {{"before", "slope before", "y/x"}},
                          {{"after", "slope after", "y/x"}},
                          {{"breakpoint", "x of the break", "x"}, Search::Place}},
                         {});
}

ModelPtr makeRamp(const Settings&) {
    return searchedModel("before + (after - before)*min(max((x - begin)/(end - begin), 0), 1)",
                         {{{"before", "level before", "y"}},
                          {{"after", "level after", "y"}},
                          {{"begin", "where the ramp begins", "x"}, Search::Place},
                          {{"end", "where it ends", "x"}, Search::Place}},
                         {});
}

ModelPtr makeVonBertalanffy(const Settings&) {
    return searchedModel("limit*(1 - exp(-rate*(x - zero)))",
                         {{{"limit", "length that is approached", "y"}},
                          {{"rate", "growth coefficient", "1/x", 0}, Search::Rate},
                          {{"zero", "age at which the length would be nought", "x"}, Search::Place}},
                         {});
}

} // namespace

std::vector<ModelKind> curveModels() {
    return {{{.key = "power-offset",
              .name = "Power law from an unknown zero",
              .purpose = "Scaling above a threshold, critical behaviour",
              .group = "Powers and roots"},
             makePowerOffset},
            {{.key = "rating-curve",
              .name = "Rating curve",
              .purpose = "Discharge over water level",
              .group = "Powers and roots"},
             makeRatingCurve},
            {{.key = "square-root",
              .name = "Square root",
              .purpose = "Diffusion, growth of layers; x must not be negative",
              .group = "Powers and roots"},
             makeSquareRoot},
            {{.key = "logarithm",
              .name = "Logarithm",
              .purpose = "Responses over many decades; x must be positive",
              .group = "Powers and roots"},
             makeLogarithm},
            {{.key = "hyperbola",
              .name = "Hyperbola",
              .purpose = "Inverse proportion with shifted axes",
              .group = "Powers and roots"},
             makeHyperbola},
            {{.key = "rational",
              .name = "Quotient of two lines",
              .purpose = "Smooth bends without a theory",
              .group = "Powers and roots"},
             makeRational},
            {{.key = "broken-line",
              .name = "Broken line",
              .purpose = "A line whose slope changes once: thresholds, end points",
              .group = "Lines and polynomials"},
             makeBrokenLine},
            {{.key = "ramp",
              .name = "Ramp",
              .purpose = "From one level to another along a line",
              .group = "Steps and ramps"},
             makeRamp},
            {{.key = "von-bertalanffy",
              .name = "Growth after von Bertalanffy",
              .purpose = "Length of shells and fish over age",
              .group = "Growth and decay"},
             makeVonBertalanffy}};
}

} // namespace jointer::models
