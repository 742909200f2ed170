// SPDX-License-Identifier: GPL-3.0-or-later
// Strong identities for the parts of a project. An id is never reused; zero means "none".
// The text form is a letter for the type and a number ("d12"), as project files hold it.
#pragma once

#include <charconv>
#include <compare>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>

namespace jointer {

template <char Letter> struct Id {
    std::uint64_t value = 0;

    explicit operator bool() const { return value != 0; }
    auto operator<=>(const Id&) const = default;

    std::string text() const { return value == 0 ? std::string{} : Letter + std::to_string(value); }

    // The id of a text such as "d12"; none when the text is anything else.
    static Id fromText(std::string_view text) {
        Id id;
        if (text.size() < 2 || text.front() != Letter) return id;
        const char* end = text.data() + text.size();
        const auto [stop, error] = std::from_chars(text.data() + 1, end, id.value);
        return error == std::errc{} && stop == end ? id : Id{};
    }
};

using TableId = Id<'t'>;
using ColumnId = Id<'c'>;
using DatasetId = Id<'d'>;
using StepId = Id<'s'>;
using AnalysisId = Id<'a'>;
using FigureId = Id<'f'>;
using ElementId = Id<'e'>;
using StyleId = Id<'h'>;
using UserModelId = Id<'m'>;
using AssetId = Id<'r'>;
using RecipeId = Id<'p'>;

} // namespace jointer

template <char Letter> struct std::hash<jointer::Id<Letter>> {
    std::size_t operator()(jointer::Id<Letter> id) const noexcept {
        return std::hash<std::uint64_t>{}(id.value);
    }
};
