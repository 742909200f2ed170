// SPDX-License-Identifier: GPL-3.0-or-later
// What can be set of classes of symbols.
#include "figure/marks/classes.h"

namespace jointer::figure {

std::vector<Setting> classSettings() {
    using namespace describe;
    const std::string group = "Classes";
    std::vector<Choice> shapes = symbolSettings().front().choices;
    shapes.insert(shapes.begin(), {"", "automatic"});
    Setting classes =
        made(SettingKind::Rows, "classes", "Classes by hand", {},
             "How single classes look, in the order of the legend; kept in the house style they look the "
             "same in the next project.",
             {.group = group, .whenEmpty = "automatic", .hidden = true});
    classes.row = {word("name", "Class", "As the column has it."),
                   made(SettingKind::Colour, "colour", "Colour", std::string(), "Its colour.",
                        {.whenEmpty = "automatic"}),
                   choice("symbol", "Symbol", std::move(shapes), "Its symbol."),
                   openNumber("size", "Size", "Of its symbols.",
                              {.unit = "pt", .lowest = 0.2, .highest = 40, .whenEmpty = "automatic"}),
                   word("label", "Label", "What the legend calls it.", {.whenEmpty = "its name"}),
                   flag("hidden", "Hidden", false, "Not drawn, and not in the legend.")};
    std::vector<Setting> all = {
        reference("colour-by", "Colour by", "any column",
                  "The column by which colours differ: words are classes, numbers a gradient or steps.",
                  {.group = group, .whenEmpty = "nothing"}),
        choice("colour-how", "Numbers as", {{"gradient", "gradient"}, {"steps", "steps"}},
               "How a number becomes a colour.", {.group = group})};
    std::ranges::move(colourScaleSettings(group), std::back_inserter(all));
    const std::vector<Setting> rest = {
        reference("symbol-by", "Symbol by", "any column",
                  "The column by which symbols differ; numbers in steps.",
                  {.group = group, .whenEmpty = "nothing"}),
        choice("step-rule", "Steps", {{"even", "round numbers"}, {"counts", "equal counts"}},
               "Where a number is cut into steps.", {.group = group}),
        wholeNumber("step-count", "How many", 5, "Steps that are wished for.",
                    {.lowest = 1, .highest = 50, .group = group}),
        list("step-limits", "Limits", "Values between the steps, instead.",
             {.group = group, .whenEmpty = "found"}),
        reference("size-by", "Size by", "column", "The column of numbers that areas of symbols grow with.",
                  {.group = group, .whenEmpty = "nothing"}),
        number("size-from", "Smallest", 2, "Size for the lowest number.",
               {.unit = "pt", .lowest = 0.2, .highest = 40, .group = group}),
        number("size-to", "Largest", 9, "Size for the highest number.",
               {.unit = "pt", .lowest = 0.2, .highest = 60, .group = group}),
        std::move(classes)};
    all.insert(all.end(), rest.begin(), rest.end());
    return all;
}

} // namespace jointer::figure
