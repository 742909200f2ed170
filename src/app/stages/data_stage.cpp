// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/data_stage.h"
#include "app/canvas/own_marks.h"

#include "app/models/column_header.h"
#include "app/models/table_model.h"
#include "app/panes/column_pane.h"
#include "app/panes/dataset_pane.h"
#include "app/stages/table_actions.h"
#include "app/stages/table_finder.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "evaluate/mapping.h"
#include "evaluate/sources.h"
#include "figure/kinds.h"
#include "project/table_edits.h"
#include "session/typed_table.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QStackedWidget>
#include <QTableView>
#include <QVBoxLayout>
#include <utility>

namespace jointer::app {

DataStage::DataStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), tableJob_(this), pages_(new QStackedWidget),
      middle_(new QStackedWidget), import_(new ImportView(document)), mapping_(new MappingView(document)),
      grid_(new QTableView), model_(new TableModel(&document, this)), plot_(new PlotCanvas) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(pages_);
    pages_->addWidget(buildTableView());
    pages_->addWidget(import_);
    pages_->addWidget(mapping_);
    auto back = [this] {
        pages_->setCurrentIndex(0);
        setFocus(); // of the stage, not of a field in it
        refresh();
    };
    connect(import_, &ImportView::finished, this, back);
    connect(mapping_, &MappingView::finished, this, back);
    connect(&document_, &Document::changed, this, &DataStage::refresh);
    connect(&document_, &Document::selectionChanged, this, &DataStage::refresh);
    refresh();
}

bool DataStage::isCurrent() const {
    return !tableJob_.isBusy() && column_->isCurrent() && import_->isCurrent() && finder_->isCurrent() &&
           (!mapping_->isVisible() || mapping_->isCurrent()) && (!plot_->isVisible() || plot_->isCurrent());
}

// What stands here before there is any data.
QWidget* DataStage::buildWelcome() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setSpacing(10);
    column->addStretch(2);
    QLabel* words = title(tr("Drop files with measured data here, or paste a block with Ctrl+V"));
    words->setAlignment(Qt::AlignCenter);
    column->addWidget(words);
    QLabel* more = muted(tr("Each file becomes a table, and a dataset where it has x and y."));
    more->setAlignment(Qt::AlignCenter);
    column->addWidget(more);
    auto* row = new QHBoxLayout;
    row->addStretch(1);
    row->addWidget(button(this, tr("Import data…"), "primary", tr("Read files with measured data (Ctrl+I)"),
                          [this] { Q_EMIT importWanted(); }));
    row->addWidget(button(this, tr("Type a table"), "", tr("An empty table with x and y (Ctrl+T)"),
                          [this] { newTable(); }));
    row->addWidget(button(this, tr("Open the demo"), "", tr("Tern Sands: made-up shells and a sensor"),
                          [this] { Q_EMIT demoWanted(); }));
    row->addStretch(1);
    column->addLayout(row);
    column->addStretch(3);
    return page;
}

QWidget* DataStage::buildTableView() {
    auto* page = new QWidget;
    const auto [column, side] = layOutStage(page);
    auto* head = new QHBoxLayout;
    heading_ = title({});
    head->addWidget(heading_);
    head->addStretch(1);
    addColumn_ = button(this, tr("+ Computed column"), "", tr("A column by formula over the others"),
                        [this] { addColumn(); });
    makeDataset_ = button(this, tr("Make dataset…"), "", tr("Choose which column is what"), [this] {
        pages_->setCurrentWidget(mapping_);
        mapping_->begin(document_.table());
    });
    typeColumn_ = button(this, tr("+ Column"), "", tr("An empty column to type in"), [this] { addTyped(); });
    head->addWidget(typeColumn_);
    head->addWidget(addColumn_);
    head->addWidget(makeDataset_);
    column->addLayout(head);
    gridPage_ = buildGrid();
    welcome_ = buildWelcome();
    for (QWidget* w : std::initializer_list<QWidget*>{gridPage_, welcome_, plot_}) middle_->addWidget(w);
    column->addWidget(middle_, 1);
    buildSide(*side);
    connect(grid_->selectionModel(), &QItemSelectionModel::currentColumnChanged, this,
            &DataStage::refreshColumn);
    return page;
}

QWidget* DataStage::buildGrid() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    grid_->setModel(model_);
    grid_->setObjectName("tableGrid");
    grid_->setAccessibleName(tr("Table"));
    auto* header = header_ = new ColumnHeader;
    grid_->setHorizontalHeader(header);
    prepareGrid(grid_);
    header->setSectionsMovable(true);
    header->setDefaultSectionSize(118);
    header->setMinimumSectionSize(40);
    grid_->verticalHeader()->setMinimumWidth(38);
    actions_ = new TableActions(document_, grid_, model_);
    finder_ = new TableFinder(grid_, model_);
    column->addWidget(finder_);
    column->addWidget(grid_, 1);
    connect(header, &ColumnHeader::chipClicked, this, &DataStage::offerRoles);
    connect(header, &QHeaderView::sectionDoubleClicked, this, [this](int section) {
        grid_->setCurrentIndex(model_->index(std::max(0, grid_->currentIndex().row()), section));
        column_->beginName();
    });
    // The model moves its columns itself: the header only says what is wanted.
    connect(header, &QHeaderView::sectionMoved, this, [this, header](int section, int from, int to) {
        const QSignalBlocker quiet(header);
        header->moveSection(to, from);
        const ColumnId id = model_->table().columns[static_cast<std::size_t>(section)].id;
        document_.apply(edits::moveColumn(model_->table().id, id, to - from));
    });
    return page;
}

