// SPDX-License-Identifier: GPL-3.0-or-later
// Markup by chance, of all that there is.
#pragma once

#include "support/random.h"

#include <string>

namespace jointer::test {

// Random markup that is well-formed, by rule of the grammar.
inline std::string randomMarkup(Random& random, int depth = 0) {
    static const std::vector<std::string> words = {"x", "Depth ",   "mg L", "α", "\\beta ", "10", " − ",
                                                   "e", "\\times ", "塩",   "T", "0.5",     "é"};
    std::string out;
    for (std::size_t k = 0, n = 1 + random.below(4); k < n; ++k) {
        const auto inner = [&] { return "{" + randomMarkup(random, depth + 1) + "}"; };
        switch (depth < 3 ? random.below(12) : 0) {
        case 1:
            out += "x^" + inner();
            break;
        case 2:
            out += "k_" + inner();
            break;
        case 3:
            out += "a^" + inner() + "_" + inner();
            break;
        case 4:
            out += "\\frac" + inner() + inner();
            break;
        case 5:
            out += "\\sqrt" + inner();
            break;
        case 6:
            out += "\\hat" + inner();
            break;
        case 7:
            out += "\\textbf" + inner();
            break;
        case 8:
            out += "\\textit" + inner();
            break;
        case 9:
            out += "\\left(" + randomMarkup(random, depth + 1) + "\\right)";
            break;
        case 10:
            out += "\\sum_" + inner() + "^" + inner();
            break;
        default:
            out += words[random.below(words.size())];
        }
    }
    return out;
}

} // namespace jointer::test
