// SPDX-License-Identifier: GPL-3.0-or-later
// A form made from the description of a kind: one editor for each setting that matters now. A field takes its
// value when it is left or on Enter, and shows at once when it cannot be taken.
#pragma once

#include "describe/kind.h"

#include <QWidget>
#include <functional>
#include <map>
#include <set>

class QFormLayout;

namespace jointer::app {

class SettingsForm final : public QWidget {
    Q_OBJECT
public:
    explicit SettingsForm(QWidget* parent = nullptr);

    // Shows a kind with its values. `shown` gives the value in force for a key that is not set (house style).
    void show(const KindInfo& kind, const Settings& given,
              const std::function<Value(const std::string&)>& inForce = {});

    // Takes over values that changed elsewhere; rebuilds only where what is shown differs, so that a slider
    // that is being dragged stays.
    void sync(const Settings& given, const std::function<Value(const std::string&)>& inForce = {});

    // What settings that refer may name: keys of things and their names; before `show`.
    void offer(const std::string& of, std::vector<std::pair<std::string, std::string>> choices) {
        offered_[of] = std::move(choices);
    }
    void setNarrowest(int pixels) { narrowest_ = pixels; } // the least width that it has where it stands
    void setTimes(bool xIsTime) { xIsTime_ = xIsTime; }    // what is told in x is dates and times

    // Groups open and close, and what is given has a dot that gives it back.
    void foldGroups() { folds_ = true; }
    void unfold(const std::string& group) { open_.insert(group); } // before `show`

    const std::string& kindShown() const { return kind_.key; }
    void focusOn(const std::string& key); // the editor of a setting, where it is shown

Q_SIGNALS:
    void changed(const QString& key, const jointer::Value& value);
    void dragBegan(); // of a slider
    void dragEnded();

private:
    void addHeading(const std::string& group);
    QWidget* withDot(const Setting& s, QWidget* editor);
    QWidget* editorFor(const Setting& s, const Value& value);
    QWidget* choiceEditor(const Setting& s, const Value& value);
    QWidget* numberEditor(const Setting& s, const Value& value);
    QWidget* textEditor(const Setting& s, const Value& value);
    QWidget* intervalEditor(const Setting& s, const Value& value);
    QWidget* referenceEditor(const Setting& s, const Value& value);
    QWidget* referencesEditor(const Setting& s, const Value& value);
    QWidget* colourEditor(const Setting& s, const Value& value);
    void take(const Setting& s, const QString& text, QWidget* field);
    bool holdsFocus() const;
    bool isOfTime(const Setting& s) const { return xIsTime_ && s.unit == "x"; }
    bool isWide(const Setting& s, int labels) const; // for the room beside labels of that width

    KindInfo kind_;
    std::map<std::string, std::vector<std::pair<std::string, std::string>>> offered_;
    bool folds_ = false;
    std::set<std::string> open_ = {"What is shown", "What varies"};
    std::function<Value(const std::string&)> inForce_;
    bool xIsTime_ = false;
    int narrowest_ = 255; // of a pane
    Settings given_;
    QFormLayout* rows_;
};

} // namespace jointer::app
