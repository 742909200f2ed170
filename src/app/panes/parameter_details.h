// SPDX-License-Identifier: GPL-3.0-or-later
// An opened parameter: how it is treated, its start value, limits and tie.
#pragma once

#include "project/project.h"

#include <QFrame>
#include <functional>
#include <optional>

class QComboBox;
class QLineEdit;

namespace jointer::app {

class ParameterDetails final : public QFrame {
    Q_OBJECT
public:
    // `now`: the value shown; a parameter that becomes fixed is kept there. `several`: of datasets, so that
    // it can be shared.
    ParameterDetails(const ParameterChoice& choice, std::optional<double> now, bool several,
                     QWidget* parent = nullptr);

Q_SIGNALS:
    void changed(const QString& name, const std::function<void(jointer::ParameterChoice&)>& how);

private:
    void takeTreatment();
    void takeLimits();

    ParameterChoice choice_;
    std::optional<double> now_;
    QComboBox* treatment_;
    QLineEdit *start_, *low_, *high_, *tie_;
};

} // namespace jointer::app
