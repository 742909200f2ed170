// SPDX-License-Identifier: GPL-3.0-or-later
// Reactions one after the other; uptake, distribution and elimination in compartments.
#include "models/catalogue.h"
#include "models/searched_model.h"

namespace jointer::models {

namespace {

Setting choice(const char* key, const char* label, const char* help, std::vector<Choice> choices) {
    return {.key = key,
            .label = label,
            .kind = SettingKind::Choice,
            .fallback = Value(choices.front().key),
            .help = help,
            .choices = choices};
}

// (e^(−k₁x) − e^(−k₂x))/(k₂ − k₁), also where the two are equal.
std::string difference(const std::string& k1, const std::string& k2, const std::string& x) {
    return "if(abs(" + k2 + " - " + k1 + ") < 1e-6*(" + k1 + " + " + k2 + "), " + x + "*exp(-(" + k1 + " + " +
           k2 + ")/2*" + x + "), (exp(-" + k1 + "*" + x + ") - exp(-" + k2 + "*" + x + "))/(" + k2 + " - " +
           k1 + "))";
}

ModelPtr makeConsecutive(const Settings& settings) {
    const bool product = settings.text("of", "intermediate") == "product";
    const std::string formed = "rate_formed*" + difference("rate_formed", "rate_used", "x");
    const std::string shape = product ? "(1 - exp(-rate_formed*x) - " + formed + ")" : formed;
    return searchedModel(
        "start*" + shape,
        {{{"start", "amount of the first at x = 0", "y"}},
         {{"rate_formed", "rate constant of the first step", "1/x", 0}, Search::Rate},
         {{"rate_used", "rate constant of the second step", "1/x", 0}, Search::Rate}},
        {{"time of the maximum", "ln(rate_formed/rate_used)/(rate_formed - rate_used)", "x"}});
}

ModelPtr makeAbsorption(const Settings& settings) {
    const bool lag = settings.flag("lag");
    const std::string x = lag ? "max(x - lag, 0)" : "x";
    std::vector<SearchedParameter> parameters = {
        {{"level", "dose that is taken up, over the volume", "y"}},
        {{"uptake", "rate constant of absorption", "1/x", 0}, Search::Rate},
        {{"elimination", "rate constant of elimination", "1/x", 0}, Search::Rate}};
    if (lag) parameters.push_back({{"lag", "x at which uptake begins", "x", 0}, Search::Place});
    return searchedModel(
        "level*uptake*" + difference("uptake", "elimination", x), parameters,
        {{"half-life", "ln(2)/elimination", "x"},
         {"time of the maximum",
          std::string("ln(uptake/elimination)/(uptake - elimination)") + (lag ? " + lag" : ""), "x"},
         {"area", "level/elimination", "xy"}});
}

ModelPtr makeTwoCompartments(const Settings& settings) {
    const bool absorbed = settings.text("route", "injection") == "absorption";
    std::vector<SearchedParameter> parameters = {
        {{"fast", "part of the distribution", "y"}},
        {{"rate_fast", "rate constant of the distribution", "1/x", 0}, Search::Rate},
        {{"slow", "part of the elimination", "y"}},
        {{"rate_slow", "rate constant of the elimination", "1/x", 0}, Search::Rate}};
    std::string text = "fast*exp(-rate_fast*x) + slow*exp(-rate_slow*x)",
                area = "fast/rate_fast + slow/rate_slow";
    if (absorbed) {
        parameters.push_back({{"uptake", "rate constant of absorption", "1/x", 0}, Search::Rate});
        text += " - (fast + slow)*exp(-uptake*x)";
        area += " - (fast + slow)/uptake";
    }
    return searchedModel(text, parameters,
                         {{"half-life of distribution", "ln(2)/rate_fast", "x"},
                          {"half-life of elimination", "ln(2)/rate_slow", "x"},
                          {"area", area, "xy"}});
}

} // namespace

std::vector<ModelKind> kineticModels() {
    return {{{.key = "consecutive",
              .name = "Consecutive reactions",
              .purpose = "A turns into B and B into C, each of first order: the intermediate or the product",
              .group = "Rates of reactions",
              .settings = {choice("of", "Followed", "Which of the substances is measured.",
                                  {{"intermediate", "the intermediate"}, {"product", "the product"}})}},
             makeConsecutive},
            {{.key = "absorption-elimination",
              .name = "Absorption and elimination",
              .purpose = "One compartment with uptake and removal of first order",
              .group = "Rates of reactions",
              .settings = {{.key = "lag",
                            .label = "Begins later",
                            .kind = SettingKind::Flag,
                            .fallback = false,
                            .help = "Uptake begins at an x that is fitted too."}}},
             makeAbsorption},
            {{.key = "two-compartments",
              .name = "Two compartments",
              .purpose = "Distribution and elimination after an injection, or with uptake before",
              .group = "Rates of reactions",
              .settings = {choice("route", "Given", "How the dose comes in.",
                                  {{"injection", "at once"}, {"absorption", "by absorption"}})}},
             makeTwoCompartments}};
}

} // namespace jointer::models
