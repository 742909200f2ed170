// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/artwork.h"

#include "base/base64.h"
#include "draw/artwork_nodes.h"

#include <fmt/format.h>
#include <unordered_map>

namespace jointer::draw {

namespace {

using namespace svg;

constexpr std::size_t kMostPoints = 4000000; // of all lines
constexpr std::size_t kMostItems = 400000;
constexpr std::size_t kMostSteps = 4000000; // nodes gone through, those that are used again each time
constexpr int kDeepest = 64;                // of what uses what
constexpr double kTooManyTiles = 4000;
constexpr double kUsualDpi = 96;

Matrix moved(double x, double y) {
    return {1, 0, 0, 1, x, y};
}

std::optional<Rect> asRectangle(const std::vector<Polyline>& lines) {
    if (lines.size() != 1) return {};
    std::vector<Point> p = lines.front().points;
    if (p.size() == 5 && p.front() == p.back()) p.pop_back();
    if (p.size() != 4) return {};
    const Rect r = boundsOf(p);
    const auto near = [](double a, double b) { return std::abs(a - b) < 1e-9; };
    for (std::size_t k = 0; k < 4; ++k) {
        const Point &a = p[k], &b = p[(k + 1) % 4];
        if (!near(a.x, b.x) && !near(a.y, b.y)) return {};
    }
    return r;
}

struct TooMuch {};

class Reader {
public:
    explicit Reader(Node root) : root_(root) {
        const auto index = [this](Node from, auto&& self, int depth) -> void {
            if (depth > 400) throw TooMuch{};
            for (Node n : from.children()) {
                if (const auto id = n.attribute("id")) byId_.emplace(id.value(), n);
                self(n, self, depth + 1);
            }
        };
        index(root, index, 0);
    }

    Result<Artwork> run() {
        const auto box = numbersIn(root_.attribute("viewBox").value());
        out_.widthMm = millimetresIn(root_.attribute("width").value());
        out_.heightMm = millimetresIn(root_.attribute("height").value());
        if (box.size() == 4 && !(out_.widthMm > 0 && out_.heightMm > 0)) {
            out_.widthMm = box[2] * 25.4 / 96;
            out_.heightMm = box[3] * 25.4 / 96;
        }
        if (!(out_.widthMm > 0) || !(out_.heightMm > 0) || !(out_.widthMm < 1e5) || !(out_.heightMm < 1e5))
            return failure("drawing", "The drawing has no size.");
        Matrix m{25.4 / 96, 0, 0, 25.4 / 96, 0, 0};
        if (box.size() == 4 && box[2] > 0 && box[3] > 0) {
            const double x = out_.widthMm / box[2], y = out_.heightMm / box[3];
            m = {x, 0, 0, y, -x * box[0], -y * box[1]};
        }
        off_ = std::max(out_.widthMm, out_.heightMm) / 60000;
        children(root_, {m, {}, 0}, out_.items);
        if (out_.items.size() == 1) out_.isPicture = std::holds_alternative<Picture>(out_.items[0].what);
        return std::move(out_);
    }

private:
    struct State {
        Matrix matrix;
        Style style;
        int depth = 0;
    };
    using Items = std::vector<Item>;

    void lose(const std::string& what) {
        if (out_.lost.empty()) out_.lost = what;
    }
    Node target(std::string_view id) const {
        const auto at = byId_.find(std::string(id));
        return at == byId_.end() ? Node() : at->second;
    }

    void children(Node parent, const State& state, Items& to) {
        for (Node n : parent.children()) node(n, state, to);
    }

