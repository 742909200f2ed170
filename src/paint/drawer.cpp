// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/drawer.h"

#include "draw/revise.h"
#include "paint/coverage.h"
#include "paint/fonts.h"
#include "paint/paths.h"

#include <QImage>
#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <map>

namespace jointer::paint {

using namespace draw;

namespace {

constexpr int kFontPixels = 1000;  // PDF text is drawn at this size under a scale, so that its size is exact
constexpr std::size_t kMany = 150; // points from which on a line or an area is drawn by its coverage
constexpr std::size_t kStampFrom = 40; // symbols beyond which a raster gets stamps

class Drawer {
public:
    Drawer(QPainter& painter, Medium medium) : p_(painter), medium_(medium) {
        const QRect whole(0, 0, painter.device()->width(), painter.device()->height());
        clips_ = {painter.hasClipping() ? deviceRect(painter.clipBoundingRect()).intersected(whole) : whole};
    }

    void items(const std::vector<Item>& items) {
        for (const Item& item : items) std::visit([&](const auto& what) { draw(what); }, item.what);
    }

private:
    void draw(const Path& path) {
        if (medium_ != Medium::Pdf && path.stroke && !path.stroke->dashMm.empty()) return drawDashed(path);
        if (drawnQuickly(path)) return;
        p_.setBrush(path.fill ? QBrush(colourOf(*path.fill)) : QBrush(Qt::NoBrush));
        p_.setPen(path.stroke ? penOf(*path.stroke) : QPen(Qt::NoPen));
        p_.drawPath(pathOf(path.lines, path.evenOdd));
    }

    // The toolkit's rasteriser loses the phase on long lines.
    void drawDashed(const Path& path) {
        Path fill = path,
             dashes{.lines = dashesOf(path.lines, *path.stroke), .stroke = path.stroke, .fill = {}};
        fill.stroke.reset();
        dashes.stroke->dashMm.clear();
        if (fill.fill) draw(fill);
        draw(dashes);
    }

    // Long lines and large areas cost the toolkit's rasteriser most.
    bool drawnQuickly(const Path& path) {
        if (outlines_ > 0 || medium_ == Medium::Pdf) return false;
        if (path.stroke.has_value() == path.fill.has_value()) return false;
        const std::size_t points = pointCount(path.lines);
        const bool fine = isFineLine(path);
        if (medium_ != Medium::Raster && !fine) return false;
        auto* image =
            p_.device()->devType() == QInternal::Image ? static_cast<QImage*>(p_.device()) : nullptr;
        if ((points < kMany && !fine) || !image || image->format() != QImage::Format_ARGB32_Premultiplied ||
            p_.transform().type() > QTransform::TxScale)
            return false;
        if (path.fill &&
            (path.lines.size() != 1 || path.evenOdd || !isBetweenCurves(path.lines.front().points)))
            return false;
        QColor colour = colourOf(path.stroke ? path.stroke->colour : *path.fill);
        colour.setAlphaF(static_cast<float>(colour.alphaF() * p_.opacity()));
        const double width = path.stroke ? path.stroke->widthMm * std::abs(p_.transform().m11()) : 0;
        for (const QRect& clip : clips_) {
            coverage_.begin(*image, clip);
            for (const Polyline& l : path.lines) {
                toPixels(l, path.stroke.has_value());
                if (!coverage_.reaches(pixels_, width)) continue;
                if (path.stroke)
                    coverage_.line(pixels_, width);
                else
                    coverage_.area(pixels_);
            }
            coverage_.blend(*image, colour);
        }
        return true;
    }
    // Drawings from elsewhere have thousands of hair lines across the page; of such width ends and joins are
    // not seen.
    bool isFineLine(const Path& path) const {
        constexpr double kFine = 1.5; // pixels
        return matrices_ > 0 && path.stroke && path.stroke->dashMm.empty() &&
               path.stroke->widthMm * std::abs(p_.transform().m11()) <= kFine;
    }
    void toPixels(const Polyline& l, bool closes) {
        const QTransform& t = p_.transform(); // no more than a scale
        const double sx = t.m11(), sy = t.m22(), dx = t.dx(), dy = t.dy();
        pixels_.clear();
        for (const Point& at : l.points) pixels_.emplace_back(at.x * sx + dx, at.y * sy + dy);
        if (l.closed && closes && !pixels_.empty()) pixels_.push_back(pixels_.front());
    }

    void symbol(const Symbols& s, const QPainterPath& outline, QPointF at) {
        if (s.half != Half::None && s.fill) {
            const QPen pen = p_.pen();
            p_.setPen(Qt::NoPen);
            p_.setBrush(colourOf(*s.fill));
            p_.drawPath(pathOf({symbolHalf(s.shape, s.sizeMm, s.half)}).translated(at));
            p_.setPen(pen);
            p_.setBrush(Qt::NoBrush);
        }
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
                Drawer single(painter, medium_);
                painter.setBrush(s.fill ? QBrush(colourOf(*s.fill)) : QBrush(Qt::NoBrush));
                painter.setPen(s.stroke ? penOf(*s.stroke) : QPen(Qt::NoPen));
                single.symbol(s, outline, {0, 0});
            }
            p_.drawImage(QPointF(fx - half, fy - half), stamp);
        }
        p_.restore();
    }

