// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/data_stage.h"

#include "app/models/table_model.h"
#include "app/stages/table_actions.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "figure/kinds.h"
#include "session/import.h"
#include "stats/summary.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollBar>
#include <QStackedWidget>
#include <QTableView>
#include <QVBoxLayout>

namespace jointer::app {

DataStage::DataStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), tableJob_(this), summaryJob_(this), pages_(new QStackedWidget),
      import_(new ImportView(document)), grid_(new QTableView), model_(new TableModel(&document, this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(pages_);
    pages_->addWidget(buildTableView());
    pages_->addWidget(import_);
    connect(import_, &ImportView::finished, this, [this] {
        pages_->setCurrentIndex(0);
        refresh();
    });
    connect(&document_, &Document::changed, this, &DataStage::refresh);
    connect(&document_, &Document::selectionChanged, this, &DataStage::refresh);
    refresh();
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
    makeDataset_ = button(this, tr("Make dataset"), "", tr("A dataset from the roles of the columns"),
                          [this] { makeDataset(); });
    head->addWidget(addColumn_);
    head->addWidget(makeDataset_);
    column->addLayout(head);
    grid_->setModel(model_);
    grid_->setObjectName("tableGrid");
    grid_->setAccessibleName(tr("Table"));
    prepareGrid(grid_);
    actions_ = new TableActions(document_, grid_, model_);
    grid_->verticalHeader()->setMinimumWidth(38);
    grid_->horizontalHeader()->setDefaultSectionSize(118);
    column->addWidget(grid_, 1);
    welcome_ = buildWelcome();
    column->addWidget(welcome_, 1);

    columnCaption_ = caption(tr("Column"));
    side->addWidget(columnCaption_);
    columnForm_ = new QWidget;
    auto* form = new QFormLayout(columnForm_);
    form->setContentsMargins(0, 2, 0, 2);
    form->setVerticalSpacing(7);
    name_ = new QLineEdit;
    unit_ = new QLineEdit;
    formula_ = new QLineEdit;
    role_ = new QComboBox;
    formulaNote_ = muted({});
    formulaNote_->setWordWrap(true);
    name_->setObjectName("columnName");
    role_->setObjectName("columnRole");
    formula_->setObjectName("columnFormula");
    formula_->setPlaceholderText(tr("such as ln(counts)"));
    formula_->setToolTip(tr("Plain mathematics over the names of other columns and row; names with blanks "
                            "stand in 'single quotes'."));
    for (int r = 0; r <= static_cast<int>(Role::Class); ++r)
        role_->addItem(r == 0 ? tr("none") : QString::fromUtf8(roleLabel(static_cast<Role>(r)).data()), r);
    form->addRow(muted(tr("Name")), name_);
    form->addRow(muted(tr("Unit")), unit_);
    form->addRow(muted(tr("Role")), role_);
    form->addRow(muted(tr("Formula")), formula_);
    form->addRow(formulaNote_);
    side->addWidget(columnForm_);
    summary_ = muted({});
    side->addWidget(summary_);
    origin_ = muted({});
    origin_->setWordWrap(true);
    side->addWidget(origin_);
    buildDatasetForm(*side);
    side->addStretch(1);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        changeColumn(tr("Rename column"), [n = name_->text().toStdString()](Column& c) { c.name = n; });
    });
    connect(unit_, &QLineEdit::editingFinished, this, [this] {
        changeColumn(tr("Change unit"), [u = unit_->text().toStdString()](Column& c) { c.unit = u; });
    });
    connect(role_, &QComboBox::activated, this, [this] {
        changeColumn(tr("Change role"),
                     [r = static_cast<Role>(role_->currentData().toInt())](Column& c) { c.role = r; });
    });
    connect(formula_, &QLineEdit::editingFinished, this, [this] {
        const int i = currentColumn();
        if (i < 0) return;
        const Column& c = model_->table().columns[static_cast<std::size_t>(i)];
        const std::string stored = evaluate::formulaStored(formula_->text().toStdString(), model_->table());
        if (stored != c.formula && !(c.formula.empty() && c.cells->size() > 0))
            document_.apply(edits::setFormula(model_->table().id, c.id, stored));
    });
    connect(grid_->selectionModel(), &QItemSelectionModel::currentColumnChanged, this,
            &DataStage::refreshColumn);
    connect(model_, &QAbstractItemModel::modelReset, this, &DataStage::refreshColumn);
    return page;
}

