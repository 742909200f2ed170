// SPDX-License-Identifier: GPL-3.0-or-later
// JCAMP-DX: labelled records; data as AFFN, PAC, SQZ, DIF and DUP, also mixed; blocks within a LINK block.
// Source: R. S. McDonald, P. A. Wilks, "JCAMP-DX: a standard form for exchange of infrared spectra in
// computer readable form", Appl. Spectrosc. 42 (1988) 151.
#include "base/text.h"
#include "io/cell_text.h"
#include "io/encoding.h"
#include "io/fields.h"
#include "io/formats/jcamp_ordinates.h"
#include "io/formats/made_table.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

// Labels compare without case, blanks and - / _.
std::string plainLabel(std::string_view label) {
    std::string out;
    for (char c : label)
        if (c != ' ' && c != '-' && c != '/' && c != '_' && c != '\t')
            out += static_cast<char>(c >= 'a' && c <= 'z' ? c - 32 : c);
    return out;
}

struct Record {
    std::string label; // plain
    std::string_view name, value;
    long line;
};

std::string_view withoutRemark(std::string_view line) {
    const std::size_t at = line.find("$$");
    return trimmed(at == line.npos ? line : line.substr(0, at));
}

struct Quantity {
    std::string name, unit;
};

// Units of the standard as a name and a unit.
Quantity quantityOf(std::string_view units, std::string_view label, const char* fallback) {
    static const std::map<std::string, Quantity> known = {{"1CM", {"Wavenumber", "cm⁻¹"}},
                                                          {"CM1", {"Wavenumber", "cm⁻¹"}},
                                                          {"NANOMETERS", {"Wavelength", "nm"}},
                                                          {"MICROMETERS", {"Wavelength", "µm"}},
                                                          {"SECONDS", {"Time", "s"}},
                                                          {"HZ", {"Frequency", "Hz"}},
                                                          {"PPM", {"Shift", "ppm"}},
                                                          {"MZ", {"m/z", ""}},
                                                          {"ABSORBANCE", {"Absorbance", ""}},
                                                          {"TRANSMITTANCE", {"Transmittance", ""}},
                                                          {"REFLECTANCE", {"Reflectance", ""}},
                                                          {"ARBITRARYUNITS", {"Intensity", "a.u."}},
                                                          {"COUNTS", {"Intensity", "counts"}},
                                                          {"RELATIVEABUNDANCE", {"Abundance", "%"}},
                                                          {"RAMANINTENSITY", {"Intensity", ""}}};
    const auto at = known.find(plainLabel(units));
    Quantity q = at != known.end() ? at->second : Quantity{fallback, std::string(units)};
    if (!label.empty()) q.name = std::string(label);
    return q;
}

// One block between TITLE and END.
class Block {
public:
    Block(std::vector<Record> records, ReadResult& out) : records_(std::move(records)), out_(out) {}

    Result<void> read(Metadata& metadata) {
        for (const Record& r : records_) {
            facts_.emplace(r.label, r.value);
            const bool data = r.label == "XYDATA" || r.label == "XYPOINTS" || r.label == "PEAKTABLE" ||
                              r.label == "DATATABLE" || r.label == "PEAKASSIGNMENTS";
            if (!data && !r.value.empty() && r.value.size() < 400)
                metadata.emplace_back(std::string(r.name), std::string(r.value));
        }
        for (const Record& r : records_) {
            if (r.label == "XYDATA") {
                if (auto good = readOrdinates(r); !good) return good;
            } else if (r.label == "XYPOINTS" || r.label == "PEAKTABLE") {
                if (auto good = readPoints(r); !good) return good;
            } else if (r.label == "NTUPLES" || r.label == "DATATABLE")
                return failure("jcamp",
                               "Blocks of the NTUPLES kind are not read; export the spectrum as XYDATA.",
                               {.line = r.line});
        }
        return {};
    }

private:
    std::string_view fact(const char* label) const {
        const auto at = facts_.find(label);
        return at == facts_.end() ? std::string_view() : at->second;
    }
    double number(const char* label, double fallback) const {
        const auto n = numberOf(withoutRemark(fact(label)), '.');
        return n.value_or(fallback);
    }

