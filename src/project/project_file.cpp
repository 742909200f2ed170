// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/project_file.h"

#include "base/text.h"
#include "base/zip.h"
#include "project/project_json.h"

#include <bit>
#include <fmt/format.h>
#include <functional>
#include <openssl/sha.h>
#include <set>

namespace jointer {

namespace {

static_assert(std::endian::native == std::endian::little, "column files are little-endian");

constexpr std::string_view kMimetype = "application/vnd.jointer.project+zip";

std::string sha256(std::string_view bytes) {
    unsigned char sum[SHA256_DIGEST_LENGTH];
    SHA256(reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size(), sum);
    return fmt::format("{:02x}", fmt::join(sum, ""));
}

std::string_view asBytes(const auto& vector) {
    return {reinterpret_cast<const char*>(vector.data()), vector.size() * sizeof(vector[0])};
}

// Texts of a column: each on a line of its own, backslash and line breaks escaped.
std::string textLines(const std::vector<std::string>& texts) {
    std::string out;
    for (const std::string& t : texts) {
        for (char c : t) {
            if (c == '\n')
                out += "\\n";
            else if (c == '\r')
                out += "\\r";
            else if (c == '\\')
                out += "\\\\";
            else
                out += c;
        }
        out += '\n';
    }
    return out;
}

std::vector<std::string> textsFromLines(std::string_view bytes) {
    std::vector<std::string> texts;
    std::string now;
    for (std::size_t i = 0; i < bytes.size(); ++i) {
        if (bytes[i] == '\n') {
            texts.push_back(std::move(now));
            now.clear();
        } else if (bytes[i] == '\\' && i + 1 < bytes.size()) {
            const char c = bytes[++i];
            now += c == 'n' ? '\n' : c == 'r' ? '\r' : c;
        } else
            now += bytes[i];
    }
    return texts;
}

std::string columnPath(const Table& t, const Column& c, const char* ending) {
    return "tables/" + t.id.text() + "/" + c.id.text() + ending;
}

// The entries that hold a column's cells.
std::vector<const char*> columnEndings(const Column& c) {
    std::vector<const char*> out;
    if (!c.formula.empty()) return out; // computed again on opening
    if (!c.cells->numbers.empty()) out.push_back(".f64");
    if (!c.cells->texts.empty()) out.push_back(".txt");
    if (!c.cells->states.empty()) out.push_back(".states");
    return out;
}

void addColumn(ZipWriter& zip, const Table& t, const Column& c) {
    for (const char* entry : columnEndings(c)) {
        const std::string name = columnPath(t, c, entry);
        const std::string_view ending = entry;
        if (ending == ".f64")
            zip.add(name, asBytes(c.cells->numbers), false);
        else if (ending == ".txt")
            zip.addOwned(name, textLines(c.cells->texts), true);
        else
            zip.add(name, asBytes(c.cells->states), true);
    }
}

// Entries of an asset: the file as it came, and what is drawn of it.
std::string originalPath(const Asset& a) {
    return "artwork/" + a.id.text() + "/original";
}
std::string drawingPath(const Asset& a) {
    return "artwork/" + a.id.text() + "/drawing";
}

// Pictures are packed already.
bool isPacked(std::string_view bytes) {
    return bytes.starts_with("\x89PNG") || bytes.starts_with("\xff\xd8");
}

std::shared_ptr<const Cells> readCells(const ZipReader& zip, const Table& t, const Column& c,
                                       std::map<std::uint32_t, std::string> originals,
                                       std::set<std::string>& used, std::vector<Issue>& issues) {
    Cells cells;
    cells.originals = std::move(originals);
    auto path = [&](const char* ending) { return *used.insert(columnPath(t, c, ending)).first; };
    auto numbers = zip.entry<std::vector<double>>(path(".f64"));
    const auto texts = zip.text(path(".txt")), states = zip.text(path(".states"));
    const bool haveNumbers = numbers.has_value();
    if (numbers) cells.numbers = std::move(*numbers);
    if (texts) cells.texts = textsFromLines(*texts);
    if (states) {
        cells.states.resize(states->size());
        for (std::size_t i = 0; i < states->size(); ++i)
            cells.states[i] =
                static_cast<CellState>(std::min<unsigned char>(static_cast<unsigned char>((*states)[i]), 4));
        cells.states.resize(std::min(cells.states.size(), cells.size()));
    }
    // An entry that is there but cannot be read; entries that are gone are found by the manifest.
    const bool bad = (!haveNumbers && zip.has(columnPath(t, c, ".f64"))) ||
                     (!texts && zip.has(columnPath(t, c, ".txt"))) ||
                     (!states && zip.has(columnPath(t, c, ".states")));
    if (bad)
        issues.push_back(
            {"damaged",
             fmt::format("The column “{}” of the table “{}” is damaged; what could not be read is empty now.",
                         c.name, t.name),
             {}});
    return std::make_shared<Cells>(std::move(cells));
}

// A text that is not UTF-8 must not prevent saving.
std::string written(const Json& json) {
    return json.dump(1, ' ', false, Json::error_handler_t::replace);
}

// What the manifest lists and the file does not hold, or not as it was written.
void reportMissing(const Json& manifest, const ZipReader& zip,
                   const std::function<void(const std::string&)>& damaged) {
    if (!manifest.is_object()) return;
    if (manifest.contains("columns"))
        for (const Json& name : manifest["columns"])
            if (name.is_string() && !zip.has(name.get<std::string>()))
                damaged("The entry " + name.get<std::string>() + " is missing.");
    if (manifest.contains("sha256"))
        for (const auto& [name, sum] : manifest["sha256"].items()) {
            const auto entry = zip.text(name);
            if (!entry || !sum.is_string() || sha256(*entry) != sum.get<std::string>())
                damaged("The entry " + name + " is missing or damaged.");
        }
}

} // namespace

Result<std::string> projectBytes(const Project& project, const Beside& beside) {
    ZipWriter zip;
    Json sums = Json::object();
    std::vector<std::pair<std::string, std::string>> texts;
    texts.emplace_back("project.json", written(toJson(project)));
    for (const auto& t : project.tables)
        texts.emplace_back("tables/" + t->id.text() + "/table.json", written(toJson(*t)));
    for (const auto& [key, text] : beside.results) texts.emplace_back("results/" + key + ".json", text);
    if (!beside.view.empty()) texts.emplace_back("view.json", beside.view);
    for (const auto& [name, text] : project.unknownEntries) texts.emplace_back(name, text);
    std::ranges::sort(texts);
    std::vector<std::pair<std::string, const std::string*>> artwork;
    for (const auto& a : project.assets) {
        artwork.emplace_back(originalPath(*a), a->bytes.get());
        if (a->drawing) artwork.emplace_back(drawingPath(*a), a->drawing.get());
    }

    zip.add("mimetype", kMimetype, false);
    for (const auto& [name, text] : texts) sums[name] = sha256(text);
    for (const auto& [name, bytes] : artwork) sums[name] = sha256(*bytes);
    Json order = Json::array(), columns = Json::array();
    for (const auto& t : project.tables) {
        order.push_back(t->id.text());
        for (const Column& c : t->columns)
            for (const char* ending : columnEndings(c)) columns.push_back(columnPath(*t, c, ending));
    }
    zip.addOwned("manifest.json",
                 Json{{"format", kFileFormat},
                      {"program", "Jointer 0.1.0"},
                      {"tables", order},
                      {"columns", columns},
                      {"sha256", sums}}
                     .dump(1),
                 true);
    for (const auto& [name, text] : texts) zip.add(name, text, true);
    for (const auto& [name, bytes] : artwork) zip.add(name, *bytes, !isPacked(*bytes));
    for (const auto& t : project.tables)
        for (const Column& c : t->columns) addColumn(zip, *t, c);
    return zip.bytes();
}

Result<void> saveProject(const Project& project, const Beside& beside, const std::string& path,
                         FileOperations& files) {
    const auto bytes = projectBytes(project, beside);
    if (!bytes) return std::unexpected(bytes.error());
    return replaceFile(path, *bytes, files);
}

namespace {

// Reads what can be read of a project, and says what cannot.
class ProjectReader {
public:
    ProjectReader(const ZipReader& zip, const std::string& path)
        : zip_(zip), path_(path),
          manifest_(Json::parse(zip.text("manifest.json").value_or(""), nullptr, false)) {}

