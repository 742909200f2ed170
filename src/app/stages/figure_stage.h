// SPDX-License-Identifier: GPL-3.0-or-later
// Figure: the page on a desk with rulers in mm, the settings of what is selected at the right, thumbnails of
// the figures below.
#pragma once

#include "app/background.h"
#include "app/canvas/page_view.h"
#include "app/document.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace jointer::app {

class SettingsForm;

// "Left axis", "Points of 28 d": as crumbs and Find name an element.
std::string elementName(const Project& project, const Element& element);

class FigureStage final : public QWidget {
    Q_OBJECT
public:
    explicit FigureStage(Document& document, QWidget* parent = nullptr);
    PageView* page() { return page_; }
    void focusSetting(ElementId element, const std::string& key);
    void addFigure();
    void addMarksOf(const std::vector<DatasetId>& datasets);

Q_SIGNALS:
    void exportWanted();

protected:
    void showEvent(QShowEvent*) override { refresh(); } // what is hidden is brought up to date when it shows

private:
    QWidget* buildStrip();
    void refresh();
    void refreshSide();
    void refreshThumbnails();
    void offerMarks();
    void addNote();

    Document& document_;
    LatestJob thumbnails_;
    PageView* page_;
    QListWidget* figures_;
    QWidget* crumbs_;
    SettingsForm* form_;
    QLabel *size_, *issues_, *hint_;
    QPushButton *remove_, *reset_;
    QComboBox* style_;
    std::string built_;
};

} // namespace jointer::app
