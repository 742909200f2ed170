// SPDX-License-Identifier: GPL-3.0-or-later
// Measured x, y and z in a panel seen from a side, with lines to the surface that was fitted to them; what
// lies behind it is faint.
#include "figure/marks/classes.h"
#include "figure/relief.h"

#include <cmath>
#include <map>

namespace jointer::figure {

using namespace draw;
using namespace describe;

namespace {

class ReliefPoints final : public Mark {
public:
    struct Sample {
        Point at{}, foot{}; // in the plane; the foot NaN: no line
        double depth = 0;
        bool behind = false;
        std::size_t point = 0;
    };
    std::vector<Sample> samples; // from the farthest
    std::vector<std::uint32_t> rows;
    std::shared_ptr<const Classes> classes;
    SymbolLook symbol;
    double lineMm = 0.2;
    Colour lineColour;
    std::string behind;

    std::optional<Range> extentX(const Scale&) const override { return {}; }
    std::optional<Range> extentY(const Scale&, const Range&) const override { return {}; }
    bool hasExtent() const override { return false; }
    bool staysInside() const override { return false; }
    bool isEmpty() const override { return samples.empty(); }
    const ColourScale* colourScale() const override {
        return classes && classes->gradient() ? &*classes->gradient() : nullptr;
    }

    void draw(const Frame& frame, Group& into) const override {
        for (const bool hidden : {true, false}) { // those behind are covered by those before the surface
            if (hidden && behind == "hidden") continue;
            drawLines(frame, hidden, into);
            drawSymbols(frame, hidden, into);
        }
    }

    void key(Rect box, Group& into) const override {
        Symbols s = symbol.symbols(colour);
        s.places = {{box.x + box.width / 2, box.y + box.height / 2}};
        add(into, std::move(s));
    }
    std::vector<std::string> classLabels() const override {
        return classes ? classes->labels() : std::vector<std::string>();
    }
    void classKey(std::size_t k, Rect box, Group& into) const override {
        add(into, classes->keySymbols(k, symbol, colour, box));
    }
    std::function<SamplePlaces()> samplePlaces(const Frame& frame) const override {
        SamplePlaces out;
        for (const Sample& s : samples) {
            if (s.point >= rows.size()) continue;
            out.places.push_back(frame.at(s.at.x, s.at.y));
            out.rows.push_back(rows[s.point]);
        }
        return [out = std::move(out)] { return out; };
    }
    std::vector<SymbolClass> namedClasses() const override {
        return classes ? classes->named() : std::vector<SymbolClass>();
    }

private:
    double opacityOf(bool hidden) const { return hidden && behind == "faint" ? 0.3 : 1; }

    void drawLines(const Frame& frame, bool hidden, Group& into) const {
        if (!(lineMm > 0)) return;
        Path lines{.lines = {},
                   .stroke = Stroke{.widthMm = lineMm, .colour = lineColour.withAlpha(opacityOf(hidden))},
                   .fill = {}};
        for (const Sample& s : samples) {
            if (s.behind != hidden || !std::isfinite(s.foot.x)) continue;
            lines.lines.push_back({{frame.at(s.at.x, s.at.y), frame.at(s.foot.x, s.foot.y)}});
        }
        if (!lines.lines.empty()) add(into, std::move(lines));
    }

