// SPDX-License-Identifier: GPL-3.0-or-later
// Every format against the others, on the demo's figures: what is on the page, and what the file tells of
// itself.
#include "draw/revise.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figures.h"
#include "paint/flatten.h"
#include "paint/painter.h"
#include "session/export.h"
#include "support/random.h"

#include <QImage>
#include <QProcess>
#include <QTemporaryDir>
#include <cmath>
#include <gmock/gmock.h>
#include <tiffio.h>

using namespace jointer;
using namespace jointer::draw;
using testing::HasSubstr;

namespace {

const Project& demoFigures() {
    static const Project p = demo::figureDemo();
    return p;
}

QString run(const QString& program, const QStringList& arguments) {
    QProcess process;
    process.start(program, arguments);
    process.waitForFinished(30000);
    return QString::fromUtf8(process.readAllStandardOutput());
}

Result<Exported> write(std::size_t figure, const QString& path, const ExportOptions& options = {}) {
    static evaluate::Evaluator evaluator;
    paint::QtFigureWriter writer;
    return exportFigure(demoFigures(), demoFigures().figures[figure], evaluator, path.toStdString(), writer,
                        options);
}

// The part of the pixels that differ by more than 32 from all around the same place. Most are alike at once.
double differing(const QImage& a, const QImage& b) {
    const QImage one = a.convertToFormat(QImage::Format_RGB32), two = b.convertToFormat(QImage::Format_RGB32);
    const int w = std::min(one.width(), two.width()) - 2, h = std::min(one.height(), two.height()) - 2;
    const auto isAround = [&](int x, int y, QRgb here) {
        for (const int shift : {0, 8, 16}) {
            int low = 255, high = 0;
            for (int k = 0; k < 9; ++k) {
                const int v = static_cast<int>(two.pixel(x + k % 3 - 1, y + k / 3 - 1) >> shift & 0xFF);
                low = std::min(low, v);
                high = std::max(high, v);
            }
            const int v = static_cast<int>(here >> shift & 0xFF);
            if (v < low - 32 || v > high + 32) return false;
        }
        return true;
    };
    int count = 0;
    for (int y = 2; y < h; ++y) {
        const auto* left = reinterpret_cast<const QRgb*>(one.constScanLine(y));
        const auto* right = reinterpret_cast<const QRgb*>(two.constScanLine(y));
        for (int x = 2; x < w; ++x)
            if (left[x] != right[x]) count += !isAround(x, y, left[x]);
    }
    return static_cast<double>(count) / (w * h);
}

QImage tiffImage(const QString& path) {
    TIFF* tiff = TIFFOpen(path.toUtf8().constData(), "r");
    if (!tiff) return {};
    std::uint32_t w = 0, h = 0;
    TIFFGetField(tiff, TIFFTAG_IMAGEWIDTH, &w);
    TIFFGetField(tiff, TIFFTAG_IMAGELENGTH, &h);
    QImage image(static_cast<int>(w), static_cast<int>(h), QImage::Format_RGBA8888);
    TIFFReadRGBAImageOriented(tiff, w, h, reinterpret_cast<std::uint32_t*>(image.bits()), ORIENTATION_TOPLEFT,
                              0);
    TIFFClose(tiff);
    return image;
}

} // namespace

TEST(Formats, BitmapsHoldTheSamePixels) {
    QTemporaryDir folder;
    for (const std::size_t k : {std::size_t{0}, std::size_t{4}, std::size_t{7}}) {
        for (const char* ending : {"png", "tif", "jpg"})
            ASSERT_TRUE(write(k, folder.filePath("f.") + ending, {.dpi = 200}));
        const QImage png(folder.filePath("f.png")), tif = tiffImage(folder.filePath("f.tif")),
                                                    jpg(folder.filePath("f.jpg"));
        const QImage one = png.convertToFormat(QImage::Format_RGB32),
                     two = tif.convertToFormat(QImage::Format_RGB32);
        int unlike = 0;
        for (int y = 0; y < one.height(); ++y)
            for (int x = 0; x < one.width(); ++x) unlike += one.pixel(x, y) != two.pixel(x, y);
        EXPECT_EQ(unlike, 0);
        EXPECT_EQ(jpg.size(), png.size());
        EXPECT_LT(differing(png, jpg), 0.01);
        EXPECT_NEAR(jpg.dotsPerMeterX() * 0.0254, 200, 1);
    }
}

