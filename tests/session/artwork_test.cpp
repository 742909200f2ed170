// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork taken into a project: files of all kinds, what is said of those that cannot be, and that none does
// harm.
#include "base/program.h"
#include "draw/artwork.h"
#include "draw/png.h"
#include "draw/revise.h"
#include "figure/artwork.h"
#include "figure/kinds.h"
#include "project/project_file.h"
#include "project/recipe_json.h"
#include "session/artwork.h"
#include "session/export.h"
#include "session/figure_text.h"
#include "session/import.h"
#include "session/recipes.h"
#include "support/random.h"
#include "support/sample_project.h"

#include <chrono>
#include <fmt/format.h>
#include <fstream>
#include <gmock/gmock.h>

using namespace jointer;
using namespace std::chrono_literals;

namespace {

std::string svg(const std::string& body,
                const std::string& size = "width=\"60mm\" height=\"40mm\" viewBox=\"0 0 60 40\"") {
    return "<?xml version=\"1.0\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
           "xmlns:xlink=\"http://www.w3.org/1999/xlink\" " +
           size + ">" + body + "</svg>";
}

std::string png(std::size_t columns, std::size_t rows, double dpi = 0) {
    test::Random random(static_cast<unsigned>(columns * 1000 + rows));
    std::vector<std::uint8_t> pixels(4 * columns * rows);
    for (std::uint8_t& v : pixels) v = static_cast<std::uint8_t>(random.below(256));
    return draw::pngOf({.bounds = {},
                        .columns = columns,
                        .rows = rows,
                        .pixels = std::make_shared<const std::vector<std::uint8_t>>(std::move(pixels))},
                       dpi);
}

// A PDF with its cross references as they should be.
std::string pdf(const std::string& content, const std::string& mediaBox = "0 0 170 113",
                const std::string& pages = "[3 0 R]", const std::string& more = "") {
    std::string out = "%PDF-1.4\n";
    std::vector<std::size_t> places;
    const auto object = [&](const std::string& body) {
        places.push_back(out.size());
        out += fmt::format("{} 0 obj\n{}\nendobj\n", places.size(), body);
    };
    object("<< /Type /Catalog /Pages 2 0 R " + more + " >>");
    object("<< /Type /Pages /Kids " + pages + " /Count 1 >>");
    object("<< /Type /Page /Parent 2 0 R /MediaBox [" + mediaBox +
           "] /Contents 4 0 R /Resources << /Font << /F1 << /Type /Font /Subtype /Type1 /BaseFont "
           "/Unheard-Of >> >> >> >>");
    object(fmt::format("<< /Length {} >>\nstream\n{}\nendstream", content.size(), content));
    const std::size_t table = out.size();
    out += fmt::format("xref\n0 {}\n0000000000 65535 f \n", places.size() + 1);
    for (const std::size_t place : places) out += fmt::format("{:010} 00000 n \n", place);
    return out + fmt::format("trailer\n<< /Size {} /Root 1 0 R >>\nstartxref\n{}\n%%EOF\n", places.size() + 1,
                             table);
}

std::string bigEndian(std::uint32_t v) {
    return {static_cast<char>(v >> 24), static_cast<char>(v >> 16), static_cast<char>(v >> 8),
            static_cast<char>(v)};
}

Result<Asset> taken(const std::string& bytes, const std::string& name) {
    return takenArtwork(bytes, name, {}, 6s);
}

} // namespace

