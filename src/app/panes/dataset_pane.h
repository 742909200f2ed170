// SPDX-License-Identifier: GPL-3.0-or-later
// The selected dataset in the Data stage: its name, what its points are, where the uncertainties of y come
// from, its attributes.
#pragma once

#include "app/document.h"

#include <QWidget>

class QComboBox;
class QFormLayout;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace jointer::app {

class SettingsForm;

class DatasetPane final : public QWidget {
    Q_OBJECT
public:
    explicit DatasetPane(Document& document, QWidget* parent = nullptr);
    void refresh();

Q_SIGNALS:
    void columnsWanted(); // to choose which column is what

private:
    void buildUncertainty();
    void buildInputs();
    void offerWaterColumns();
    void changeSetting(const QString& key, const Value& value);
    void showSource(const Dataset& d);
    void showAttributes(const Dataset& d);
    void takeAttribute(int row);

    Document& document_;
    QFormLayout* rows_;
    QLineEdit* name_;
    SettingsForm* rule_; // the settings of the rule of uncertainties
    std::pair<DatasetId, std::string> shownRule_;
    QComboBox *uncertainty_, *first_, *second_;
    QLabel* roles_;
    QPushButton *columns_, *waterColumns_;
    SettingsForm* form_;
    QGridLayout* attributes_;
    std::vector<Attribute> shown_; // attributes
    DatasetId shownOf_;
    std::pair<DatasetId, std::string> shownForm_; // and of which kind
};

} // namespace jointer::app
