// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/mapping_view.h"

#include "app/canvas/own_marks.h"
#include "app/forms/settings_form.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "base/unit_text.h"
#include "figure/kinds.h"
#include "session/import.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

constexpr std::size_t kMostShown = 400; // columns with a box of their own

// The first cells of a column, to tell it by.
QString firstCells(const Column& c) {
    QStringList cells;
    for (std::size_t row = 0; row < std::min<std::size_t>(c.cells->size(), 4); ++row)
        cells << text(cellText(c, row));
    return cells.join(",  ") + (c.cells->size() > 4 ? ", …" : "");
}

QTableWidgetItem* cell(const QString& words, bool quiet = false) {
    auto* item = new QTableWidgetItem(words);
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    if (quiet) item->setForeground(theme().muted);
    return item;
}

} // namespace

MappingView::MappingView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), kind_(&evaluate::mappingCatalogue().front()),
      form_(new SettingsForm), kinds_(new QButtonGroup(this)), title_(title({})), purpose_(muted({})),
      facts_(muted({})), problems_(warningLabel()), several_(new QComboBox), severalRow_(new QWidget),
      columns_(new QTableWidget), take_(nullptr), plot_(new PlotCanvas) {
    setFocusPolicy(Qt::StrongFocus);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 8, 14, 12);
    auto* head = new QHBoxLayout;
    head->addWidget(title_);
    head->addStretch(1);
    head->addWidget(button(this, tr("Cancel"), "", tr("Back to the table (Esc)"), [this] { leave(); }));
    take_ = button(this, tr("Make dataset"), "primary", tr("With these columns (Ctrl+Return)"),
                   [this] { take(); });
    take_->setShortcut(QKeySequence("Ctrl+Return"));
    head->addWidget(take_);
    column->addLayout(head);
    auto* kinds = new QHBoxLayout;
    buildKinds(kinds);
    column->addLayout(kinds);
    column->addWidget(purpose_);
    auto* several = new QHBoxLayout(severalRow_);
    several->setContentsMargins(0, 0, 0, 0);
    several->addWidget(muted(tr("Several columns are y:")));
    several_->setObjectName("severalY");
    several_->addItem(tr("as their names say"), "names");
    several_->addItem(tr("replicates of one dataset"), "replicates");
    several_->addItem(tr("a dataset each"), "each");
    several_->setToolTip(tr("Names such as count and count 2 are replicates of one thing"));
    several->addWidget(several_);
    several->addStretch(1);
    column->addWidget(severalRow_);
    connect(several_, &QComboBox::activated, this, [this] { check(); });
    columns_->setObjectName("mappingColumns");
    columns_->setAccessibleName(tr("Columns and what they are"));
    columns_->setColumnCount(3);
    columns_->setHorizontalHeaderLabels({tr("Column"), tr("First cells"), tr("Is")});
    columns_->verticalHeader()->hide();
    columns_->verticalHeader()->setDefaultSectionSize(30);
    columns_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    columns_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    columns_->setSelectionMode(QAbstractItemView::NoSelection);
    columns_->setColumnWidth(0, 190);
    columns_->setColumnWidth(2, 170);
    auto* views = new QHBoxLayout;
    views->addWidget(columns_, 3);
    auto* right = new QVBoxLayout;
    plot_->setMinimumWidth(360);
    right->addWidget(plot_, 4);
    right->addWidget(form_);
    connect(form_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        if (std::holds_alternative<std::monostate>(value))
            settings_.remove(key.toStdString());
        else
            settings_.set(key.toStdString(), value);
        form_->sync(settings_);
        check();
    });
    right->addWidget(caption(tr("Check")));
    facts_->setWordWrap(true);
    facts_->setObjectName("mappingFacts");
    right->addWidget(facts_);
    right->addWidget(problems_);
    right->addStretch(1);
    views->addLayout(right, 2);
    column->addLayout(views, 1);
    connect(&document_, &Document::changed, this, [this] {
        if (!isVisible()) return;
        const Project& p = document_.project(); // an undo may have taken away what is mapped
        if (!p.tables.find(table_) || (changed_ && !p.datasets.find(changed_)))
            leave();
        else
            check();
    });
}

void MappingView::buildKinds(QHBoxLayout* row) {
    for (const evaluate::MappingKind& kind : evaluate::mappingCatalogue()) {
        auto* b = new QPushButton(text(kind.info.name));
        b->setObjectName("tool");
        b->setCheckable(true);
        b->setToolTip(text(kind.info.purpose));
        kinds_->addButton(b);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, [this, key = kind.info.key] {
            chooseKind(key);
            const auto old = document_.project().datasets.find(changed_);
            settings_ = old && old->source.kind == key ? old->source.settings : Settings{};
            if (const auto t = document_.project().tables.find(table_))
                roles_ = evaluate::guessedRoles(*kind_, *t);
            showSettings();
            showColumns();
            check();
        });
    }
    row->addStretch(1);
}

