// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/other_curves.h"

#include "cli/commands.h"
#include "io/reader.h"
#include "session/command_project.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

namespace jointer::cli {

namespace {

// The columns are the last two parts, so that a path may hold colons.
struct OtherFile {
    std::string name, file, x, y;
};
Result<OtherFile> otherFile(const std::string& text) {
    const std::size_t equals = text.find('='), last = text.rfind(':');
    const std::size_t first = last == text.npos || last == 0 ? text.npos : text.rfind(':', last - 1);
    if (equals == text.npos || first == text.npos || first < equals)
        return failure("usage", fmt::format("--with takes NAME=FILE:X:Y, not “{}”.", text));
    return OtherFile{text.substr(0, equals), text.substr(equals + 1, first - equals - 1),
                     text.substr(first + 1, last - first - 1), text.substr(last + 1)};
}

} // namespace

void OtherCurves::declare(CLI::App& app) {
    app.add_option("--with", texts_, "NAME=FILE:X:Y, another curve")
        ->expected(1)
        ->take_all()
        ->allow_extra_args(false);
}

Result<Project> OtherCurves::addedTo(Project project, int& status,
                                     const std::function<void(const Issue&)>& warn) const {
    for (const std::string& text : texts_) {
        const auto other = otherFile(text);
        if (!other) return std::unexpected(other.error());
        auto reading = io::readFileAs(other->file, {});
        if (!reading) return status = CannotRead, std::unexpected(reading.error());
        for (const Issue& issue : reading->issues) warn(issue);
        if (reading->tables.empty())
            return status = CannotRead, failure("no-table", "There is no table in " + other->file + ".");
        Table& table = reading->tables[0].table;
        table.origin.file = other->file;
        auto made = withDataset(project, table, {{other->x}, {other->y}}, other->name);
        if (!made) return made;
        project = std::move(*made);
    }
    return project;
}

Result<std::vector<std::string>> OtherCurves::names() const {
    std::vector<std::string> out;
    for (const std::string& text : texts_) {
        auto other = otherFile(text);
        if (!other) return std::unexpected(other.error());
        out.push_back(std::move(other->name));
    }
    return out;
}

} // namespace jointer::cli
