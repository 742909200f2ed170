// SPDX-License-Identifier: GPL-3.0-or-later
// The formats of figures, each told once: its ending, what it is for, how it is written.
#include "base/files.h"
#include "base/program.h"
#include "base/text.h"
#include "draw/svg.h"
#include "draw/tikz.h"
#include "paint/bitmap_files.h"
#include "paint/flatten.h"
#include "paint/painter.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::paint {

using namespace draw;

namespace {

constexpr double kMostPixels = 1.2e9;
constexpr std::size_t kBandBytes = std::size_t{24} << 20; // of pixels that are painted at once

struct Wish {
    const DisplayList& list;
    const ExportOptions& options;
    const std::string& stem;
};
using Written = Result<FigureBytes>;

Written writePdf(const Wish& w) {
    const auto pdf = toPdf(w.list, w.options.credits());
    if (!pdf) return std::unexpected(pdf.error());
    return FigureBytes{pdf->toStdString()};
}

Written writeSvg(const Wish& w) {
    return FigureBytes{toSvg(w.list, {.transparent = w.options.transparent, .credits = w.options.credits()})};
}

Written writeTikz(const Wish& w) {
    std::vector<std::string> remarks = {w.options.title + " – made by Jointer"};
    if (!w.options.author.empty()) remarks.push_back(w.options.author);
    if (const std::string remark = w.options.credits().remark(); !remark.empty()) remarks.push_back(remark);
    Tikz tikz = toTikz(
        w.list,
        {.transparent = true, .shippedFonts = w.options.shippedFonts, .stem = w.stem, .remarks = remarks});
    return FigureBytes{std::move(tikz.text), std::move(tikz.beside)};
}

// The box of an EPS has whole points: the figure lies in its upper left corner.
int wholePoints(double mm) {
    return static_cast<int>(std::ceil(mm / kMmPerPt - 1e-3));
}

// The lines of a PostScript header that tell the box and the origin, put right to a thousandth of a point.
std::string withExactHead(const std::string& eps, const DisplayList& list, const Credits& credits) {
    const double width = list.widthMm / kMmPerPt, height = list.heightMm / kMmPerPt;
    std::string head, rest = eps;
    const auto safe = [](std::string text) {
        std::erase_if(text, [](char c) { return static_cast<unsigned char>(c) < 32; });
        return text;
    };
    const auto set = [&](const std::string& key, const std::string& value) {
        const std::size_t end = rest.find("%%EndComments"), at = rest.find("%%" + key + ":");
        if (at < end) rest.erase(at, rest.find('\n', at) + 1 - at);
        if (!value.empty()) head += "%%" + key + ": " + value + "\n";
    };
    set("BoundingBox", fmt::format("0 0 {} {}", wholePoints(list.widthMm), wholePoints(list.heightMm)));
    set("HiResBoundingBox", fmt::format("0 {:.4f} {:.4f} {}", wholePoints(list.heightMm) - height, width,
                                        wholePoints(list.heightMm)));
    set("Title", safe(credits.title));
    set("Creator", "Jointer");
    set("For", safe(credits.author));
    if (!credits.remark().empty()) head += "% " + safe(credits.remark()) + "\n";
    const std::size_t first = rest.find('\n');
    return first == rest.npos ? eps : rest.substr(0, first + 1) + head + rest.substr(first + 1);
}

Written writeEps(const Wish& w) {
    Flattened flat = flattened(w.list);
    flat.list.widthMm = wholePoints(w.list.widthMm) * kMmPerPt;
    flat.list.heightMm = wholePoints(w.list.heightMm) * kMmPerPt;
    const auto pdf = toPdf(flat.list, w.options.credits());
    if (!pdf) return std::unexpected(pdf.error());
    const TemporaryFolder folder;
    if (folder.path().empty()) return failure("no-folder", "There is no folder for temporary files.");
    if (auto put = replaceFile(folder.path() / "in.pdf", pdf->toStdString()); !put)
        return std::unexpected(put.error());
    const auto ran =
        runProgram("pdftops", {"-eps", "-level3", "in.pdf", "out.eps"}, folder.path(), {}, w.options.stop);
    if (!ran && ran.error().code == "no-program")
        return failure(
            "no-program",
            "EPS needs the program “pdftops” (Debian’s package poppler-utils); PDF goes without it.");
    if (!ran) return std::unexpected(ran.error());
    const auto eps = readFile(folder.path() / "out.eps");
    if (!eps) return std::unexpected(eps.error());
    FigureBytes out{withExactHead(*eps, w.list, w.options.credits())};
    if (flat.pictures > 0)
        out.issues.push_back(
            {"became-picture",
             fmt::format("EPS knows no translucency: {} with many translucent things became {} of 1200 dpi.",
                         counted(static_cast<long long>(flat.pictures), "layer"),
                         flat.pictures == 1 ? "a picture" : "pictures"),
             {}});
    return out;
}

// Rows of pixels as the file takes them.
void putRows(const QImage& band, int rows, const BitmapFacts& facts, BitmapFile& file) {
    const QImage as = band.convertToFormat(facts.transparent ? QImage::Format_RGBA8888
                                           : facts.grey      ? QImage::Format_Grayscale8
                                                             : QImage::Format_RGB888);
    for (int row = 0; row < rows; ++row) file.row(as.constScanLine(row));
}

Written writeBitmap(const Wish& w, bool takesOpacity,
                    std::unique_ptr<BitmapFile> (*begin)(const BitmapFacts&)) {
    const ExportOptions& o = w.options;
    const double perMm = o.dpi / 25.4, pixels = w.list.widthMm * w.list.heightMm * perMm * perMm;
    if (!(o.dpi >= 10) || pixels > kMostPixels)
        return failure("picture-size", fmt::format("At {} dpi the picture would have {:.0f} million pixels; "
                                                   "at most {:.0f} million can be written.",
                                                   o.dpi, pixels / 1e6, kMostPixels / 1e6));
    const auto columns = std::max(1L, std::lround(w.list.widthMm * perMm)),
               rows = std::max(1L, std::lround(w.list.heightMm * perMm));
    const BitmapFacts facts{.columns = static_cast<std::size_t>(columns),
                            .rows = static_cast<std::size_t>(rows),
                            .dpi = o.dpi,
                            .grey = o.grey,
                            .transparent = o.transparent && takesOpacity,
                            .quality = o.quality,
                            .credits = o.credits()};
    const auto file = begin(facts);
    const long band = std::clamp(static_cast<long>(kBandBytes / (4 * facts.columns)), 1L, rows);
    QImage picture(static_cast<int>(columns), static_cast<int>(band), QImage::Format_ARGB32_Premultiplied);
    if (picture.isNull())
        return failure("picture", "There is no memory for the picture; a smaller resolution may help.");
    const double mmPerRow = w.list.heightMm / static_cast<double>(rows), width = w.list.widthMm;
    for (long from = 0; from < rows; from += band) {
        if (o.stop.stop_requested())
            return failure("stopped", "The export was stopped; nothing was written.");
        picture.fill(facts.transparent ? Qt::transparent : Qt::white);
        const Rect part{0, static_cast<double>(from) * mmPerRow, width,
                        width / static_cast<double>(columns) * static_cast<double>(band)};
        paintOver(picture, w.list, part, o.dpi < 150 ? Medium::Raster : Medium::Picture);
        putRows(picture, static_cast<int>(std::min(band, rows - from)), facts, *file);
    }
    auto bytes = file->end();
    if (!bytes) return std::unexpected(bytes.error());
    return FigureBytes{std::move(*bytes)};
}

struct FigureFormat {
    KindInfo info;
    Written (*write)(const Wish& wish);
};

const Catalogue<FigureFormat>& figureFormats() {
    static const Catalogue<FigureFormat> all(std::vector<FigureFormat>{
        {{.key = "pdf", .name = "PDF", .purpose = "Exact page, fonts embedded, searchable"}, writePdf},
        {{.key = "svg", .name = "SVG", .purpose = "For the web and for drawing programs"}, writeSvg},
        {{.key = "eps", .name = "EPS", .purpose = "For older typesetting; opaque, fonts embedded"}, writeEps},
        {{.key = "tex", .name = "TikZ", .purpose = "For LaTeX: text in the document’s own font"}, writeTikz},
        {{.key = "png", .name = "PNG", .purpose = "Bitmap without loss; may be without ground"},
         [](const Wish& w) { return writeBitmap(w, true, pngFile); }},
        {{.key = "tif", .name = "TIFF", .purpose = "Bitmap for printers, packed without loss (LZW)"},
         [](const Wish& w) { return writeBitmap(w, true, tiffFile); }},
        {{.key = "jpg", .name = "JPEG", .purpose = "Small bitmap; fine lines suffer a little"},
         [](const Wish& w) { return writeBitmap(w, false, jpegFile); }}});
    return all;
}

} // namespace

const Catalogue<KindInfo>& QtFigureWriter::formats() const {
    static const Catalogue<KindInfo> all([] {
        std::vector<KindInfo> infos;
        for (const FigureFormat& format : figureFormats()) infos.push_back(format.info);
        return infos;
    }());
    return all;
}

Result<FigureBytes> QtFigureWriter::bytes(const DisplayList& list, const std::string& format,
                                          const ExportOptions& options, const std::string& stem) {
    const FigureFormat* kind = figureFormats().find(format);
    if (!kind) return failure("format", "A figure cannot be written as “" + format + "”.");
    loadFonts();
    return kind->write({list, options, stem});
}

} // namespace jointer::paint
