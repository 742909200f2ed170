// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window.h"

#include "app/panes/dataset_list.h"
#include "app/theme/theme.h"
#include "base/text.h"
#include "models/catalogue.h"
#include "paint/painter.h"
#include "session/export.h"
#include "session/import.h"
#include "tern_sands.h"

#include <QApplication>
#include <QButtonGroup>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QStackedWidget>
#include <QThread>
#include <QTimer>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

const char* kStageNames[] = {"Data", "Clean", "Analyse", "Figure", "Results"};

} // namespace

Window::Window(const std::string& stateFolder)
    : document_(stateFolder), data_(new DataStage(document_)),
      clean_(new WorkStage(document_, ProtocolFocus::Steps)),
      analyse_(new WorkStage(document_, ProtocolFocus::Analyses)), figure_(new FigureStage(document_)),
      results_(new ResultsStage(document_)), datasets_(new DatasetList(document_)),
      stages_(new QStackedWidget), track_(new QButtonGroup(this)) {
    setWindowTitle("Jointer");
    resize(1280, 800);
    setAcceptDrops(true);
    auto* ground = new QWidget;
    ground->setObjectName("ground");
    auto* column = new QVBoxLayout(ground);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildHeader());
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
    found_ = new QListWidget(this);
    found_->setObjectName("found");
    found_->setWindowFlags(Qt::ToolTip);
    found_->setFocusPolicy(Qt::NoFocus);
    found_->hide();
    connect(found_, &QListWidget::itemClicked, this, &Window::runFound);
    auto* timer = new QTimer(this);
    connect(timer, &QTimer::timeout, this, [this] { (void)document_.session().autosave(); });
    timer->start(8000);
    goTo(Stage::Data);
    refreshHeader();
    QTimer::singleShot(0, this, [this, stateFolder] { offerRecovery(stateFolder); });
}

QWidget* Window::buildHeader() {
    auto* header = new QWidget;
    header->setObjectName("header");
    header->setAttribute(Qt::WA_StyledBackground);
    header->setFixedHeight(50);
    auto* row = new QHBoxLayout(header);
    row->setContentsMargins(4, 4, 12, 4);
    auto* names = new QVBoxLayout;
    names->setSpacing(0);
    title_ = new QLabel;
    title_->setObjectName("title");
    saved_ = new QLabel;
    saved_->setObjectName("muted");
    names->addWidget(title_);
    names->addWidget(saved_);
    auto* nameBox = new QWidget;
    nameBox->setLayout(names);
    nameBox->setFixedWidth(186);
    row->addWidget(nameBox);
    row->addStretch(1);
    for (int i = 0; i < 5; ++i) {
        auto* button = new QPushButton;
        button->setCheckable(true);
        button->setCursor(Qt::PointingHandCursor);
        button->setAccessibleName(tr(kStageNames[i]));
        button->setToolTip(tr("%1 (Ctrl+%2)").arg(tr(kStageNames[i])).arg(i + 1));
        button->setObjectName("stage");
        track_->addButton(button, i);
        if (i > 0) {
            auto* joint = new QFrame;
            joint->setObjectName("hairline");
            joint->setFixedSize(26, 2);
            row->addWidget(joint);
        }
        row->addWidget(button);
    }
    connect(track_, &QButtonGroup::idClicked, this, [this](int i) { goTo(static_cast<Stage>(i)); });
    row->addStretch(1);
    find_ = new QLineEdit;
    find_->setObjectName("find");
    find_->setPlaceholderText(tr("Find anything   Ctrl K"));
    find_->setFixedWidth(170);
    find_->setAccessibleName(tr("Find"));
    find_->setToolTip(tr("Find an action, step, model or dataset by a few letters (Ctrl+K)"));
    find_->installEventFilter(this);
    connect(find_, &QLineEdit::textEdited, this, &Window::offerFind);
    connect(find_, &QLineEdit::returnPressed, this, &Window::runFound);
    row->addWidget(find_);
    for (const auto& [picture, tip, isUndo] :
         {std::tuple("undo-2", tr("Undo"), true), std::tuple("redo-2", tr("Redo"), false)}) {
        auto* button = new QPushButton;
        button->setObjectName("flat");
        button->setIcon(icon(picture));
        button->setToolTip(tip);
        button->setAccessibleName(tip);
        connect(button, &QPushButton::clicked, this,
                [this, undo = isUndo] { undo ? document_.session().undo() : document_.session().redo(); });
        row->addWidget(button);
    }
    return header;
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
    stop_ = new QPushButton(tr("Stop fitting"));
    stop_->setToolTip(tr("Stop the running fits; the values reached become start values"));
    stop_->hide();
    connect(stop_, &QPushButton::clicked, this, [this] { document_.session().evaluator().stopFits(); });
    row->addWidget(stop_);
    auto* clock = new QTimer(this);
    connect(clock, &QTimer::timeout, this, &Window::watchFits);
    clock->start(100);
    return bar;
}

