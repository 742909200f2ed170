// SPDX-License-Identifier: GPL-3.0-or-later
// Which column is what: the columns of a table with the place that each takes in a dataset, a check of the
// choice in sentences, and the curve that comes of it.
#pragma once

#include "app/canvas/plot_canvas.h"
#include "app/document.h"
#include "evaluate/mapping.h"

#include <QWidget>

class QButtonGroup;
class QComboBox;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QTableWidget;

namespace jointer::app {

class SettingsForm;

class MappingView final : public QWidget {
    Q_OBJECT
public:
    explicit MappingView(Document& document, QWidget* parent = nullptr);

    // For a new dataset over the table, or to change the columns of one that is there.
    void begin(TableId table, DatasetId dataset = {});
    bool isCurrent() const { return !job_.isBusy() && plot_->isCurrent(); }
    const std::vector<RoleBinding>& roles() const { return roles_; }

public Q_SLOTS:
    void take();
    void leave();

Q_SIGNALS:
    void finished();

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    void buildKinds(QHBoxLayout* row);
    void chooseKind(const std::string& key);
    void showSettings();
    void showColumns();
    void rolesChosen();
    void check();
    Dataset dataset() const;
    std::vector<Dataset> datasets() const;
    void showSeveral();

    Document& document_;
    LatestJob job_;
    TableId table_;
    DatasetId changed_; // none: a new one
    const evaluate::MappingKind* kind_;
    std::vector<RoleBinding> roles_;
    Settings settings_; // of the kind
    SettingsForm* form_;
    QButtonGroup* kinds_;
    QLabel *title_, *purpose_, *facts_, *problems_;
    QComboBox* several_;
    QWidget* severalRow_;
    QTableWidget* columns_;
    QPushButton* take_;
    PlotCanvas* plot_;
};

} // namespace jointer::app