TEST(Formats, PdfAndEpsShowWhatTheBitmapShows) {
    QTemporaryDir folder;
    for (std::size_t k = 0; k < demoFigures().figures.size(); k += 2) { // all of them: tools/compare_formats
        SCOPED_TRACE(demoFigures().figures[k].name);
        for (const char* ending : {"png", "pdf", "eps"})
            ASSERT_TRUE(write(k, folder.filePath("f.") + ending, {.dpi = 300}));
        run("pdftocairo",
            {"-r", "300", "-png", "-singlefile", folder.filePath("f.pdf"), folder.filePath("pdf")});
        const QImage own(folder.filePath("f.png")), pdf(folder.filePath("pdf.png"));
        EXPECT_LT(differing(own, pdf), 0.001);
        EXPECT_LT(differing(pdf, own), 0.001);
        EXPECT_EQ(run("qpdf", {"--check", folder.filePath("f.pdf")}).contains("WARNING"), false);
    }
}

// Without translucency, the page looks as it did with it.
TEST(Flatten, LooksAlikeAndIsOpaque) {
    evaluate::Evaluator e;
    for (const auto& f : demoFigures().figures) {
        const DisplayList list = figure::layOut(demoFigures(), *f, e).list;
        const paint::Flattened flat = paint::flattened(list);
        eachItem(flat.list.items, [](const Item& item) {
            if (const auto* path = std::get_if<Path>(&item.what)) {
                EXPECT_TRUE(!path->fill || path->fill->a == 255);
                EXPECT_TRUE(!path->stroke || path->stroke->colour.a == 255);
            }
            if (const auto* s = std::get_if<Symbols>(&item.what)) {
                EXPECT_TRUE((!s->fill || s->fill->a == 255) && (!s->stroke || s->stroke->colour.a == 255));
            }
            if (const auto* group = std::get_if<Group>(&item.what)) {
                EXPECT_EQ(group->opacity, 1);
            }
        });
        EXPECT_LT(differing(paint::toImage(list, 200, false), paint::toImage(flat.list, 200, false)), 0.001)
            << f->name;
    }
}

TEST(Flatten, RandomAreasOverEachOtherKeepTheirColours) {
    test::Random random(11);
    for (int round = 0; round < 25; ++round) {
        DisplayList list{.widthMm = 40, .heightMm = 30};
        for (int k = 0; k < 5; ++k) {
            Polyline area{{}, true};
            for (int n = 0; n < 3; ++n)
                area.points.push_back({random.between(-5, 45), random.between(-5, 35)});
            const auto byte = [&] { return static_cast<std::uint8_t>(random.below(256)); };
            Path path{.lines = {area}, .stroke = {}, .fill = Colour{byte(), byte(), byte(), byte()}};
            if (k % 2)
                path.stroke =
                    Stroke{.widthMm = random.between(0.2, 2), .colour = {byte(), byte(), byte(), byte()}};
            Group group{.clip = Rect{random.between(0, 10), random.between(0, 10), 25, 15},
                        .items = {{{}, path}}};
            if (k == 3) group.matrix = Matrix{0.8, 0.1, -0.1, 0.9, 3, 2};
            list.items.push_back(random.below(2) ? Item{{}, path} : Item{{}, group});
        }
        EXPECT_LT(differing(paint::toImage(list, 200, false),
                            paint::toImage(paint::flattened(list).list, 200, false)),
                  0.004)
            << round;
    }
}

TEST(Flatten, TooManyOverEachOtherBecomeAPicture) {
    DisplayList list{.widthMm = 40, .heightMm = 30};
    Symbols cloud{
        .shape = SymbolShape::Circle, .sizeMm = 2, .places = {}, .stroke = {}, .fill = Colour{200, 0, 0, 60}};
    test::Random random(2);
    for (int k = 0; k < 3000; ++k) cloud.places.push_back({random.between(5, 35), random.between(5, 25)});
    list.items.push_back({{}, cloud});
    const paint::Flattened flat = paint::flattened(list);
    EXPECT_EQ(flat.pictures, 1U);
    EXPECT_LT(differing(paint::toImage(list, 150, false), paint::toImage(flat.list, 150, false)), 0.001);
}

