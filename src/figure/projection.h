// SPDX-License-Identifier: GPL-3.0-or-later
// Coordinates in which a sample of several amounts has one or more places in a plane: a triangle of three parts, a
// diagram of waters. Marks are given the places in the plane and need not know; the panel draws the edges.
// Immutable, thread-safe.
#pragma once

#include "data/curve.h"
#include "draw/geometry.h"
#include "fields/field.h"
#include "project/project.h"

#include <array>
#include <memory>

namespace jointer::figure {

struct Projected {
    std::shared_ptr<const Curve> curve; // x to the right and y upwards in the plane; all first places, then all second…
    std::vector<std::uint8_t> doubtful; // 1: to be marked, such as charges that do not balance; empty: none
};

// Where samples stand on a page, those with several places all first, then all second…; and their rows.
struct SamplePlaces {
    std::vector<draw::Point> places;
    std::vector<std::uint32_t> rows;
};

class Projection {
public:
    virtual ~Projection() = default;

    virtual draw::Rect plane() const = 0; // how far it reaches, y upwards
    // The places of a dataset's curve; none with an issue where it has not what is needed.
    virtual Projected project(const Curve& curve, const Dataset& dataset, std::vector<Issue>& issues) const = 0;
    // The field of a dataset in the plane; none with an issue where it has no place there.
    virtual fields::FieldPtr projectField(const fields::FieldPtr& field, const Dataset& dataset,
                                          std::vector<Issue>& issues) const;
    // What is under the pointer at a place of the plane: "sand 40 %, silt 35 %, clay 25 %"; empty: nothing.
    virtual std::string wordsAt(draw::Point plane) const = 0;
    virtual std::size_t placesOfEach() const { return 1; }
};

// Parts of three (they need not sum to one) in a triangle of edge 1 that stands on the second and the third corner;
// the first is at the top. Enlarged: only what has at least so much of each is in the triangle.
class Triangle {
public:
    Triangle() = default;
    explicit Triangle(std::array<double, 3> least) : least_(least), size_(1 - least[0] - least[1] - least[2]) {}

    draw::Point place(double a, double b, double c) const; // NaN where the sum is not above zero
    std::array<double, 3> parts(draw::Point plane) const;  // of one
    draw::Point enlarged(draw::Point whole) const;         // from the whole triangle, of edge 1
    draw::Point inWhole(draw::Point plane) const;          // and back
    bool holds(const std::array<double, 3>& parts, double slack = 1e-9) const;
    double low(std::size_t k) const { return least_[k]; } // of the k-th part within it
    double high(std::size_t k) const { return least_[k] + size_; }

    static constexpr double kHeight = 0.86602540378443864676; // √3/2

private:
    std::array<double, 3> least_{};
    double size_ = 1;
};

// Two triangles side by side and a diamond above, into which samples are projected along the edges. The left
// triangle has the cations Mg (top), Ca, Na + K; the right one the anions SO4 (top), carbonate, Cl. Edges are 1.
// Source: A. M. Piper, Trans. AGU 25 (1944) 914.
class WaterPlane {
public:
    explicit WaterPlane(double gap) : gap_(gap) {}

    draw::Point cation(const std::array<double, 3>& caMgNa) const;
    draw::Point anion(const std::array<double, 3>& clSo4Carbonate) const;
    draw::Point diamond(double alkalis, double strongAcids) const; // shares of cations and of anions
    std::array<double, 3> cationsAt(draw::Point p) const;
    std::array<double, 3> anionsAt(draw::Point p) const;
    std::array<double, 2> sharesAt(draw::Point p) const; // in the diamond: alkalis, strong acids

    double width() const { return 2 + gap_; }
    double height() const { return Triangle::kHeight * (2 + gap_); }
    double gap() const { return gap_; }

private:
    double gap_;
};

} // namespace jointer::figure
