// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/answer_marks.h"

#include "analyses/groups/groups.h"
#include "app/stages/plot_marks.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "fit/residual_tests.h"

#include <fmt/format.h>

namespace jointer::app {

namespace {

constexpr std::size_t kMostBrackets = 6;

} // namespace

bool readsSamples(const Analysis& a) {
    const analyses::AnalysisKind* kind = analyses::kindOf(a);
    return kind && kind->takesSamples && !a.analyses.empty();
}

void addReadings(const Analysis& a, const Dataset& d, const std::string& stressed,
                 std::vector<Element>& marks) {
    const QColor colour(text(shownColour(d.colour)));
    marks.push_back(mark("curve", a.analyses.front().text(),
                         {{"width", 1.6},
                          {"colour", str(colour)},
                          {"label", "-"},
                          {"band", "prediction"},
                          {"member", Value(Reference{d.id.text()})}}));
    marks.push_back(mark("readings", a.id.text(),
                         {{"colour", str(theme().copper)},
                          {"outside-colour", str(theme().warning)},
                          {"stressed", Value(stressed)},
                          {"label", "-"}}));
}

std::vector<Element> groupMarks(const Dataset& d) {
    const Value colour = str(QColor(text(shownColour(d.colour))));
    return {mark("boxes", d.id.text(), {{"colour", colour}, {"outliers", Value(false)}, {"label", "-"}}),
            mark("strips", d.id.text(), {{"colour", colour}, {"label", "-"}})};
}

void addBrackets(PlotContent& c, const Analysis& a, const Dataset& d) {
    std::erase_if(c.marks, [](const Element& m) { return m.kind == "bracket"; });
    const auto outcome = c.evaluator->analysis(c.project, a, {.effort = c.effort});
    const analyses::GroupsDetail* detail = outcome.exists() ? analyses::groupsDetail(*outcome) : nullptr;
    if (!detail || detail->design.factors) return;
    std::vector<stats::PairResult> pairs;
    for (const analyses::GroupTest& t : detail->tests) {
        pairs.insert(pairs.end(), t.result.pairs.begin(), t.result.pairs.end());
        if (detail->design.groups.size() == 2 && t.result.pairs.empty())
            pairs.push_back({0, 1, t.result.difference, t.result.low, t.result.high, t.result.p});
    }
    std::ranges::stable_sort(pairs, {}, &stats::PairResult::p);
    if (pairs.size() > kMostBrackets) pairs.resize(kMostBrackets);
    const bool few = detail->design.groups.size() <= 3;
    for (const stats::PairResult& p : pairs) {
        std::string words = fit::probabilityText(p.p);
        if (few && std::isfinite(p.difference))
            words = fmt::format("{} ({} … {}), {}", readableNumber(p.difference, 3), readableNumber(p.low, 3),
                                readableNumber(p.high, 3), words);
        c.marks.push_back(mark("bracket", d.id.text(),
                               {{"from", Value(std::to_string(p.a + 1))},
                                {"to", Value(std::to_string(p.b + 1))},
                                {"shows", "text"},
                                {"colour", str(theme().ink)},
                                {"label", Value(words)}}));
    }
}

} // namespace jointer::app
