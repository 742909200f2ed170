// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/areas/separation.h"

namespace jointer::analyses {

Measured plateNumber(Measured t, Measured w) {
    const double n = 5.54 * (t.value / w.value) * (t.value / w.value);
    return {n, 2 * n * std::hypot(t.se / t.value, w.se / w.value)};
}

Measured retentionFactor(Measured t, double deadTime) {
    return {(t.value - deadTime) / deadTime, t.se / deadTime};
}

Measured resolution(Measured t1, Measured w1, Measured t2, Measured w2) {
    const double sum = w1.value + w2.value, r = 1.18 * (t2.value - t1.value) / sum;
    return {r, std::hypot(1.18 * std::hypot(t1.se, t2.se) / sum, r * std::hypot(w1.se, w2.se) / sum)};
}

double tailing(double widthAtTwentieth, double front) {
    return widthAtTwentieth / (2 * front);
}

Measured signalToNoise(Measured height, double range) {
    return {2 * std::abs(height.value) / range, 2 * height.se / range};
}

} // namespace jointer::analyses