void DataStage::buildSide(QVBoxLayout& side) {
    auto* inside = new QWidget;
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, 4, 0);
    QScrollArea* scroll = paneScroll(inside, tr("Column and dataset"));
    scroll->setObjectName("plain");
    inside->setObjectName("plain");
    inside->setMinimumWidth(200); // never wider than the pane, whatever the words in it
    side.addWidget(scroll);
    columnCaption_ = caption(tr("Column"));
    column_ = new ColumnPane(document_);
    origin_ = muted({});
    origin_->setWordWrap(true);
    readAgain_ = button(this, tr("Read the file again…"), "link",
                        tr("With other settings, or after the file has grown; shows first what changes"),
                        [this] { readAgain(); });
    dataset_ = new DatasetPane(document_);
    connect(dataset_, &DatasetPane::columnsWanted, this, &DataStage::chooseColumns);
    for (QWidget* w : std::initializer_list<QWidget*>{columnCaption_, column_, origin_, readAgain_, dataset_})
        column->addWidget(w);
    column->addStretch(1);
}

int DataStage::currentColumn() const {
    if (model_->columnCount() == 0) return -1;
    return std::clamp(grid_->currentIndex().column(), 0, model_->columnCount() - 1);
}

// Computed columns are filled in the background; the grid keeps what it shows until they are there.
void DataStage::refresh() {
    tableJob_.request([this, project = document_.project(), evaluator = document_.session().sharedEvaluator(),
                       id = document_.table()](const Cancellation&) -> std::function<void()> {
        auto filled = std::make_shared<Outcome<Table>>(evaluator->table(project, id));
        return [this, filled, id] {
            if (id == document_.table()) show(std::move(*filled));
        };
    });
    dataset_->refresh();
}

void DataStage::show(Outcome<Table> filled) {
    formulaIssues_ = std::move(filled.issues);
    if (!(model_->table() == filled.value)) {
        const QModelIndex before = grid_->currentIndex();
        const int scrolled = grid_->verticalScrollBar()->value();
        auto idsOf = [](const Table& t) {
            std::vector<ColumnId> ids;
            for (const Column& c : t.columns) ids.push_back(c.id);
            return ids;
        };
        const bool others = idsOf(model_->table()) != idsOf(filled.value);
        model_->show(filled.value);
        if (others) fitColumns();
        if (before.isValid())
            grid_->setCurrentIndex(model_->index(std::min(before.row(), model_->rowCount() - 1),
                                                 std::min(before.column(), model_->columnCount() - 1)));
        grid_->verticalScrollBar()->setValue(scrolled);
    }
    selectShown();
    if (!toShow_ && model_->columnCount() > 0 && std::exchange(toBegin_, false)) {
        grid_->setCurrentIndex(model_->index(0, currentColumn()));
        grid_->setFocus();
    }
    const bool there = document_.project().tables.find(document_.table()) != nullptr;
    const auto d = document_.currentDataset();
    const bool made = !there && d && evaluate::sourceCatalogue().find(d->source.kind);
    heading_->setText(there ? text(filled.value.name) : made ? text(d->name) : QString());
    for (QWidget* w : std::initializer_list<QWidget*>{typeColumn_, addColumn_, makeDataset_, columnCaption_, column_})
        w->setVisible(there);
    middle_->setCurrentWidget(there ? gridPage_ : made ? static_cast<QWidget*>(plot_) : welcome_);
    if (made) showMade(*d);
    showOrigin(filled.value);
    refreshColumn();
}

// Columns as wide as their headings and the first cells need.
void DataStage::fitColumns() {
    for (int c = 0; c < std::min(model_->columnCount(), 200); ++c) {
        int width = header_->headingWidth(c);
        for (int row = 0; row < std::min(model_->rowCount(), 40); ++row)
            width = std::max(
                width,
                fontMetrics().horizontalAdvance(model_->index(row, c).data(Qt::DisplayRole).toString()) + 14);
        header_->resizeSection(c, std::clamp(width, 90, 260));
    }
}

// A function or a join has no table: its curve stands in the middle.
void DataStage::showMade(const Dataset& d) {
    PlotContent content{.project = document_.project(), .evaluator = document_.session().sharedEvaluator()};
    Element mark = figure::newMark(d.source.kind == "function" ? "line" : "points", d.id.text());
    mark.settings.set("colour", Value(shownColour(d.colour)));
    content.marks.push_back(mark);
    content.legend = false;
    content.emptyText = tr("Nothing to draw yet.").toStdString();
    content.prepare = [d](PlotContent& c) { // in the background: the inputs may have to be computed
        takeOwnMarks(c, d.id);
        const auto measured = c.evaluator->measured(c.project, d.id);
        if (measured.issues.empty()) return;
        c.emptyText = c.caption = measured.issues[0].text;
    };
    plot_->show(std::move(content));
}

