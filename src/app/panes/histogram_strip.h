// SPDX-License-Identifier: GPL-3.0-or-later
// A small histogram with its ends written below; says what is under the pointer.
#pragma once

#include "stats/histogram.h"

#include <QWidget>
#include <functional>

namespace jointer::app {

class HistogramStrip final : public QWidget {
    Q_OBJECT
public:
    explicit HistogramStrip(QWidget* parent = nullptr);
    // `spell` writes a number as the column does.
    void show(stats::Histogram histogram, std::function<QString(double)> spell);
    const stats::Histogram& histogram() const { return histogram_; }

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent*) override;

private:
    int binAt(int x) const;
    stats::Histogram histogram_;
    std::function<QString(double)> spell_;
};

} // namespace jointer::app
