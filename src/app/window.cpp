// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window.h"

#include "app/panes/doubt_row.h"
#include "app/panes/model_picker.h"
#include "app/panes/model_row.h"
#include "app/panes/numbers_grid.h"
#include "app/panes/pair_row.h"
#include "app/panes/tables_row.h"

#include "app/faults.h"
#include "app/panes/dataset_list.h"
#include "app/panes/header.h"
#include "app/panes/recovery_bar.h"
#include "app/stages/run_bar.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/memory.h"
#include "paint/painter.h"
#include "session/export.h"
#include "session/import.h"

#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QStackedWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace jointer::app {

Window::Window(const std::string& stateFolder)
    : document_(stateFolder), data_(new DataStage(document_)),
      clean_(new WorkStage(document_, ProtocolFocus::Steps)),
      analyse_(new WorkStage(document_, ProtocolFocus::Analyses)), figure_(new FigureStage(document_)),
      results_(new ResultsDesk(document_)), runBar_(new RunBar(document_, *results_->runs())),
      datasets_(new DatasetList(document_)), stages_(new QStackedWidget),
      find_(new FindField([this] { return findable(); })), header_(new Header(find_)), autosave_(this),
      writing_(this) {
    onFault([this](const std::string& what) { sayFault(what); });
    setWindowTitle("Jointer");
    resize(1280, 800);
    setAcceptDrops(true);
    auto* ground = new QWidget;
    ground->setObjectName("ground");
    auto* column = new QVBoxLayout(ground);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(header_);
    column->addWidget(runBar_);
    auto* body = new QHBoxLayout;
    body->setSpacing(0);
    body->addWidget(datasets_);
    for (QWidget* stage : std::initializer_list<QWidget*>{data_, clean_, analyse_, figure_, results_})
        stages_->addWidget(stage);
    body->addWidget(stages_, 1);
    column->addLayout(body, 1);
    column->addWidget(buildReadout());
    setCentralWidget(ground);
    buildMenus();
    connectDocument();
    onSideWidth(this, [this](int width) { setSideWidth(this, document_.sideWidth = width); });
    auto* timer = new QTimer(this);
    connect(timer, &QTimer::timeout, this, &Window::autosave);
    timer->start(8000);
    goTo(Stage::Data);
    refreshHeader();
    QTimer::singleShot(0, this, [this, stateFolder] { offerRecovery(stateFolder); });
}

// A field that is being typed in gives its value when it loses the focus: while the document is still there.
// Then all panes go before it.
Window::~Window() {
    onFault({});
    if (QWidget* typedIn = focusWidget()) typedIn->clearFocus();
    document_.blockSignals(true);
    delete takeCentralWidget();
}

QWidget* Window::buildReadout() {
    auto* bar = new QWidget;
    bar->setObjectName("readout");
    bar->setAttribute(Qt::WA_StyledBackground);
    bar->setFixedHeight(28);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(14, 0, 14, 0);
    left_ = new QLabel;
    left_->setObjectName("readoutLeft");
    right_ = new QLabel;
    row->addWidget(left_, 1);
    row->addWidget(right_);
    stop_ = new QPushButton(tr("Stop"));
    stop_->setToolTip(
        tr("Stop the running fits and exports; values reached become start values, nothing is written"));
    stop_->hide();
    connect(stop_, &QPushButton::clicked, this, [this] {
        writing_.stopRunning();
        document_.session().evaluator().stopRunning();
    });
    row->addWidget(stop_);
    auto* clock = new QTimer(this);
    connect(clock, &QTimer::timeout, this, &Window::watchFits);
    clock->start(100);
    return bar;
}