TEST(Artwork, LinesStayLinesOfTheSizeThatTheFileTells) {
    const std::string body =
        "<rect x=\"10\" y=\"5\" width=\"20\" height=\"10\" fill=\"#ff8000\"/><text x=\"5\" y=\"30\" "
        "font-size=\"6\">Marsh 7</text>";
    const auto drawing = taken(svg(body), "scheme.svg");
    ASSERT_TRUE(drawing) << drawing.error().text;
    EXPECT_EQ(drawing->type, "image/svg+xml");
    EXPECT_EQ(*drawing->bytes, svg(body)) << "the file stays as it came";
    EXPECT_EQ(drawing->note, "");
    const auto art = draw::artworkOf(drawing->drawn());
    ASSERT_TRUE(art);
    EXPECT_NEAR(art->widthMm, 60, 0.01);
    EXPECT_NEAR(art->heightMm, 40, 0.01);
    EXPECT_EQ(art->dpi, 0) << "no pixels";
    std::size_t letters = 0;
    bool orange = false;
    draw::eachItem(art->items, [&](const draw::Item& item) {
        const auto* path = std::get_if<draw::Path>(&item.what);
        if (!path || !path->fill) return;
        if (*path->fill == draw::Colour{255, 128, 0, 255}) {
            const draw::Rect r = draw::boundsOf(path->lines[0].points);
            EXPECT_NEAR(r.x, 10, 0.01);
            EXPECT_NEAR(r.width, 20, 0.01);
            orange = true;
        } else
            ++letters;
    });
    EXPECT_TRUE(orange);
    EXPECT_GE(letters, 1u) << "letters are outlines";
    EXPECT_EQ(describedArtwork(*drawing), "SVG, lines, 60 × 40 mm");

    const auto page = taken(pdf("1 0 0 RG 4 w 10 10 100 50 re S"), "plot.pdf");
    ASSERT_TRUE(page) << page.error().text;
    const auto onPage = draw::artworkOf(page->drawn());
    EXPECT_NEAR(onPage->widthMm, 170 * 25.4 / 72, 0.02);
    const auto* frame = std::get_if<draw::Path>(&onPage->items.at(0).what);
    ASSERT_TRUE(frame && frame->stroke);
    EXPECT_NEAR(frame->stroke->widthMm, 4 * 25.4 / 72, 0.01);
    // A page of no whole number of points was once shrunk by a quarter per cent.
    const auto odd = draw::artworkOf(
        taken(pdf("0 0 1 rg 10 10 320.157 135.906 re f", "0 0 340.157 155.906"), "odd.pdf")->drawn());
    const auto* whole = std::get_if<draw::Path>(&odd->items.at(0).what);
    ASSERT_TRUE(whole);
    const draw::Rect r = draw::boundsOf(whole->lines[0].points);
    constexpr double kPoint = 25.4 / 72;
    EXPECT_NEAR(r.x, 10 * kPoint, 0.005);
    EXPECT_NEAR(r.y, 10 * kPoint, 0.005);
    EXPECT_NEAR(r.width, 320.157 * kPoint, 0.005);
    EXPECT_NEAR(r.height, 135.906 * kPoint, 0.005);
}

TEST(Artwork, WhatCannotBeLinesBecomesAFinePicture) {
    const auto masked =
        taken(svg("<defs><linearGradient id=\"g\"><stop stop-color=\"white\"/><stop "
                  "offset=\"1\"/></linearGradient><mask "
                  "id=\"m\"><rect width=\"60\" height=\"40\" fill=\"url(#g)\"/></mask></defs><g "
                  "mask=\"url(#m)\"><circle "
                  "cx=\"30\" cy=\"20\" r=\"15\" fill=\"teal\"/><circle cx=\"35\" cy=\"20\" r=\"5\"/></g>"),
              "faded.svg");
    ASSERT_TRUE(masked);
    EXPECT_THAT(masked->note, testing::HasSubstr("600 dpi"));
    const auto art = draw::artworkOf(masked->drawn());
    ASSERT_TRUE(art);
    EXPECT_TRUE(art->isPicture);
    EXPECT_NEAR(art->dpi, 600, 1);
    EXPECT_NEAR(art->widthMm, 60, 0.1);
}

