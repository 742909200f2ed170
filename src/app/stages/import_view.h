// SPDX-License-Identifier: GPL-3.0-or-later
// Files that wait to be imported, one after the other: raw text tinted by what was recognised, parsed grid,
// curve, settings; everything is read again as the settings change.
#pragma once

#include "app/canvas/plot_canvas.h"
#include "app/document.h"
#include "base/progress.h"
#include "io/reader.h"
#include "session/import.h"
#include "session/reimport.h"
#include "session/sample_list.h"

#include <QElapsedTimer>
#include <QWidget>

class QLabel;
class QListWidget;
class QProgressBar;
class QPushButton;
class QTableView;
class QTimer;

namespace jointer::app {

class ImportTarget;
class ImportWarnings;
class RawLines;
class SettingsForm;
class SheetView;
class TableModel;

// One source that waits to be imported.
struct Waiting {
    QString name; // file name, or "pasted block"
    std::string path;
    std::string bytes; // of a pasted block

    std::string fileName() const; // without folder and ending
};

class ImportView final : public QWidget {
    Q_OBJECT
public:
    explicit ImportView(Document& document, QWidget* parent = nullptr);
    void add(const std::vector<Waiting>& sources);
    void readAgain(const Table& table); // its file; replaces what is in the table
    bool hasWaiting() const { return !waiting_.empty(); }
    bool isCurrent() const { return !job_.isBusy() && !changesJob_.isBusy() && plot_->isCurrent(); }

Q_SIGNALS:
    void finished(); // nothing waits any more

public Q_SLOTS:
    void importAll();
    void leaveOut();

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    void read();
    void showReading(Result<io::ReadResult> reading, const QStringList& lines);
    QLayout* buildHead();
    QLayout* buildViews();
    QWidget* buildSide();
    void connectParts();
    void showUnread(const Issue& why, const QStringList& lines);
    void showRaw(const io::ReadResult& reading, const QStringList& lines);
    Settings understoodFrom(const io::ReadResult& reading, bool isText) const;
    void showTable(std::size_t index);
    void goTo(long line);
    std::vector<std::string> names() const;
    void showChanges();
    void takeAgain();
    void showSamples();
    void takeSamples();
    void takeIn(std::vector<Edit> all, QStringList failed, std::vector<Waiting> others);
    void watch();
    void beginWatching();

    Document& document_;
    LatestJob job_, changesJob_;
    std::shared_ptr<Progress> progress_ = std::make_shared<Progress>();
    QElapsedTimer watched_;
    QTimer* watching_;
    QProgressBar* bar_;
    std::vector<Waiting> waiting_;
    Settings told_;
    TableId again_; // the table that is read again; none: new tables
    std::string againName_;
    std::optional<io::ReadResult> reading_;
    std::optional<Reimport> planned_;   // where a table is read again
    std::optional<SampleList> samples_; // where the table is one
    QLabel *title_, *error_;
    ImportWarnings* warnings_;
    ImportTarget* target_;
    QPushButton *import_, *leave_;
    RawLines* raw_;
    SheetView* sheet_;
    std::string shownSheet_; // name of the sheet in view
    QTableView* grid_;
    TableModel* model_;
    PlotCanvas* plot_;
    SettingsForm* form_;
};

} // namespace jointer::app
