// SPDX-License-Identifier: GPL-3.0-or-later
// The diagram of waters: cations and anions in triangles, both together in the diamond above.
#include "base/parallel.h"
#include "base/text.h"
#include "describe/setting_makers.h"
#include "evaluate/water_samples.h"
#include "figure/page/projected.h"

#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kH = Triangle::kHeight;
constexpr std::size_t kTitles = 8, kFewSamples = 20000; // for one thread

class WaterProjection final : public Projection {
public:
    explicit WaterProjection(double gap) : plane_(gap) {}

    Rect plane() const override { return {0, 0, plane_.width(), plane_.height()}; }
    std::size_t placesOfEach() const override { return 3; }
    const WaterPlane& places() const { return plane_; }

    Projected project(const Curve& c, const Dataset& d, std::vector<Issue>& issues) const override {
        auto out = std::make_shared<Curve>();
        if (d.source.kind != "ions" || c.more.size() < waters::kParts) {
            issues.push_back({"not-placed",
                              fmt::format("“{}” holds no ions of waters, which this diagram shows: choose what its "
                                          "columns are in Data.",
                                          d.name),
                              {}});
            return {std::move(out), {}};
        }
        const std::size_t n = c.size();
        for (auto* list : {&out->x, &out->y}) list->assign(3 * n + 2, NAN); // lines end between the fields
        out->rowIds.assign(out->x.size(), 0);
        if (!c.excluded.empty()) out->excluded.assign(out->x.size(), 0);
        std::vector<std::uint8_t> doubtful;
        const double limit = evaluate::waterRules(d.source.settings).balanceLimit;
        if (std::ranges::any_of(c.y, [limit](double balance) { return std::abs(balance) > limit; }))
            doubtful.assign(out->x.size(), 0);
        parallelRanges(n, kFewSamples, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                const auto at = placesOf(c, i);
                for (std::size_t k = 0; k < 3; ++k) {
                    const std::size_t to = k * (n + 1) + i;
                    out->x[to] = at[k].x;
                    out->y[to] = at[k].y;
                    if (i < c.rowIds.size()) out->rowIds[to] = c.rowIds[i];
                    if (c.isExcluded(i)) out->excluded[to] = 1;
                    if (std::abs(c.y[i]) > limit) doubtful[to] = 1;
                }
            }
        });
        return {std::move(out), std::move(doubtful)};
    }

    std::string wordsAt(Point p) const override {
        const auto words = [](std::initializer_list<std::pair<const char*, double>> of) {
            std::string all;
            for (const auto& [name, share] : of) {
                if (share < -1e-3 || share > 1 + 1e-3) return std::string();
                all += fmt::format("{}{} {:.1f} %", all.empty() ? "" : ", ", name, 100 * std::clamp(share, 0.0, 1.0));
            }
            return all;
        };
        const auto c = plane_.cationsAt(p), a = plane_.anionsAt(p);
        const auto d = plane_.sharesAt(p);
        if (std::string in = words({{"Ca", c[0]}, {"Mg", c[1]}, {"Na + K", c[2]}}); !in.empty()) return in;
        if (std::string in = words({{"Cl", a[0]}, {"SO₄", a[1]}, {"HCO₃ + CO₃", a[2]}}); !in.empty()) return in;
        return words({{"Ca + Mg", 1 - d[0]}, {"Na + K", d[0]}, {"SO₄ + Cl", d[1]}, {"HCO₃ + CO₃", 1 - d[1]}});
    }

private:
    // In the cations, the anions and the diamond.
    std::array<Point, 3> placesOf(const Curve& c, std::size_t i) const {
        waters::Sample s;
        for (std::size_t k = 0; k < waters::kParts; ++k) s.parts[k] = c.more[k][i];
        const auto cations = waters::cationShares(s), anions = waters::anionShares(s);
        return {plane_.cation(cations), plane_.anion(anions),
                plane_.diamond(cations[2], anions[0] + anions[1])};
    }

    WaterPlane plane_;
};

// The fields that types of waters have, and what each is called, in three lines at most.
struct Field {
    std::vector<Point> corners;
    std::vector<const char*> words;
};

