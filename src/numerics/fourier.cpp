// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/fourier.h"

#include <cmath>
#include <fftw3.h>
#include <mutex>
#include <numbers>

namespace jointer::numerics {

namespace {

std::mutex& planning() { // only execution is safe in several threads
    static std::mutex mutex;
    return mutex;
}

class Plan {
public:
    explicit Plan(fftw_plan plan) : plan_(plan) {}
    ~Plan() {
        const std::scoped_lock lock(planning());
        fftw_destroy_plan(plan_);
    }
    Plan(const Plan&) = delete;
    Plan& operator=(const Plan&) = delete;
    void run() { fftw_execute(plan_); }

private:
    fftw_plan plan_;
};

fftw_complex* asFftw(std::complex<double>* values) {
    return reinterpret_cast<fftw_complex*>(values);
}

} // namespace

std::vector<std::complex<double>> fourier(std::span<const double> values) {
    if (values.empty()) return {};
    std::vector<double> in(values.begin(), values.end());
    std::vector<std::complex<double>> out(values.size() / 2 + 1);
    std::unique_lock lock(planning());
    Plan plan(fftw_plan_dft_r2c_1d(static_cast<int>(in.size()), in.data(), asFftw(out.data()),
                                   FFTW_ESTIMATE | FFTW_DESTROY_INPUT));
    lock.unlock();
    plan.run();
    return out;
}

std::vector<double> inverseFourier(std::span<const std::complex<double>> coefficients, std::size_t n) {
    if (n == 0) return {};
    std::vector<std::complex<double>> in(coefficients.begin(), coefficients.end());
    in.resize(n / 2 + 1);
    std::vector<double> out(n);
    std::unique_lock lock(planning());
    Plan plan(fftw_plan_dft_c2r_1d(static_cast<int>(n), asFftw(in.data()), out.data(), FFTW_ESTIMATE));
    lock.unlock();
    plan.run();
    for (double& v : out) v /= static_cast<double>(n);
    return out;
}

std::vector<double> filteredByFrequency(std::span<const double> values,
                                        const std::function<double(double)>& gain) {
    const std::size_t n = values.size();
    std::vector<double> mirrored(values.begin(), values.end());
    mirrored.insert(mirrored.end(), values.rbegin(), values.rend());
    auto coefficients = fourier(mirrored);
    for (std::size_t k = 0; k < coefficients.size(); ++k)
        coefficients[k] *= gain(static_cast<double>(k) / static_cast<double>(2 * n));
    auto out = inverseFourier(coefficients, 2 * n);
    out.resize(n);
    return out;
}

Spectrum spectrumOf(std::span<const double> values) {
    const std::size_t n = values.size();
    Spectrum out;
    if (n < 4) return out;
    const auto count = static_cast<double>(n);
    const double middle = 0.5 * (count - 1);
    double mean = 0, moment = 0, square = 0;
    for (double v : values) mean += v / count;
    for (std::size_t i = 0; i < n; ++i) {
        const double t = static_cast<double>(i) - middle;
        moment += t * (values[i] - mean);
        square += t * t;
    }
    std::vector<double> windowed(n);
    for (std::size_t i = 0; i < n; ++i) {
        const double t = static_cast<double>(i) - middle,
                     hann =
                         0.5 - 0.5 * std::cos(2 * std::numbers::pi * (static_cast<double>(i) + 0.5) / count);
        windowed[i] = hann * (values[i] - mean - moment / square * t);
    }
    const auto coefficients = fourier(windowed);
    for (std::size_t k = 0; k < coefficients.size(); ++k) {
        out.frequency.push_back(static_cast<double>(k) / count);
        out.amplitude.push_back(4 * std::abs(coefficients[k]) / count); // the window takes half
    }
    return out;
}

} // namespace jointer::numerics
