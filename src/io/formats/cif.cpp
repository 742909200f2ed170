// SPDX-License-Identifier: GPL-3.0-or-later
// Powder data in CIF: tags with values, loops as tables, standard uncertainties in brackets.
// Source: S. R. Hall, F. H. Allen, I. D. Brown, Acta Cryst. A47 (1991) 655; pdCIF dictionary.
#include "base/text.h"
#include "io/cell_text.h"
#include "io/encoding.h"
#include "io/formats/made_table.h"

#include <algorithm>

#include <cmath>
#include <fmt/format.h>
#include <map>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

struct Token {
    std::string_view text;
    bool quoted = false;
    long line = 1;
};

// Words, quoted texts and texts between lines that begin with a semicolon.
class Tokens {
public:
    explicit Tokens(std::string_view text) : t_(text) {}

    std::optional<Token> next() {
        for (;;) {
            while (at_ < t_.size() && isBlank(t_[at_])) step();
            if (at_ >= t_.size()) return std::nullopt;
            if (t_[at_] != '#') break;
            while (at_ < t_.size() && t_[at_] != '\n' && t_[at_] != '\r') ++at_;
        }
        const long line = line_;
        const bool lineStart = at_ == 0 || t_[at_ - 1] == '\n' || t_[at_ - 1] == '\r';
        if (t_[at_] == ';' && lineStart) return longText(line);
        const std::size_t from = at_;
        if (t_[at_] == '\'' || t_[at_] == '"') {
            const char quote = t_[at_++];
            while (at_ < t_.size() && t_[at_] != '\n' &&
                   !(t_[at_] == quote && (at_ + 1 >= t_.size() || isBlank(t_[at_ + 1]))))
                ++at_;
            const Token token{t_.substr(from + 1, at_ - from - 1), true, line};
            if (at_ < t_.size() && t_[at_] == quote) ++at_;
            return token;
        }
        while (at_ < t_.size() && !isBlank(t_[at_])) ++at_;
        return Token{t_.substr(from, at_ - from), false, line};
    }

private:
    static bool isBlank(char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\0'; }
    void step() { line_ += t_[at_++] == '\n'; }

    Token longText(long line) {
        const std::size_t from = ++at_;
        for (;;) {
            const std::size_t end = t_.find('\n', at_);
            if (end == t_.npos) {
                at_ = t_.size();
                return {t_.substr(from), true, line};
            }
            at_ = end + 1;
            ++line_;
            if (at_ < t_.size() && t_[at_] == ';') {
                const Token token{trimmed(t_.substr(from, at_ - from)), true, line};
                ++at_;
                return token;
            }
        }
    }

    std::string_view t_;
    std::size_t at_ = 0;
    long line_ = 1;
};

// "5.4312(7)", "5.43(2)e-3": value and standard uncertainty, the latter in units of the last digit.
struct Measured {
    double value = kNaN, uncertainty = kNaN;
};
std::optional<Measured> measuredOf(std::string_view text) {
    const std::size_t open = text.find('(');
    if (open == text.npos) {
        const auto value = numberOf(text, '.');
        return value ? std::optional(Measured{*value}) : std::nullopt;
    }
    const std::size_t close = text.find(')', open);
    if (close == text.npos) return std::nullopt;
    std::string number(text.substr(0, open));
    if (const std::string_view after = text.substr(close + 1); !after.empty()) {
        if (std::string_view("eEdD").find(after[0]) == after.npos) return std::nullopt;
        number += "e" + std::string(after.substr(1));
    }
    const auto value = numberOf(number, '.'), digits = numberOf(text.substr(open + 1, close - open - 1), '.');
    if (!value || !digits) return std::nullopt;
    const std::size_t exponent = number.find_first_of("eE"), point = number.find('.');
    const std::size_t end = std::min(exponent, number.size());
    const double decimals = point == number.npos ? 0 : static_cast<double>(end - point - 1);
    const double power = exponent == number.npos ? 0 : numberOf(number.substr(exponent + 1), '.').value_or(0);
    return Measured{*value, *digits * std::pow(10, power - decimals)};
}

struct Named {
    std::string name, unit;
};

// Tags of the powder dictionary as names with units.
Named namedTag(std::string_view tag) {
    static const std::map<std::string_view, Named> known = {
        {"_pd_meas_2theta_scan", {"2θ", "°"}},
        {"_pd_meas_2theta_fixed", {"2θ", "°"}},
        {"_pd_proc_2theta_corrected", {"2θ corrected", "°"}},
        {"_pd_meas_counts_total", {"Counts", "counts"}},
        {"_pd_meas_intensity_total", {"Intensity", ""}},
        {"_pd_meas_counts_background", {"Background", "counts"}},
        {"_pd_proc_intensity_net", {"Net intensity", ""}},
        {"_pd_proc_intensity_total", {"Processed intensity", ""}},
        {"_pd_proc_intensity_bkg_calc", {"Background computed", ""}},
        {"_pd_calc_intensity_total", {"Intensity computed", ""}},
        {"_pd_calc_intensity_net", {"Net intensity computed", ""}},
        {"_pd_proc_ls_weight", {"Weight", ""}},
        {"_pd_proc_d_spacing", {"d", "Å"}},
        {"_pd_meas_time_of_flight", {"Time of flight", "µs"}},
        {"_pd_proc_recip_len_q", {"Q", "1/Å"}}};
    const auto at = known.find(tag);
    return at != known.end() ? at->second : Named{std::string(tag.substr(1)), ""};
}

class Reading {
public:
    explicit Reading(ReadResult& out) : out_(out) {}