TEST(Eps, TellsItsBoxToAThousandthAndHoldsText) {
    QTemporaryDir folder;
    ASSERT_TRUE(write(4, folder.filePath("f.eps"), {.title = "Droplets", .author = "A. Field"}));
    QFile file(folder.filePath("f.eps"));
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    const std::string eps = file.readAll().toStdString();
    double left = 0, low = 0, right = 0, high = 0;
    const std::size_t at = eps.find("%%HiResBoundingBox:");
    ASSERT_NE(at, eps.npos);
    ASSERT_EQ(
        std::sscanf(eps.c_str() + at, "%%%%HiResBoundingBox: %lf %lf %lf %lf", &left, &low, &right, &high),
        4);
    const Rect page = figure::pageOf(demoFigures(), demoFigures().figures[4]);
    EXPECT_NEAR((right - left) * kMmPerPt, page.width, 1e-3);
    EXPECT_NEAR((high - low) * kMmPerPt, page.height, 1e-3);
    for (const char* line :
         {"%!PS-Adobe-3.0 EPSF-3.0", "%%Title: Droplets", "%%For: A. Field", "%%Creator: Jointer"})
        EXPECT_THAT(eps, HasSubstr(line));
    EXPECT_THAT(eps, HasSubstr("FontName")) << "a font is embedded";
}

TEST(Trim, CutsThePageToItsInk) {
    QTemporaryDir folder;
    ASSERT_TRUE(write(5, folder.filePath("f.png"), {.dpi = 300, .trim = true}));
    const QImage image(folder.filePath("f.png"));
    const auto isWhite = [&](int x, int y) { return qGray(image.pixel(x, y)) > 250; };
    const auto edge = [&](bool vertical, int at) {
        for (int k = 0; k < (vertical ? image.height() : image.width()); ++k)
            if (!isWhite(vertical ? at : k, vertical ? k : at)) return true;
        return false;
    };
    const int margin = static_cast<int>(0.2 / 25.4 * 300) + 3;
    const auto within = [&](bool vertical, int from, int step) {
        for (int k = 0; k <= margin; ++k)
            if (edge(vertical, from + step * k)) return true;
        return false;
    };
    EXPECT_TRUE(within(true, 0, 1) && within(true, image.width() - 1, -1) && within(false, 0, 1) &&
                within(false, image.height() - 1, -1));
    EXPECT_FALSE(edge(true, 0) || edge(false, 0)) << "nothing is cut off";
}

TEST(Grey, HasNoColourInAnyFormat) {
    QTemporaryDir folder;
    ASSERT_TRUE(write(0, folder.filePath("f.pdf"), {.grey = true}));
    ASSERT_TRUE(write(0, folder.filePath("f.tif"), {.dpi = 150, .grey = true}));
    run("pdftocairo", {"-r", "100", "-png", "-singlefile", folder.filePath("f.pdf"), folder.filePath("pdf")});
    const QImage pdf(folder.filePath("pdf.png"));
    for (int y = 0; y < pdf.height(); y += 3)
        for (int x = 0; x < pdf.width(); ++x) {
            const QRgb c = pdf.pixel(x, y);
            ASSERT_LE(std::max({qRed(c), qGreen(c), qBlue(c)}) - std::min({qRed(c), qGreen(c), qBlue(c)}), 2);
        }
    TIFF* tiff = TIFFOpen(folder.filePath("f.tif").toUtf8().constData(), "r");
    ASSERT_TRUE(tiff);
    std::uint16_t samples = 0, compression = 0;
    float dpi = 0;
    char* said = nullptr;
    TIFFGetField(tiff, TIFFTAG_SAMPLESPERPIXEL, &samples);
    TIFFGetField(tiff, TIFFTAG_COMPRESSION, &compression);
    TIFFGetField(tiff, TIFFTAG_XRESOLUTION, &dpi);
    ASSERT_EQ(TIFFGetField(tiff, TIFFTAG_IMAGEDESCRIPTION, &said), 1);
    EXPECT_THAT(said, HasSubstr("data: "));
    EXPECT_EQ(samples, 1);
    EXPECT_EQ(compression, COMPRESSION_LZW);
    EXPECT_EQ(dpi, 150);
    TIFFClose(tiff);
    EXPECT_EQ(greyOf({255, 255, 255}).r, 255);
    EXPECT_EQ(greyOf({0, 0, 0}).r, 0);
    EXPECT_EQ(greyOf({0, 255, 0}).r, 220) << "0.7152 of the light";
}

