// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/journal.h"

#include "base/text.h"
#include "draw/markup.h"
#include "draw/revise.h"
#include "figure/actions.h"
#include "figure/anchors.h"
#include "figure/kinds.h"
#include "figure/marks/mark.h"
#include "project/figure_edits.h"

#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <map>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kTextContrast = 3;     // of text and its ground
constexpr double kLineContrast = 1.6;   // of lines and theirs
constexpr double kToldApart = 0.055;    // of colours, see draw/colour_sight.h
constexpr double kToldApartGrey = 0.06; // in lightness
constexpr double kSlack = 1e-6;

double largerBy(double pt) { // up to the next quarter of a point
    return std::ceil(pt * 4 - kSlack) / 4;
}

class Check {
public:
    Check(const Project& project, const Figure& figure, const Layout& layout, const JournalProfile& profile,
          const Settings& written)
        : project_(project), figure_(figure), layout_(layout), profile_(profile), written_(written),
          style_(project.styles.find(figure.style)), page_(kindOf("figure"), figure.settings, style_.get()),
          ground_(page_.colour("ground", {255, 255, 255})) {}

    std::vector<Finding> run() {
        size();
        typeface();
        texts();
        lines();
        contrasts();
        colours();
        units();
        overlaps();
        edges();
        writing();
        std::ranges::move(artworkFindings(project_, figure_, layout_, profile_), std::back_inserter(out_));
        for (const Issue& issue : layout_.issues)
            if (issue.code != "artwork-coarse") add(issue.code, issue.text, {}); // told by its dpi
        return std::move(out_);
    }

private:
    void add(std::string code, std::string text, ElementId element, std::optional<Edit> mend = {},
             std::string mending = {}) {
        out_.push_back({std::move(code), std::move(text), element, std::move(mend), std::move(mending)});
    }
    Edit set(ElementId element, const std::string& key, Value value) const {
        return edits::setElement(figure_.id, element, key, std::move(value));
    }
    // What is drawn but for artwork, which has a scale of its own.
    void eachOwn(const std::function<void(const Item&)>& visit) const {
        for (const Item& item : layout_.list.items) {
            const Element* e = elementOf(item.element);
            if (e && e->kind == "artwork" && std::holds_alternative<Group>(item.what)) continue;
            visit(item);
            if (const auto* group = std::get_if<Group>(&item.what)) eachItem(group->items, visit);
        }
    }
    const Element* elementOf(ElementId id) const { return id ? figure_.find(id) : nullptr; }
    std::string nameOf(ElementId id) const {
        const Element* e = elementOf(id);
        const KindInfo* kind = e ? elementKinds().find(e->kind) : nullptr;
        return !kind               ? "the page"
               : e->kind == "axis" ? "the " + e->settings.text("side", "bottom") + " axis"
                                   : "the " + lowerAscii(kind->name);
    }

    void size() {
        const double width = layout_.list.widthMm, height = layout_.list.heightMm;
        if (!profile_.widthsMm.empty() &&
            std::ranges::none_of(profile_.widthsMm, [&](double w) { return std::abs(w - width) < 0.05; })) {
            const double nearest = *std::ranges::min_element(profile_.widthsMm, {},
                                                             [&](double w) { return std::abs(w - width); });
            std::vector<std::string> widths;
            for (const double w : profile_.widthsMm) widths.push_back(fmt::format("{:g}", w));
            add("page-width",
                fmt::format("The page is {:g} mm wide; {} mm are taken.", width, joined(widths, " or ")), {},
                set({}, "width", Value(nearest)), fmt::format("Make it {:g} mm wide", nearest));
        }
        if (profile_.greatestHeightMm > 0 && height > profile_.greatestHeightMm + 0.05)
            add("page-height",
                fmt::format("The page is {:g} mm high; at most {:g} mm are taken.", height,
                            profile_.greatestHeightMm),
                {}, set({}, "height", Value(profile_.greatestHeightMm)),
                fmt::format("Make it {:g} mm high", profile_.greatestHeightMm));
    }

    void typeface() {
        const std::string family = page_.text("family");
        if (profile_.families.empty() ||
            std::ranges::find(profile_.families, family) != profile_.families.end())
            return;
        add("typeface", "The typeface is not among those that are taken.", {},
            set({}, "family", Value(profile_.families.front())), "Take one that is");
    }

