// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/results_stage.h"

#include "app/file_dialogs.h"
#include "app/models/results_model.h"
#include "app/panes/source_pane.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"
#include "figure/actions.h"
#include "figure/kinds.h"
#include "io/writer.h"
#include "session/export.h"
#include "session/result_filter.h"
#include "session/result_grid.h"
#include "session/trend.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QTableView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <set>

namespace jointer::app {

ResultsStage::ResultsStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), methodsJob_(this), model_(new ResultsModel(this)),
      grid_(new QTableView), filter_(new QLineEdit), source_(new SourcePane(document)), empty_(new QLabel),
      statistics_(muted({})), fault_(errorLabel()) {
    const auto [column, side] = layOutStage(this);
    column->addLayout(buildHead());
    column->addWidget(fault_);
    empty_->setObjectName("muted");
    empty_->setAlignment(Qt::AlignTop);
    empty_->setMargin(8);
    column->addWidget(empty_);
    prepareResults();
    column->addWidget(grid_, 1);
    statistics_->setObjectName("muted");
    statistics_->setToolTip(tr("Of the shown numbers of the same quantity as the selected one"));
    column->addWidget(statistics_);
    buildSide(*side);
    connect(&document_, &Document::changed, this, &ResultsStage::refresh);
    refresh();
}

QLayout* ResultsStage::buildHead() {
    auto* head = new QHBoxLayout;
    filter_->setObjectName("resultsFilter");
    filter_->setAccessibleName(tr("Filter of the rows"));
    filter_->setPlaceholderText(tr("Filter: doubtful, site = north"));
    filter_->setToolTip(
        tr("Conditions with commas between them: an attribute or a quantity, a sign and a value; "
           "doubtful; or a word"));
    filter_->setClearButtonEnabled(true);
    connect(filter_, &QLineEdit::textChanged, this, &ResultsStage::refresh);
    head->addWidget(filter_, 1);
    form_ = new QComboBox;
    form_->setObjectName("resultsForm");
    form_->setAccessibleName(tr("Form of the grid"));
    form_->addItem(tr("long"));
    form_->addItem(tr("wide"));
    form_->setToolTip(
        tr("Long: a row for each number. Wide: a row for each dataset, a column for each quantity"));
    connect(form_, &QComboBox::activated, this, &ResultsStage::refresh);
    head->addWidget(form_);
    order_ = new QComboBox;
    order_->setObjectName("resultsOrder");
    order_->setAccessibleName(tr("Order of the rows"));
    order_->addItem(tr("by dataset"));
    order_->addItem(tr("by peak and quantity"));
    order_->setToolTip(tr("One peak over all datasets together, by its name"));
    connect(order_, &QComboBox::activated, this, &ResultsStage::refresh);
    head->addWidget(order_);
    head->addWidget(button(this, tr("Copy"), "", tr("Copy what is shown, for spreadsheets"),
                           [this] { copy(As::Cells); }));
    auto* more = button(this, tr("Copy as…"), "", tr("With ± for texts, or as LaTeX"), [] {});
    auto* forms = new QMenu(more);
    forms->addAction(tr("Text with ±"), this, [this] { copy(As::Text); });
    forms->addAction(tr("LaTeX"), this, [this] { copy(As::Latex); });
    more->setMenu(forms);
    head->addWidget(more);
    head->addWidget(
        button(this, tr("Save as…"), "", tr("Save what is shown as CSV, XLSX or JSON"), [this] { save(); }));
    return head;
}