// The selected dataset: its name, and where the uncertainties of its y come from.
void DataStage::buildDatasetForm(QVBoxLayout& side) {
    datasetForm_ = new QWidget;
    auto* form = new QFormLayout(datasetForm_);
    form->setContentsMargins(0, 12, 0, 2);
    form->setVerticalSpacing(7);
    form->addRow(caption(tr("Dataset")));
    datasetName_ = new QLineEdit;
    datasetName_->setObjectName("datasetName");
    uncertainty_ = new QComboBox;
    uncertainty_->setObjectName("uncertainty");
    for (const auto& [label, key] :
         {std::pair(tr("automatic"), ""), std::pair(tr("not known"), "none"),
          std::pair(tr("from its column"), "column"), std::pair(tr("fraction of y"), "fraction"),
          std::pair(tr("square root of counts"), "counting"), std::pair(tr("constant"), "constant"),
          std::pair(tr("SD of replicates"), "sd"), std::pair(tr("SEM of replicates"), "sem")})
        uncertainty_->addItem(label, key);
    uncertainty_->setToolTip(
        tr("Where the standard uncertainties of y come from; automatic takes a column with the role ± y."));
    amount_ = new QLineEdit;
    amount_->setObjectName("amount");
    amount_->setToolTip(tr("The fraction of y (0.05 is 5 %), or the constant in units of y."));
    form->addRow(muted(tr("Name")), datasetName_);
    form->addRow(muted(tr("± of y")), uncertainty_);
    form->addRow(muted(tr("Amount")), amount_);
    side.addWidget(datasetForm_);
    connect(datasetName_, &QLineEdit::editingFinished, this, [this] {
        const std::string name = datasetName_->text().trimmed().toStdString();
        if (!name.empty())
            document_.apply(edits::changeDataset(document_.dataset(), "Rename dataset",
                                                 [name](Dataset& d) { d.name = name; }));
    });
    connect(uncertainty_, &QComboBox::activated, this, [this] {
        document_.apply(
            edits::changeDataset(document_.dataset(), "Choose uncertainty",
                                 [key = uncertainty_->currentData().toString().toStdString()](Dataset& d) {
                                     if (key.empty())
                                         d.source.settings.remove("uncertainty");
                                     else
                                         d.source.settings.set("uncertainty", Value(key));
                                 }));
    });
    connect(amount_, &QLineEdit::editingFinished, this, [this] {
        const auto amount = parseNumber(amount_->text().toStdString());
        if (!amount || *amount <= 0) return refreshDataset();
        document_.apply(
            edits::changeDataset(document_.dataset(), "Change uncertainty",
                                 [v = *amount](Dataset& d) { d.source.settings.set("amount", Value(v)); }));
    });
}

void DataStage::refreshDataset() {
    const auto d = document_.currentDataset();
    datasetForm_->setVisible(d && d->source.table == document_.table());
    if (!d) return;
    const std::string rule = d->source.settings.text("uncertainty");
    if (!datasetName_->hasFocus()) datasetName_->setText(text(d->name));
    uncertainty_->setCurrentIndex(std::max(0, uncertainty_->findData(text(rule))));
    amount_->setEnabled(rule == "fraction" || rule == "constant");
    amount_->setText(amount_->isEnabled() ? text(shortestNumber(d->source.settings.number("amount", 0.05)))
                                          : QString());
}

int DataStage::currentColumn() const {
    if (model_->columnCount() == 0) return -1;
    return std::clamp(grid_->currentIndex().column(), 0, model_->columnCount() - 1);
}

void DataStage::changeColumn(const QString& name, const std::function<void(Column&)>& how) {
    const int i = currentColumn();
    if (i < 0) return;
    document_.apply(
        edits::changeTable(model_->table().id, name.toStdString(),
                           [id = model_->table().columns[static_cast<std::size_t>(i)].id, how](Table& t) {
                               for (Column& c : t.columns)
                                   if (c.id == id) how(c);
                           }));
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
    refreshDataset();
}

