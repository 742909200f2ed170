// SPDX-License-Identifier: GPL-3.0-or-later
// Writing figures and tables to files. The bytes of figures come from a FigureWriter that is handed in, so
// that the session needs no toolkit.
#pragma once

#include "describe/catalogue.h"
#include "draw/display_list.h"
#include "evaluate/evaluator.h"

#include <functional>

namespace jointer {

struct ExportOptions {
    double dpi = 600; // of bitmaps
    bool transparent = false;
    std::string title;
    Cancellation stop{}; // asked before anything is written
};

// Whether a format has pixels, and so a resolution.
inline bool isBitmap(std::string_view format) {
    return format == "png";
}

class FigureWriter {
public:
    virtual ~FigureWriter() = default;
    // Errors: "format" for one it cannot write, "picture-size" for a bitmap that is too large.
    virtual Result<std::string> bytes(const draw::DisplayList& list, const std::string& format,
                                      const ExportOptions& options) = 0;
    virtual const Catalogue<KindInfo>& formats() const = 0; // by their endings: "pdf", "svg"…
};

struct Exported {
    std::string path;
    std::size_t bytes = 0;
    double widthMm = 0, heightMm = 0;
    std::vector<Issue> issues; // of the layout
};

// Lays a page out and replaces the file, in the format of its ending. `what`: "A figure", for messages.
Result<Exported> exportPage(const std::function<draw::DisplayList()>& layOut, const std::string& path,
                            FigureWriter& writer, const ExportOptions& options, const std::string& what);

// Lays the figure out and replaces the file. The format is that of the file's ending.
Result<Exported> exportFigure(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                              const std::string& path, FigureWriter& writer, ExportOptions options = {});

// Replaces the file with the table, its computed columns filled in. The format is that of the file's ending.
// Errors: "format" for one that is not written, "target-gone". Issues: formulas that cannot be used.
Result<Exported> exportTable(const Project& project, TableId table, evaluate::Evaluator& evaluator,
                             const std::string& path, const Cancellation& stop = {});

// The same for numbers that the project has derived (evaluate/results.h).
Result<Exported> exportResults(const Table& results, const std::string& path);

// A curve as RFC 4180: x, y, sigma where it is known, left_out.
std::string curveCsv(const Curve& curve);

} // namespace jointer
