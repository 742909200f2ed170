// SPDX-License-Identifier: GPL-3.0-or-later
// A panel that shows a box of x, y and z from a side, with the edges that are nearest to the reader.
#include "base/unit_text.h"
#include "describe/setting_makers.h"
#include "evaluate/fields.h"
#include "figure/marks/parts.h"
#include "figure/page/live_text.h"
#include "figure/page/projected.h"
#include "figure/relief.h"

namespace jointer::figure {

using namespace draw;

namespace {

struct Titles {
    AxisMeaning x, y, z;
};

class ReliefPanel final : public ProjectedPanel {
public:
    ReliefPanel(Page& page, const Element& element) : ProjectedPanel(page, element, false) {
        std::optional<Range> x, y, z;
        const ScalePtr even = AxisMap().sharedScale();
        for (const Element& e : element.children)
            if (isMark(e.kind)) reachOf(DatasetId::fromText(e.source), *even, x, y, z);
        const auto typed = [this](const char* key, std::optional<Range> found) {
            Range range = found.value_or(Range{0, 1});
            if (const Numbers own = look_.numbers(key); own.size() == 2) {
                if (std::isfinite(own[0])) range.low = own[0];
                if (std::isfinite(own[1])) range.high = own[1];
            }
            if (!(range.low < range.high)) range = {range.low - 0.5, range.low + 0.5};
            return range;
        };
        auto made = std::make_shared<Relief>(typed("view-x", x), typed("view-y", y), typed("view-z", z),
                                             Relief::View{.azimuthDeg = look_.number("azimuth"),
                                                          .elevationDeg = look_.number("elevation"),
                                                          .width = look_.number("box-width"),
                                                          .depth = look_.number("box-depth"),
                                                          .height = look_.number("box-height")});
        relief_ = made.get();
        for (const Element& e : element.children)
            if (e.kind == "relief-surface")
                if (auto field = page.evaluator.field(page.project, DatasetId::fromText(e.source)).value;
                    !field->isEmpty())
                    made->addSurface(std::move(field));
        projection_ = std::move(made);
    }

private:
    void reachOf(DatasetId id, const Scale& even, std::optional<Range>& x, std::optional<Range>& y,
                 std::optional<Range>& z) {
        const auto d = page_.project.datasets.find(id);
        if (!d) return;
        if (evaluate::hasField(d->source)) {
            const auto field = page_.evaluator.field(page_.project, id).value;
            if (field->isEmpty()) return;
            for (const double v : {field->x.front(), field->x.back()}) widen(x, v, even);
            for (const double v : {field->y.front(), field->y.back()}) widen(y, v, even);
            if (const auto extent = field->extent())
                for (const double v : {extent->first, extent->second}) widen(z, v, even);
            titles_ = {field->xMeaning, field->yMeaning, field->zMeaning};
            return;
        }
        const auto curve = page_.evaluator.measured(page_.project, id).value;
        if (curve->more.empty()) return;
        for (std::size_t i = 0; i < curve->size(); ++i) {
            widen(x, curve->x[i], even);
            widen(y, curve->more[0][i], even);
            widen(z, curve->y[i], even);
        }
        if (titles_.x.name.empty())
            titles_ = {curve->xMeaning,
                       curve->moreMeanings.empty() ? AxisMeaning{.name = "y"} : curve->moreMeanings[0],
                       curve->yMeaning};
    }

    std::string titleOf(const char* key, const AxisMeaning& meaning) const {
        if (const std::string own = look_.text(key); !own.empty())
            return own == "-" || own == "–" ? "" : liveText(page_, element_, own);
        return literal(meaning.name) + (meaning.unit.empty() ? "" : " (" + unitMarkup(meaning.unit) + ")");
    }

    // Of the sides of the base those two that are nearest, and of the upright ones that at the left.
    double nearY() const { return relief_->depthOf(0.5, 0) < relief_->depthOf(0.5, 1) ? 0 : 1; }
    double nearX() const { return relief_->depthOf(0, 0.5) < relief_->depthOf(1, 0.5) ? 0 : 1; }
    std::pair<double, double> leftmost() const {
        std::pair<double, double> best{0, 0};
        for (const double a : {0.0, 1.0})
            for (const double b : {0.0, 1.0})
                if (relief_->corner(a, b, 0).x < relief_->corner(best.first, best.second, 0).x) best = {a, b};
        return best;
    }

    static Point direction(Point from, Point to) {
        const double length = std::max(1e-9, std::hypot(to.x - from.x, to.y - from.y));
        return {(to.x - from.x) / length, (to.y - from.y) / length};
    }

