// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/figure_files.h"

#include "base/text.h"
#include "paint/painter.h"

#include <CLI/CLI.hpp>
#include <QGuiApplication>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

void WritingOptions::declare(CLI::App& app) {
    app.add_option("--dpi", asked_.dpi, "Resolution of bitmaps")->check(CLI::Range(10.0, 4800.0));
    app.add_flag("--transparent", asked_.transparent, "No white ground");
    app.add_flag("--trim", asked_.trim, "Cut the page to what is drawn");
    app.add_flag("--grey", asked_.grey, "In grey instead of colour");
    app.add_flag("--outlines", asked_.outlines, "Letters as outlines: looks the same without the fonts");
    app.add_option("--fonts", fonts_, "Of TikZ: those of the document, or those that ship")
        ->check(CLI::IsMember({"document", "shipped"}));
    app.add_option("--quality", asked_.quality, "Of JPEG, 100 is best")->check(CLI::Range(1, 100));
    app.add_option("--title", asked_.title, "Title within the file; the figure's name without it");
    app.add_option("--author", asked_.author, "Author within the file");
}

ExportOptions WritingOptions::options() const {
    ExportOptions all = asked_;
    all.shippedFonts = fonts_ == "shipped";
    return all;
}

namespace {

std::pair<long, long> pixelsOf(const Exported& done, double dpi) {
    return {std::lround(done.widthMm / 25.4 * dpi), std::lround(done.heightMm / 25.4 * dpi)};
}

} // namespace

std::string writtenText(const Exported& done, const ExportOptions& options) {
    std::string out =
        fmt::format("{}: {:g} × {:g} mm, {} bytes", done.path, done.widthMm, done.heightMm, done.bytes);
    if (isBitmap(formatOf(done.path))) {
        const auto [columns, rows] = pixelsOf(done, options.dpi);
        out += fmt::format(", {} × {} pixels at {:g} dpi", columns, rows, options.dpi);
    }
    out += "\n";
    for (const std::string& path : done.beside) out += "  with " + path + "\n";
    return out;
}

nlohmann::ordered_json writtenJson(const Exported& done, const ExportOptions& options) {
    nlohmann::ordered_json j = {
        {"file", done.path}, {"width_mm", done.widthMm}, {"height_mm", done.heightMm}, {"bytes", done.bytes}};
    if (isBitmap(formatOf(done.path))) {
        const auto [columns, rows] = pixelsOf(done, options.dpi);
        j["pixels"] = {columns, rows};
        j["dpi"] = options.dpi;
    }
    if (!done.beside.empty()) j["beside"] = done.beside;
    return j;
}

Status statusOfWriting(const Issue& error) {
    return error.code == "format" || error.code == "picture-size" ? WrongUsage : CannotWrite;
}

Issue noSuchFigure(const Project& project, const std::string& name, const std::string& file) {
    std::vector<std::string> quoted;
    for (const auto& figure : project.figures) quoted.push_back("“" + figure->name + "”");
    return {"no-figure",
            fmt::format("There is no figure called “{}”; the project has {}.", name,
                        quoted.empty() ? "none" : joined(quoted, ", ")),
            {.file = file}};
}

FigureFiles::FigureFiles() {
    static int argc = 1;
    static char program[] = "jointer-cli";
    static char* argv[] = {program, nullptr};
    qputenv("QT_QPA_PLATFORM", "offscreen");
    // What the toolkit remarks about its surroundings is none of the user's business.
    qInstallMessageHandler([](QtMsgType type, const QMessageLogContext&, const QString& said) {
        if (type == QtFatalMsg) std::cerr << said.toStdString() << '\n';
    });
    toolkit_ = std::make_unique<QGuiApplication>(argc, argv);
    writer_ = std::make_unique<paint::QtFigureWriter>();
}

FigureFiles::~FigureFiles() = default;

} // namespace jointer::cli
