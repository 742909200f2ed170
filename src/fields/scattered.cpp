// SPDX-License-Identifier: GPL-3.0-or-later
#include "fields/scattered.h"

#include "base/text.h"

#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <CGAL/natural_neighbor_coordinates_2.h>
#include <Eigen/Dense>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace jointer::fields {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Vertex = CGAL::Triangulation_vertex_base_with_info_2<std::size_t, Kernel>;
using Delaunay = CGAL::Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<Vertex>>;
using Point = Kernel::Point_2;

constexpr std::size_t kMostOfPlate = 1200, kFewRows = 4;

// Places in a square of edge one, so that units of x and y do not matter.
struct Frame {
    double x0 = 0, y0 = 0, width = 1, height = 1;
    Point in(double x, double y) const { return {(x - x0) / width, (y - y0) / height}; }
    Place out(const Point& p) const { return {x0 + p.x() * width, y0 + p.y() * height}; }
};

struct Places {
    Frame frame;
    std::vector<Point> at;
    std::vector<double> z;
    Delaunay triangles{};
    std::vector<std::size_t> outline{}; // of `at`, counter-clockwise

    const Point& corner(std::size_t k) const { return at[outline[k % outline.size()]]; }
};

constexpr double kFlat =
    -0.866; // cosine of 150°, the angle beyond which a triangle at the border is a sliver

// The border of the triangulation without slivers: long flat triangles at the hull bridge places that have
// nothing to do with each other.
std::vector<std::size_t> outlineOf(const Delaunay& triangles, const std::vector<Point>& at) {
    struct Side {
        std::size_t to;
        Delaunay::Face_handle inner; // the face at its left, and the corner of it that faces the side
        int corner;
    };
    std::map<std::size_t, Side> next; // along the border, counter-clockwise
    auto outer = triangles.incident_faces(triangles.infinite_vertex());
    const auto first = outer;
    do {
        const int k = outer->index(triangles.infinite_vertex());
        // Seen from inside the side runs the other way round.
        const std::size_t from = outer->vertex(Delaunay::cw(k))->info(), to = outer->vertex(Delaunay::ccw(k))->info();
        next[from] = {to, outer->neighbor(k), triangles.mirror_index(outer, k)};
    } while (++outer != first);
    std::vector<std::size_t> open;
    for (const auto& [from, side] : next) open.push_back(from);
    while (!open.empty()) {
        const std::size_t a = open.back();
        open.pop_back();
        const auto along = next.find(a);
        if (along == next.end()) continue;
        const auto [b, face, k] = along->second;
        const std::size_t c = face->vertex(k)->info();
        if (triangles.is_infinite(face) || next.contains(c)) continue; // it would be cut in two there
        const double ux = at[a].x() - at[c].x(), uy = at[a].y() - at[c].y(), vx = at[b].x() - at[c].x(),
                     vy = at[b].y() - at[c].y();
        if (ux * vx + uy * vy > kFlat * std::hypot(ux, uy) * std::hypot(vx, vy)) continue;
        // Corners of the face in its order: c, a, b; what lies beyond its other two sides.
        const int ka = Delaunay::ccw(k), kb = Delaunay::cw(k);
        next[a] = {c, face->neighbor(kb), triangles.mirror_index(face, kb)};
        next[c] = {b, face->neighbor(ka), triangles.mirror_index(face, ka)};
        open.push_back(a);
        open.push_back(c);
    }
    std::vector<std::size_t> ring;
    for (std::size_t k = next.begin()->first; ring.size() < next.size(); k = next[k].to) ring.push_back(k);
    return ring;
}

