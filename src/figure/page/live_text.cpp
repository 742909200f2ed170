// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/live_text.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "draw/markup.h"

#include <algorithm>
#include <cctype>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <functional>

namespace jointer::figure {

using namespace draw;

namespace {

// "1.234(5)": the error in the last places of the value.
std::string inParentheses(double value, double error, int digits) {
    if (!(error > 0) || !std::isfinite(value)) return readableNumber(value);
    int decimals = digits - 1 - static_cast<int>(std::floor(std::log10(error)));
    const double unit = std::pow(10.0, -decimals);
    if (std::round(error / unit) >= std::pow(10.0, digits)) --decimals; // 9.96 is 10
    const double shown = std::round(error * std::pow(10.0, decimals));
    std::string text = fmt::format("{:.{}f}", value, std::clamp(decimals, 0, 15));
    if (text.starts_with('-')) text = "−" + text.substr(1);
    const double error0 = decimals >= 0 ? shown : shown * std::pow(10.0, -decimals);
    return fmt::format("{}({:.0f})", text, error0);
}

// With so many digits of the error.
std::string withDigits(double value, double error, int digits) {
    if (!(error > 0)) return fmt::format("{:.{}g}", value, std::clamp(digits, 1, 15));
    const int decimals = std::clamp(digits - 1 - static_cast<int>(std::floor(std::log10(error))), 0, 15);
    std::string v = fmt::format("{:.{}f}", value, decimals);
    if (v.starts_with('-')) v = "−" + v.substr(1);
    return fmt::format("{} ± {:.{}f}", v, error, decimals);
}

} // namespace

// "2.31 ± 0.04 cm", or "(2.31 ± 0.04) cm" where both are there.
std::string quantityText(const analyses::Quantity& q, std::string_view form, bool withUnit) {
    if (q.key == "r2" && form.empty()) return fmt::format("{:.4f}", q.value);
    std::string number;
    const bool brackets = form.ends_with("()");
    if (brackets) form.remove_suffix(2);
    const auto digits = parseNumber(form);
    if (brackets)
        number = inParentheses(q.value, q.se, digits ? static_cast<int>(*digits) : 1);
    else if (digits)
        number = withDigits(q.value, q.se, static_cast<int>(*digits));
    else
        number = readableWithError(q.value, q.se).text();
    if (q.unit.empty() || !withUnit) return number;
    const bool both = number.find(" ± ") != number.npos;
    return (both ? "(" + number + ")" : number) + "\u2009" + unitMarkup(q.unit);
}

namespace {

// What stands for a name; nothing: it is not known.
using Lookup = std::function<std::optional<std::string>(const std::string& name, const std::string& form)>;

// Whether a brace belongs to the markup: behind ^, _, a command, or an argument of one.
bool isMarkup(std::string_view text, std::size_t brace) {
    if (brace == 0) return false;
    const char before = text[brace - 1];
    if (before == '^' || before == '_' || before == ']') return true;
    std::size_t k = brace;
    while (k > 0 && std::isalpha(static_cast<unsigned char>(text[k - 1]))) --k;
    return k < brace && k > 0 && text[k - 1] == '\\';
}

std::string replaced(std::string_view text, const Lookup& look) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const bool opens = text[i] == '{' && !isMarkup(text, i) && (i == 0 || text[i - 1] != '\\');
        const std::size_t close = opens ? text.find_first_of("{}", i + 1) : text.npos;
        if (close == text.npos || text[close] == '{') {
            out += text[i++];
            continue;
        }
        const std::string whole(text.substr(i + 1, close - i - 1));
        const std::size_t colon = std::min(whole.find(':'), whole.size());
        const auto value = look(whole.substr(0, colon), colon < whole.size() ? whole.substr(colon + 1) : "");
        out += value ? *value : "{" + whole + "}";
        i = close + 1;
    }
    return out;
}

std::string today() {
    const auto day = std::chrono::floor<std::chrono::days>(std::chrono::system_clock::now());
    const std::chrono::year_month_day date(day);
    return fmt::format("{}-{:02}-{:02}", static_cast<int>(date.year()), static_cast<unsigned>(date.month()),
                       static_cast<unsigned>(date.day()));
}

// What an element speaks of.
class Subject {
public:
    Subject(const Project& project, evaluate::Evaluator& evaluator, const Element& e, evaluate::Effort effort)
        : project_(project), evaluator_(evaluator), effort_(effort),
          analysis_(project.analyses.find(AnalysisId::fromText(e.source))),
          dataset_(project.datasets.find(DatasetId::fromText(e.source))) {
        if (analysis_ && !dataset_ && !analysis_->inputs.empty())
            dataset_ = project.datasets.find(analysis_->inputs.front().dataset);
    }

