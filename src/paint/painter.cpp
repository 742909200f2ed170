// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/painter.h"

#include "base/parallel.h"
#include "draw/bounds.h"
#include "draw/svg.h"
#include "paint/drawer.h"

#include <QBuffer>
#include <QImageWriter>
#include <QPainter>
#include <QPdfWriter>
#include <cmath>
#include <fmt/format.h>

namespace jointer::paint {

using namespace draw;

namespace {

constexpr std::size_t kHeavy = 8000; // points from which on a second thread pays

// The toolkit rounds page sizes to whole points; the exact size is written over its number, padded to the
// same length, with the origin moved so that the drawing stays where it was.
void writeExactMediaBox(QByteArray& pdf, double widthMm, double heightMm) {
    const qsizetype start = pdf.indexOf("/MediaBox [");
    const qsizetype open = start < 0 ? -1 : pdf.indexOf('[', start),
                    close = open < 0 ? -1 : pdf.indexOf(']', open);
    if (close < 0) return;
    const QList<QByteArray> numbers = pdf.mid(open + 1, close - open - 1).simplified().split(' ');
    if (numbers.size() != 4) return;
    const double rounded = numbers[3].toDouble(), width = widthMm / kMmPerPt, height = heightMm / kMmPerPt;
    const auto room = static_cast<std::size_t>(close - open - 1);
    for (int digits = 5; digits >= 2; --digits) {
        std::string box = fmt::format("0 {:.{}f} {:.{}f} {:.{}f}", rounded - height, digits, width, digits,
                                      rounded, digits);
        if (box.size() > room) continue;
        box.resize(room, ' ');
        pdf.replace(open + 1, static_cast<qsizetype>(room), QByteArray::fromStdString(box));
        return;
    }
}

} // namespace

void paintList(QPainter& painter, const DisplayList& list, Medium medium) {
    painter.setRenderHints(QPainter::Antialiasing | QPainter::TextAntialiasing |
                           QPainter::LosslessImageRendering);
    drawItems(painter, list.items, medium);
}

QImage toImage(const DisplayList& list, double dpi, bool transparent) {
    return toImage(list, dpi, transparent, {0, 0, list.widthMm, list.heightMm});
}

namespace {

// Points in all items: what painting costs, roughly.
std::size_t pointsOf(const std::vector<Item>& items) {
    std::size_t n = 0;
    for (const Item& item : items) {
        if (const auto* group = std::get_if<Group>(&item.what)) n += pointsOf(group->items);
        if (const auto* symbols = std::get_if<Symbols>(&item.what)) n += 20 * symbols->places.size();
        if (const auto* path = std::get_if<Path>(&item.what))
            for (const Polyline& l : path->lines) n += l.points.size();
    }
    return n;
}

// Some rows of the picture, from the list as a whole.
void paintBand(const QImage& picture, int from, int to, const DisplayList& list, const Rect& part,
               Medium medium) {
    QImage band(const_cast<uchar*>(picture.constScanLine(from)), picture.width(), to - from,
                picture.bytesPerLine(), picture.format());
    const double perMm = picture.width() / part.width;
    QPainter painter(&band);
    painter.translate(0, -from);
    painter.scale(perMm, perMm);
    painter.translate(-part.x, -part.y);
    paintList(painter, list, medium);
}

} // namespace

void paintOver(QImage& picture, const DisplayList& list, const Rect& part, Medium medium) {
    // What takes long is painted in bands, each by a thread of its own.
    const bool heavy = medium == Medium::Raster && pointsOf(list.items) > kHeavy;
    const auto rows = static_cast<std::size_t>(picture.height());
    parallelRanges(rows, heavy ? rows / static_cast<std::size_t>(threadCount()) + 1 : rows,
                   [&](std::size_t from, std::size_t to) {
                       paintBand(picture, static_cast<int>(from), static_cast<int>(to), list, part, medium);
                   });
}

QImage toImage(const DisplayList& list, double dpi, bool transparent, const Rect& part) {
    const double perMm = dpi / 25.4;
    QImage image(std::max(1, static_cast<int>(std::lround(part.width * perMm))),
                 std::max(1, static_cast<int>(std::lround(part.height * perMm))),
                 QImage::Format_ARGB32_Premultiplied);
    if (image.isNull()) return image;
    image.fill(transparent ? Qt::transparent : Qt::white);
    paintOver(image, list, part, dpi < 150 ? Medium::Raster : Medium::Picture);
    image.setDotsPerMeterX(static_cast<int>(std::lround(dpi / 0.0254)));
    image.setDotsPerMeterY(static_cast<int>(std::lround(dpi / 0.0254)));
    return image;
}

void paintChange(QImage& picture, const DisplayList& before, const DisplayList& now, const Rect& part) {
    const auto changed = difference(before, now);
    if (!changed || picture.isNull()) return;
    const double perMm = picture.width() / part.width;
    // Whole pixels, so that neighbours are not touched.
    const QRect pixels = QRectF((changed->x - part.x) * perMm, (changed->y - part.y) * perMm,
                                changed->width * perMm, changed->height * perMm)
                             .toAlignedRect()
                             .adjusted(-1, -1, 1, 1)
                             .intersected(picture.rect());
    if (pixels.isEmpty()) return;
    QPainter painter(&picture);
    painter.setClipRect(pixels);
    painter.fillRect(pixels, Qt::white);
    painter.scale(perMm, perMm);
    painter.translate(-part.x, -part.y);
    const Rect again{pixels.x() / perMm + part.x, pixels.y() / perMm + part.y, pixels.width() / perMm,
                     pixels.height() / perMm};
    DisplayList within{.widthMm = now.widthMm, .heightMm = now.heightMm};
    for (const Item& item : now.items)
        if (meet(boundsOf(item), again)) within.items.push_back(item);
    paintList(painter, within, 25.4 * perMm < 150 ? Medium::Raster : Medium::Picture);
}

Result<QByteArray> toPdf(const DisplayList& list, const std::string& title) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setResolution(2540);
    writer.setPageSize(QPageSize(QSizeF(list.widthMm, list.heightMm), QPageSize::Millimeter, QString(),
                                 QPageSize::ExactMatch));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setTitle(QString::fromStdString(title));
    writer.setCreator("Jointer");
    QPainter painter;
    if (!painter.begin(&writer)) return failure("pdf", "The PDF could not be begun.");
    painter.scale(100, 100); // 0.01 mm units
    paintList(painter, list, Medium::Pdf);
    painter.end();
    buffer.close();
    writeExactMediaBox(bytes, list.widthMm, list.heightMm);
    return bytes;
}

