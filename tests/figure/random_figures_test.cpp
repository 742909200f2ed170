// SPDX-License-Identifier: GPL-3.0-or-later
// Figures by seed: every mark, scale and option in random company. Whatever they are, the layout ends, lies
// on the page, says what it cannot do, and is the same the next time.
#include "draw/svg.h"
#include "figure/actions.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/marks/mark.h"
#include "support/list_text.h"
#include "support/sample_project.h"

#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;

namespace {

class Maker {
public:
    explicit Maker(std::uint64_t seed) : random_(seed), others_(seed + 1000000), p_(test::sampleProject()) {
        Dataset lists{.name = "lists", .colour = "#8a4c82"};
        lists.source = {.kind = "groups", .table = p_.tables[0].id};
        for (std::size_t k : {1U, 2U}) lists.source.roles.push_back({Role::Y, p_.tables[0].columns[k].id});
        p_ = *edits::addDataset(lists).apply(p_);
        Dataset words = test::datasetOf(p_.tables[1], "words");
        words.source.roles[0].column = p_.tables[1].columns[3].id;
        p_ = *edits::addDataset(words).apply(p_);
        Dataset empty{.name = "empty"};
        p_ = *edits::addDataset(empty).apply(p_);
        p_ = *edits::changeAnalysis(p_.analyses[1].id, "", [](Analysis& a) {
                  a.parameters.clear();
                  a.model = {
                      .kind = "sum",
                      .children = {{.kind = "gaussian", .component = 1}, {.kind = "line", .component = 2}}};
              }).apply(p_);
    }

    // Waters, mixtures, places, blocks, functions and what is made of them: with these among the data.
    Maker& withFields() {
        std::swap(random_, others_);
        const std::size_t n = 30;
        Table t{.name = "fields"};
        for (const char* name : {"Ca", "Mg", "Na", "Cl", "SO4", "HCO3", "x", "y", "z", "v"}) {
            std::vector<double> values;
            for (std::size_t k = 0; k < n; ++k)
                values.push_back(chance(0.05) ? NAN : between(name[0] == 'z' ? -3 : 0, 12));
            t.columns.push_back(numberColumn(name, t.columns.size() < 6 ? "meq/L" : "m", std::move(values)));
        }
        std::vector<std::string> belts;
        for (std::size_t k = 0; k < n; ++k)
            belts.emplace_back(std::vector{"dune", "pan", "fringe", ""}[random_() % 4]);
        t.columns.push_back(textColumn("belt", std::move(belts)));
        p_ = *edits::addTable(std::move(t)).apply(p_);
        const Table& made = p_.tables[p_.tables.size() - 1];
        const auto add = [&](const char* kind, std::vector<RoleBinding> roles,
                             std::vector<DatasetId> inputs = {}) {
            Dataset d{.name = kind, .colour = "#2f6091"};
            d.source = {
                .kind = kind, .table = roles.empty() ? TableId{} : made.id, .roles = std::move(roles)};
            d.source.inputs = std::move(inputs);
            p_ = *edits::addDataset(std::move(d)).apply(p_);
            return p_.datasets[p_.datasets.size() - 1].id;
        };
        const auto column = [&](std::size_t k) { return made.columns[k].id; };
        std::vector<RoleBinding> ions = {{Role::Class, column(10)}}, parts;
        for (std::size_t k = 0; k < 6; ++k)
            ions.push_back({Role::Component, column(k), made.columns[k].name});
        for (std::size_t k = 0; k < 3; ++k)
            parts.push_back({Role::Component, column(k), std::string(1, static_cast<char>('A' + k))});
        parts.push_back({Role::Z, column(8)});
        add("ions", std::move(ions));
        add("composition", std::move(parts));
        const DatasetId places =
            add("surface", {{Role::X, column(6)}, {Role::Y, column(7)}, {Role::Z, column(8)}});
        add("vectors", {{Role::X, column(6)},
                        {Role::Y, column(7)},
                        {Role::Component, column(8), "u"},
                        {Role::Component, column(9), "v"}});
        add("grid", {{Role::Z, column(0)}, {Role::Z, column(1)}, {Role::Z, column(8)}});
        const DatasetId plane = add("plane", {});
        add("flow", {});
        add("changed-field", {}, {plane});
        add("stack", {}, {p_.datasets[0].id, p_.datasets[1].id});
        add("cut", {}, {places});
        Analysis fit{.inputs = {{.dataset = places}}};
        fit.model.kind = "equation";
        fit.model.settings.set("equation", std::string("a*x1 + b*x2"));
        p_ = *edits::addAnalysis(std::move(fit)).apply(p_);
        const AnalysisId id = p_.analyses[p_.analyses.size() - 1].id;
        Dataset surface{.name = "surface of the fit"};
        surface.source.kind = "fitted-surface";
        surface.source.settings.set("fit", Value(Reference{id.text()}));
        p_ = *edits::addDataset(std::move(surface)).apply(p_);
        std::swap(random_, others_);
        return *this;
    }