    Result<void> read(std::string_view text, const Cancellation& stop) {
        Tokens tokens(text);
        std::optional<Token> token = tokens.next();
        while (token) {
            if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");
            const std::string word = token->quoted ? std::string() : lowerAscii(token->text.substr(0, 80));
            if (word.starts_with("data_")) {
                block_ = token->text.substr(5);
                token = tokens.next();
            } else if (word == "loop_") {
                token = tokens.next();
                if (auto good = readLoop(tokens, token); !good) return good;
            } else if (word.starts_with('_')) {
                const std::string tag = lowerAscii(token->text);
                token = tokens.next();
                if (!token) break;
                if (!token->quoted && (token->text.starts_with('_') || token->text == "loop_"))
                    continue; // no value
                tags_[tag] = std::string(token->text);
                if (token->text.size() < 200 && token->text != "?" && token->text != ".")
                    out_.metadata.emplace_back(tag, safeText(token->text));
                token = tokens.next();
            } else
                token = tokens.next();
        }
        return {};
    }

private:
    Result<void> readLoop(Tokens& tokens, std::optional<Token>& token) {
        std::vector<std::string> tags;
        const long line = token ? token->line : 0;
        while (token && !token->quoted && token->text.starts_with('_') && tags.size() < 500) {
            tags.push_back(lowerAscii(token->text));
            token = tokens.next();
        }
        std::vector<std::vector<Token>> cells(tags.size());
        std::size_t n = 0;
        while (token && !tags.empty()) {
            const std::string word = token->quoted ? std::string() : lowerAscii(token->text.substr(0, 8));
            if (word.starts_with('_') || word == "loop_" || word.starts_with("data_") || word == "stop_")
                break;
            cells[n++ % tags.size()].push_back(*token);
            token = tokens.next();
        }
        if (n == 0) return {};
        if (n % tags.size() != 0)
            out_.issues.push_back(
                {"ragged-rows",
                 fmt::format("The loop has {} values for {} columns: its last row is not whole.", n,
                             tags.size()),
                 {.line = line}});
        addLoop(tags, cells, line);
        return {};
    }

