// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/layout.h"

#include "base/text.h"
#include "draw/markup.h"
#include "figure/panel_layout.h"

#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

std::string filledIn(std::string_view text, const evaluate::FitResult& fit) {
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
        std::string shown = "{" + name + "}";
        if (fit.good()) {
            const fit::FitReport& r = *fit.report;
            auto number = [&](double value, double error, const std::string& unit) {
                const ValueText t = readableWithError(value, error);
                shown = t.value + (t.error.empty() ? "" : " ± " + t.error) +
                        (unit.empty() ? "" : "\u2009" + draw::unitMarkup(unit));
                if (!t.error.empty() && !unit.empty())
                    shown = "(" + t.value + " ± " + t.error + ")\u2009" + draw::unitMarkup(unit);
            };
            for (std::size_t k = 0; k < r.parameters.size(); ++k)
                if (r.parameters[k].name == name)
                    number(r.parameters[k].value, r.parameters[k].se,
                           models::unitText(fit.model->parameters()[k].unit, fit.points->xMeaning.unit,
                                            fit.points->yMeaning.unit));
            for (const fit::DerivedResult& d : r.derived)
                if (d.name == name) number(d.value, d.se, d.unit);
            if (name == "r2") shown = fmt::format("{:.4f}", r.r2);
            if (name == "n") shown = std::to_string(r.n);
        } else
            shown = "–";
        out += shown;
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
