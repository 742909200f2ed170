// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/house_styles.h"

#include "base/text.h"
#include "figure/kinds.h"
#include "project/figure_edits.h"
#include "project/json_reader.h"
#include "project/json_text.h"

#include <fmt/format.h>
#include <functional>

namespace jointer {

namespace {

constexpr const char* kStyleFormat = "jointer-style";

// What a style may say of a kind: how things look, never what they are or where.
bool isStyled(const KindInfo& kind, const Setting& s) {
    static constexpr std::string_view ofPage[] = {"width", "height"};
    if (kind.key == "figure" && std::ranges::find(ofPage, s.key) != std::end(ofPage)) return true;
    if (s.hidden || s.kind == SettingKind::Reference || s.kind == SettingKind::References ||
        s.kind == SettingKind::Rows)
        return false;
    if (s.group == "How it looks") return true;
    static constexpr std::string_view looks[] = {"size",   "fill",  "symbol",   "width",
                                                 "dash",   "ticks", "opposite", "tick-length",
                                                 "margin", "gap-x", "gap-y",    "columns"};
    return kind.key != "figure" && kind.key != "panel" && std::ranges::find(looks, s.key) != std::end(looks);
}

void eachElement(std::vector<Element>& elements, const std::function<void(Element&)>& visit) {
    for (Element& e : elements) {
        visit(e);
        eachElement(e.children, visit);
    }
}

// The value that most elements of a kind have; what none of them says of itself stays with the style.
struct Count {
    Value value;
    int times;
};

std::shared_ptr<const HouseStyle> styleNamed(const Project& p, const std::string& name) {
    for (const auto& s : p.styles)
        if (s->name == name) return s;
    return nullptr;
}

} // namespace

std::vector<KindInfo> styledKinds() {
    std::vector<KindInfo> out;
    for (KindInfo kind : figure::elementKinds()) {
        std::erase_if(kind.settings, [&](const Setting& s) { return !isStyled(kind, s); });
        if (!kind.settings.empty()) out.push_back(std::move(kind));
    }
    return out;
}

std::string styleText(const HouseStyle& style) {
    Json looks = Json::object();
    for (const auto& [kind, settings] : style.looks) looks[kind] = toJson(settings);
    const Json out = {{"format", kStyleFormat}, {"version", 1}, {"name", style.name}, {"looks", looks}};
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Outcome<Result<HouseStyle>> styleFromText(std::string_view text, const std::string& file) {
    const auto wrong = [&](std::string said) {
        return Outcome<Result<HouseStyle>>{failure("style-file", std::move(said), {.file = file}), {}};
    };
    const auto json = parsedDocument(text, {.code = "style-file", .what = "a house style", .file = file});
    if (!json) return {std::unexpected(json.error()), {}};
    JsonReader r(*json);
    if (r.text("format") != kStyleFormat)
        return wrong("This is no house style of Jointer: “format” is not “jointer-style”.");
    HouseStyle style{.name = r.text("name"), .looks = {}};
    if (style.name.empty()) return wrong("The house style has no “name”.");
    std::vector<Issue> issues;
    const Json* looks = r.take("looks");
    if (!looks || !looks->is_object()) return wrong("The house style has no “looks”.");
    for (const auto& [key, given] : looks->items()) {
        const KindInfo* kind = figure::elementKinds().find(key);
        if (!kind) {
            issues.push_back(
                {"style-file", fmt::format("There is no kind of element “{}”.", key), {.file = file}});
            continue;
        }
        const Settings settings = settingsFromJson(given);
        for (const auto& [name, value] : settings.entries()) {
            const Setting* s = kind->find(name);
            Settings one;
            one.set(name, value);
            const auto good = validate(*kind, one);
            if (s && good)
                style.looks[key].set(name, value);
            else
                issues.push_back(
                    {"style-file",
                     s ? good.error().text : fmt::format("“{}” is no setting of “{}”.", name, key),
                     {.file = file}});
        }
    }
    return {std::move(style), std::move(issues)};
}

namespace edits {

Edit styleFromFigure(FigureId id, std::string name) {
    return {
        "Save house style " + name, {}, [id, name](const Project& before) -> Result<Project> {
            const auto figure = before.figures.find(id);
            if (!figure) return failure("target-gone", "The figure is no longer there.");
            if (trimmed(name).empty()) return failure("no-name", "The house style needs a name.");
            Project after = before;
            const auto base = before.styles.find(figure->style);
            HouseStyle style{.name = name, .looks = base ? base->looks : std::map<std::string, Settings>{}};
            Figure changed = *figure;
            const auto each = [&](const std::function<void(const KindInfo&, Settings&)>& visit) {
                visit(figure::kindOf("figure"), changed.settings);
                eachElement(changed.elements, [&](Element& e) {
                    if (const KindInfo* kind = figure::elementKinds().find(e.kind)) visit(*kind, e.settings);
                });
            };
            // What most elements of a kind show is the style's; each goes on to look as it did.
            std::map<std::pair<std::string, std::string>, std::vector<Count>> counts;
            const auto inForce = [&](const KindInfo& kind, const Settings& own, const std::string& key) {
                return figure::Look(kind, own, base.get()).value(key);
            };
            each([&](const KindInfo& kind, Settings& own) {
                for (const Setting& setting : kind.settings) {
                    if (!isStyled(kind, setting)) continue;
                    auto& all = counts[{kind.key, setting.key}];
                    const Value value = inForce(kind, own, setting.key);
                    const auto same =
                        std::ranges::find_if(all, [&](const Count& c) { return c.value == value; });
                    same == all.end() ? all.push_back({value, 1}) : static_cast<void>(++same->times);
                }
            });
            each([&](const KindInfo& kind, Settings& own) {
                for (const Setting& setting : kind.settings) {
                    if (!isStyled(kind, setting)) continue;
                    const Value& most =
                        std::ranges::max_element(counts[{kind.key, setting.key}], {}, &Count::times)->value;
                    const Value value = inForce(kind, own, setting.key),
                                basic = inForce(kind, {}, setting.key);
                    if (!(most == basic)) style.looks[kind.key].set(setting.key, most);
                    if (value == most)
                        own.remove(setting.key);
                    else
                        own.set(setting.key, value);
                }
            });
            const auto old = styleNamed(after, name);
            style.id = old ? old->id : after.newId<StyleId>();
            changed.style = style.id;
            after.styles = after.styles.with(std::move(style));
            after.figures = after.figures.with(std::move(changed));
            return after;
        }};
}

Edit setStyle(StyleId id, std::string kind, std::string key, Value value) {
    return {"Change house style", fmt::format("style {} {} {}", id.text(), kind, key),
            [=](const Project& before) -> Result<Project> {
                const auto style = before.styles.find(id);
                if (!style) return failure("target-gone", "The house style is no longer there.");
                HouseStyle changed = *style;
                std::holds_alternative<std::monostate>(value) ? changed.looks[kind].remove(key)
                                                              : changed.looks[kind].set(key, value);
                if (changed.looks[kind].entries().empty()) changed.looks.erase(kind);
                Project after = before;
                after.styles = after.styles.with(std::move(changed));
                return after;
            }};
}

Edit addStyle(HouseStyle style) {
    return {"Add house style " + style.name, {}, [style](const Project& before) -> Result<Project> {
                Project after = before;
                HouseStyle added = style;
                const auto old = styleNamed(after, style.name);
                added.id = old ? old->id : after.newId<StyleId>();
                after.styles = after.styles.with(std::move(added));
                return after;
            }};
}

Edit takeStyle(FigureId id, HouseStyle style) {
    const std::string name = style.name;
    return {"Import house style " + name,
            {},
            [id, add = addStyle(std::move(style)), name](const Project& before) -> Result<Project> {
                auto after = add.apply(before);
                const auto figure = after ? after->figures.find(id) : nullptr;
                if (!figure) return after; // none is shown: the project has it
                Figure changed = *figure;
                changed.style = styleNamed(*after, name)->id;
                after->figures = after->figures.with(std::move(changed));
                return after;
            }};
}

Edit renameStyle(StyleId id, std::string name) {
    return {"Rename house style", {}, [=](const Project& before) -> Result<Project> {
                const auto style = before.styles.find(id);
                if (!style) return failure("target-gone", "The house style is no longer there.");
                if (const auto other = styleNamed(before, name); other && other->id != id)
                    return failure("name-taken", fmt::format("There is a house style “{}” already.", name));
                HouseStyle changed = *style;
                changed.name = name;
                Project after = before;
                after.styles = after.styles.with(std::move(changed));
                return after;
            }};
}

Edit removeStyle(StyleId id) {
    return {"Remove house style", {}, [=](const Project& before) -> Result<Project> {
                if (!before.styles.find(id))
                    return failure("target-gone", "The house style is no longer there.");
                if (before.styles.size() < 2) return failure("last-style", "One house style has to stay.");
                Project after = before;
                after.styles = after.styles.without(id);
                const StyleId next = after.styles[0].id;
                for (const auto& f : before.figures)
                    if (f->style == id) {
                        Figure changed = *f;
                        changed.style = next;
                        after.figures = after.figures.with(std::move(changed));
                    }
                return after;
            }};
}

} // namespace edits

} // namespace jointer
