// SPDX-License-Identifier: GPL-3.0-or-later
// What commands need to write figures: the toolkit without a display, and how commands ask for them.
#pragma once

#include "cli/commands.h"
#include "session/export.h"

#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>

class QGuiApplication;

namespace CLI {
class App;
}

namespace jointer::cli {

// How a figure is written, as commands ask for it.
class WritingOptions {
public:
    void declare(CLI::App& app);
    ExportOptions options() const;

private:
    ExportOptions asked_;
    std::string fonts_ = "document";
};

// What was written, for people and as JSON members.
std::string writtenText(const Exported& done, const ExportOptions& options);
nlohmann::ordered_json writtenJson(const Exported& done, const ExportOptions& options);

// The exit status that an error of an export means.
Status statusOfWriting(const Issue& error);

// What is said where a project has no figure of a name.
Issue noSuchFigure(const Project& project, const std::string& name, const std::string& file);

// At most one at a time.
class FigureFiles {
public:
    FigureFiles();
    ~FigureFiles();
    FigureWriter& writer() { return *writer_; }

private:
    std::unique_ptr<QGuiApplication> toolkit_;
    std::unique_ptr<FigureWriter> writer_;
};

} // namespace jointer::cli
