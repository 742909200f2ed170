// SPDX-License-Identifier: GPL-3.0-or-later
// Saturation, binding, enzymes with substrate alone, adsorption.
#include "models/catalogue.h"
#include "models/searched_model.h"

#include <cmath>

namespace jointer::models {

namespace {

ModelPtr makeSaturation(const Settings&) {
    return searchedModel("maximum*x/(half + x)",
                         {{{"maximum", "level at full saturation", "y"}},
                          {{"half", "x at half saturation", "x", 0}, Search::Positive}},
                         {{"initial slope", "maximum/half", "y/x"}});
}

ModelPtr makeSaturationLine(const Settings&) {
    return searchedModel("maximum*x/(half + x) + unspecific*x",
                         {{{"maximum", "level of the specific part", "y"}},
                          {{"half", "x at half saturation", "x", 0}, Search::Positive},
                          {{"unspecific", "slope of the unspecific part", "y/x"}}},
                         {});
}

ModelPtr makeSaturation2(const Settings&) {
    return searchedModel("maximum1*x/(half1 + x) + maximum2*x/(half2 + x)",
                         {{{"maximum1", "level of the first site", "y"}},
                          {{"half1", "x at its half saturation", "x", 0}, Search::Positive},
                          {{"maximum2", "level of the second site", "y"}},
                          {{"half2", "x at its half saturation", "x", 0}, Search::Positive}},
                         {});
}

ModelPtr makeCooperative(const Settings&) {
    return searchedModel("maximum*x^steepness/(half^steepness + x^steepness)",
                         {{{"maximum", "level at full saturation", "y"}},
                          {{"half", "x at half saturation", "x", 0}, Search::Positive},
                          {{"steepness", "1: independent sites", "", 0, 30}, Search::Number, 0.3, 6}},
                         {});
}

ModelPtr makeSubstrateInhibition(const Settings&) {
    return searchedModel(
        "maximum*x/(half + x + x^2/inhibition)",
        {{{"maximum", "rate at saturation without inhibition", "y"}},
         {{"half", "x at half of it", "x", 0}, Search::Positive},
         {{"inhibition", "constant of the inhibition; larger is weaker", "x", 0}, Search::Positive}},
        {});
}

ModelPtr makeTightBinding(const Settings&) {
    return searchedModel(
        "base + range*((x + total + half) - sqrt((x + total + half)^2 - 4*x*total))/(2*total)",
        {{{"base", "signal without the ligand", "y"}},
         {{"range", "change at full saturation", "y"}},
         {{"total", "total amount of sites, in units of x", "x", 0}, Search::Positive},
         {{"half", "dissociation constant", "x", 0}, Search::Positive}},
        {});
}

ModelPtr makeLangmuir(const Settings&) {
    return searchedModel("capacity*affinity*x/(1 + affinity*x)",
                         {{{"capacity", "amount of a full layer", "y"}},
                          {{"affinity", "affinity constant", "1/x", 0}, Search::Rate}},
                         {});
}

ModelPtr makeFreundlich(const Settings&) {
    return searchedModel(
        "factor*x^(1/intensity)",
        {{{"factor", "amount at x = 1", "y"}},
         {{"intensity", "1: proportional; larger: bends sooner", "", 0.05, 100}, Search::Number, 0.3, 10}},
        {});
}

ModelPtr makeBet(const Settings&) {
    return searchedModel("monolayer*c*x/((1 - x)*(1 + (c - 1)*x))",
                         {{{"monolayer", "amount of one layer", "y"}},
                          {{"c", "constant of the heat of adsorption", "", 0}, Search::Number, 0.5, 1000}},
                         {});
}

} // namespace

std::vector<ModelKind> saturationModels() {
    return {{{.key = "saturation",
              .name = "Saturation of one site",
              .purpose = "Binding to one site, enzyme rates, adsorption",
              .group = "Saturation and binding"},
             makeSaturation},
            {{.key = "saturation-line",
              .name = "Saturation with a linear part",
              .purpose = "Binding to one site and unspecific binding",
              .group = "Saturation and binding"},
             makeSaturationLine},
            {{.key = "saturation-2",
              .name = "Saturation of two sites",
              .purpose = "Binding to two independent sites",
              .group = "Saturation and binding"},
             makeSaturation2},
            {{.key = "cooperative",
              .name = "Cooperative saturation",
              .purpose = "Binding that helps or hinders itself",
              .group = "Saturation and binding"},
             makeCooperative},
            {{.key = "substrate-inhibition",
              .name = "Rate with inhibition by the substrate",
              .purpose = "Enzymes that much substrate slows down",
              .group = "Rates of reactions"},
             makeSubstrateInhibition},
            {{.key = "tight-binding",
              .name = "Tight binding",
              .purpose = "Binding where the free part is not what was added (depletion)",
              .group = "Saturation and binding"},
             makeTightBinding},
            {{.key = "langmuir",
              .name = "Langmuir isotherm",
              .purpose = "Adsorption in one layer",
              .group = "Adsorption"},
             makeLangmuir},
            {{.key = "freundlich",
              .name = "Freundlich isotherm",
              .purpose = "Adsorption on sites of many kinds; x must be positive",
              .group = "Adsorption"},
             makeFreundlich},
            {{.key = "bet",
              .name = "BET isotherm",
              .purpose = "Adsorption in several layers over relative pressure, in its range of 0.05 to 0.35",
              .group = "Adsorption"},
             makeBet}};
}

} // namespace jointer::models
