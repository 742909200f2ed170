// SPDX-License-Identifier: GPL-3.0-or-later
// Scales of axes: how values are spread along a line, and where ticks stand. A scale is a kind with settings
// (a base, a linear part, a formula); it knows nothing of millimetres, which axis_map.h adds. Immutable,
// thread-safe.
#pragma once

#include "data/curve.h"
#include "describe/catalogue.h"

#include <functional>
#include <memory>

namespace jointer::figure {

struct Range {
    double low = 0, high = 1;
};

struct Tick {
    double value;
    std::string label; // markup; empty for minor ones
    bool major;
    std::string below{}; // a second line: what is common to the labels from here on
};

// How numbers are written.
struct NumberWish {
    std::string format = "automatic"; // fixed, scientific, engineering, percent
    int decimals = -1;                // negative: as many as the ticks need
    int factor = 0;                   // the power of ten that stands in the title instead
    std::string pattern{};            // of times
};

struct TickWish {
    double every = 0;  // distance of major ticks; 0: chosen
    int minor = -1;    // minor ticks between two major ones; negative: chosen
    int about = 6;     // number of major ticks wished for
    double from = NAN; // a value that shall have a major tick, with `every`
    NumberWish numbers{};
};

class Scale {
public:
    virtual ~Scale() = default;

    // To the line along which the axis is even, and back; monotone. NaN: outside the domain.
    virtual double forward(double value) const = 0;
    virtual double back(double place) const = 0;

    // Requires: low < high, both in the domain.
    virtual std::vector<Tick> ticks(const Range& range, const TickWish& wish) const = 0;

    virtual bool isEven() const { return false; }                // forward(v) = v
    virtual Range empty() const { return {0, 1}; }               // shown where there are no data
    virtual Range padded(const Range& data, double share) const; // by a share of the length at each side
    virtual double shifted(double value, double by) const { return value + by; } // as staggered curves are
    virtual double base() const { return 0; }                                    // where bars and areas stand
    virtual std::string domain() const { return {}; } // in words: "above zero"; empty: it takes every number
    virtual std::string remedy() const { return {}; } // a sentence: what gives the others a place

    bool takes(double v) const { return std::isfinite(v) && std::isfinite(forward(v)); }
};
using ScalePtr = std::shared_ptr<const Scale>;

// What a scale is made for.
struct ScaleTask {
    const Settings& settings;             // of the axis
    const AxisMeaning& meaning;           // of the data along it
    std::vector<Issue>* issues = nullptr; // what cannot be taken
};

struct ScaleKind {
    KindInfo info;
    ScalePtr (*make)(const ScaleTask& task);
};

const Catalogue<ScaleKind>& scaleCatalogue();
void addScaleKind(ScaleKind kind); // for programs that bring one of their own, before anything else

// The scale that the settings of an axis ask for; an even one where they ask for none that is known. Times
// and categories are recognised from the data.
ScalePtr scaleFor(const ScaleTask& task);

// Round values whose places are about evenly spread, for scales that are not even: rounder values go first.
// Places are shares of the length of the axis.
std::vector<Tick> roundTicks(const Range& range, const TickWish& wish,
                             const std::function<double(double)>& place);

// One file each.
ScaleKind linearScale();
ScaleKind logarithmicScale();
ScaleKind reciprocalScale();
ScaleKind squareRootScale();
ScaleKind probabilityScale();
ScaleKind timeScale();
ScaleKind categoryScale();
ScaleKind formulaScale();

} // namespace jointer::figure