void Window::connectDocument() {
    connect(&document_, &Document::changed, this, &Window::refreshHeader);
    connect(&document_, &Document::readout, this, [this](const QString& left, const QString& right) {
        if (!left.isNull() || right.isEmpty()) left_->setStyleSheet({}), left_->setText(left);
        if (!right.isEmpty()) right_->setText(right);
    });
    connect(&document_, &Document::message, this, [this](const QString& t, bool isError) {
        left_->setStyleSheet(isError ? QString("color: %1;").arg(theme().error.name()) : QString());
        left_->setText(t);
    });
    connect(datasets_, &DatasetList::tableChosen, this, [this] { goTo(Stage::Data); });
    connect(figure_, &FigureStage::exportWanted, this, &Window::exportFigure);
    connect(results_, &ResultsStage::fitWanted, this, [this](AnalysisId id) {
        if (const auto a = document_.project().analyses.find(id))
            document_.selectDataset(a->inputs.front().dataset);
        document_.openAnalysis(id);
        goTo(Stage::Analyse);
    });
}

// What takes longer than a moment is shown with a way to stop it.
void Window::watchFits() {
    const bool running = document_.session().evaluator().runningFits() > 0;
    const bool before = busyFor_ >= 2;
    busyFor_ = running ? busyFor_ + 1 : 0;
    if ((busyFor_ >= 2) == before) return;
    stop_->setVisible(busyFor_ >= 2);
    Q_EMIT document_.busyChanged(busyFor_ >= 2);
}

// The track, with a small count for each stage, and the title.
void Window::refreshHeader() {
    const Project& p = document_.project();
    const auto d = document_.currentDataset();
    const std::size_t steps = d ? d->protocol.size() : 0;
    auto few = [](std::size_t n, const char* one, const char* many) {
        return n == 0 ? QString() : QString("  %1 %2").arg(n).arg(n == 1 ? one : many);
    };
    const QString counts[] = {few(p.datasets.size(), "dataset", "datasets"),
                              few(steps, "step", "steps"),
                              few(p.analyses.size(), "fit", "fits"),
                              few(p.figures.size(), "figure", "figures"),
                              {}};
    const Theme& t = theme();
    for (int i = 0; i < 5; ++i) {
        auto* button = track_->button(i);
        const bool now = stages_->currentIndex() == i;
        button->setChecked(now);
        button->setText(QString("%1   %2%3").arg(i + 1).arg(tr(kStageNames[i]), now ? counts[i] : QString()));
        button->setStyleSheet(
            now ? QString(
                      "QPushButton { background: %1; color: %2; border: none; border-radius: 13px; padding: "
                      "5px 15px; font-weight: 600; } QPushButton:focus { border: 2px solid %3; }")
                      .arg(t.accent.name(), t.dark ? "#10201E" : "#FFFFFF", t.copper.name())
                : QString("QPushButton { background: transparent; color: %1; border: none; padding: 5px 6px; "
                          "} QPushButton:hover { color: %2; } QPushButton:focus { color: %2; "
                          "text-decoration: underline; }")
                      .arg(t.muted.name(), t.ink.name()));
    }
    title_->setText(text(p.title));
    const bool changed = document_.session().isChanged();
    saved_->setText(document_.session().path().empty() ? (changed ? tr("not saved yet") : tr("new project"))
                    : changed                          ? tr("changed")
                                                       : tr("saved"));
    setWindowTitle(text(p.title) + (changed ? " *" : "") + " – Jointer");
    if (!undo_) return;
    const auto& h = document_.session().history();
    undo_->setText(h.undoName().empty() ? tr("Undo") : tr("Undo: %1").arg(text(h.undoName())));
    redo_->setText(h.redoName().empty() ? tr("Redo") : tr("Redo: %1").arg(text(h.redoName())));
    undo_->setEnabled(!h.undoName().empty());
    redo_->setEnabled(!h.redoName().empty());
}

