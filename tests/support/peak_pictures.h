// SPDX-License-Identifier: GPL-3.0-or-later
// Random pictures of overlapping peaks with known truth, and a set of peaks run on a curve without a project.
#pragma once

#include "analyses/peaks/peaks.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace jointer::test {

struct PeakPicture {
    std::vector<double> x, y;
    std::vector<double> places, heights, widths; // of the truth
    double noise = 0;                            // its standard deviation
    double separation = INFINITY;                // the least, in full widths of the wider one
    double signalToNoise = 0;                    // of the smallest peak

    bool isClear() const { return separation >= 1 && signalToNoise >= 20; }
};

// Three of one shape: at least eight points over each width, heights within 1:5, from 0.6 widths apart, noise
// of one to five per cent of the highest, on a slope.
inline PeakPicture peakPicture(const std::string& shape, unsigned seed, std::size_t count = 3) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> u(0, 1);
    PeakPicture p;
    const auto peak = *models::peakShape(shape, {});
    const double points = 8 + 20 * u(random), nearest = seed % 2 ? 0.6 : 1;
    double tallest = 0, place = 0;
    for (std::size_t k = 0; k < count; ++k) {
        p.widths.push_back(points * (1 + 0.5 * u(random)));
        p.heights.push_back(std::pow(5, -u(random)));
        tallest = std::max(tallest, p.heights[k]);
        if (k > 0) {
            const double apart = nearest + 1.4 * u(random);
            place += apart * std::max(p.widths[k], p.widths[k - 1]);
            p.separation = std::min(p.separation, apart);
        }
        p.places.push_back(place);
    }
    p.noise = tallest * (0.01 + 0.04 * u(random));
    p.signalToNoise = *std::ranges::min_element(p.heights) / p.noise;
    std::normal_distribution<double> noise(0, p.noise);
    const double level = u(random), slope = (u(random) - 0.5) / place;
    for (double x = -4 * points; x < place + 4 * points; ++x) {
        p.x.push_back(x);
        p.y.push_back(level + slope * x + noise(random));
    }
    const std::span<const double> column(p.x);
    std::vector<double> one(p.x.size());
    for (std::size_t k = 0; k < count; ++k) {
        std::vector<double> values = peak.traits->begin(p.places[k], p.heights[k], p.widths[k]);
        if (shape == "voigt") values[2] = values[3] = 0.612 * p.widths[k]; // together the wanted width
        peak.model->evaluate({&column, 1}, values, one);
        for (std::size_t i = 0; i < one.size(); ++i) p.y[i] += one[i];
    }
    return p;
}

inline Curve curveOf(std::vector<double> x, std::vector<double> y) {
    Curve c;
    c.x = std::move(x);
    c.y = std::move(y);
    return c;
}

inline Analysis peaksOf(const std::string& shape,
                        std::initializer_list<std::pair<const char*, Value>> settings = {}) {
    Analysis a{.kind = "peaks"};
    a.inputs = {{.dataset = DatasetId{1}}};
    a.model.kind = shape;
    for (const auto& [key, value] : settings) a.settings.set(key, value);
    return a;
}

inline Settings peakRow(int number, double place, std::optional<double> width = {}) {
    Settings row;
    row.set("number", number);
    row.set("place", Value(place));
    if (width) row.set("width", Value(*width));
    return row;
}
inline Value peakRows(std::vector<Settings> rows) {
    return Value(std::make_shared<const RowList>(std::move(rows)));
}

struct PeaksRun {
    Result<analyses::AnalysisResult> result;
    const analyses::PeaksDetail& detail() const { return *analyses::peaksDetail(*result); }
    const analyses::Quantity& quantity(const std::string& key) const {
        const analyses::Quantity* q = result->find(key);
        static const analyses::Quantity none{.key = "none", .label = "none", .value = NAN};
        return q ? *q : none;
    }
    bool says(std::string_view code) const {
        return std::ranges::count(result->issues, code, &Issue::code) > 0;
    }
};

inline PeaksRun runPeaks(const Curve& curve, const Analysis& analysis,
                         analyses::Effort effort = analyses::Effort::Full) {
    const analyses::AnalysisKind kind = analyses::peaksAnalysis();
    analyses::Task task{.spec = analysis, .effort = effort};
    task.inputs.push_back(
        {.name = "picture", .curve = std::make_shared<const Curve>(curve), .spec = analysis.inputs[0]});
    const analyses::Taken taken = kind.take(task);
    if (!taken.value) return {std::unexpected(taken.issues.front())};
    return {kind.compute(task, taken)};
}

} // namespace jointer::test