    OpenedProject read() {
        readFormat();
        const Json json = Json::parse(zip_.text("project.json").value_or(""), nullptr, false);
        if (!json.is_object())
            damaged("The list of datasets, fits and figures is damaged; only the tables could be read.");
        out_.project = projectFromJson(json);
        reportMissing(manifest_, zip_, [this](const std::string& what) { damaged(what); });
        for (const std::string& id : tableIds()) readTable(id);
        readArtwork();
        for (const std::string& name : zip_.names())
            if (!used_.contains(name)) takeEntry(name);
        // The numbers of a damaged file may be behind.
        out_.project.nextId = std::max(out_.project.nextId, highestId(out_.project) + 1);
        return std::move(out_);
    }

private:
    void damaged(const std::string& what) { out_.issues.push_back({"damaged", what, {.file = path_}}); }

    void readFormat() {
        if (!manifest_.is_object())
            damaged("The manifest is damaged; the parts are opened as far as they can be read.");
        if (manifest_.is_object() && manifest_.contains("format") && manifest_["format"].is_number())
            out_.format = manifest_["format"].get<int>();
        out_.readOnly = out_.format > kFileFormat;
        if (out_.readOnly)
            out_.issues.push_back({"newer-version",
                                   "This project was written by a newer version of Jointer. It is open for "
                                   "reading; save it under another name to keep changes.",
                                   {.file = path_}});
    }