std::vector<Window::Entry> Window::entries() {
    Session& s = document_.session();
    std::vector<Entry> all = {
        {tr("File"), tr("New project"), "Ctrl+N", tr("Begin an empty project"),
         [this] {
             if (mayLeave()) document_.session().start(newProject("Untitled")), goTo(Stage::Data);
         }},
        {tr("File"), tr("Open project…"), "Ctrl+O", tr("Open a project file"), [this] { openProject(); }},
        {tr("File"), tr("Open the demo"), "", tr("Tern Sands: made-up shells and a sensor"),
         [this] {
             if (mayLeave()) openPath("demo:");
         }},
        {tr("File"), tr("Import data…"), "Ctrl+I", tr("Read files with measured data"),
         [this] { importFiles(); }},
        {tr("File"), tr("Save"), "Ctrl+S", tr("Save the project"), [this] { save(); }},
        {tr("File"), tr("Save as…"), "Ctrl+Shift+S", tr("Save under another name"), [this] { saveAs(); }},
        {tr("File"), tr("Export figure…"), "Ctrl+E", tr("Write the figure as PDF, SVG or PNG"),
         [this] { exportFigure(); }},
        {tr("File"), tr("Quit"), "Ctrl+Q", tr("Close Jointer"), [this] { close(); }},
        {tr("Edit"), tr("Undo"), "Ctrl+Z", tr("Take back the last change"), [&s] { s.undo(); }},
        {tr("Edit"), tr("Redo"), "Ctrl+Shift+Z", tr("Do it again"), [&s] { s.redo(); }},
        {tr("Edit"), tr("Paste data"), "Ctrl+V", tr("Import a block from the clipboard"),
         [this] { goTo(Stage::Data), data_->paste(); }},
        {tr("Edit"), tr("Find anything"), "Ctrl+K", tr("Actions, steps, models, datasets by a few letters"),
         [this] { find_->setFocus(), find_->selectAll(); }},
        {tr("Dataset"), tr("Remove dataset"), "", tr("Remove the selected dataset with its fits"),
         [this] { document_.apply(edits::removeDataset(document_.dataset())); }},
        {tr("Figure"), tr("New figure"), "Ctrl+Shift+F", tr("A figure of the selected dataset and its fit"),
         [this] { goTo(Stage::Figure), figure_->addFigure(); }},
        {tr("Figure"), tr("Draw dataset in figure"), "", tr("Add the selected dataset to the figure"),
         [this] { goTo(Stage::Figure), figure_->addMarksOf(document_.dataset()); }},
        {tr("View"), tr("Pointer"), "", tr("Back to the pointer (Esc)"),
         [this] { clean_->chooseTool(Tool::Pointer), analyse_->chooseTool(Tool::Pointer); }},
        {tr("View"), tr("Light or dark"), "Ctrl+Shift+D", tr("Switch between the light and the dark theme"),
         [this] { setDark(!theme().dark); }},
    };
    for (const steps::StepKind& kind : steps::catalogue())
        all.push_back(
            {tr("Step"), text(kind.info.name), "", text(kind.info.purpose),
             [this, key = kind.info.key, name = kind.info.name] {
                 if (!document_.dataset())
                     return document_.say(tr("Import data first: a step works on a dataset."), true);
                 goTo(Stage::Clean);
                 if (document_.apply(edits::addStep(document_.dataset(), key, {}, "Add step: " + name)))
                     document_.openStep(document_.currentDataset()->protocol.back().id);
             }});
    auto fit = [this](const std::string& key) {
        if (!document_.dataset()) return document_.say(tr("Import data first: a fit needs a dataset."), true);
        goTo(Stage::Analyse);
        if (document_.apply(edits::addAnalysis(newFit(document_.dataset(), key))))
            document_.openAnalysis(analysesOf(document_.project(), document_.dataset()).back()->id);
    };
    for (const models::ModelKind& kind : models::catalogue())
        all.push_back({tr("Fit"), text(kind.info.name), "", text(kind.info.purpose),
                       [fit, key = kind.info.key] { fit(key); }});
    all.push_back({tr("Fit"), tr("Your own equation"), "", tr("Plain mathematics; names become parameters"),
                   [fit] { fit("equation"); }});
    for (int i = 0; i < 5; ++i)
        all.push_back({tr("View"), tr(kStageNames[i]), QString("Ctrl+%1").arg(i + 1),
                       tr("Go to %1").arg(tr(kStageNames[i])), [this, i] { goTo(static_cast<Stage>(i)); }});
    const std::pair<const char*, Tool> tools[] = {
        {"Z", Tool::Zoom}, {"S", Tool::Span}, {"E", Tool::Exclude}, {"A", Tool::Anchor}};
    for (const auto& [letter, tool] : tools)
        all.push_back({tr("View"),
                       tool == Tool::Zoom      ? tr("Zoom tool")
                       : tool == Tool::Span    ? tr("Span tool")
                       : tool == Tool::Exclude ? tr("Exclude tool")
                                               : tr("Anchor tool"),
                       letter,
                       {},
                       [this, tool = tool] {
                           if (stages_->currentWidget() == clean_) clean_->chooseTool(tool);
                           if (stages_->currentWidget() == analyse_) analyse_->chooseTool(tool);
                       }});
    all.push_back({tr("Help"), tr("About Jointer"), "", {}, [this] {
                       document_.say(tr(
                           "Jointer 0.1.0, free software under the GNU General Public License 3 or later."));
                   }});
    return all;
}

