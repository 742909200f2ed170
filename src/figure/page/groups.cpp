// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/groups.h"

#include "analyses/analysis.h"
#include "base/text.h"
#include "base/unit_text.h"
#include "figure/marks/parts.h"

#include <cmath>
#include <set>

namespace jointer::figure {

namespace {

constexpr std::size_t kParts = 400; // of the x axis, in which curves are held apart

const Attribute* attributeOf(const Dataset& d, const std::string& name) {
    const auto at = std::ranges::find(d.attributes, name, &Attribute::name);
    return at == d.attributes.end() ? nullptr : &*at;
}

double numberOf(const Dataset& d, const std::string& name) {
    const Attribute* a = attributeOf(d, name);
    return a ? parseNumber(a->value).value_or(NAN) : NAN;
}

// The attribute told, else the first that differs between the members.
std::string chosenAttribute(const Look& look, const std::vector<GroupMember>& members) {
    if (std::string told = look.text("attribute"); !told.empty()) return told;
    if (members.empty()) return {};
    for (const Attribute& a : members.front().dataset->attributes)
        for (const GroupMember& m : members) {
            const Attribute* other = attributeOf(*m.dataset, a.name);
            if (other && other->value != a.value) return a.name;
        }
    return members.front().dataset->attributes.empty() ? std::string()
                                                       : members.front().dataset->attributes[0].name;
}

void order(GroupMembers& g) {
    if (g.look.text("order") == "attribute")
        std::ranges::stable_sort(g.members, [&](const GroupMember& a, const GroupMember& b) {
            const double va = numberOf(*a.dataset, g.attribute), vb = numberOf(*b.dataset, g.attribute);
            if (std::isfinite(va) && std::isfinite(vb)) return va < vb;
            if (std::isfinite(va) != std::isfinite(vb)) return std::isfinite(va);
            const Attribute *ta = attributeOf(*a.dataset, g.attribute),
                            *tb = attributeOf(*b.dataset, g.attribute);
            return (ta ? ta->value : "") < (tb ? tb->value : "");
        });
    if (g.look.flag("reversed")) std::ranges::reverse(g.members);
}

// Classes in the order in which they appear.
std::vector<std::size_t> classesOf(const GroupMembers& g) {
    std::vector<std::string> known;
    std::vector<std::size_t> out;
    for (const GroupMember& m : g.members) {
        const Attribute* a = attributeOf(*m.dataset, g.attribute);
        const std::string value = a ? a->value : "";
        const auto at = std::ranges::find(known, value);
        out.push_back(static_cast<std::size_t>(at - known.begin()));
        if (at == known.end()) known.push_back(value);
    }
    return out;
}

void encode(GroupMembers& g, const draw::Colour& ink, std::string_view paletteKey) {
    const std::string colours = g.look.text("colours"), symbols = g.look.text("symbols"),
                      dashes = g.look.text("dashes");
    const auto classes = classesOf(g);
    std::optional<Range> range;
    for (const GroupMember& m : g.members)
        if (const double v = numberOf(*m.dataset, g.attribute); std::isfinite(v))
            range = range ? Range{std::min(range->low, v), std::max(range->high, v)} : Range{v, v};
    if (colours == "scale") g.scale = range;
    auto shareOf = [&](const GroupMember& m) {
        const double v = numberOf(*m.dataset, g.attribute);
        return range && range->high > range->low && std::isfinite(v)
                   ? (v - range->low) / (range->high - range->low)
                   : 0.5;
    };
    for (std::size_t k = 0; k < g.members.size(); ++k) {
        GroupMember& m = g.members[k];
        auto colour = [&](const std::string& text) { m.looks.set("colour", Value(text)); };
        const auto& own = palette(paletteKey);
        if (colours == "order") colour(own[k % own.size()]);
        if (colours == "class") colour(own[classes[k] % own.size()]);
        if (colours == "scale") colour(mapped(g.look.text("map"), shareOf(m)).text());
        if (colours == "one") colour(ink.text());
        if (symbols != "one") m.looks.set("symbol", Value(symbolAt(symbols == "class" ? classes[k] : k)));
        if (dashes != "one") m.looks.set("dash", Value(dashAt(dashes == "class" ? classes[k] : k)));
        if (g.look.text("sizes") == "scale") {
            m.looks.set("size", Value(2 + 5 * shareOf(m)));
            m.looks.set("width", Value(0.5 + 1.5 * shareOf(m)));
        }
    }
}

void takeByHand(GroupMembers& g) {
    for (const Settings& row : g.element->settings.rows("by-hand")) {
        const auto id = DatasetId::fromText(row.reference("dataset"));
        for (GroupMember& m : g.members) {
            if (m.dataset->id != id) continue;
            for (const char* key : {"colour", "symbol", "dash"})
                if (const std::string own = row.text(key); !own.empty()) m.looks.set(key, Value(own));
            if (row.has("offset")) m.offset = row.number("offset");
            if (const std::string own = row.text("label"); !own.empty()) m.label = own;
        }
    }
}

// By how much each curve must be above the one before, at least by the clearance, on the even line.
std::vector<double> untouching(const std::vector<Envelope>& curves, const Scale& y, double clearance) {
    std::vector<double> at(curves.size(), 0);
    std::vector<double> top(kParts, NAN); // of all below
    double tallest = 0;
    std::vector<Envelope> even = curves;
    for (Envelope& e : even)
        for (std::size_t i = 0; i < kParts; ++i) {
            e.low[i] = y.forward(e.low[i]);
            e.high[i] = y.forward(e.high[i]);
            if (std::isfinite(e.high[i] - e.low[i])) tallest = std::max(tallest, e.high[i] - e.low[i]);
        }
    double lowest = INFINITY, highest = -INFINITY;
    for (const Envelope& e : even)
        for (std::size_t i = 0; i < kParts; ++i) {
            if (std::isfinite(e.low[i])) lowest = std::min(lowest, e.low[i]);
            if (std::isfinite(e.high[i])) highest = std::max(highest, e.high[i]);
        }
    const double gap = clearance * std::max(tallest, highest > lowest ? highest - lowest : 1.0);
    for (std::size_t k = 0; k < even.size(); ++k) {
        double needed = k == 0 ? 0 : -INFINITY;
        for (std::size_t i = 0; k > 0 && i < kParts; ++i)
            if (std::isfinite(top[i]) && std::isfinite(even[k].low[i]))
                needed = std::max(needed, top[i] - even[k].low[i] + gap);
        at[k] = std::isfinite(needed) ? needed : k == 0 ? 0 : at[k - 1];
        for (std::size_t i = 0; i < kParts; ++i)
            if (std::isfinite(even[k].high[i])) top[i] = std::fmax(top[i], even[k].high[i] + at[k]);
    }
    return at;
}

Envelope envelopeOf(const GroupMember& m, const AxisMap& x) {
    Envelope all{std::vector<double>(kParts, NAN), std::vector<double>(kParts, NAN)};
    for (const Mark* mark : m.marks) {
        const Envelope e = mark->envelope(x, kParts);
        for (std::size_t i = 0; i < kParts; ++i) {
            all.low[i] = std::fmin(all.low[i], e.low[i]);
            all.high[i] = std::fmax(all.high[i], e.high[i]);
        }
    }
    return all;
}

// Of curves alike: most of the height of the tallest.
double chosenDistance(const std::vector<Envelope>& curves, const Scale& y) {
    double tallest = 0;
    for (const Envelope& e : curves) {
        double low = INFINITY, high = -INFINITY;
        for (std::size_t i = 0; i < kParts; ++i) {
            const double l = y.forward(e.low[i]), h = y.forward(e.high[i]);
            if (std::isfinite(l)) low = std::min(low, l);
            if (std::isfinite(h)) high = std::max(high, h);
        }
        if (high > low) tallest = std::max(tallest, high - low);
    }
    if (!(tallest > 0)) return 1;
    const double wished = 0.6 * tallest, power = std::pow(10.0, std::floor(std::log10(wished)));
    return power * std::ceil(wished / power * 2) / 2; // a round number
}

} // namespace

std::string labelBy(std::string_view pattern, const Dataset& d) {
    if (pattern.empty()) return draw::literal(d.name);
    std::string out;
    for (std::size_t i = 0; i < pattern.size();) {
        const std::size_t close =
            pattern[i] == '{' && (i == 0 || (pattern[i - 1] != '^' && pattern[i - 1] != '_'))
                ? pattern.find('}', i)
                : pattern.npos;
        if (close == pattern.npos) {
            out += pattern[i++];
            continue;
        }
        std::string name(pattern.substr(i + 1, close - i - 1));
        const bool bare = name.ends_with('.');
        if (bare) name.pop_back();
        const Attribute* a = attributeOf(d, name);
        if (name == "name")
            out += draw::literal(d.name);
        else if (a)
            out += draw::literal(a->value) +
                   (bare || a->unit.empty() ? "" : "\u2009" + unitMarkup(a->unit));
        else
            out += "–";
        i = close + 1;
    }
    return out;
}

GroupMembers membersOf(Page& page, const Element& e) {
    GroupMembers g{.element = &e, .look = page.lookOf(e)};
    for (const std::string& text : e.settings.references("datasets"))
        if (auto d = page.project.datasets.find(DatasetId::fromText(text)))
            g.members.push_back({.dataset = std::move(d)});
    g.attribute = chosenAttribute(g.look, g.members);
    for (const GroupMember& m : g.members)
        if (const Attribute* a = attributeOf(*m.dataset, g.attribute); a && g.unit.empty()) g.unit = a->unit;
    order(g);
    encode(g, page.text.colour, page.look.text("palette"));
    for (GroupMember& m : g.members) m.label = labelBy(g.look.text("label"), *m.dataset);
    takeByHand(g);
    return g;
}

std::string sourceFor(const Page& page, const Element& mark, DatasetId dataset) {
    const MarkKind* kind = markCatalogue().find(mark.kind);
    if (!kind || kind->takes == Takes::Nothing) return {};
    if (kind->takes != Takes::Analysis) return dataset.text();
    std::string last;
    for (const auto& a : page.project.analyses) {
        const analyses::AnalysisKind* known = analyses::kindOf(*a);
        const bool fits = known && known->givesCurve && a->kind != "peaks";
        if (fits && a->takes(dataset) && (mark.source.empty() || mark.source == a->id.text())) last = a->id.text();
    }
    return last;
}

void stagger(GroupMembers& g, const AxisMap& x, const Scale& y) {
    const std::string how = g.look.text("stagger");
    if (how == "none" &&
        std::ranges::none_of(g.members, [](const GroupMember& m) { return m.offset.has_value(); }))
        return;
    std::vector<Envelope> curves;
    if (how == "touch" || (how == "equal" && !std::isfinite(g.look.number("distance"))))
        for (const GroupMember& m : g.members) curves.push_back(envelopeOf(m, x));
    std::vector<double> at(g.members.size(), 0);
    if (how == "touch") at = untouching(curves, y, g.look.number("clearance") / 100);
    if (how == "equal") {
        const double typed = g.look.number("distance");
        const double each = std::isfinite(typed) ? typed : chosenDistance(curves, y);
        for (std::size_t k = 0; k < at.size(); ++k) at[k] = each * static_cast<double>(k);
    }
    for (std::size_t k = 0; k < g.members.size(); ++k)
        for (Mark* mark : g.members[k].marks)
            mark->offset += how == "hand" || g.members[k].offset ? g.members[k].offset.value_or(0) : at[k];
}

} // namespace jointer::figure
