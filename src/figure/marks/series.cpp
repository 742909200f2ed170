// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/series.h"

#include "data/median_step.h"
#include "figure/marks/sources.h"
#include "figure/shown_part.h"
#include "figure/thin.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace jointer::figure {

using namespace draw;
using namespace describe;

ErrorLook::ErrorLook(const Look& look)
    : shown(look.flag("errors")), alongX(look.flag("errors-x")), caps(look.flag("caps")),
      before(look.text("error-place") == "before"), up(look.text("error-sides") != "down"),
      down(look.text("error-sides") != "up"), times(look.number("error-times")),
      widthMm(look.millimetres("error-width")) {}

std::vector<Setting> gapSettings() {
    return {openNumber("gap", "Ends at gaps of",
                       "No line joins two points that are farther apart (in seconds for times); empty: for times where "
                       "it is more than ten times the usual step, else nowhere.",
                       {.unit = "x", .lowest = 0, .group = kShownGroup, .whenEmpty = "automatic"})};
}

namespace {

constexpr double kUsualSteps = 10;        // that a line bridges between times
constexpr std::size_t kStepsLookedAt = 2000; // of a long curve

double gapOf(const Curve& curve, const Look& look) {
    const double told = look.number("gap");
    if (std::isfinite(told)) return told;
    const double usual = curve.xMeaning.isTime ? medianStep(curve.x, kStepsLookedAt) : 0;
    return usual > 0 ? kUsualSteps * usual : INFINITY;
}

} // namespace

void prepareSeries(const MarkTask& task, Series& s) {
    const FoundCurve found = foundCurve(task, s.issues);
    s.curve = found.curve;
    s.overview = found.overview;
    takeFrom(found, task, s);
    s.excluded = task.look.flag("excluded");
    s.onlyExcluded = task.look.text("shown") == "excluded";
    s.onlyMade = task.look.text("shown") == "made";
    s.inOrder = !task.projection;
    s.doubtful = found.doubtful;
    if (s.symbol && s.curve && found.dataset) s.classes = Classes::of(task, *found.dataset, *s.curve, s.issues);
    s.gap = s.curve && s.line ? gapOf(*s.curve, task.look) : INFINITY;
    if (!s.curve || !found.dataset || !s.errors.shown) return;
    s.errorsUp = columnBeside(task, *found.dataset, *s.curve, task.look.reference("error-up"));
    s.errorsDown = columnBeside(task, *found.dataset, *s.curve, task.look.reference("error-down"));
}

std::pair<std::size_t, std::size_t> Series::shownOn(const AxisMap& x, double mm) const {
    return inOrder ? shownWithin(curve->x, x, mm) : std::pair(std::size_t{0}, curve->size());
}

std::pair<std::size_t, std::size_t> Series::shownOver(double low, double high) const {
    return inOrder ? shownPart(curve->x, low, high) : std::pair(std::size_t{0}, curve->size());
}

double Series::upOf(std::size_t i) const {
    const auto& from = errorsUp.empty() ? curve->sigma : errorsUp;
    return i < from.size() ? errors.times * std::abs(from[i]) : NAN;
}

double Series::downOf(std::size_t i) const {
    const auto& from = errorsDown.empty() ? curve->sigma : errorsDown;
    return i < from.size() ? errors.times * std::abs(from[i]) : NAN;
}

std::optional<Range> Series::extentX(const Scale& x) const {
    std::optional<Range> range;
    if (!curve) return range;
    // x ascends: the outermost usable points tell
    auto usable = [&](std::size_t i) { return std::isfinite(curve->y[i]) && x.takes(curve->x[i]); };
    std::size_t first = 0, end = curve->size();
    while (first < end && !usable(first)) ++first;
    while (end > first && !usable(end - 1)) --end;
    if (first >= end) return range;
    widen(range, curve->x[first], x);
    widen(range, curve->x[end - 1], x);
    return range;
}

std::optional<Range> Series::extentY(const Scale& y, const Range& x) const {
    std::optional<Range> range;
    if (!curve) return range;
    const auto [first, end] = shownOver(x.low, x.high);
    const bool onlyPositive = !y.takes(0);
    if (isDense(end - first) && !excluded && !hasErrors()) {
        // shownPart reaches one point beyond each end.
        const auto from = curve->x[first] < x.low ? first + 1 : first,
                   to = curve->x[end - 1] > x.high ? end - 1 : end;
        const Extent extent = overview->over(*curve, from, to);
        if (!extent.any) return range;
        widen(range, shifted(y, onlyPositive && extent.low <= 0 ? extent.lowestPositive : extent.low), y);
        widen(range, shifted(y, extent.high), y);
        return range;
    }
    for (std::size_t i = first; i < end; ++i) {
        if (curve->x[i] < x.low || curve->x[i] > x.high || (curve->isExcluded(i) && !excluded)) continue;
        widen(range, shifted(y, curve->y[i]), y);
        if (!hasErrors()) continue;
        if (errors.down) widen(range, shifted(y, curve->y[i] - downOf(i)), y);
        if (errors.up) widen(range, shifted(y, curve->y[i] + upOf(i)), y);
    }
    return range;
}

