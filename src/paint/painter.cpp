// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/painter.h"

#include "draw/fonts.h"
#include "draw/svg.h"

#include <QBuffer>
#include <QFontDatabase>
#include <QImageWriter>
#include <QPainter>
#include <QPainterPath>
#include <QPdfWriter>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace jointer::paint {

using namespace draw;

namespace {

constexpr int kFontPixels = 1000; // PDF text is drawn at this size under a scale, so that its size is exact
constexpr double kLongLinePixels = 15000; // a line from here on is drawn in pieces
constexpr std::size_t kStampFrom = 400;   // symbols beyond which a raster gets stamps

struct LoadedFont {
    QString family, style;
};

std::map<std::string, LoadedFont>& loadedFonts() {
    static std::map<std::string, LoadedFont> fonts;
    return fonts;
}

QColor colourOf(Colour c) {
    return {c.r, c.g, c.b, c.a};
}

QPen penOf(const Stroke& s) {
    QPen pen(colourOf(s.colour), s.widthMm);
    pen.setCapStyle(s.cap == Cap::Butt ? Qt::FlatCap : s.cap == Cap::Round ? Qt::RoundCap : Qt::SquareCap);
    pen.setJoinStyle(s.join == Join::Miter ? Qt::MiterJoin : Qt::RoundJoin);
    if (!s.dashMm.empty() && s.widthMm > 0) {
        QList<qreal> pattern;
        for (double d : s.dashMm) pattern << d / s.widthMm;
        pen.setDashPattern(pattern);
    }
    return pen;
}

QFont fontOf(const TextRun& t) {
    const auto& fonts = loadedFonts();
    auto at = fonts.find(t.face);
    if (at == fonts.end()) at = fonts.find("sans");
    QFont font(at->second.family);
    font.setStyleName(at->second.style);
    font.setHintingPreference(QFont::PreferNoHinting);
    font.setStyleStrategy(QFont::StyleStrategy(QFont::PreferAntialias | QFont::NoFontMerging));
    font.setLetterSpacing(QFont::PercentageSpacing, 100.001); // ligatures would vanish from extracted text
    font.setKerning(true);
    return font;
}

QPainterPath pathOf(const std::vector<Polyline>& lines) {
    QPainterPath path;
    for (const Polyline& line : lines) {
        if (line.points.empty()) continue;
        path.moveTo(line.points[0].x, line.points[0].y);
        for (std::size_t i = 1; i < line.points.size(); ++i) path.lineTo(line.points[i].x, line.points[i].y);
        if (line.closed) path.closeSubpath();
    }
    return path;
}

class Drawer {
public:
    Drawer(QPainter& painter, Medium medium, double pixelsPerMm, bool draft = false)
        : p_(painter), medium_(medium), pixelsPerMm_(pixelsPerMm), draft_(draft) {}

    void items(const std::vector<Item>& items) {
        for (const Item& item : items) std::visit([&](const auto& what) { draw(what); }, item.what);
    }

private:
    void draw(const Path& path) {
        p_.setBrush(path.fill ? QBrush(colourOf(*path.fill)) : QBrush(Qt::NoBrush));
        p_.setPen(path.stroke ? penOf(*path.stroke) : QPen(Qt::NoPen));
        // Long wide lines cost the rasteriser most; drawn as single pieces they do not.
        const bool plain =
            medium_ == Medium::Raster && path.stroke && !path.fill && path.stroke->dashMm.empty();
        if (plain && (draft_ || path.stroke->widthMm * pixelsPerMm_ > 1.05)) {
            bool longLine = false;
            for (const Polyline& l : path.lines)
                longLine |= l.points.size() > (draft_ ? 500 : 1500) ||
                            lengthMm(l) * pixelsPerMm_ > (draft_ ? 0.2 : 1) * kLongLinePixels;
            if (longLine) return draft_ ? quickly(path) : pieces(path);
        }
        p_.drawPath(pathOf(path.lines));
    }

