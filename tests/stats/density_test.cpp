// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/density.h"
#include "stats/two_samples.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace jointer::stats;

namespace {

const std::vector<double> kSample = {2.1, 3.4, 2.9, 5.0, 4.4, 3.8, 2.2, 6.1},
                          kOther = {3.9, 5.2, 4.8, 6.6, 7.1};

} // namespace

// References: scipy 1.10, gaussian_kde and ttest_ind, ttest_rel.
TEST(Density, IsTheSumOfKernels) {
    const std::vector<double> places = {0, 3, 7.5};
    const auto d = densityAt(places, kSample, 0.7);
    EXPECT_NEAR(d[0], 0.0013156415637866294, 1e-15);
    EXPECT_NEAR(d[1], 0.24719809270496912, 1e-15);
    EXPECT_NEAR(d[2], 0.009766290043298681, 1e-15);
    EXPECT_NEAR(kernelWidth(kSample), 0.8086909490464476, 1e-14);
    EXPECT_EQ(kernelWidth(std::vector<double>{3, 3, 3}), 0);
}

TEST(Density, HasTheAreaOne) {
    std::vector<double> places, values = kSample;
    values.push_back(NAN);
    for (int k = 0; k <= 4000; ++k) places.push_back(-10 + 0.01 * k);
    double area = 0;
    for (double v : densityAt(places, values, 0.5)) area += 0.01 * v;
    EXPECT_NEAR(area, 1, 1e-9);
}

TEST(TwoSamples, DifferAsStudentAndWelchSay) {
    const Difference d = differenceOfMeans(kSample, kOther);
    EXPECT_NEAR(d.t, -2.3283413714617827, 1e-13);
    EXPECT_NEAR(d.p, 0.044822074751624565, 1e-13);
    const Difference pairs =
        differenceOfPairs(std::vector<double>{1.2, 3.4, 2.2, 4.0}, std::vector<double>{1.9, 3.1, 3.3, 5.2});
    EXPECT_NEAR(pairs.t, -1.970925434731553, 1e-13);
    EXPECT_NEAR(pairs.p, 0.14331759090109852, 1e-13);
    EXPECT_TRUE(std::isnan(differenceOfMeans(std::vector<double>{1}, kOther).p));
}
