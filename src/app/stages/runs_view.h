// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes and their runs: what a recipe does in sentences at the right; in the middle the curves that it has
// made, the doubtful first, and the trend of a quantity below them.
#pragma once

#include "app/panes/run_gallery.h"
#include "app/stages/folder_watch.h"
#include "app/stages/run_job.h"
#include "session/recipes.h"

#include <QElapsedTimer>
#include <QWidget>
#include <set>

class QComboBox;
class QLabel;
class QPlainTextEdit;
class QProgressBar;
class QPushButton;
class QVBoxLayout;

namespace jointer::app {

class SettingsForm;
class TrendPlot;

class RunsView final : public QWidget {
    Q_OBJECT
public:
    explicit RunsView(Document& document, QWidget* parent = nullptr);

    void keepAsRecipe(DatasetId dataset); // of the dataset's way; it is shown then
    void showRecipe(RecipeId recipe);
    RecipeId recipe() const { return recipe_; }
    void runOn(const std::vector<std::string>& filesAndFolders);
    void runOnSelection();
    bool takeFile(const std::string& file); // of a recipe; false: it is none
    bool isCurrent() const;
    RunGallery* gallery() { return gallery_; }
    TrendPlot* trend() { return trend_; }
    const RunJob& job() const { return run_; }
    void watch(const std::string& folder); // files that come into it run as they come
    const FolderWatch& watched() const { return watch_; }

    // The doubtful curve after this one, of those not yet looked at; none: there is no other.
    DatasetId nextDoubtful(DatasetId after) const;
    QString reasonOf(DatasetId dataset) const; // why it is doubtful; empty: it is not
    void markLookedAt(DatasetId dataset);
    void open(DatasetId dataset); // in Analyse, with its first analysis

Q_SIGNALS:
    void openWanted(); // the selected dataset, in Analyse
    void doubtsChanged();

protected:
    void showEvent(QShowEvent*) override { refresh(); }

private:
    struct Computed;
    QWidget* buildHead();
    QWidget* buildTrend();
    QWidget* buildEmpty();
    QWidget* buildWatch();
    QWidget* buildSide();
    void connectParts();
    void fillWatch();
    void keepWatched(const std::string& folder); // with the project, to be resumed
    void watchScanner();                         // a simulated instrument, for trying
    void askForWatch();
    void refresh();
    void compute(const std::vector<DatasetId>& some);
    void takeComputed(const std::shared_ptr<Computed>& computed);
    std::vector<const RunCurve*> computedCurves() const;
    void fillTiles();
    void fillTrend();
    void fillSide();
    void addHeading(const Recipe& recipe); // to the side, as the next three
    void addNotCarriedOver();
    void addRules(const LeftBehind& left);
    void addWords(const std::string& words);
    void fillStatus();
    void offerMore();
    void takeRecipe(const Recipe& recipe, DatasetId of = {}); // into the project, and shows it
    void renameRecipe(const QString& name);
    void askForFiles();
    void askForFolder();
    void remake(); // of the dataset that it was made of, with other rules

    Document& document_;
    RunJob run_;
    FolderWatch watch_;
    LatestJob job_;
    RecipeId recipe_;
    std::map<DatasetId, RunCurve> curves_;
    std::map<DatasetId, std::shared_ptr<const RunPicture>> pictures_;
    std::vector<DatasetId> order_; // of the run
    std::set<DatasetId> looked_;
    DatasetId madeOf_; // the dataset of the draft
    RecipeWish wish_;
    std::vector<LeftBehind> left_;
    std::vector<std::string> without_;

    QComboBox *choice_, *quantity_, *attribute_;
    QWidget *head_, *empty_, *below_;
    QLabel *status_, *failures_;
    QProgressBar* bar_;
    QWidget* watchRow_ = nullptr;
    QLabel* watchWords_ = nullptr;
    QPushButton *watchPause_ = nullptr, *watchEnd_ = nullptr;
    QPlainTextEdit* watchLog_ = nullptr;
    QPushButton* stop_;
    RunGallery* gallery_;
    TrendPlot* trend_;
    QVBoxLayout* side_;
    SettingsForm* form_;
    std::string sideShown_;
};

} // namespace jointer::app
