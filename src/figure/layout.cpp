// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/layout.h"

#include "figure/marks/parts.h"
#include "figure/page/grid.h"
#include "project/figure_edits.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

// "a", "b)", "(C)", "iv": the k-th letter in a style.
std::string letterOf(const std::string& style, std::size_t k) {
    if (style == "none") return {};
    if (style == "i") {
        static constexpr const char* roman[] = {"i",   "ii",   "iii", "iv", "v",  "vi",
                                                "vii", "viii", "ix",  "x",  "xi", "xii"};
        return k < std::size(roman) ? roman[k] : std::to_string(k + 1);
    }
    std::string name;
    for (std::size_t n = k + 1; n > 0; n = (n - 1) / 26)
        name.insert(name.begin(), static_cast<char>('a' + (n - 1) % 26));
    std::string out;
    for (char c : style) {
        if (c == 'a')
            out += name;
        else if (c == 'A')
            for (char l : name) out += static_cast<char>(l - 'a' + 'A');
        else
            out += c;
    }
    return out;
}

class PageLayout {
public:
    explicit PageLayout(Page& page) : page_(page) {}

    void run() {
        makePanels();
        for (const auto& panel : panels_) panel->prepare();
        const Rect space = spaceOnPage();
        std::vector<const Panel*> inGrid;
        std::vector<Panel*> gridded, free;
        for (const auto& panel : panels_)
            (panel->look().text("place") == "free" ? free : gridded).push_back(panel.get());
        inGrid.assign(gridded.begin(), gridded.end());
        const Grid grid = gridOf(page_.look, inGrid);
        settle(grid, gridded);
        for (Panel* panel : free)
            for (const bool alongX : {true, false}) panel->settle(alongX, {});
        giveLetters(grid, gridded);
        placeInGrid(page_, grid, gridded, space);
        for (Panel* panel : free) placeFree(*panel);
        for (const auto& panel : panels_) panel->draw();
        for (const Element& e : page_.figure.elements) {
            if (e.kind == "legend") drawLegend(e, space);
        }
        drawNotes(page_);
    }

private:
    // A linked panel draws the marks of another one in its own ranges.
    void makePanels() {
        for (const Element& e : page_.figure.elements) {
            if (!isPanel(e.kind)) continue;
            panels_.push_back(panelFor(page_, *linked(e)));
        }
    }

    const Element* linked(const Element& e) {
        const auto id = ElementId::fromText(e.settings.reference("linked-to"));
        const Element* source = findElement(page_.project, page_.figure, id);
        if (!source || source->id == e.id) return &e;
        auto own = std::make_unique<Element>(e);
        std::erase_if(own->children, [](const Element& c) { return isMark(c.kind) || c.kind == "group"; });
        // Its k-th axis does what the k-th of the other does.
        NewIds axes;
        std::vector<ElementId> others, mine;
        for (const Element& c : source->children)
            if (c.kind == "axis") others.push_back(c.id);
        for (const Element& c : own->children)
            if (c.kind == "axis") mine.push_back(c.id);
        for (std::size_t k = 0; k < std::min(others.size(), mine.size()); ++k)
            axes[others[k].text()] = mine[k].text();
        for (const Element& c : source->children) {
            if (!isMark(c.kind) && c.kind != "group") continue;
            own->children.push_back(c);
            follow(own->children.back(), axes);
        }
        links_.push_back(std::move(own));
        return links_.back().get();
    }

    Rect spaceOnPage() {
        const double margin = page_.look.number("margin");
        Rect space{margin, margin, std::max(5.0, page_.out.list.widthMm - 2 * margin),
                   std::max(5.0, page_.out.list.heightMm - 2 * margin)};
        for (const Element& e : page_.figure.elements) {
            if (e.kind != "legend") continue;
            const std::string where = page_.lookOf(e).text("where");
            const bool across = where == "above" || where == "below";
            const LegendBox box(page_, e, allRows(), across ? space.width : 0);
            if (box.isEmpty() || where == "none" || where == "hand") continue;
            const double gap = 0.8 * page_.em();
            if (across) {
                space.height -= box.height() + gap;
                if (where == "above") space.y += box.height() + gap;
            } else
                space.width -= box.width() + gap;
        }
        return space;
    }

    // Ranges, which panels above or beside each other may have in common.
    void settle(const Grid& grid, const std::vector<Panel*>& panels) {
        for (const bool alongX : {true, false}) {
            const bool shares = page_.look.flag(alongX ? "share-x" : "share-y");
            std::vector<std::optional<Range>> common(panels.size());
            for (std::size_t k = 0; shares && k < panels.size(); ++k)
                for (std::size_t other = 0; other < panels.size(); ++other) {
                    const Cells &a = grid.cells[k], &b = grid.cells[other];
                    const bool together = alongX ? a.column == b.column && a.columns == b.columns
                                                 : a.row == b.row && a.rows == b.rows;
                    if (together) common[k] = united(common[k], panels[other]->reach(alongX));
                }
            for (std::size_t k = 0; k < panels.size(); ++k) {
                panels[k]->settle(alongX, common[k]);
                if (!shares) continue;
                const Cells& own = grid.cells[k];
                const bool inner = std::ranges::any_of(grid.cells, [&](const Cells& c) {
                    return alongX ? c.column == own.column && c.columns == own.columns && c.row > own.row
                                  : c.row == own.row && c.rows == own.rows && c.column < own.column;
                });
                if (inner) panels[k]->hideNumbers(alongX ? Side::Bottom : Side::Left);
            }
        }
    }

