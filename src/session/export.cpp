// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/export.h"

#include "base/files.h"
#include "base/text.h"
#include "figure/layout.h"
#include "io/writer.h"

#include <algorithm>

namespace jointer {

namespace {

// ".PDF" → "pdf"
std::string endingOf(const std::string& path) {
    const std::string ending = lowerAscii(std::filesystem::path(path).extension().string());
    return ending.empty() ? ending : ending.substr(1);
}

std::unexpected<Issue> stopped() {
    return failure("stopped", "The export was stopped; nothing was written.");
}

} // namespace

Result<Exported> exportFigure(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                              const std::string& path, FigureWriter& writer, ExportOptions options) {
    const std::string format = endingOf(path);
    const auto formats = writer.formats();
    if (std::ranges::find(formats, format) == formats.end())
        return failure("format",
                       "A figure cannot be written as “." + format +
                           "”; choose one of: " + joined(formats, ", ") + ".",
                       {.file = path});
    if (options.title.empty()) options.title = figure.name;
    figure::Layout layout = figure::layOut(project, figure, evaluator);
    if (options.stop.stop_requested()) return stopped();
    const auto bytes = writer.bytes(layout.list, format, options);
    if (!bytes) return std::unexpected(bytes.error());
    if (options.stop.stop_requested()) return stopped();
    if (auto written = replaceFile(path, *bytes); !written) return std::unexpected(written.error());
    return Exported{path, bytes->size(), layout.list.widthMm, layout.list.heightMm, std::move(layout.issues)};
}

Result<Exported> exportTable(const Project& project, TableId id, evaluate::Evaluator& evaluator,
                             const std::string& path, const Cancellation& stop) {
    if (!project.tables.find(id)) return failure("target-gone", "The table is no longer there.");
    auto filled = evaluator.table(project, id);
    if (stop.stop_requested()) return stopped();
    const auto bytes = io::tableBytes(filled.value, endingOf(path));
    if (!bytes) return std::unexpected(bytes.error());
    if (stop.stop_requested()) return stopped();
    if (auto written = replaceFile(path, *bytes); !written) return std::unexpected(written.error());
    return Exported{path, bytes->size(), 0, 0, std::move(filled.issues)};
}

} // namespace jointer