TEST(Artwork, FilesThatAreNoneAreToldOfByName) {
    const std::pair<const char*, std::string> others[] = {
        {"empty.png", ""},
        {"words.svg", "These are words."},
        {"old.eps", "%!PS-Adobe-3.0 EPSF-3.0\nshowpage"},
        {"moving.gif", "GIF89a\1\0\1\0"},
        {"huge.png", [] {
             std::string bytes = png(1, 1);
             bytes.replace(16, 8, bigEndian(60000) + bigEndian(60000));
             return bytes;
         }()}};
    for (const auto& [name, bytes] : others) {
        const auto refused = taken(bytes, name);
        ASSERT_FALSE(refused) << name;
        EXPECT_THAT(refused.error().text, testing::HasSubstr(name));
        EXPECT_EQ(refused.error().place.file, name);
    }
    EXPECT_EQ(taken("", "x.png").error().code, "artwork-kind");
}

// Sixty files such as come by mail or from the web, and such as mean harm.
TEST(Artwork, HostileFilesArePlacedOrRefusedWithinLimits) {
    std::vector<std::pair<std::string, std::string>> files;
    const auto add = [&](std::string name, std::string bytes) {
        files.emplace_back(std::move(name), std::move(bytes));
    };
    const std::string shape = "<circle cx=\"30\" cy=\"20\" r=\"9\" fill=\"#335577\"/>";
    // Drawings that do what drawings do.
    for (const auto& [name, body] : std::initializer_list<std::pair<const char*, std::string>>{
             {"clip", "<clipPath id=\"c\"><path d=\"M9 9h40v20z\"/></clipPath><g clip-path=\"url(#c)\">" +
                          shape + "</g>"},
             {"clip-of-clip",
              "<clipPath id=\"d\"><circle cx=\"30\" cy=\"20\" r=\"7\"/></clipPath><clipPath id=\"c\" "
              "clip-path=\"url(#d)\"><rect width=\"40\" height=\"20\"/></clipPath><g clip-path=\"url(#c)\">" +
                  shape + "</g>"},
             {"mask", "<mask id=\"m\"><circle cx=\"30\" cy=\"20\" r=\"5\" fill=\"white\"/></mask><g "
                      "mask=\"url(#m)\">" +
                          shape + "</g>"},
             {"linear",
              "<linearGradient id=\"g\"><stop stop-color=\"red\"/><stop offset=\"1\" stop-color=\"blue\" "
              "stop-opacity=\"0\"/></linearGradient><rect width=\"60\" height=\"40\" fill=\"url(#g)\"/>"},
             {"radial", "<radialGradient id=\"g\" fx=\"0.2\" spreadMethod=\"reflect\" r=\"0.2\"><stop "
                        "stop-color=\"red\"/><stop "
                        "offset=\"1\"/></radialGradient><rect width=\"60\" height=\"40\" fill=\"url(#g)\" "
                        "stroke=\"url(#g)\"/>"},
             {"pattern", "<pattern id=\"p\" width=\"4\" height=\"4\" patternUnits=\"userSpaceOnUse\"><circle "
                         "cx=\"2\" cy=\"2\" "
                         "r=\"1\"/></pattern><rect width=\"60\" height=\"40\" fill=\"url(#p)\"/>"},
             {"marker",
              "<marker id=\"a\" orient=\"auto\"><path d=\"M0 0L2 1L0 2z\"/></marker><path d=\"M5 5L50 30\" "
              "stroke=\"black\" marker-end=\"url(#a)\"/>"},
             {"symbol",
              "<symbol id=\"s\" viewBox=\"0 0 10 10\"><path d=\"M0 0L10 10\" stroke=\"red\"/></symbol><use "
              "xlink:href=\"#s\" width=\"20\" height=\"20\"/>"},
             {"blend", "<g style=\"mix-blend-mode:multiply\" opacity=\"0.4\">" + shape + "</g>" + shape},
             {"blur", "<filter id=\"f\"><feGaussianBlur stdDeviation=\"4\"/></filter><g filter=\"url(#f)\">" +
                          shape + "</g>"},
             {"wide-blur", "<filter id=\"f\" width=\"1e6\" height=\"1e6\"><feGaussianBlur "
                           "stdDeviation=\"1e5\"/></filter><g "
                           "filter=\"url(#f)\">" +
                               shape + "</g>"},
             {"turbulence", "<filter id=\"f\"><feTurbulence baseFrequency=\"1e-9\" "
                            "numOctaves=\"2000000000\"/></filter><rect "
                            "width=\"60\" height=\"40\" filter=\"url(#f)\"/>"},
             {"fonts", "<text x=\"3\" y=\"20\" font-family=\"Nobody Has This\" font-weight=\"900\">µ ∂ 塩 "
                       "\U0001F9AA</text>"},
             {"text-path", "<path id=\"t\" d=\"M5 20Q30 0 55 20\"/><text><textPath "
                           "xlink:href=\"#t\">along</textPath></text>"},
             {"switch",
              "<switch><g systemLanguage=\"xx\">" + shape + "</g><rect width=\"9\" height=\"9\"/></switch>"},
             {"nested",
              "<svg x=\"5\" y=\"5\" width=\"20\" height=\"20\" viewBox=\"0 0 60 40\">" + shape + "</svg>"},
             {"style", "<style>circle { fill: rebeccapurple; stroke: hsl(20,50%,50%) } @import "
                       "url(http://nowhere.invalid/x.css);"
                       "</style>" +
                           shape},
             {"animation",
              "<circle r=\"3\"><animate attributeName=\"r\" values=\"1;9\" dur=\"1s\"/></circle>"},
             {"script", "<script>while(true);</script>" + shape + "<a xlink:href=\"javascript:alert(1)\">" +
                            shape + "</a>"},
             {"on-load", "<g onload=\"alert(1)\">" + shape + "</g>"},
             {"foreign",
              "<foreignObject width=\"9\" height=\"9\"><body xmlns=\"http://www.w3.org/1999/xhtml\"><iframe "
              "src=\"file:///etc/passwd\"/></body></foreignObject>" +
                  shape},
             {"linked",
              "<image width=\"9\" height=\"9\" xlink:href=\"http://nowhere.invalid/x.png\"/>" + shape},
             {"linked-file", "<image width=\"9\" height=\"9\" xlink:href=\"file:///etc/hostname\"/>" + shape},
             {"linked-up", "<use xlink:href=\"../../../../etc/passwd#x\"/>" + shape},
             {"data-svg", "<image width=\"30\" height=\"30\" xlink:href=\"data:image/svg+xml;utf8,&lt;svg "
                          "xmlns='http://www.w3.org/2000/svg'&gt;&lt;/svg&gt;\"/>" +
                              shape},
             {"loop", "<g id=\"a\"><use xlink:href=\"#a\"/></g>" + shape},
             {"pattern-loop",
              "<pattern id=\"p\" width=\"9\" height=\"9\" patternUnits=\"userSpaceOnUse\"><rect width=\"9\" "
              "height=\"9\" fill=\"url(#p)\"/></pattern><rect width=\"60\" height=\"40\" fill=\"url(#p)\"/>"},
             {"numbers",
              "<path d=\"M nan inf L 1e999 -1e999 C 1 2 3\" stroke=\"black\" stroke-width=\"1e300\"/>" +
                  shape},
             {"broken-path", "<path d=\"M 1 2 L 3 4 5 Q\" stroke=\"black\"/>"},
             {"transform", "<g transform=\"matrix(0,0,0,0,0,0) scale(1e200)\">" + shape + "</g>"},
             {"nothing", ""}})
        add(std::string(name) + ".svg", svg(body));
    std::string deep, many, doubling = "<defs>";
    for (int k = 0; k < 20000; ++k) deep += "<g>";
    add("deep.svg", svg(deep));
    for (int k = 0; k < 60000; ++k)
        many += fmt::format("<path d=\"M{0} 0L{0} 40\" stroke=\"#000\" stroke-width=\"0.01\"/>", k * 0.001);
    add("many.svg", svg(many));
    for (int k = 0; k < 40; ++k)
        doubling += fmt::format("<g id=\"g{0}\"><use xlink:href=\"#g{1}\"/><use xlink:href=\"#g{1}\"/></g>",
                                k, k + 1);
    add("doubling.svg",
        svg(doubling + "<g id=\"g40\"><rect width=\"1\" height=\"1\"/></g></defs><use xlink:href=\"#g0\"/>"));
    add("laughs.svg",
        "<?xml version=\"1.0\"?><!DOCTYPE svg [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b "
        "\"&a;&a;&a;&a;&a;&a;&a;&a;\">"
        "<!ENTITY c \"&b;&b;&b;&b;&b;&b;&b;&b;\"><!ENTITY d \"&c;&c;&c;&c;&c;&c;&c;&c;\"><!ENTITY e "
        "\"&d;&d;&d;&d;&d;&d;&d;&d;\"><!ENTITY f \"&e;&e;&e;&e;&e;&e;&e;&e;\"><!ENTITY g "
        "\"&f;&f;&f;&f;&f;&f;\">]>"
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"60\" height=\"40\"><text>&g;</text></svg>");
    add("entity.svg",
        "<?xml version=\"1.0\"?><!DOCTYPE svg [<!ENTITY x SYSTEM \"file:///etc/passwd\">]><svg "
        "xmlns=\"http://www.w3.org/2000/svg\" width=\"60\" height=\"40\"><text y=\"20\">&x;</text></svg>");
    for (const auto& [name, size] : std::initializer_list<std::pair<const char*, const char*>>{
             {"no-size", ""},
             {"zero", "width=\"0\" height=\"0\""},
             {"negative", "width=\"-5\" height=\"9\""},
             {"endless", "width=\"1e12mm\" height=\"1e12mm\""},
             {"per-cent", "width=\"100%\" height=\"100%\""},
             {"odd-box", "width=\"60\" height=\"40\" viewBox=\"0 0 0 0\""}})
        add(std::string(name) + ".svg", svg(shape, size));
    add("half.svg", svg(shape).substr(0, 120));
    add("latin.svg", "<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?><svg "
                     "xmlns=\"http://www.w3.org/2000/svg\" width=\"60\" "
                     "height=\"40\"><text y=\"20\">\xe9\xfc</text></svg>");
    // Pages.
    add("sound.pdf", pdf("0 0 1 rg 10 10 50 50 re f BT /F1 12 Tf 20 80 Td (Unheard of) Tj ET"));
    add("half.pdf", pdf("1 0 0 rg 0 0 9 9 re f").substr(0, 200));
    add("script.pdf",
        pdf("0 0 9 9 re f", "0 0 99 99", "[3 0 R]", "/OpenAction << /S /JavaScript /JS (while(1);) >>"));
    add("launch.pdf",
        pdf("0 0 9 9 re f", "0 0 99 99", "[3 0 R]", "/OpenAction << /S /Launch /F (/bin/sh) >>"));
    add("loop.pdf", pdf("0 0 9 9 re f", "0 0 99 99", "[2 0 R]"));
    add("no-page.pdf", pdf("", "0 0 99 99", "[]"));
    add("endless.pdf", pdf("0 0 9 9 re f", "0 0 1e9 1e9"));
    add("thin.pdf", pdf("0 0 9 9 re f", "0 0 0 0"));
    add("nonsense.pdf", "%PDF-1.7\n" + std::string(5000, '<'));
    add("odd-operators.pdf", pdf("q q q Q Q Q Q Q 1 2 3 4 cm /X Do /Y gs 1e99 w S f* W n BI ID EI"));
    // Pictures.
    add("sound.png", png(40, 30, 300));
    add("half.png", png(40, 30).substr(0, 900));
    for (const auto& [w, h] :
         std::initializer_list<std::pair<unsigned, unsigned>>{{0, 5}, {100000, 100000}, {0xffffffff, 1}}) {
        std::string bytes = png(2, 2);
        bytes.replace(16, 8, bigEndian(w) + bigEndian(h));
        add(fmt::format("size-{}.png", w), bytes);
    }
    add("head.jpg",
        std::string("\xff\xd8\xff\xe0\x00\x10JFIF\0\1\1\0\0\1\0\1\0\0\xff\xc0\x00\x11\x08\xff\xff\xff\xff\3",
                    33));
    add("loop.tif", std::string("II*\0\x08\0\0\0\0\0\x08\0\0\0", 14));
    add("huge.tif",
        std::string(
            "II*\0\x08\0\0\0\x02\0\0\1\4\0\1\0\0\0\xff\xff\xff\x7f\1\1\4\0\1\0\0\0\xff\xff\xff\x7f\0\0\0\0",
            38));
    EXPECT_GE(files.size(), 60u);

    std::size_t placed = 0;
    for (const auto& [name, bytes] : files) {
        const auto begun = std::chrono::steady_clock::now();
        const auto result = taken(bytes, name);
        EXPECT_LT(std::chrono::steady_clock::now() - begun, 20s) << name;
        if (!result) {
            EXPECT_THAT(result.error().text, testing::HasSubstr(name));
            EXPECT_GT(result.error().text.size(), name.size() + 15) << result.error().text;
            continue;
        }
        ++placed;
        const auto art = draw::artworkOf(result->drawn());
        ASSERT_TRUE(art) << name << ": what is placed can be drawn";
        EXPECT_GT(art->widthMm, 0) << name;
        EXPECT_THAT(result->drawn(), testing::Not(testing::HasSubstr("root:"))) << name << " has read a file";
    }
    EXPECT_GT(placed, 30u);
    EXPECT_THAT(
        taken(svg("<image width=\"9\" height=\"9\" xlink:href=\"pond.png\"/>" + shape), "l.svg")->note,
        testing::HasSubstr("pond.png"));
}

