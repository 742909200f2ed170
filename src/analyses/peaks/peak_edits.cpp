// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/peaks/peak_edits.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>

namespace jointer::analyses {

namespace {

Settings* rowOf(RowList& rows, int number) {
    const auto at =
        std::ranges::find_if(rows, [&](const Settings& r) { return r.integer("number") == number; });
    return at == rows.end() ? nullptr : &*at;
}

void setRows(Analysis& peaks, const char* key, RowList rows) {
    if (rows.empty())
        peaks.settings.remove(key);
    else
        peaks.settings.set(key, Value(std::make_shared<const RowList>(std::move(rows))));
}

void setText(Settings& row, const char* key, const std::string& text) {
    if (text.empty())
        row.remove(key);
    else
        row.set(key, Value(text));
}

// Changes the row of a peak, after all have been taken over.
void changeRow(Analysis& peaks, const PeaksDetail& shown, int number,
               const std::function<void(Settings&)>& how) {
    takeOver(peaks, shown);
    RowList rows = peaks.settings.rows("peaks");
    if (Settings* row = rowOf(rows, number)) how(*row);
    setRows(peaks, "peaks", std::move(rows));
}

// The number that a name of a parameter ends in; 0: none.
int numberIn(const std::string& name) {
    const auto at = name.find_last_of('_');
    const auto number = at == name.npos ? std::nullopt : parseNumber(name.substr(at + 1));
    return number ? static_cast<int>(*number) : 0;
}

int nextNumber(const Analysis& peaks) {
    int last = 0;
    for (const Settings& row : peaks.settings.rows("peaks")) last = std::max(last, row.integer("number"));
    for (const ParameterChoice& p : peaks.parameters) last = std::max(last, numberIn(p.name));
    for (const Settings& row : peaks.settings.rows("ties"))
        last = std::max({last, row.integer("of"), row.integer("to")});
    return last + 1;
}

} // namespace

void takeOver(Analysis& peaks, const PeaksDetail& shown) {
    const RowList before = peaks.settings.rows("peaks");
    if (shown.report.provisional && !before.empty()) return; // it shows them
    RowList rows;
    for (std::size_t k = 0; k < shown.plan.peaks.size(); ++k) {
        const PlannedPeak& p = shown.plan.peaks[k];
        const PeakNumbers& n = shown.numbers[k];
        const auto at =
            std::ranges::find_if(before, [&](const Settings& r) { return r.integer("number") == p.number; });
        Settings row = at == before.end() ? Settings() : *at;
        row.set("number", p.number);
        if (p.isNamed() && row.text("name").empty()) row.set("name", Value(p.name));
        row.set("place", Value(n.maximum.value));
        if (std::isfinite(n.height.value) && n.height.value != 0) row.set("height", Value(n.height.value));
        if (n.fwhm.value > 0 && std::isfinite(n.fwhm.value)) row.set("width", Value(n.fwhm.value));
        rows.push_back(std::move(row));
    }
    setRows(peaks, "peaks", std::move(rows));
    // What was reached is told by the rows now.
    for (ParameterChoice& p : peaks.parameters)
        if (p.treatment != Treatment::Fixed) p.start.reset();
}

int addPeak(Analysis& peaks, const PeaksDetail* shown, double place, std::optional<double> height,
            std::optional<double> width) {
    if (shown) takeOver(peaks, *shown);
    RowList rows = peaks.settings.rows("peaks");
    Settings row;
    const int number = nextNumber(peaks);
    row.set("number", number);
    row.set("place", Value(place));
    if (height) row.set("height", Value(*height));
    if (width) row.set("width", Value(*width));
    rows.push_back(std::move(row));
    setRows(peaks, "peaks", std::move(rows));
    return number;
}

void movePeak(Analysis& peaks, const PeaksDetail& shown, int number, double place, double height) {
    changeRow(peaks, shown, number, [&](Settings& row) {
        row.set("place", Value(place));
        if (height != 0) row.set("height", Value(height));
    });
}

void widenPeak(Analysis& peaks, const PeaksDetail& shown, int number, double width) {
    if (!(width > 0)) return;
    changeRow(peaks, shown, number, [&](Settings& row) { row.set("width", Value(width)); });
}

void removePeak(Analysis& peaks, const PeaksDetail& shown, int number) {
    takeOver(peaks, shown);
    dropPeak(peaks, number);
}

void placeAsPlanned(Analysis& peaks, const PeaksPlan& plan) {
    if (!plan.draft) return;
    RowList rows;
    for (const PlannedPeak& p : plan.peaks) {
        Settings row;
        row.set("number", p.number);
        if (p.isNamed()) row.set("name", Value(p.name));
        row.set("place", Value(p.place));
        row.set("height", Value(p.height));
        row.set("width", Value(p.width));
        rows.push_back(std::move(row));
    }
    setRows(peaks, "peaks", std::move(rows));
}

void dropPeak(Analysis& peaks, int number) {
    RowList rows = peaks.settings.rows("peaks");
    std::erase_if(rows, [&](const Settings& r) { return r.integer("number") == number; });
    setRows(peaks, "peaks", std::move(rows));
    const std::string suffix = models::nameInWhole("", number);
    std::erase_if(peaks.parameters, [&](const ParameterChoice& p) {
        return numberIn(p.name) == number || p.tie.find(suffix) != std::string::npos;
    });
    RowList ties = peaks.settings.rows("ties");
    std::erase_if(ties,
                  [&](const Settings& r) { return r.integer("of") == number || r.integer("to") == number; });
    setRows(peaks, "ties", std::move(ties));
    if (peaks.settings.integer("only") == number) peaks.settings.remove("only");
}

void namePeak(Analysis& peaks, const PeaksDetail& shown, int number, const std::string& name) {
    changeRow(peaks, shown, number, [&](Settings& row) { setText(row, "name", name); });
}

void shapePeak(Analysis& peaks, const PeaksDetail& shown, int number, const std::string& key) {
    changeRow(peaks, shown, number, [&](Settings& row) { setText(row, "shape", key); });
    std::erase_if(peaks.parameters, [&](const ParameterChoice& p) { return numberIn(p.name) == number; });
}

void fitOnly(Analysis& peaks, const PeaksDetail& shown, int number) {
    takeOver(peaks, shown);
    peaks.settings.remove("hold");
    if (number == 0)
        peaks.settings.remove("only");
    else
        peaks.settings.set("only", number);
}

double tieValue(const PeaksDetail& shown, const std::string& what, int of, int to) {
    const PeakNumbers *a = nullptr, *b = nullptr;
    for (std::size_t k = 0; k < shown.plan.peaks.size(); ++k) {
        if (shown.plan.peaks[k].number == of) a = &shown.numbers[k];
        if (shown.plan.peaks[k].number == to) b = &shown.numbers[k];
    }
    if (!a || !b) return std::nan("");
    return what == "distance"       ? a->centre.value - b->centre.value
           : what == "area-ratio"   ? a->area.value / b->area.value
           : what == "height-ratio" ? a->height.value / b->height.value
                                    : a->fwhm.value / b->fwhm.value;
}

void tiePeaks(Analysis& peaks, const PeaksDetail& shown, const std::string& what, int of, int to,
              double value) {
    takeOver(peaks, shown);
    untiePeaks(peaks, what, of, to);
    Settings row;
    row.set("what", Value(what));
    row.set("of", of);
    row.set("to", to);
    row.set("value", Value(value));
    RowList ties = peaks.settings.rows("ties");
    ties.push_back(std::move(row));
    setRows(peaks, "ties", std::move(ties));
}

void untiePeaks(Analysis& peaks, const std::string& what, int of, int to) {
    RowList ties = peaks.settings.rows("ties");
    std::erase_if(ties, [&](const Settings& r) {
        return r.text("what", "distance") == what && r.integer("of") == of && r.integer("to") == to;
    });
    setRows(peaks, "ties", std::move(ties));
}

void findAnew(Analysis& peaks) {
    peaks.settings.remove("peaks");
    peaks.settings.remove("only");
    peaks.settings.remove("hold");
    peaks.settings.remove("ties");
    std::erase_if(peaks.parameters, [](const ParameterChoice& p) { return numberIn(p.name) > 0; });
}

} // namespace jointer::analyses