    void node(Node n, State state, Items& to) {
        if (++steps_ > kMostSteps || items_ > kMostItems || ++state.depth > kDeepest) throw TooMuch{};
        const std::string_view name = n.name();
        static constexpr std::string_view silent[] = {"defs",  "title",    "desc",           "metadata",
                                                      "style", "clipPath", "linearGradient", "radialGradient",
                                                      "mask",  "pattern",  "filter",         "symbol"};
        if (name.empty() || std::ranges::find(silent, name) != std::end(silent)) return;
        state.style.opacity = 1;
        for (const auto& a : n.attributes())
            if (std::string_view(a.name()) != "style") state.style.set(a.name(), a.value());
        state.style.setAll(n.attribute("style").value());
        state.matrix = state.matrix * matrixIn(n.attribute("transform").value());
        if (n.attribute("filter")) lose("filters");

        Group group{.clip = {}, .opacity = state.style.opacity, .items = {}};
        const std::string clip = propertyOf(n, "clip-path"), mask = propertyOf(n, "mask");
        if (!clip.empty() && clip != "none") cut(group, target(targetOf(clip)), state);
        std::optional<Mask> through;
        if (!mask.empty() && mask != "none") {
            through = maskOf(target(targetOf(mask)), state);
            if (through && !through->picture.pixels) group.opacity *= through->opacity;
        }
        if (name == "g" || name == "svg")
            children(n, state, group.items);
        else if (name == "use")
            use(n, state, group.items);
        else if (name == "path")
            path(linesIn(n.attribute("d").value(), state.matrix, off_), state, group.items);
        else if (name == "rect")
            path(rectangleOf(n, state.matrix), state, group.items);
        else if (name == "image")
            image(n, state, group.items);
        else
            lose("“" + std::string(name) + "”");
        if (through && through->picture.pixels) {
            if (group.items.size() != 1 || !maskPicture(group.items.front(), *through)) lose("masks");
        }
        if (group.items.empty()) return;
        if (!group.clip && group.outline.empty() && group.opacity >= 1)
            std::ranges::move(group.items, std::back_inserter(to));
        else {
            ++items_;
            to.push_back({{}, std::move(group)});
        }
    }

    void use(Node n, const State& state, Items& to) {
        State inner = state;
        inner.matrix = state.matrix * moved(attribute(n, "x"), attribute(n, "y"));
        const Node what = target(linkOf(n));
        if (!what) return;
        if (std::string_view(what.name()) == "symbol")
            children(what, inner, to);
        else
            node(what, inner, to);
    }

    // --- Paths ---

    void put(Items& to, auto what) {
        if (++items_ > kMostItems) throw TooMuch{};
        to.push_back({{}, std::move(what)});
    }

    void path(std::optional<std::vector<Polyline>> lines, const State& state, Items& to) {
        if (!lines) return lose("paths of unknown letters");
        if (lines->empty()) return;
        points_ += pointCount(*lines);
        if (points_ > kMostPoints) throw TooMuch{};
        const Style& s = state.style;
        std::optional<Colour> fill;
        if (const std::string_view id = s.fill.starts_with("url(") ? targetOf(s.fill) : ""; !id.empty())
            server(target(id), *lines, state, to);
        else if (const auto colour = colourIn(s.fill); colour && s.fillOpacity > 0)
            fill = colour->withAlpha(s.fillOpacity);
        const bool hasArea =
            std::ranges::any_of(*lines, [](const Polyline& l) { return l.points.size() > 2; });
        if (!hasArea) fill.reset(); // nothing of it is seen, but painting it takes long
        std::optional<Stroke> stroke;
        if (s.stroke.starts_with("url("))
            lose("lines with a gradient");
        else if (const auto colour = colourIn(s.stroke); colour && s.width > 0 && s.strokeOpacity > 0) {
            const double scale = state.matrix.scale();
            stroke = Stroke{.widthMm = s.width * scale,
                            .colour = colour->withAlpha(s.strokeOpacity),
                            .dashMm = s.dashes,
                            .cap = s.cap,
                            .join = s.join};
            for (double& d : stroke->dashMm) d *= scale;
        }
        if (fill || stroke)
            put(to, Path{.lines = std::move(*lines), .stroke = stroke, .fill = fill, .evenOdd = s.evenOdd});
    }

    // Gradients and patterns, within the lines that they fill.
    void server(Node n, const std::vector<Polyline>& lines, const State& state, Items& to) {
        Group group{.clip = {}, .opacity = state.style.fillOpacity, .items = {}};
        std::vector<Point> all;
        for (const Polyline& l : lines) all.insert(all.end(), l.points.begin(), l.points.end());
        Rect reach = boundsOf(all);
        if (const auto whole = asRectangle(lines))
            group.clip = whole;
        else {
            group.outline = lines;
            group.evenOdd = state.style.evenOdd;
        }
        const std::string_view name = n.name();
        if (name == "pattern")
            tiles(n, reach, state, group.items);
        else if (name == "linearGradient" || name == "radialGradient") {
            if (const auto picture = gradientPicture(n, reach, state)) put(group.items, *picture);
        }
        if (!group.items.empty()) put(to, std::move(group));
    }

