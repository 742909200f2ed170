// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/companion_names.h"

#include "base/text.h"

#include <array>

namespace jointer {

namespace {

struct Word {
    std::string_view word;
    CompanionKind kind;
};

constexpr std::array kWords = {
    Word{"fit", CompanionKind::Fit},
    Word{"fitted", CompanionKind::Fit},
    Word{"model", CompanionKind::Fit},
    Word{"calculated", CompanionKind::Fit},
    Word{"calc", CompanionKind::Fit},
    Word{"envelope", CompanionKind::Fit},
    Word{"baseline", CompanionKind::Background},
    Word{"background", CompanionKind::Background},
    Word{"residual", CompanionKind::Residuals},
    Word{"residuals", CompanionKind::Residuals},
    Word{"component", CompanionKind::Part},
};

bool isBreak(char c) {
    return c == ' ' || c == '_';
}

// The word is the whole name, its beginning or its end.
bool tells(std::string_view name, std::string_view word) {
    if (name == word) return true;
    if (name.size() <= word.size()) return false;
    return (name.starts_with(word) && isBreak(name[word.size()])) ||
           (name.ends_with(word) && isBreak(name[name.size() - word.size() - 1]));
}

} // namespace

std::optional<CompanionKind> companionKind(std::string_view name) {
    const std::string lower = lowerAscii(name);
    for (const Word& w : kWords)
        if (tells(lower, w.word)) return w.kind;
    return {};
}

} // namespace jointer
