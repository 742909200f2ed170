// SPDX-License-Identifier: GPL-3.0-or-later
// Marks that draw the points of a curve: as symbols, joined, or both, with error bars; dense curves from an
// overview.
#pragma once

#include "figure/marks/classes.h"

namespace jointer::figure {

struct ErrorLook {
    bool shown = false, alongX = true, caps = true, before = false, up = true, down = true;
    double times = 1, widthMm = NAN;

    ErrorLook() = default;
    explicit ErrorLook(const Look& look);
};

class Series : public Mark {
public:
    std::shared_ptr<const Curve> curve;
    std::shared_ptr<const CurveOverview> overview; // of a dense one
    std::optional<SymbolLook> symbol;
    std::optional<LineLook> line;
    ErrorLook errors;
    std::vector<double> errorsUp, errorsDown; // of each point; empty: the uncertainty
    bool inOrder = true;                      // x ascends; else the points stand in an order of their own
    std::shared_ptr<const Classes> classes; // by which symbols differ; none: all are alike
    std::vector<std::uint8_t> doubtful;       // 1: crossed by a line
    bool excluded = false, onlyExcluded = false, onlyMade = false;
    double gap = INFINITY; // between two points in x, beyond which no line joins them

    std::optional<Range> extentX(const Scale& x) const override;
    std::optional<Range> extentY(const Scale& y, const Range& x) const override;
    std::size_t withoutPlace(const Scale& scale, bool alongX) const override;
    void draw(const Frame& frame, draw::Group& into) const override;
    void key(draw::Rect box, draw::Group& into) const override;
    std::vector<std::string> classLabels() const override;
    void classKey(std::size_t k, draw::Rect box, draw::Group& into) const override;
    const ColourScale* colourScale() const override {
        return classes && classes->gradient() ? &*classes->gradient() : nullptr;
    }
    bool isEmpty() const override { return !curve || curve->x.empty(); }
    bool keepsDistance() const override { return symbol.has_value(); }
    void useCategories(const std::vector<std::string>& names) override {
        curve = recategorised(curve, names);
    }
    Envelope envelope(const AxisMap& x, std::size_t parts) const override;
    std::optional<std::pair<double, double>> labelPlace(const Frame& frame) const override;
    std::function<SamplePlaces()> samplePlaces(const Frame& frame) const override;
    std::vector<SymbolClass> namedClasses() const override {
        return classes ? classes->named() : std::vector<SymbolClass>();
    }

protected:
    bool isDense(std::size_t points) const { return overview && points > 20000; }
    // The line as pieces of places, thinned; broken where a value is missing or the next point is beyond the gap.
    std::vector<draw::Polyline> linesOn(const Frame& frame) const;
    void drawLine(const Frame& frame, draw::Group& into) const;

private:
    bool hasErrors() const {
        return errors.shown && symbol && (!curve->sigma.empty() || !errorsUp.empty() || !errorsDown.empty());
    }
    std::pair<std::size_t, std::size_t> shownOn(const AxisMap& x, double mm) const;
    std::pair<std::size_t, std::size_t> shownOver(double low, double high) const;
    double upOf(std::size_t i) const;
    double downOf(std::size_t i) const;
    std::vector<draw::Polyline> denseLines(const Frame& frame, std::size_t first, std::size_t end) const;
    void drawSymbols(const Frame& frame, draw::Group& into) const;
    void drawErrors(const Frame& frame, draw::Group& into) const;
    void addErrorsY(const Frame& frame, draw::Path& bars) const;
    void addErrorsX(const Frame& frame, draw::Path& bars) const;
};

// How lines end at gaps: what times of a logger do not cover is not bridged.
std::vector<Setting> gapSettings();

// The points of a dataset, with the looks that its kind has.
void prepareSeries(const MarkTask& task, Series& series);

} // namespace jointer::figure