    // The smallest size of text of each element, scripts apart.
    void texts() {
        if (profile_.smallestTextPt <= 0) return;
        std::map<ElementId, double> smallest;
        std::map<ElementId, double> scripts;
        eachOwn([&](const Item& item) {
            const auto* run = std::get_if<TextRun>(&item.what);
            if (!run) return;
            const double line = item.line ? item.line->sizePt : run->sizePt;
            const auto keep = [&](std::map<ElementId, double>& of, double pt) {
                const auto [at, fresh] = of.emplace(item.element, pt);
                if (!fresh) at->second = std::min(at->second, pt);
            };
            keep(smallest, line);
            if (run->sizePt < line) keep(scripts, run->sizePt);
        });
        const double least = profile_.smallestTextPt, ofPage = page_.number("text-size");
        for (const auto& [id, pt] : smallest) {
            if (pt >= least - kSlack) continue;
            const Element* e = elementOf(id);
            const bool own = e && kindOf(e->kind).find("text-size") &&
                             Look(kindOf(e->kind), e->settings, style_.get()).number("text-size") > 0;
            add("text-too-small",
                fmt::format("Text of {} is {:.3g} pt; at least {:g} pt are wanted.", nameOf(id), pt, least),
                id,
                own ? set(id, "text-size", Value(largerBy(least)))
                    : set({}, "text-size", Value(largerBy(std::max(least, ofPage * least / pt)))),
                fmt::format("Set it to {:g} pt", largerBy(least)));
        }
        for (const auto& [id, pt] : scripts)
            if (pt < kScripts * least - kSlack && smallest.at(id) >= least - kSlack)
                add("scripts-too-small",
                    fmt::format("Scripts of {} are {:.2g} pt; {:.2g} pt can be read.", nameOf(id), pt,
                                kScripts * least),
                    id);
    }

    // The key by which the width of an element's lines is set.
    std::string widthKey(const Element& e) const {
        const KindInfo& kind = kindOf(e.kind);
        for (const char* key : {"width", "frame-width", "tick-width", "outline"})
            if (const Setting* s = kind.find(key); s && s->unit == "pt") return key;
        return {};
    }

    void lines() {
        if (profile_.smallestLinePt <= 0) return;
        std::map<ElementId, double> thinnest;
        eachOwn([&](const Item& item) {
            const auto* path = std::get_if<Path>(&item.what);
            const auto* symbols = std::get_if<Symbols>(&item.what);
            const auto& stroke = path ? path->stroke : symbols ? symbols->stroke : std::optional<Stroke>{};
            if (!stroke || stroke->widthMm <= 0 || item.line) return; // strokes of letters are letters
            const auto [at, fresh] = thinnest.emplace(item.element, stroke->widthMm);
            if (!fresh) at->second = std::min(at->second, stroke->widthMm);
        });
        const double least = profile_.smallestLinePt;
        for (const auto& [id, mm] : thinnest) {
            const double pt = mm / kMmPerPt;
            if (pt >= least - 1e-3) continue;
            const Element* e = elementOf(id);
            const std::string key = e ? widthKey(*e) : "";
            std::optional<Edit> mend;
            if (!key.empty()) mend = set(id, key, Value(least));
            add("line-too-thin",
                fmt::format("Lines of {} are {:.2g} pt; at least {:g} pt are wanted.", nameOf(id), pt, least),
                id, std::move(mend), fmt::format("Set them to {:g} pt", least));
        }
    }

    // The colours of the maps and filled contours of each panel, on which its other marks stand; some of
    // them.
    std::map<ElementId, std::vector<Colour>> mapColours() const {
        constexpr std::size_t kSome = 400;
        std::map<ElementId, std::vector<Colour>> out;
        eachOwn([&](const Item& item) {
            const Element* e = elementOf(item.element);
            if (!e || (e->kind != "colour-map" && e->kind != "filled-contours")) return;
            auto& colours = out[panelOf(figure_, e->id)];
            if (const auto* path = std::get_if<Path>(&item.what); path && path->fill)
                colours.push_back(*path->fill);
            const auto* picture = std::get_if<Picture>(&item.what);
            if (!picture || !picture->pixels) return;
            const std::size_t n = picture->pixels->size() / 4, step = std::max<std::size_t>(1, n / kSome);
            for (std::size_t k = 0; k < n; k += step) {
                const std::uint8_t* at = picture->pixels->data() + 4 * k;
                if (at[3] > 0) colours.push_back({at[0], at[1], at[2], 255});
            }
        });
        return out;
    }

