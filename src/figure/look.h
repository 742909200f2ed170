// SPDX-License-Identifier: GPL-3.0-or-later
// How an element looks: a value is searched in the element itself, then in what its group gives it, then in
// the figure's house style, then in the description of its kind.
#pragma once

#include "describe/catalogue.h"
#include "draw/geometry.h"
#include "project/project.h"

namespace jointer::figure {

class Look {
public:
    // `own` and `style` must outlive the look.
    Look(const KindInfo& kind, const Settings& own, const HouseStyle* style, Settings encoded = {});
    double number(std::string_view key) const; // NaN: empty
    int integer(std::string_view key) const;
    std::string text(std::string_view key) const;
    bool flag(std::string_view key) const;
    Numbers numbers(std::string_view key) const;
    Texts texts(std::string_view key) const;
    std::string reference(std::string_view key) const;
    draw::Colour colour(std::string_view key, draw::Colour fallback) const;
    double millimetres(std::string_view key) const { return number(key) * draw::kMmPerPt; } // of points
    bool isOwn(std::string_view key) const { return own_.has(key); }
    Value value(std::string_view key) const;
    RowList styleRows(std::string_view key) const { // what the house style has, under those of the element
        return style_ ? style_->rows(key) : RowList{};
    }
    const Settings& own() const { return own_; }
    const KindInfo& kind() const { return kind_; }

    // All values in force, for kinds that take settings as a whole.
    Settings inForce() const;

private:
    const KindInfo& kind_;
    const Settings& own_;
    const Settings* style_;
    Settings encoded_;
};

// Colours of datasets: distinct for colour-blind readers; the first palette is the default, also in grey.
const std::vector<std::string>& palette(std::string_view key = {});
const std::vector<Choice>& palettes();
// A colour of the default palette as another one has it; others stay as they are.
std::string inPalette(const std::string& colour, std::string_view key);

// Of a map that is perceptually uniform at a share between 0 and 1; unknown maps are the first of them.
draw::Colour mapped(std::string_view map, double share);
const std::vector<Choice>& colourMaps();

} // namespace jointer::figure
