// SPDX-License-Identifier: GPL-3.0-or-later
// Brackets between two groups, with a text or the p of their difference; they stand above the data.
#include "figure/marks/grouped.h"
#include "figure/marks/sources.h"
#include "stats/two_samples.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

// "p = 0.012", "p < 0.001"
std::string pText(double p) {
    if (!std::isfinite(p)) return "–";
    if (p < 0.001) return "\\textit{p} < 0.001";
    return fmt::format("\\textit{{p}} = {:.{}f}", p, p < 0.1 ? 3 : 2);
}

class Bracket final : public Mark {
public:
    double from = 1, to = 2, lineMm = 0.2;
    std::string shows = "p";
    std::optional<double> height;
    std::vector<PlaceValues> values;
    std::vector<std::string> names;
    std::size_t storey = 0; // above others that lie in its way

    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range;
        widen(range, std::min(from, to) - 0.5, x);
        widen(range, std::max(from, to) + 0.5, x);
        return range;
    }
    double top() const {
        double highest = -INFINITY;
        for (const PlaceValues& v : values)
            if (v.place >= std::min(from, to) && v.place <= std::max(from, to))
                for (double each : v.values) highest = std::max(highest, each);
        return height.value_or(highest);
    }
    double spread() const {
        double low = INFINITY, high = -INFINITY;
        for (const PlaceValues& v : values)
            for (double each : v.values) {
                low = std::min(low, each);
                high = std::max(high, each);
            }
        return high > low ? high - low : 1;
    }
    // Room for the bracket and its text.
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        if (std::isfinite(top()))
            widen(range, top() + (0.16 + 0.13 * static_cast<double>(storey)) * spread(), y);
        return range;
    }
    void draw(const Frame& frame, Group& into) const override {
        if (!std::isfinite(top())) return;
        const double em = frame.text.sizePt * kMmPerPt;
        const double y = frame.y.place(top()) - (0.9 + 1.9 * static_cast<double>(storey)) * em,
                     foot = 0.45 * em;
        const double x1 = frame.x.place(from), x2 = frame.x.place(to);
        if (!std::isfinite(y + x1 + x2)) return;
        Stroke stroke = strokeOf(lineMm);
        stroke.join = Join::Miter;
        add(into,
            {.lines = {{{{x1, y + foot}, {x1, y}, {x2, y}, {x2, y + foot}}}}, .stroke = stroke, .fill = {}});
        const std::string words = shows == "text" ? label : pText(p());
        TextStyle style = frame.text;
        style.colour = colour;
        addText(into, placed(setText(words, style), {(x1 + x2) / 2, y - 0.25 * em}, HAlign::Centre,
                             VAlign::Bottom));
    }
    double p() const {
        const PlaceValues *a = nullptr, *b = nullptr;
        for (const PlaceValues& v : values) {
            if (v.place == from) a = &v;
            if (v.place == to) b = &v;
        }
        if (!a || !b) return NAN;
        if (shows == "p") return stats::differenceOfMeans(a->values, b->values).p;
        std::vector<double> first, second; // pairs share their row
        for (std::size_t i = 0; i < a->values.size(); ++i)
            for (std::size_t k = 0; k < b->values.size(); ++k)
                if (a->rows[i] != 0 && a->rows[i] == b->rows[k]) {
                    first.push_back(a->values[i]);
                    second.push_back(b->values[k]);
                }
        return stats::differenceOfPairs(first, second).p;
    }
};

// Those that overlap others go above them.
void arrangeBrackets(std::span<Mark* const> marks) {
    std::vector<Bracket*> all;
    for (Mark* m : marks) all.push_back(static_cast<Bracket*>(m));
    std::ranges::stable_sort(all, {}, [](const Bracket* b) { return std::abs(b->to - b->from); });
    for (std::size_t k = 0; k < all.size(); ++k)
        for (std::size_t before = 0; before < k; ++before) {
            const Bracket &a = *all[before], &b = *all[k];
            const bool apart = std::max(a.from, a.to) <= std::min(b.from, b.to) ||
                               std::max(b.from, b.to) <= std::min(a.from, a.to);
            if (!apart) all[k]->storey = std::max(all[k]->storey, a.storey + 1);
        }
}

MarkPtr prepare(const MarkTask& task) {
    auto b = std::make_unique<Bracket>();
    const FoundCurve found = foundCurve(task, b->issues);
    takeFrom(found, task, *b);
    b->colour = task.look.colour("colour", Colour{});
    b->label = task.look.text("label");
    b->named = false;
    b->shows = task.look.text("shows");
    b->lineMm = task.look.millimetres("width");
    if (const double height = task.look.number("height"); std::isfinite(height)) b->height = height;
    if (!found.curve) return b;
    b->values = valuesByPlace(*found.curve);
    b->names = found.curve->xMeaning.categories;
    // Groups by name or by number.
    auto placeOf = [&](const char* key, double fallback) {
        const std::string told = task.look.text(key);
        const auto at = std::ranges::find(b->names, told);
        if (at != b->names.end()) return static_cast<double>(at - b->names.begin() + 1);
        double number = fallback;
        const auto [end, error] = std::from_chars(told.data(), told.data() + told.size(), number);
        return error == std::errc() ? number : fallback;
    };
    b->from = placeOf("from", 1);
    b->to = placeOf("to", 2);
    return b;
}

} // namespace

MarkKind bracketMark() {
    std::vector<Setting> own = {
        word("from", "From", "The first group, by its name or number.", {.whenEmpty = "the first"}),
        word("to", "To", "The other group.", {.whenEmpty = "the second"}),
        choice("shows", "Shows",
               {{"p", "p of the means (Welch)"}, {"paired", "p of pairs"}, {"text", "the text"}},
               "What stands above."),
        openNumber("height", "Height", "At which value it stands; empty goes with the data.",
                   {.unit = "y", .group = kPlaceGroup, .whenEmpty = "above the data"}),
        number("width", "Line", 0.6, "Line width.",
               {.unit = "pt", .lowest = 0.05, .highest = 10, .group = kLooksGroup})};
    std::vector<Setting> common = commonSettings();
    common[0].label = "Text";
    common[0].help = "What stands above, where the text is shown.";
    common[0].whenEmpty = "nothing";
    return {
        .info = {.key = "bracket",
                 .name = "Bracket of groups",
                 .purpose =
                     "Between two groups, with the p of their difference or a text; it stands above the data",
                 .group = "Marks",
                 .settings = together({own, common})},
        .takes = Takes::Groups,
        .prepare = prepare,
        .arrange = arrangeBrackets};
}

} // namespace jointer::figure
