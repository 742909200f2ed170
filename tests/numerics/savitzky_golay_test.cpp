// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/savitzky_golay.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace jointer::numerics;

// The weights are exact for each power up to the order, at every place of the window.
TEST(SavitzkyGolay, KeepsPolynomialsUpToItsOrder) {
    for (int window : {3, 5, 7, 11, 25, 51})
        for (int order = 0; order < std::min(window, 6); ++order)
            for (int at : {0, 1, window / 2, window - 1}) {
                const auto w = savitzkyGolayWeights(window, order, at);
                ASSERT_EQ(w.size(), static_cast<std::size_t>(window));
                for (int power = 0; power <= order; ++power) {
                    double sum = 0;
                    for (int k = 0; k < window; ++k)
                        sum += w[static_cast<std::size_t>(k)] *
                               std::pow((k - window / 2) / double(window), power);
                    EXPECT_NEAR(sum, std::pow((at - window / 2) / double(window), power), 1e-10)
                        << window << " points, order " << order << ", place " << at << ", power " << power;
                }
            }
}

TEST(SavitzkyGolay, TheMiddleIsSymmetricAndEndsMirrorEachOther) {
    for (int window : {5, 9, 21})
        for (int order : {0, 1, 2, 3}) {
            const auto middle = savitzkyGolayWeights(window, order, window / 2),
                       left = savitzkyGolayWeights(window, order, 1),
                       right = savitzkyGolayWeights(window, order, window - 2);
            for (int k = 0; k < window; ++k) {
                const auto a = static_cast<std::size_t>(k), b = static_cast<std::size_t>(window - 1 - k);
                EXPECT_NEAR(middle[a], middle[b], 1e-13);
                EXPECT_NEAR(left[a], right[b], 1e-12);
            }
        }
}

// The noise that is left is the sum of the squared weights: for order 0 and 1 in the middle 1/window.
TEST(SavitzkyGolay, LeavesTheNoiseOfAMeanForLowOrders) {
    for (int window : {5, 15, 41})
        for (int order : {0, 1}) {
            double sum = 0;
            for (double w : savitzkyGolayWeights(window, order, window / 2)) sum += w * w;
            EXPECT_NEAR(sum, 1.0 / window, 1e-13);
        }
}