std::size_t Series::withoutPlace(const Scale& scale, bool alongX) const {
    if (!curve) return 0;
    auto value = [&](std::size_t i) { return alongX ? curve->x[i] : shifted(scale, curve->y[i]); };
    if (isDense(curve->size())) {
        const Extent e = overview->over(*curve, 0, curve->size());
        if (!e.any) return 0;
        const std::array ends = alongX ? std::array{curve->x[e.first], curve->x[e.last]}
                                       : std::array{shifted(scale, e.low), shifted(scale, e.high)};
        return scale.takes(ends[0]) && scale.takes(ends[1]) ? 0 : kSome;
    }
    std::size_t n = 0;
    for (std::size_t i = 0; i < curve->size(); ++i) n += curve->counts(i) && !scale.takes(value(i));
    return n;
}

void Series::draw(const Frame& frame, Group& into) const {
    if (!curve) return;
    if (line) drawLine(frame, into);
    if (!symbol) return;
    const bool bars = errors.shown && (hasErrors() || !curve->sigmaX.empty());
    if (bars && !errors.before) drawErrors(frame, into);
    drawSymbols(frame, into);
    if (bars && errors.before) drawErrors(frame, into);
}

// Of a dense curve four points for each column of pixels: where it comes in, lowest, highest, where it
// leaves.
std::vector<Polyline> Series::denseLines(const Frame& frame, std::size_t first, std::size_t end) const {
    std::vector<Polyline> lines;
    Polyline now;
    auto finish = [&] {
        if (now.points.size() > 1) lines.push_back(std::move(now));
        now = {};
    };
    const AxisMap &x = frame.x, &y = frame.y;
    const bool onlyPositive = !y.scale().takes(0);
    const double mm = (x.end() < x.start() ? -1 : 1) / frame.pixelsPerMm;
    const auto columns = static_cast<long>(std::ceil(x.length() * frame.pixelsPerMm));
    double lastX = INFINITY;
    auto from = curve->x.begin() + static_cast<std::ptrdiff_t>(first);
    const auto stop = curve->x.begin() + static_cast<std::ptrdiff_t>(end);
    for (long column = 0; column < columns; ++column) {
        const auto to =
            column + 1 == columns
                ? stop
                : std::lower_bound(from, stop, x.value(x.start() + static_cast<double>(column + 1) * mm));
        const auto a = static_cast<std::size_t>(from - curve->x.begin()),
                   b = static_cast<std::size_t>(to - curve->x.begin());
        from = to;
        if (a == b) continue; // no points here: the line goes on
        const Extent extent = overview->over(*curve, a, b);
        const double low = onlyPositive && extent.low <= 0 ? extent.lowestPositive : extent.low;
        if (!extent.any || !std::isfinite(y.place(shifted(y.scale(), low)))) {
            finish();
            continue;
        }
        auto add = [&](double px, double value) {
            const Point p{cut(px), cut(y.place(shifted(y.scale(), value)))};
            if (std::isfinite(p.y)) now.points.push_back(p);
        };
        if (curve->x[extent.first] - lastX > gap) finish();
        lastX = curve->x[extent.last];
        const double in = x.place(curve->x[extent.first]), out = x.place(curve->x[extent.last]);
        add(in, curve->y[extent.first]);
        add((in + out) / 2, low);
        add((in + out) / 2, extent.high);
        add(out, curve->y[extent.last]);
    }
    finish();
    return lines;
}

// Lines break where a value is missing; over points that were left out they go on.
std::vector<Polyline> Series::linesOn(const Frame& frame) const {
    const auto [first, end] = shownOver(frame.x.low(), frame.x.high());
    if (isDense(end - first)) return denseLines(frame, first, end);
    std::vector<Polyline> lines;
    std::vector<Point> piece;
    auto finish = [&] {
        if (piece.size() > 1) lines.push_back({thinnedLine(std::move(piece), 1 / frame.pixelsPerMm), false});
        piece.clear();
    };
    piece.reserve(end - first);
    std::size_t partBefore = 0;
    double lastX = INFINITY;
    for (std::size_t i = first; i < end; ++i) {
        if (curve->isExcluded(i)) continue;
        const std::size_t part = frame.x.partOf(curve->x[i]);
        // What a break leaves out is not joined, nor is what lies beyond a gap.
        if (part != partBefore || curve->x[i] - lastX > gap) finish();
        partBefore = part;
        lastX = curve->x[i];
        const Point p = frame.at(curve->x[i], shifted(frame.y.scale(), curve->y[i]));
        if (!std::isfinite(p.x) || !std::isfinite(p.y))
            finish();
        else
            piece.push_back({cut(p.x), cut(p.y)});
    }
    finish();
    return lines;
}