    Project project() {
        Figure f{.name = "R"};
        change(kindOf("figure"), f.settings, 0.25);
        f.settings.set("width", Value(between(20, 250)));
        f.settings.set("height", Value(between(15, 250)));
        const int panels = 1 + static_cast<int>(random_() % 4);
        for (int k = 0; k < panels; ++k) f.elements.push_back(panel(0));
        if (chance(0.2)) f.elements.push_back({.kind = "legend"});
        std::swap(random_, others_); // so that older seeds still make the same
        for (Element& e : f.elements)
            if (e.kind == "panel" && chance(0.2)) e.children.push_back(placed());
        while (chance(0.4)) f.elements.push_back(placed());
        return *edits::addFigure(std::move(f)).apply(p_);
    }

private:
    bool chance(double p) { return between(0, 1) < p; }
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(random_); }

    Value valueOf(const Setting& s) {
        switch (s.kind) {
        case SettingKind::Flag:
            return Value(chance(0.5));
        case SettingKind::Choice:
            if (s.choices.empty()) return Value(std::string(chance(0.5) ? "sd" : "nothing"));
            return Value(s.choices[random_() % s.choices.size()].key);
        case SettingKind::Number:
        case SettingKind::WholeNumber: {
            const double low = std::max(s.lowest, -50.0), high = std::min(s.highest, 60.0);
            double v = low < high ? between(low, high) : low;
            if (chance(0.1)) v = std::clamp(std::pow(10.0, between(-12, 12)), s.lowest, s.highest);
            return Value(s.kind == SettingKind::WholeNumber ? std::clamp(std::round(v), s.lowest, s.highest)
                                                            : v);
        }
        case SettingKind::Interval: {
            double a = between(-5, 25), b = between(-5, 25);
            if (chance(0.1)) a = b;
            if (s.openEnds && chance(0.2)) return Value(Numbers{-INFINITY, b});
            if (s.openEnds && chance(0.2)) return Value(Numbers{a, INFINITY});
            return Value(Numbers{std::min(a, b), std::max(a, b)});
        }
        case SettingKind::List: {
            Numbers n;
            for (std::size_t k = random_() % 4; k-- > 0;) n.push_back(between(-3, 20));
            return Value(n);
        }
        case SettingKind::Points:
            return Value(Numbers{between(0, 20), between(0, 20), between(0, 20), between(0, 20)});
        case SettingKind::Formula: {
            static const char* all[] = {"x",   "1/x", "x^2",      "ln(x)",   "sin(x)",
                                        "x +", "y",   "1239.8/x", "x-273.15"};
            return Value(std::string(all[random_() % std::size(all)]));
        }
        case SettingKind::Colour:
            return Value(palette()[random_() % palette().size()]);
        case SettingKind::Reference:
            if (s.of == "axis" && !axes_.empty())
                return Value(Reference{axes_[random_() % axes_.size()].text()});
            if (s.of.ends_with("column") && p_.tables.size() > 2)
                return Value(Reference{p_.tables[2].columns[random_() % 11].id.text()});
            if (s.of.ends_with("column"))
                return Value(Reference{p_.tables[0].columns[random_() % 3].id.text()});
            return Value(Reference{p_.datasets[random_() % p_.datasets.size()].id.text()});
        case SettingKind::References: {
            References r;
            for (const auto& d : p_.datasets)
                if (chance(0.6)) r.push_back({d->id.text()});
            return Value(r);
        }
        case SettingKind::Text: {
            static const char* all[] = {"",
                                        "-",
                                        "Name \\alpha^{2}_{i}",
                                        "a long name that has to be broken somewhere",
                                        "{age}",
                                        "{name} {none}",
                                        "}{",
                                        "\\frac{",
                                        "x|y|z",
                                        "end"};
            return Value(std::string(all[random_() % std::size(all)]));
        }
        default:
            return {};
        }
    }
    void change(const KindInfo& kind, Settings& settings, double share) {
        for (const Setting& s : kind.settings)
            if (chance(share))
                if (Value v = valueOf(s); !std::holds_alternative<std::monostate>(v))
                    settings.set(s.key, std::move(v));
    }
    Element element(const std::string& kind, double share) {
        Element e{.id = p_.newId<ElementId>(), .kind = kind};
        change(kindOf(kind), e.settings, share);
        return e;
    }
    Element mark() {
        const MarkKind& kind = markCatalogue()[random_() % markCatalogue().size()];
        Element e = element(kind.info.key, 0.3);
        if (kind.takes == Takes::Analysis)
            e.source = p_.analyses[random_() % p_.analyses.size()].id.text();
        else if (kind.takes != Takes::Nothing)
            e.source = p_.datasets[random_() % p_.datasets.size()].id.text();
        if (chance(0.03)) e.source = "d99999";
        return e;
    }
    // Artwork of all sorts, other figures, what is not there; and columns of a table.
    Element placed() {
        if (p_.assets.empty()) {
            const auto bytes = [](const char* text) { return std::make_shared<const std::string>(text); };
            p_.assets = p_.assets.with(
                {.id = p_.newId<AssetId>(),
                 .name = "a.svg",
                 .type = "image/svg+xml",
                 .bytes = bytes("<svg width=\"50mm\" height=\"9mm\" viewBox=\"0 0 50 9\"><path "
                                "d=\"M 0 0 C 9 9 9 0 50 9 Z\" style=\"fill:#123456\"/></svg>")});
            p_.assets = p_.assets.with({.id = p_.newId<AssetId>(),
                                        .name = "b.svg",
                                        .type = "image/svg+xml",
                                        .bytes = bytes("<svg broken")});
        }
        if (chance(0.3)) {
            Element table = element("table", 0.5);
            table.source = chance(0.9) ? p_.tables[0].id.text() : "t9999";
            return table;
        }
        Element e = element("artwork", 0.4);
        const std::string sources[] = {p_.assets[0].id.text(), p_.assets[1].id.text(), "r9999",
                                       p_.figures.empty() ? "" : p_.figures[0].id.text()};
        e.source = sources[random_() % std::size(sources)];
        for (const char* note : {"note", "shape", "scale-bar"})
            if (chance(0.3)) e.children.push_back(element(note, 0.4));
        return e;
    }
    Element panel(int depth) {
        axes_.clear();
        Element e = element("panel", depth == 0 ? 0.12 : 0.3);
        if (depth == 0 && e.settings.text("place") == "inset") e.settings.remove("place");
        if (depth > 0) e.settings.set("place", "inset");
        const int axes = static_cast<int>(random_() % 5);
        for (int k = 0; k < axes; ++k) {
            Element a = element("axis", 0.2);
            a.settings.set("lane", static_cast<int>(random_() % 3));
            axes_.push_back(a.id);
            e.children.push_back(std::move(a));
        }
        for (std::size_t k = random_() % 5; k-- > 0;) e.children.push_back(mark());
        if (chance(0.4)) {
            Element g = element("group", 0.5);
            for (std::size_t k = 1 + random_() % 3; k-- > 0;) g.children.push_back(mark());
            e.children.push_back(std::move(g));
        }
        for (const char* other : {"legend", "colour-bar", "note", "arrow", "shape", "brace", "scale-bar"})
            if (chance(0.4)) e.children.push_back(element(other, 0.4));
        if (depth == 0 && chance(0.3)) e.children.push_back(panel(1));
        return e;
    }

