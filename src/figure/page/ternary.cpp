// SPDX-License-Identifier: GPL-3.0-or-later
// A triangle of three parts.
#include "base/text.h"
#include "describe/setting_makers.h"
#include "figure/marks/sources.h"
#include "figure/page/live_text.h"
#include "figure/page/projected.h"

#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

namespace {

using Three = std::array<double, 3>;

// Of a field over per cent; a little beyond the edges as straight on as it comes, so that the cells there are
// whole.
double valueNear(const fields::Field& f, double a, double b, double near) {
    const double ca = std::clamp(a, 0.0, 100.0), cb = std::clamp(b, 0.0, 100.0);
    if (ca == a && cb == b) return fields::valueAt(f, a, b);
    if (std::abs(ca - a) > near || std::abs(cb - b) > near) return NAN;
    return 2 * fields::valueAt(f, ca, cb) - fields::valueAt(f, 2 * ca - a, 2 * cb - b);
}

class TernaryProjection final : public Projection {
public:
    TernaryProjection(const Triangle& triangle, std::array<std::string, 3> names)
        : triangle_(triangle), names_(std::move(names)) {}

    Rect plane() const override { return {0, 0, 1, Triangle::kHeight}; }

    // Of samples of three parts these, of waters the cations, of a curve x and y as per cent of the first and second part.
    Projected project(const Curve& c, const Dataset& d, std::vector<Issue>& issues) const override {
        auto out = std::make_shared<Curve>();
        out->rowIds = c.rowIds;
        out->excluded = c.excluded;
        const bool parts = d.source.kind == "composition" || d.source.kind == "ions";
        if (parts && c.more.size() < 3) {
            issues.push_back({"not-placed", fmt::format("“{}” has no three parts.", d.name), {}});
            return {std::move(out), {}};
        }
        std::size_t outside = 0;
        for (std::size_t i = 0; i < c.size(); ++i) {
            const Three of = parts ? Three{c.more[0][i], c.more[1][i], c.more[2][i]}
                                   : Three{c.x[i], c.y[i], 100 - c.x[i] - c.y[i]};
            Point p = triangle_.place(of[0], of[1], of[2]);
            const bool possible = std::ranges::none_of(of, [](double v) { return v < -1e-9; });
            if (!possible || (std::isfinite(p.x) && !triangle_.holds(triangle_.parts(p)))) p = {NAN, NAN};
            outside += !std::isfinite(p.x);
            out->x.push_back(p.x);
            out->y.push_back(p.y);
        }
        if (outside > 0 && triangle_.low(0) == 0 && triangle_.low(1) == 0 && triangle_.low(2) == 0)
            issues.push_back({"not-placed",
                              fmt::format("{} of “{}” cannot be placed: parts must not be negative.",
                                          counted(static_cast<long long>(outside), "sample"), d.name),
                              {}});
        return {std::move(out), {}};
    }

    // Values over mixtures stand in the whole triangle; other fields tell x and y as per cent of the first
    // and second part, and are looked up there.
    fields::FieldPtr projectField(const fields::FieldPtr& field, const Dataset& d,
                                  std::vector<Issue>& issues) const override {
        auto out = std::make_shared<fields::Field>();
        if (field->isEmpty()) return out;
        if (d.source.kind == "composition") {
            *out = *field;
            for (double& x : out->x) x = triangle_.enlarged({x, 0}).x;
            for (double& y : out->y) y = triangle_.enlarged({0, y}).y;
            for (auto* places : {&out->outline, &out->points})
                for (fields::Place& p : *places) {
                    const Point at = triangle_.enlarged({p.x, p.y});
                    p = {at.x, at.y};
                }
            return out;
        }
        constexpr std::size_t kNodes = 301;
        for (std::size_t k = 0; k < kNodes; ++k) {
            const double t = static_cast<double>(k) / (kNodes - 1);
            out->x.push_back(t);
            out->y.push_back(t * Triangle::kHeight);
        }
        out->z.assign(kNodes * kNodes, NAN);
        for (std::size_t j = 0; j < kNodes; ++j)
            for (std::size_t i = 0; i < kNodes; ++i) {
                const Three at = triangle_.parts({out->x[i], out->y[j]});
                out->z[j * kNodes + i] = valueNear(*field, 100 * at[0], 100 * at[1], 200.0 / kNodes);
            }
        out->xMeaning = {.name = names_[0]};
        out->yMeaning = {.name = names_[1]};
        out->zMeaning = field->zMeaning;
        if (!out->extent())
            issues.push_back(
                {"not-placed",
                 fmt::format("The field “{}” lies outside of the triangle: its x and y are taken as "
                             "per cent of {} and {}.",
                             d.name, names_[0], names_[1]),
                 {}});
        return out;
    }

    std::string wordsAt(Point p) const override {
        const Three at = triangle_.parts(p);
        if (!triangle_.holds(at, 1e-3)) return {};
        std::string words;
        for (std::size_t k = 0; k < 3; ++k)
            words += fmt::format("{}{} {:.1f} %", k ? ", " : "", names_[k], 100 * std::max(0.0, at[k]));
        return words;
    }

private:
    Triangle triangle_;
    std::array<std::string, 3> names_;
};

class TernaryPanel final : public ProjectedPanel {
public:
    TernaryPanel(Page& page, const Element& element) : ProjectedPanel(page, element) {
        Three least{};
        const char* keys[] = {"least-a", "least-b", "least-c"};
        for (std::size_t k = 0; k < 3; ++k) least[k] = std::clamp(look_.number(keys[k]) / 100, 0.0, 0.99);
        if (least[0] + least[1] + least[2] > 0.995) {
            page_.say("no-room", "The part of the triangle that is to be enlarged is empty: the least parts sum to 100 %.");
            least = {};
        }
        triangle_ = Triangle(least);
        nameParts();
        std::array<std::string, 3> plain;
        for (std::size_t k = 0; k < 3; ++k) plain[k] = plainText(names_[k]);
        projection_ = std::make_shared<TernaryProjection>(triangle_, std::move(plain));
    }

private:
    void nameParts() {
        names_ = {"A", "B", "C"};
        const char* keys[] = {"title-a", "title-b", "title-c"};
        const auto own = partNames(page_.project, element_);
        for (std::size_t k = 0; k < 3; ++k) {
            if (k < own.size()) names_[k] = literal(own[k]);
            if (const std::string typed = look_.text(keys[k]); !typed.empty())
                names_[k] = liveText(page_, element_, typed);
        }
    }

