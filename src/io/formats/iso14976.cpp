// SPDX-License-Identifier: GPL-3.0-or-later
// ISO 14976: one value a line in a fixed order; blocks after the first may leave out what does not change.
// Source: W. A. Dench, L. B. Hazell, M. P. Seah, Surf. Interface Anal. 13 (1988) 63.
#include "base/text.h"
#include "io/cell_text.h"
#include "io/encoding.h"
#include "io/fields.h"
#include "io/formats/made_table.h"

#include <algorithm>

#include <array>
#include <fmt/format.h>

namespace jointer::io {

namespace {

constexpr std::string_view kIdentifier = "Surface Chemical Analysis Standard Data Transfer Format";

bool isOneOf(std::string_view text, std::initializer_list<std::string_view> all) {
    return std::ranges::find(all, text) != all.end();
}

// What a block says; later blocks take over what they leave out.
struct BlockFacts {
    std::string technique, source, sourceEnergy, passEnergy, workFunction, analyserMode, species, transition;
    std::string xLabel, xUnit, signalMode, dwell, scans;
    double start = 0, step = 0;
    std::vector<std::pair<std::string, std::string>> variables; // label, unit
    std::vector<std::string> values;                            // of the experimental variables
    std::vector<std::string> comment;
    std::array<std::string, 6> when;
};

class Experiment {
public:
    Experiment(const std::vector<std::string_view>& lines, ReadResult& out) : lines_(lines), out_(out) {}

    Result<void> read(const Cancellation& stop) {
        readHeader();
        const long blocks = whole("number of blocks", 0, 100000);
        BlockFacts facts;
        for (long b = 0; b < blocks && !issue_; ++b) {
            if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");
            readBlock(facts, b == 0);
        }
        if (issue_) return std::unexpected(*issue_);
        if (out_.tables.empty()) return failure("iso14976", "The file holds no blocks of data.");
        return {};
    }

private:
    std::string_view next() {
        if (at_ >= lines_.size()) {
            fail("The file ends too early.");
            return {};
        }
        return trimmed(lines_[at_++]);
    }
    void fail(std::string text) {
        if (!issue_) issue_ = Issue{"iso14976", std::move(text), {.line = static_cast<long>(at_)}};
    }
    std::string text() { return std::string(next()); }

    double number(const char* what) {
        const std::string_view t = next();
        const auto n = numberOf(t, '.');
        if (!n) fail(fmt::format("“{}” is no number; here stands the {}.", t, what));
        return n.value_or(0);
    }
    long whole(const char* what, long lowest, long highest) {
        const double n = number(what);
        if (issue_) return lowest;
        if (n != std::floor(n) || n < static_cast<double>(lowest) || n > static_cast<double>(highest)) {
            fail(fmt::format("{} cannot be the {}.", shortestNumber(n), what));
            return lowest;
        }
        return static_cast<long>(n);
    }
    void skip(long count) {
        for (long k = 0; k < count && !issue_; ++k) next();
    }
    void fact(const char* name, const std::string& value) {
        if (!value.empty() && !startsWithNoCase(value, "not specified"))
            out_.metadata.emplace_back(name, value);
    }

    void readHeader() {
        next(); // the identifier of the format
        for (const char* name : {"Institution", "Instrument", "Operator", "Experiment"}) fact(name, text());
        const long comments = whole("number of comment lines", 0, 100000);
        for (long k = 0; k < comments && !issue_; ++k) fact("Comment", text());
        mode_ = text();
        scan_ = text();
        if (!isOneOf(mode_, {"MAP", "MAPDP", "MAPSV", "MAPSVDP", "NORM", "SDP", "SDPSV", "SEM", "NOEXP"}))
            fail(fmt::format("“{}” is no mode of an experiment.", mode_));
        if (!isOneOf(scan_, {"REGULAR", "IRREGULAR", "MAPPING"}))
            fail(fmt::format("“{}” is no mode of a scan.", scan_));
        if (isOneOf(mode_, {"MAP", "MAPDP", "NORM", "SDP"})) number("number of spectral regions");
        if (isOneOf(mode_, {"MAP", "MAPDP"})) skip(3);
        const long variables = whole("number of experimental variables", 0, 1000);
        for (long k = 0; k < variables && !issue_; ++k) {
            auto label = text();
            variables_.emplace_back(std::move(label), text());
        }
        readInclusion();
        skip(whole("number of manually entered items", 0, 1000));
        futureExperiment_ = whole("number of future upgrade entries of the experiment", 0, 1000);
        futureBlock_ = whole("number of future upgrade entries of a block", 0, 1000);
        skip(futureExperiment_);
    }

