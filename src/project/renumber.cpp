// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/renumber.h"

#include "project/references.h"

namespace jointer {

namespace {

class Numbering {
public:
    explicit Numbering(std::uint64_t& next) : next_(next) {}

    template <class IdType> void give(IdType& id) {
        const std::string before = id.text();
        id.value = next_++;
        if (!before.empty()) ids_.emplace(before, id.text());
    }
    void give(Table& t) {
        give(t.id);
        for (Column& c : t.columns) give(c.id);
    }
    void give(Dataset& d) {
        give(d.id);
        for (Step& s : d.protocol) give(s.id);
    }
    void give(Analysis& a) { give(a.id); }
    void give(Figure& f) {
        give(f.id);
        for (Element& e : f.elements) give(e);
    }
    void give(HouseStyle& s) { give(s.id); }
    void give(UserModel& m) { give(m.id); }
    void give(Asset& a) { give(a.id); }
    template <class T> Parts<T> all(const Parts<T>& parts) {
        Parts<T> out;
        for (const auto& part : parts) {
            T copy = *part;
            give(copy);
            out = out.with(std::move(copy));
        }
        return out;
    }
    std::map<std::string, std::string> take() { return std::move(ids_); }

private:
    void give(Element& e) {
        give(e.id);
        for (Element& child : e.children) give(child);
    }
    std::uint64_t& next_;
    std::map<std::string, std::string> ids_;
};

} // namespace

Renumbered renumbered(const Project& parts, std::uint64_t& nextId,
                      const std::map<std::string, std::string>& elsewhere) {
    Numbering numbering(nextId);
    Renumbered out{.parts = parts};
    out.parts.tables = numbering.all(parts.tables);
    out.parts.datasets = numbering.all(parts.datasets);
    out.parts.analyses = numbering.all(parts.analyses);
    out.parts.styles = numbering.all(parts.styles);
    out.parts.figures = numbering.all(parts.figures);
    out.parts.models = numbering.all(parts.models);
    out.parts.assets = numbering.all(parts.assets);
    out.ids = numbering.take();
    out.parts = withReferences(out.parts, [&](const Link& link) {
        if (const auto at = elsewhere.find(link.to); at != elsewhere.end()) return at->second;
        const auto at = out.ids.find(link.to);
        return at == out.ids.end() ? std::string() : at->second;
    });
    out.parts.nextId = nextId;
    return out;
}

} // namespace jointer
