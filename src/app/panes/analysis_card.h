// SPDX-License-Identifier: GPL-3.0-or-later
// The card of an open analysis in the protocol: what is set, and its numbers. A fit has a card of its own;
// all other kinds share one that is made from their description.
#pragma once

#include "app/document.h"

#include <QWidget>

class QLabel;
class QLineEdit;

namespace jointer::app {

class ParameterGrid;
struct ParameterLine;
class SettingsForm;

class AnalysisCard : public QWidget {
    Q_OBJECT
public:
    AnalysisCard(Document& document, AnalysisId id, QWidget* parent = nullptr);
    virtual void showOutcome(const evaluate::AnalysisOutcome& outcome) = 0;
    virtual void openPicker() {} // of models, where it has one

protected:
    std::shared_ptr<const Analysis> analysis() const { return document_.project().analyses.find(id_); }
    void change(const QString& name, const std::function<void(Analysis&)>& how,
                const std::string& mergeKey = {});
    // How the current dataset is taken; the first one's where it is not.
    AnalysisInput input() const;
    void changeInput(const QString& name, const std::function<void(AnalysisInput&)>& how);

    Document& document_;
    AnalysisId id_;
};

AnalysisCard* newAnalysisCard(Document& document, const Analysis& analysis);

// The quantities as rows: those of the current dataset, and those of all.
std::vector<ParameterLine> quantityLines(const analyses::AnalysisResult& result, DatasetId dataset);

// The two ends of a span, typed. Several pieces read as such and are changed on the plot.
class SpanFields final : public QWidget {
    Q_OBJECT
public:
    explicit SpanFields(QWidget* parent = nullptr);
    void show(const Span& span);

Q_SIGNALS:
    void changed(double low, double high);

private:
    void take();
    QLineEdit *low_, *high_;
    Span span_;
};

} // namespace jointer::app
