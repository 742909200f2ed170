// SPDX-License-Identifier: GPL-3.0-or-later
// Delimited text below a header in YAML, which names the columns with their units and types: ECSV (in
// comments, after the line "%ECSV") and CSVY (between lines of three dashes).
#include "base/text.h"
#include "io/encoding.h"
#include "io/line_cursor.h"
#include "io/text_tables.h"
#include "io/yaml_header.h"

#include <algorithm>

namespace jointer::io {

namespace {

constexpr std::size_t kMostHeaderLines = 50000;

// The lines of the header, without marks of comments; and where the text goes on.
struct Cut {
    std::string yaml;
    std::size_t lines = 0, end = 0;
    bool closed = false; // by a second fence
};

std::string_view uncommented(std::string_view line) {
    if (line.starts_with("# ")) return line.substr(2);
    return line.starts_with('#') ? line.substr(1) : line;
}

bool isFence(std::string_view line) {
    return trimmed(uncommented(line)) == "---";
}

// Gives each line to `take` until it wants no more.
template <class Take> Cut cutWhile(std::string_view text, Take take) {
    Cut cut;
    LineCursor lines(text.data(), text.data() + text.size(), '\n', {});
    const char *from = nullptr, *to = nullptr;
    while (cut.lines < kMostHeaderLines && lines.next(from, to) && take(std::string_view(from, to), cut)) {
        cut.yaml += '\n';
        cut.end = static_cast<std::size_t>(lines.place() - text.data());
        ++cut.lines;
    }
    return cut;
}

// ECSV: all comment lines at the top.
Cut cutComments(std::string_view text) {
    return cutWhile(text, [](std::string_view line, Cut& cut) {
        if (!line.starts_with('#')) return false;
        if (cut.lines > 0 && !isFence(line)) cut.yaml += uncommented(line);
        return true;
    });
}

// CSVY: from the first fence to the second.
Cut cutFenced(std::string_view text) {
    return cutWhile(text, [](std::string_view line, Cut& cut) {
        if (cut.closed) return false;
        cut.closed = cut.lines > 0 && (isFence(line) || trimmed(uncommented(line)) == "...");
        if (cut.lines > 0 && !cut.closed) cut.yaml += uncommented(line);
        return true;
    });
}

// What the header settles, where it is not told otherwise.
Settings howToRead(const Settings& told, const YamlHeader& header, std::string_view whenUnsaid) {
    Settings how = told;
    const std::string separator = header.delimiter.empty() ? std::string(whenUnsaid) : header.delimiter;
    if (!how.has("separator") && !separator.empty()) how.set("separator", Value(separator));
    Texts texts;
    for (const DeclaredColumn& c : header.columns)
        if (c.text) texts.push_back(c.name);
    if (!texts.empty()) how.set("as-text", Value(texts));
    return how;
}

Result<ReadResult> readHeaded(std::string_view bytes, const Settings& told, const Cancellation& stop,
                              const char* format) {
    DecodedText decoded;
    if (auto good = decode(bytes, told.text("encoding"), decoded); !good)
        return std::unexpected(good.error());
    const bool ecsv = std::string_view(format) == "ecsv";
    const Cut cut = ecsv ? cutComments(decoded.text) : cutFenced(decoded.text);
    ReadResult out{.format = format, .encoding = decoded.encoding};
    auto header = readYamlHeader(cut.yaml);
    if (!header) {
        Issue issue = header.error();
        issue.text += " The columns are read without it.";
        out.issues.push_back(issue);
        header = YamlHeader{};
    }
    out.metadata = header->metadata;
    const std::string body =
        std::string(cut.lines, '\n') + std::string(decoded.text.substr(cut.end)); // lines keep their numbers
    if (body.find_first_not_of(" \t\r\n") == body.npos)
        return failure("empty-file", "There is nothing below the header.");
    if (auto good = readTables(body, howToRead(told, *header, ecsv ? "space" : ""), stop, out); !good)
        return std::unexpected(good.error());
    for (std::size_t i = 0; i < std::min(cut.lines, out.lineKinds.size()); ++i)
        out.lineKinds[i] = LineKind::Comment;
    if (!out.tables.empty()) applyDeclared(out.tables.front().table, header->columns);
    return out;
}

} // namespace

ReaderKind ecsvReader() {
    return {.info = {.key = "ecsv",
                     .name = "Text with a typed header (ECSV)",
                     .purpose = "Delimited text with names, units and types in YAML comments"},
            .endings = {"ecsv"},
            .recognise = [](std::string_view head,
                            std::string_view) { return head.starts_with("# %ECSV ") ? 95 : 0; },
            .read = [](std::string_view bytes, const Settings& told,
                       const Cancellation& stop) { return readHeaded(bytes, told, stop, "ecsv"); }};
}

ReaderKind csvyReader() {
    return {.info = {.key = "csvy",
                     .name = "Text below a YAML header (CSVY)",
                     .purpose = "Delimited text below a header that names columns, units and facts"},
            .endings = {"csvy"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    if (!isFence(head.substr(0, head.find_first_of("\r\n")))) return 0;
                    const Cut cut = cutFenced(head);
                    const bool lists = cut.yaml.contains("fields:") || cut.yaml.contains("columns:") ||
                                       cut.yaml.contains("name:") || cut.yaml.contains("title:");
                    return cut.closed && lists ? 90 : 0;
                },
            .read = [](std::string_view bytes, const Settings& told,
                       const Cancellation& stop) { return readHeaded(bytes, told, stop, "csvy"); }};
}

} // namespace jointer::io