class WaterPanel final : public ProjectedPanel {
public:
    WaterPanel(Page& page, const Element& element) : ProjectedPanel(page, element) {
        auto made = std::make_shared<WaterProjection>(look_.number("gap") / 100);
        water_ = made.get();
        projection_ = std::move(made);
        const std::string names = look_.text("edge-names");
        const auto typed = split(names, '|');
        for (std::size_t k = 0; k < kTitles; ++k) {
            titles_[k] = kNames[k];
            if (k < typed.size() && !trimmed(typed[k]).empty()) titles_[k] = std::string(trimmed(typed[k]));
            if (titles_[k] == "-" || titles_[k] == "–") titles_[k].clear();
        }
    }

private:
    static constexpr const char* kNames[kTitles] = {
        "Ca^{2+}",     "Mg^{2+}", "Na^{+} + K^{+}", "Cl^{−}", "SO_{4}^{2−}", "HCO_{3}^{−} + CO_{3}^{2−}",
        "SO_{4}^{2−} + Cl^{−}", "Ca^{2+} + Mg^{2+}"};

    double right() const { return 1 + water_->places().gap(); } // where the anions begin
    Point top(double x) const { return {x + 0.5, kH}; }
    Point corner(double alkalis, double strong) const { return water_->places().diamond(alkalis, strong); }

    double wantedScale() const override { return look_.number("edge-mm"); }

    std::vector<Polyline> outlines() const override {
        const double r = right();
        return {closed({top(0), {0, 0}, {1, 0}}), closed({top(r), {r, 0}, {r + 1, 0}}),
                closed({corner(0, 1), corner(1, 1), corner(1, 0), corner(0, 0)})};
    }

    std::vector<Edge> edges() const override {
        const double r = right();
        const Point left{-1, 0}, toRight{1, 0}, upRight{0.5, kH}, upLeft{-0.5, kH}, downRight{0.5, -kH},
            downLeft{-0.5, -kH};
        const Point ca{0, 0}, mg = top(0), na{1, 0}, weak{r, 0}, so4 = top(r), cl{r + 1, 0};
        return {edge(na, ca, 0, 1, downRight, mg, ca, titles_[0]),
                edge(ca, mg, 0, 1, left, na, mg, titles_[1]),
                edge(mg, na, 0, 1, upRight, ca, na, titles_[2]),
                edge(weak, cl, 0, 1, downLeft, so4, cl, titles_[3]),
                edge(cl, so4, 0, 1, toRight, weak, so4, titles_[4]),
                edge(so4, weak, 0, 1, upLeft, cl, weak, titles_[5]),
                edge(corner(0, 0), corner(0, 1), 0, 1, upLeft, corner(1, 0), corner(1, 1), titles_[6]),
                edge(corner(1, 1), corner(0, 1), 0, 1, upRight, corner(1, 0), corner(0, 0), titles_[7]),
                // What the triangles below tell: ticks alone.
                edge(corner(0, 0), corner(1, 0), 0, 1, downLeft, corner(0, 1), corner(1, 1), {}, false),
                edge(corner(1, 1), corner(1, 0), 0, 1, downRight, corner(0, 1), corner(0, 0), {}, false)};
    }

    std::vector<Field> fields() const {
        const double r = right();
        const auto cation = [this](double c, double m, double n) { return water_->places().cation({c, m, n}); };
        const auto anion = [this](double c, double s, double w) { return water_->places().anion({c, s, w}); };
        const Point caMg = cation(.5, .5, 0), mgNa = cation(0, .5, .5), caNa = cation(.5, 0, .5);
        const Point clSo = anion(.5, .5, 0), soWeak = anion(0, .5, .5), clWeak = anion(.5, 0, .5);
        return {{{{0, 0}, caMg, caNa}, {"calcium"}},
                {{top(0), caMg, mgNa}, {"magnesium"}},
                {{{1, 0}, caNa, mgNa}, {"alkalis"}},
                {{caMg, mgNa, caNa}, {"none", "dominant"}},
                {{{r, 0}, soWeak, clWeak}, {"bicar-", "bonate"}},
                {{top(r), soWeak, clSo}, {"sulfate"}},
                {{{r + 1, 0}, clWeak, clSo}, {"chloride"}},
                {{clSo, soWeak, clWeak}, {"none", "dominant"}},
                {{corner(0, 0), corner(0, .5), corner(.5, .5), corner(.5, 0)}, {"Ca–Mg", "bicarbonate"}},
                {{corner(0, 1), corner(.5, 1), corner(0, .5)}, {"Ca–Mg", "Cl–SO_{4}"}},
                {{corner(0, .5), corner(.5, 1), corner(.5, .5)}, {"mixed, hard"}},
                {{corner(.5, .5), corner(.5, 1), corner(1, 1), corner(1, .5)}, {"Na", "Cl–SO_{4}"}},
                {{corner(.5, 0), corner(.5, .5), corner(1, .5)}, {"mixed, soft"}},
                {{corner(.5, 0), corner(1, .5), corner(1, 0)}, {"Na", "bicarbonate"}}};
    }