const Catalogue<KindInfo>& QtFigureWriter::formats() const {
    static const Catalogue<KindInfo> all(
        {{.key = "pdf", .name = "PDF", .purpose = "Exact page, fonts embedded, searchable"},
         {.key = "svg", .name = "SVG", .purpose = "For the web and for drawing programs"},
         {.key = "png", .name = "PNG", .purpose = "Bitmap at 600 dpi, or as told"}});
    return all;
}

Result<std::string> QtFigureWriter::bytes(const DisplayList& list, const std::string& format,
                                          const ExportOptions& options) {
    if (format == "svg") return toSvg(list, {.transparent = options.transparent});
    loadFonts();
    if (format == "pdf") {
        const auto pdf = toPdf(list, options.title);
        if (!pdf) return std::unexpected(pdf.error());
        return pdf->toStdString();
    }
    const double pixels = list.widthMm * list.heightMm * options.dpi * options.dpi / 645.16;
    if (!(options.dpi >= 10) || pixels > 4e8)
        return failure(
            "picture-size",
            fmt::format(
                "At {} dpi the picture would have {:.0f} million pixels; at most 400 million can be written.",
                options.dpi, pixels / 1e6));
    const QImage image = toImage(list, options.dpi, options.transparent);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QImageWriter writer(&buffer, QByteArray::fromStdString(format));
    if (image.isNull() ||
        !writer.write(options.transparent ? image : image.convertToFormat(QImage::Format_RGB888)))
        return failure("picture", "The picture could not be made; a smaller resolution may help.");
    return bytes.toStdString();
}

} // namespace jointer::paint