void MappingView::chooseKind(const std::string& key) {
    if (const evaluate::MappingKind* kind = evaluate::mappingCatalogue().find(key)) kind_ = kind;
    purpose_->setText(text(kind_->info.purpose));
    const auto index = evaluate::mappingCatalogue().indexOf(*kind_);
    kinds_->buttons()[static_cast<int>(index)]->setChecked(true);
}

void MappingView::showSettings() {
    form_->setVisible(!kind_->info.settings.empty());
    form_->show(kind_->info, settings_);
}

void MappingView::begin(TableId table, DatasetId dataset) {
    const auto t = document_.project().tables.find(table);
    if (!t) return;
    table_ = table;
    changed_ = dataset;
    const auto d = document_.project().datasets.find(dataset);
    chooseKind(d ? d->source.kind : "columns");
    roles_ = d ? d->source.roles : evaluate::guessedRoles(*kind_, *t);
    settings_ = d ? d->source.settings : Settings{};
    showSettings();
    title_->setText(d ? tr("Columns of %1").arg(text(d->name)) : tr("Dataset from %1").arg(text(t->name)));
    showColumns();
    check();
    setFocus();
}

void MappingView::showColumns() {
    const auto t = document_.project().tables.find(table_);
    if (!t) return;
    columns_->setRowCount(0);
    columns_->setRowCount(static_cast<int>(std::min(t->columns.size(), kMostShown)));
    for (int row = 0; row < columns_->rowCount(); ++row) {
        const Column& c = t->columns[static_cast<std::size_t>(row)];
        columns_->setItem(row, 0, cell(text(c.name) + (c.unit.empty() ? "" : "   " + text(readableUnit(c.unit)))));
        columns_->setItem(row, 1, cell(c.formula.empty() ? firstCells(c) : tr("computed"), true));
        auto* is = new QComboBox;
        is->setObjectName("is:" + text(c.name));
        is->setAccessibleName(tr("What “%1” is").arg(text(c.name)));
        is->addItem(tr("not used"), -1);
        for (std::size_t s = 0; s < kind_->slots.size(); ++s) {
            is->addItem(text(kind_->slots[s].label), static_cast<int>(s));
            is->setItemData(is->count() - 1, text(kind_->slots[s].help), Qt::ToolTipRole);
        }
        const auto bound = std::ranges::find(roles_, c.id, &RoleBinding::column);
        if (bound != roles_.end())
            for (std::size_t s = 0; s < kind_->slots.size(); ++s)
                if (kind_->slots[s].role == bound->role &&
                    kind_->slots[s].of == (bound->role == Role::Component ? bound->of : std::string()))
                    is->setCurrentIndex(static_cast<int>(s) + 1);
        connect(is, &QComboBox::activated, this, [this, row] {
            const auto* box = qobject_cast<QComboBox*>(columns_->cellWidget(row, 2));
            const int slot = box->currentData().toInt();
            // A place for one column is given up by the one that had it.
            if (slot >= 0 && !kind_->slots[static_cast<std::size_t>(slot)].several)
                for (int other = 0; other < columns_->rowCount(); ++other)
                    if (auto* its = qobject_cast<QComboBox*>(columns_->cellWidget(other, 2));
                        other != row && its->currentData().toInt() == slot)
                        its->setCurrentIndex(0);
            rolesChosen();
        });
        columns_->setCellWidget(row, 2, is);
    }
}

void MappingView::rolesChosen() {
    const auto t = document_.project().tables.find(table_);
    if (!t) return;
    roles_.clear();
    for (std::size_t s = 0; s < kind_->slots.size(); ++s)
        for (int row = 0; row < columns_->rowCount(); ++row) {
            const auto* is = qobject_cast<QComboBox*>(columns_->cellWidget(row, 2));
            if (is->currentData().toInt() != static_cast<int>(s)) continue;
            const Column& c = t->columns[static_cast<std::size_t>(row)];
            const evaluate::Slot& slot = kind_->slots[s];
            roles_.push_back({slot.role, c.id, slot.role == Role::Companion ? c.name : slot.of});
        }
    check();
}

Dataset MappingView::dataset() const {
    const Project& p = document_.project();
    const auto t = p.tables.find(table_);
    const auto old = p.datasets.find(changed_);
    Dataset d = old ? *old : datasetFromTable(*t, t->name, p.datasets.size());
    d.source.kind = kind_->info.key;
    d.source.table = table_;
    d.source.roles = roles_;
    d.source.settings = settings_;
    return d;
}

