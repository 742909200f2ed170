# SPDX-License-Identifier: GPL-3.0-or-later
# The same work by the common data-frame reader and a bounded least-squares script, for the ratios of bench/run.
# Use: compare.py FOLDER, with the files that `jointer-bench --write FOLDER` made.
import sys
import time

import numpy
import pandas
from scipy import signal, sparse
from scipy.sparse.linalg import spsolve
from scipy.optimize import least_squares

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