    std::mt19937_64 random_, others_;
    Project p_;
    std::vector<ElementId> axes_;
};

std::string firstDifference(const draw::DisplayList& a, const draw::DisplayList& b) {
    const std::string x = test::textOf(a), y = test::textOf(b);
    const auto at = static_cast<std::size_t>(std::ranges::mismatch(x, y).in1 - x.begin());
    const std::size_t line = at == 0 ? 0 : x.rfind('\n', at - 1) + 1;
    std::string out = x.substr(line, 300) + "\n" + y.substr(line, 300);
    for (std::size_t k = 0; k < std::min(a.regions.size(), b.regions.size()); ++k)
        if (const draw::Rect& r = a.regions[k].bounds; !(a.regions[k] == b.regions[k]))
            out += fmt::format("\nregion of {}: {} {} {} {}", a.regions[k].element.text(), r.x, r.y, r.width,
                               r.height);
    return out;
}

// All places are numbers, and not astronomically far.
void expectSound(const std::vector<draw::Item>& items, std::uint64_t seed) {
    auto sound = [](const draw::Point& p) { return std::abs(p.x) < 2e5 && std::abs(p.y) < 2e5; };
    std::vector<draw::Point> places;
    for (const draw::Item& item : items) {
        if (const auto* g = std::get_if<draw::Group>(&item.what)) {
            expectSound(g->items, seed);
            std::vector<draw::Rect> clips = g->parts;
            if (g->clip) clips.push_back(*g->clip);
            for (const draw::Rect& c : clips) // an inset may be far off the page
                ASSERT_TRUE(std::isfinite(c.x + c.y + c.width + c.height))
                    << "seed " << seed << " of " << item.element.text();
        }
        if (const auto* s = std::get_if<draw::Symbols>(&item.what))
            std::ranges::copy(s->places, std::back_inserter(places));
        if (const auto* p = std::get_if<draw::Path>(&item.what))
            for (const auto& l : p->lines) std::ranges::copy(l.points, std::back_inserter(places));
        if (const auto* t = std::get_if<draw::TextRun>(&item.what)) places.push_back(t->origin);
        for (const draw::Point& p : places)
            ASSERT_TRUE(sound(p)) << "seed " << seed << " of " << item.element.text() << ": " << p.x << ", "
                                  << p.y;
        places.clear();
    }
}

} // namespace

