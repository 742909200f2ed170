// SPDX-License-Identifier: GPL-3.0-or-later
// XLSX (ECMA-376): a zip of XML parts that are found through their relations.
#include "base/text.h"
#include "base/zip.h"
#include "io/cell_text.h"
#include "io/spreadsheet.h"

#include <charconv>
#include <cstring>
#include <fmt/format.h>
#include <map>
#include <pugixml.hpp>

namespace jointer::io {

namespace {

constexpr std::size_t kLargestPart = 3ULL << 30;

// The local name of an element, whatever prefix the file uses.
std::string_view localName(const pugi::xml_node& node) {
    const std::string_view name = node.name();
    const std::size_t colon = name.find(':');
    return colon == name.npos ? name : name.substr(colon + 1);
}

pugi::xml_node child(const pugi::xml_node& node, std::string_view name) {
    for (const pugi::xml_node& c : node.children())
        if (localName(c) == name) return c;
    return {};
}

const char* attribute(const pugi::xml_node& node, std::string_view name) {
    for (const pugi::xml_attribute& a : node.attributes()) {
        const std::string_view full = a.name();
        const std::size_t colon = full.find(':');
        if ((colon == full.npos ? full : full.substr(colon + 1)) == name) return a.value();
    }
    return "";
}

// A part of the package: its bytes, and the tree that refers to them.
struct Part {
    std::string bytes;
    pugi::xml_document document;
    pugi::xml_node root() const { return document.document_element(); }
};

class Workbook {
public:
    Workbook(const ZipReader& zip, const Cancellation& stop) : zip_(zip), stop_(stop) {}

    Result<std::vector<Sheet>> read() {
        const std::string book = target("_rels/.rels", "", "officeDocument", "xl/workbook.xml");
        Part document;
        if (!load(book, document))
            return failure("xlsx", "The workbook inside the file is missing or damaged.");
        const std::string folder = book.substr(0, book.rfind('/') + 1);
        const std::string relations = folder + "_rels/" + book.substr(folder.size()) + ".rels";
        readRelations(relations, folder);
        const pugi::xml_node workbook = document.root();
        const std::string_view from1904 = attribute(child(workbook, "workbookPr"), "date1904");
        from1904_ = from1904 == "1" || from1904 == "true";
        readStrings(target(relations, folder, "sharedStrings", folder + "sharedStrings.xml"));
        readStyles(target(relations, folder, "styles", folder + "styles.xml"));
        std::vector<Sheet> sheets;
        for (const pugi::xml_node& s : child(workbook, "sheets").children()) {
            if (stop_.stop_requested()) return failure("stopped", "Reading was stopped.");
            const auto part = byId_.find(attribute(s, "id"));
            if (part == byId_.end()) continue;
            Sheet sheet;
            sheet.name = s.attribute("name").value();
            if (auto good = readSheet(part->second, sheet); !good) return std::unexpected(good.error());
            sheets.push_back(std::move(sheet));
        }
        if (sheets.empty()) return failure("xlsx", "The workbook holds no sheets of cells.");
        return sheets;
    }

private:
    bool load(const std::string& part, Part& into) {
        auto bytes = zip_.text(part);
        if (!bytes || bytes->size() > kLargestPart) return false;
        into.bytes = std::move(*bytes);
        return static_cast<bool>(into.document.load_buffer_inplace(
            into.bytes.data(), into.bytes.size(), pugi::parse_default | pugi::parse_ws_pcdata));
    }

    static std::string resolved(const std::string& folder, std::string_view to) {
        if (to.starts_with('/')) return std::string(to.substr(1));
        std::string path = folder;
        while (to.starts_with("../")) {
            to.remove_prefix(3);
            path = path.substr(0, path.size() < 2 ? 0 : path.rfind('/', path.size() - 2) + 1);
        }
        return path + std::string(to);
    }

    void readRelations(const std::string& part, const std::string& folder) {
        Part document;
        if (!load(part, document)) return;
        for (const pugi::xml_node& r : document.root().children())
            byId_[r.attribute("Id").value()] = resolved(folder, r.attribute("Target").value());
    }

    // The part that a relation of such a type leads to.
    std::string target(const std::string& part, const std::string& folder, std::string_view type,
                       std::string fallback) {
        Part document;
        if (load(part, document))
            for (const pugi::xml_node& r : document.root().children())
                if (std::string_view(r.attribute("Type").value()).ends_with(type))
                    return resolved(folder, r.attribute("Target").value());
        return fallback;
    }

    // The text of a string with or without runs; what is said of its pronunciation is left out.
    static std::string textOf(const pugi::xml_node& item) {
        std::string out;
        for (const pugi::xml_node& part : item.children()) {
            const auto name = localName(part);
            if (name == "t") out += part.child_value();
            if (name == "r") out += child(part, "t").child_value();
        }
        return unescaped(std::move(out));
    }

    // "_x000D_" stands for a character that XML cannot hold.
    static std::string unescaped(std::string text) {
        for (std::size_t at = 0; (at = text.find("_x", at)) != text.npos; ++at) {
            unsigned code = 0;
            if (at + 7 > text.size() || text[at + 6] != '_') continue;
            const auto [end, error] = std::from_chars(text.data() + at + 2, text.data() + at + 6, code, 16);
            if (error != std::errc{} || end != text.data() + at + 6) continue;
            std::string letter;
            appendUtf8(letter, static_cast<char32_t>(code));
            text.replace(at, 7, letter);
        }
        return text;
    }