void Series::drawLine(const Frame& frame, Group& into) const {
    auto lines = linesOn(frame);
    if (!lines.empty()) add(into, linePath(std::move(lines), *line, colour));
}

void Series::drawSymbols(const Frame& frame, Group& into) const {
    Symbols s = symbol->symbols(colour);
    Symbols faint = s;
    faint.stroke =
        Stroke{.widthMm = symbol->lineMm() * 0.8, .colour = colour.withAlpha(onlyExcluded ? 0.9 : 0.35)};
    faint.fill.reset();
    Symbols made = s;
    made.stroke = Stroke{.widthMm = symbol->lineMm(), .colour = colour};
    made.fill.reset();
    std::vector<Point> crossed;
    const double arm = 0.5 * symbol->sizeMm + 0.3;
    const auto [first, end] = shownOn(frame.x, symbol->sizeMm);
    Point last{-1e9, -1e9};
    std::map<Classes::Key, std::vector<Point>> byClass;
    for (std::size_t i = first; i < end; ++i) {
        if (!std::isfinite(curve->y[i]) || frame.x.isSkipped(curve->x[i])) continue;
        const Point p = frame.at(curve->x[i], shifted(frame.y.scale(), curve->y[i]));
        // Symbols a little outside still show half of themselves.
        if (!std::isfinite(p.x) || !std::isfinite(p.y) || !frame.holds(p, symbol->sizeMm)) continue;
        if (curve->isExcluded(i)) {
            if (excluded) faint.places.push_back(p);
        } else if (curve->isMade(i)) { // hollow: nobody measured it
            if (!onlyExcluded) made.places.push_back(p);
        } else if (!onlyExcluded && !onlyMade) {
            if (symbol->spacingMm > 0 && std::hypot(p.x - last.x, p.y - last.y) < symbol->spacingMm) continue;
            if (!classes) {
                s.places.push_back(p);
            } else if (const auto key = classes->keyOf(i)) {
                byClass[*key].push_back(p);
            } else
                continue;
            last = p;
            if (i < doubtful.size() && doubtful[i]) crossed.push_back(p);
        }
    }
    s.places = thinnedCloud(std::move(s.places), 0.5 / frame.pixelsPerMm);
    for (auto& [key, places] : byClass) {
        Symbols own = classes->symbols(key, *symbol, colour);
        own.places = thinnedCloud(std::move(places), 0.5 / frame.pixelsPerMm);
        add(into, std::move(own));
    }
    for (Symbols* drawn : {&s, &made, &faint})
        if (!drawn->places.empty()) add(into, std::move(*drawn));
    Path crosses{.lines = {}, .stroke = strokeOf(std::max(0.15, symbol->lineMm())), .fill = {}};
    // Where very many lie upon each other, a third of a symbol apart they look the same.
    for (const Point& p :
         thinnedCloud(std::move(crossed), std::max(0.5 / frame.pixelsPerMm, symbol->sizeMm / 3)))
        crosses.lines.push_back({{{p.x - arm, p.y + arm}, {p.x + arm, p.y - arm}}});
    if (!crosses.lines.empty()) add(into, std::move(crosses));
}

void Series::drawErrors(const Frame& frame, Group& into) const {
    const double width =
        std::isfinite(errors.widthMm) ? errors.widthMm : std::max(0.1, symbol->sizeMm * 0.12);
    Path bars{.lines = {}, .stroke = strokeOf(width), .fill = {}};
    if (hasErrors()) addErrorsY(frame, bars);
    if (errors.alongX && !curve->sigmaX.empty()) addErrorsX(frame, bars);
    if (!bars.lines.empty()) add(into, std::move(bars));
}

