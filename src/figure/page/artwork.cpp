// SPDX-License-Identifier: GPL-3.0-or-later
// A drawing, a picture or another figure in a place of the page.
#include "figure/artwork.h"

#include "draw/revise.h"
#include "figure/page/panel.h"

#include <fmt/format.h>
#include <mutex>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kCoarse = 150; // dpi, below which one sees the pixels in print

class ArtworkPanel final : public Panel {
public:
    using Panel::Panel;

    void prepare() override {
        if (const auto asset = page_.project.assets.find(AssetId::fromText(element_.source)))
            takeAsset(*asset);
        else if (const auto figure = page_.project.figures.find(FigureId::fromText(element_.source)))
            takeFigure(*figure);
        else
            page_.say("artwork-lost", "The artwork that stood here is not in the project any more.");
        turn();
        const auto share = [this](const char* key) { return look_.number(key) / 100; };
        seen_ = {share("crop-left") * width_, share("crop-top") * height_,
                 std::max(0.02, 1 - share("crop-left") - share("crop-right")) * width_,
                 std::max(0.02, 1 - share("crop-top") - share("crop-bottom")) * height_};
    }
    std::optional<Range> reach(bool) override { return {}; }
    void settle(bool, const std::optional<Range>&) override {}
    void hideNumbers(Side) override {}
    std::vector<LegendRow> legendRows() const override { return {}; }

    Room room(double, double) override {
        const double half = look_.millimetres("frame-width") / 2;
        return {half, half, std::max(half, headRoom()), half};
    }

    Rect freeArea() const override {
        const double width = std::max(1.0, look_.number("area-width"));
        return {look_.number("left"), look_.number("top"), width, width * ratio()};
    }
    Rect insetArea(const Rect& in) const override {
        const double width = std::max(1.0, look_.number("part-width") * in.width);
        return {in.x + look_.number("x") * in.width,
                in.bottom() - look_.number("y") * in.height - width * ratio(), width, width * ratio()};
    }

    void place(const Rect& area, const Rect& outer) override {
        cell_ = area;
        outer_ = outer;
        const std::string scale = look_.text("scale");
        double times = std::min(area.width / seen_.width, area.height / seen_.height);
        if (look_.text("place") == "grid" && scale == "own") times = 1;
        if (look_.text("place") == "grid" && scale == "factor") times = look_.number("factor");
        const auto from = [](const std::string& align, double low, double spare) {
            return low + spare * (align == "left" || align == "top"       ? 0
                                  : align == "right" || align == "bottom" ? 1
                                                                          : 0.5);
        };
        const double w = seen_.width * times, h = seen_.height * times;
        area_ = {from(look_.text("align"), area.x, area.width - w),
                 from(look_.text("align-y"), area.y, area.height - h), w, h};
        scale_ = times;
    }

    void draw() override {
        tellGeometry();
        page_.addRegion(element_.id, outer_);
        if (const std::string ground = look_.text("ground"); !ground.empty())
            page_.add(element_.id,
                      Path{.lines = {rectangle(area_)}, .stroke = {}, .fill = Colour::fromText(ground)});
        if (!items_.empty()) {
            Group inner{.clip = {}, .items = std::move(items_)};
            inner.matrix =
                Matrix{scale_, 0, 0, scale_, area_.x - scale_ * seen_.x, area_.y - scale_ * seen_.y} *
                turned_;
            Group shown{.clip = area_, .items = {}};
            shown.items.push_back({element_.id, std::move(inner)});
            page_.add(element_.id, std::move(shown));
        }
        if (const double width = look_.millimetres("frame-width"); width > 0)
            page_.add(element_.id, Path{.lines = {rectangle(area_)},
                                        .stroke = Stroke{.widthMm = width, .colour = page_.text.colour},
                                        .fill = {}});
        drawHead(cell_, outer_.x, cell_.y - 0.5 * page_.em());
        if (dpi_ > 0 && dpi_ / scale_ < kCoarse)
            page_.say("artwork-coarse",
                      fmt::format("“{}” has {:.0f} dots per inch at this size; print wants 300 and more.",
                                  name_, dpi_ / scale_));
    }

private:
    void takeAsset(const Asset& asset) {
        name_ = asset.name;
        const auto read = drawnArtwork(asset);
        if (!read->has_value())
            return page_.say("artwork-lost",
                             fmt::format("“{}” cannot be shown: {}", asset.name, read->error().text));
        const Artwork& art = **read;
        width_ = art.widthMm;
        height_ = art.heightMm;
        items_ = art.items;
        dpi_ = art.dpi;
    }

