// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/painter.h"

#include "base/parallel.h"
#include "draw/bounds.h"
#include "paint/drawer.h"

#include <QBuffer>
#include <QDateTime>
#include <QPainter>
#include <QPdfWriter>
#include <cmath>
#include <cstring>
#include <fmt/format.h>

namespace jointer::paint {

using namespace draw;

namespace {

constexpr std::size_t kHeavy = 8000; // points from which on a second thread pays
constexpr double kLarge = 4e5;       // pixels of a picture for print that do

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

// A text string: UTF-16 with its mark, as hexadecimal digits.
QByteArray pdfText(const std::string& text) {
    QByteArray utf16("\xFE\xFF", 2);
    for (const char16_t c : QString::fromStdString(text).toStdU16String())
        utf16.append(static_cast<char>(c >> 8)).append(static_cast<char>(c & 0xFF));
    return "<" + utf16.toHex() + ">";
}

QByteArray numberAfter(const QByteArray& pdf, const char* key) {
    const qsizetype at = pdf.lastIndexOf(key);
    if (at < 0) return {};
    qsizetype end = at + static_cast<qsizetype>(std::strlen(key));
    const qsizetype start = end;
    while (end < pdf.size() && pdf[end] >= '0' && pdf[end] <= '9') ++end;
    return pdf.mid(start, end - start);
}

// Author and origin, which the toolkit has no way to tell: the information is written anew behind the end of
// the file, as an update of it. Source: ISO 32000-1, 7.5.6.
void writeCredits(QByteArray& pdf, const Credits& credits) {
    const QByteArray info = numberAfter(pdf, "/Info "), root = numberAfter(pdf, "/Root "),
                     size = numberAfter(pdf, "/Size "), before = numberAfter(pdf, "startxref\n");
    if (info.isEmpty() || root.isEmpty() || size.isEmpty() || before.isEmpty()) return;
    if (!pdf.endsWith('\n')) pdf += '\n';
    const qsizetype object = pdf.size();
    pdf += info + " 0 obj\n<<\n/Title " + pdfText(credits.title) + "\n/Creator " + pdfText("Jointer") +
           "\n/Producer " + pdfText("Jointer with Qt " QT_VERSION_STR) + "\n";
    if (!credits.author.empty()) pdf += "/Author " + pdfText(credits.author) + "\n";
    if (!credits.remark().empty()) pdf += "/Subject " + pdfText(credits.remark()) + "\n";
    pdf += "/CreationDate (D:" + QDateTime::currentDateTimeUtc().toString("yyyyMMddHHmmss").toLatin1() +
           "Z)\n>>\nendobj\n";
    const qsizetype table = pdf.size();
    pdf += "xref\n" + info + " 1\n" + QByteArray::number(object).rightJustified(10, '0') +
           " 00000 n \ntrailer\n<<\n/Size " + size + "\n/Info " + info + " 0 R\n/Root " + root +
           " 0 R\n/Prev " + before + "\n>>\nstartxref\n" + QByteArray::number(table) + "\n%%EOF\n";
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
        if (const auto* path = std::get_if<Path>(&item.what)) n += pointCount(path->lines);
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
    const bool heavy = medium == Medium::Raster
                           ? pointsOf(list.items) > kHeavy
                           : static_cast<double>(picture.width()) * picture.height() > kLarge;
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

Result<QByteArray> toPdf(const DisplayList& list, const Credits& credits) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setResolution(2540);
    writer.setPageSize(QPageSize(QSizeF(list.widthMm, list.heightMm), QPageSize::Millimeter, QString(),
                                 QPageSize::ExactMatch));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setTitle(QString::fromStdString(credits.title));
    writer.setCreator("Jointer");
    QPainter painter;
    if (!painter.begin(&writer)) return failure("pdf", "The PDF could not be begun.");
    painter.scale(100, 100); // 0.01 mm units
    paintList(painter, list, Medium::Pdf);
    painter.end();
    buffer.close();
    writeExactMediaBox(bytes, list.widthMm, list.heightMm);
    writeCredits(bytes, credits);
    return bytes;
}

} // namespace jointer::paint
