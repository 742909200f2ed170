// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/layout.h"

#include "base/text.h"
#include "draw/markup.h"
#include "figure/panel_layout.h"

#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

namespace {

// "2.31 ± 0.04 cm", or "(2.31 ± 0.04) cm" where both are there.
std::string numberText(const analyses::Quantity& q) {
    if (q.key == "r2") return fmt::format("{:.4f}", q.value);
    const ValueText t = readableWithError(q.value, q.se);
    const std::string number = t.value + (t.error.empty() ? "" : " ± " + t.error);
    if (q.unit.empty()) return number;
    return (t.error.empty() ? number : "(" + number + ")") + "\u2009" + draw::unitMarkup(q.unit);
}

} // namespace

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
        const std::string name(text.substr(i + 1, close - i - 1));
        const analyses::Quantity* quantity = outcome.exists() ? outcome->find(name) : nullptr;
        out += !outcome.exists() ? "–" : quantity ? numberText(*quantity) : "{" + name + "}";
        i = close + 1;
    }
    return out;
}

draw::Rect pageOf(const Project& project, const Figure& figure) {
    const auto style = project.styles.find(figure.style);
    const Look look(kindOf("figure"), figure.settings, style.get());
    return {0, 0, look.number("width"), look.number("height")};
}

Layout layOut(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
              const Target& target) {
    const auto style = project.styles.find(figure.style);
    const Look look(kindOf("figure"), figure.settings, style.get());
    Page page{project, figure, evaluator, target, style.get(), look, {}};
    page.text = {.family = look.text("family"),
                 .sizePt = look.number("text-size"),
                 .colour = Colour::fromText(look.text("colour"))};
    page.out.list.widthMm = look.number("width");
    page.out.list.heightMm = look.number("height");
    const double margin = look.number("margin");
    const Rect space{margin, margin, std::max(5.0, page.out.list.widthMm - 2 * margin),
                     std::max(5.0, page.out.list.heightMm - 2 * margin)};
    for (const Element& e : figure.elements)
        if (e.kind == "panel") PanelLayout(page, e, space).run();
    return std::move(page.out);
}

} // namespace jointer::figure
