// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/scales/number_labels.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

namespace {

constexpr int kMostDecimals = 15;

std::string powerOfTen(int exponent) {
    if (exponent == 0) return "1";
    if (exponent == 1) return "10";
    return "10^{" + std::string(exponent < 0 ? "−" : "") + std::to_string(std::abs(exponent)) + "}";
}

int exponentOf(double v) {
    return static_cast<int>(std::floor(std::log10(std::abs(v)) + 1e-12));
}

} // namespace

int decimalsFor(double step) {
    int decimals = 0;
    while (decimals < kMostDecimals && std::abs(step - std::round(step)) > 1e-6 * std::abs(step)) {
        step *= 10;
        ++decimals;
    }
    return decimals;
}

std::string fixedLabel(double v, int decimals) {
    std::string text = fmt::format("{:.{}f}", v, decimals);
    if (text.find_first_not_of("-0.") == std::string::npos) text = fmt::format("{:.{}f}", 0.0, decimals);
    const bool negative = text.starts_with('-');
    std::string body = negative ? text.substr(1) : text, out;
    const std::size_t whole = std::min(body.find('.'), body.size());
    for (std::size_t i = 0; i < body.size(); ++i) {
        if (whole >= 5 && i > 0 && i < whole && (whole - i) % 3 == 0) out += "\u2009";
        out += body[i];
    }
    return (negative ? "−" : "") + out;
}

std::string scientificLabel(double v, int decimals, bool bare) {
    if (v == 0) return "0";
    const int exponent = exponentOf(v);
    const double mantissa = v / std::pow(10.0, exponent);
    if (bare && decimals <= 0 && std::abs(std::abs(mantissa) - 1) < 1e-12)
        return (v < 0 ? "−" : "") + powerOfTen(exponent);
    return fixedLabel(mantissa, std::max(decimals, 0)) + "×" + powerOfTen(exponent);
}

std::string engineeringLabel(double v, int decimals) {
    if (v == 0) return "0";
    const int exponent = 3 * static_cast<int>(std::floor(exponentOf(v) / 3.0));
    const std::string mantissa = fixedLabel(v / std::pow(10.0, exponent), std::max(decimals, 0));
    return exponent == 0 ? mantissa : mantissa + "×" + powerOfTen(exponent);
}

NumberLabels::NumberLabels(const NumberWish& wish, double largest, double step) {
    factor_ = std::pow(10.0, -wish.factor);
    largest *= factor_;
    step *= factor_;
    shortest_ = step == 0 && wish.decimals < 0;
    if (wish.format == "percent") {
        form_ = Form::Percent;
        step *= 100;
    } else if (wish.format == "engineering")
        form_ = Form::Engineering;
    else if (wish.format == "scientific" ||
             (wish.format == "automatic" && largest > 0 && (largest >= 1e6 || largest < 1e-3)))
        form_ = Form::Scientific;
    if (form_ == Form::Scientific) step /= std::pow(10.0, exponentOf(largest));
    if (form_ == Form::Engineering && largest > 0)
        step /= std::pow(10.0, 3 * std::floor(exponentOf(largest) / 3.0));
    decimals_ = wish.decimals >= 0 ? wish.decimals : decimalsFor(step);
}

std::string NumberLabels::operator()(double value) const {
    double v = value * factor_;
    if (form_ == Form::Percent) v *= 100;
    int decimals = decimals_;
    if (shortest_ && v != 0) {
        const double unit = form_ == Form::Scientific ? std::pow(10.0, exponentOf(v)) : 1;
        decimals = decimalsFor(v / unit);
    }
    if (form_ == Form::Scientific) return scientificLabel(v, decimals);
    if (form_ == Form::Engineering) return engineeringLabel(v, decimals);
    return fixedLabel(v, decimals) + (form_ == Form::Percent ? "\u2009%" : "");
}

} // namespace jointer::figure
