// SPDX-License-Identifier: GPL-3.0-or-later
// Samples on a standard curve: from each reading a thin line to the curve and down to its x, where the
// interval stands as a bar. Readings that do not meet the curve within the standards end at its edge, with
// the words.
#include "analyses/unknowns/unknowns.h"
#include "draw/markup.h"
#include "figure/marks/parts.h"
#include "figure/marks/sources.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

constexpr std::size_t kMostColours = 8; // beyond, all are of one
constexpr double kBeyond = 0.12;        // how far readings outside may widen the axis

class Readings final : public Mark {
public:
    analyses::ResultPtr result;
    const analyses::UnknownsDetail* detail = nullptr;
    double lineMm = 0.2;
    bool names = true, bars = true, outside = true, ofPalette = true;
    Colour outsideColour{};
    std::string stressed, paletteKey;

    bool isEmpty() const override { return !detail || detail->samples.empty(); }

    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range;
        if (detail) widen(range, detail->low, x), widen(range, detail->high, x);
        return range;
    }
    // Readings of the standards, and a little beyond where samples are there.
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        if (!detail) return range;
        double low = INFINITY, high = -INFINITY;
        for (const analyses::StandardBack& s : detail->standards)
            low = std::min(low, s.reading), high = std::max(high, s.reading);
        const double more = kBeyond * (high - low);
        for (const analyses::Sample& s : detail->samples)
            widen(range, std::clamp(s.meanReading, low - more, high + more), y);
        return range;
    }

    void draw(const Frame& frame, Group& into) const override {
        if (!detail) return;
        Heights taken{.lines = linesOf(frame), .words = {}};
        for (std::size_t k = 0; k < detail->samples.size(); ++k) {
            const analyses::Sample& s = detail->samples[k];
            if (s.state == fit::ReadState::InRange)
                drawRead(frame, s, colourOf(k), taken, into);
            else if (outside)
                drawOutside(frame, s, taken, into);
        }
    }
    void key(Rect r, Group& into) const override {
        const double middle = r.y + r.height / 2;
        add(into,
            {.lines = {{{{r.x, middle}, {r.right(), middle}}}}, .stroke = strokeOf(lineMm), .fill = {}});
    }

private:
    struct Heights {
        std::vector<double> lines, words; // those that stand already
    };

    Colour colourOf(std::size_t k) const {
        const bool few = ofPalette && detail->samples.size() <= kMostColours;
        const auto& own = palette(paletteKey);
        return few ? Colour::fromText(own[k % own.size()]) : colour;
    }

    void drawRead(const Frame& frame, const analyses::Sample& s, Colour c, Heights& taken,
                  Group& into) const {
        const Point p = frame.at(s.x, s.meanReading);
        if (!frame.holds(p, 0.1)) return;
        const double bottom = frame.area.bottom();
        Stroke stroke{.widthMm = s.name == stressed ? 2 * lineMm : lineMm, .colour = c};
        add(into, {.lines = {{{{frame.area.x, p.y}, p, {p.x, bottom}}}}, .stroke = stroke, .fill = {}});
        Symbols dot;
        dot.shape = SymbolShape::Circle;
        dot.sizeMm = 3 * lineMm + 0.5;
        dot.fill = c;
        dot.stroke.reset();
        dot.places = {p};
        add(into, std::move(dot));
        if (bars) drawBar(frame, s, c, into);
        if (names) drawName(frame, p.y, s.name, c, HAlign::Left, taken, into);
    }

    // The interval, on the axis.
    void drawBar(const Frame& frame, const analyses::Sample& s, Colour c, Group& into) const {
        const double one = s.low / s.dilution, other = s.high / s.dilution;
        const double low = std::min(one, other), high = std::max(one, other);
        const double a = std::clamp(frame.x.placeOrStart(low), frame.area.x, frame.area.right()),
                     b = std::clamp(frame.x.placeOrStart(high), frame.area.x, frame.area.right());
        const double bottom = frame.area.bottom(), thick = 0.5 * frame.text.sizePt * kMmPerPt;
        Colour fill = c;
        fill.a = 150;
        addFilled(into, {{{a, bottom}, {b, bottom}, {b, bottom - thick}, {a, bottom - thick}}, true}, fill);
    }

    void drawOutside(const Frame& frame, const analyses::Sample& s, Heights& taken, Group& into) const {
        const double em = frame.text.sizePt * kMmPerPt, place = frame.y.place(s.meanReading);
        if (!std::isfinite(place)) return;
        const double y = std::clamp(place, frame.area.y + 1.2 * em, frame.area.bottom() - 0.4 * em);
        Stroke stroke{.widthMm = lineMm, .colour = outsideColour};
        stroke.dashMm = {1.2, 0.8};
        const double right =
            s.state == fit::ReadState::Below ? frame.area.x + 0.25 * frame.area.width : frame.area.right();
        add(into, {.lines = {{{{frame.area.x, y}, {right, y}}}}, .stroke = stroke, .fill = {}});
        if (names)
            drawName(frame, y, s.name + ": " + std::string(fit::readStateWords(s.state)), outsideColour,
                     HAlign::Left, taken, into);
    }

    // Where the lines of all samples stand.
    std::vector<double> linesOf(const Frame& frame) const {
        std::vector<double> out;
        for (const analyses::Sample& s : detail->samples) out.push_back(frame.y.place(s.meanReading));
        return out;
    }

    // Above its line at the left, where no other stands and no other line would strike it through.
    void drawName(const Frame& frame, double y, const std::string& name, Colour c, HAlign side,
                  Heights& taken, Group& into) const {
        const double em = frame.text.sizePt * kMmPerPt;
        const double room = 1.15 * em;
        const bool struck = std::ranges::any_of(
                       taken.lines, [&](double other) { return other < y - 1e-9 && other > y - room; }),
                   over = std::ranges::any_of(taken.words,
                                              [&](double other) { return std::abs(other - y) < room; });
        if ((struck || over) && name != stressed) return;
        taken.words.push_back(y);
        TextStyle style = frame.text;
        style.colour = c;
        style.sizePt *= 0.9;
        addText(into, placed(setText(name, style), {frame.area.x + 0.5 * em, y - 0.2 * em}, side,
                             VAlign::Bottom));
    }
};

