// SPDX-License-Identifier: GPL-3.0-or-later
// An opened parameter: how it is treated, its start value, limits and tie.
#pragma once

#include "project/project.h"

#include <QFrame>
#include <functional>
#include <optional>

class QComboBox;
class QFormLayout;
class QSlider;
class QLineEdit;

namespace jointer::app {

class ParameterDetails final : public QFrame {
    Q_OBJECT
public:
    // `now`: the value shown; a parameter that becomes fixed is kept there. `several`: of datasets, so that
    // it can be shared.
    ParameterDetails(const ParameterChoice& choice, std::optional<double> now, bool several,
                     QWidget* parent = nullptr);

    void sync(const ParameterChoice& choice, bool several); // what it is now; what is typed in stays

Q_SIGNALS:
    void changed(const QString& name, const std::function<void(jointer::ParameterChoice&)>& how);
    void slid(double start); // the start value is being moved
    void dragBegan();
    void dragEnded();

private:
    void fill();
    void takeTreatment();
    void takeLimits();
    void buildSlider(QFormLayout& form);
    std::pair<double, double> slideRange() const;

    ParameterChoice choice_;
    std::optional<double> now_;
    QComboBox* treatment_;
    QSlider* slider_ = nullptr;
    std::pair<double, double> range_; // of the slider
    QLineEdit *start_, *low_, *high_, *tie_;
};

} // namespace jointer::app