    void takeFigure(const Figure& figure) {
        name_ = figure.name;
        std::vector<FigureId> within = page_.within;
        within.push_back(page_.figure.id);
        if (std::ranges::find(within, figure.id) != within.end())
            return page_.say("artwork-lost",
                             fmt::format("The figure “{}” cannot be shown within itself.", figure.name));
        Layout other = layOutWithin(page_.project, figure, page_.evaluator, page_.target, std::move(within));
        width_ = other.list.widthMm;
        height_ = other.list.heightMm;
        eachItem(other.list.items, [this](Item& item) { item.element = element_.id; });
        items_ = std::move(other.list.items);
    }

    // Counter-clockwise by quarters.
    void turn() {
        const std::string by = look_.text("turned");
        const double w = width_, h = height_;
        if (by == "90") turned_ = {0, -1, 1, 0, 0, w};
        if (by == "180") turned_ = {-1, 0, 0, -1, w, h};
        if (by == "270") turned_ = {0, 1, -1, 0, h, 0};
        if (by == "90" || by == "270") std::swap(width_, height_);
    }

    double ratio() const { return seen_.height / seen_.width; }

    // Values along its edges: what its width stands for, or millimetres of its own size.
    void tellGeometry() {
        const double whole = look_.number("stands-for");
        const bool told = std::isfinite(whole) && whole > 0;
        const double unit = told ? whole / width_ : 1;
        const double low = height_ - seen_.bottom();
        const ScalePtr even = AxisMap().sharedScale();
        PanelGeometry own{
            .panel = element_.id,
            .area = area_,
            .x = AxisMap(even, {unit * seen_.x, unit * seen_.right()}, area_.x, area_.right()),
            .y = AxisMap(even, {unit * low, unit * (low + seen_.height)}, area_.bottom(), area_.y)};
        own.unit = told ? look_.text("unit") : "mm";
        own.scale = scale_;
        page_.out.panels.push_back(std::move(own));
    }

    std::string name_;
    double width_ = 60, height_ = 45, dpi_ = 0; // its own size, turned
    std::vector<Item> items_;                   // not turned
    Matrix turned_;
    Rect seen_{0, 0, 60, 45}, cell_{};
    double scale_ = 1;
};

} // namespace

std::unique_ptr<Panel> artworkPanel(Page& page, const Element& element) {
    return std::make_unique<ArtworkPanel>(page, element);
}

std::shared_ptr<const Result<Artwork>> drawnArtwork(const Asset& asset) {
    struct Kept {
        std::weak_ptr<const std::string> of;
        std::shared_ptr<const Result<Artwork>> read;
    };
    static std::mutex mutex;
    static std::vector<Kept> all;
    const auto& bytes = asset.drawing ? asset.drawing : asset.bytes;
    {
        const std::lock_guard lock(mutex);
        std::erase_if(all, [](const Kept& k) { return k.of.expired(); });
        for (const Kept& k : all)
            if (k.of.lock() == bytes) return k.read;
    }
    auto read = std::make_shared<const Result<Artwork>>(artworkOf(*bytes));
    const std::lock_guard lock(mutex);
    all.push_back({bytes, read});
    return read;
}

std::optional<double> resolutionOf(const Project& project, const Layout& layout, const Element& artwork) {
    const auto asset = project.assets.find(AssetId::fromText(artwork.source));
    const PanelGeometry* g = layout.panel(artwork.id);
    if (!asset || !g || !(g->scale > 0)) return {};
    const auto read = drawnArtwork(*asset);
    if (!read->has_value() || !((*read)->dpi > 0)) return {};
    return (*read)->dpi / g->scale;
}

} // namespace jointer::figure