void ResultsStage::prepareResults() {
    grid_->setModel(model_);
    grid_->setObjectName("results");
    grid_->setAccessibleName(tr("Results"));
    prepareGrid(grid_);
    grid_->verticalHeader()->hide();
    grid_->verticalHeader()->setMaximumWidth(200);
    grid_->verticalHeader()->setTextElideMode(Qt::ElideMiddle);
    grid_->setShowGrid(false);
    grid_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    grid_->setSelectionBehavior(QAbstractItemView::SelectRows);
    grid_->horizontalHeader()->setSortIndicatorShown(true);
    grid_->horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder);
    grid_->horizontalHeader()->setResizeContentsPrecision(100); // rows that are looked at
    grid_->setSortingEnabled(true);
    grid_->horizontalHeader()->setToolTip(tr("Click to sort, right-click to choose columns"));
    if (auto* corner = grid_->findChild<QAbstractButton*>()) { // above the names of the wide form
        corner->setToolTip(tr("In the order of the datasets"));
        connect(corner, &QAbstractButton::clicked, this,
                [this] { grid_->sortByColumn(-1, Qt::AscendingOrder); });
    }
    grid_->horizontalHeader()->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(grid_->horizontalHeader(), &QWidget::customContextMenuRequested, this,
            &ResultsStage::offerColumns);
    connect(grid_->selectionModel(), &QItemSelectionModel::currentChanged, this, &ResultsStage::showSource);
}

void ResultsStage::buildSide(QVBoxLayout& side) {
    side.addWidget(source_);
    connect(source_, &SourcePane::fitWanted, this, &ResultsStage::fitWanted);
    connect(source_, &SourcePane::stepWanted, this, &ResultsStage::stepWanted);
    connect(source_, &SourcePane::tableWanted, this, &ResultsStage::tableWanted);
    auto* buttons = new QHBoxLayout;
    open_ = button(this, tr("Open the fit"), "", tr("Show this fit in Analyse"), [this] {
        if (const evaluate::ResultRow* row = currentRow()) Q_EMIT fitWanted(row->analysis);
    });
    methods_ = button(this, tr("Copy methods text"), "", tr("Copy how all shown numbers came about, as text"),
                      [this] { copyMethods(); });
    over_ = button(this, tr("Plot over…"), "",
                   tr("This quantity of all shown datasets over an attribute, as a dataset of its own"),
                   [this] { offerTrends(); });
    figure_ = button(this, tr("On a figure"), "",
                     tr("A table of the shown numbers on the figure, which follows them"),
                     [this] { putOnFigure(); });
    buttons->addWidget(open_);
    buttons->addWidget(over_);
    buttons->addStretch(1);
    side.addLayout(buttons);
    auto* below = new QHBoxLayout;
    below->addWidget(methods_);
    below->addWidget(figure_);
    below->addStretch(1);
    side.addLayout(below);
    side.addStretch(1);
}

bool ResultsStage::isCurrent() const {
    return !job_.isBusy() && source_->isCurrent();
}

void ResultsStage::showAs(Form form) {
    form_->setCurrentIndex(static_cast<int>(form));
    refresh();
}

const evaluate::ResultRow* ResultsStage::currentRow() const {
    return model_->rowAt(grid_->currentIndex());
}

// Of all that is shown.
void ResultsStage::copyMethods() {
    methodsJob_.request([this, project = document_.project(), rows = model_->shownRows(),
                         evaluator = document_.session().sharedEvaluator()](
                            const Cancellation& stop) -> std::function<void()> {
        const std::string words = methodsText(project, *evaluator, rows, stop);
        return [this, words] {
            QApplication::clipboard()->setText(text(words));
            document_.say(tr("The methods text is on the clipboard."));
        };
    });
}

