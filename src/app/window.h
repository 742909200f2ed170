// SPDX-License-Identifier: GPL-3.0-or-later
// The one window: menu, stage track, datasets at the left, the stages in the middle, the readout below.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "app/panes/export_pane.h"
#include "app/panes/find_field.h"
#include "app/stages/data_stage.h"
#include "app/stages/figure_stage.h"
#include "app/stages/results_desk.h"
#include "app/stages/work_stage.h"

#include <QMainWindow>
#include <stop_token>

class QLabel;
class QPushButton;
class QStackedWidget;

namespace jointer::app {

class DatasetList;
class Header;
class RunBar;

enum class Stage { Data, Clean, Analyse, Figure, Results };

class Window final : public QMainWindow {
    Q_OBJECT
public:
    explicit Window(const std::string& stateFolder);
    ~Window() override;

    Document& document() { return document_; }
    void paste();
    void goTo(Stage stage);
    void openPath(const QString& path); // a project, or a data file to import
    void find(const QString& words);    // does what Find offers first for them
    bool saveTo(const QString& path);
    bool exportTo(const QString& path, const ExportOptions& options = {}); // the figure
    void exportAllTo(const QString& folder, const ExportWish& wish);
    void addFigureFromFile(const QString& path);
    void exportStyleTo(const QString& path);
    void importStyleFrom(const QString& path);
    void exportTableTo(const QString& path); // the table in view
    void exportReportTo(const QString& path); // of the dataset
    DataStage* data() { return data_; }
    WorkStage* clean() { return clean_; }
    WorkStage* analyse() { return analyse_; }
    FigureStage* figure() { return figure_; }
    ResultsStage* results() { return results_->numbers(); }
    RunsView* runs() { return results_->runs(); }
    void keepAsRecipe(DatasetId dataset);
    bool isSettled() const; // nothing is being computed or drawn for the visible stage
    void setDark(bool dark);

protected:
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void closeEvent(QCloseEvent*) override;

private:
    struct Entry {
        QString menu, name, shortcut, tip;
        std::function<void()> run;
        QString group{}; // a menu within the menu
    };
    std::vector<Entry> entries();
    void addFileEntries(std::vector<Entry>& all);
    void addDataEntries(std::vector<Entry>& all);
    void addFigureEntries(std::vector<Entry>& all);
    void addCatalogueEntries(std::vector<Entry>& all);
    void addViewEntries(std::vector<Entry>& all);
    void addStep(const std::string& key, const std::string& name);
    void buildMenus();
    QWidget* buildReadout();
    void connectDocument();
    void refreshHeader();
    void watchFits();
    void autosave();
    void sayFault(const std::string& what);
    std::vector<Findable> findable();
    void addFindableSettings(std::vector<Findable>& all);
    void addMade(const char* kind);
    AnalysisId surfaceFit();
    void importFiles();
    void openProject();
    bool save();
    bool saveAs();
    void exportFigure();
    void askForFigureFile(FigureId figure, const ExportWish& wish);
    void exportAllFigures(const ExportWish& wish);
    void addFigureFromText();
    void exportStyle();
    void printFigure();
    void copyFigure();
    void importStyle();
    void exportTable();
    void exportReport();
    void writeInBackground(const QString& path, std::function<Result<QString>(const Cancellation&)> write);
    bool mayLeave();
    void offerRecovery(const std::string& stateFolder);

    Document document_;
    DataStage* data_;
    WorkStage *clean_, *analyse_;
    FigureStage* figure_;
    ResultsDesk* results_;
    RunBar* runBar_;
    DatasetList* datasets_;
    QStackedWidget* stages_;
    FindField* find_;
    Header* header_;
    QLabel *left_, *right_;
    QPushButton* stop_ = nullptr;
    LatestJob autosave_;
    bool autosaveFailed_ = false;
    JobQueue writing_; // of exports
    Settings exportSettings_; // the last
    int busyFor_ = 0;  // ticks of the clock that watches running fits
    std::vector<Findable> actions_;
    QAction *undo_ = nullptr, *redo_ = nullptr;
};

} // namespace jointer::app