    // In the order of reading.
    void giveLetters(const Grid& grid, const std::vector<Panel*>& gridded) {
        const std::string style = page_.look.text("letters");
        std::vector<std::pair<std::pair<double, double>, Panel*>> order;
        for (std::size_t k = 0; k < gridded.size(); ++k)
            order.push_back({{grid.cells[k].row, grid.cells[k].column}, gridded[k]});
        for (const auto& panel : panels_)
            if (std::ranges::find(gridded, panel.get()) == gridded.end())
                order.push_back(
                    {{1e6 + panel->look().number("top"), panel->look().number("left")}, panel.get()});
        std::ranges::stable_sort(order, {}, [](const auto& each) { return each.first; });
        std::size_t next = 0;
        for (const auto& [place, panel] : order) {
            const std::string own = panel->look().text("letter");
            panel->letter = own == "-" || own == "–" ? "" : own.empty() ? letterOf(style, next) : own;
            if (own != "-" && own != "–") ++next;
        }
    }

    void placeFree(Panel& panel) {
        const Rect area = panel.freeArea();
        const Room room = panel.room(area.width, area.height);
        panel.place(area, {area.x - room.left, area.y - room.top, area.width + room.left + room.right,
                           area.height + room.top + room.bottom});
    }

    // Each label once, also where several panels show it.
    std::vector<LegendRow> allRows() const {
        std::vector<LegendRow> rows;
        for (const auto& panel : panels_)
            for (LegendRow& row : panel->legendRows())
                if (std::ranges::find(rows, row.label, &LegendRow::label) == rows.end())
                    rows.push_back(std::move(row));
        return rows;
    }

    void drawLegend(const Element& e, const Rect& space) {
        const Look look = page_.lookOf(e);
        const std::string where = look.text("where");
        const bool across = where == "above" || where == "below";
        LegendBox box(page_, e, allRows(), across ? space.width : 0);
        if (box.isEmpty() || where == "none") return;
        const double margin = page_.look.number("margin");
        const double middle = (page_.out.list.widthMm - box.width()) / 2;
        Point at{page_.out.list.widthMm - margin - box.width(), space.y};
        if (where == "above") at = {middle, margin};
        if (where == "below") at = {middle, page_.out.list.heightMm - margin - box.height()};
        if (where != "hand")
            at = box.shifted(at);
        else
            at = {look.number("x") * page_.out.list.widthMm,
                  (1 - look.number("y")) * page_.out.list.heightMm};
        box.draw(at);
    }

    Page& page_;
    std::vector<std::unique_ptr<Panel>> panels_;
    std::vector<std::unique_ptr<Element>> links_;
};

} // namespace

const PanelGeometry* Layout::panel(ElementId id) const {
    const auto at = std::ranges::find(panels, id, &PanelGeometry::panel);
    return at == panels.end() ? nullptr : &*at;
}

const AxisGeometry* Layout::axis(ElementId id) const {
    for (const PanelGeometry& g : panels)
        for (const AxisGeometry& a : g.axes)
            if (id && a.axis == id) return &a;
    return nullptr;
}

draw::Rect pageOf(const Project& project, const Figure& figure) {
    const auto style = project.styles.find(figure.style);
    const Look look(kindOf("figure"), figure.settings, style.get());
    return {0, 0, look.number("width"), look.number("height")};
}

Layout layOut(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
              const Target& target) {
    return layOutWithin(project, figure, evaluator, target, {});
}

Layout layOutWithin(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                    const Target& target, std::vector<FigureId> within) {
    const auto style = project.styles.find(figure.style);
    const Look look(kindOf("figure"), figure.settings, style.get());
    Page page{project, figure, evaluator, target, style.get(), look, {}};
    page.text = {.family = look.text("family"),
                 .sizePt = look.number("text-size"),
                 .colour = Colour::fromText(look.text("colour")),
                 .bold = look.flag("bold")};
    page.within = std::move(within);
    page.out.list.widthMm = look.number("width");
    page.out.list.heightMm = look.number("height");
    page.out.guidesX = look.numbers("guides-x");
    page.out.guidesY = look.numbers("guides-y");
    if (const std::string ground = look.text("ground"); !ground.empty())
        page.add({}, Path{.lines = {rectangle({0, 0, page.out.list.widthMm, page.out.list.heightMm})},
                          .stroke = {},
                          .fill = Colour::fromText(ground)});
    PageLayout(page).run();
    draw::keepNear(page.out.list.items);
    return std::move(page.out);
}

} // namespace jointer::figure
