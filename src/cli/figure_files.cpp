// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/figure_files.h"

#include "paint/painter.h"

#include <QGuiApplication>
#include <iostream>

namespace jointer::cli {

std::string fileSafe(const std::string& name) {
    std::string out;
    for (char c : name)
        out += std::string_view("/\\:*?\"<>| ").find(c) == std::string_view::npos &&
                       static_cast<unsigned char>(c) >= 32
                   ? c
                   : '_';
    return out;
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
