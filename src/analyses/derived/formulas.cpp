// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/derived/derived.h"
#include "base/text.h"
#include "formula/lines.h"

#include <fmt/format.h>
#include <set>

namespace jointer::analyses {

Result<std::vector<DerivedFormula>> derivedFormulas(std::string_view text) {
    std::vector<DerivedFormula> out;
    std::set<std::string> taken;
    long number = 0;
    for (std::string_view whole : split(text, '\n')) {
        ++number;
        whole = whole.substr(0, whole.find('#'));
        for (std::string_view line : split(whole, ';')) {
            if (trimmed(line).empty()) continue;
            const auto wrong = [&](const std::string& words, long sign = 0) {
                Place place;
                place.line = number;
                place.sign = sign;
                return std::unexpected(Issue{"formula", words, place});
            };
            DerivedFormula f{.line = number};
            std::string_view head, body = line;
            const std::size_t equals = formula::equalsIn(line);
            const bool named = equals != line.npos;
            if (named) head = trimmed(line.substr(0, equals)), body = line.substr(equals + 1);
            if (const auto bracket = head.find('['); bracket != head.npos) {
                if (!head.ends_with(']')) return wrong("A unit in brackets has to stand just before the =.");
                const auto unit = Unit::parse(head.substr(bracket + 1, head.size() - bracket - 2));
                if (!unit) return wrong("The unit in brackets: " + unit.error().text);
                f.wished = *unit;
                head = trimmed(head.substr(0, bracket));
            }
            f.name = named && !head.empty() ? std::string(head)
                     : out.empty()          ? "value"
                                            : fmt::format("value_{}", out.size() + 1);
            if (!taken.insert(f.name).second) return wrong(fmt::format("{} is named twice.", f.name));
            auto read = formula::Expression::parse(body);
            if (!read) {
                Issue issue = read.error();
                issue.place.line = number;
                if (issue.place.sign > 0) issue.place.sign += body.data() - whole.data();
                return std::unexpected(std::move(issue));
            }
            f.expression = std::move(*read);
            out.push_back(std::move(f));
        }
    }
    if (out.empty()) return failure("formula", "Write a formula, such as half_life = ln(2)/k.");
    return out;
}

} // namespace jointer::analyses
