// SPDX-License-Identifier: GPL-3.0-or-later
// Notes: text on the page, with numbers of an analysis in it.
#include "base/text.h"
#include "base/unit_text.h"
#include "figure/page/panel.h"

#include <cmath>
#include <fmt/format.h>

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

std::string filledIn(std::string_view text, const evaluate::AnalysisOutcome& outcome) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const std::size_t close = text[i] == '{' && (i == 0 || (text[i - 1] != '^' && text[i - 1] != '_'))
                                      ? text.find('}', i)
                                      : std::string_view::npos;
        if (close == std::string_view::npos) {
            out += text[i++];
            continue;
        }
        const std::string whole(text.substr(i + 1, close - i - 1));
        const std::size_t colon = std::min(whole.find(':'), whole.size());
        const std::string name = whole.substr(0, colon),
                          form = colon < whole.size() ? whole.substr(colon + 1) : "";
        const analyses::Quantity* quantity = outcome.exists() ? outcome->find(name) : nullptr;
        out += !outcome.exists() ? "–" : quantity ? quantityText(*quantity, form, true) : "{" + whole + "}";
        i = close + 1;
    }
    return out;
}

void drawNote(Page& page, const Element& e, const Panel* panel, const AxisMap* xs, const AxisMap* ys) {
    const Look look = page.lookOf(e);
    TextStyle text = page.textOf(look);
    text.colour = look.colour("colour", text.colour);
    std::string content = look.text("text");
    if (const auto analysis = page.project.analyses.find(AnalysisId::fromText(e.source)))
        content = filledIn(content,
                           page.evaluator.analysis(page.project, *analysis, {.effort = page.target.effort}));
    const double x = look.number("x"), y = look.number("y");
    const std::string anchor = look.text("anchor");
    Point at{x, y};
    if (panel && anchor == "panel")
        at = {panel->area().x + x * panel->area().width, panel->area().bottom() - y * panel->area().height};
    if (panel && anchor == "data" && xs && ys) at = {xs->place(x), ys->place(y)};
    if (!std::isfinite(at.x) || !std::isfinite(at.y)) return;
    const std::string align = look.text("align");
    const HAlign h = align == "right" ? HAlign::Right : align == "centre" ? HAlign::Centre : HAlign::Left;
    const double lineHeight = 1.35 * text.sizePt * kMmPerPt;
    double widest = 0;
    const auto lines = split(content, '\n');
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const SetText set = setText(lines[i], text);
        widest = std::max(widest, set.widthMm);
        page.addText(e.id, placed(set, {at.x, at.y + static_cast<double>(i) * lineHeight}, h, VAlign::Top));
    }
    const double left = h == HAlign::Left ? at.x : h == HAlign::Right ? at.x - widest : at.x - widest / 2;
    page.addRegion(e.id, {left, at.y, widest, lineHeight * static_cast<double>(lines.size())});
}

} // namespace jointer::figure
