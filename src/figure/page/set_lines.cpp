// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/set_lines.h"

#include <algorithm>
#include <string>

namespace jointer::figure {

using namespace draw;

double widthOf(const std::vector<SetText>& lines) {
    double widest = 0;
    for (const SetText& l : lines) widest = std::max(widest, l.widthMm);
    return widest;
}

double heightOf(const std::vector<SetText>& lines, double em) {
    return lines.empty() ? 0 : lines.back().heightMm() + 1.2 * em * static_cast<double>(lines.size() - 1);
}

std::vector<SetText> wrapped(std::string_view markup, const TextStyle& style, double widthMm) {
    std::vector<std::string> words = {""};
    int depth = 0;
    for (std::size_t i = 0; i < markup.size(); ++i) {
        const char c = markup[i];
        if (c == '{') ++depth;
        if (c == '}') --depth;
        if (c == ' ' && depth <= 0 && (i == 0 || markup[i - 1] != '\\'))
            words.emplace_back();
        else
            words.back() += c;
    }
    std::vector<SetText> lines;
    std::string now;
    for (const std::string& word : words) {
        if (word.empty()) continue;
        const std::string longer = now.empty() ? word : now + " " + word;
        if (!now.empty() && setText(longer, style).widthMm > widthMm) {
            lines.push_back(setText(now, style));
            now = word;
        } else
            now = longer;
    }
    lines.push_back(setText(now, style));
    return lines;
}

} // namespace jointer::figure
