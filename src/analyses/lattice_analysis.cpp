// SPDX-License-Identifier: GPL-3.0-or-later
// Lattice parameters from fitted lines whose names, or a list, tell their indices: an analysis that takes a
// set of peaks.
#include "analyses/lattice.h"
#include "analyses/line_widths.h"
#include "analyses/peaks/further_numbers.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using namespace describe;

const KindInfo& info() {
    static const KindInfo kind{
        .key = "lattice",
        .name = "Lattice from lines",
        .purpose = "Lattice parameters from indexed diffraction lines, with the zero or the displacement",
        .settings = {
            choice("system", "System",
                   {{"cubic", "cubic"},
                    {"tetragonal", "tetragonal"},
                    {"hexagonal", "hexagonal"},
                    {"orthorhombic", "orthorhombic"}},
                   "Which lengths of the lattice differ."),
            made(SettingKind::Text, "indices", "Indices", Value(std::string()),
                 "Of the lines, by name or number: 1=104, 2=1 1 0. Lines without are left out; a line may "
                 "also be "
                 "called by its indices.",
                 {}),
            number("wavelength", "Wavelength", 1.5406, "Lengths come in its unit.", {.lowest = 1e-9}),
            angleSetting("What the axis of x is."),
            choice(
                "zero", "Corrected",
                {{"none", "nothing"}, {"shift", "a shift of zero"}, {"displacement", "a displaced sample"}},
                "What else moves the lines: all alike, or as cos θ.")}};
    return kind;
}

Result<std::map<std::string, std::string>> listed(const std::string& text) {
    std::map<std::string, std::string> out;
    for (std::string_view part : split(text, ',')) {
        if (trimmed(part).empty()) continue;
        const auto equals = part.find('=');
        if (equals == part.npos)
            return failure(
                "indices",
                fmt::format("“{}” is not understood: write name=indices, such as 1=104.", trimmed(part)));
        out[std::string(trimmed(part.substr(0, equals)))] = std::string(trimmed(part.substr(equals + 1)));
    }
    return out;
}

CrystalSystem systemOf(std::string_view key) {
    if (key == "cubic") return CrystalSystem::Cubic;
    if (key == "tetragonal") return CrystalSystem::Tetragonal;
    return key == "hexagonal" ? CrystalSystem::Hexagonal : CrystalSystem::Orthorhombic;
}

ZeroRule zeroRuleOf(std::string_view key) {
    if (key == "shift") return ZeroRule::Shift;
    return key == "displacement" ? ZeroRule::Displacement : ZeroRule::None;
}

// The peaks that have indices, told in the list or by their names.
struct Indexed {
    std::vector<IndexedLine> lines;
    std::vector<const PlannedPeak*> peaks;
};

Result<Indexed> indexedLines(const PeaksDetail& found, const std::string& told, double radians) {
    const auto list = listed(told);
    if (!list) return std::unexpected(list.error());
    Indexed out;
    for (std::size_t k = 0; k < found.plan.peaks.size(); ++k) {
        const PlannedPeak& p = found.plan.peaks[k];
        auto at = list->find(p.name);
        if (at == list->end()) at = list->find(std::to_string(p.number));
        const bool isListed = at != list->end();
        if (!isListed && !p.isNamed()) continue;
        const auto hkl = indicesFrom(isListed ? at->second : p.name);
        if (!hkl && !isListed) continue; // a name that is none
        if (!hkl) return std::unexpected(hkl.error());
        const models::PeakNumber& centre = found.numbers[k].centre;
        const double error = found.errorOf(p, centre) * radians;
        out.lines.push_back({*hkl, centre.value * radians, std::isfinite(error) ? error : 0});
        out.peaks.push_back(&p);
    }
    if (out.lines.empty())
        return failure("indices", "No line has indices: write them as 1=104, 2=110, or call the peaks so.");
    return out;
}

void addQuantities(AnalysisResult& out, const PeaksDetail& found, const Indexed& indexed,
                   const Lattice& lattice, const Settings& s, double radians) {
    const FurtherNumbers numbers(found);
    const std::string system = info().text(s, "system"), zero = info().text(s, "zero");
    const auto add = [&](const char* name, const char* label, std::string in, double value, double error) {
        out.quantities.push_back(numbers.quantity(name, label, std::move(in), {value, error}, nullptr));
    };
    add("a", "a", "", lattice.a, lattice.errors[0]);
    if (system == "orthorhombic") add("b", "b", "", lattice.b, lattice.errors[1]);
    if (system != "cubic") add("c", "c", "", lattice.c, lattice.errors[2]);
    add("volume", "volume of the cell", "", lattice.volume, lattice.volumeError);
    const std::string& x = found.taken->members.front().curve->xMeaning.unit;
    if (zero == "shift")
        add("zero", "shift of zero", x, lattice.zero / radians, lattice.zeroError / radians);
    if (zero == "displacement")
        add("displacement", "displacement over the radius", "", lattice.zero, lattice.zeroError);
    for (std::size_t i = 0; i < indexed.peaks.size(); ++i)
        out.quantities.push_back(numbers.quantity("difference", "observed less computed", x,
                                                  {lattice.differences[i] / radians, NAN}, indexed.peaks[i]));
}

void addDoubts(AnalysisResult& out, const Lattice& lattice) {
    if (lattice.free == 0)
        out.issues.push_back(
            {"no-dof", "There are as many lines as unknowns: nothing tells whether they fit.", {}});
    if (!(lattice.scatter > 5)) return;
    out.good = false;
    out.issues.push_back({"scatter",
                          fmt::format("The lines lie {:.2g} times their errors from where the lattice "
                                      "has them: an index may be wrong, or the zero.",
                                      lattice.scatter),
                          {}});
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    const auto taken = takenPeaks(task, "A lattice");
    if (!taken) return std::unexpected(taken.error());
    const PeaksDetail& found = **taken;
    const Settings& s = task.spec.settings;
    const double radians = radiansOfTwoTheta(info(), s);
    const auto indexed = indexedLines(found, info().text(s, "indices"), radians);
    if (!indexed) return std::unexpected(indexed.error());
    const std::string system = info().text(s, "system");
    const ZeroRule zero = zeroRuleOf(info().text(s, "zero"));
    const double wavelength = info().number(s, "wavelength");
    const auto lattice = latticeFrom(indexed->lines, wavelength, systemOf(system), zero);
    if (!lattice) return std::unexpected(lattice.error());
    AnalysisResult out{.state = "done", .good = task.analyses[0]->good};
    addQuantities(out, found, *indexed, *lattice, s, radians);
    out.sentence = fmt::format("A {} lattice from {}.", system, counted(std::ssize(indexed->lines), "line"));
    out.detail = fmt::format("λ = {}{}", readableNumber(wavelength, 7),
                             zero == ZeroRule::Shift          ? ", with a shift of zero"
                             : zero == ZeroRule::Displacement ? ", with a displaced sample"
                                                              : "");
    addDoubts(out, *lattice);
    return out;
}

} // namespace

AnalysisKind latticeAnalysis() {
    return {.info = info(), .slots = slotsOfPeaks(), .compute = compute, .costly = false};
}

} // namespace jointer::analyses
