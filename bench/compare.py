# SPDX-License-Identifier: GPL-3.0-or-later
# The same work by the common data-frame reader and a bounded least-squares script, for the ratios of bench/run.
# Use: compare.py FOLDER, with the files that `jointer-bench --write FOLDER` made.
import sys
import time

import numpy
import pandas
from scipy import signal, sparse
from scipy.sparse.linalg import spsolve
from scipy.optimize import curve_fit, least_squares
from scipy.special import voigt_profile

folder = sys.argv[1]


def best_of(times, work):
    best = float("inf")
    for _ in range(times):
        start = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - start)
    return 1000 * best


print(f"data-frame reader, 1 M x 10:         {best_of(3, lambda: pandas.read_csv(folder + '/million.csv')):8.0f} ms")

x, y = numpy.loadtxt(folder + "/six_peaks.csv", delimiter=",", skiprows=1, unpack=True)
starts, lower, upper = [], [], []
for k in range(1, 7):
    starts += [90.0, 15.0 * k + 0.4, 4.0]
    lower += [0, -numpy.inf, 0.1]
    upper += [numpy.inf, numpy.inf, 40]
starts += [5.0, 0.1]
lower += [-numpy.inf] * 2
upper += [numpy.inf] * 2


def residuals(p):
    model = p[18] + p[19] * x
    for k in range(6):
        model = model + p[3 * k] / (1 + 4 * ((x - p[3 * k + 1]) / p[3 * k + 2]) ** 2)
    return model - y


print(f"least-squares script, six peaks:     {best_of(3, lambda: least_squares(residuals, starts, bounds=(lower, upper))):8.0f} ms")

# Fits as jointer-bench has them: fitLogistic, bootstrapLogistic (1000), fitSixVoigts.
random = numpy.random.default_rng(3)


def logistic(u, low, high, middle, slope):
    return low + (high - low) / (1 + (u / middle) ** -slope)


doses = 0.01 * 10 ** (5.0 * (numpy.arange(24) // 3) / 7)
responses = logistic(doses, 0.1, 2, 5, 1.3) + 0.02 * random.standard_normal(24)
fitted = curve_fit(logistic, doses, responses, [0.15, 1.9, 4, 1])[0]


def bootstrap(count):
    left = responses - logistic(doses, *fitted)
    for _ in range(count):
        curve_fit(logistic, doses, logistic(doses, *fitted) + random.choice(left, 24), fitted)


def voigts(u, *p):
    out = p[-2] + p[-1] * u
    for k in range(6):
        centre, height, g, l = p[4 * k:4 * k + 4]
        sd, half = abs(g) / 2.3548200450309493, abs(l) / 2
        out = out + height * voigt_profile(u - centre, sd, half) / voigt_profile(0, sd, half)
    return out


lines, begin = [], []
for k in range(1, 7):
    lines += [15 * k, 80 + 10 * k, 2 + 0.3 * k, 1.5 + 0.2 * k]
    begin += [15 * k + 0.4, 90, 2.5, 2.5]
places = 0.055 * numpy.arange(2000)
spectrum = voigts(places, *lines, 4, 0.12) + random.standard_normal(2000)
for name, factor, work in [
        ("logistic, 24 points", 1, lambda: curve_fit(logistic, doses, responses, [0.15, 1.9, 4, 1])),
        ("logistic, 1000 bootstrap fits", 10, lambda: bootstrap(100)),
        ("six Voigt lines, 2000 points", 1, lambda: curve_fit(voigts, places, spectrum, begin + [5, 0.1]))]:
    print(f"{name + ':':36} {factor * best_of(3, work):8.2f} ms")

# Steps over a million points.
i = numpy.arange(1_000_000)
y = 50 + 20 * numpy.sin(i * 1e-4) + numpy.random.default_rng(3).normal(size=i.size)


def low_pass():
    mirrored = numpy.concatenate([y, y[::-1]])
    gain = 1 / (1 + (numpy.fft.rfftfreq(mirrored.size) * 51) ** 8)
    return numpy.fft.irfft(numpy.fft.rfft(mirrored) * gain, mirrored.size)[:y.size]


def second_differences(n):
    return sparse.diags([1.0, -2.0, 1.0], [0, 1, 2], shape=(n - 2, n), format="csc")


def als(rounds):
    d = second_differences(y.size)
    penalty, w = 1e5 * (d.T @ d), numpy.ones(y.size)
    for _ in range(rounds):
        z = spsolve((sparse.diags(w) + penalty).tocsc(), w * y)
        w = numpy.where(y > z, 0.01, 0.99)
    return z


for name, times, work in [("moving average of 51", 3, lambda: numpy.convolve(y, numpy.ones(51) / 51, "same")),
                          ("Savitzky-Golay of 51", 3, lambda: signal.savgol_filter(y, 51, 3)),
                          ("median of 51", 1, lambda: signal.medfilt(y, 51)),
                          ("low pass", 3, low_pass),
                          ("penalised, one solution", 1, lambda: als(1)),
                          ("asymmetric least squares", 1, lambda: als(10)),
                          ("logarithm", 3, lambda: numpy.log(y))]:
    print(f"{name + ', 1 M points:':36} {best_of(times, work):8.0f} ms")