TEST(Artwork, BelongsToTheProjectItsFileAndTheTextOfAFigure) {
    Project project = newProject("Springs");
    Figure empty{
        .name = "Scheme", .style = project.styles[0].id, .settings = {}, .elements = {}, .extra = {}};
    project = *edits::addFigure(empty).apply(project);
    const FigureId figure = project.figures[0].id;
    const auto scheme = taken(svg("<rect x=\"1\" y=\"1\" width=\"9\" height=\"9\"/>"), "scheme.svg");
    const auto photo = taken(png(30, 20, 200), "photo.png");
    ASSERT_TRUE(scheme && photo);
    for (const Asset& asset : {*scheme, *photo, *scheme})
        project = *figure::placeArtwork(figure, asset).apply(project);
    EXPECT_EQ(project.assets.size(), 2u) << "the same bytes are kept once";
    ASSERT_EQ(project.figures[0].elements.size(), 3u);

    const auto bytes = projectBytes(project, {});
    const auto back = projectFromBytes(*bytes, "springs.jointer");
    ASSERT_TRUE(back);
    EXPECT_TRUE(back->issues.empty());
    EXPECT_TRUE(back->project == project);
    EXPECT_EQ(*projectBytes(back->project, {}), *bytes);

    const std::string text = figureText(project, project.figures[0]);
    const auto read = figureFromText(text);
    ASSERT_TRUE(read) << read.error().text;
    EXPECT_EQ(read->project.assets.size(), 2u);
    EXPECT_EQ(figureText(read->project, *read->project.figures.find(read->figure)), text);
    const Project joined = *edits::joinFigure(*read).apply(newProject("Other"));
    ASSERT_EQ(joined.assets.size(), 2u);
    EXPECT_TRUE(joined.assets.find(AssetId::fromText(joined.figures[0].elements[1].source)));

    // What nothing shows any more is gone, and comes back with undo.
    const auto& elements = project.figures[0].elements;
    Project fewer = *edits::removeElement(figure, elements[0].id).apply(project);
    EXPECT_EQ(fewer.assets.size(), 2u) << "the third one shows it too";
    fewer = *edits::removeElement(figure, elements[2].id).apply(fewer);
    EXPECT_EQ(fewer.assets.size(), 1u);
    EXPECT_EQ(edits::removeFigure(figure).apply(project)->assets.size(), 0u);
}