    void quickly(const Path& path) {
        QPen pen(colourOf(path.stroke->colour), 1);
        pen.setCosmetic(true);
        p_.setPen(pen);
        p_.setRenderHint(QPainter::Antialiasing, false);
        for (const Polyline& l : path.lines) {
            QPolygonF points;
            for (const Point& at : l.points) points << QPointF(at.x, at.y);
            p_.drawPolyline(points);
        }
        p_.setRenderHint(QPainter::Antialiasing);
    }

    // Few points that go up and down through the whole plot cost as much as many.
    static double lengthMm(const Polyline& line) {
        double length = 0;
        for (std::size_t i = 1; i < line.points.size(); ++i)
            length +=
                std::hypot(line.points[i].x - line.points[i - 1].x, line.points[i].y - line.points[i - 1].y);
        return length;
    }

    void pieces(const Path& path) {
        QPen pen = penOf(*path.stroke);
        pen.setCapStyle(Qt::SquareCap);
        p_.setPen(pen);
        QList<QLineF> lines;
        for (const Polyline& l : path.lines)
            for (std::size_t i = 1; i < l.points.size(); ++i)
                lines << QLineF(l.points[i - 1].x, l.points[i - 1].y, l.points[i].x, l.points[i].y);
        p_.drawLines(lines);
    }

    void symbol(const Symbols& s, const QPainterPath& outline, QPointF at) {
        if (s.shape == SymbolShape::Circle)
            p_.drawEllipse(at, s.sizeMm / 2, s.sizeMm / 2);
        else
            p_.drawPath(outline.translated(at));
    }

    void draw(const Symbols& s) {
        p_.setBrush(s.fill ? QBrush(colourOf(*s.fill)) : QBrush(Qt::NoBrush));
        p_.setPen(s.stroke ? penOf(*s.stroke) : QPen(Qt::NoPen));
        const QPainterPath outline = pathOf(symbolOutline(s.shape, s.sizeMm));
        if (medium_ == Medium::Raster && s.places.size() > kStampFrom) return stamps(s, outline);
        for (const Point& at : s.places) symbol(s, outline, {at.x, at.y});
    }

    // Draws one picture of the symbol for each quarter-pixel phase and copies it.
    void stamps(const Symbols& s, const QPainterPath& outline) {
        constexpr int phases = 4;
        const double scale = p_.transform().m11();
        const double reach = (s.sizeMm * 1.3 + (s.stroke ? s.stroke->widthMm : 0)) * scale / 2 + 2;
        const int side = 2 * static_cast<int>(std::ceil(reach)) + 1;
        const int half = side / 2; // whole pixels
        std::map<int, QImage> cache;
        const QTransform toPixels = p_.transform();
        p_.save();
        p_.resetTransform();
        for (const Point& at : s.places) {
            const QPointF pixel = toPixels.map(QPointF(at.x, at.y));
            const double fx = std::floor(pixel.x()), fy = std::floor(pixel.y());
            const int px = static_cast<int>((pixel.x() - fx) * phases),
                      py = static_cast<int>((pixel.y() - fy) * phases);
            QImage& stamp = cache[py * phases + px];
            if (stamp.isNull()) {
                stamp = QImage(side, side, QImage::Format_ARGB32_Premultiplied);
                stamp.fill(Qt::transparent);
                QPainter painter(&stamp);
                painter.setRenderHint(QPainter::Antialiasing);
                painter.translate(half + (px + 0.5) / phases, half + (py + 0.5) / phases);
                painter.scale(scale, scale);
                Drawer single(painter, medium_, pixelsPerMm_);
                painter.setBrush(s.fill ? QBrush(colourOf(*s.fill)) : QBrush(Qt::NoBrush));
                painter.setPen(s.stroke ? penOf(*s.stroke) : QPen(Qt::NoPen));
                single.symbol(s, outline, {0, 0});
            }
            p_.drawImage(QPointF(fx - half, fy - half), stamp);
        }
        p_.restore();
    }

