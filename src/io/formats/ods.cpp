// SPDX-License-Identifier: GPL-3.0-or-later
// ODS (OpenDocument): content.xml of a zip. Cells and rows may be repeated, the last ones a million times.
#include "base/text.h"
#include "base/zip.h"
#include "io/moment_text.h"
#include "io/spreadsheet.h"

#include <fmt/format.h>
#include <pugixml.hpp>

namespace jointer::io {

namespace {

class Content {
public:
    explicit Content(const Cancellation& stop) : stop_(stop) {}

    Result<std::vector<Sheet>> read(const pugi::xml_node& root) {
        std::vector<Sheet> sheets;
        for (const pugi::xml_node& t :
             root.child("office:body").child("office:spreadsheet").children("table:table")) {
            Sheet sheet;
            sheet.name = t.attribute("table:name").value();
            row_ = 0;
            if (auto good = readRows(t, sheet, 0); !good) return std::unexpected(good.error());
            sheets.push_back(std::move(sheet));
        }
        if (sheets.empty()) return failure("ods", "The file holds no sheets.");
        return sheets;
    }

private:
    // Rows may stand in groups and headers.
    Result<void> readRows(const pugi::xml_node& parent, Sheet& sheet, int depth) {
        for (const pugi::xml_node& node : parent.children()) {
            if (stop_.stop_requested()) return failure("stopped", "Reading was stopped.");
            const std::string_view name = node.name();
            if (name == "table:table-row") {
                if (auto good = readRow(node, sheet); !good) return good;
            } else if (depth < 8 && (name == "table:table-row-group" || name == "table:table-header-rows" ||
                                     name == "table:table-rows"))
                if (auto good = readRows(node, sheet, depth + 1); !good) return good;
        }
        return {};
    }

    Result<void> readRow(const pugi::xml_node& node, Sheet& sheet) {
        const std::size_t times = repeated(node, "table:number-rows-repeated");
        std::vector<std::pair<std::size_t, std::string>> cells;
        std::size_t column = 0;
        for (const pugi::xml_node& c : node.children()) {
            const std::string_view name = c.name();
            if (name != "table:table-cell" && name != "table:covered-table-cell") continue;
            const std::size_t repeats = repeated(c, "table:number-columns-repeated");
            const std::string text = textOf(c, sheet, column);
            if (!text.empty()) {
                if (column + repeats > Sheet::kMostColumns) return tooLarge(sheet);
                for (std::size_t k = 0; k < repeats; ++k) cells.emplace_back(column + k, text);
            }
            column += repeats;
        }
        if (!cells.empty())
            for (std::size_t k = 0; k < times; ++k)
                for (const auto& [at, text] : cells)
                    if (!sheet.set(row_ + k, at, text)) return tooLarge(sheet);
        row_ += times;
        return {};
    }

    static std::unexpected<Issue> tooLarge(const Sheet& sheet) {
        return failure("too-large", fmt::format("The sheet “{}” is larger than a sheet can be.", sheet.name));
    }

    static std::size_t repeated(const pugi::xml_node& node, const char* attribute) {
        const auto n = node.attribute(attribute).as_ullong(1);
        return std::clamp<std::size_t>(n, 1, Sheet::kMostRows * 2);
    }

    static void collect(const pugi::xml_node& node, std::string& out, int depth) {
        for (const pugi::xml_node& part : node.children()) {
            const std::string_view name = part.name();
            if (part.type() == pugi::node_pcdata)
                out += part.value();
            else if (name == "text:s")
                out.append(std::min(part.attribute("text:c").as_uint(1), 1000u), ' ');
            else if (name == "text:tab")
                out += '\t';
            else if (name == "text:line-break")
                out += '\n';
            else if (depth < 20 && name != "office:annotation")
                collect(part, out, depth + 1);
        }
    }

    std::string textOf(const pugi::xml_node& c, Sheet& sheet, std::size_t column) {
        const std::string_view type = c.attribute("office:value-type").value();
        if (type == "float" || type == "percentage" || type == "currency") {
            std::string shown = paragraphs(c);
            if (shown.starts_with('#') || shown.starts_with("Err:")) return "#VALUE!";
            const std::string_view value = c.attribute("office:value").value();
            return value.empty() ? shown : std::string(value);
        }
        if (type == "date") return c.attribute("office:date-value").value();
        if (type == "boolean") return c.attribute("office:boolean-value").as_bool() ? "TRUE" : "FALSE";
        if (type == "time") return timeText(c.attribute("office:time-value").value());
        std::string text = paragraphs(c);
        if (text.empty()) text = c.attribute("office:string-value").value(); // shown by other means
        if (text.empty() && c.attribute("table:formula") && type.empty() && !saidUncached_) {
            saidUncached_ = true;
            sheet.issues.push_back(
                {"no-cached-value",
                 "A formula was saved without its value: such cells are missing. Open and save the file in a "
                 "spreadsheet program to fill them.",
                 {.line = static_cast<long>(row_) + 1, .column = columnLetters(column)}});
        }
        return text;
    }

    // Less than a day is taken as a time of day; the column as a whole decides.
    static std::string timeText(std::string_view duration) {
        const auto m = momentOf(duration, DateOrder::YearMonthDay);
        return m && m->seconds >= 0 && m->seconds < 86400 ? isoTimeOfDay(m->seconds) : std::string(duration);
    }

    // A line for each paragraph, also of headings and lists.
    static void addParagraphs(const pugi::xml_node& node, std::vector<std::string>& lines, int depth) {
        for (const pugi::xml_node& p : node.children()) {
            const std::string_view name = p.name();
            if (name == "text:p" || name == "text:h")
                collect(p, lines.emplace_back(), 0);
            else if (depth < 8 && (name == "text:list" || name == "text:list-item" || name == "text:section"))
                addParagraphs(p, lines, depth + 1);
        }
    }

    static std::string paragraphs(const pugi::xml_node& c) {
        std::vector<std::string> lines;
        addParagraphs(c, lines, 0);
        return joined(lines, "\n");
    }

    const Cancellation& stop_;
    std::size_t row_ = 0;
    bool saidUncached_ = false;
};

Result<ReadResult> readOds(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    auto zip = ZipReader::openBytes(std::string(bytes), "");
    auto content = zip ? (*zip)->text("content.xml") : std::nullopt;
    pugi::xml_document document;
    if (!content || !document.load_buffer_inplace(content->data(), content->size(),
                                                  pugi::parse_default | pugi::parse_ws_pcdata))
        return failure("ods", "The spreadsheet is damaged: its content cannot be read.");
    auto sheets = Content(stop).read(document.document_element());
    if (!sheets) return std::unexpected(sheets.error());
    return tablesOfSheets("ods", *sheets, told, stop);
}

} // namespace

ReaderKind odsReader() {
    return {.info = {.key = "ods",
                     .name = "Spreadsheet (ODS)",
                     .purpose = "Sheets of an OpenDocument spreadsheet",
                     .settings = sheetSettings()},
            .endings = {"ods"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    return head.starts_with("PK\x03\x04") &&
                                   head.substr(0, 200).find(
                                       "application/vnd.oasis.opendocument.spreadsheet") != head.npos
                               ? 95
                               : 0;
                },
            .read = readOds};
}

} // namespace jointer::io