Outcome<Places> placesOf(const Scatter& s) {
    Outcome<Places> out;
    std::vector<std::array<double, 3>> all;
    for (std::size_t k = 0; k < s.x.size(); ++k)
        if (std::isfinite(s.x[k]) && std::isfinite(s.y[k]) && std::isfinite(s.z[k]))
            all.push_back({s.x[k], s.y[k], s.z[k]});
    std::ranges::sort(all);
    long long repeated = 0;
    std::vector<std::array<double, 3>> single;
    for (std::size_t k = 0; k < all.size();) {
        std::size_t end = k;
        double sum = 0;
        for (; end < all.size() && all[end][0] == all[k][0] && all[end][1] == all[k][1]; ++end)
            sum += all[end][2];
        single.push_back({all[k][0], all[k][1], sum / static_cast<double>(end - k)});
        repeated += end - k > 1;
        k = end;
    }
    if (repeated > 0)
        out.issues.push_back({"repeated-places",
                              fmt::format("At {} several values were measured; their means are taken.",
                                          counted(repeated, "place")),
                              {}});
    if (single.size() < 3) {
        out.issues.push_back({"few-places", "A surface needs at least three places with a number.", {}});
        return out;
    }
    Places& p = out.value;
    double x1 = -INFINITY, y1 = -INFINITY;
    p.frame.x0 = p.frame.y0 = INFINITY;
    for (const auto& [x, y, z] : single) {
        p.frame.x0 = std::min(p.frame.x0, x);
        p.frame.y0 = std::min(p.frame.y0, y);
        x1 = std::max(x1, x);
        y1 = std::max(y1, y);
    }
    p.frame.width = x1 - p.frame.x0;
    p.frame.height = y1 - p.frame.y0;
    // Nodes between would be the same number.
    const auto isNothing = [](double from, double length) {
        return !(length > 1e-11 * std::max(std::abs(from), std::abs(from + length)));
    };
    bool flat = isNothing(p.frame.x0, p.frame.width) || isNothing(p.frame.y0, p.frame.height);
    if (!flat) {
        for (const auto& [x, y, z] : single) {
            p.at.push_back(p.frame.in(x, y));
            p.z.push_back(z);
        }
        std::vector<std::pair<Point, std::size_t>> numbered;
        for (std::size_t k = 0; k < p.at.size(); ++k) numbered.emplace_back(p.at[k], k);
        p.triangles.insert(numbered.begin(), numbered.end());
        flat = p.triangles.dimension() < 2;
        if (!flat) p.outline = outlineOf(p.triangles, p.at);
    }
    if (flat) {
        out.issues.push_back({"one-line", "All places lie on one line, which is no surface.", {}});
        p.at.clear();
    }
    return out;
}

