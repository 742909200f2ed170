# SPDX-License-Identifier: GPL-3.0-or-later
# The same work by the common data-frame reader and a bounded least-squares script, for the ratios of bench/run.
# Use: compare.py FOLDER, with the files that `jointer-bench --write FOLDER` made.
import sys
import time

import numpy
import pandas
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