void ResultsStage::refresh() {
    if (!isVisible() || document_.isDragging()) return;
    const auto filter = ResultFilter::parse(filter_->text().toStdString());
    fault_->setVisible(!filter);
    if (!filter) return fault_->setText(text(filter.error().text));
    const bool wide = form_->currentIndex() == static_cast<int>(Form::Wide);
    order_->setVisible(!wide);
    job_.request([this, project = document_.project(), evaluator = document_.session().sharedEvaluator(),
                  grouped = order_->currentIndex() == 1, wide,
                  filter = *filter](const Cancellation& stop) -> std::function<void()> {
        auto c = std::make_shared<ResultsContent>();
        c->rows = evaluate::resultRows(project, *evaluator, stop);
        if (grouped && !wide) evaluate::groupBySubject(c->rows, project);
        c->project = project;
        c->wide = wide;
        c->shown = filter.rows(project, c->rows);
        if (wide) {
            c->datasets = filter.datasets(project, c->rows);
            c->grid = wideGrid(project, c->rows, c->datasets);
            c->quiet = attributesAlike(c->grid);
        }
        return [this, c] {
            const int before = std::max(0, grid_->currentIndex().row());
            model_->show(c);
            grid_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
            grid_->horizontalHeader()->setStretchLastSection(!c->wide);
            grid_->verticalHeader()->setVisible(c->wide);
            hideColumns();
            const int rows = model_->rowCount();
            empty_->setText(c->rows.empty()
                                ? tr("No results yet. Add a fit in Analyse: its numbers appear here, "
                                     "with where they come from.")
                                : tr("No number fits the filter."));
            empty_->setVisible(rows == 0);
            grid_->setVisible(rows > 0);
            const int first = c->wide ? static_cast<int>(c->grid.attributes.columns.size()) : 0;
            if (rows > 0)
                grid_->setCurrentIndex(
                    model_->index(std::min(before, rows - 1), std::min(first, model_->columnCount() - 1)));
            showSource();
        };
    });
}

void ResultsStage::showSource() {
    const evaluate::ResultRow* row = currentRow();
    open_->setEnabled(row);
    over_->setEnabled(row);
    for (QPushButton* ofAll : {methods_, figure_}) ofAll->setEnabled(model_->rowCount() > 0);
    source_->show(row);
    const std::string numbers = row ? statisticsText(model_->shownRows(), *row) : std::string();
    say(statistics_, numbers.empty() ? QString() : text(row->quantity + ": " + numbers));
}

// A tick for each column; what is hidden is not copied either.
void ResultsStage::offerColumns(QPoint at) {
    QMenu* menu = newStayingMenu(this);
    for (int k = 0; k < model_->columnCount(); ++k) {
        const QString name = model_->headerData(k, Qt::Horizontal, Qt::DisplayRole).toString();
        QAction* action = menu->addAction(name);
        action->setCheckable(true);
        action->setChecked(!grid_->isColumnHidden(k));
        connect(action, &QAction::toggled, this, [this, name](bool on) {
            (on ? hidden_ : wanted_).remove(name);
            (on ? wanted_ : hidden_).insert(name);
            hideColumns();
        });
    }
    menu->popup(grid_->horizontalHeader()->mapToGlobal(at));
}

// Of the wide form attributes that tell nothing are hidden too, and the name, which heads the rows, until
// they are asked for.
void ResultsStage::hideColumns() {
    const ResultsContent* c = model_->content();
    for (int k = 0; k < model_->columnCount(); ++k) {
        const QString name = model_->headerData(k, Qt::Horizontal, Qt::DisplayRole).toString();
        const bool isQuiet =
            c && c->wide &&
            (k == 0 || std::ranges::find(c->quiet, static_cast<std::size_t>(k)) != c->quiet.end());
        grid_->setColumnHidden(k, hidden_.contains(name) || (isQuiet && !wanted_.contains(name)));
    }
}

Table ResultsStage::table() const {
    const ResultsContent* c = model_->content();
    if (!c) return {};
    Table all = c->wide ? wideResults(c->project, c->rows, model_->shownDatasets())
                        : evaluate::resultsTable(c->project, model_->shownRows());
    std::erase_if(all.columns, [&](const Column& column) { return isHidden(column); });
    return all;
}

// A column of a file belongs to the one of the grid that begins with its name: "slope (Line) ±" to "slope
// (Line) (mg/L)".
bool ResultsStage::isHidden(const Column& column) const {
    const auto heading = [](QString name, const std::string& unit) {
        if (name.endsWith(" ±")) name.chop(2);
        return unit.empty() ? name : name + " (" + text(draw::unitPlain(unit)) + ")";
    };
    const QString name = heading(text(column.name), column.unit);
    return std::ranges::any_of(hidden_, [&](const QString& h) {
        return name.compare(h, Qt::CaseInsensitive) == 0 || (column.name == "error" && h == "±");
    });
}