void Window::buildMenus() {
    std::map<QString, QMenu*> menus;
    for (const char* name : {"File", "Edit", "Dataset", "Step", "Fit", "Figure", "View", "Help"})
        menus[tr(name)] = menuBar()->addMenu(tr(name));
    for (Entry& e : entries()) {
        QAction* action = menus[e.menu]->addAction(e.name);
        action->setToolTip(e.tip);
        action->setStatusTip({});
        if (!e.shortcut.isEmpty()) action->setShortcut(QKeySequence(e.shortcut));
        connect(action, &QAction::triggered, this, e.run);
        if (e.name == tr("Undo")) undo_ = action;
        if (e.name == tr("Redo")) redo_ = action;
        findable_.emplace_back(e.menu + " › " + e.name + (e.shortcut.isEmpty() ? "" : "   " + e.shortcut),
                               e.run);
    }
}

void Window::goTo(Stage stage) {
    stages_->setCurrentIndex(static_cast<int>(stage));
    if (stage == Stage::Clean) clean_->canvas()->setFocus();
    if (stage == Stage::Analyse) analyse_->canvas()->setFocus();
    if (stage == Stage::Figure) figure_->page()->setFocus();
    if (stage == Stage::Data) data_->setFocus();
    if (stage == Stage::Results) results_->setFocus();
    Q_EMIT document_.readout(QString(""), QString(" "));
    refreshHeader();
}

