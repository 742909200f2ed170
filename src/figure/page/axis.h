// SPDX-License-Identifier: GPL-3.0-or-later
// One axis of a panel: its range, its ticks, the room that numbers and title need, and its drawing. Numbers
// never touch: they are thinned, names are wrapped or turned.
#pragma once

#include "figure/marks/mark.h"
#include "figure/page/page.h"

namespace jointer::figure {

inline constexpr double kSlantDeg = 45; // of names that stand close

class PanelAxis {
public:
    PanelAxis(Page& page, const Element& element, Side side);

    bool isX() const { return isAlongX(side); }
    bool isReversed() const { return look.flag("reversed") != meaning.descending; }
    int lane() const { return look.integer("lane"); }

    // What the marks along it mean, and how far they reach.
    void takeMeaning(const Mark& mark);
    void chooseScale();
    void chooseRange(const std::optional<Range>& data, double margin, const std::vector<double>& flush = {});
    void bind(const PanelAxis& to); // computes its values from another axis, where it is linked

    // Lays it out between two places in mm; makes ticks and labels for this length.
    void place(double from, double to);
    double thickness() const;    // outwards, of ticks, numbers and title
    double numbersDepth() const; // of ticks and numbers
    // How far labels reach beyond the ends, as places grow.
    std::pair<double, double> overhang() const;
    void hideNumbers() { numbers_ = false; }
    bool showsNumbers() const { return numbers_; }

    // Drawing about an area (of its lane); `distance` is how far its line stands off the edge, `cross` the
    // place of its line where it runs through the panel.
    void drawGrid(const draw::Rect& area, double lineWidth) const;
    void drawTicks(const draw::Rect& area, bool opposite, draw::Path& into) const;
    void drawLine(const draw::Rect& area, double lineWidth) const;
    void draw(const draw::Rect& area, double lineWidth);
    bool hasOwnLine() const; // it is not part of the panel's frame
    void drawBreaks(const draw::Rect& area, double lineWidth, bool opposite) const;

    Page& page;
    const Element* element;
    Look look;
    draw::TextStyle text;
    Side side;
    AxisMeaning meaning;
    ScalePtr scale;
    Range range;
    std::optional<Range> data;
    AxisMap map;
    std::vector<Tick> ticks;
    double distance = 0;         // of its line from the edge, outwards
    std::optional<double> cross; // place of its line inside the panel
    draw::Rect bounds;           // of numbers and title, once drawn

private:
    struct Label {
        double at;
        std::vector<draw::SetText> lines;
        const Tick* tick;
    };
    enum class Turn { Level, Slanted, Upright };
    struct Told { // by the first mark of a dataset
        DatasetId of;
        std::string name, unit;
    };

    TickWish wish(double lengthMm) const;
    void makeTicks(double lengthMm);
    bool tryTicks(TickWish wish);
    std::vector<Tick> ownTicks() const;
    std::vector<Tick> withPlaces(std::vector<Tick> all) const;
    bool fits(const std::vector<Label>& labels, Turn turn) const;
    std::vector<Label> labelled(bool wrapped, double spacing) const;
    void chooseLabels(bool names);
    void leaveOutCrowded();
    void tell(const Mark& mark, const AxisMeaning& from);
    Told shown(Told told) const;
    std::string toldTitle(const std::vector<Told>& told) const; // where the marks say different things
    void makeTitle(double lengthMm);
    double edge(const draw::Rect& area, bool opposite) const;
    double outwards() const { return side == Side::Bottom || side == Side::Right ? 1 : -1; }
    double tickOut() const;
    double labelGap() const { return 0.35 * em(); }
    double titleGap() const;
    double em() const { return text.sizePt * draw::kMmPerPt; }
    double depthOf(const Label& label) const;
    double labelsDepth() const;
    void drawLabels(double from) const;
    void drawCommon(double from) const;
    void drawTitle(const draw::Rect& area, double from);
    draw::Stroke line(double widthMm) const { return {.widthMm = widthMm, .colour = text.colour}; }

    std::vector<Label> labels_;
    std::vector<Told> told_;
    std::vector<draw::SetText> title_;
    Turn turn_ = Turn::Level;
    bool numbers_ = true;
    int factor_ = 0;
    std::string crowded_; // what had no room, in words
};

} // namespace jointer::figure