    void tiles(Node n, const Rect& reach, const State& state, Items& to) {
        const double w = attribute(n, "width"), h = attribute(n, "height");
        const Matrix m = state.matrix * matrixIn(n.attribute("patternTransform").value());
        const auto back = inverse(m);
        if (!(w > 0) || !(h > 0) || !back) return;
        const Rect area =
            boundsOf({(*back)({reach.x, reach.y}), (*back)({reach.right(), reach.y}),
                      (*back)({reach.x, reach.bottom()}), (*back)({reach.right(), reach.bottom()})});
        const double x = attribute(n, "x"), y = attribute(n, "y");
        const double left = std::floor((area.x - x) / w + 1e-6),
                     right = std::ceil((area.right() - x) / w - 1e-6),
                     top = std::floor((area.y - y) / h + 1e-6),
                     bottom = std::ceil((area.bottom() - y) / h - 1e-6);
        if ((right - left) * (bottom - top) > kTooManyTiles) return lose("fine patterns");
        for (double row = top; row < bottom; ++row)
            for (double column = left; column < right; ++column) {
                State tile{m * moved(x + column * w, y + row * h), {}, state.depth + 1};
                children(n, tile, to);
            }
    }

    std::optional<Picture> gradientPicture(Node n, const Rect& reach, const State& state) {
        const auto g = gradientOf(n);
        const auto back = inverse(state.matrix * matrixIn(n.attribute("gradientTransform").value()));
        if (!g || !back || !(reach.width > 0) || !(reach.height > 0)) {
            lose("gradients");
            return {};
        }
        Picture picture = pictureOf(*g, reach, *back);
        pixels_ += picture.columns * picture.rows;
        if (pixels_ > kMostPixels) throw TooMuch{};
        return picture;
    }

    // --- Pictures ---

    Result<Bitmap> bitmapOfImage(Node n) {
        const pugi::xml_attribute old = n.attribute("xlink:href");
        const std::string_view link = (old ? old : n.attribute("href")).value();
        const std::size_t comma = link.find("base64,");
        if (!link.starts_with("data:") || comma == link.npos) return failure("picture", "elsewhere");
        const auto at = pictures_.find(std::string(n.attribute("id").value()));
        if (n.attribute("id") && at != pictures_.end()) return at->second;
        const auto bytes = fromBase64(link.substr(comma + 7));
        if (!bytes) return failure("picture", "damaged");
        auto read = bitmapOf(*bytes);
        if (!read) return read;
        pixels_ += read->columns * read->rows;
        if (pixels_ > kMostPixels) throw TooMuch{};
        if (n.attribute("id")) pictures_.emplace(n.attribute("id").value(), *read);
        return read;
    }

    void image(Node n, const State& state, Items& to) {
        const auto read = bitmapOfImage(n);
        if (!read) return lose("pictures that are elsewhere or damaged");
        const double w = n.attribute("width") ? attribute(n, "width") : static_cast<double>(read->columns),
                     h = n.attribute("height") ? attribute(n, "height") : static_cast<double>(read->rows);
        Picture picture{.bounds = {attribute(n, "x"), attribute(n, "y"), w, h},
                        .columns = read->columns,
                        .rows = read->rows,
                        .pixels = read->pixels,
                        .smooth = true};
        if (!(w > 0) || !(h > 0)) return;
        const Matrix& m = state.matrix;
        const double across = std::hypot(m.a, m.b) * w, down = std::hypot(m.c, m.d) * h;
        if (across > 0 && down > 0 && read->columns > 1) {
            const double dpi = 25.4 * std::min(static_cast<double>(read->columns) / across,
                                               static_cast<double>(read->rows) / down);
            out_.dpi = out_.dpi > 0 ? std::min(out_.dpi, dpi) : dpi;
        }
        if (std::abs(m.b) < 1e-12 && std::abs(m.c) < 1e-12 && m.a > 0 && m.d > 0) {
            const Rect& b = picture.bounds;
            const Point corner = m({b.x, b.y});
            picture.bounds = {corner.x, corner.y, m.a * b.width, m.d * b.height};
            return put(to, std::move(picture));
        }
        Group turned{.clip = {}, .items = {}, .matrix = m};
        turned.items.push_back({{}, std::move(picture)});
        put(to, std::move(turned));
    }