// Those that once were found: an axis whose end lies infinitely far, a break that its scale cannot show.
TEST(RandomFigures, ThatOnceWereFound) {
    for (const std::uint64_t seed : {445U, 602U, 619U, 790U, 983U, 2680U}) {
        const Project p = Maker(seed).project();
        evaluate::Evaluator e;
        const Layout l = layOut(p, p.figures[p.figures.size() - 1], e, {.pixelsPerMm = 4});
        EXPECT_TRUE(l.list == l.list) << seed << ": something is no number";
        for (const PanelGeometry& g : l.panels)
            EXPECT_TRUE(std::isfinite(g.area.x + g.area.y + g.area.width + g.area.height)) << seed;
    }
}

namespace {

void layOutRandomFigures(const std::function<Project(std::uint64_t)>& make) {
    // JOINTER_SEEDS=7 tries one figure, JOINTER_SEEDS=1-5000 many.
    const std::string told = std::getenv("JOINTER_SEEDS") ? std::getenv("JOINTER_SEEDS") : "1-200";
    const std::uint64_t first = std::stoull(told);
    const std::size_t dash = told.find('-');
    const std::uint64_t last = dash == told.npos ? first : std::stoull(told.substr(dash + 1));
    for (std::uint64_t seed = first; seed <= last; ++seed) {
        SCOPED_TRACE("seed " + std::to_string(seed));
        const Project p = make(seed);
        const Figure& f = p.figures[p.figures.size() - 1];
        evaluate::Evaluator e;
        const Layout once = layOut(p, f, e, {.pixelsPerMm = 4});
        ASSERT_NO_FATAL_FAILURE(expectSound(once.list.items, seed));
        const Layout again = layOut(p, f, e, {.pixelsPerMm = 4});
        EXPECT_TRUE(once.list == again.list) << "seed " << seed << "\n"
                                             << firstDifference(once.list, again.list);
        for (const Issue& issue : once.issues) EXPECT_FALSE(issue.text.empty()) << "seed " << seed;
        EXPECT_FALSE(draw::toSvg(once.list, {.embedFonts = false}).empty());
    }
}

} // namespace

TEST(RandomFigures, AreLaidOutWithoutAFinding) {
    layOutRandomFigures([](std::uint64_t seed) { return Maker(seed).project(); });
}

TEST(RandomFigures, OfFieldsAreLaidOutWithoutAFinding) {
    layOutRandomFigures([](std::uint64_t seed) { return Maker(seed).withFields().project(); });
}
