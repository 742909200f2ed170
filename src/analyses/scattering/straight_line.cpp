// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/scattering/straight_line.h"

#include <cmath>

namespace jointer::analyses {

Line lineThrough(const Coordinates& c, std::size_t from, std::size_t to, bool absolute) {
    double s = 0, sx = 0, sy = 0;
    for (std::size_t i = from; i < to; ++i) {
        const double w = 1 / (c.sigma[i] * c.sigma[i]);
        s += w, sx += w * c.x[i], sy += w * c.y[i];
    }
    const double mx = sx / s, my = sy / s;
    double xx = 0, xy = 0;
    for (std::size_t i = from; i < to; ++i) {
        const double w = 1 / (c.sigma[i] * c.sigma[i]), dx = c.x[i] - mx;
        xx += w * dx * dx, xy += w * dx * (c.y[i] - my);
    }
    Line l{.n = to - from};
    l.slope = xy / xx;
    l.intercept = my - l.slope * mx;
    for (std::size_t i = from; i < to; ++i)
        l.chi2 += std::pow((c.y[i] - l.intercept - l.slope * c.x[i]) / c.sigma[i], 2);
    const double scale = absolute || l.n < 3 ? 1 : l.chi2 / static_cast<double>(l.n - 2);
    l.slopeSe = std::sqrt(scale / xx);
    l.interceptSe = std::sqrt(scale * (1 / s + mx * mx / xx));
    l.covariance = -scale * mx / xx;
    return l;
}

} // namespace jointer::analyses
