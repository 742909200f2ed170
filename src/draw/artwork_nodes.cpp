// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/artwork_nodes.h"

namespace jointer::draw::svg {

double attribute(Node node, const char* name) {
    const auto n = numbersIn(node.attribute(name).value());
    return n.empty() ? 0 : n.front();
}

std::string_view linkOf(Node node) {
    const pugi::xml_attribute old = node.attribute("xlink:href");
    return targetOf((old ? old : node.attribute("href")).value());
}

std::string propertyOf(Node node, const char* name) {
    const std::string_view style = node.attribute("style").value();
    const std::string key = std::string(name) + ":";
    for (std::size_t at = style.find(key); at != style.npos; at = style.find(key, at + 1))
        if (at == 0 || style[at - 1] == ';' || style[at - 1] == ' ') {
            const std::size_t from = at + key.size();
            return std::string(style.substr(from, std::min(style.find(';', from), style.size()) - from));
        }
    return node.attribute(name).value();
}

std::vector<Polyline> rectangleOf(Node n, const Matrix& m) {
    const double x = attribute(n, "x"), y = attribute(n, "y"), w = attribute(n, "width"),
                 h = attribute(n, "height");
    return {{{m({x, y}), m({x + w, y}), m({x + w, y + h}), m({x, y + h})}, true}};
}

std::optional<Gradient> gradientOf(Node n) {
    Gradient g;
    g.radial = std::string_view(n.name()) == "radialGradient";
    const std::string_view spread = n.attribute("spreadMethod").value();
    g.reflects = spread == "reflect";
    g.repeats = spread == "repeat";
    if (std::string_view(n.attribute("gradientUnits").value()) != "userSpaceOnUse") return {};
    g.to = g.radial ? Point{attribute(n, "cx"), attribute(n, "cy")}
                    : Point{attribute(n, "x2"), attribute(n, "y2")};
    g.from = !g.radial           ? Point{attribute(n, "x1"), attribute(n, "y1")}
             : n.attribute("fx") ? Point{attribute(n, "fx"), attribute(n, "fy")}
                                 : g.to;
    g.radius = g.radial ? attribute(n, "r") : 1;
    for (Node stop : n.children("stop")) {
        const auto at = numbersIn(stop.attribute("offset").value());
        const double opacity = [&] {
            const auto v = numbersIn(propertyOf(stop, "stop-opacity"));
            return v.empty() ? 1.0 : v.front();
        }();
        const Colour c = colourIn(propertyOf(stop, "stop-color")).value_or(Colour{});
        const double offset = at.empty() ? 0 : std::clamp(at.front(), 0.0, 1.0);
        g.stops.push_back(
            {g.stops.empty() ? offset : std::max(g.stops.back().at, offset), c.withAlpha(opacity)});
    }
    if (g.stops.empty()) return {};
    return g;
}

} // namespace jointer::draw::svg
