// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/export.h"

#include "base/files.h"
#include "base/text.h"
#include "figure/layout.h"
#include "io/writer.h"

#include <algorithm>
#include <cmath>

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

Result<Exported> writeTable(const Table& table, const std::string& path, const Cancellation& stop) {
    const auto bytes = io::tableBytes(table, endingOf(path));
    if (!bytes) return std::unexpected(bytes.error());
    if (stop.stop_requested()) return stopped();
    if (auto written = replaceFile(path, *bytes); !written) return std::unexpected(written.error());
    return Exported{path, bytes->size()};
}

} // namespace

Result<Exported> exportPage(const std::function<draw::DisplayList()>& layOut, const std::string& path,
                            FigureWriter& writer, const ExportOptions& options, const std::string& what) {
    const std::string format = endingOf(path);
    if (!writer.formats().find(format))
        return failure("format",
                       what + " cannot be written as “." + format +
                           "”; choose one of: " + joined(writer.formats().keys(), ", ") + ".",
                       {.file = path});
    const draw::DisplayList list = layOut();
    if (options.stop.stop_requested()) return stopped();
    const auto bytes = writer.bytes(list, format, options);
    if (!bytes) return std::unexpected(bytes.error());
    if (options.stop.stop_requested()) return stopped();
    if (auto written = replaceFile(path, *bytes); !written) return std::unexpected(written.error());
    return Exported{path, bytes->size(), list.widthMm, list.heightMm, {}};
}

Result<Exported> exportFigure(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                              const std::string& path, FigureWriter& writer, ExportOptions options) {
    if (options.title.empty()) options.title = figure.name;
    std::vector<Issue> issues;
    auto done = exportPage(
        [&] {
            figure::Layout layout = figure::layOut(project, figure, evaluator);
            issues = std::move(layout.issues);
            return std::move(layout.list);
        },
        path, writer, options, "A figure");
    if (done) done->issues = std::move(issues);
    return done;
}

Result<Exported> exportTable(const Project& project, TableId id, evaluate::Evaluator& evaluator,
                             const std::string& path, const Cancellation& stop) {
    if (!project.tables.find(id)) return failure("target-gone", "The table is no longer there.");
    auto filled = evaluator.table(project, id);
    if (stop.stop_requested()) return stopped();
    auto written = writeTable(filled.value, path, stop);
    if (written) written->issues = std::move(filled.issues);
    return written;
}

Result<Exported> exportResults(const Table& results, const std::string& path) {
    return writeTable(results, path, {});
}

std::string curveCsv(const Curve& c) {
    std::string out = c.sigma.empty() ? "x,y,left_out\r\n" : "x,y,sigma,left_out\r\n";
    const auto cell = [](double v) { return std::isfinite(v) ? shortestNumber(v) : std::string(); };
    for (std::size_t i = 0; i < c.size(); ++i) {
        out += cell(c.x[i]) + "," + cell(c.y[i]) + ",";
        if (!c.sigma.empty()) out += cell(c.sigma[i]) + ",";
        out += c.isExcluded(i) ? "1\r\n" : "0\r\n";
    }
    return out;
}

} // namespace jointer
