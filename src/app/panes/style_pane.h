// SPDX-License-Identifier: GPL-3.0-or-later
// House styles changed on a page of their own: the kinds of elements, what the style says of one, and a
// sample figure that shows it at once. All figures of the style follow.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "describe/kind.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace jointer::app {

class SettingsForm;

class StylePane final : public QDialog {
    Q_OBJECT
public:
    StylePane(Document& document, StyleId first, QWidget* parent);
    bool isCurrent() const { return shown_ == wanted_; }

protected:
    void resizeEvent(QResizeEvent*) override { draw(); }

private:
    QWidget* buildHead();
    void refresh();
    void refreshForm();
    void draw(); // the sample
    void rename();
    void remove();
    void giveBack(); // as it was shipped
    std::shared_ptr<const HouseStyle> style() const;
    std::string kindShown() const;

    Document& document_;
    LatestJob job_;
    StyleId id_;
    const std::vector<KindInfo> styled_; // the kinds that have looks
    std::string built_; // what the form shows
    int wanted_ = 0, shown_ = 0;
    QComboBox* styles_;
    QLineEdit* name_;
    QListWidget* kinds_;
    SettingsForm* form_;
    QLabel *sample_, *used_;
    QPushButton *remove_ = nullptr, *giveBack_ = nullptr;
};

} // namespace jointer::app
