// SPDX-License-Identifier: GPL-3.0-or-later
// Writing figures and tables to files. The bytes of figures come from a FigureWriter that is handed in, so
// that the session needs no toolkit.
#pragma once

#include "describe/catalogue.h"
#include "draw/credits.h"
#include "draw/display_list.h"
#include "evaluate/evaluator.h"
#include "project/edit.h"

#include <functional>

namespace jointer {

struct ExportOptions {
    double dpi = 600; // of bitmaps
    bool transparent = false;
    std::string title{};
    std::string author{}, project{}, checksum{}; // said within the file
    bool trim = false;                           // the page is cut to what is drawn
    bool grey = false;
    bool outlines = false;     // letters as paths
    bool shippedFonts = false; // of TikZ: fonts lie beside it; else the document's own
    int quality = 100;         // of JPEG
    Cancellation stop{};       // asked before anything is written

    draw::Credits credits() const { return {title, author, project, checksum}; }
};

// Whether a format has pixels, and so a resolution.
inline bool isBitmap(std::string_view format) {
    return format == "png" || format == "tif" || format == "jpg";
}

// A file, and what lies beside it, by names from its folder on.
struct FigureBytes {
    std::string bytes;
    std::vector<std::pair<std::string, std::string>> beside{};
    std::vector<Issue> issues{};
};

class FigureWriter {
public:
    virtual ~FigureWriter() = default;
    // `stem`: the file's name without its ending, by which what lies beside is called.
    // Errors: "format" for one it cannot write, "picture-size" for a bitmap that is too large, "no-program".
    virtual Result<FigureBytes> bytes(const draw::DisplayList& list, const std::string& format,
                                      const ExportOptions& options, const std::string& stem) = 0;
    virtual const Catalogue<KindInfo>& formats() const = 0; // by their endings: "pdf", "svg"…
};

struct Exported {
    std::string path;
    std::size_t bytes = 0;
    double widthMm = 0, heightMm = 0;
    std::vector<Issue> issues;         // of the layout and the format
    std::vector<std::string> beside{}; // other files that belong to it
};

// By the settings of figure::exportKind().
ExportOptions exportOptions(const Settings& settings);

// As the figure was written last; empty: never.
Settings lastExport(const Figure& figure);
// Remembers them with the figure.
Edit rememberExport(FigureId figure, const Settings& settings);

// A file name from the name of a thing: what a path could be made of becomes "_".
std::string fileSafe(const std::string& name);

// Of all figures, in order, no two alike.
std::vector<std::string> figureFileNames(const Project& project);

// The key of a format by the ending of a file: "TIFF" and "tif" are one.
std::string formatOf(const std::string& path);

// The list as it is written: trimmed, in grey, its letters as outlines.
draw::DisplayList asWritten(draw::DisplayList list, const ExportOptions& options);

// Of the data that a figure draws: the columns of its datasets, as they were read. 32 digits; empty: it draws
// none.
std::string dataChecksum(const Project& project, const Figure& figure);

// Lays a page out and replaces the file, in the format of its ending. `what`: "A figure", for messages.
Result<Exported> exportPage(const std::function<draw::DisplayList()>& layOut, const std::string& path,
                            FigureWriter& writer, const ExportOptions& options, const std::string& what);

// Lays the figure out and replaces the file. The format is that of the file's ending.
Result<Exported> exportFigure(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                              const std::string& path, FigureWriter& writer, ExportOptions options = {});

// How large the file would be.
Result<std::size_t> exportedBytes(const Project& project, const Figure& figure,
                                  evaluate::Evaluator& evaluator, const std::string& format,
                                  FigureWriter& writer, ExportOptions options);

// Replaces the file with the table, its computed columns filled in. The format is that of the file's ending.
// Errors: "format" for one that is not written, "target-gone". Issues: formulas that cannot be used.
Result<Exported> exportTable(const Project& project, TableId table, evaluate::Evaluator& evaluator,
                             const std::string& path, const Cancellation& stop = {});

// The same for numbers that the project has derived (evaluate/results.h).
Result<Exported> exportResults(const Table& results, const std::string& path);

// A curve as RFC 4180: x, y, sigma where it is known, left_out.
std::string curveCsv(const Curve& curve);

} // namespace jointer
