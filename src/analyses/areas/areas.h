// SPDX-License-Identifier: GPL-3.0-or-later
// Areas between limits as an analysis, without a fit: what its handles and commands look at beyond what every
// analysis gives. Peaks are found (a draft), or their limits stand in the setting "limits" as a hand has
// placed them.
#pragma once

#include "analyses/analysis.h"
#include "analyses/areas/measured_peak.h"

namespace jointer::analyses {

struct LimitedPeak {
    int number = 0;
    std::string name; // as the user calls it, else its number
    PeakLimits limits;
    MeasuredPeak measured;
};

struct AreasDetail final : Detail {
    bool draft = false;
    std::vector<LimitedPeak> peaks; // in order of x
    PeakPoints points;

    const LimitedPeak* find(int number) const;
};

const AreasDetail* areasDetail(const AnalysisResult& result); // nullptr: of another kind
const KindInfo& areasSettings();

// What a text such as "2:5 valley; 8:9 leave-out" tells of stretches of x.
struct AreaEvent {
    double from = 0, to = 0;
    std::string what; // zero, drop, valley, tangent, leave-out
};
// Errors: "events": says what it does not understand.
Result<std::vector<AreaEvent>> areaEvents(const std::string& text);

// "1=0.82, caffeine=1.1". Errors: "factors".
Result<std::map<std::string, double>> areaFactors(const std::string& text);

// Edits: those found are taken over as they are shown as soon as a hand changes one.
void takeOverAreas(Analysis& areas, const AreasDetail& shown);
// One end of a peak; where its neighbour touches, that moves along.
void moveLimit(Analysis& areas, const AreasDetail& shown, int number, bool high, double x);
void standOn(Analysis& areas, const AreasDetail& shown, int number, Ground ground);
void removeArea(Analysis& areas, const AreasDetail& shown, int number);
int addArea(Analysis& areas, const AreasDetail* shown, double low, double high);
void nameArea(Analysis& areas, const AreasDetail& shown, int number, const std::string& name);

AnalysisKind areasAnalysis();

const std::vector<Choice>& areaGrounds(); // as settings tell them
std::string groundKey(Ground ground);
Ground groundFromKey(std::string_view key);

} // namespace jointer::analyses