// The nearest point of the outline; the place itself where it lies within.
Point ontoOutline(const Places& places, const Point& p) {
    bool inside = false;
    Point best = p;
    double nearest = INFINITY;
    for (std::size_t k = 0; k < places.outline.size(); ++k) {
        const Point &a = places.corner(k), &b = places.corner(k + 1);
        const double dx = b.x() - a.x(), dy = b.y() - a.y();
        if ((a.y() > p.y()) != (b.y() > p.y()) && p.x() < dx * (p.y() - a.y()) / dy + a.x()) inside = !inside;
        const double t =
            std::clamp(((p.x() - a.x()) * dx + (p.y() - a.y()) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
        const Point q(a.x() + t * dx, a.y() + t * dy);
        const double d = std::hypot(q.x() - p.x(), q.y() - p.y());
        if (d < nearest) nearest = d, best = q;
    }
    return inside ? p : best;
}

class Surface {
public:
    virtual ~Surface() = default;
    virtual double at(const Point& p) const = 0; // within the hull
    // A little beyond the outline, whose nearest place is q.
    virtual double beyond(const Point& p, const Point& /*q*/) const { return at(p); }
};

class OnTriangles final : public Surface {
public:
    OnTriangles(const Places& places, bool natural)
        : places_(places), natural_(natural), lowest_(*std::ranges::min_element(places.z)),
          highest_(*std::ranges::max_element(places.z)), triangles_(places.triangles) {}

    double at(const Point& p) const override {
        Delaunay::Locate_type type{};
        int k = 0;
        // A hint of each thread's own: rows are walked from neighbour to neighbour.
        thread_local std::uint64_t of = 0; // addresses come again
        thread_local Delaunay::Face_handle hint;
        if (of != number_) hint = {};
        of = number_;
        const auto face = triangles_.locate(p, type, k, hint);
        hint = face;
        if (type == Delaunay::VERTEX) return places_.z[face->vertex(k)->info()];
        if (type == Delaunay::OUTSIDE_CONVEX_HULL || type == Delaunay::OUTSIDE_AFFINE_HULL) return onEdge(p);
        if (natural_ && type == Delaunay::FACE)
            if (const double z = sibson(p, face); std::isfinite(z)) return z;
        return onFace(p, face);
    }

    // On the plane of the triangle at the border, so that contours of planes stay straight in the cells that
    // the outline cuts; never beyond what was measured.
    double beyond(const Point& p, const Point& q) const override {
        constexpr double kInwards = 1e-3; // of the distance
        const Point in(q.x() + kInwards * (q.x() - p.x()), q.y() + kInwards * (q.y() - p.y()));
        const auto face = triangles_.locate(in);
        if (face == nullptr || triangles_.is_infinite(face)) return at(q);
        return std::clamp(onFace(p, face), lowest_, highest_);
    }

private:
    double sibson(const Point& p, Delaunay::Face_handle face) const {
        std::vector<std::pair<Delaunay::Vertex_handle, double>> weights;
        const auto result = CGAL::natural_neighbor_coordinates_2(
            triangles_, p, std::back_inserter(weights),
            CGAL::Identity<std::pair<Delaunay::Vertex_handle, double>>(), face);
        if (!result.third || !(result.second > 0)) return NAN;
        double sum = 0;
        for (const auto& [vertex, weight] : weights) sum += weight * places_.z[vertex->info()];
        return sum / result.second;
    }

    double onFace(const Point& p, Delaunay::Face_handle face) const {
        if (triangles_.is_infinite(face)) return onEdge(p);
        const Point a = face->vertex(0)->point(), b = face->vertex(1)->point(), c = face->vertex(2)->point();
        const double area = CGAL::area(a, b, c);
        if (!(std::abs(area) > 0)) return NAN;
        const double wa = CGAL::area(p, b, c) / area, wb = CGAL::area(a, p, c) / area;
        return wa * z(face, 0) + wb * z(face, 1) + (1 - wa - wb) * z(face, 2);
    }
    double z(Delaunay::Face_handle face, int k) const { return places_.z[face->vertex(k)->info()]; }

    // On the outline, to rounding: between the ends of that side.
    double onEdge(const Point& p) const {
        double nearest = INFINITY, value = NAN;
        for (std::size_t k = 0; k < places_.outline.size(); ++k) {
            const Point &a = places_.corner(k), &b = places_.corner(k + 1);
            const double dx = b.x() - a.x(), dy = b.y() - a.y(), l = dx * dx + dy * dy;
            const double t =
                l > 0 ? std::clamp(((p.x() - a.x()) * dx + (p.y() - a.y()) * dy) / l, 0.0, 1.0) : 0;
            const double d = std::hypot(a.x() + t * dx - p.x(), a.y() + t * dy - p.y());
            if (d >= nearest) continue;
            nearest = d;
            value = std::lerp(places_.z[places_.outline[k]],
                              places_.z[places_.outline[(k + 1) % places_.outline.size()]], t);
        }
        return value;
    }

    static std::uint64_t nextNumber() {
        static std::atomic<std::uint64_t> last{0};
        return ++last;
    }

    const Places& places_;
    bool natural_;
    double lowest_, highest_;
    std::uint64_t number_ = nextNumber(); // of this triangulation, for the hints
    const Delaunay& triangles_;
};

// z = a + bx + cy + Σ w r² ln r. Source: J. Duchon (1977); G. Wahba, Spline Models for Observational Data
// (1990).
class Plate final : public Surface {
public:
    Plate(const std::vector<Point>& at, const std::vector<double>& z, double smoothing) : at_(at) {
        const auto n = static_cast<Eigen::Index>(at.size());
        Eigen::MatrixXd m = Eigen::MatrixXd::Zero(n + 3, n + 3);
        Eigen::VectorXd right = Eigen::VectorXd::Zero(n + 3);
        for (Eigen::Index i = 0; i < n; ++i) {
            const Point& p = at[static_cast<std::size_t>(i)];
            for (Eigen::Index j = 0; j < i; ++j) m(i, j) = m(j, i) = bend(p, at[static_cast<std::size_t>(j)]);
            m(i, i) = smoothing;
            m(i, n) = m(n, i) = 1;
            m(i, n + 1) = m(n + 1, i) = p.x();
            m(i, n + 2) = m(n + 2, i) = p.y();
            right(i) = z[static_cast<std::size_t>(i)];
        }
        weights_ = m.partialPivLu().solve(right);
    }

    double at(const Point& p) const override {
        const auto n = static_cast<Eigen::Index>(at_.size());
        double z = weights_(n) + weights_(n + 1) * p.x() + weights_(n + 2) * p.y();
        for (Eigen::Index k = 0; k < n; ++k) z += weights_(k) * bend(p, at_[static_cast<std::size_t>(k)]);
        return z;
    }

private:
    static double bend(const Point& a, const Point& b) {
        const double dx = a.x() - b.x(), dy = a.y() - b.y(), r2 = dx * dx + dy * dy;
        return r2 > 0 ? 0.5 * r2 * std::log(r2) : 0;
    }
    std::vector<Point> at_;
    Eigen::VectorXd weights_;
};

// Means of the places in cells of a square grid, for a plate that would cost too much.
void thin(std::vector<Point>& at, std::vector<double>& z) {
    const auto edge = static_cast<std::size_t>(std::sqrt(static_cast<double>(kMostOfPlate)));
    std::vector<std::array<double, 4>> cells(edge * edge); // Σx, Σy, Σz, n
    for (std::size_t k = 0; k < at.size(); ++k) {
        const auto cell = [&](double v) {
            return std::min(edge - 1, static_cast<std::size_t>(v * static_cast<double>(edge)));
        };
        auto& c = cells[cell(at[k].y()) * edge + cell(at[k].x())];
        c = {c[0] + at[k].x(), c[1] + at[k].y(), c[2] + z[k], c[3] + 1};
    }
    at.clear();
    z.clear();
    for (const auto& [x, y, sum, n] : cells)
        if (n > 0) {
            at.emplace_back(x / n, y / n);
            z.push_back(sum / n);
        }
}

std::unique_ptr<Surface> surfaceOf(const Places& places, const Gridding& how, std::vector<Issue>& issues) {
    if (how.by != Interpolation::ThinPlate)
        return std::make_unique<OnTriangles>(places, how.by == Interpolation::NaturalNeighbour);
    std::vector<Point> at = places.at;
    std::vector<double> z = places.z;
    if (at.size() > kMostOfPlate) {
        thin(at, z);
        issues.push_back(
            {"thinned",
             fmt::format("The plate goes through the means of {} groups of neighbours, of {} places.",
                         at.size(), places.at.size()),
             {}});
    }
    return std::make_unique<Plate>(at, z, std::max(0.0, how.smoothing));
}

} // namespace

Interpolation interpolationFrom(std::string_view key) {
    return key == "flat"    ? Interpolation::Flat
           : key == "plate" ? Interpolation::ThinPlate
                            : Interpolation::NaturalNeighbour;
}

Outcome<Field> gridded(const Scatter& scatter, const Gridding& how, const Cancellation& stop) {
    auto found = placesOf(scatter);
    Outcome<Field> out{{}, std::move(found.issues)};
    const Places& places = found.value;
    if (places.at.empty()) return out;
    const auto surface = surfaceOf(places, how, out.issues);
    Field& f = out.value;
    const std::size_t n = std::clamp<std::size_t>(how.columns, 2, 4000),
                      m = std::clamp<std::size_t>(how.rows, 2, 4000);
    const auto nodes = [](double from, double length, std::size_t count) {
        std::vector<double> list;
        for (std::size_t k = 0; k < count; ++k)
            list.push_back(from + length * (static_cast<double>(k) / static_cast<double>(count - 1)));
        return list;
    };
    f.x = nodes(places.frame.x0, places.frame.width, n);
    f.y = nodes(places.frame.y0, places.frame.height, m);
    f.z.assign(n * m, NAN);
    const double near = 1.5 * std::hypot(1.0 / static_cast<double>(n - 1), 1.0 / static_cast<double>(m - 1));
    parallelRanges(m, kFewRows, [&](std::size_t begin, std::size_t end) {
        for (std::size_t j = begin; j < end; ++j)
            for (std::size_t i = 0; i < n && !stop.stop_requested(); ++i) {
                const Point p(static_cast<double>(i) / static_cast<double>(n - 1),
                              static_cast<double>(j) / static_cast<double>(m - 1));
                const Point q = ontoOutline(places, p);
                const double off = std::hypot(q.x() - p.x(), q.y() - p.y());
                if (!how.beyondHull && off > near) continue; // cells that the outline cuts need their corners
                f.z[j * n + i] = off > 0 && (off <= near || how.by == Interpolation::ThinPlate)
                                     ? surface->beyond(p, q)
                                     : surface->at(q);
            }
    });
    if (!how.beyondHull)
        for (const std::size_t k : places.outline) f.outline.push_back(places.frame.out(places.at[k]));
    for (std::size_t k = 0; k < places.at.size(); ++k) {
        f.points.push_back(places.frame.out(places.at[k]));
        f.pointsZ.push_back(places.z[k]);
    }
    return out;
}

Outcome<std::vector<double>> interpolated(const Scatter& scatter, const Gridding& how,
                                          const std::vector<Place>& at) {
    auto found = placesOf(scatter);
    Outcome<std::vector<double>> out{std::vector<double>(at.size(), NAN), std::move(found.issues)};
    if (found.value.at.empty()) return out;
    const auto surface = surfaceOf(found.value, how, out.issues);
    for (std::size_t k = 0; k < at.size(); ++k) {
        const Point p = found.value.frame.in(at[k].x, at[k].y), q = ontoOutline(found.value, p);
        const bool inside = std::hypot(q.x() - p.x(), q.y() - p.y()) < 1e-12;
        if (inside || how.by == Interpolation::ThinPlate || how.beyondHull)
            out.value[k] = surface->at(how.by == Interpolation::ThinPlate ? p : q);
    }
    return out;
}

} // namespace jointer::fields