    std::vector<Edge> edges() const override {
        const Point a{0.5, Triangle::kHeight}, b{0, 0}, c{1, 0};
        const bool clockwise = look_.text("turn") == "clockwise";
        const bool titled = look_.text("names-at") != "corners";
        const auto title = [&](std::size_t k) {
            return titled && names_[k] != "-" && names_[k] != "–"
                       ? names_[k] + (look_.text("edge-unit") == "per cent" ? " (%)" : "")
                       : std::string();
        };
        const Point right{1, 0}, left{-1, 0}, upRight{0.5, Triangle::kHeight}, upLeft{-0.5, Triangle::kHeight},
            downRight{0.5, -Triangle::kHeight}, downLeft{-0.5, -Triangle::kHeight};
        const auto along = [&](std::size_t k, Point from, Point to, Point out, Point gridFrom, Point gridTo) {
            return edge(from, to, triangle_.low(k), triangle_.high(k), out, gridFrom, gridTo, title(k));
        };
        std::vector<Edge> all =
            clockwise ? std::vector{along(0, b, a, left, c, a), along(1, c, b, downRight, a, b),
                                    along(2, a, c, upRight, b, c)}
                      : std::vector{along(0, c, a, right, b, a), along(1, a, b, upLeft, c, b),
                                    along(2, b, c, downLeft, a, c)};
        return all;
    }

    std::vector<Polyline> outlines() const override { return {closed({{0.5, Triangle::kHeight}, {0, 0}, {1, 0}})}; }

    void drawFront() override {
        ProjectedPanel::drawFront();
        if (look_.text("names-at") == "edges") return;
        for (std::size_t k = 0; k < 3; ++k) {
            const SetText set = setText(names_[k], edging_.look().text);
            const Point at = cornerText(k, set);
            page_.addText(element_.id, placed(set, at, HAlign::Centre, VAlign::Middle));
        }
    }

    Point cornerText(std::size_t k, const SetText& set) const {
        const double off = 0.5 * page_.em() + set.heightMm() / 2 + edging_.look().tickMm;
        const Point corner = onPage(k == 0 ? Point{0.5, Triangle::kHeight} : k == 1 ? Point{0, 0} : Point{1, 0});
        return {corner.x, corner.y + (k == 0 ? -off : off)};
    }

    Triangle triangle_;
    std::array<std::string, 3> names_;
};

std::vector<Setting> settings() {
    using namespace describe;
    const std::string parts = "Parts";
    std::vector<Setting> all = {
        word("title-a", "At the top", "Name of the first part; empty: that of its column.",
             {.group = parts, .whenEmpty = "its column"}),
        word("title-b", "At the left", "Name of the second part.", {.group = parts, .whenEmpty = "its column"}),
        word("title-c", "At the right", "Name of the third part.", {.group = parts, .whenEmpty = "its column"}),
        choice("names-at", "Names stand", {{"edges", "along the edges"}, {"corners", "at the corners"}, {"both", "at both"}},
               "Where the names of the parts are written.", {.group = parts}),
        choice("turn", "Numbers grow",
               {{"counter-clockwise", "counter-clockwise"}, {"clockwise", "clockwise"}},
               "Which way round the numbers at the edges grow.", {.group = parts})};
    for (const auto& [key, label] : {std::pair("least-a", "Top, at least"), std::pair("least-b", "Left, at least"),
                                     std::pair("least-c", "Right, at least")})
        all.push_back(number(key, label, 0, "Only samples with so much of it are shown; the triangle is enlarged.",
                             {.unit = "%", .lowest = 0, .highest = 99, .group = parts}));
    std::ranges::move(edgeSettings(), std::back_inserter(all));
    return all;
}

} // namespace

std::vector<std::string> partNames(const Project& project, const Element& panel) {
    std::vector<std::string> names;
    const auto take = [&](const std::string& source) {
        const auto d = project.datasets.find(DatasetId::fromText(source));
        const auto table = d && d->source.kind == "composition" ? project.tables.find(d->source.table) : nullptr;
        if (!table || !names.empty()) return;
        for (const RoleBinding& b : d->source.roles)
            if (const Column* c = b.role == Role::Component ? table->find(b.column) : nullptr)
                names.push_back(c->name);
    };
    for (const Element& e : panel.children) {
        if (isMark(e.kind)) take(e.source);
        if (e.kind == "group")
            for (const std::string& id : e.settings.references("datasets")) take(id);
    }
    return names;
}

CoordinateKind ternaryCoordinates() {
    return {.info = {.key = "ternary",
                     .name = "three parts",
                     .purpose = "Shares of three parts, each at a corner",
                     .settings = settings()},
            .make = [](Page& page, const Element& panel) -> std::unique_ptr<Panel> {
                return std::make_unique<TernaryPanel>(page, panel);
            }};
}

} // namespace jointer::figure
