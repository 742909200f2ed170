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

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    const auto taken = takenPeaks(task, "A lattice");
    if (!taken) return std::unexpected(taken.error());
    const PeaksDetail& peaks = **taken;
    const FurtherNumbers numbers(peaks);
    const Settings& s = task.spec.settings;
    const double radians = radiansOfTwoTheta(info(), s);
    const auto list = listed(info().text(s, "indices"));
    if (!list) return std::unexpected(list.error());
    std::vector<IndexedLine> lines;
    std::vector<const PlannedPeak*> of;
    for (std::size_t k = 0; k < peaks.plan.peaks.size(); ++k) {
        const PlannedPeak& p = peaks.plan.peaks[k];
        auto at = list->find(p.name);
        if (at == list->end()) at = list->find(std::to_string(p.number));
        if (at == list->end() && !p.isNamed()) continue;
        const auto hkl = indicesFrom(at == list->end() ? p.name : at->second);
        if (!hkl && at == list->end()) continue; // a name that is none
        if (!hkl) return std::unexpected(hkl.error());
        const models::PeakNumber& centre = peaks.numbers[k].centre;
        const double error = peaks.errorOf(p, centre) * radians;
        lines.push_back({*hkl, centre.value * radians, std::isfinite(error) ? error : 0});
        of.push_back(&p);
    }
    if (lines.empty())
        return failure("indices", "No line has indices: write them as 1=104, 2=110, or call the peaks so.");
    const std::string system = info().text(s, "system"), zero = info().text(s, "zero");
    const double wavelength = info().number(s, "wavelength");
    const auto lattice = latticeFrom(lines, wavelength,
                                     system == "cubic"        ? CrystalSystem::Cubic
                                     : system == "tetragonal" ? CrystalSystem::Tetragonal
                                     : system == "hexagonal"  ? CrystalSystem::Hexagonal
                                                              : CrystalSystem::Orthorhombic,
                                     zero == "shift"          ? ZeroRule::Shift
                                     : zero == "displacement" ? ZeroRule::Displacement
                                                              : ZeroRule::None);
    if (!lattice) return std::unexpected(lattice.error());
    AnalysisResult out{.state = "done", .good = task.analyses[0]->good};
    const auto add = [&](const char* name, const char* label, std::string in, double value, double error) {
        out.quantities.push_back(numbers.quantity(name, label, std::move(in), {value, error}, nullptr));
    };
    add("a", "a", "", lattice->a, lattice->errors[0]);
    if (system == "orthorhombic") add("b", "b", "", lattice->b, lattice->errors[1]);
    if (system != "cubic") add("c", "c", "", lattice->c, lattice->errors[2]);
    add("volume", "volume of the cell", "", lattice->volume, lattice->volumeError);
    const std::string& x = peaks.taken->members.front().curve->xMeaning.unit;
    if (zero == "shift")
        add("zero", "shift of zero", x, lattice->zero / radians, lattice->zeroError / radians);
    if (zero == "displacement")
        add("displacement", "displacement over the radius", "", lattice->zero, lattice->zeroError);
    for (std::size_t i = 0; i < lines.size(); ++i)
        out.quantities.push_back(numbers.quantity("difference", "observed less computed", x,
                                                  {lattice->differences[i] / radians, NAN}, of[i]));
    out.sentence = fmt::format("A {} lattice from {}.", system, counted(std::ssize(lines), "line"));
    out.detail = fmt::format("λ = {}{}", readableNumber(wavelength, 7),
                             zero == "shift"          ? ", with a shift of zero"
                             : zero == "displacement" ? ", with a displaced sample"
                                                      : "");
    if (lattice->free == 0)
        out.issues.push_back(
            {"no-dof", "There are as many lines as unknowns: nothing tells whether they fit.", {}});
    if (lattice->scatter > 5) {
        out.good = false;
        out.issues.push_back({"scatter",
                              fmt::format("The lines lie {:.2g} times their errors from where the lattice "
                                          "has them: an index may be wrong, or the zero.",
                                          lattice->scatter),
                              {}});
    }
    return out;
}

} // namespace

AnalysisKind latticeAnalysis() {
    return {.info = info(), .slots = slotsOfPeaks(), .compute = compute, .costly = false};
}

} // namespace jointer::analyses