    // Positive: only these of the 40 items come again in later blocks; negative: all but these.
    void readInclusion() {
        const long n = whole("number of entries in the inclusion list", -1000, 1000);
        included_.fill(n <= 0);
        for (long k = 0; k < std::abs(n) && !issue_; ++k) {
            const long item = whole("item of the inclusion list", 1, 40);
            included_[static_cast<std::size_t>(item) - 1] = n > 0;
        }
    }

    void readBlock(BlockFacts& f, bool first) {
        const std::string name = text(), sample = text();
        auto has = [&](int item) { return first || included_[static_cast<std::size_t>(item) - 1]; };
        const bool profile = isOneOf(mode_, {"MAPDP", "MAPSVDP", "SDP", "SDPSV"});
        for (int k = 0; k < 6; ++k)
            if (has(1 + k)) f.when[static_cast<std::size_t>(k)] = text();
        if (has(7)) next();
        if (has(8)) {
            f.comment.clear();
            const long lines = whole("number of lines in the comment of the block", 0, 100000);
            for (long k = 0; k < lines && !issue_; ++k) f.comment.push_back(text());
        }
        if (has(9)) f.technique = text();
        if (isOneOf(mode_, {"MAP", "MAPDP"}) && has(10)) skip(2);
        if (has(11)) {
            f.values.clear();
            for (std::size_t k = 0; k < variables_.size() && !issue_; ++k) f.values.push_back(text());
        }
        if (has(12)) f.source = text();
        const bool ions = profile || isOneOf(f.technique, {"FABMS", "FABMS energy spec", "ISS", "SIMS",
                                                           "SIMS energy spec", "SNMS", "SNMS energy spec"});
        if (ions && has(13)) skip(3);
        if (has(14)) f.sourceEnergy = text();
        if (has(15)) next();
        if (has(16)) skip(2);
        if (isOneOf(mode_, {"MAP", "MAPDP", "MAPSV", "MAPSVDP", "SEM"}) && has(17)) skip(2);
        if (isOneOf(mode_, {"MAPSV", "MAPSVDP", "SEM"}) && has(18)) skip(6);
        if (has(19)) next();
        if (has(20)) next();
        if (has(21)) f.analyserMode = text();
        if (has(22)) f.passEnergy = text();
        if (f.technique == "AES diff" && has(23)) next();
        if (has(24)) next();
        if (has(25)) f.workFunction = text();
        if (has(26)) next();
        if (has(27)) skip(2);
        if (has(28)) skip(2);
        if (has(29)) f.species = text();
        if (has(30)) {
            f.transition = text();
            next();
        }
        if (scan_ == "REGULAR" && has(31)) {
            f.xLabel = text();
            f.xUnit = text();
            f.start = number("start of the abscissa");
            f.step = number("step of the abscissa");
        }
        if (has(32)) {
            f.variables.clear();
            const long n = whole("number of corresponding variables", 1, 1000);
            for (long k = 0; k < n && !issue_; ++k) {
                auto label = text();
                f.variables.emplace_back(std::move(label), text());
            }
        }
        if (has(33)) f.signalMode = text();
        if (has(34)) f.dwell = text();
        if (has(35)) f.scans = text();
        if (has(36)) next();
        if (profile && isOneOf(f.technique, {"AES diff", "AES dir", "EDX", "ELS", "UPS", "XPS", "XRF"}) &&
            has(37))
            skip(7);
        if (has(38)) skip(2);
        if (has(39)) next();
        if (has(40)) {
            const long n = whole("number of additional parameters", 0, 10000);
            for (long k = 0; k < n && !issue_; ++k) {
                const std::string label = text(), unit = text(), value = text();
                if (first)
                    fact(label.c_str(),
                         value + (startsWithNoCase(unit, "d") && unit.size() == 1 ? "" : " " + unit));
            }
        }
        skip(futureBlock_);
        readValues(f, name);
        if (first && !issue_) sayFacts(f, sample);
    }

