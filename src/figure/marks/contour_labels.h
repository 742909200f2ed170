// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers on lines: each stands in a gap where its line runs straightest, along it, the right way up.
#pragma once

#include "draw/markup.h"
#include "figure/marks/mark.h"

namespace jointer::figure {

class LineLabels {
public:
    LineLabels(const draw::Rect& area, const draw::TextStyle& style, double everyMm)
        : area_(area), style_(style), everyMm_(everyMm) {}

    // The line without the gaps in which its labels stand; these are set with the label's text.
    std::vector<draw::Polyline> broken(draw::Polyline line, const std::string& markup);
    std::vector<draw::Item> takeTexts() { return std::move(texts_); }

private:
    struct Stretch {
        double from = 0, to = 0; // along the line
        draw::Point middle;
        double angleDeg = 0;
    };
    bool isFree(const draw::Point& p, double reach) const;

    draw::Rect area_;
    draw::TextStyle style_;
    double everyMm_;
    std::vector<std::pair<draw::Point, double>> taken_; // of all lines: centre and reach
    std::vector<draw::Item> texts_;
};

} // namespace jointer::figure