    void addLoop(const std::vector<std::string>& tags, const std::vector<std::vector<Token>>& cells,
                 long line) {
        const bool powder = std::ranges::any_of(tags, [](const std::string& t) {
            return t.starts_with("_pd_meas") || t.starts_with("_pd_proc") || t.starts_with("_pd_calc");
        });
        std::vector<Column> columns;
        std::size_t rows = cells[0].size();
        if (powder && rows > 1) addScan(tags, rows, columns);
        for (std::size_t c = 0; c < tags.size(); ++c) addColumn(tags[c], cells[c], columns);
        ReadTable t = madeTable(tables_++ == 0 ? std::string(block_) : fmt::format("{} {}", block_, tables_),
                                std::move(columns), out_.issues);
        t.headingLine = line;
        if (powder) { // the measured pattern comes first
            out_.tables.insert(out_.tables.begin() + static_cast<std::ptrdiff_t>(patterns_++), std::move(t));
        } else
            out_.tables.push_back(std::move(t));
    }

    // Angles that are given by their range only.
    void addScan(const std::vector<std::string>& tags, std::size_t rows, std::vector<Column>& columns) {
        for (const std::string& t : tags)
            if (t.find("2theta") != t.npos || t.find("time_of_flight") != t.npos ||
                t.find("d_spacing") != t.npos)
                return;
        for (const char* part : {"_pd_meas_2theta_range_", "_pd_proc_2theta_range_"}) {
            const auto from = tags_.find(std::string(part) + "min"),
                       step = tags_.find(std::string(part) + "inc");
            if (from == tags_.end() || step == tags_.end()) continue;
            const auto a = measuredOf(from->second), d = measuredOf(step->second);
            if (!a || !d) continue;
            std::vector<double> x(rows);
            for (std::size_t i = 0; i < rows; ++i) x[i] = a->value + static_cast<double>(i) * d->value;
            columns.push_back(numberColumn("2θ", "°", std::move(x)));
            return;
        }
    }

    static void addColumn(const std::string& tag, const std::vector<Token>& cells,
                          std::vector<Column>& columns) {
        const Named named = namedTag(tag);
        std::vector<double> values, uncertainties;
        bool any = false, numbers = true;
        for (const Token& cell : cells) {
            const bool missing = !cell.quoted && (cell.text == "?" || cell.text == ".");
            const auto m = missing ? std::optional(Measured{}) : measuredOf(cell.text);
            numbers = numbers && m;
            if (!numbers) break;
            values.push_back(m->value);
            uncertainties.push_back(m->uncertainty);
            any = any || !std::isnan(m->uncertainty);
        }
        if (!numbers) {
            std::vector<std::string> texts;
            for (const Token& cell : cells)
                texts.push_back(!cell.quoted && (cell.text == "?" || cell.text == ".") ? ""
                                                                                       : safeText(cell.text));
            columns.push_back(textColumn(named.name, std::move(texts)));
            return;
        }
        columns.push_back(numberColumn(named.name, named.unit, std::move(values)));
        if (any) columns.push_back(numberColumn(named.name + " error", named.unit, std::move(uncertainties)));
    }

    ReadResult& out_;
    std::map<std::string, std::string> tags_;
    std::string_view block_;
    std::size_t tables_ = 0, patterns_ = 0;
};

Result<ReadResult> readCif(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    DecodedText decoded;
    if (auto good = decode(bytes, told.text("encoding"), decoded); !good)
        return std::unexpected(good.error());
    ReadResult out{.format = "pdcif", .encoding = decoded.encoding};
    if (auto good = Reading(out).read(decoded.text, stop); !good) return std::unexpected(good.error());
    if (out.tables.empty()) return failure("pdcif", "The file holds no loops of data.");
    return out;
}

} // namespace

ReaderKind cifReader() {
    return {.info = {.key = "pdcif", .name = "Powder CIF", .purpose = "Powder diffraction patterns in CIF"},
            .endings = {"cif"},
            .recognise =
                [](std::string_view head, std::string_view name) {
                    const bool block = head.starts_with("data_") || head.find("\ndata_") != head.npos ||
                                       head.find("\rdata_") != head.npos;
                    if (!block || head.find('_', 5) == head.npos) return 0;
                    return head.find("_pd_") != head.npos || lowerAscii(name).ends_with(".cif") ? 95
                           : head.find("loop_") != head.npos                                    ? 60
                                                                                                : 0;
                },
            .read = readCif};
}

} // namespace jointer::io
