// SPDX-License-Identifier: GPL-3.0-or-later
// A format as it would stand in src/io/formats/tide_log.cpp: a line "TIDE1", then a pair of numbers in each line.
#include "base/text.h"
#include "io/formats/made_table.h"

#include <fmt/format.h>

namespace jointer::io {

namespace {

constexpr std::string_view kMagic = "TIDE1";

int recognise(std::string_view head, std::string_view) {
    return head.starts_with(kMagic) ? 99 : 0;
}

Result<ReadResult> readTideLog(std::string_view bytes, const Settings&, const Cancellation&) {
    std::vector<double> hours, levels;
    ReadResult out{.format = "tide-log"};
    long line = 0;
    for (std::string_view text : split(bytes, '\n')) {
        if (++line == 1 || trimmed(text).empty()) continue;
        const auto fields = split(trimmed(text), ' ');
        const auto hour = parseNumber(fields.front()), level = parseNumber(fields.back());
        if (fields.size() == 2 && hour && level) {
            hours.push_back(*hour);
            levels.push_back(*level);
        } else
            out.issues.push_back({"unparsed-cells", "This line is no hour and level; it was left out.", {.line = line}});
    }
    if (hours.empty()) return failure("empty-file", "The log has no readings.", {.line = line});
    out.tables.push_back(
        madeTable("", {numberColumn("Hour", "h", std::move(hours)), numberColumn("Level", "m", std::move(levels))},
                  out.issues));
    return out;
}

} // namespace

ReaderKind tideLogReader() {
    return {.info = {.key = "tide-log", .name = "Tide log", .purpose = "Hours and levels of a gauge"},
            .endings = {"tide"},
            .recognise = recognise,
            .read = readTideLog};
}

} // namespace jointer::io
