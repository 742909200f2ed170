// SPDX-License-Identifier: GPL-3.0-or-later
// What demo figures are put together with: elements and their settings, datasets and analyses by name.
#pragma once

#include "figure/kinds.h"
#include "maker.h"

namespace jointer::demo {

using figure::newMark;
using List = std::initializer_list<std::pair<const char*, Value>>;

inline Value word(const char* text) {
    return Value(std::string(text));
}

inline void give(Settings& to, List settings) {
    for (const auto& [key, value] : settings) to.set(key, value);
}

inline Element mark(const char* kind, const std::string& source, List settings = {}) {
    Element e = newMark(kind, source);
    give(e.settings, settings);
    return e;
}

class PageMaker {
public:
    explicit PageMaker(Maker& m) : m_(m) {}

protected:
    std::string dataset(const std::string& name) const {
        for (const auto& d : m_.project().datasets)
            if (d->name == name) return d->id.text();
        return {};
    }
    std::string analysis(const std::string& name) const {
        for (const auto& a : m_.project().analyses)
            if (a->name == name) return a->id.text();
        return {};
    }
    Value reference(const Element& e) const { return Value(Reference{e.id.text()}); }
    Element axis(const char* side, List settings = {}) {
        Element e{.id = m_.project().newId<ElementId>(), .kind = "axis"};
        e.settings.set("side", side);
        give(e.settings, settings);
        return e;
    }
    Element panel(std::vector<Element> children, List settings = {}) {
        Element e{.id = m_.project().newId<ElementId>(), .kind = "panel", .children = std::move(children)};
        give(e.settings, settings);
        return e;
    }
    Element group(std::vector<std::string> names, std::vector<Element> marks, List settings) {
        Element e{.kind = "group", .children = std::move(marks)};
        References references;
        for (const std::string& name : names) references.push_back({dataset(name)});
        e.settings.set("datasets", Value(references));
        give(e.settings, settings);
        return e;
    }
    void add(const char* name, List page, std::vector<Element> panels, const char* style = "Single column") {
        Figure f{.name = name, .style = {}, .elements = std::move(panels)};
        for (const auto& s : m_.project().styles)
            if (s->name == style) f.style = s->id;
        give(f.settings, page);
        m_.apply(edits::addFigure(std::move(f)));
    }
    static Element legend(const char* where = "best") {
        Element e{.kind = "legend"};
        e.settings.set("where", where);
        return e;
    }

    Maker& m_;
};

} // namespace jointer::demo