    // --- Clips and masks ---

    void cut(Group& group, Node clip, const State& state) {
        std::vector<Polyline> lines;
        bool evenOdd = false, known = static_cast<bool>(clip);
        for (Node n : clip.children()) {
            const Matrix m = state.matrix * matrixIn(n.attribute("transform").value());
            const std::string_view name = n.name();
            std::optional<std::vector<Polyline>> own;
            if (name == "path") own = linesIn(n.attribute("d").value(), m, off_);
            if (name == "rect") own = rectangleOf(n, m);
            if (!own) {
                known = known && n.type() != pugi::node_element;
                continue;
            }
            evenOdd = evenOdd || propertyOf(n, "clip-rule") == "evenodd";
            points_ += pointCount(*own);
            std::ranges::move(*own, std::back_inserter(lines));
        }
        if (points_ > kMostPoints) throw TooMuch{};
        if (!known) lose("clips of other forms");
        if (lines.empty()) // nothing is left of it
            group.clip = known ? Rect{0, 0, 0, 0} : group.clip;
        else if (const auto r = asRectangle(lines))
            group.clip = r;
        else {
            group.outline = std::move(lines);
            group.evenOdd = evenOdd;
        }
    }

    // A constant, or one picture; more is lost.
    std::optional<Mask> maskOf(Node mask, const State& state) {
        State inner{state.matrix, {}, state.depth + 1};
        bool byOpacity = false;
        Node content = mask;
        for (Node g = mask.child("g"); g; g = g.child("g")) {
            byOpacity = byOpacity || g.attribute("filter");
            content = g;
            inner.matrix = inner.matrix * matrixIn(g.attribute("transform").value());
        }
        Items items;
        for (Node n : content.children()) node(n, inner, items);
        if (items.size() != 1) {
            lose("masks");
            return {};
        }
        const Item* only = items.data();
        Mask out;
        if (const auto* turned = std::get_if<Group>(&only->what);
            turned && turned->matrix && turned->items.size() == 1) {
            out.matrix = *turned->matrix;
            only = turned->items.data();
        }
        if (const auto* area = std::get_if<Path>(&only->what); area && area->fill && !area->stroke) {
            const auto r = asRectangle(area->lines);
            if (r && r->width >= 0.999 * out_.widthMm && r->height >= 0.999 * out_.heightMm) {
                out.opacity = seenThrough(*area->fill, byOpacity);
                return out;
            }
        }
        const auto* picture = std::get_if<Picture>(&only->what);
        if (!picture) {
            lose("masks");
            return {};
        }
        out.picture = *picture;
        out.picture.pixels = throughOf(*picture, byOpacity);
        return out;
    }

    Node root_;
    Artwork out_;
    std::unordered_map<std::string, Node> byId_;
    std::unordered_map<std::string, Bitmap> pictures_;
    double off_ = 0.001;
    std::size_t points_ = 0, items_ = 0, steps_ = 0, pixels_ = 0;
};

Result<Artwork> drawingOf(std::string_view bytes) {
    pugi::xml_document document;
    const auto read = document.load_buffer(bytes.data(), bytes.size());
    const Node root = document.child("svg");
    if (!read || !root) return failure("drawing", "The drawing cannot be read.");
    try {
        return Reader(root).run();
    } catch (const TooMuch&) {
        return failure("too-much", "The drawing has more lines than can be placed as lines.");
    }
}

} // namespace

Result<Artwork> artworkOf(std::string_view bytes) {
    const FileKind kind = kindOfFile(bytes);
    if (kind == FileKind::Svg) return drawingOf(bytes);
    const auto read = bitmapOf(bytes);
    if (!read) return std::unexpected(read.error());
    const double dpi = read->dpi > 10 ? read->dpi : kUsualDpi;
    const double w = static_cast<double>(read->columns) / dpi * 25.4,
                 h = static_cast<double>(read->rows) / dpi * 25.4;
    Artwork out{.widthMm = w, .heightMm = h, .items = {}, .isPicture = true, .dpi = dpi, .lost = {}};
    out.items.push_back({{},
                         Picture{.bounds = {0, 0, w, h},
                                 .columns = read->columns,
                                 .rows = read->rows,
                                 .pixels = read->pixels,
                                 .smooth = true}});
    return out;
}

} // namespace jointer::draw
