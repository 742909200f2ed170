// SPDX-License-Identifier: GPL-3.0-or-later
// What gestures and rows of a card do to the specification of a set of peaks. Peaks that were found are taken
// over, all together and as they are shown, as soon as a hand changes one of them. Pure functions.
#pragma once

#include "analyses/peaks/peaks.h"

namespace jointer::analyses {

// All peaks as they are shown become start values: of a draft, and of what was fitted. While a hand drags,
// what is shown are the start values.
void takeOver(Analysis& peaks, const PeaksDetail& shown);

// Gives its number. Without a width and a height these are seen in the points.
int addPeak(Analysis& peaks, const PeaksDetail* shown, double place, std::optional<double> height = {},
            std::optional<double> width = {});
void movePeak(Analysis& peaks, const PeaksDetail& shown, int number, double place, double height);
void widenPeak(Analysis& peaks, const PeaksDetail& shown, int number, double width);
// With all that was said of it; the last one leaves a draft.
void removePeak(Analysis& peaks, const PeaksDetail& shown, int number);
// The same where a draft has been placed, whatever is shown.
void dropPeak(Analysis& peaks, int number);
// A draft as it was found, before it was fitted.
void placeAsPlanned(Analysis& peaks, const PeaksPlan& plan);
void namePeak(Analysis& peaks, const PeaksDetail& shown, int number, const std::string& name);
// Its own shape; empty: that of all.
void shapePeak(Analysis& peaks, const PeaksDetail& shown, int number, const std::string& key);
// All others stay where they are; 0: all are fitted again.
void fitOnly(Analysis& peaks, const PeaksDetail& shown, int number);

// What a tie between two peaks keeps: "distance", "area-ratio", "height-ratio" or "width-ratio" of the first
// to the second, at the value that is shown; NaN: there is none.
double tieValue(const PeaksDetail& shown, const std::string& what, int of, int to);
void tiePeaks(Analysis& peaks, const PeaksDetail& shown, const std::string& what, int of, int to,
              double value);
void untiePeaks(Analysis& peaks, const std::string& what, int of, int to);

// They are found anew, instead of those that a hand has placed.
void findAnew(Analysis& peaks);

} // namespace jointer::analyses