TEST(Outlines, ReplaceTextAndLookAlike) {
    QTemporaryDir folder;
    ASSERT_TRUE(write(0, folder.filePath("text.pdf")));
    ASSERT_TRUE(write(0, folder.filePath("paths.pdf"), {.outlines = true}));
    EXPECT_TRUE(run("pdftotext", {folder.filePath("text.pdf"), "-"}).contains("Raman"));
    EXPECT_FALSE(run("pdftotext", {folder.filePath("paths.pdf"), "-"}).contains("Raman"));
    for (const char* name : {"text", "paths"})
        run("pdftocairo", {"-r", "200", "-png", "-singlefile", folder.filePath(QString(name) + ".pdf"),
                           folder.filePath(name)});
    EXPECT_LT(differing(QImage(folder.filePath("text.png")), QImage(folder.filePath("paths.png"))), 0.001);
}

TEST(Credits, AreToldInEveryFormat) {
    QTemporaryDir folder;
    const ExportOptions options{.dpi = 72, .title = "Über Schalen <1>", .author = "A. & B. Field"};
    for (const char* ending : {"pdf", "svg", "png", "tex"})
        ASSERT_TRUE(write(2, folder.filePath("f.") + ending, options));
    const QString info = run("pdfinfo", {folder.filePath("f.pdf")});
    EXPECT_TRUE(info.contains("Title:           Über Schalen <1>")) << info.toStdString();
    EXPECT_TRUE(info.contains("Author:          A. & B. Field"));
    EXPECT_TRUE(info.contains("data: "));
    const auto bytes = [&](const char* name) {
        QFile file(folder.filePath(name));
        return file.open(QIODevice::ReadOnly) ? file.readAll().toStdString() : std::string();
    };
    EXPECT_THAT(bytes("f.svg"), HasSubstr("<title>Über Schalen &lt;1&gt;</title>"));
    EXPECT_THAT(bytes("f.svg"), HasSubstr("<dc:creator>A. &amp; B. Field</dc:creator>"));
    EXPECT_EQ(QImage(folder.filePath("f.png")).text("Author"), "A. & B. Field");
    EXPECT_THAT(bytes("f.tex"), HasSubstr("% Über Schalen <1>"));
}

TEST(Credits, TheChecksumIsThatOfTheData) {
    Project p = demoFigures();
    const Figure f = p.figures[0];
    const std::string before = dataChecksum(p, f);
    EXPECT_EQ(before.size(), 32U);
    EXPECT_EQ(dataChecksum(p, f), before);
    EXPECT_NE(dataChecksum(p, p.figures[1]), before);
    p.title = "Another";
    EXPECT_EQ(dataChecksum(p, f), before);
}

TEST(Tikz, LaysItsFontsBesideIt) {
    QTemporaryDir folder;
    const auto plain = write(1, folder.filePath("a.tex")),
               shipped = write(1, folder.filePath("b.tex"), {.shippedFonts = true});
    ASSERT_TRUE(plain && shipped);
    EXPECT_TRUE(plain->beside.empty());
    ASSERT_FALSE(shipped->beside.empty());
    for (const std::string& path : shipped->beside)
        EXPECT_GT(QFile(QString::fromStdString(path)).size(), 1000) << path;
}

// No band shows where the picture was painted in pieces, at any size.
TEST(Bitmaps, AreTheSameWhateverTheBands) {
    evaluate::Evaluator e;
    const DisplayList list = figure::layOut(demoFigures(), demoFigures().figures[3], e).list;
    paint::QtFigureWriter writer;
    const auto bytes = writer.bytes(list, "png", {.dpi = 900}, "f"); // several bands
    ASSERT_TRUE(bytes);
    const QImage banded = QImage::fromData(QByteArray::fromStdString(bytes->bytes)),
                 whole = paint::toImage(list, 900, false);
    ASSERT_EQ(banded.size(), whole.size());
    EXPECT_LT(differing(banded, whole), 1e-5);
}

// Once found: areas beside each other in one panel were taken to lie upon each other, as far as its clip
// reaches.
TEST(Flatten, AreasBesideEachOtherStayAreas) {
    DisplayList list{.widthMm = 100, .heightMm = 200};
    for (int k = 0; k < 60; ++k) {
        Group panel{.clip = Rect{0, 0, 100, 200}, .items = {}};
        panel.items.push_back(
            {{},
             Path{.lines = {rectangle({10, 3.0 * k, 60, 2})}, .stroke = {}, .fill = Colour{10, 80, 150, 90}},
             {}});
        list.items.push_back({{}, std::move(panel), {}});
    }
    const paint::Flattened flat = paint::flattened(list);
    EXPECT_EQ(flat.pictures, 0U);
    EXPECT_EQ(flat.list.items.size(), 60U) << "none is drawn again";
}