    std::optional<std::string> value(const std::string& name, const std::string& form) {
        if (const std::size_t slash = name.find('/'); slash != name.npos)
            return ofOther(name.substr(0, slash), name.substr(slash + 1), form);
        if (analysis_)
            if (auto found = ofAnalysis(*analysis_, name, form)) return found;
        if (name == "date") return today();
        if (name == "project") return literal(project_.title);
        if (!dataset_) return {};
        if (name == "name") return literal(dataset_->name);
        if (name == "n") return std::to_string(count(*dataset_));
        const bool bare = name.ends_with('.');
        const std::string_view wanted =
            bare ? std::string_view(name).substr(0, name.size() - 1) : std::string_view(name);
        for (const Attribute& a : dataset_->attributes)
            if (a.name == wanted)
                return literal(a.value) + (bare || a.unit.empty() ? "" : "\u2009" + unitMarkup(a.unit));
        return {};
    }

    std::vector<LiveName> names() {
        std::vector<LiveName> out;
        const auto add = [&](const std::string& name) {
            if (const auto now = value(name, "")) out.push_back({name, plainText(*now)});
        };
        if (analysis_) {
            const auto outcome = evaluator_.analysis(project_, *analysis_, {.effort = effort_});
            if (outcome.exists()) {
                for (const analyses::Quantity& q : outcome->quantities) add(q.key);
                for (const analyses::Quantity& q : outcome->quality) add(q.key);
            }
        }
        for (const char* name : {"name", "n", "date", "project"}) add(name);
        if (dataset_)
            for (const Attribute& a : dataset_->attributes) add(a.name);
        return out;
    }

private:
    std::size_t count(const Dataset& d) {
        const auto curve = evaluator_.measured(project_, d.id).value;
        std::size_t n = 0;
        for (std::size_t k = 0; curve && k < curve->size(); ++k)
            n += !curve->isExcluded(k) && std::isfinite(curve->y[k]);
        return n;
    }
    std::optional<std::string> ofAnalysis(const Analysis& a, const std::string& name,
                                          const std::string& form) {
        const auto outcome = evaluator_.analysis(project_, a, {.effort = effort_});
        if (!outcome.exists()) return "–";
        const analyses::Quantity* q = outcome->find(name);
        if (!q) return {};
        return quantityText(*q, form, true);
    }
    std::optional<std::string> ofOther(const std::string& analysis, const std::string& name,
                                       const std::string& form) {
        for (const auto& a : project_.analyses)
            if (a->name == analysis)
                if (auto found = ofAnalysis(*a, name, form)) return found;
        for (const auto& d : project_.datasets) {
            if (d->name != analysis) continue;
            for (const auto& a : analysesOf(project_, d->id))
                if (auto found = ofAnalysis(*a, name, form)) return found;
            for (const Attribute& a : d->attributes)
                if (a.name == name)
                    return literal(a.value) + (a.unit.empty() ? "" : "\u2009" + unitMarkup(a.unit));
        }
        return {};
    }

    const Project& project_;
    evaluate::Evaluator& evaluator_;
    evaluate::Effort effort_;
    std::shared_ptr<const Analysis> analysis_;
    std::shared_ptr<const Dataset> dataset_;
};

} // namespace

std::string filledIn(std::string_view text, const evaluate::AnalysisOutcome& outcome) {
    return replaced(text,
                    [&](const std::string& name, const std::string& form) -> std::optional<std::string> {
                        if (!outcome.exists()) return "–";
                        const analyses::Quantity* q = outcome->find(name);
                        if (!q) return {};
                        return quantityText(*q, form, true);
                    });
}

std::string liveText(Page& page, const Element& e, std::string_view text) {
    if (text.find('{') == text.npos) return std::string(text);
    Subject subject(page.project, page.evaluator, e, page.target.effort);
    return replaced(text, [&](const std::string& name, const std::string& form) {
        auto value = subject.value(name, form);
        const bool isName = !name.empty() && std::ranges::all_of(name, [](char c) {
            return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == '/' || c == ' ' ||
                   c == '.';
        });
        const auto sentence =
            fmt::format("“{{{}}}” in a text stands for nothing that the project knows.", name);
        const bool said =
            std::ranges::any_of(page.out.issues, [&](const Issue& i) { return i.text == sentence; });
        if (!value && !said && isName && name.size() > 1) page.say("lost-value", sentence);
        return value;
    });
}

std::vector<LiveName> liveNames(const Project& project, evaluate::Evaluator& evaluator,
                                const Element& element) {
    return Subject(project, evaluator, element, evaluate::Effort::Full).names();
}

} // namespace jointer::figure
