// SPDX-License-Identifier: GPL-3.0-or-later
// Further exponentials: growth, several rates at once, stretched, rise and fall.
#include "models/catalogue.h"
#include "models/searched_model.h"

#include <cmath>

namespace jointer::models {

namespace {

ModelPtr makeExponentialGrowth(const Settings&) {
    return searchedModel(
        "start*exp(rate*x)",
        {{{"start", "value at x = 0", "y"}}, {{"rate", "rate constant of growth", "1/x"}, Search::Rate}},
        {{"doubling time", "ln(2)/rate", "x"}});
}

ModelPtr makeExponentialDecay2(const Settings&) {
    return searchedModel(
        "fast*exp(-rate_fast*x) + slow*exp(-rate_slow*x) + plateau",
        {{{"fast", "part that decays fast", "y"}},
         {{"rate_fast", "its rate constant", "1/x", 0}, Search::Rate},
         {{"slow", "part that decays slowly", "y"}},
         {{"rate_slow", "its rate constant", "1/x", 0}, Search::Rate},
         {{"plateau", "level that is reached in the end", "y"}}},
        {{"fast half-life", "ln(2)/rate_fast", "x"}, {"slow half-life", "ln(2)/rate_slow", "x"}});
}

ModelPtr makeExponentialDecay3(const Settings&) {
    return searchedModel("a1*exp(-rate1*x) + a2*exp(-rate2*x) + a3*exp(-rate3*x) + plateau",
                         {{{"a1", "first part", "y"}},
                          {{"rate1", "its rate constant", "1/x", 0}, Search::Rate},
                          {{"a2", "second part", "y"}},
                          {{"rate2", "its rate constant", "1/x", 0}, Search::Rate},
                          {{"a3", "third part", "y"}},
                          {{"rate3", "its rate constant", "1/x", 0}, Search::Rate},
                          {{"plateau", "level that is reached in the end", "y"}}},
                         {});
}

ModelPtr makeExponentialRise(const Settings&) {
    return searchedModel(
        "start + (plateau - start)*(1 - exp(-rate*x))",
        {{{"start", "value at x = 0", "y"}},
         {{"plateau", "level that is reached in the end", "y"}},
         {{"rate", "rate constant; its reciprocal is the time constant", "1/x", 0}, Search::Rate}},
        {{"half-time", "ln(2)/rate", "x"}, {"time constant", "1/rate", "x"}});
}

ModelPtr makeStretchedExponential(const Settings&) {
    return searchedModel(
        "amplitude*if(x > 0, exp(-(rate*x)^stretch), 1) + plateau",
        {{{"amplitude", "height above the plateau at x = 0", "y"}},
         {{"rate", "rate constant", "1/x", 0}, Search::Rate},
         {{"stretch", "1: a plain exponential; smaller: a wider range of rates", "", 0.05, 20},
          Search::Number,
          0.25,
          2.5},
         {{"plateau", "level that is reached in the end", "y"}}},
        {});
}

ModelPtr makeRiseAndFall(const Settings&) {
    return searchedModel("amplitude*(exp(-x/fall) - exp(-x/rise))",
                         {{{"amplitude", "height that both parts would have alone", "y"}},
                          {{"rise", "time constant of the rise", "x", 0}, Search::Length},
                          {{"fall", "time constant of the fall", "x", 0}, Search::Length}},
                         {{"time of the maximum", "ln(fall/rise)*fall*rise/(fall - rise)", "x"}});
}

ModelPtr makeSecondOrderDecay(const Settings&) {
    return searchedModel("start/(1 + x/halflife)",
                         {{{"start", "value at x = 0", "y"}},
                          {{"halflife", "x at which half is left", "x", 0}, Search::Length}},
                         {{"rate constant", "1/(start*halflife)", "1/(xy)"}});
}

ModelPtr makeNthOrderDecay(const Settings&) {
    return searchedModel("start*(1 + (2^(order - 1) - 1)*x/halflife)^(-1/(order - 1))",
                         {{{"start", "value at x = 0", "y"}},
                          {{"order", "order of the reaction", "", 1.001, 6}, Search::Number, 1.1, 4},
                          {{"halflife", "x at which half is left", "x", 0}, Search::Length}},
                         {});
}

ModelPtr makeZeroOrderDecay(const Settings&) {
    return searchedModel("max(start - rate*x, 0)",
                         {{{"start", "value at x = 0", "y"}}, {{"rate", "rate of removal", "y/x"}}}, {});
}

} // namespace

std::vector<ModelKind> decayModels() {
    return {
        {{.key = "exponential-growth",
          .name = "Exponential growth",
          .purpose = "Growth without a limit; doubling time",
          .group = "Growth and decay"},
         makeExponentialGrowth},
        {{.key = "exponential-decay-2",
          .name = "Two exponential decays to a plateau",
          .purpose = "Two processes of first order at once, fast and slow",
          .group = "Growth and decay"},
         makeExponentialDecay2},
        {{.key = "exponential-decay-3",
          .name = "Three exponential decays to a plateau",
          .purpose = "Three processes of first order at once; needs many good points",
          .group = "Growth and decay"},
         makeExponentialDecay3},
        {{.key = "exponential-rise",
          .name = "Exponential rise to a plateau",
          .purpose = "Charging, uptake, first-order formation",
          .group = "Growth and decay"},
         makeExponentialRise},
        {{.key = "stretched-exponential",
          .name = "Stretched exponential decay",
          .purpose = "Relaxation with a range of rates; x from zero on",
          .group = "Growth and decay"},
         makeStretchedExponential},
        {{.key = "rise-and-fall",
          .name = "Rise and fall",
          .purpose = "A quantity that is formed and removed again: uptake and elimination, an intermediate",
          .group = "Growth and decay"},
         makeRiseAndFall},
        {{.key = "second-order-decay",
          .name = "Decay of second order",
          .purpose = "Two alike that react with each other",
          .group = "Rates of reactions"},
         makeSecondOrderDecay},
        {{.key = "nth-order-decay",
          .name = "Decay of order n",
          .purpose = "Reactions whose order is to be found; not for order one",
          .group = "Rates of reactions"},
         makeNthOrderDecay},
        {{.key = "zero-order-decay",
          .name = "Decay of order zero",
          .purpose = "Removal at a constant rate until nothing is left",
          .group = "Rates of reactions"},
         makeZeroOrderDecay}};
}

} // namespace jointer::models