    Result<void> readOrdinates(const Record& r) {
        const double xFactor = number("XFACTOR", 1), yFactor = number("YFACTOR", 1);
        const double firstX = number("FIRSTX", kNaN), lastX = number("LASTX", kNaN),
                     declared = number("NPOINTS", kNaN);
        Ordinates ordinates;
        long line = r.line, checkLine = 0;
        std::vector<std::tuple<std::size_t, double, long>> starts; // index, x as written, line
        bool form = true;
        for (std::string_view text : allLines(r.value)) {
            if (!form) {
                text = withoutRemark(text);
                double x;
                bool check;
                const std::size_t before = ordinates.values().size();
                if (!ordinates.take(text, x, check))
                    return failure("jcamp", "The data hold a sign that none of the forms of numbers knows.",
                                   {.line = line});
                if (!check && checkLine == 0) checkLine = line;
                if (!std::isnan(x) && !text.empty()) starts.emplace_back(before, x, line);
            }
            form = false;
            ++line;
        }
        std::vector<double> y = std::move(ordinates.values());
        if (y.empty()) return failure("jcamp", "The block has no ordinates.", {.line = r.line});
        if (checkLine > 0)
            out_.issues.push_back({"checksum",
                                   "The first ordinate of the line does not repeat the last one of the line "
                                   "before: the data may be damaged.",
                                   {.line = checkLine}});
        if (!std::isnan(declared) && declared != static_cast<double>(y.size()))
            out_.issues.push_back(
                {"checksum",
                 fmt::format("The block declares {:.0f} points and holds {}.", declared, y.size()),
                 {.line = r.line}});
        for (double& v : y) v *= yFactor;
        std::vector<double> x(y.size());
        const double count = static_cast<double>(y.size());
        double first = firstX, last = lastX;
        if (std::isnan(first)) first = starts.empty() ? 0 : std::get<1>(starts.front()) * xFactor;
        double step = number("DELTAX", kNaN);
        const bool trusted = std::isnan(declared) || declared == count;
        if (!std::isnan(last) && y.size() > 1 && (trusted || std::isnan(step)))
            step = (last - first) / ((trusted ? count : std::max(2.0, declared)) - 1);
        if (std::isnan(step)) step = 1;
        for (std::size_t i = 0; i < x.size(); ++i)
            x[i] = trusted && !std::isnan(last) && i + 1 == x.size() && x.size() > 1
                       ? last
                       : first + static_cast<double>(i) * step;
        checkAbscissas(starts, x, xFactor, step);
        add(std::move(x), std::move(y));
        return {};
    }

    void checkAbscissas(const std::vector<std::tuple<std::size_t, double, long>>& starts,
                        const std::vector<double>& x, double xFactor, double step) {
        for (const auto& [index, written, line] : starts) {
            if (index >= x.size() || std::abs(written * xFactor - x[index]) <=
                                         std::max(1.01 * std::abs(step), 1e-6 * std::abs(x[index])))
                continue;
            out_.issues.push_back(
                {"checksum",
                 fmt::format("The abscissa of the line, {}, does not belong to its place; {} is expected.",
                             shortestNumber(written * xFactor), readableNumber(x[index], 7)),
                 {.line = line}});
            return;
        }
    }

    Result<void> readPoints(const Record& r) {
        const double xFactor = number("XFACTOR", 1), yFactor = number("YFACTOR", 1);
        const auto lines = allLines(r.value);
        const bool triples = !lines.empty() && plainLabel(lines[0]).find("XYW") != std::string::npos;
        std::vector<std::vector<double>> columns(triples ? 3 : 2);
        std::size_t place = 0;
        for (std::size_t i = 1; i < lines.size(); ++i) {
            const std::string_view text = withoutRemark(lines[i]);
            for (std::size_t at = 0; at < text.size();) {
                if (text[at] == ' ' || text[at] == ',' || text[at] == ';' || text[at] == '\t') {
                    ++at;
                    continue;
                }
                const std::size_t end = std::min(text.find_first_of(" ,;\t", at), text.size());
                const auto value = text.substr(at, end - at) == "?"
                                       ? std::optional(kNaN)
                                       : numberOf(text.substr(at, end - at), '.');
                if (!value)
                    return failure("jcamp", fmt::format("“{}” is no number.", text.substr(at, end - at)),
                                   {.line = r.line + static_cast<long>(i)});
                columns[place].push_back(*value * (place == 0 ? xFactor : place == 1 ? yFactor : 1));
                place = (place + 1) % columns.size();
                at = end;
            }
        }
        if (columns[0].empty()) return failure("jcamp", "The block has no points.", {.line = r.line});
        add(std::move(columns[0]), std::move(columns[1]));
        return {};
    }