void DataStage::showOrigin(const Table& table) {
    const Origin& o = table.origin;
    const std::size_t rows = table.rowCount();
    const bool read = !o.file.empty() && rows > 0;
    readAgain_->setVisible(read);
    const QString name = text(std::filesystem::path(o.file).filename().string());
    const auto first = read ? table.rows->line(0) : 0, last = read ? table.rows->line(rows - 1) : 0;
    say(origin_, !read        ? QString()
                 : first == 0 ? tr("Read from %1").arg(name)
                              : tr("Read from %1, lines %2–%3").arg(name).arg(first).arg(last));
}

void DataStage::refreshColumn() {
    column_->show(model_->table(), currentColumn(), formulaIssues_);
}

void DataStage::addColumn() {
    if (!document_.table()) return;
    const Table& t = model_->table();
    std::string source = "row";
    for (const Column& c : t.columns)
        if (c.role == Role::Y) source = "'" + c.id.text() + "'";
    if (!document_.apply(
            edits::addComputedColumn(t.id, "computed " + std::to_string(t.columns.size() + 1), source)))
        return;
    editShown_ = true;
    toShow_ = document_.project().tables.find(t.id)->columns.back().id; // once it is filled
}

void DataStage::newTable() {
    if (!document_.apply(newTypedTable(document_.project()))) return;
    const Project& p = document_.project();
    document_.selectTable(p.tables[p.tables.size() - 1].id);
    document_.selectDataset(p.datasets[p.datasets.size() - 1].id);
    pages_->setCurrentIndex(0);
    document_.say(tr("Type, or paste with Ctrl+V. Return goes down, Tab to the right."));
    toBegin_ = true;
}

// An empty column behind the others; the cursor goes into it.
void DataStage::addTyped() {
    const Table& t = model_->table();
    if (!document_.apply(edits::addColumn(t.id, "column " + std::to_string(t.columns.size() + 1)))) return;
    toShow_ = document_.project().tables.find(t.id)->columns.back().id;
    toBegin_ = true;
}

void DataStage::showColumn(ColumnId column) {
    toShow_ = column;
    selectShown();
}

// Selects the column that was asked for, where it is there already.
void DataStage::selectShown() {
    for (int c = 0; toShow_ && c < model_->columnCount(); ++c) {
        if (model_->table().columns[static_cast<std::size_t>(c)].id != toShow_) continue;
        toShow_ = {};
        grid_->setCurrentIndex(model_->index(std::max(0, grid_->currentIndex().row()), c));
        refreshColumn();
        if (std::exchange(editShown_, false)) column_->beginFormula();
    }
}

void DataStage::offerRoles(int section, QPoint below) {
    const Column& c = model_->table().columns[static_cast<std::size_t>(section)];
    QMenu* menu = newMenu(this);
    std::vector<Role> roles = evaluate::offeredRoles();
    roles.insert(roles.begin(), Role::None);
    for (Role role : roles) {
        QAction* action = menu->addAction(role == Role::None ? tr("none") : text(roleLabel(role)));
        action->setCheckable(true);
        action->setChecked(c.role == role);
        connect(action, &QAction::triggered, this, [this, role, table = model_->table().id, id = c.id] {
            document_.apply(edits::changeColumn(table, id, "Change role",
                                                [role](Column& column) { column.role = role; }));
        });
    }
    menu->popup(below);
}

void DataStage::offer(const std::vector<Waiting>& sources) {
    if (sources.empty()) return;
    pages_->setCurrentWidget(import_);
    import_->add(sources);
}

void DataStage::readAgain() {
    const auto table = document_.project().tables.find(document_.table());
    if (!table || table->origin.file.empty())
        return document_.say(tr("This table was not read from a file."), true);
    pages_->setCurrentWidget(import_);
    import_->readAgain(*table);
}

void DataStage::chooseColumns() {
    const auto d = document_.currentDataset();
    if (!d || !document_.project().tables.find(d->source.table))
        return document_.say(tr("Select a dataset that comes from a table first."), true);
    pages_->setCurrentWidget(mapping_);
    mapping_->begin(d->source.table, d->id);
}

void DataStage::findInTable() {
    if (document_.table()) finder_->begin();
}

void DataStage::paste() {
    const QString block = QApplication::clipboard()->text();
    if (block.trimmed().isEmpty()) return document_.say(tr("The clipboard holds no text to paste."), true);
    const bool inTable = grid_->hasFocus() && grid_->currentIndex().isValid() && grid_->isVisible();
    if (inTable) return actions_->paste(block);
    offer({{tr("pasted block"), {}, block.toStdString()}});
}

} // namespace jointer::app