    void readStrings(const std::string& part) {
        Part document;
        if (!load(part, document)) return;
        for (const pugi::xml_node& item : document.root().children())
            if (localName(item) == "si") strings_.push_back(textOf(item));
    }

    void readStyles(const std::string& part) {
        Part document;
        if (!load(part, document)) return;
        const pugi::xml_node root = document.root();
        std::map<int, SerialKind> custom;
        for (const pugi::xml_node& f : child(root, "numFmts").children())
            custom[f.attribute("numFmtId").as_int()] = kindOfFormat(f.attribute("formatCode").value());
        for (const pugi::xml_node& x : child(root, "cellXfs").children()) {
            const int id = x.attribute("numFmtId").as_int();
            SerialKind kind = SerialKind::Number;
            if (const auto at = custom.find(id); at != custom.end())
                kind = at->second;
            else if (id >= 14 && id <= 17)
                kind = SerialKind::Date;
            else if ((id >= 18 && id <= 21) || id == 45 || id == 47)
                kind = SerialKind::Time;
            else if (id == 22)
                kind = SerialKind::DateTime;
            else if (id == 46)
                kind = SerialKind::Duration;
            styles_.push_back(kind);
        }
    }

    Result<void> readSheet(const std::string& part, Sheet& sheet) {
        Part document;
        if (!load(part, document))
            return failure("xlsx", fmt::format("The sheet “{}” is damaged.", sheet.name));
        std::size_t row = 0, uncached = 0;
        for (const pugi::xml_node& r : child(document.root(), "sheetData").children()) {
            if (stop_.stop_requested()) return failure("stopped", "Reading was stopped.");
            if (r.type() != pugi::node_element) continue;
            const unsigned given = r.attribute("r").as_uint();
            if (given > 0) row = given - 1;
            std::size_t column = 0;
            for (const pugi::xml_node& c : r.children()) {
                if (c.type() != pugi::node_element) continue;
                if (const char* place = c.attribute("r").value(); *place) column = columnOf(place, column);
                std::string text = cellText(c, sheet, row, column, uncached);
                if (!text.empty() && !sheet.set(row, column, std::move(text)))
                    return failure("too-large",
                                   fmt::format("The sheet “{}” is larger than a sheet can be.", sheet.name));
                ++column;
            }
            ++row;
        }
        return {};
    }

    static std::size_t columnOf(const char* place, std::size_t fallback) {
        std::size_t letters = 0;
        const std::size_t column = columnFromLetters(place, letters);
        return letters == 0 ? fallback : column;
    }

    std::string cellText(const pugi::xml_node& c, Sheet& sheet, std::size_t row, std::size_t column,
                         std::size_t& uncached) {
        const std::string_view type = c.attribute("t").value();
        if (type == "inlineStr") return textOf(child(c, "is"));
        const std::string_view value = child(c, "v").child_value();
        if (value.empty()) {
            if (type != "str" && child(c, "f") && uncached++ == 0)
                sheet.issues.push_back(
                    {"no-cached-value",
                     "A formula was saved without its value: such cells are missing. Open and save the file "
                     "in a spreadsheet program to fill them.",
                     {.line = static_cast<long>(row) + 1, .column = columnLetters(column)}});
            return {};
        }
        if (type == "s") {
            const auto index = parseNumber(value);
            return index && *index >= 0 && *index < static_cast<double>(strings_.size())
                       ? strings_[static_cast<std::size_t>(*index)]
                       : std::string();
        }
        if (type == "b") return value == "1" || value == "true" ? "TRUE" : "FALSE";
        if (type == "str") return unescaped(std::string(value));
        if (type == "e" || type == "d") return std::string(value);
        const unsigned style = c.attribute("s").as_uint();
        const SerialKind kind = style < styles_.size() ? styles_[style] : SerialKind::Number;
        if (kind == SerialKind::Number) return std::string(value);
        const auto serial = parseNumber(value);
        return serial ? serialText(*serial, kind, from1904_) : std::string(value);
    }

    const ZipReader& zip_;
    const Cancellation& stop_;
    std::map<std::string, std::string> byId_;
    std::vector<std::string> strings_;
    std::vector<SerialKind> styles_;
    bool from1904_ = false;
};

Result<ReadResult> readXlsx(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    auto zip = ZipReader::openBytes(std::string(bytes), "");
    if (!zip) return failure("xlsx", "The spreadsheet is damaged: its archive cannot be opened.");
    auto sheets = Workbook(**zip, stop).read();
    if (!sheets) return std::unexpected(sheets.error());
    return tablesOfSheets("xlsx", *sheets, told, stop);
}

} // namespace

ReaderKind xlsxReader() {
    return {.info = {.key = "xlsx",
                     .name = "Spreadsheet (XLSX)",
                     .purpose = "Sheets of a workbook in the Office Open XML format",
                     .settings = sheetSettings()},
            .endings = {"xlsx", "xlsm"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    const bool zip = head.starts_with("PK\x03\x04");
                    const bool parts =
                        head.find("xl/") != head.npos || head.find("[Content_Types].xml") != head.npos;
                    return zip && parts ? 90 : 0;
                },
            .read = readXlsx};
}

} // namespace jointer::io
