// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"

#include <QApplication>
#include <gtest/gtest.h>

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    QApplication app(argc, argv);
    jointer::app::applyTheme(app, false);
    return RUN_ALL_TESTS();
}