void ResultsStage::copy(As what) {
    const ResultsContent* c = model_->content();
    if (!c) return;
    const std::string words = what == As::Cells  ? io::toTabs(table())
                              : what == As::Text ? resultsText(c->project, model_->shownRows())
                                                 : resultsLatex(c->project, model_->shownRows());
    QApplication::clipboard()->setText(text(words));
    document_.say(tr("Copied %1.").arg(text(counted(model_->rowCount(), "row"))));
}

void ResultsStage::save() {
    const QString path = ask::newFile(this, document_, tr("Save results"), "results.csv", tableFilter());
    if (path.isEmpty()) return;
    const auto done = exportResults(table(), path.toStdString());
    document_.say(done ? tr("Wrote %1.").arg(path) : text(done.error().sentence()), !done);
}

// The attributes that the quantity can be plotted over.
void ResultsStage::offerTrends() {
    const ResultsContent* c = model_->content();
    if (!c) return;
    const auto curves = curvesOf(c->project, model_->shownRows());
    std::vector<const RunCurve*> each;
    for (const RunCurve& curve : curves) each.push_back(&curve);
    QMenu menu(this);
    for (const std::string& attribute : trendAttributes(each))
        menu.addAction(attribute.empty() ? tr("the order of the datasets") : text(attribute), this,
                       [this, attribute] { keepTrendOver(attribute); });
    menu.exec(over_->mapToGlobal(over_->rect().bottomLeft()));
}

void ResultsStage::keepTrendOver(const std::string& attribute) {
    const ResultsContent* c = model_->content();
    const evaluate::ResultRow* row = currentRow();
    const auto a = row ? c->project.analyses.find(row->analysis) : nullptr;
    if (!a) return;
    const auto curves = curvesOf(c->project, model_->shownRows());
    std::vector<const RunCurve*> each;
    for (const RunCurve& curve : curves) each.push_back(&curve);
    const Table trend =
        trendTable(each, {analyses::nameOf(*a), row->quantity, row->subject, row->unit}, attribute);
    if (trend.rowCount() < 2) return document_.say(tr("Fewer than two datasets have both."), true);
    if (!document_.apply(keepTrend(trend))) return;
    const auto& datasets = document_.project().datasets;
    document_.selectDataset(datasets[datasets.size() - 1].id);
    document_.say(tr("Made the dataset “%1”: fit and draw it as any other.").arg(text(trend.name)));
}

// On the figure that is open; without one on a new one.
void ResultsStage::putOnFigure() {
    constexpr std::size_t kMostQuantities = 6;
    figure::TableWish wish;
    std::set<AnalysisId> analyses;
    std::set<std::string> named; // samples, groups
    bool subjects = true;
    for (const evaluate::ResultRow& row : model_->shownRows()) {
        analyses.insert(row.analysis);
        named.insert(row.subject);
        subjects &= !row.subject.empty();
        if (std::ranges::find(wish.datasets, row.dataset) == wish.datasets.end())
            wish.datasets.push_back(row.dataset);
        if (std::ranges::find(wish.quantities, row.quantity) == wish.quantities.end() &&
            wish.quantities.size() < kMostQuantities)
            wish.quantities.push_back(row.quantity);
    }
    if (analyses.size() == 1) wish.analysis = *analyses.begin();
    wish.bySubject = subjects && wish.analysis;
    wish.alone = !document_.figure();
    if (wish.alone) {
        const std::size_t rows = wish.bySubject ? named.size() : wish.datasets.size();
        const Figure made = figure::newTableFigure("Results", rows);
        if (!document_.apply(edits::addFigure(made))) return;
    }
    const auto& figures = document_.project().figures;
    const FigureId on = document_.figure() ? document_.figure() : figures[figures.size() - 1].id;
    if (!document_.apply(figure::addTableOf(on, {}, wish))) return;
    document_.selectFigure(on);
    Q_EMIT figureWanted();
}

} // namespace jointer::app