    // How a colour of an element stands out from the page, or for the most part from the map that it lies on.
    double contrastOf(ElementId id, Colour c, const std::map<ElementId, std::vector<Colour>>& maps) const {
        const Element* e = elementOf(id);
        const auto map = e && isMark(e->kind) ? maps.find(panelOf(figure_, id)) : maps.end();
        if (map == maps.end() || map->second.empty()) return contrast(c, ground_);
        std::vector<double> values;
        for (const Colour& under : map->second) values.push_back(contrast(c, under));
        const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
        std::ranges::nth_element(values, middle);
        return *middle;
    }

    void contrasts() {
        std::map<ElementId, double> text, line;
        const auto maps = mapColours();
        eachOwn([&](const Item& item) {
            const auto keep = [&](std::map<ElementId, double>& of, Colour c) {
                const double value = contrastOf(item.element, c, maps);
                const auto [at, fresh] = of.emplace(item.element, value);
                if (!fresh) at->second = std::max(at->second, value);
            };
            if (const auto* run = std::get_if<TextRun>(&item.what)) keep(text, run->colour);
            if (const auto* path = std::get_if<Path>(&item.what); path && path->stroke)
                keep(line, path->stroke->colour);
        });
        for (const auto& [id, value] : text)
            if (value < kTextContrast && !hasGround(id))
                add("low-contrast",
                    fmt::format("Text of {} hardly stands out from what is behind it (contrast {:.1f}).",
                                nameOf(id), value),
                    id);
        for (const auto& [id, value] : line)
            if (value < kLineContrast && !text.contains(id))
                add("low-contrast",
                    fmt::format("Lines of {} hardly stand out from what is behind them (contrast {:.1f}).",
                                nameOf(id), value),
                    id);
    }
    bool hasGround(ElementId id) const {
        const Element* e = elementOf(id);
        return e && isNote(e->kind) && !e->settings.text("ground").empty();
    }

    // Of what the legend tells apart, and of curves in one panel.
    void colours() {
        struct Shown {
            ElementId mark;
            DatasetId of;
            Colour colour;
            std::string label;
            std::size_t panel;
        };
        std::vector<Shown> all;
        for (const MarkGeometry& m : layout_.marks) {
            if (m.label.empty() || m.label == "-" || m.label == "–") continue;
            for (const Item& item : layout_.list.items) {
                if (item.element != m.mark || item.of != m.of) continue;
                if (const auto colour = firstColour(item)) {
                    const auto same = std::ranges::find_if(
                        all, [&](const Shown& s) { return s.panel == m.panel && s.label == m.label; });
                    if (same == all.end()) all.push_back({m.mark, m.of, *colour, m.label, m.panel});
                    break;
                }
            }
        }
        static const std::pair<Sight, const char*> sights[] = {{Sight::Protan, "without red cones"},
                                                               {Sight::Deutan, "without green cones"},
                                                               {Sight::Tritan, "without blue cones"}};
        for (std::size_t a = 0; a < all.size(); ++a)
            for (std::size_t b = 0; b < a; ++b) {
                if (all[a].panel != all[b].panel || all[a].colour == all[b].colour) continue;
                for (const auto& [sight, words] : sights)
                    if (draw::difference(seenBy(all[a].colour, sight), seenBy(all[b].colour, sight)) <
                        kToldApart) {
                        add("colour-blind",
                            fmt::format("“{}” and “{}” look alike to people {}.", all[b].label, all[a].label,
                                        words),
                            all[a].mark);
                        break;
                    }
                if (!profile_.colour && std::abs(perceived(all[a].colour).lightness -
                                                 perceived(all[b].colour).lightness) < kToldApartGrey)
                    add("alike-in-grey",
                        fmt::format("“{}” and “{}” are the same grey in print.", all[b].label, all[a].label),
                        all[a].mark);
            }
    }
    static std::optional<Colour> firstColour(const Item& item) {
        if (const auto* group = std::get_if<Group>(&item.what)) {
            for (const Item& inner : group->items)
                if (const auto colour = firstColour(inner)) return colour;
            return {};
        }
        if (const auto* path = std::get_if<Path>(&item.what))
            return path->stroke ? std::optional(path->stroke->colour) : path->fill;
        if (const auto* symbols = std::get_if<Symbols>(&item.what))
            return symbols->stroke ? std::optional(symbols->stroke->colour) : symbols->fill;
        return {};
    }

