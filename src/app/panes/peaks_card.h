// SPDX-License-Identifier: GPL-3.0-or-later
// The open set of peaks: shape and baseline, what holds for all peaks, a row for each, buttons, quality and
// what is doubtful.
#pragma once

#include "analyses/peaks/peaks.h"
#include "app/panes/analysis_card.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace jointer::app {

class InputRows;
class PeakRows;
class RowButton;
class SettingsForm;

class PeaksCard final : public AnalysisCard {
    Q_OBJECT
public:
    PeaksCard(Document& document, AnalysisId id, QWidget* parent = nullptr);
    void showOutcome(const evaluate::AnalysisOutcome& outcome) override;

private:
    void buildShapes(QVBoxLayout& layout);
    void buildAll(QVBoxLayout& layout);
    void buildFinding(QVBoxLayout& layout);
    void buildButtons(QVBoxLayout& layout);
    void sync();
    void offerShapes();
    void chooseShape(const std::string& key);
    void fitNow();
    void addSizes();
    void offerNames();
    std::string allText() const;
    std::string unitOfX() const;

    std::vector<QPushButton*> shapes_;
    QPushButton *moreShapes_, *fit_;
    RowButton* all_;
    QComboBox *baseline_, *shown_;
    SettingsForm* settings_;
    PeakRows* rows_;
    QWidget* finding_;
    QSlider* count_;
    QLabel *countWords_, *quality_, *warnings_, *error_;
    QLineEdit* release_ = nullptr;
    QPushButton* names_ = nullptr;
    InputRows* inputs_;
    std::shared_ptr<const analyses::AnalysisResult> result_; // shown
    bool running_ = false;
};

} // namespace jointer::app