void Series::addErrorsY(const Frame& frame, Path& bars) const {
    const double cap = errors.caps ? symbol->sizeMm * 0.35 : 0;
    const AxisMap &x = frame.x, &y = frame.y;
    const auto [first, end] = shownOn(x, symbol->sizeMm);
    for (std::size_t i = first; i < end; ++i) {
        const double up = errors.up ? upOf(i) : 0, down = errors.down ? downOf(i) : 0;
        if (!(up > 0 || down > 0) || !std::isfinite(curve->y[i]) || curve->isExcluded(i)) continue;
        const double px = x.place(curve->x[i]);
        const double top = y.place(shifted(y.scale(), curve->y[i] + (up > 0 ? up : 0)));
        const double bottom = y.placeOrStart(shifted(y.scale(), curve->y[i] - (down > 0 ? down : 0)));
        if (!std::isfinite(px) || !std::isfinite(top) || px < std::min(x.start(), x.end()) ||
            px > std::max(x.start(), x.end()) || x.isSkipped(curve->x[i]))
            continue;
        // A bar hidden behind its symbol is not drawn.
        if (std::abs(bottom - top) < symbol->sizeMm * 0.9) continue;
        bars.lines.push_back({{{px, cut(top)}, {px, cut(bottom)}}});
        if (cap > 0 && up > 0) bars.lines.push_back({{{px - cap, cut(top)}, {px + cap, cut(top)}}});
        if (cap > 0 && down > 0) bars.lines.push_back({{{px - cap, cut(bottom)}, {px + cap, cut(bottom)}}});
    }
}

void Series::addErrorsX(const Frame& frame, Path& bars) const {
    const double cap = errors.caps ? symbol->sizeMm * 0.35 : 0;
    for (std::size_t i = 0; i < std::min(curve->size(), curve->sigmaX.size()); ++i) {
        const double by = errors.times * curve->sigmaX[i];
        if (!(by > 0) || !curve->counts(i)) continue;
        const double py = frame.y.place(shifted(frame.y.scale(), curve->y[i]));
        const double left = frame.x.placeOrStart(curve->x[i] - by), right = frame.x.place(curve->x[i] + by);
        if (!std::isfinite(py) || !std::isfinite(right) || std::abs(right - left) < symbol->sizeMm * 0.9)
            continue;
        bars.lines.push_back({{{cut(left), py}, {cut(right), py}}});
        if (cap <= 0) continue;
        for (double end : {left, right}) bars.lines.push_back({{{cut(end), py - cap}, {cut(end), py + cap}}});
    }
}

void Series::key(Rect box, Group& into) const {
    const double middle = box.y + box.height / 2;
    if (line) add(into, linePath({{{{box.x, middle}, {box.right(), middle}}, false}}, *line, colour));
    if (!symbol) return;
    Symbols s = symbol->symbols(colour);
    s.places = {{box.x + box.width / 2, middle}};
    if (symbol->isFilled() && symbol->fill == "filled" && !symbol->fillColour)
        s.stroke->widthMm = symbol->lineMm();
    add(into, std::move(s));
}

std::vector<std::string> Series::classLabels() const {
    return classes ? classes->labels() : std::vector<std::string>();
}

void Series::classKey(std::size_t k, Rect box, Group& into) const {
    add(into, classes->keySymbols(k, *symbol, colour, box));
}

Envelope Series::envelope(const AxisMap& x, std::size_t parts) const {
    Envelope e{std::vector<double>(parts, NAN), std::vector<double>(parts, NAN)};
    if (!curve) return e;
    const auto [first, end] = shownOver(x.low(), x.high());
    std::size_t before = parts;
    for (std::size_t i = first; i < end; ++i) {
        if (!curve->counts(i) || !x.contains(curve->x[i])) continue;
        const double share = (x.place(curve->x[i]) - x.start()) / (x.end() - x.start());
        const auto k = std::min(
            parts - 1, static_cast<std::size_t>(std::clamp(share, 0.0, 1.0) * static_cast<double>(parts)));
        auto take = [&](std::size_t part, double v) {
            e.low[part] = std::fmin(e.low[part], v);
            e.high[part] = std::fmax(e.high[part], v);
        };
        take(k, curve->y[i]);
        for (std::size_t between = before + 1; line && before < parts && between < k; ++between)
            take(between, curve->y[i]);
        before = k;
    }
    return e;
}

std::function<SamplePlaces()> Series::samplePlaces(const Frame& frame) const {
    if (inOrder || !curve || !symbol) return {};
    return [curve = curve, x = frame.x, y = frame.y] {
        SamplePlaces out;
        for (std::size_t i = 0; i < curve->size() && i < curve->rowIds.size(); ++i) {
            if (curve->rowIds[i] == 0) continue; // between the fields
            out.places.push_back({x.place(curve->x[i]), y.place(curve->y[i])});
            out.rows.push_back(curve->rowIds[i]);
        }
        return out;
    };
}

std::optional<std::pair<double, double>> Series::labelPlace(const Frame& frame) const {
    if (!curve) return {};
    for (std::size_t i = curve->size(); i-- > 0;)
        if (curve->counts(i) && frame.x.contains(curve->x[i]))
            return std::pair(curve->x[i], shifted(frame.y.scale(), curve->y[i]));
    return {};
}

} // namespace jointer::figure