    // In the order of the manifest, then any that it does not name.
    std::vector<std::string> tableIds() const {
        std::vector<std::string> ids;
        if (manifest_.is_object() && manifest_.contains("tables") && manifest_["tables"].is_array())
            for (const Json& id : manifest_["tables"])
                if (id.is_string()) ids.push_back(id.get<std::string>());
        for (const std::string& name : zip_.names()) {
            if (!name.starts_with("tables/") || !name.ends_with("/table.json")) continue;
            const std::string id = name.substr(7, name.size() - 18);
            if (std::ranges::find(ids, id) == ids.end()) ids.push_back(id);
        }
        return ids;
    }

    void readTable(const std::string& id) {
        const std::string name = "tables/" + id + "/table.json";
        used_.insert(name);
        const Json json = Json::parse(zip_.text(name).value_or(""), nullptr, false);
        if (!json.is_object() || !TableId::fromText(id))
            return damaged("The table " + id + " is damaged or missing.");
        std::map<ColumnId, std::map<std::uint32_t, std::string>> originals;
        Table t = tableFromJson(json, originals);
        t.id = TableId::fromText(id);
        for (Column& c : t.columns)
            c.cells = readCells(zip_, t, c, std::move(originals[c.id]), used_, out_.issues);
        out_.project.tables = out_.project.tables.with(std::move(t));
    }

    // Those that are gone or damaged were said when the manifest was compared.
    void readArtwork() {
        Parts<Asset> read;
        for (const auto& a : out_.project.assets) {
            Asset own = *a;
            const std::string original = originalPath(own), drawing = drawingPath(own);
            if (auto bytes = zip_.text(original))
                own.bytes = std::make_shared<const std::string>(std::move(*bytes));
            if (zip_.has(drawing))
                own.drawing = std::make_shared<const std::string>(zip_.text(drawing).value_or(""));
            used_.insert({original, drawing});
            read = read.with(std::move(own));
        }
        out_.project.assets = std::move(read);
    }

    // What is neither the project nor a table; what this version does not know is kept for the next save.
    void takeEntry(const std::string& name) {
        const auto entry = zip_.text(name);
        if (!entry)
            damaged("The entry " + name + " is damaged.");
        else if (name.starts_with("results/") && name.ends_with(".json"))
            out_.beside.results[name.substr(8, name.size() - 13)] = *entry;
        else if (name == "view.json")
            out_.beside.view = *entry;
        else
            out_.project.unknownEntries[name] = *entry;
    }

    const ZipReader& zip_;
    const std::string& path_;
    Json manifest_;
    OpenedProject out_;
    std::set<std::string> used_ = {"mimetype", "manifest.json", "project.json"};
};

Result<OpenedProject> projectFrom(const ZipReader& zip, const std::string& path) {
    if (zip.text("mimetype").value_or("") != kMimetype)
        return failure("not-a-project", "This zip file is not a Jointer project.", {.file = path});
    return ProjectReader(zip, path).read();
}

} // namespace

Result<OpenedProject> projectFromBytes(std::string bytes, const std::string& path) {
    const auto zip = ZipReader::openBytes(std::move(bytes), path);
    return zip ? projectFrom(**zip, path) : std::unexpected(zip.error());
}

Result<OpenedProject> openProject(const std::string& path) {
    // Through the file layer first, so that a missing or forbidden file is said as such.
    if (auto there = MappedFile::open(path); !there) return std::unexpected(there.error());
    const auto zip = ZipReader::openFile(path);
    return zip ? projectFrom(**zip, path) : std::unexpected(zip.error());
}

} // namespace jointer
