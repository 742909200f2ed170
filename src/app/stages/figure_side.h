// SPDX-License-Identifier: GPL-3.0-or-later
// The right side of the Figure stage: a path of crumbs, then the settings of what is selected; those of
// several selected elements change together. Looks are copied from one element to others.
#pragma once

#include "app/document.h"
#include "figure/symbol_class.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;

namespace jointer::app {

class ClassRows;
class SettingsForm;

// "Left axis", "Points of 28 d": as crumbs and Find name an element.
std::string elementName(const Project& project, const Element& element);

class FigureSide final : public QWidget {
    Q_OBJECT
public:
    explicit FigureSide(Document& document, QWidget* parent = nullptr);
    void refresh();
    void
    showClasses(const std::vector<figure::SymbolClass>& classes); // of the selected mark; none: it has none
    void showIssues(const QStringList& issues);
    void showFacts(const QString& facts); // what the selected element is made of; empty: nothing to tell
    void focusSetting(ElementId element, const std::string& key);
    void copyLook();
    void pasteLook();
    bool setTimes(bool times); // what is told in x is moments; true: this is new
    bool hasLook() const { return !look_.kind.empty(); }

Q_SIGNALS:
    void stylesWanted(); // to be changed

private:
    QWidget* buildInner();
    void showCrumbs(const Figure& figure, const Element* element);
    void offerReferences(const Figure& figure, const Element* element);
    void offerKinds(const Element* element);
    void showMember(const Figure& figure, const Element* element);
    void give(const std::string& key, const Value& value);
    void giveClasses(const RowList& byHand);
    void keepClasses(const RowList& byHand);
    void giveMember(const std::string& key, const Value& value);
    void reset();

    Document& document_;
    QWidget* crumbs_;
    SettingsForm *form_, *member_;
    ClassRows* classes_;
    QLabel *issues_, *hint_, *facts_, *memberTitle_, *groupTitle_;
    QPushButton *remove_, *reset_, *copy_, *paste_, *editStyles_ = nullptr;
    QComboBox *style_, *drawnAs_;
    bool times_ = false;
    std::string built_, memberBuilt_;
    Element look_; // copied
};

} // namespace jointer::app
