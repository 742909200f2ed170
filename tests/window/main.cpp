// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/faults.h"
#include "app/theme/theme.h"

#include <gtest/gtest.h>

int main(int argc, char** argv) {
    // Also while the tests are only being listed, which happens without the environment of a test run.
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    testing::InitGoogleTest(&argc, argv);
    jointer::app::Application app(argc, argv);
    jointer::app::applyTheme(app, false);
    return RUN_ALL_TESTS();
}