    void drawFields() override {
        const std::string how = look_.text("fields");
        if (how == "none") return;
        TextStyle words = page_.text;
        words.sizePt = std::max(4.0, 0.75 * words.sizePt);
        words.colour = page_.text.colour.withAlpha(0.6);
        page_.add(element_.id,
                  Path{.lines = limits(),
                       .stroke = Stroke{.widthMm = 0.7 * lineWidth_, .colour = page_.text.colour.withAlpha(0.6),
                                        .dashMm = {1.2, 0.8}},
                       .fill = {}});
        if (how == "named")
            for (const Field& f : fields()) drawName(f, words);
    }

    // Between the fields, each line once.
    std::vector<Polyline> limits() const {
        std::vector<Polyline> lines;
        const auto add = [&](Point a, Point b) { lines.push_back({{onPage(a), onPage(b)}}); };
        for (const double left : {0.0, right()}) {
            add({left + 0.25, kH / 2}, {left + 0.75, kH / 2});
            add({left + 0.25, kH / 2}, {left + 0.5, 0});
            add({left + 0.75, kH / 2}, {left + 0.5, 0});
        }
        add(corner(0, .5), corner(1, .5));
        add(corner(.5, 0), corner(.5, 1));
        add(corner(0, .5), corner(.5, 1));
        add(corner(.5, 0), corner(1, .5));
        return lines;
    }

    void drawName(const Field& f, const TextStyle& style) {
        Point middle{0, 0};
        for (const Point c : f.corners) {
            middle.x += c.x / static_cast<double>(f.corners.size());
            middle.y += c.y / static_cast<double>(f.corners.size());
        }
        const Point at = onPage(middle);
        const double line = 1.1 * style.sizePt * kMmPerPt;
        double y = at.y - line * static_cast<double>(f.words.size() - 1) / 2;
        for (const char* word : f.words) {
            page_.addText(element_.id, placed(setText(word, style), {at.x, y}, HAlign::Centre, VAlign::Middle));
            y += line;
        }
    }

    const WaterProjection* water_ = nullptr;
    std::array<std::string, kTitles> titles_;
};

std::vector<Setting> settings() {
    using namespace describe;
    const std::string diagram = "Diagram";
    std::vector<Setting> all = {
        number("gap", "Gap", 32, "Between the triangles, in per cent of their edges; the diamond moves with it.",
               {.unit = "%", .lowest = 0, .highest = 100, .group = diagram}),
        number("edge-mm", "Edge", 0, "Length of an edge; 0: as long as there is room.",
               {.unit = "mm", .lowest = 0, .highest = 300, .group = diagram}),
        choice("fields", "Fields", {{"none", "none"}, {"lines", "lines"}, {"named", "with names"}},
               "The fields that types of waters have.", {.group = diagram}),
        word("edge-names", "Titles of edges",
             "Instead of Ca, Mg, Na + K, Cl, SO4, carbonate, SO4 + Cl, Ca + Mg, in this order with bars between; a dash: "
             "none.",
             {.group = diagram, .whenEmpty = "the ions"})};
    std::ranges::move(edgeSettings(), std::back_inserter(all));
    return all;
}

} // namespace

CoordinateKind waterCoordinates() {
    return {.info = {.key = "waters",
                     .name = "waters",
                     .purpose = "Cations and anions in triangles, both in a diamond",
                     .settings = settings()},
            .make = [](Page& page, const Element& panel) -> std::unique_ptr<Panel> {
                return std::make_unique<WaterPanel>(page, panel);
            }};
}

} // namespace jointer::figure
