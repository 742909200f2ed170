// SPDX-License-Identifier: GPL-3.0-or-later
// The card of an open analysis in the protocol: what is set, and its numbers. A fit has a card of its own;
// all other kinds share one that is made from their description.
#pragma once

#include "app/document.h"

#include <QWidget>

class QLabel;

namespace jointer::app {

class ParameterGrid;
struct ParameterLine;
class SettingsForm;
class SpanFields;

class AnalysisCard : public QWidget {
    Q_OBJECT
public:
    AnalysisCard(Document& document, AnalysisId id, QWidget* parent = nullptr);
    virtual void showOutcome(const evaluate::AnalysisOutcome& outcome) = 0;
    virtual void openPicker() {} // of models, where it has one

    // What its sections work with.
    Document& document() { return document_; }
    std::shared_ptr<const Analysis> analysis() const { return document_.project().analyses.find(id_); }
    void change(const QString& name, const std::function<void(Analysis&)>& how,
                const std::string& mergeKey = {});
    // One of its settings; an empty value takes it out.
    void changeSetting(const QString& name, const QString& key, const Value& value);
    // How the current dataset is taken; the first one's where it is not.
    AnalysisInput input() const;
    void changeInput(const QString& name, const std::function<void(AnalysisInput&)>& how);

protected:
    Document& document_;
    AnalysisId id_;
};

AnalysisCard* newAnalysisCard(Document& document, const Analysis& analysis);

// What is said of a result, one paragraph for each; hidden where there is nothing.
void sayIssues(QLabel* label, const std::vector<Issue>& issues);

// The quantities as rows: those of the current dataset, and those of all.
std::vector<ParameterLine> quantityLines(const analyses::AnalysisResult& result, DatasetId dataset);

} // namespace jointer::app
