// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/result_grid.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "session/trend.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>
#include <unordered_map>

namespace jointer {

using evaluate::ResultRow;

namespace {

std::string analysisName(const Project& p, const ResultRow& row) {
    const auto a = p.analyses.find(row.analysis);
    return a ? analyses::nameOf(*a) : std::string();
}

// Of each row the name of its quantity, with the analysis where several have it.
std::vector<std::string> headingsOf(const Project& p, const std::vector<ResultRow>& rows) {
    std::map<std::string, std::set<std::string>> kinds; // analyses that have a quantity of this name
    for (const ResultRow& row : rows) kinds[evaluate::nameOf(row)].insert(analysisName(p, row));
    std::vector<std::string> out;
    for (const ResultRow& row : rows) {
        const std::string name = evaluate::nameOf(row);
        out.push_back(kinds.at(name).size() > 1 ? name + " (" + analysisName(p, row) + ")" : name);
    }
    return out;
}

// A column for each attribute that some of the datasets have; of numbers where all are.
void addAttributes(const Project& p, const std::vector<DatasetId>& datasets, Table& out) {
    std::vector<std::string> names;
    for (DatasetId id : datasets)
        for (const Attribute& a : p.datasets.find(id)->attributes)
            if (std::ranges::find(names, a.name) == names.end()) names.push_back(a.name);
    for (const std::string& name : names) {
        std::vector<std::string> words;
        std::vector<double> numbers;
        std::string unit;
        bool numeric = true;
        for (DatasetId id : datasets) {
            const auto& all = p.datasets.find(id)->attributes;
            const auto at = std::ranges::find(all, name, &Attribute::name);
            words.push_back(at == all.end() ? "" : at->value);
            const auto number = numberOf(all, name);
            numeric = numeric && (number || words.back().empty());
            numbers.push_back(number ? number->first : NAN);
            if (number && unit.empty()) unit = number->second;
        }
        out.columns.push_back(numeric ? numberColumn(name, unit, std::move(numbers))
                                      : textColumn(name, std::move(words)));
    }
}

} // namespace

WideGrid wideGrid(const Project& p, const std::vector<ResultRow>& rows,
                  const std::vector<DatasetId>& datasets) {
    WideGrid out{.attributes = {.name = "Results"}, .quantities = {}};
    std::unordered_map<DatasetId, std::size_t> line;
    std::vector<std::string> names;
    for (DatasetId id : datasets) {
        line.emplace(id, names.size());
        names.push_back(p.datasets.find(id)->name);
    }
    out.attributes.columns.push_back(textColumn("dataset", names));
    addAttributes(p, datasets, out.attributes);
    const std::vector<std::string> headings = headingsOf(p, rows);
    std::unordered_map<std::string_view, std::size_t> places;
    for (std::size_t r = 0; r < rows.size(); ++r) {
        const auto [at, fresh] = places.try_emplace(headings[r], out.quantities.size());
        if (fresh)
            out.quantities.push_back({headings[r], rows[r].unit, std::vector<int>(datasets.size(), -1)});
        const auto where = line.find(rows[r].dataset);
        if (where != line.end()) out.quantities[at->second].rows[where->second] = static_cast<int>(r);
    }
    return out;
}

std::vector<std::size_t> attributesAlike(const WideGrid& grid) {
    const auto& columns = grid.attributes.columns;
    const std::size_t rows = columns.empty() ? 0 : columns[0].cells->size();
    std::vector<std::vector<std::string>> texts;
    for (const Column& c : columns) {
        texts.emplace_back();
        for (std::size_t row = 0; row < rows; ++row) texts.back().push_back(plainCellText(c, row));
    }
    std::vector<std::size_t> out;
    for (std::size_t k = 1; k < columns.size(); ++k) {
        const bool constant =
            rows > 1 && std::ranges::adjacent_find(texts[k], std::not_equal_to()) == texts[k].end();
        if (constant || std::find(texts.begin() + 1, texts.begin() + static_cast<std::ptrdiff_t>(k),
                                  texts[k]) != texts.begin() + static_cast<std::ptrdiff_t>(k))
            out.push_back(k);
    }
    return out;
}

Table wideResults(const Project& p, const std::vector<ResultRow>& rows,
                  const std::vector<DatasetId>& datasets) {
    WideGrid grid = wideGrid(p, rows, datasets);
    Table out = std::move(grid.attributes);
    for (const WideGrid::Quantity& q : grid.quantities) {
        std::vector<double> values, errors;
        for (int row : q.rows) {
            values.push_back(row < 0 ? NAN : rows[static_cast<std::size_t>(row)].value);
            errors.push_back(row < 0 ? NAN : rows[static_cast<std::size_t>(row)].error);
        }
        const bool known = std::ranges::any_of(errors, [](double e) { return std::isfinite(e); });
        out.columns.push_back(numberColumn(q.name, q.unit, std::move(values)));
        if (known) out.columns.push_back(numberColumn(q.name + " ±", q.unit, std::move(errors)));
    }
    return out;
}

std::vector<RunCurve> curvesOf(const Project& p, const std::vector<ResultRow>& rows) {
    std::vector<RunCurve> out;
    std::map<DatasetId, std::size_t> places;
    std::set<DatasetId> meant;
    for (const ResultRow& row : rows) meant.insert(row.dataset);
    for (const auto& d : p.datasets)
        if (meant.contains(d->id)) {
            places.emplace(d->id, out.size());
            out.push_back({.dataset = d->name, .attributes = d->attributes});
        }
    for (const ResultRow& row : rows) {
        const auto at = places.find(row.dataset);
        const auto a = p.analyses.find(row.analysis);
        if (at != places.end() && a)
            out[at->second].rows.push_back({analyses::nameOf(*a), row.quantity, row.subject, row.value,
                                            row.error, row.unit, row.state, row.good});
    }
    return out;
}

std::string statisticsText(const std::vector<ResultRow>& rows, const ResultRow& like) {
    std::vector<double> values;
    for (const bool anySubject : {false, true}) { // of a sample that is shown once all samples count
        if (values.size() > 1) break;
        values.clear();
        for (const ResultRow& r : rows)
            if (r.quantity == like.quantity && (anySubject || r.subject == like.subject) &&
                r.unit == like.unit && std::isfinite(r.value))
                values.push_back(r.value);
    }
    if (values.size() < 2) return {};
    const stats::Summary s = stats::summarise(values);
    const auto told = [&](double v) { return readableWithError(v, s.sd / 5).value; };
    return fmt::format("mean {}, SD {}, median {}, {} … {} ({})", told(s.mean), readableNumber(s.sd, 3),
                       told(s.median), told(s.min), told(s.max), counted(std::ssize(values), "number"));
}

std::string resultsText(const Project& p, const std::vector<ResultRow>& rows) {
    std::string out = "dataset\tquantity\tvalue\n";
    for (const ResultRow& row : rows) {
        const auto d = p.datasets.find(row.dataset);
        out += (d ? d->name : "") + "\t" + evaluate::nameOf(row) + "\t" + shownValue(row).text() +
               (row.unit.empty() ? "" : " " + readableUnit(row.unit)) + "\n";
    }
    return out;
}

namespace {

// A text with what LaTeX takes for commands written out.
std::string latexText(const std::string& text) {
    std::string out;
    for (const char c : text) switch (c) {
        case '&':
        case '%':
        case '$':
        case '#':
        case '_':
        case '{':
        case '}':
            out += '\\';
            out += c;
            break;
        case '\\':
            out += "\\textbackslash{}";
            break;
        case '^':
            out += "\\textasciicircum{}";
            break;
        case '~':
            out += "\\textasciitilde{}";
            break;
        default:
            out += c;
        }
    return out;
}

// A readable number as mathematics: "1.2 × 10⁻⁵" → 1.2 \times 10^{-5}.
std::string latexNumber(std::string text) {
    const auto replace = [&](std::string_view what, std::string_view with) {
        for (std::size_t at = 0; (at = text.find(what, at)) != std::string::npos; at += with.size())
            text.replace(at, what.size(), with);
    };
    replace("−", "-");
    replace("\u2009", "\\,"); // thin space
    replace("\u202f", "\\,");
    replace("×", "\\times");
    static constexpr std::string_view raised[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
    const std::size_t ten = text.find("10");
    std::size_t at = ten == std::string::npos ? ten : ten + 2;
    std::string power;
    while (at != std::string::npos && at < text.size()) {
        const std::string_view rest = std::string_view(text).substr(at);
        const auto digit =
            std::ranges::find_if(raised, [&](std::string_view r) { return rest.starts_with(r); });
        if (rest.starts_with("⁻"))
            power += '-', at += std::string_view("⁻").size();
        else if (digit != std::end(raised))
            power += static_cast<char>('0' + (digit - std::begin(raised))), at += digit->size();
        else
            break;
    }
    if (!power.empty()) text.replace(ten + 2, at - ten - 2, "^{" + power + "}");
    return text;
}

} // namespace

std::string resultsLatex(const Project& p, const std::vector<ResultRow>& rows) {
    std::string out = "\\begin{tabular}{llrl}\n\\hline\ndataset & quantity & value & unit \\\\\n\\hline\n";
    for (const ResultRow& row : rows) {
        const auto d = p.datasets.find(row.dataset);
        const ValueText t = shownValue(row);
        const std::string value =
            !std::isfinite(row.value)
                ? std::string("--")
                : "$" + latexNumber(t.value) + (t.error.empty() ? "" : " \\pm " + latexNumber(t.error)) + "$";
        out += latexText(d ? d->name : "") + " & " + latexText(evaluate::nameOf(row)) + " & " + value +
               " & " + latexText(readableUnit(row.unit)) + " \\\\\n";
    }
    return out + "\\hline\n\\end{tabular}\n";
}

namespace {

// What is of another dataset begins with its name, which stays as it is.
std::string clauseOf(const evaluate::Source& s, DatasetId dataset) {
    if (s.dataset == dataset) return evaluate::asClause(s.sentence);
    return s.sentence.ends_with('.') ? s.sentence.substr(0, s.sentence.size() - 1) : s.sentence;
}

// "a, b and c"
std::string listed(const std::vector<std::string>& all) {
    if (all.size() < 2) return joined(all, "");
    return joined({all.begin(), all.end() - 1}, ", ") + " and " + all.back();
}

} // namespace

std::string methodsText(const Project& p, evaluate::Evaluator& evaluator, const std::vector<ResultRow>& rows,
                        const Cancellation& stop) {
    // Each dataset once with all its analyses; those that went the same way share their sentence.
    std::vector<std::pair<DatasetId, std::vector<AnalysisId>>> wanted;
    for (const ResultRow& row : rows) {
        auto at =
            std::ranges::find(wanted, row.dataset, &std::pair<DatasetId, std::vector<AnalysisId>>::first);
        if (at == wanted.end()) at = wanted.insert(wanted.end(), {row.dataset, {}});
        if (std::ranges::find(at->second, row.analysis) == at->second.end())
            at->second.push_back(row.analysis);
    }
    std::vector<std::pair<std::string, std::vector<std::string>>> told; // what was done, to which datasets
    for (const auto& [dataset, analyses] : wanted) {
        if (stop.stop_requested()) return {};
        const auto d = p.datasets.find(dataset);
        std::vector<std::string> way;
        std::string from;
        for (AnalysisId a : analyses) {
            const auto sources = evaluate::provenance(p, evaluator, {.dataset = dataset, .analysis = a});
            for (std::size_t k = 0; k < sources.size(); ++k) { // each sentence once
                const auto& s = sources[k];
                if (k == 0 && from.empty())
                    from = clauseOf(s, dataset) + (s.detail.empty() ? "" : ", " + s.detail);
                else if (k > 0 && std::ranges::find(way, clauseOf(s, dataset)) == way.end())
                    way.push_back(clauseOf(s, dataset));
            }
        }
        const std::string what = joined(way, "; ");
        auto at = std::ranges::find(told, what, &std::pair<std::string, std::vector<std::string>>::first);
        if (at == told.end()) at = told.insert(told.end(), {what, {}});
        at->second.push_back((d ? d->name : "") + " (" + from + ")");
    }
    std::string out;
    for (const auto& [what, datasets] : told) out += listed(datasets) + ": " + what + ".\n\n";
    return out.empty() ? out : out + "Evaluated with Jointer " JOINTER_VERSION ".";
}

} // namespace jointer
