// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/peak_labels.h"

#include "draw/markup.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

constexpr double kAboveMm = 1.4, kApartMm = 0.4;

bool touch(const draw::Rect& a, const draw::Rect& b) {
    return a.x < b.right() && b.x < a.right() && a.y < b.bottom() && b.y < a.bottom();
}

} // namespace

std::vector<draw::Item> peakLabelTexts(std::vector<PeakLabel> labels, const Frame& frame) {
    std::ranges::stable_sort(labels, {}, &PeakLabel::x);
    std::vector<draw::Item> texts;
    std::vector<draw::Rect> taken;
    for (const PeakLabel& label : labels) {
        const draw::Point top = frame.at(label.x, label.top);
        if (!frame.holds(top)) continue; // NaN neither
        const draw::SetText text = draw::setText(label.words, frame.text);
        draw::Rect box{top.x - text.widthMm / 2, top.y - kAboveMm - text.heightMm(), text.widthMm, text.heightMm()};
        for (bool moved = true; moved;) {
            moved = false;
            for (const draw::Rect& other : taken)
                if (touch(box.grown(kApartMm), other)) {
                    box.y = other.y - box.height - 1.01 * kApartMm; // ever higher: it ends
                    moved = true;
                }
        }
        taken.push_back(box);
        for (draw::Item& part :
             draw::placed(text, {top.x, box.bottom()}, draw::HAlign::Centre, draw::VAlign::Bottom))
            texts.push_back(std::move(part));
    }
    return texts;
}

} // namespace jointer::figure