// Each letter group typed must occur, in any order.
void Window::offerFind(const QString& typed) {
    const QStringList words = typed.simplified().toLower().split(' ', Qt::SkipEmptyParts);
    offered_.clear();
    auto all = findable_;
    for (const auto& d : document_.project().datasets)
        all.emplace_back(tr("Dataset › %1").arg(text(d->name)),
                         [this, id = d->id] { document_.selectDataset(id); });
    for (const auto& entry : all) {
        const bool fits =
            std::ranges::all_of(words, [&](const QString& w) { return entry.first.toLower().contains(w); });
        if (fits && !words.isEmpty()) offered_.push_back(entry);
    }
    found_->clear();
    for (const auto& entry : offered_) found_->addItem(entry.first);
    if (offered_.empty()) {
        found_->hide();
        return;
    }
    found_->setCurrentRow(0);
    const QPoint at = find_->mapToGlobal(QPoint(find_->width() - 330, find_->height() + 2));
    found_->setGeometry(at.x(), at.y(), 330, std::min(12, found_->count()) * 24 + 8);
    found_->show();
    found_->raise();
}

void Window::runFound() {
    const int row = found_->currentRow();
    found_->hide();
    find_->clear();
    find_->clearFocus();
    if (row >= 0 && row < static_cast<int>(offered_.size())) {
        const auto run = offered_[static_cast<std::size_t>(row)].second;
        offered_.clear();
        run();
    }
}

