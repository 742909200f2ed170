// SPDX-License-Identifier: GPL-3.0-or-later
// Sigmoids beside the logistic with four parameters.
#include "models/catalogue.h"
#include "models/searched_model.h"

#include <cmath>

namespace jointer::models {

namespace {

ModelPtr makeLogisticGrowth(const Settings&) {
    return searchedModel("limit/(1 + exp(-rate*(x - midpoint)))",
                         {{{"limit", "level that is reached in the end", "y"}},
                          {{"rate", "rate constant at the beginning", "1/x", 0}, Search::Rate},
                          {{"midpoint", "x at half of the limit", "x"}, Search::Place}},
                         {});
}

ModelPtr makeLogistic3(const Settings&) {
    return searchedModel(
        "top/(1 + (x/midpoint)^steepness)",
        {{{"top", "level at small x", "y"}},
         {{"midpoint", "x half way down", "x", 0}, Search::Positive},
         {{"steepness", "slope factor; negative where the curve rises", ""}, Search::Number, -6, 6}},
        {});
}

ModelPtr makeLogistic5(const Settings&) {
    return searchedModel(
        "end + (start - end)/(1 + (x/place)^steepness)^asymmetry",
        {{{"start", "level at small x", "y"}},
         {{"end", "level at large x", "y"}},
         {{"place", "x of the bend; half way only where the asymmetry is one", "x", 0}, Search::Positive},
         {{"steepness", "slope factor", "", 0}, Search::Number, 0.3, 6},
         {{"asymmetry", "one: symmetric", "", 0.01, 100}, Search::Number, 0.3, 3}},
        {{"midpoint", "place*(2^(1/asymmetry) - 1)^(1/steepness)", "x"}});
}

ModelPtr makeGompertz(const Settings&) {
    return searchedModel("limit*exp(-exp(-rate*(x - inflection)))",
                         {{{"limit", "level that is reached in the end", "y"}},
                          {{"rate", "rate constant", "1/x", 0}, Search::Rate},
                          {{"inflection", "x of the fastest growth", "x"}, Search::Place}},
                         {});
}

ModelPtr makeRichards(const Settings&) {
    return searchedModel(
        "limit*(1 + shape*exp(-rate*(x - inflection)))^(-1/shape)",
        {{{"limit", "level that is reached in the end", "y"}},
         {{"shape", "1: logistic; towards 0: Gompertz", "", 0.001, 50}, Search::Number, 0.1, 5},
         {{"rate", "rate constant", "1/x", 0}, Search::Rate},
         {{"inflection", "x of the fastest growth", "x"}, Search::Place}},
        {});
}

ModelPtr makeWeibull(const Settings&) {
    return searchedModel("end + (start - end)*if(x > 0, exp(-(x/scale)^shape), 1)",
                         {{{"start", "level at x = 0", "y"}},
                          {{"end", "level at large x", "y"}},
                          {{"scale", "x at which 63 % of the change are done", "x", 0}, Search::Positive},
                          {{"shape", "1: exponential; larger: steeper", "", 0, 50}, Search::Number, 0.4, 8}},
                         {});
}

ModelPtr makeHill(const Settings&) {
    return searchedModel("base + range*x^steepness/(half^steepness + x^steepness)",
                         {{{"base", "level at x = 0", "y"}},
                          {{"range", "change from the base to the highest", "y"}},
                          {{"half", "x at half of the change", "x", 0}, Search::Positive},
                          {{"steepness", "Hill coefficient", "", 0, 30}, Search::Number, 0.4, 6}},
                         {});
}

ModelPtr makeErrorFunction(const Settings&) {
    return searchedModel("start + (end - start)*(1 + erf((x - place)/(width*sqrt(2))))/2",
                         {{{"start", "level before", "y"}},
                          {{"end", "level after", "y"}},
                          {{"place", "middle of the step", "x"}, Search::Place},
                          {{"width", "standard deviation of the blur", "x", 0}, Search::Length}},
                         {});
}

ModelPtr makeBiphasic(const Settings&) {
    return searchedModel("end + high/(1 + x/midpoint_high) + low/(1 + x/midpoint_low)",
                         {{{"end", "level at large x", "y"}},
                          {{"high", "change at the first site", "y"}},
                          {{"midpoint_high", "x half way at the first site", "x", 0}, Search::Positive},
                          {{"low", "change at the second site", "y"}},
                          {{"midpoint_low", "x half way at the second site", "x", 0}, Search::Positive}},
                         {});
}

} // namespace

std::vector<ModelKind> sigmoidModels() {
    return {{{.key = "logistic-growth",
              .name = "Logistic growth",
              .purpose = "Growth towards a limit; symmetric about its middle",
              .group = "Growth and decay"},
             makeLogisticGrowth},
            {{.key = "logistic-3",
              .name = "Logistic, three parameters",
              .purpose = "Dose–response between a level and nothing",
              .group = "Sigmoids and dose–response"},
             makeLogistic3},
            {{.key = "logistic-5",
              .name = "Logistic, five parameters",
              .purpose = "Standard curves that are not symmetric",
              .group = "Sigmoids and dose–response"},
             makeLogistic5},
            {{.key = "gompertz",
              .name = "Gompertz",
              .purpose = "Growth that is fast early and slow late",
              .group = "Growth and decay"},
             makeGompertz},
            {{.key = "richards",
              .name = "Richards",
              .purpose = "Growth with a free place of the inflection",
              .group = "Growth and decay"},
             makeRichards},
            {{.key = "weibull",
              .name = "Weibull",
              .purpose = "Survival and failure over time; x from zero on",
              .group = "Sigmoids and dose–response"},
             makeWeibull},
            {{.key = "hill",
              .name = "Hill",
              .purpose = "Cooperative binding and response over a base",
              .group = "Sigmoids and dose–response"},
             makeHill},
            {{.key = "error-function",
              .name = "Error function",
              .purpose = "A step blurred by a normal distribution: diffusion, edges",
              .group = "Steps and ramps"},
             makeErrorFunction},
            {{.key = "biphasic",
              .name = "Biphasic dose–response",
              .purpose = "Two independent sites or targets",
              .group = "Sigmoids and dose–response"},
             makeBiphasic}};
}

} // namespace jointer::models
