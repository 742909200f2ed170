// SPDX-License-Identifier: GPL-3.0-or-later
// Symbols told apart by columns of the dataset's table: colour, shape and size by words, by a number in steps, or
// along a gradient. What a class looks like by hand stays with its name, also in a house style, so that the same
// belts look the same in the next project.
#pragma once

#include "figure/colour_scale.h"
#include "figure/marks/parts.h"
#include "figure/marks/sources.h"
#include "figure/symbol_class.h"

namespace jointer::figure {

class Classes {
public:
    // By the settings of the mark; nothing where no column is named. Points of no class are in none of the lists.
    static std::shared_ptr<const Classes> of(const MarkTask& task, const Dataset& dataset, const Curve& curve,
                                             std::vector<Issue>& issues);

    // How a point is drawn; the same key, the same look. Nothing: its class is hidden.
    struct Key {
        std::uint16_t colour = 0, shape = 0, size = 0;
        auto operator<=>(const Key&) const = default;
    };
    std::optional<Key> keyOf(std::size_t point) const;
    // A symbol without places in the look of a key.
    draw::Symbols symbols(const Key& key, const SymbolLook& look, draw::Colour colour) const;

    draw::Colour colourOf(const Key& key, draw::Colour otherwise) const;

    const std::vector<SymbolClass>& legend() const { return legend_; }
    std::vector<std::string> labels() const; // of the rows of the legend
    // The symbol of a row of the legend in its box.
    draw::Symbols keySymbols(std::size_t k, SymbolLook look, draw::Colour colour, draw::Rect box) const;
    const std::vector<SymbolClass>& named() const { return named_; } // that have names, also hidden ones
    const std::optional<ColourScale>& gradient() const { return gradient_; }

private:
    friend class ClassMaker;
    struct Aspect { // what a column gives to the points
        std::vector<std::uint16_t> of; // of each point: one of the classes; the last stands for none
        std::vector<SymbolClass> classes;
    };
    Aspect colour_, shape_, size_;
    std::vector<SymbolClass> legend_, named_;
    std::optional<ColourScale> gradient_;
};

std::vector<Setting> classSettings();

// Limits between steps of a number, ends included: typed ones, of equal widths at round numbers, or with as many
// values in each. At least one step; values need not be sorted.
std::vector<double> stepLimits(std::vector<double> values, std::string_view rule, int count, const Numbers& typed);

} // namespace jointer::figure