    void drawSymbols(const Frame& frame, bool hidden, Group& into) const {
        std::map<Classes::Key, Symbols> byLook;
        for (const Sample& s : samples) {
            if (s.behind != hidden) continue;
            const auto key = classes ? classes->keyOf(s.point) : Classes::Key{};
            if (!key) continue;
            auto at = byLook.find(*key);
            if (at == byLook.end()) {
                Symbols made = classes ? classes->symbols(*key, symbol, colour) : symbol.symbols(colour);
                if (made.stroke) made.stroke->colour = made.stroke->colour.withAlpha(opacityOf(hidden));
                if (made.fill) made.fill = made.fill->withAlpha(opacityOf(hidden));
                at = byLook.emplace(*key, std::move(made)).first;
            }
            at->second.places.push_back(frame.at(s.at.x, s.at.y));
        }
        for (auto& [key, symbols] : byLook) add(into, std::move(symbols));
    }
};

void takeSamples(const Curve& c, const Relief& relief, const std::string& linesTo, bool looksBehind,
                 ReliefPoints& mark) {
    const auto share = [](double v, const Range& r) { return (v - r.low) / (r.high - r.low); };
    for (std::size_t i = 0; i < c.size(); ++i) {
        const double x = c.x[i], y = c.more[0][i], z = c.y[i];
        if (!c.counts(i) || !std::isfinite(y) || !relief.holds(x, y)) continue;
        ReliefPoints::Sample s{.at = relief.place(x, y, z), .foot = {NAN, NAN}, .point = i};
        s.depth = relief.depthOf(share(x, relief.x()), share(y, relief.y()));
        if (linesTo == "ground") s.foot = relief.place(x, y, relief.z().low);
        for (const fields::FieldPtr& surface : relief.surfaces()) {
            const double there = fields::valueAt(*surface, x, y);
            if (linesTo == "surface" && !std::isfinite(s.foot.x) && std::isfinite(there))
                s.foot = relief.place(x, y, there);
            s.behind = s.behind || (looksBehind && relief.isBehind(*surface, x, y, z));
        }
        mark.samples.push_back(s);
    }
    std::ranges::stable_sort(mark.samples, std::ranges::greater(), &ReliefPoints::Sample::depth);
}

MarkPtr prepare(const MarkTask& task) {
    auto mark = std::make_unique<ReliefPoints>();
    const auto* relief = dynamic_cast<const Relief*>(task.projection);
    if (!relief) {
        mark->issues.push_back(
            {"not-placed",
             "Points in space stand in a panel seen from a side: choose that as the panel's coordinates.",
             {}});
        return mark;
    }
    const Look& look = task.look;
    MarkTask inSpace = task;
    inSpace.projection = nullptr;
    const FoundCurve found = foundCurve(inSpace, mark->issues);
    takeFrom(found, task, *mark);
    if (!found.curve) return mark;
    if (found.curve->more.empty()) {
        mark->issues.push_back(
            {"not-placed",
             "“" + (found.dataset ? found.dataset->name : "") + "” has no x, y and z to stand in this view.",
             {}});
        return mark;
    }
    mark->symbol = SymbolLook(look);
    mark->behind = look.text("behind");
    mark->lineMm = look.text("lines-to") == "nothing" ? 0 : look.millimetres("line-width");
    mark->lineColour = look.colour("line-colour", mark->colour);
    mark->rows = found.curve->rowIds;
    mark->classes = Classes::of(inSpace, *found.dataset, *found.curve, mark->issues);
    takeSamples(*found.curve, *relief, look.text("lines-to"), mark->behind != "alike", *mark);
    if (look.isOwn("lines-to") && look.text("lines-to") == "surface" && relief->surfaces().empty())
        mark->issues.push_back({"no-surface",
                                "The panel has no surface to which lines could lead: add one, or let them "
                                "lead to the ground.",
                                {}});
    return mark;
}

} // namespace

MarkKind reliefPointsMark() {
    const std::string lines = "Lines";
    return {
        .info = {.key = "relief-points",
                 .name = "Points in space",
                 .purpose = "Measured x, y and z in a panel seen from a side, with their residuals",
                 .group = "Marks",
                 .settings = together(
                     {commonSettings(),
                      symbolSettings(),
                      {choice("behind", "Behind a surface",
                              {{"faint", "faint"}, {"hidden", "hidden"}, {"alike", "like all"}},
                              "How points look that the surface hides."),
                       choice("lines-to", "Lines lead to",
                              {{"surface", "the surface"}, {"ground", "the ground"}, {"nothing", "nothing"}},
                              "To the first surface of the panel they show the residuals.", {.group = lines}),
                       number("line-width", "Line width", 0.6, "Of the lines.",
                              {.unit = "pt", .lowest = 0.05, .highest = 20, .group = lines}),
                       made(SettingKind::Colour, "line-colour", "Line colour", std::string(), "Of the lines.",
                            {.group = lines, .whenEmpty = "as the symbols"})},
                      classSettings(),
                      datasetSettings()})},
        .prepare = prepare,
        .of = {"surface"},
        .coordinates = "relief"};
}

} // namespace jointer::figure