// What is made: for a curve with several y as many datasets as was chosen.
std::vector<Dataset> MappingView::datasets() const {
    const std::string how = several_->currentData().toString().toStdString();
    if (changed_ || kind_->info.key != "columns" || how == "replicates" || severalRow_->isHidden())
        return {dataset()};
    const Project& p = document_.project();
    const auto original = p.tables.find(table_);
    Table t = *original;
    for (Column& c : t.columns) {
        const auto bound = std::ranges::find(roles_, c.id, &RoleBinding::column);
        c.role = bound == roles_.end() ? Role::None : bound->role;
        if (how == "each" && c.role == Role::Y) c.name += " of " + c.id.text(); // no two look like replicates
    }
    auto all = curvesFromTable(t, t.name, p.datasets.size());
    for (Dataset& d : all) {
        const auto y = std::ranges::find(d.source.roles, Role::Y, &RoleBinding::role);
        const Column* c = y == d.source.roles.end() ? nullptr : original->find(y->column);
        if (how == "each" && c && all.size() > 1) d.name = t.name + " · " + c->name;
    }
    return all;
}

// Several y only matter for new curves.
void MappingView::showSeveral() {
    const auto ys = std::ranges::count(roles_, Role::Y, &RoleBinding::role);
    severalRow_->setVisible(!changed_ && kind_->info.key == "columns" && ys > 1);
}

// Facts and problems, and the picture, in the background: formulas may have to be computed.
void MappingView::check() {
    const Project& p = document_.project();
    if (!p.tables.find(table_)) return leave();
    showSeveral();
    Project trial = p;
    auto made = datasets();
    for (Dataset& d : made) {
        if (!changed_) d.id = trial.newId<DatasetId>();
        trial.datasets = trial.datasets.with(d);
    }
    relabel(take_, changed_          ? tr("Take these columns")
                   : made.size() > 1 ? tr("Make %1 datasets").arg(made.size())
                                     : tr("Make dataset"));
    take_->setEnabled(!made.empty());
    job_.request([this, trial, made, evaluator = document_.session().sharedEvaluator(), table = table_,
                  kind = kind_](const Cancellation&) -> std::function<void()> {
        const auto columns = evaluator->table(trial, table).value;
        QStringList facts, problems; // the same of several datasets once
        for (const Dataset& d : made) {
            const auto found = evaluate::checkedSource(*kind, columns, d.source);
            for (const std::string& f : found.value)
                facts << (made.size() > 1 ? tr("%1 each").arg(text(f)) : text(f));
            for (const Issue& i : found.issues) problems << text(i.text);
        }
        facts.removeDuplicates();
        problems.removeDuplicates();
        return [this, facts, problems] {
            facts_->setText(facts.join("\n"));
            say(problems_, problems.join("\n"));
        };
    });
    PlotContent content{.project = trial, .evaluator = document_.session().sharedEvaluator()};
    const bool line = kind_->info.key == "columns";
    if (!made.empty() && !line) // in the background
        content.prepare = [id = made.front().id](PlotContent& c) { takeOwnMarks(c, id); };
    for (const Dataset& d : made) {
        Element mark = figure::newMark(line ? "line" : "points", d.id.text());
        mark.settings.set("colour", Value(shownColour(d.colour)));
        content.marks.push_back(mark);
    }
    content.legend = false;
    content.emptyText = tr("Nothing to draw with these columns.").toStdString();
    plot_->show(std::move(content));
}

void MappingView::take() {
    if (!document_.project().tables.find(table_)) return leave();
    if (roles_.empty()) return document_.say(tr("Choose what the columns are first."), true);
    if (changed_) {
        const bool done = document_.apply(edits::changeDataset(
            changed_, "Choose columns", [source = dataset().source](Dataset& d) { d.source = source; }));
        if (done) leave();
        return;
    }
    std::vector<Edit> all;
    for (Dataset& d : datasets()) all.push_back(edits::addDataset(std::move(d)));
    if (all.empty()) return document_.say(tr("Choose a column as x and one as y first."), true);
    const std::string name =
        all.size() == 1 ? "Make dataset" : "Make " + counted(static_cast<long long>(all.size()), "dataset");
    if (document_.apply(edits::together(name, std::move(all)))) {
        const Project& p = document_.project();
        document_.selectDataset(p.datasets[p.datasets.size() - 1].id);
        leave();
    }
}

void MappingView::leave() {
    Q_EMIT finished();
}

void MappingView::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape)
        leave();
    else
        QWidget::keyPressEvent(e);
}

} // namespace jointer::app
