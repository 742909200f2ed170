// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/model_picture.h"

#include "app/canvas/work_figure.h"
#include "app/theme/theme.h"
#include "models/catalogue.h"
#include "models/examples.h"
#include "paint/painter.h"

#include <QImage>
#include <algorithm>
#include <cmath>
#include <map>

namespace jointer::app {

namespace {

constexpr int kSamples = 160, kMargin = 6; // pixels
constexpr std::size_t kMostPoints = 60;

struct Picture {
    std::vector<double> x, y;           // of the curve
    std::vector<double> otherX, otherY; // of points
    bool byRatio = false;
};

draw::Colour colourOf(const QColor& c) {
    return draw::Colour::fromText(c.name().toStdString());
}

// Values beyond a fine curve would make it flat: the range holds nearly all of it.
std::pair<double, double> rangeOf(std::vector<double> values) {
    std::erase_if(values, [](double v) { return !std::isfinite(v); });
    if (values.empty()) return {0, 1};
    std::ranges::sort(values);
    const auto last = values.size() - 1;
    const double low = values[last / 50], high = values[last - last / 50];
    return high > low ? std::pair(low, high) : std::pair(low - 1, low + 1);
}

// Doses and the like: most of them would crowd at one end of a linear axis.
bool areSpreadByRatio(const std::vector<double>& x) {
    const auto [low, high] = std::ranges::minmax(x);
    const auto crowded = std::ranges::count_if(x, [high = high](double v) { return v < 0.2 * high; });
    return low > 0 && high > 50 * low && 2 * crowded > std::ssize(x);
}

QImage drawn(const Picture& p, qreal ratio) {
    auto across = [&](double x) { return p.byRatio ? std::log(x) : x; };
    std::vector<double> xs, ys = p.y;
    for (const auto* list : {&p.x, &p.otherX})
        for (double x : *list)
            if (std::isfinite(across(x))) xs.push_back(across(x));
    ys.insert(ys.end(), p.otherY.begin(), p.otherY.end());
    if (xs.empty()) return {};
    const auto [left, right] = std::ranges::minmax(xs);
    const auto [low, high] = rangeOf(ys);
    const double mm = kMmPerPixel;
    auto place = [&, left = left, right = right, low = low, high = high](double x, double y) {
        const double u = (across(x) - left) / std::max(right - left, 1e-300), v = (y - low) / (high - low);
        return draw::Point{(kMargin + u * (kPictureSize.width() - 2 * kMargin)) * mm,
                           (kPictureSize.height() - kMargin -
                            std::clamp(v, -0.1, 1.1) * (kPictureSize.height() - 2 * kMargin)) *
                               mm};
    };
    draw::DisplayList list{.widthMm = kPictureSize.width() * mm, .heightMm = kPictureSize.height() * mm};
    if (!p.otherX.empty()) {
        draw::Symbols symbols{.sizeMm = 2.6 * mm, .fill = colourOf(theme().muted)};
        for (std::size_t i = 0; i < p.otherX.size(); ++i)
            if (std::isfinite(p.otherY[i])) symbols.places.push_back(place(p.otherX[i], p.otherY[i]));
        list.items.push_back({{}, std::move(symbols)});
    }
    draw::Path path{.stroke = draw::Stroke{.widthMm = 1.6 * mm, .colour = colourOf(theme().accent)}};
    path.lines.emplace_back();
    for (std::size_t i = 0; i < p.x.size(); ++i)
        if (std::isfinite(p.y[i]) && std::isfinite(across(p.x[i])))
            path.lines.back().points.push_back(place(p.x[i], p.y[i]));
    list.items.push_back({{}, std::move(path)});
    QImage image = paint::toImage(list, 25.4 / mm * ratio, true);
    image.setDevicePixelRatio(ratio);
    return image;
}

// A second predictor, where there is one, stays at nought.
void sample(const models::Model& model, const std::vector<double>& parameters, double from, double to,
            Picture& into) {
    for (int i = 0; i <= kSamples; ++i) {
        const double share = static_cast<double>(i) / kSamples;
        into.x.push_back(into.byRatio ? from * std::pow(to / from, share) : std::lerp(from, to, share));
    }
    into.y.resize(into.x.size());
    const std::vector<double> other(into.x.size(), 0.0);
    std::vector<std::span<const double>> columns = {into.x};
    while (columns.size() < model.predictorCount()) columns.emplace_back(other);
    model.evaluate(columns, parameters, into.y);
}

QImage newModelPicture(const std::string& key, qreal ratio) {
    const models::Example* example = models::exampleOf(key);
    const models::ModelKind* kind = models::catalogue().find(key);
    if (!example || !kind) return {};
    Picture p{.byRatio = example->byRatio};
    sample(*kind->make({}), example->parameters, example->from, example->to, p);
    return drawn(p, ratio);
}

} // namespace

QImage modelPicture(const std::string& key, qreal ratio) {
    // Drawn once for each theme.
    static std::map<std::tuple<std::string, qreal, QRgb>, QImage> known;
    const auto [at, fresh] = known.try_emplace({key, ratio, theme().accent.rgb()});
    if (fresh) at->second = newModelPicture(key, ratio);
    return at->second;
}

QImage fitPicture(const std::string& key, const std::vector<double>& parameters, const Curve& points,
                  qreal ratio) {
    const models::ModelKind* kind = models::catalogue().find(key);
    if (!kind || points.size() == 0) return {};
    Picture p;
    const std::size_t stride = std::max<std::size_t>(1, points.size() / kMostPoints);
    for (std::size_t i = 0; i < points.size(); i += stride)
        if (points.counts(i)) p.otherX.push_back(points.x[i]), p.otherY.push_back(points.y[i]);
    if (p.otherX.empty()) return {};
    const auto [low, high] = std::ranges::minmax(p.otherX);
    p.byRatio = areSpreadByRatio(p.otherX);
    sample(*kind->make({}), parameters, low, high, p);
    return drawn(p, ratio);
}

} // namespace jointer::app
