// SPDX-License-Identifier: GPL-3.0-or-later
// Text on a screen is as wide as the layout has it, whatever the size: what follows it neither touches nor stands off.
#include "draw/fonts.h"
#include "paint/painter.h"

#include <QImage>
#include <cmath>
#include <gtest/gtest.h>

using namespace jointer;
using namespace jointer::draw;

namespace {

// The last column with ink, in pixels; -1: none.
int lastInk(const QImage& image) {
    for (int x = image.width() - 1; x >= 0; --x)
        for (int y = 0; y < image.height(); ++y)
            if (qGray(image.pixel(x, y)) < 190) return x;
    return -1;
}

} // namespace

TEST(TextOnScreen, EndsWhereTheLayoutHasIt) {
    for (const char* face : {"sans", "serif", "sans-bold"})
        for (const std::string text : {"Raman shift (cm", "Intensity of the growth bands", "illicit ill"})
            for (const double dpi : {72.0, 96.0, 120.0})
                for (double size = 5; size <= 20; size += 0.5) {
                    const double em = size * kMmPerPt, width = widthEm(face, text) * em;
                    DisplayList list{.widthMm = width + 10, .heightMm = 3 * em};
                    TextRun run{.text = text + "H", .face = face, .sizePt = size, .origin = {3, 2 * em}};
                    run.widthMm = widthEm(face, run.text) * em; // ends with an upright, close to its edge
                    list.items.push_back({ElementId{1}, run});
                    const double pixels = dpi / 25.4;
                    const double wanted = (3 + run.widthMm - 0.08 * em) * pixels;
                    EXPECT_NEAR(lastInk(paint::toImage(list, dpi, false)), wanted, 3 + 0.015 * run.widthMm * pixels)
                        << face << " " << text << " " << size << " pt at " << dpi;
                }
}