    std::vector<Edge> edges() const override {
        const Relief& r = *relief_;
        const double y = nearY(), x = nearX();
        const auto [lx, ly] = leftmost();
        const auto along = [&](double x0, double y0, double x1,
                               double y1) { // out of the box along a side of the base
            return direction(r.corner(x0, y0, 0), r.corner(x1, y1, 0));
        };
        return {edge(r.corner(0, y, 0), r.corner(1, y, 0), r.x().low, r.x().high, along(0, 1 - y, 0, y),
                     r.corner(0, 1 - y, 0), r.corner(1, 1 - y, 0), titleOf("title-x", titles_.x)),
                edge(r.corner(x, 0, 0), r.corner(x, 1, 0), r.y().low, r.y().high, along(1 - x, 0, x, 0),
                     r.corner(1 - x, 0, 0), r.corner(1 - x, 1, 0), titleOf("title-y", titles_.y)),
                edge(r.corner(lx, ly, 0), r.corner(lx, ly, 1), r.z().low, r.z().high, {-1, 0},
                     r.corner(lx, ly, 0), r.corner(lx, ly, 1), titleOf("title-z", titles_.z))};
    }

    // The walls that lie behind, and the base.
    std::vector<Polyline> outlines() const override {
        const Relief& r = *relief_;
        const double y = 1 - nearY(), x = 1 - nearX();
        return {closed({r.corner(0, 0, 0), r.corner(1, 0, 0), r.corner(1, 1, 0), r.corner(0, 1, 0)}),
                closed({r.corner(0, y, 0), r.corner(1, y, 0), r.corner(1, y, 1), r.corner(0, y, 1)}),
                closed({r.corner(x, 0, 0), r.corner(x, 1, 0), r.corner(x, 1, 1), r.corner(x, 0, 1)})};
    }
    std::vector<Polyline> clipOutline() const override { return {}; }

    void drawBehind() override {
        ProjectedPanel::drawBehind();
        if (lineWidth_ > 0)
            page_.add(element_.id, Path{.lines = outlines(),
                                        .stroke = Stroke{.widthMm = 0.6 * lineWidth_,
                                                         .colour = page_.text.colour.withAlpha(0.45)},
                                        .fill = {}});
    }
    void drawFront() override {
        Path near{
            .lines = {}, .stroke = Stroke{.widthMm = lineWidth_, .colour = page_.text.colour}, .fill = {}};
        for (const Edge& e : edges()) {
            near.lines.push_back({{e.from, e.to}});
            edging_.draw(e);
        }
        if (lineWidth_ > 0) page_.add(element_.id, std::move(near));
    }

    const Relief* relief_ = nullptr;
    Titles titles_;
};

std::vector<Setting> settings() {
    using namespace describe;
    const std::string view = "View";
    const auto box = [&](const char* key, const char* label, double fallback) {
        return number(key, label, fallback, "In proportion to the other two.",
                      {.lowest = 0.05, .highest = 20, .group = view});
    };
    const auto range = [&](const char* key, const char* label) {
        return interval(key, label, "First and last value; empty fits the data.",
                        {.group = view, .whenEmpty = "automatic"});
    };
    const auto title = [&](const char* key, const char* label) {
        return word(key, label, "Its title; empty: by the data, a dash: none.",
                    {.group = view, .whenEmpty = "automatic"});
    };
    std::vector<Setting> all = {
        number(
            "azimuth", "Turned", 30, "About the upright axis.",
            {.unit = "°", .lowest = -180, .highest = 180, .group = view, .slider = std::pair(-180.0, 180.0)}),
        number("elevation", "From above", 30, "How steeply one looks down; 90: from above.",
               {.unit = "°", .lowest = 0, .highest = 90, .group = view, .slider = std::pair(0.0, 90.0)}),
        box("box-width", "Width", 1),
        box("box-depth", "Depth", 1),
        box("box-height", "Height", 0.6),
        range("view-x", "x"),
        range("view-y", "y"),
        range("view-z", "z"),
        title("title-x", "Title of x"),
        title("title-y", "Title of y"),
        title("title-z", "Title of z")};
    for (Setting s : edgeSettings())
        if (s.key != "edge-unit") all.push_back(std::move(s));
    return all;
}

} // namespace

CoordinateKind reliefCoordinates() {
    return {.info = {.key = "relief",
                     .name = "from a side",
                     .purpose = "A box of x, y and z, looked at from a side",
                     .settings = settings()},
            .make = [](Page& page, const Element& panel) -> std::unique_ptr<Panel> {
                return std::make_unique<ReliefPanel>(page, panel);
            }};
}

} // namespace jointer::figure
