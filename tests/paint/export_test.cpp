// SPDX-License-Identifier: GPL-3.0-or-later
// Exports as the world sees them: pdfinfo, pdffonts and pdftotext on the PDF, pixels of the bitmaps.
#include "draw/markup.h"
#include "figure/kinds.h"
#include "paint/painter.h"
#include "session/export.h"
#include "support/random_markup.h"
#include "support/sample_project.h"

#include <QFile>
#include <QImage>
#include <QPainter>
#include <QProcess>
#include <QTemporaryDir>
#include <cmath>
#include <gmock/gmock.h>
#include <set>

using namespace jointer;
using namespace jointer::draw;
using testing::HasSubstr;

namespace {

Project withFigure(double width, double height) {
    Project p = test::sampleProject();
    HouseStyle style = figure::shippedStyles()[0];
    style.id = p.newId<StyleId>();
    p.styles = p.styles.with(style);
    Figure f = figure::newFigure("Test figure", style.id,
                                 {figure::newMark("points", p.datasets[0].id.text()),
                                  figure::newMark("curve", p.analyses[0].id.text())});
    f.settings.set("width", Value(width));
    f.settings.set("height", Value(height));
    f.elements[0].children[0].settings.set("name", "Shift \\alpha");
    return *edits::addFigure(f).apply(p);
}

std::string run(const QString& program, const QStringList& arguments) {
    QProcess process;
    process.start(program, arguments);
    process.waitForFinished(20000);
    return process.readAllStandardOutput().toStdString();
}

Result<Exported> exported(const Project& p, const QString& path, ExportOptions options = {}) {
    evaluate::Evaluator e;
    paint::QtFigureWriter writer;
    return exportFigure(p, p.figures[1], e, path.toStdString(), writer, options);
}

} // namespace

TEST(Export, PdfHasExactSizeEmbeddedFontsAndText) {
    QTemporaryDir folder;
    for (const auto& [width, height] :
         {std::pair(85.0, 65.0), std::pair(174.0, 90.0), std::pair(61.7, 43.21)}) {
        const QString path = folder.filePath("f.pdf");
        ASSERT_TRUE(exported(withFigure(width, height), path));
        const std::string info = run("pdfinfo", {path});
        double w = 0, h = 0;
        ASSERT_EQ(std::sscanf(info.c_str() + info.find("Page size:"), "Page size: %lf x %lf", &w, &h), 2)
            << info;
        EXPECT_NEAR(w * 25.4 / 72, width, 0.01);
        EXPECT_NEAR(h * 25.4 / 72, height, 0.01);
        const std::string fonts = run("pdffonts", {path});
        EXPECT_THAT(fonts, HasSubstr("TeXGyreHeros"));
        EXPECT_THAT(fonts, testing::Not(testing::ContainsRegex(" no +(yes|no) +(yes|no) +[0-9]")))
            << "a font is not embedded:\n"
            << fonts;
        const std::string words = run("pdftotext", {"-layout", path, "-"});
        EXPECT_THAT(words, HasSubstr("Shift α (cm"));
        EXPECT_THAT(words, HasSubstr("counts"));
        EXPECT_EQ(run("qpdf", {"--check", path}).find("WARNING"), std::string::npos);
    }
}

TEST(Export, BitmapsHaveTheirResolution) {
    QTemporaryDir folder;
    const QString path = folder.filePath("f.png");
    ASSERT_TRUE(exported(withFigure(85, 65), path, {.dpi = 300}));
    const QImage image(path);
    EXPECT_EQ(image.width(), std::lround(85 * 300 / 25.4));
    EXPECT_EQ(image.dotsPerMeterX(), std::lround(300 / 0.0254));
    EXPECT_EQ(image.pixelColor(1, 1), QColor(Qt::white));
    ASSERT_TRUE(exported(withFigure(85, 65), path, {.dpi = 100, .transparent = true}));
    EXPECT_EQ(QImage(path).pixelColor(1, 1).alpha(), 0);
}

// The PDF, rasterised by another program, shows the same as our own bitmap.
TEST(Export, FormatsAgreeInPixels) {
    QTemporaryDir folder;
    const Project p = withFigure(85, 65);
    ASSERT_TRUE(exported(p, folder.filePath("f.pdf")));
    ASSERT_TRUE(exported(p, folder.filePath("own.png"), {.dpi = 300}));
    run("pdftocairo", {"-r", "300", "-png", "-singlefile", folder.filePath("f.pdf"), folder.filePath("pdf")});
    const QImage own = QImage(folder.filePath("own.png")).convertToFormat(QImage::Format_Grayscale8),
                 pdf = QImage(folder.filePath("pdf.png")).convertToFormat(QImage::Format_Grayscale8);
    ASSERT_NEAR(own.width(), pdf.width(), 1);
    // Widened by one pixel: a value must lie within those around the same place, give or take 32.
    int differing = 0, total = 0;
    for (int y = 2; y < std::min(own.height(), pdf.height()) - 2; ++y)
        for (int x = 2; x < std::min(own.width(), pdf.width()) - 2; ++x) {
            int low = 255, high = 0;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) {
                    low = std::min(low, qGray(pdf.pixel(x + dx, y + dy)));
                    high = std::max(high, qGray(pdf.pixel(x + dx, y + dy)));
                }
            const int here = qGray(own.pixel(x, y));
            differing += here < low - 32 || here > high + 32;
            ++total;
        }
    EXPECT_LT(differing, total / 1000);
}