TEST(Artwork, AFigureByHandNamesItsFiles) {
    const TemporaryFolder folder;
    std::ofstream(folder.path() / "scheme.svg") << svg("<rect width=\"9\" height=\"9\"/>");
    const auto text = [](const std::string& file) {
        return R"({"format": "jointer-figure", "version": 1, "name": "By hand",
            "artwork": {"scheme": {"file": ")" +
               file + R"("}},
            "elements": [{"kind": "artwork", "source": "scheme", "settings": {"turned": "90"}}]})";
    };
    const std::string at = (folder.path() / "figure.json").string();
    const auto read = figureFromText(text("scheme.svg"), at);
    ASSERT_TRUE(read) << read.error().text;
    EXPECT_EQ(read->project.assets.size(), 1u);
    EXPECT_EQ(figureFromText(text("../scheme.svg"), at).error().code, "figure-file");
    EXPECT_FALSE(figureFromText(text("gone.svg"), at));
}

TEST(Artwork, GoesAlongWithARecipe) {
    Project project = test::sampleProject();
    HouseStyle style = figure::shippedStyles()[0];
    style.id = project.newId<StyleId>();
    project.styles = project.styles.with(style);
    const DatasetId data = project.datasets[0].id;
    project.figures = {};
    project = *edits::addFigure(
                   figure::newFigure("Of the recipe", style.id, {figure::newMark("points", data.text())}))
                   .apply(project);
    project =
        *figure::placeArtwork(project.figures[0].id, *taken(svg("<rect width=\"9\" height=\"9\"/>"), "a.svg"))
             .apply(project);
    project = *figure::placeArtwork(project.figures[0].id, *taken(png(9, 9), "b.png")).apply(project);
    const auto draft = makeRecipe(project, data, {.name = "With artwork", .figures = true});
    ASSERT_TRUE(draft) << draft.error().text;
    ASSERT_EQ(draft->recipe.parts->figures.size(), 1u);
    EXPECT_EQ(draft->recipe.parts->assets.size(), 2u);
    const auto back = recipeFromText(recipeText(draft->recipe), "r.json");
    ASSERT_TRUE(back) << back.error().text;
    EXPECT_EQ(back->parts->assets.size(), 2u);
    EXPECT_EQ(recipeText(*back), recipeText(draft->recipe));
    EXPECT_EQ(back->parts->assets[1].drawn(), project.assets[1].drawn());
}

TEST(Artwork, TheChecksumOfAPageKnowsTheDataOfFiguresOnIt) {
    Project project = test::sampleProject();
    project.figures = {};
    const Figure own =
        figure::newFigure("Own", {}, {figure::newMark("points", project.datasets[0].id.text())});
    project = *edits::addFigure(own).apply(project);
    project = *edits::addFigure({.name = "Page", .style = {}, .settings = {}, .elements = {}, .extra = {}})
                   .apply(project);
    const FigureId first = project.figures[0].id, page = project.figures[1].id;
    EXPECT_EQ(dataChecksum(project, project.figures[1]), "");
    project = *figure::placeFigure(page, first).apply(project);
    project = *figure::placeFigure(first, page).apply(project); // each in the other ends too
    EXPECT_EQ(dataChecksum(project, project.figures[1]), dataChecksum(project, project.figures[0]));
    EXPECT_NE(dataChecksum(project, project.figures[1]), "");
}
