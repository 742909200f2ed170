// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/formula_label.h"

#include "app/canvas/work_figure.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "draw/markup.h"
#include "formula/expression.h"
#include "formula/lines.h"
#include "paint/painter.h"

#include <QPainter>
#include <algorithm>

namespace jointer::app {

namespace {

constexpr double kTextPt = 9.5;
constexpr int kLeading = 6;      // pixels between lines
constexpr std::size_t kMost = 4; // lines; the rest is in the tooltip

draw::TextStyle lettering() {
    const QColor ink = theme().ink;
    return {
        .family = "window", .sizePt = kTextPt, .colour = draw::Colour::fromText(ink.name().toStdString())};
}

// The markup cut at plus and minus signs outside of braces and parentheses.
std::vector<std::string> cut(const std::string& markup) {
    std::vector<std::string> out = {""};
    int depth = 0;
    for (std::size_t i = 0; i < markup.size(); ++i) {
        const char c = markup[i];
        depth += c == '{' || c == '(' ? 1 : c == '}' || c == ')' ? -1 : 0;
        const bool sign =
            depth == 0 && i > 0 && markup[i - 1] == ' ' && (c == '+' || markup.compare(i, 3, "−") == 0);
        if (sign) out.emplace_back();
        out.back() += c;
    }
    return out;
}

} // namespace

FormulaLabel::FormulaLabel(QWidget* parent) : QWidget(parent) {
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    setAccessibleName(tr("Formula"));
}

void FormulaLabel::showFormula(const std::string& formula) {
    const auto expression = formula::parseLines(formula);
    setVisible(expression.has_value()); // where it is typed stands what is wrong
    if (!expression) return;
    auto pieces = cut("y = " + formula::toMarkup(*expression));
    setToolTip(text(formula));
    if (pieces == pieces_) return;
    pieces_ = std::move(pieces);
    updateGeometry();
    update();
}

namespace {

// At blanks outside of braces: what is raised or lowered stays with its base.
std::vector<std::string> words(const std::string& markup) {
    std::vector<std::string> out = {""};
    int depth = 0;
    for (const char c : markup) {
        depth += c == '{' ? 1 : c == '}' ? -1 : 0;
        out.back() += c;
        if (c == ' ' && depth == 0) out.emplace_back();
    }
    return out;
}

} // namespace

std::vector<std::string> FormulaLabel::lines(int width) const {
    std::vector<std::string> out;
    auto fits = [&](const std::string& line) {
        return draw::setText(line, lettering()).widthMm / kMmPerPixel <= width;
    };
    auto add = [&](const std::string& piece) {
        if (!out.empty() && fits(out.back() + piece))
            out.back() += piece;
        else
            out.push_back(out.empty() ? piece : "\u2003" + piece);
    };
    for (const std::string& piece : pieces_)
        if (fits("\u2003" + piece))
            add(piece);
        else
            for (const std::string& word : words(piece)) add(word);
    if (out.size() > kMost) {
        out.resize(kMost);
        out.back() += " …";
    }
    return out;
}

int FormulaLabel::heightForWidth(int width) const {
    double height = 2;
    for (const std::string& line : lines(width))
        height += draw::setText(line, lettering()).heightMm() / kMmPerPixel + kLeading;
    return static_cast<int>(height);
}

QSize FormulaLabel::sizeHint() const {
    return {200, heightForWidth(std::max(120, width()))};
}

void FormulaLabel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    draw::DisplayList list;
    list.widthMm = width() * kMmPerPixel;
    list.heightMm = height() * kMmPerPixel;
    double y = 2 * kMmPerPixel;
    for (const std::string& line : lines(width())) {
        const draw::SetText set = draw::setText(line, lettering());
        for (draw::Item& part : draw::placed(set, {0, y}, draw::HAlign::Left, draw::VAlign::Top))
            list.items.push_back(std::move(part));
        y += set.heightMm() + kLeading * kMmPerPixel;
    }
    // As outlines: hinted letters would run into what follows them.
    painter.setRenderHint(QPainter::Antialiasing);
    painter.scale(1 / kMmPerPixel, 1 / kMmPerPixel);
    paint::paintList(painter, list, paint::Medium::Picture);
}

} // namespace jointer::app
