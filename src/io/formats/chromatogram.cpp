// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/formats/chromatogram.h"

#include "base/text.h"

#include <algorithm>

namespace jointer::io {

namespace {

std::string factOf(const Metadata& facts, std::string_view key) {
    const auto at = std::ranges::find(facts, key, &Metadata::value_type::first);
    return at == facts.end() ? std::string() : at->second;
}

Variable* named(std::vector<Variable>& variables, std::string_view name) {
    const auto at = std::ranges::find(variables, name, &Variable::name);
    return at == variables.end() ? nullptr : &*at;
}

std::optional<double> single(std::vector<Variable>& variables, std::string_view name) {
    const Variable* v = named(variables, name);
    return v && v->values.size() == 1 ? std::optional(v->values[0]) : std::nullopt;
}

// Units are written out: "seconds", "Minutes", "Time in seconds".
std::string timeUnit(const std::string& written) {
    const std::string lower = lowerAscii(written);
    if (lower.contains("min")) return "min";
    if (lower.contains("hour")) return "h";
    return lower.empty() || lower.contains("sec") ? "s" : written;
}

// Times of their own, where the sampling was not uniform.
bool hasOwnTimes(const Variable& signal, const Variable* times) {
    const auto uniform = signal.words.find("uniform_sampling_flag");
    const bool saysNo = uniform != signal.words.end() && lowerAscii(uniform->second).starts_with('n');
    return saysNo && times && times->values.size() == signal.values.size();
}

} // namespace

void completeChromatogram(std::vector<Variable>& variables, const Metadata& facts) {
    Variable* signal = named(variables, "ordinate_values");
    const auto interval = single(variables, "actual_sampling_interval");
    if (!signal || signal->sizes.size() != 1 || signal->values.empty()) return;
    Variable* own = named(variables, "raw_data_retention");
    const bool irregular = hasOwnTimes(*signal, own);
    if (!irregular && !(interval && *interval > 0)) return;

    Variable time{.name = "Retention time",
                  .group = signal->group,
                  .axes = signal->axes,
                  .sizes = signal->sizes,
                  .isScale = true};
    time.words["units"] = timeUnit(factOf(facts, "retention_unit"));
    if (irregular)
        time.values = own->values;
    else {
        const double delay = single(variables, "actual_delay_time").value_or(0);
        for (std::size_t i = 0; i < signal->values.size(); ++i)
            time.values.push_back(delay + static_cast<double>(i) * *interval);
    }
    const std::string detector = factOf(facts, "detector_name");
    signal->name = detector.empty() ? "Signal" : detector;
    if (const std::string unit = factOf(facts, "detector_unit"); !unit.empty()) signal->words["units"] = unit;
    if (irregular) std::erase_if(variables, [](const Variable& v) { return v.name == "raw_data_retention"; });
    variables.insert(variables.begin(), std::move(time));
}

} // namespace jointer::io