    void sayFacts(const BlockFacts& f, const std::string& sample) {
        fact("Sample", sample);
        fact("Technique", f.technique);
        fact("Source", f.source);
        fact("Source energy", f.sourceEnergy + " eV");
        fact("Analyser mode", f.analyserMode);
        fact("Pass energy", f.passEnergy);
        fact("Work function", f.workFunction);
        fact("Species", f.species);
        fact("Transition", f.transition);
        fact("Collection time", f.dwell);
        fact("Scans", f.scans);
        if (!f.when[0].empty()) fact("Date", f.when[0] + "-" + f.when[1] + "-" + f.when[2]);
        for (std::size_t k = 0; k < f.values.size() && k < variables_.size(); ++k)
            fact(variables_[k].first.c_str(), f.values[k] + " " + variables_[k].second);
        for (const std::string& line : f.comment) fact("Block comment", line);
    }

    void readValues(const BlockFacts& f, const std::string& name) {
        const std::size_t count = f.variables.size();
        const long declared = whole("number of ordinate values", 0, 100000000);
        skip(2 * static_cast<long>(count)); // smallest and largest
        if (issue_ || count == 0) return;
        if (static_cast<std::size_t>(declared) > lines_.size() - at_)
            return fail(fmt::format("{} values are declared, more than the file has lines.", declared));
        const std::size_t rows = static_cast<std::size_t>(declared) / count;
        const auto firstLine = static_cast<std::uint32_t>(at_ + 1);
        std::vector<std::vector<double>> values(count, std::vector<double>(rows));
        for (std::size_t i = 0; i < rows * count && !issue_; ++i)
            values[i % count][i / count] = number("ordinate");
        skip(declared - static_cast<long>(rows * count));
        if (issue_) return;
        std::vector<Column> columns;
        if (scan_ == "REGULAR") {
            std::vector<double> x(rows);
            for (std::size_t i = 0; i < rows; ++i) x[i] = f.start + static_cast<double>(i) * f.step;
            columns.push_back(numberColumn(f.xLabel, unitOf(f.xUnit), std::move(x)));
        }
        for (std::size_t k = 0; k < count; ++k)
            columns.push_back(
                numberColumn(f.variables[k].first, unitOf(f.variables[k].second), std::move(values[k])));
        ReadTable t = madeTable(name, std::move(columns), out_.issues);
        t.firstDataLine = firstLine;
        out_.tables.push_back(std::move(t));
    }

    // Units of the standard: "d" is a pure number, "n" not specified.
    static std::string unitOf(const std::string& unit) {
        return unit == "d" || unit == "n" || startsWithNoCase(unit, "not specified") ? ""
               : unit == "c/s"                                                       ? "counts/s"
               : unit == "c"                                                         ? "counts"
                                                                                     : unit;
    }

    const std::vector<std::string_view>& lines_;
    ReadResult& out_;
    std::size_t at_ = 0;
    std::optional<Issue> issue_;
    std::string mode_, scan_;
    std::vector<std::pair<std::string, std::string>> variables_;
    std::array<bool, 40> included_{};
    long futureExperiment_ = 0, futureBlock_ = 0;
};

Result<ReadResult> readIso14976(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    DecodedText decoded;
    if (auto good = decode(bytes, told.text("encoding"), decoded); !good)
        return std::unexpected(good.error());
    ReadResult out{.format = "iso14976", .encoding = decoded.encoding};
    const auto lines = allLines(decoded.text);
    if (auto good = Experiment(lines, out).read(stop); !good) return std::unexpected(good.error());
    return out;
}

} // namespace

ReaderKind iso14976Reader() {
    return {.info = {.key = "iso14976",
                     .name = "ISO 14976",
                     .purpose = "Electron and ion spectra in the standard transfer format"},
            .endings = {"vms", "iso", "npl"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    return head.substr(0, 300).find(kIdentifier) != head.npos ? 98 : 0;
                },
            .read = readIso14976};
}

} // namespace jointer::io