    void add(std::vector<double> x, std::vector<double> y) {
        const Quantity qx = quantityOf(withoutRemark(fact("XUNITS")), fact("XLABEL"), "x"),
                       qy = quantityOf(withoutRemark(fact("YUNITS")), fact("YLABEL"), "y");
        out_.tables.push_back(madeTable(
            std::string(fact("TITLE")),
            {numberColumn(qx.name, qx.unit, std::move(x)), numberColumn(qy.name, qy.unit, std::move(y))},
            out_.issues));
    }

    std::vector<Record> records_;
    ReadResult& out_;
    std::map<std::string, std::string_view, std::less<>> facts_;
};

// The labelled records of a text; a value goes on to the next label.
std::vector<Record> recordsOf(std::string_view text) {
    std::vector<Record> records;
    long number = 0;
    for (std::string_view line : allLines(text)) {
        ++number;
        const std::string_view t = trimmed(line);
        const std::size_t equals = t.find('=');
        if (t.starts_with("##") && equals != t.npos) {
            const std::string_view name = trimmed(t.substr(2, equals - 2));
            records.push_back({plainLabel(name), name, withoutRemark(t.substr(equals + 1)), number});
        } else if (!records.empty()) {
            Record& r = records.back();
            r.value = {r.value.data(), static_cast<std::size_t>(line.data() + line.size() - r.value.data())};
        }
    }
    return records;
}

// The facts of a block belong to its tables; those of a block without data to the whole file.
Result<void> readBlock(std::vector<Record> records, ReadResult& out) {
    const std::size_t before = out.tables.size();
    Metadata facts;
    if (auto good = Block(std::move(records), out).read(facts); !good) return good;
    for (std::size_t i = before; i < out.tables.size(); ++i) out.tables[i].metadata = facts;
    if (out.tables.size() == before) std::ranges::move(facts, std::back_inserter(out.metadata));
    return {};
}

Result<ReadResult> readJcamp(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    DecodedText decoded;
    if (auto good = decode(bytes, told.text("encoding"), decoded); !good)
        return std::unexpected(good.error());
    ReadResult out{.format = "jcamp-dx", .encoding = decoded.encoding};
    std::vector<std::vector<Record>> open; // blocks that have not ended, the innermost last
    for (Record& r : recordsOf(decoded.text)) {
        if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");
        if (r.label == "TITLE" && open.size() < 100) open.emplace_back();
        if (open.empty()) open.emplace_back();
        if (r.label != "END") {
            open.back().push_back(std::move(r));
            continue;
        }
        if (auto good = readBlock(std::move(open.back()), out); !good) return std::unexpected(good.error());
        open.pop_back();
    }
    while (!open.empty()) {
        if (!open.back().empty()) {
            if (auto good = readBlock(std::move(open.back()), out); !good)
                return std::unexpected(good.error());
            out.issues.push_back(
                {"truncated-last-line", "The file ends without its END record; its end may be missing.", {}});
        }
        open.pop_back();
    }
    if (out.tables.empty())
        return failure("jcamp", "The file holds no block of data (XYDATA, XYPOINTS or PEAK TABLE).");
    return out;
}

} // namespace

ReaderKind jcampReader() {
    return {.info = {.key = "jcamp-dx",
                     .name = "JCAMP-DX",
                     .purpose = "Spectra as labelled records, plain or compressed"},
            .endings = {"jdx", "dx", "jcm"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    const std::string plain = plainLabel(head.substr(0, 4000));
                    return plain.find("##TITLE=") != plain.npos && plain.find("##JCAMPDX=") != plain.npos ? 95
                           : plain.starts_with("##TITLE=")                                                ? 60
                                                                                                          : 0;
                },
            .read = readJcamp};
}

} // namespace jointer::io