MarkPtr prepareReadings(const MarkTask& task) {
    auto r = std::make_unique<Readings>();
    const FoundAnalysis found = foundAnalysis(task, r->issues);
    takeFrom(found, task, *r);
    r->lineMm = LineLook(task.look).widthMm;
    r->names = task.look.flag("names");
    r->bars = task.look.flag("bars");
    r->outside = task.look.flag("outside");
    r->ofPalette = task.look.text("colours") == "palette";
    r->outsideColour = task.look.colour("outside-colour", Colour::fromText("#9a6a00"));
    r->stressed = task.look.text("stressed");
    r->paletteKey = task.palette;
    if (!found.result) return r;
    r->result = found.result;
    r->detail = analyses::unknownsDetail(*found.result);
    if (!r->detail) {
        r->issues.push_back({"no-samples", "This analysis has read no samples on a standard curve.", {}});
        return r;
    }
    r->xMeaning = r->detail->xMeaning;
    r->yMeaning = r->detail->yMeaning;
    return r;
}

} // namespace

MarkKind readingsMark() {
    std::vector<Setting> line = lineSettings();
    line[0].fallback = 0.8;
    for (Setting& s : line) s.group = kLooksGroup;
    Setting edge = line[0];
    std::vector<Setting> own = {
        edge,
        choice("colours", "Colours", {{"palette", "of the palette"}, {"one", "one"}},
               "How samples are told apart; of many all are of one colour.", {.group = kLooksGroup}),
        flag("names", "Names", true, "Each sample’s name at its line, where there is room.",
             {.group = kShownGroup}),
        flag("bars", "Intervals", true, "As bars on the axis.", {.group = kShownGroup}),
        flag("outside", "Outside", true, "Readings beyond the standards, with the words.",
             {.group = kShownGroup}),
        word("stressed", "Stressed sample", "Its name.", {.hidden = true}),
        word("outside-colour", "Colour outside", "Of readings beyond the standards.", {.hidden = true})};
    std::vector<Setting> all = together({commonSettings("the name of the analysis"), own});
    return {.info = {.key = "readings",
                     .name = "Readings",
                     .purpose = "Samples on a standard curve, from their readings down to what they hold",
                     .group = "Marks",
                     .settings = std::move(all)},
            .takes = Takes::Analysis,
            .prepare = prepareReadings};
}

} // namespace jointer::figure
