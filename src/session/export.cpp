// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/export.h"

#include "base/files.h"
#include "base/text.h"
#include "figure/layout.h"

#include <algorithm>

namespace jointer {

Result<Exported> exportFigure(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                              const std::string& path, FigureWriter& writer, ExportOptions options) {
    std::string format = lowerAscii(std::filesystem::path(path).extension().string());
    if (!format.empty()) format.erase(0, 1);
    const auto formats = writer.formats();
    if (std::ranges::find(formats, format) == formats.end())
        return failure("format",
                       "A figure cannot be written as “." + format +
                           "”; choose one of: " + joined(formats, ", ") + ".",
                       {.file = path});
    if (options.title.empty()) options.title = figure.name;
    const auto stopped = [&] { return failure("stopped", "The export was stopped; nothing was written."); };
    figure::Layout layout = figure::layOut(project, figure, evaluator);
    if (options.stop.stop_requested()) return stopped();
    const auto bytes = writer.bytes(layout.list, format, options);
    if (!bytes) return std::unexpected(bytes.error());
    if (options.stop.stop_requested()) return stopped();
    if (auto written = replaceFile(path, *bytes); !written) return std::unexpected(written.error());
    return Exported{path, bytes->size(), layout.list.widthMm, layout.list.heightMm, std::move(layout.issues)};
}

} // namespace jointer
