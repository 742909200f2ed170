// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/export.h"

#include "base/files.h"
#include "base/hash.h"
#include "base/text.h"
#include "draw/revise.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "io/writer.h"
#include "project/figure_edits.h"
#include "session/figure_text.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace jointer {

namespace {

// ".PDF" → "pdf"
std::string endingOf(const std::string& path) {
    const std::string ending = lowerAscii(std::filesystem::path(path).extension().string());
    return ending.empty() ? ending : ending.substr(1);
}

// The file itself comes last: what it needs is there by then.
Result<Exported> writeAll(const FigureBytes& written, const std::string& path) {
    Exported done{.path = path, .bytes = written.bytes.size(), .issues = written.issues};
    const std::filesystem::path folder = std::filesystem::path(path).parent_path();
    for (const auto& [name, bytes] : written.beside) {
        const std::filesystem::path at = folder / name;
        std::error_code error;
        if (at.has_parent_path()) std::filesystem::create_directories(at.parent_path(), error);
        if (auto one = replaceFile(at, bytes); !one) return std::unexpected(one.error());
        done.beside.push_back(at.string());
    }
    if (auto whole = replaceFile(path, written.bytes); !whole) return std::unexpected(whole.error());
    return done;
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

ExportOptions exportOptions(const Settings& s) {
    static const KindInfo kind = figure::exportKind();
    const auto number = [&](const char* key) { return std::get<double>(kind.value(s, key)); };
    const auto flag = [&](const char* key) { return std::get<bool>(kind.value(s, key)); };
    const auto word = [&](const char* key) {
        const Value v = kind.value(s, key);
        const auto* text = std::get_if<std::string>(&v);
        return text ? *text : std::string();
    };
    return {.dpi = number("dpi"),
            .transparent = flag("transparent"),
            .author = word("author"),
            .trim = flag("trim"),
            .grey = flag("grey"),
            .outlines = flag("outlines"),
            .shippedFonts = word("fonts") == "shipped",
            .quality = static_cast<int>(number("quality"))};
}

Settings lastExport(const Figure& figure) {
    const RowList rows = figure.settings.rows("export");
    return rows.empty() ? Settings{} : rows.front();
}

Edit rememberExport(FigureId figure, const Settings& settings) {
    return edits::setElement(figure, {}, "export", Value(std::make_shared<const RowList>(RowList{settings})));
}

std::string fileSafe(const std::string& name) {
    std::string out;
    for (const char c : name)
        out += std::string_view("/\\:*?\"<>| ").find(c) == std::string_view::npos &&
                       static_cast<unsigned char>(c) >= 32
                   ? c
                   : '_';
    return out;
}

std::vector<std::string> figureFileNames(const Project& project) {
    std::vector<std::string> names;
    for (const auto& figure : project.figures) {
        const std::string base = fileSafe(figure->name.empty() ? "figure" : figure->name);
        std::string name = base;
        for (int k = 2; std::ranges::find(names, name) != names.end(); ++k)
            name = base + "_" + std::to_string(k);
        names.push_back(std::move(name));
    }
    return names;
}

std::string formatOf(const std::string& path) {
    const std::string ending = endingOf(path);
    return ending == "tiff" ? "tif" : ending == "jpeg" ? "jpg" : ending;
}

draw::DisplayList asWritten(draw::DisplayList list, const ExportOptions& options) {
    if (options.transparent) list = draw::withoutGround(std::move(list));
    if (options.trim) list = draw::trimmed(list);
    if (options.grey) list = draw::inGrey(list);
    if (options.outlines) list = draw::outlined(list);
    return list;
}

namespace {

// Of the figure and of all that are placed on it.
std::vector<DatasetId> shownDatasets(const Project& project, const Figure& figure, std::set<FigureId>& seen) {
    if (!seen.insert(figure.id).second) return {};
    std::vector<DatasetId> all = drawnDatasets(project, figure);
    const auto walk = [&](const std::vector<Element>& elements, auto&& self) -> void {
        for (const Element& e : elements) {
            if (const auto placed = project.figures.find(FigureId::fromText(e.source)))
                for (const DatasetId id : shownDatasets(project, *placed, seen))
                    if (std::ranges::find(all, id) == all.end()) all.push_back(id);
            self(e.children, self);
        }
    };
    walk(figure.elements, walk);
    return all;
}

} // namespace

std::string dataChecksum(const Project& project, const Figure& figure) {
    Hasher all;
    bool any = false;
    std::set<FigureId> seen;
    for (const DatasetId id : shownDatasets(project, figure, seen)) {
        const auto dataset = project.datasets.find(id);
        const auto table = dataset ? project.tables.find(dataset->source.table) : nullptr;
        if (!table) continue;
        for (const RoleBinding& role : dataset->source.roles)
            if (const Column* column = table->find(role.column)) {
                all.add(column->name).add(column->unit);
                for (const Column& read : table->columns) // itself, or what it is computed of
                    if (&read == column ||
                        column->formula.find("'" + read.id.text() + "'") != std::string::npos)
                        all.add(read.formula.empty() ? digestOf(*read.cells) : Digest{});
                any = true;
            }
    }
    return any ? all.digest().hex() : std::string();
}

Result<Exported> exportPage(const std::function<draw::DisplayList()>& layOut, const std::string& path,
                            FigureWriter& writer, const ExportOptions& options, const std::string& what) {
    const std::string format = formatOf(path);
    if (!writer.formats().find(format))
        return failure("format",
                       what + " cannot be written as “." + format +
                           "”; choose one of: " + joined(writer.formats().keys(), ", ") + ".",
                       {.file = path});
    draw::DisplayList list = layOut();
    if (options.stop.stop_requested()) return stopped();
    list = asWritten(std::move(list), options);
    const auto bytes = writer.bytes(list, format, options, std::filesystem::path(path).stem().string());
    if (!bytes) return std::unexpected(bytes.error());
    if (options.stop.stop_requested()) return stopped();
    auto done = writeAll(*bytes, path);
    if (done) {
        done->widthMm = list.widthMm;
        done->heightMm = list.heightMm;
    }
    return done;
}

namespace {

void tellOrigin(ExportOptions& options, const Project& project, const Figure& figure) {
    if (options.title.empty()) options.title = figure.name;
    if (options.project.empty()) options.project = project.title;
    if (options.checksum.empty()) options.checksum = dataChecksum(project, figure);
}

} // namespace

Result<std::size_t> exportedBytes(const Project& project, const Figure& figure,
                                  evaluate::Evaluator& evaluator, const std::string& format,
                                  FigureWriter& writer, ExportOptions options) {
    if (format == "json") return figureText(project, figure).size();
    tellOrigin(options, project, figure);
    const auto list = asWritten(figure::layOut(project, figure, evaluator).list, options);
    const auto written = writer.bytes(list, format, options, "figure");
    if (!written) return std::unexpected(written.error());
    std::size_t bytes = written->bytes.size();
    for (const auto& [name, beside] : written->beside) bytes += beside.size();
    return bytes;
}

Result<Exported> exportFigure(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                              const std::string& path, FigureWriter& writer, ExportOptions options) {
    if (formatOf(path) == "json") { // not drawn, but what it is drawn from
        const std::string text = figureText(project, figure);
        if (auto written = replaceFile(path, text); !written) return std::unexpected(written.error());
        const draw::Rect page = figure::pageOf(project, figure);
        return Exported{.path = path, .bytes = text.size(), .widthMm = page.width, .heightMm = page.height};
    }
    tellOrigin(options, project, figure);
    std::vector<Issue> issues;
    auto done = exportPage(
        [&] {
            figure::Layout layout = figure::layOut(project, figure, evaluator);
            issues = std::move(layout.issues);
            return std::move(layout.list);
        },
        path, writer, options, "A figure");
    if (done) done->issues.insert(done->issues.begin(), issues.begin(), issues.end());
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
