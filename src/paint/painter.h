// SPDX-License-Identifier: GPL-3.0-or-later
// A display list drawn with the toolkit: on screen, into bitmaps and into PDF. Needs a QGuiApplication.
#pragma once

#include "base/issue.h"
#include "draw/display_list.h"
#include "session/export.h"

#include <QByteArray>
#include <QImage>

class QPainter;

namespace jointer::paint {

// Loads the fonts that ship with Jointer into the toolkit; once, before anything is drawn.
void loadFonts();

// Raster: the screen, text from the glyph cache. Picture: bitmaps for print, text as outlines at exact
// places.
enum class Medium { Raster, Picture, Pdf };

// Draws the list with 1 unit of the painter's coordinates = 1 mm.
void paintList(QPainter& painter, const draw::DisplayList& list, Medium medium);

// The whole page as an image of the given resolution.
QImage toImage(const draw::DisplayList& list, double dpi, bool transparent);
// Only a part of the page, in mm.
QImage toImage(const draw::DisplayList& list, double dpi, bool transparent, const draw::Rect& partMm);

// Over what the picture shows, which is a part of the page in mm; format: premultiplied ARGB. What takes long is
// painted by several threads.
void paintOver(QImage& picture, const draw::DisplayList& list, const draw::Rect& partMm, Medium medium);

// The same list painted again where it differs from the one that the picture shows; the picture is a part of
// the page in mm. Pixels beyond what differs stay as they are.
void paintChange(QImage& picture, const draw::DisplayList& before, const draw::DisplayList& now,
                 const draw::Rect& partMm);

// A PDF with exact page size (to 0.001 mm), embedded fonts and searchable text.
Result<QByteArray> toPdf(const draw::DisplayList& list, const draw::Credits& credits);

// What session/ calls for all formats: pdf, svg, eps, tex, png, tif, jpg.
class QtFigureWriter final : public FigureWriter {
public:
    Result<FigureBytes> bytes(const draw::DisplayList& list, const std::string& format,
                              const ExportOptions& options, const std::string& stem) override;
    const Catalogue<KindInfo>& formats() const override;
};

} // namespace jointer::paint
