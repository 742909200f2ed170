// SPDX-License-Identifier: GPL-3.0-or-later
// Rates and responses under a second agent: x1 is the substrate or the first agent, x2 the second one; and
// binding against a competitor.
#include "models/catalogue.h"
#include "models/searched_model.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::models {

namespace {

ModelPtr makeInhibition(const Settings& settings) {
    const std::string mechanism = settings.text("mechanism", "competitive");
    const std::string less = "(1 + x2/inhibition)";
    std::string text;
    std::vector<SearchedParameter> parameters = {
        {{"maximum", "rate at saturation without inhibitor", "y"}},
        {{"half", "x1 at half of it", "x", 0}, Search::Positive},
        {{"inhibition", "constant of the inhibitor; larger is weaker", "", 0}, Search::PositiveSecond}};
    if (mechanism == "uncompetitive")
        text = "maximum*x1/(half + x1*" + less + ")";
    else if (mechanism == "noncompetitive")
        text = "maximum*x1/((half + x1)*" + less + ")";
    else if (mechanism == "mixed") {
        text = "maximum*x1/(half*" + less + " + x1*(1 + x2/inhibition_bound))";
        parameters.push_back({{"inhibition_bound", "its constant once the substrate is bound", "", 0},
                              Search::PositiveSecond});
    } else
        text = "maximum*x1/(half*" + less + " + x1)";
    return searchedModel(text, parameters, {}, 2);
}

// Source: O. Arunlakshana, H. O. Schild, Br. J. Pharmacol. 14 (1959) 48.
ModelPtr makeShiftedResponse(const Settings&) {
    return searchedModel(
        "low + (high - low)*if(x1 > 0, 1/(1 + (midpoint*(1 + if(x2 > 0, (x2/shift)^order, "
        "0))/x1)^steepness), 0)",
        {{{"low", "response without the first agent", "y"}},
         {{"high", "response to much of it", "y"}},
         {{"midpoint", "x1 at half of the response, without the second agent", "x", 0}, Search::Positive},
         {{"steepness", "of the response to the first agent", "", 0, 30}, Search::Number, 0.4, 4},
         {{"shift", "x2 that doubles the dose needed", "", 0}, Search::PositiveSecond},
         {{"order", "1: the second agent competes", "", 0, 10}, Search::Number, 0.8, 1.25}},
        {{"pA2", "-log10(shift)", ""}}, 2);
}

ModelPtr makeCompetition(const Settings& settings) {
    const double ligand = settings.number("ligand", NAN), affinity = settings.number("affinity", NAN);
    std::vector<DerivedInfo> derived;
    if (ligand >= 0 && affinity > 0)
        derived.push_back({"dissociation constant", fmt::format("half/(1 + {}/{})", ligand, affinity), "x"});
    return searchedModel("unspecific + specific/(1 + x/half)",
                         {{{"unspecific", "signal with much of the competitor", "y"}},
                          {{"specific", "what the competitor can take away", "y"}},
                          {{"half", "x that takes away half", "x", 0}, Search::Positive}},
                         derived);
}

Setting number(const char* key, const char* label, const char* help) {
    return {.key = key,
            .label = label,
            .fallback = std::nan(""),
            .help = help,
            .lowest = 0,
            .whenEmpty = "not known"};
}

} // namespace

std::vector<ModelKind> inhibitionModels() {
    return {
        {{.key = "inhibition",
          .name = "Rate with an inhibitor",
          .purpose = "Enzymes, carriers: x1 is the substrate and x2 the inhibitor; binding with a competitor",
          .group = "Saturation and binding",
          .settings = {{.key = "mechanism",
                        .label = "Mechanism",
                        .kind = SettingKind::Choice,
                        .fallback = std::string("competitive"),
                        .help = "Where the inhibitor binds: in place of the substrate, only after it, alike "
                                "in both cases, or differently.",
                        .choices = {{"competitive", "competitive"},
                                    {"uncompetitive", "uncompetitive"},
                                    {"noncompetitive", "noncompetitive"},
                                    {"mixed", "mixed"}}}}},
         makeInhibition},
        {{.key = "competition",
          .name = "Binding against a competitor",
          .purpose = "A labelled ligand driven out by more and more of another",
          .group = "Saturation and binding",
          .settings = {number("ligand", "Ligand", "Concentration of the labelled ligand, in units of x."),
                       number("affinity", "Its constant", "Dissociation constant of the labelled ligand.")}},
         makeCompetition},
        {{.key = "shifted-response",
          .name = "Response shifted by a second agent",
          .purpose =
              "Several dose–response curves at once: x1 is the dose, x2 that of the agent that shifts it",
          .group = "Sigmoids and dose–response"},
         makeShiftedResponse}};
}

} // namespace jointer::models