void DataStage::show(Outcome<Table> filled) {
    formulaIssues_ = std::move(filled.issues);
    if (!(model_->table() == filled.value)) {
        const QModelIndex before = grid_->currentIndex();
        const int scrolled = grid_->verticalScrollBar()->value();
        model_->show(filled.value);
        if (before.isValid())
            grid_->setCurrentIndex(model_->index(std::min(before.row(), model_->rowCount() - 1),
                                                 std::min(before.column(), model_->columnCount() - 1)));
        grid_->verticalScrollBar()->setValue(scrolled);
        if (toEdit_) {
            for (int c = 0; c < model_->columnCount(); ++c)
                if (model_->table().columns[static_cast<std::size_t>(c)].id == toEdit_)
                    grid_->setCurrentIndex(model_->index(0, c));
            toEdit_ = {};
            formula_->setFocus();
            formula_->selectAll();
        }
    }
    const bool there = document_.project().tables.find(document_.table()) != nullptr;
    heading_->setText(there ? text(filled.value.name) : QString());
    for (QWidget* w : std::initializer_list<QWidget*>{grid_, addColumn_, makeDataset_}) w->setVisible(there);
    welcome_->setVisible(!there);
    const Origin& o = filled.value.origin;
    const std::size_t rows = filled.value.rowCount();
    origin_->setText(!there || o.file.empty() || rows == 0
                         ? QString()
                         : tr("Read from %1, lines %2–%3")
                               .arg(text(std::filesystem::path(o.file).filename().string()))
                               .arg(filled.value.rows->line(0))
                               .arg(filled.value.rows->line(rows - 1)));
    columnForm_->setVisible(there);
    columnCaption_->setVisible(there);
    refreshColumn();
}

void DataStage::refreshColumn() {
    const int i = currentColumn();
    summary_->setVisible(i >= 0);
    if (i < 0) return;
    const Column& c = model_->table().columns[static_cast<std::size_t>(i)];
    if (!name_->hasFocus()) name_->setText(text(c.name));
    if (!unit_->hasFocus()) unit_->setText(text(c.unit));
    role_->setCurrentIndex(static_cast<int>(c.role));
    const bool computed = !c.formula.empty() || c.cells->size() == 0;
    formula_->setEnabled(computed);
    if (!formula_->hasFocus()) formula_->setText(text(evaluate::formulaShown(c.formula, model_->table())));
    const auto issue =
        std::ranges::find_if(formulaIssues_, [&](const Issue& f) { return f.place.column == c.name; });
    const bool bad = issue != formulaIssues_.end();
    formulaNote_->setObjectName(bad ? "bad" : "muted");
    refreshLook(formulaNote_);
    say(formulaNote_, bad                               ? text(issue->text)
                      : computed && c.cells->size() > 0 ? tr("first value: %1").arg(text(cellText(c, 0)))
                                                        : QString());
    if (!c.isNumeric()) return summary_->setText(tr("%1 cells of text").arg(c.cells->size()));
    summaryJob_.request([this, cells = c.cells](const Cancellation&) -> std::function<void()> {
        return [this, cells, s = stats::summarise(cells->numbers)] {
            const int now = currentColumn();
            if (now < 0 || model_->table().columns[static_cast<std::size_t>(now)].cells != cells) return;
            auto n = [](double v) { return text(readableNumber(v, 6)); };
            summary_->setText(tr("n %1, missing %2\nmean %3, SD %4\nmedian %5\nfrom %6 to %7")
                                  .arg(s.n)
                                  .arg(s.missing)
                                  .arg(n(s.mean), n(s.sd), n(s.median), n(s.min), n(s.max)));
        };
    });
}

void DataStage::makeDataset() {
    const Table& t = model_->table();
    std::vector<Edit> all;
    for (Dataset& d : datasetsFromTable(t, t.name, document_.project().datasets.size()))
        all.push_back(edits::addDataset(std::move(d)));
    if (all.empty())
        return document_.say(tr("Give one column the role x and another the role y first."), true);
    const std::string name =
        all.size() == 1 ? "Make dataset" : "Make " + counted(static_cast<long long>(all.size()), "dataset");
    if (document_.apply(edits::together(name, std::move(all))))
        document_.selectDataset(document_.project().datasets[document_.project().datasets.size() - 1].id);
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
    toEdit_ = document_.project().tables.find(t.id)->columns.back().id; // once it is filled
}

void DataStage::offer(const std::vector<Waiting>& sources) {
    if (sources.empty()) return;
    pages_->setCurrentWidget(import_);
    import_->add(sources);
}

void DataStage::paste() {
    const QString block = QApplication::clipboard()->text();
    if (block.trimmed().isEmpty()) return document_.say(tr("The clipboard holds no text to paste."), true);
    const bool inTable = grid_->hasFocus() && grid_->currentIndex().isValid() && grid_->isVisible();
    if (inTable) return actions_->paste(block);
    offer({{tr("pasted block"), {}, block.toStdString()}});
}

} // namespace jointer::app