    // On a screen glyphs are advanced by whole pixels: what that adds up to is spread over the letters, so
    // that the next run (a power, a unit) begins where the layout has it.
    void keepWidth(QFont& font, const TextRun& t, double wanted) const {
        const QString text = QString::fromStdString(t.text);
        const double has = QFontMetricsF(font, p_.device()).horizontalAdvance(text);
        if (text.size() > 1 && std::isfinite(wanted) && wanted > 0 && std::abs(has - wanted) > 0.2)
            font.setLetterSpacing(QFont::AbsoluteSpacing, (wanted - has) / static_cast<double>(text.size()));
    }

    void draw(const TextRun& t) {
        if (medium_ == Medium::Picture) return draw(outlineOf(t));
        QFont font = fontOf(t.face);
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
        if (medium_ == Medium::Raster) {
            const double pixels = em * p_.transform().map(QLineF(0, 0, 1, 0)).length();
            font.setPointSizeF(std::max(0.5, pixels * 72 / p_.device()->logicalDpiY()));
            keepWidth(font, t, t.widthMm * pixels / em);
            p_.scale(em / pixels, em / pixels);
        }
        p_.setFont(font);
        p_.drawText(QPointF(0, 0), QString::fromStdString(t.text));
        p_.restore();
    }

    void draw(const Picture& picture) {
        if (!picture.pixels || picture.columns == 0) return;
        const QImage image(picture.pixels->data(), static_cast<int>(picture.columns),
                           static_cast<int>(picture.rows), QImage::Format_RGBA8888);
        p_.setRenderHint(QPainter::SmoothPixmapTransform, picture.smooth);
        p_.drawImage(rectOf(picture.bounds), image);
    }

    // Small triangles, each in the mean of its corners' colours; edges without smoothing leave no seams.
    void draw(const Mesh& mesh) {
        p_.setPen(Qt::NoPen);
        const bool smooth = p_.testRenderHint(QPainter::Antialiasing);
        p_.setRenderHint(QPainter::Antialiasing, false);
        eachTriangle(mesh, [this](const Polyline& corners, Colour mean) {
            p_.setBrush(colourOf(mean));
            p_.drawPath(pathOf({corners}));
        });
        p_.setRenderHint(QPainter::Antialiasing, smooth);
    }

    static QRectF rectOf(const Rect& r) { return {r.x, r.y, r.width, r.height}; }

    void draw(const Group& g) {
        if (g.opacity < 1 && g.items.size() > 1 && medium_ != Medium::Pdf) return asOne(g);
        p_.save();
        const std::vector<QRect> outer = clips_;
        if (g.matrix) {
            const Matrix& m = *g.matrix;
            p_.setTransform(QTransform(m.a, m.b, m.c, m.d, m.e, m.f), true);
        }
        matrices_ += g.matrix.has_value();
        cut(g);
        outlines_ += !g.outline.empty();
        // The toolkit's PDF has no groups: there each item has the opacity, and what overlaps shows.
        if (g.opacity < 1) p_.setOpacity(p_.opacity() * g.opacity);
        items(g.items);
        clips_ = outer;
        outlines_ -= !g.outline.empty();
        matrices_ -= g.matrix.has_value();
        p_.restore();
    }

    void cut(const Group& g) {
        std::vector<QRect> within;
        auto meet = [&](const Rect& part) {
            for (const QRect& outer : clips_)
                if (const QRect both = outer.intersected(deviceRect(rectOf(part))); !both.isEmpty())
                    within.push_back(both);
        };
        if (!g.parts.empty()) {
            QPainterPath all;
            for (const Rect& part : g.parts) {
                all.addRect(rectOf(part));
                meet(part);
            }
            p_.setClipPath(all, Qt::IntersectClip);
        } else if (g.clip) {
            p_.setClipRect(rectOf(*g.clip), Qt::IntersectClip);
            meet(*g.clip);
        }
        if (!g.outline.empty()) p_.setClipPath(pathOf(g.outline, g.evenOdd), Qt::IntersectClip);
        if (g.clip || !g.parts.empty()) clips_ = std::move(within);
    }
    // Whole pixels; what lies far outside of any device, or is no number, ends out there.
    QRect deviceRect(const QRectF& logical) const {
        static constexpr double kFar = 1e6;
        const auto near = [](double v) { return std::isnan(v) ? kFar : std::clamp(v, -kFar, kFar); };
        const QRectF at = p_.transform().mapRect(logical);
        return QRectF(QPointF(near(at.left()), near(at.top())), QPointF(near(at.right()), near(at.bottom())))
            .toRect();
    }

    // Drawn opaque on a sheet of its own, which is then laid on with the opacity.
    void asOne(const Group& g) {
        QImage sheet(p_.device()->width(), p_.device()->height(), QImage::Format_ARGB32_Premultiplied);
        if (sheet.isNull()) return;
        sheet.fill(Qt::transparent);
        QPainter painter(&sheet);
        painter.setRenderHints(p_.renderHints());
        painter.setTransform(p_.transform());
        Group opaque = g;
        opaque.opacity = 1;
        Drawer(painter, medium_).draw(opaque);
        painter.end();
        p_.save();
        p_.resetTransform();
        p_.setOpacity(p_.opacity() * g.opacity);
        p_.drawImage(0, 0, sheet);
        p_.restore();
    }

    QPainter& p_;
    Medium medium_;
    std::vector<QRect> clips_; // pixels within which is drawn; they do not overlap
    int outlines_ = 0;         // clips of other forms in force
    int matrices_ = 0;         // within artwork
    Coverage coverage_;
    std::vector<QPointF> pixels_;
};

} // namespace

void drawItems(QPainter& painter, const std::vector<Item>& items, Medium medium) {
    Drawer(painter, medium).items(items);
}

} // namespace jointer::paint
