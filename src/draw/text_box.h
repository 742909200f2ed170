// SPDX-License-Identifier: GPL-3.0-or-later
// Letters and strokes that were set together, from which lines of text are put together.
#pragma once

#include "draw/display_list.h"

#include <algorithm>

namespace jointer::draw {

// What is set so far, from its own origin on the baseline.
struct Box {
    double width = 0, ascent = 0, descent = 0;
    bool plain = true; // letters in a line: their scripts stand at common heights
    std::vector<TextRun> runs{};
    std::vector<Path> strokes{};

    // Moved right and up.
    void take(Box other, double x, double up) {
        for (TextRun& run : other.runs) {
            run.origin.x += x;
            run.origin.y -= up;
            runs.push_back(std::move(run));
        }
        for (Path& path : other.strokes) {
            for (Polyline& line : path.lines)
                for (Point& p : line.points) p = {p.x + x, p.y - up};
            strokes.push_back(std::move(path));
        }
        ascent = std::max(ascent, other.ascent + up);
        descent = std::max(descent, other.descent - up);
        width = std::max(width, x + other.width);
    }
};

void addLine(Box& to, std::vector<Point> points, const Stroke& stroke);
void addDot(Box& to, Point middle, double radius, Colour colour);

// How far letters reach below the baseline; above it.
double inkBelow(const Box& box);
double inkAbove(const Box& box);

// One wave, as points.
std::vector<Point> wave(double from, double to, double y, double height);

} // namespace jointer::draw