    void draw(const TextRun& t) {
        QFont font = fontOf(t);
        p_.save();
        p_.translate(t.origin.x, t.origin.y);
        p_.rotate(-t.angleDeg);
        p_.setPen(colourOf(t.colour));
        // At a large size under a scale: widths are then those of draw/fonts.h on every device.
        const double em = t.sizePt * kMmPerPt;
        if (medium_ != Medium::Raster) {
            font.setPixelSize(kFontPixels);
            p_.scale(em / kFontPixels, em / kFontPixels);
        }
        if (medium_ == Medium::Picture) {
            QPainterPath outline;
            outline.addText(0, 0, font, QString::fromStdString(t.text));
            p_.fillPath(outline, colourOf(t.colour));
            p_.restore();
            return;
        }
        if (medium_ == Medium::Raster) {
            const double pixels = em * p_.transform().map(QLineF(0, 0, 1, 0)).length();
            font.setPointSizeF(std::max(0.5, pixels * 72 / p_.device()->logicalDpiY()));
            p_.scale(em / pixels, em / pixels);
        }
        p_.setFont(font);
        p_.drawText(QPointF(0, 0), QString::fromStdString(t.text));
        p_.restore();
    }

    void draw(const Group& g) {
        p_.save();
        if (g.clip)
            p_.setClipRect(QRectF(g.clip->x, g.clip->y, g.clip->width, g.clip->height), Qt::IntersectClip);
        if (g.opacity < 1) p_.setOpacity(p_.opacity() * g.opacity);
        items(g.items);
        p_.restore();
    }

    QPainter& p_;
    Medium medium_;
    double pixelsPerMm_;
    bool draft_;
};

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

void loadFonts() {
    if (!loadedFonts().empty()) return;
    for (const FontFile& file : fontFiles()) {
        const int id = QFontDatabase::addApplicationFontFromData(QByteArray::fromRawData(
            reinterpret_cast<const char*>(file.bytes.data()), static_cast<qsizetype>(file.bytes.size())));
        const QStringList families = QFontDatabase::applicationFontFamilies(id);
        if (families.isEmpty()) continue;
        const QString family = families.first();
        const bool bold = file.face.ends_with("-bold"), italic = file.face.ends_with("-italic"),
                   medium = file.face.ends_with("-medium");
        QString style = bold     ? (file.face == "window-bold" ? "SemiBold" : "Bold")
                        : italic ? "Italic"
                        : medium ? "Medium"
                                 : "Regular";
        loadedFonts()[std::string(file.face)] = {family, style};
    }
}

void paintList(QPainter& painter, const DisplayList& list, Medium medium, double pixelsPerMm, bool draft) {
    painter.setRenderHints(QPainter::Antialiasing | QPainter::TextAntialiasing |
                           QPainter::LosslessImageRendering);
    Drawer(painter, medium, pixelsPerMm, draft).items(list.items);
}

QImage toImage(const DisplayList& list, double dpi, bool transparent) {
    return toImage(list, dpi, transparent, {0, 0, list.widthMm, list.heightMm});
}

QImage toImage(const DisplayList& list, double dpi, bool transparent, const Rect& part) {
    const double perMm = dpi / 25.4;
    QImage image(std::max(1, static_cast<int>(std::lround(part.width * perMm))),
                 std::max(1, static_cast<int>(std::lround(part.height * perMm))),
                 QImage::Format_ARGB32_Premultiplied);
    if (image.isNull()) return image;
    image.fill(transparent ? Qt::transparent : Qt::white);
    QPainter painter(&image);
    painter.scale(perMm, perMm);
    painter.translate(-part.x, -part.y);
    paintList(painter, list, dpi < 150 ? Medium::Raster : Medium::Picture, perMm);
    painter.end();
    image.setDotsPerMeterX(static_cast<int>(std::lround(dpi / 0.0254)));
    image.setDotsPerMeterY(static_cast<int>(std::lround(dpi / 0.0254)));
    return image;
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
    paintList(painter, list, Medium::Pdf, 100);
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
