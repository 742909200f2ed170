// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/text_column.h"

#include "base/text.h"

namespace jointer {

using namespace draw;

namespace {

// A word that is longer than a line is broken; no sign of markup is parted.
std::string_view asMuchAsFits(std::string_view word, double room, const TextStyle& style) {
    while (setText(word, style).widthMm > room && word.size() > 1) {
        std::size_t cut = word.size() / 2;
        while (cut > 1 && ((word[cut] & 0xC0) == 0x80 || word[cut - 1] == '\\')) --cut;
        word = word.substr(0, cut);
    }
    return word;
}

} // namespace

void TextColumn::heading(const std::string& words) {
    space(0.7);
    paragraph(literal(words), kReportAccent, true);
    space(0.15);
}

void TextColumn::paragraph(const std::string& markup, Colour colour, bool bold, double indent) {
    const TextStyle style{.sizePt = size_, .colour = colour, .bold = bold};
    const double blank = setText("n n", style).widthMm - setText("nn", style).widthMm;
    std::vector<SetText> line;
    double used = 0;
    const auto flush = [&] {
        double x = x_ + indent;
        for (const SetText& word : line) {
            put(word, x);
            x += word.widthMm + blank;
        }
        if (!line.empty()) y_ += lineHeight();
        line.clear();
        used = 0;
    };
    for (std::string_view whole : split(markup, ' '))
        for (std::string_view rest = whole; !rest.empty();) {
            const std::string_view word = asMuchAsFits(rest, width_ - indent, style);
            rest.remove_prefix(word.size());
            SetText set = setText(word, style);
            if (!line.empty() && used + set.widthMm > width_ - indent) flush();
            used += set.widthMm + blank;
            line.push_back(std::move(set));
        }
    flush();
}

void TextColumn::row(const std::string& name, const std::string& value, const std::string& state, bool good) {
    const TextStyle quiet{.sizePt = size_, .colour = kReportQuiet},
        ink{.sizePt = size_, .colour = kReportInk}, doubt{.sizePt = size_, .colour = kReportDoubt};
    const SetText left = setText(name, ink), right = setText(value, ink),
                  word = setText(state, good ? quiet : doubt);
    if (left.widthMm > width_) { // a name that is longer than a line
        paragraph(name, kReportInk);
        return row({}, value, state, good);
    }
    const double stateRoom = state.empty() ? 0 : word.widthMm + 2;
    const bool narrow = left.widthMm + right.widthMm + 2 > width_ - stateRoom;
    put(left, x_);
    if (narrow) y_ += lineHeight();
    put(right, x_ + width_ - stateRoom - right.widthMm);
    put(word, x_ + width_ - word.widthMm);
    y_ += lineHeight();
}

void TextColumn::put(const SetText& set, double x) {
    for (Item& part : placed(set, {x, y_ + 0.75 * lineHeight()}, HAlign::Left, VAlign::Baseline))
        items_.push_back(std::move(part));
}

} // namespace jointer