    void units() {
        for (const PanelGeometry& panel : layout_.panels)
            for (const AxisGeometry& axis : panel.axes) {
                const Element* e = elementOf(axis.axis);
                if (!e || axis.meaning.isTime || !axis.meaning.categories.empty()) continue;
                const Look look(kindOf("axis"), e->settings, style_.get());
                const std::string name = look.text("name").empty() ? axis.meaning.name : look.text("name");
                const std::string unit = look.text("unit").empty() ? axis.meaning.unit : look.text("unit");
                if (name == "-" || name == "–" || !look.flag("show")) continue;
                if (name.empty())
                    add("no-title",
                        fmt::format("The {} axis has no title.", e->settings.text("side", "bottom")),
                        axis.axis);
                else if (unit.empty() && name.find('(') == name.npos && name.find('%') == name.npos)
                    add("no-unit",
                        fmt::format("“{}” has no unit; a dash in its place says that it has none.",
                                    plainText(name)),
                        axis.axis, set(axis.axis, "unit", Value(std::string("–"))), "It has none");
            }
    }

    void overlaps() {
        std::vector<const Region*> small;
        for (const Region& r : layout_.list.regions) {
            const Element* e = elementOf(r.element);
            if (e && (e->kind == "note" || e->kind == "legend")) small.push_back(&r);
        }
        for (std::size_t a = 0; a < small.size(); ++a)
            for (std::size_t b = 0; b < a; ++b) {
                if (small[a]->element == small[b]->element) continue;
                const Rect one = small[a]->bounds.grown(-0.3), two = small[b]->bounds.grown(-0.3);
                if (one.width > 0 && two.width > 0 && one.x < two.right() && two.x < one.right() &&
                    one.y < two.bottom() && two.y < one.bottom())
                    add("overlap",
                        fmt::format("{} and {} lie over each other.", capital(nameOf(small[a]->element)),
                                    nameOf(small[b]->element)),
                        small[a]->element);
            }
    }
    static std::string capital(std::string text) {
        if (!text.empty()) text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
        return text;
    }

    // Letters beyond the page are cut off.
    void edges() {
        std::map<ElementId, bool> told;
        const Rect page{-0.05, -0.05, layout_.list.widthMm + 0.1, layout_.list.heightMm + 0.1};
        for (const Item& item : layout_.list.items) {
            const auto* run = std::get_if<TextRun>(&item.what);
            if (!run || told[item.element]) continue;
            for (const Polyline& line : outlineOf(*run).lines)
                for (const Point& p : line.points)
                    if (!page.contains(p) && !std::exchange(told[item.element], true))
                        add("cut-off",
                            fmt::format("Text of {} reaches over the edge of the page.",
                                        nameOf(item.element)),
                            item.element);
        }
    }

    void writing() {
        const std::string format = written_.text("format");
        if (format.empty()) return;
        if (!profile_.formats.empty() &&
            std::ranges::find(profile_.formats, format) == profile_.formats.end()) {
            Settings other = written_;
            other.set("format", Value(profile_.formats.front()));
            add("file-kind",
                fmt::format("It was written as {}; {} are taken.", format, joined(profile_.formats, ", ")),
                {}, set({}, "export", Value(std::make_shared<const RowList>(RowList{other}))),
                "Write it as " + profile_.formats.front());
        }
        const bool bitmap = format == "png" || format == "tif" || format == "jpg";
        if (bitmap && profile_.dpi > 0 && written_.number("dpi", 600) < profile_.dpi) {
            Settings other = written_;
            other.set("dpi", Value(profile_.dpi));
            add("dpi",
                fmt::format("It was written with {:g} dpi; at least {:g} are wanted.",
                            written_.number("dpi", 600), profile_.dpi),
                {}, set({}, "export", Value(std::make_shared<const RowList>(RowList{other}))),
                fmt::format("Write it with {:g} dpi", profile_.dpi));
        }
    }

    const Project& project_;
    const Figure& figure_;
    const Layout& layout_;
    const JournalProfile& profile_;
    const Settings& written_;
    std::shared_ptr<const HouseStyle> style_;
    Look page_;
    Colour ground_;
    std::vector<Finding> out_;
};

} // namespace

std::vector<Finding> journalFindings(const Project& project, const Figure& figure, const Layout& layout,
                                     const JournalProfile& profile, const Settings& written) {
    return Check(project, figure, layout, profile, written).run();
}

} // namespace jointer::figure