void Window::connectDocument() {
    connect(header_, &Header::stageChosen, this, [this](int i) { goTo(static_cast<Stage>(i)); });
    connect(header_, &Header::undoWanted, this, [this] { document_.session().undo(); });
    connect(header_, &Header::redoWanted, this, [this] { document_.session().redo(); });
    connect(&document_, &Document::changed, this, &Window::refreshHeader);
    auto* rest = new QTimer(this);
    rest->setSingleShot(true);
    rest->setInterval(10000);
    connect(&document_, &Document::changed, rest, qOverload<>(&QTimer::start));
    connect(rest, &QTimer::timeout, this, [] { giveBackFreedMemory(); });
    connect(&document_, &Document::readout, this, [this](const QString& left, const QString& right) {
        if (!left.isNull() || right.isEmpty()) left_->setStyleSheet({}), left_->setText(left);
        if (!right.isEmpty()) right_->setText(right);
    });
    connect(&document_, &Document::message, this, [this](const QString& t, bool isError) {
        left_->setStyleSheet(isError ? QString("color: %1;").arg(theme().error.name()) : QString());
        left_->setText(t);
    });
    connect(datasets_, &DatasetList::addWanted, this, &Window::addMade);
    connect(datasets_, &DatasetList::tableChosen, this, [this] { goTo(Stage::Data); });
    connect(datasets_, &DatasetList::tableWanted, this, [this] { goTo(Stage::Data), data_->newTable(); });
    connect(data_, &DataStage::importWanted, this, &Window::importFiles);
    connect(data_, &DataStage::demoWanted, this, [this] { openPath("demo:"); });
    connect(figure_, &FigureStage::exportWanted, this, &Window::exportFigure);
    for (WorkStage* stage : {clean_, analyse_})
        connect(stage->protocol(), &ProtocolPane::recipeWanted, this, &Window::keepAsRecipe);
    connect(runBar_, &RunBar::backWanted, this, [this] {
        results_->showRuns(true);
        goTo(Stage::Results);
    });
    connect(results_->runs(), &RunsView::openWanted, this, [this] { goTo(Stage::Analyse); });
    connect(results_->numbers(), &ResultsStage::stepWanted, this, [this](DatasetId dataset, StepId step) {
        document_.selectDataset(dataset);
        document_.openStep(step);
        goTo(Stage::Clean);
    });
    connect(results_->numbers(), &ResultsStage::figureWanted, this, [this] { goTo(Stage::Figure); });
    connect(results_->numbers(), &ResultsStage::tableWanted, this, [this](DatasetId dataset) {
        document_.selectDataset(dataset);
        if (const auto d = document_.currentDataset()) document_.selectTable(d->source.table);
        goTo(Stage::Data);
    });
    connect(results_->numbers(), &ResultsStage::fitWanted, this, [this](AnalysisId id) {
        if (const auto a = document_.project().analyses.find(id))
            if (!a->takes(document_.dataset())) document_.selectDataset(a->inputs.front().dataset);
        document_.openAnalysis(id);
        goTo(Stage::Analyse);
    });
}

// In the background; a failure is said once, since it would come again with each clock.
void Window::autosave() {
    document_.session().view = document_.viewText(stages_->currentIndex());
    const auto work = document_.session().autosaveWork();
    if (!work) return;
    autosave_.request([this, work](const Cancellation&) -> std::function<void()> {
        const auto done = work();
        return [this, done] {
            if (!done && !std::exchange(autosaveFailed_, true))
                document_.say(tr("The project cannot be kept safe in the background: %1")
                                  .arg(text(done.error().sentence())),
                              true);
            if (done) autosaveFailed_ = false;
        };
    });
}

// A fault of ours must not cost any work: it is put away at once.
void Window::sayFault(const std::string& what) {
    document_.say(tr("Something went wrong inside Jointer (%1). Your work is kept; undo the last change if a "
                     "picture stays wrong, and please report this.")
                      .arg(text(what)),
                  true);
    autosave();
}

// What takes longer than a moment is shown with a way to stop it.
void Window::watchFits() {
    const bool running = document_.session().evaluator().running() > 0 || writing_.isBusy();
    const bool before = busyFor_ >= 2;
    busyFor_ = running ? busyFor_ + 1 : 0;
    if ((busyFor_ >= 2) == before) return;
    stop_->setVisible(busyFor_ >= 2);
    Q_EMIT document_.busyChanged(busyFor_ >= 2);
}

