// SPDX-License-Identifier: GPL-3.0-or-later
// The bar that offers a project with unsaved changes after a crash.
#pragma once

#include <QFrame>

namespace jointer::app {

class RecoveryBar final : public QFrame {
    Q_OBJECT
public:
    explicit RecoveryBar(const QString& projectTitle, QWidget* parent = nullptr);

Q_SIGNALS:
    void recoverWanted();
    void discardWanted();
};

} // namespace jointer::app