bool Window::eventFilter(QObject* watched, QEvent* event) {
    if (watched == find_ && event->type() == QEvent::FocusOut) found_->hide();
    if (watched == find_ && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            found_->setCurrentRow(std::clamp(found_->currentRow() + (key == Qt::Key_Down ? 1 : -1), 0,
                                             std::max(0, found_->count() - 1)));
            return true;
        }
        if (key == Qt::Key_Escape) {
            find_->clear();
            find_->clearFocus();
            found_->hide();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void Window::openPath(const QString& path) {
    if (path == "demo:") {
        document_.session().start(demo::ternSands());
        document_.selectDataset(document_.project().datasets[1].id);
        document_.selectFigure(document_.project().figures[0].id);
        return;
    }
    if (!path.endsWith(".jointer")) {
        goTo(Stage::Data);
        data_->offer({{QFileInfo(path).fileName(), path.toStdString(), {}}});
        return;
    }
    const auto opened = document_.session().open(path.toStdString());
    if (!opened) return document_.say(text(opened.error().sentence()), true);
    for (const Issue& issue : *opened) document_.say(text(issue.text), true);
}

void Window::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void Window::dropEvent(QDropEvent* e) {
    std::vector<Waiting> files;
    for (const QUrl& url : e->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (path.endsWith(".jointer")) {
            if (mayLeave()) openPath(path);
            return;
        }
        if (!path.isEmpty()) files.push_back({QFileInfo(path).fileName(), path.toStdString(), {}});
    }
    e->acceptProposedAction();
    if (files.empty()) return;
    goTo(Stage::Data);
    data_->offer(files);
}

void Window::importFiles() {
    std::vector<Waiting> files;
    for (const QString& path : QFileDialog::getOpenFileNames(
             this, tr("Import data"), {}, tr("Data (*.csv *.txt *.tsv *.dat *.asc *.prn);;All files (*)")))
        files.push_back({QFileInfo(path).fileName(), path.toStdString(), {}});
    if (files.empty()) return;
    goTo(Stage::Data);
    data_->offer(files);
}

void Window::openProject() {
    if (!mayLeave()) return;
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Open project"), {}, tr("Jointer projects (*.jointer)"));
    if (!path.isEmpty()) openPath(path);
}

bool Window::saveTo(const QString& path) {
    const auto done = document_.session().save(path.toStdString());
    document_.say(done ? tr("Saved %1.").arg(QFileInfo(path).fileName()) : text(done.error().sentence()),
                  !done);
    refreshHeader();
    return done.has_value();
}

bool Window::save() {
    return document_.session().path().empty() || document_.session().readOnly()
               ? saveAs()
               : saveTo(text(document_.session().path()));
}

bool Window::saveAs() {
    QString path =
        QFileDialog::getSaveFileName(this, tr("Save project"), text(document_.project().title) + ".jointer",
                                     tr("Jointer projects (*.jointer)"));
    if (path.isEmpty()) return false;
    if (!path.endsWith(".jointer")) path += ".jointer";
    return saveTo(path);
}

// Runs in the background; the readout says what was written.
bool Window::exportTo(const QString& path) {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return document_.say(tr("There is no figure to export yet."), true), false;
    document_.say(tr("Writing %1 …").arg(QFileInfo(path).fileName()));
    auto* thread = QThread::create([this, figure, path, project = document_.project(),
                                    evaluator = document_.session().sharedEvaluator()] {
        paint::QtFigureWriter writer;
        const auto done = jointer::exportFigure(project, *figure, *evaluator, path.toStdString(), writer);
        const QString said = done ? tr("Wrote %1: %2 × %3 mm, %4 kB.")
                                        .arg(path)
                                        .arg(done->widthMm)
                                        .arg(done->heightMm)
                                        .arg(std::max<std::size_t>(1, done->bytes / 1000))
                                  : text(done.error().sentence());
        QMetaObject::invokeMethod(this, [this, said, bad = !done] { document_.say(said, bad); });
    });
    connect(thread, &QThread::finished, thread, &QObject::deleteLater);
    thread->start();
    return true;
}

void Window::exportFigure() {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return document_.say(tr("There is no figure to export yet: make one in Figure."), true);
    const QString path = QFileDialog::getSaveFileName(this, tr("Export figure"), text(figure->name) + ".pdf",
                                                      tr("PDF (*.pdf);;SVG (*.svg);;PNG at 600 dpi (*.png)"));
    if (!path.isEmpty()) exportTo(path);
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
    recovery_ = new QFrame;
    recovery_->setObjectName("recovery");
    auto* row = new QHBoxLayout(recovery_);
    row->setContentsMargins(14, 4, 12, 4);
    auto* words =
        new QLabel(tr("“%1” was open when Jointer last ended unexpectedly, with changes that were not saved.")
                       .arg(text(left.front().title)));
    auto *take = new QPushButton(tr("Recover")), *drop = new QPushButton(tr("Discard"));
    take->setObjectName("primary");
    take->setToolTip(tr("Open its latest state"));
    drop->setToolTip(tr("Delete what was kept of it"));
    row->addWidget(words, 1);
    row->addWidget(drop);
    row->addWidget(take);
    static_cast<QVBoxLayout*>(centralWidget()->layout())->insertWidget(1, recovery_);
    connect(take, &QPushButton::clicked, this, [this, what = left.front()] {
        if (!mayLeave()) return;
        const auto done = document_.session().recover(what);
        document_.say(done ? tr("Recovered “%1”. Save it to keep it.").arg(text(what.title))
                           : text(done.error().text),
                      !done);
        recovery_->deleteLater();
    });
    connect(drop, &QPushButton::clicked, this, [this, what = left.front()] {
        Session::forget(what);
        recovery_->deleteLater();
    });
}

void Window::setDark(bool dark) {
    applyTheme(*qApp, dark);
    refreshHeader();
    Q_EMIT document_.changed();
}

bool Window::isSettled() const {
    switch (static_cast<Stage>(stages_->currentIndex())) {
    case Stage::Data:
        return !data_->import()->hasWaiting() || data_->import()->isCurrent();
    case Stage::Clean:
        return clean_->canvas()->isCurrent() && clean_->protocol()->isCurrent();
    case Stage::Analyse:
        return analyse_->canvas()->isCurrent() && analyse_->protocol()->isCurrent();
    case Stage::Figure:
        return figure_->page()->isCurrent();
    case Stage::Results:
        return results_->isCurrent();
    }
    return true;
}

} // namespace jointer::app