void Window::refreshHeader() {
    const Project& p = document_.project();
    const auto d = document_.currentDataset();
    auto few = [](std::size_t n, const char* one, const char* many) {
        return n == 0 ? QString() : QString("%1 %2").arg(n).arg(n == 1 ? one : many).trimmed();
    };
    header_->showStages(stages_->currentIndex(), {few(p.datasets.size(), "", ""),
                                                  few(d ? d->protocol.size() : 0, "step", "steps"),
                                                  few(p.analyses.size(), "", ""),
                                                  few(p.figures.size(), "", ""),
                                                  {}});
    const bool changed = document_.session().isChanged();
    header_->showProject(text(p.title), document_.session().path().empty()
                                            ? (changed ? tr("not saved yet") : tr("new project"))
                                        : changed ? tr("changed")
                                                  : tr("saved"));
    setWindowTitle(text(p.title) + (changed ? " *" : "") + " – Jointer");
    const auto& h = document_.session().history();
    const QString undoName = text(h.undoName()), redoName = text(h.redoName());
    header_->showHistory(undoName, redoName);
    if (!undo_) return;
    undo_->setText(undoName.isEmpty() ? tr("Undo") : tr("Undo: %1").arg(undoName));
    redo_->setText(redoName.isEmpty() ? tr("Redo") : tr("Redo: %1").arg(redoName));
    undo_->setEnabled(!undoName.isEmpty());
    redo_->setEnabled(!redoName.isEmpty());
}

void Window::goTo(Stage stage) {
    if (stages_->currentIndex() == static_cast<int>(stage)) return; // the focus stays where it is
    stages_->setCurrentIndex(static_cast<int>(stage));
    setSideWidth(this, document_.sideWidth);
    runBar_->setInPlace(stage == Stage::Analyse);
    if (stage == Stage::Clean) clean_->canvas()->setFocus();
    if (stage == Stage::Analyse) analyse_->canvas()->setFocus();
    if (stage == Stage::Figure) figure_->page()->setFocus();
    if (stage == Stage::Data) data_->setFocus();
    if (stage == Stage::Results) results_->setFocus();
    Q_EMIT document_.readout(QString(""), QString(" "));
    refreshHeader();
}

void Window::find(const QString& words) {
    find_->runFirst(words);
}

void Window::resizeEvent(QResizeEvent* e) {
    QMainWindow::resizeEvent(e);
    setSideWidth(this, document_.sideWidth);
}

void Window::keepAsRecipe(DatasetId dataset) {
    results_->showRuns(true);
    goTo(Stage::Results);
    results_->runs()->keepAsRecipe(dataset);
}

bool Window::mayLeave() {
    if (!document_.session().isChanged()) return true;
    const auto answer = QMessageBox::question(
        this, tr("Jointer"), tr("Save the changes to “%1”?").arg(text(document_.project().title)),
        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
    if (answer == QMessageBox::Save) return save();
    return answer == QMessageBox::Discard;
}

void Window::closeEvent(QCloseEvent* e) {
    if (mayLeave())
        e->accept();
    else
        e->ignore();
}

void Window::offerRecovery(const std::string& stateFolder) {
    const auto left = Session::recoverable(stateFolder);
    if (left.empty()) return;
    auto* bar = new RecoveryBar(text(left.front().title));
    static_cast<QVBoxLayout*>(centralWidget()->layout())->insertWidget(1, bar);
    connect(bar, &RecoveryBar::recoverWanted, this, [this, bar, what = left.front()] {
        if (!mayLeave()) return;
        const auto done = document_.session().recover(what);
        document_.say(done ? tr("Recovered “%1”. Save it to keep it.").arg(text(what.title))
                           : text(done.error().text),
                      !done);
        if (done) autosave(); // the file that it came from goes once the work is safe elsewhere
        bar->deleteLater();
    });
    connect(bar, &RecoveryBar::discardWanted, this, [bar, what = left.front()] {
        Session::forget(what);
        bar->deleteLater();
    });
}

void Window::setDark(bool dark) {
    applyTheme(*qApp, dark);
    refreshHeader();
    document_.tellAll();
}

bool Window::isSettled() const {
    if (!document_.isTold()) return false;
    switch (static_cast<Stage>(stages_->currentIndex())) {
    case Stage::Data:
        return data_->isCurrent();
    case Stage::Clean:
        return clean_->arePlotsCurrent() && clean_->protocol()->isCurrent();
    case Stage::Analyse:
        if (const auto* picker = findChild<ModelPicker*>(); picker && !picker->isCurrent()) return false;
        return analyse_->arePlotsCurrent() && analyse_->protocol()->isCurrent() &&
               analyse_->numbers()->isCurrent() && analyse_->models()->isCurrent() &&
               analyse_->doubt()->isCurrent() && analyse_->pairs()->isCurrent() &&
               analyse_->tables()->isCurrent();
    case Stage::Figure:
        return figure_->page()->isCurrent() && !figure_->isPlacing();
    case Stage::Results:
        return results_->isCurrent();
    }
    return true;
}

} // namespace jointer::app