TEST(Export, RefusesWhatItCannotDo) {
    QTemporaryDir folder;
    const Project p = withFigure(85, 65);
    EXPECT_EQ(exported(p, folder.filePath("f.xyz")).error().code, "format");
    EXPECT_EQ(exported(p, folder.filePath("f.png"), {.dpi = 1e6}).error().code, "picture-size");
    EXPECT_EQ(exported(p, "/nowhere/at/all.pdf").error().code, "file-error");
}

// What was painted again is, pixel for pixel, what the whole list gives.
// Clips that lie astronomically far, or are no numbers, hold nothing of the page; those that reach beyond it
// hold all of it.
TEST(Painting, ClipsMayBeAnywhere) {
    const auto inkWithin = [](const Rect& clip) {
        std::vector<Point> zigzag; // enough points for the own rasteriser
        for (int i = 0; i < 3000; ++i) zigzag.push_back({10.0 + i * 0.01, i % 2 ? 5.0 : 35.0});
        Group g{.clip = clip, .opacity = 1, .items = {}, .parts = {}};
        g.items.push_back({{}, Path{.lines = {{zigzag}}, .stroke = Stroke{.widthMm = 0.3}, .fill = {}}});
        DisplayList list{.widthMm = 50, .heightMm = 40};
        list.items.push_back({{}, std::move(g)});
        const QImage picture = paint::toImage(list, 72, false);
        int ink = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) ink += qGray(picture.pixel(x, y)) < 200;
        return ink;
    };
    const int all = inkWithin({0, 0, 50, 40});
    EXPECT_GT(all, 500);
    EXPECT_EQ(inkWithin({-1e9, -1e9, 2e9, 2e9}), all);
    EXPECT_EQ(inkWithin({1e12, 1e12, 10, 10}), 0);
    EXPECT_EQ(inkWithin({-1e300, 5, 10, 10}), 0);
    EXPECT_EQ(inkWithin({NAN, NAN, NAN, NAN}), 0);
    EXPECT_EQ(inkWithin({482793, 1e15, 2, 1}), 0);
}

TEST(Painting, OnlyWhatDiffersIsPaintedAgain) {
    paint::loadFonts();
    auto listOf = [](double x) {
        draw::DisplayList list{.widthMm = 60, .heightMm = 40};
        list.items.push_back({{},
                              draw::Path{.lines = {{{{5, 5}, {55, 35}}}},
                                         .stroke = draw::Stroke{.widthMm = 0.5},
                                         .fill = {}}});
        list.items.push_back({{},
                              draw::Symbols{.sizeMm = 4,
                                            .places = {{x, 20}},
                                            .stroke = draw::Stroke{.widthMm = 0.3},
                                            .fill = draw::Colour{47, 96, 145, 255}}});
        list.items.push_back(
            {{}, draw::TextRun{.text = "far", .face = "sans", .origin = {40, 10}, .widthMm = 5}});
        return list;
    };
    QImage picture = paint::toImage(listOf(10), 96, false);
    for (double x : {12.0, 30.3, 10.0}) {
        const auto before = listOf(x == 12 ? 10 : x == 30.3 ? 12.0 : 30.3), now = listOf(x);
        paint::paintChange(picture, before, now, {0, 0, 60, 40});
        const QImage whole = paint::toImage(now, 96, false);
        int differ = 0;
        for (int py = 0; py < whole.height(); ++py)
            for (int px = 0; px < whole.width(); ++px)
                differ += std::abs(qGray(whole.pixel(px, py)) - qGray(picture.pixel(px, py))) > 60;
        EXPECT_LE(differ, 4) << "at " << x;
    }
}

// Whatever is set can be searched for: three hundred random texts, each on a page of its own.
TEST(Pdf, HoldsTheTextThatIsDrawn) {
    QTemporaryDir folder;
    const QString path = folder.filePath("t.pdf");
    test::Random random(300);
    const auto letters =
        [](const std::string& words) { // scripts stand above each other: in which order is open
            std::u32string all;
            for (const char32_t c : QString::fromStdString(words).toStdU32String())
                if (!QChar::isSpace(c)) all += c;
            std::ranges::sort(all);
            return all;
        };
    for (int k = 0; k < 300; ++k) {
        const std::string markup = test::randomMarkup(random);
        const draw::SetText set = draw::setText(markup, {.sizePt = 9});
        std::string wanted;
        for (const draw::TextRun& r : set.runs) wanted += r.text;
        draw::DisplayList list{
            .widthMm = set.widthMm + 20, .heightMm = set.heightMm() + 20, .items = {}, .regions = {}};
        list.items = draw::placed(set, {10, 10}, draw::HAlign::Left, draw::VAlign::Top);
        const auto pdf = paint::toPdf(list, {});
        ASSERT_TRUE(pdf);
        QFile file(path);
        ASSERT_TRUE(file.open(QIODevice::WriteOnly));
        file.write(*pdf);
        file.close();
        EXPECT_EQ(letters(run("pdftotext", {"-raw", path, "-"})), letters(wanted)) << markup;
    }
}
