// SPDX-License-Identifier: GPL-3.0-or-later
// The model of a fit as a button: its picture and its whole name.
#pragma once

#include <QPushButton>
#include <string>

class QLabel;

namespace jointer::app {

class ModelButton final : public QPushButton {
    Q_OBJECT
public:
    explicit ModelButton(QWidget* parent = nullptr);
    void showModel(const std::string& key, const QString& name);

private:
    QLabel *picture_, *name_;
};

} // namespace jointer::app
