// SPDX-License-Identifier: GPL-3.0-or-later
// What is seldom changed of a fit: intervals, losses, iterations; further numbers from its parameters; the
// curve at typed places.
#pragma once

#include "app/document.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;

namespace jointer::app {

class SettingsForm;

// "height, centre; fwhm" as steps of release, and back; without any: none.
QString scheduleText(const Settings& settings);
Value scheduleFrom(const QString& typed);

class FitFurther final : public QWidget {
    Q_OBJECT
public:
    explicit FitFurther(QWidget* parent = nullptr);
    void sync(const Settings& settings);
    void showOutcome(const evaluate::AnalysisOutcome& outcome, DatasetId dataset);
    bool isRecording() const; // each fit becomes a step of release

Q_SIGNALS:
    void changed(const QString& key, const jointer::Value& value); // an empty value: taken out
    void stepWanted();
    void columnWanted(QPoint at); // that follows the fit

private:
    void takeDerived();
    void offerNumbers();
    void takeSchedule();
    void showEnds();
    void showPredicted();

    Settings settings_;
    SettingsForm* form_;
    QLineEdit *derive_, *schedule_, *predictAt_;
    QLabel *predicted_, *ends_;
    QPushButton *record_, *numbers_;
    evaluate::AnalysisOutcome last_;
    DatasetId dataset_;
};

} // namespace jointer::app
