// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as axes print them, as markup: true minus signs, thin spaces for thousands, powers of ten.
#pragma once

#include "figure/scales/scale.h"

namespace jointer::figure {

// "12 500", "−0.50"; as many decimals as told.
std::string fixedLabel(double value, int decimals);

// "1.5×10^{−3}". Bare: "10^{−3}" where the factor is one.
std::string scientificLabel(double value, int decimals, bool bare = false);

// The powers of ten by thousands: "250×10^{−6}".
std::string engineeringLabel(double value, int decimals);

int decimalsFor(double step); // digits after the point that multiples of it need, at most 15

// Writes the labels of the major ticks; `step` is their distance, 0 where they have none.
class NumberLabels {
public:
    NumberLabels(const NumberWish& wish, double largest, double step);
    std::string operator()(double value) const;

private:
    enum class Form { Fixed, Scientific, Engineering, Percent };
    Form form_ = Form::Fixed;
    int decimals_ = 0;
    double factor_ = 1;
    bool shortest_ = false; // each with as many digits as it has
};

} // namespace jointer::figure
