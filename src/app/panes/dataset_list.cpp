// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/dataset_list.h"

#include "app/panes/dataset_rows.h"
#include "app/panes/following.h"
#include "app/panes/sentence_row.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QDropEvent>
#include <QHBoxLayout>
#include <QItemSelectionModel>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QMimeData>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <set>

namespace jointer::app {

namespace {

constexpr Qt::ItemFlags kRowFlags =
    Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable | Qt::ItemIsDragEnabled;

QLabel* listCaption(const QString& words) {
    QLabel* made = caption(words);
    made->setContentsMargins(14, 12, 10, 4);
    return made;
}

std::string attributeOf(const Dataset& d, const std::string& name) {
    const auto at = std::ranges::find(d.attributes, name, &Attribute::name);
    return at == d.attributes.end() ? std::string{} : at->value;
}

// Numbers by their size, before words; what is not given comes last.
bool comesBefore(const std::string& a, const std::string& b) {
    if (a.empty() || b.empty()) return !a.empty();
    const auto x = parseNumber(a), y = parseNumber(b);
    if (x && y) return *x < *y;
    return x.has_value() != y.has_value() ? x.has_value() : a < b;
}

// The datasets in the chosen order, with a heading before each group that several share; none where each
// dataset is a group of its own.
struct ListRow {
    std::string heading;    // where it is one
    const Dataset* dataset; // else
};
std::vector<ListRow> listRows(const Project& p, const std::string& order) {
    std::vector<const Dataset*> sorted;
    for (const auto& d : p.datasets) sorted.push_back(d.get());
    std::vector<ListRow> rows;
    std::set<std::string> values;
    if (!order.empty()) {
        std::ranges::stable_sort(sorted, [&](const Dataset* a, const Dataset* b) {
            return comesBefore(attributeOf(*a, order), attributeOf(*b, order));
        });
        for (const Dataset* d : sorted) values.insert(attributeOf(*d, order));
    }
    const bool grouped = !order.empty() && values.size() < sorted.size();
    for (std::size_t i = 0; i < sorted.size(); ++i) {
        const std::string value = attributeOf(*sorted[i], order);
        if (grouped && (i == 0 || value != attributeOf(*sorted[i - 1], order)))
            rows.push_back({order + " " + (value.empty() ? "not given" : value), nullptr});
        rows.push_back({{}, sorted[i]});
    }
    return rows;
}

} // namespace

DatasetList::DatasetList(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), datasets_(new DraggedDatasets),
      tables_(new TableList) {
    setObjectName("left");
    setAttribute(Qt::WA_StyledBackground);
    setFixedWidth(212);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(buildHead());
    layout->addWidget(datasets_, 3);
    auto* below = new QHBoxLayout;
    below->setContentsMargins(0, 0, 10, 0);
    below->addWidget(listCaption(tr("Tables")), 1);
    auto* type =
        button(this, "+", "link", tr("An empty table to type in (Ctrl+T)"), [this] { Q_EMIT tableWanted(); });
    type->setAccessibleName(tr("New table"));
    below->addWidget(type, 0, Qt::AlignBottom);
    layout->addLayout(below);
    layout->addWidget(tables_, 2);
    auto* hint = new QLabel(tr("Drop files anywhere, or paste a block with Ctrl+V"));
    hint->setObjectName("muted");
    hint->setWordWrap(true);
    hint->setContentsMargins(14, 8, 10, 10);
    layout->addStretch(0); // only what the lists leave
    layout->addWidget(hint);
    prepareLists();
    connect(&document_, &Document::changed, this, &DatasetList::refresh);
    connect(&document_, &Document::selectionChanged, this, &DatasetList::syncSelection);
    refresh();
}

QLayout* DatasetList::buildHead() {
    auto* head = new QHBoxLayout;
    head->setContentsMargins(0, 0, 10, 0);
    head->addWidget(listCaption(tr("Datasets")), 1);
    order_ = button(this, {}, "link", tr("Order and group the datasets by an attribute"),
                    [this] { offerOrders(); });
    head->addWidget(order_, 0, Qt::AlignBottom);
    head->addSpacing(8);
    add_ = button(this, "+", "link", tr("Add a function, or a join of two datasets"), [this] { offerNew(); });
    add_->setAccessibleName(tr("Add dataset"));
    head->addWidget(add_, 0, Qt::AlignBottom);
    return head;
}

void DatasetList::prepareLists() {
    datasets_->setItemDelegate(newDatasetRows(datasets_));
    datasets_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    datasets_->setAccessibleName(tr("Datasets"));
    tables_->setAccessibleName(tr("Tables"));
    tables_->setItemDelegate(newTableRows(tables_));
    tables_->setMouseTracking(true);
    datasets_->viewport()->setAcceptDrops(true);
    datasets_->viewport()->installEventFilter(this);
    for (QListWidget* list : {static_cast<QListWidget*>(datasets_), static_cast<QListWidget*>(tables_)}) {
        list->installEventFilter(this);
        list->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
        list->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(list, &QListWidget::itemChanged, this, &DatasetList::takeName);
        connect(list, &QWidget::customContextMenuRequested, this, [this, list](QPoint at) {
            openMenu(list, list == datasets_ ? datasetMenu_ : tableMenu_, at);
        });
    }
    datasets_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    connect(datasets_, &QListWidget::itemSelectionChanged, this, &DatasetList::takeSelection);
    connect(tables_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        document_.selectTable(TableId{item->data(IdRole).toULongLong()});
        Q_EMIT tableChosen();
    });
}

bool DatasetList::eventFilter(QObject* watched, QEvent* event) {
    const QEvent::Type type = event->type();
    if (watched == datasets_->viewport() &&
        (type == QEvent::DragEnter || type == QEvent::DragMove || type == QEvent::Drop))
        return takeDrop(static_cast<QDropEvent*>(event), type == QEvent::Drop);
    if (type != QEvent::KeyPress || static_cast<QKeyEvent*>(event)->key() != Qt::Key_Delete)
        return QWidget::eventFilter(watched, event);
    if (watched == datasets_)
        removeSelected();
    else if (watched == tables_)
        removeTable(document_.table());
    return true;
}

bool DatasetList::takeDrop(QDropEvent* drop, bool dropped) {
    if (!drop->mimeData()->hasFormat(kStepsMime)) return false;
    const QListWidgetItem* item = datasets_->itemAt(drop->position().toPoint());
    const DatasetId id{item ? item->data(IdRole).toULongLong() : 0};
    drop->setAccepted(static_cast<bool>(id));
    if (dropped && id && document_.pasteSteps(drop->mimeData()->data(kStepsMime).toStdString(), {id}, false))
        document_.say(tr("Copied to %1.").arg(item->text()));
    return true;
}

void DatasetList::refresh() {
    const Project& p = document_.project();
    const QSignalBlocker quiet(datasets_);
    const auto rows = listRows(p, document_.order());
    orderShown_ = document_.order();
    order_->setText((orderShown_.empty() ? tr("as imported") : tr("by %1").arg(text(orderShown_))) + " ▾");
    order_->setVisible(std::ranges::any_of(p.datasets, [](const auto& d) { return !d->attributes.empty(); }));
    const int count = static_cast<int>(rows.size());
    while (datasets_->count() > count) delete datasets_->takeItem(datasets_->count() - 1);
    while (datasets_->count() < count) datasets_->addItem(new QListWidgetItem);
    std::vector<QString> names;
    for (const ListRow& row : rows) names.push_back(row.dataset ? text(row.dataset->name) : QString());
    const std::vector<NameParts> parts = partsOfNames(names);
    for (int i = 0; i < count; ++i) {
        const Dataset* d = rows[static_cast<std::size_t>(i)].dataset;
        QListWidgetItem* item = datasets_->item(i);
        const QString name = text(d ? d->name : rows[static_cast<std::size_t>(i)].heading);
        item->setText(name);
        item->setToolTip(name);
        item->setData(OwnRole, parts[static_cast<std::size_t>(i)].own);
        item->setData(SharedRole, parts[static_cast<std::size_t>(i)].shared);
        const qulonglong id = d ? d->id.value : 0;
        if (item->data(IdRole).toULongLong() != id)
            item->setData(CurveRole, {}), item->setData(StateRole, {});
        item->setData(IdRole, QVariant::fromValue<qulonglong>(id));
        item->setData(ColourRole, d ? text(d->colour) : QString());
        item->setFlags(d ? kRowFlags : Qt::NoItemFlags);
    }
    // The tables follow right below the datasets; only long lists scroll.
    int height = 4;
    for (const ListRow& row : rows) height += row.dataset ? 46 : 24;
    datasets_->setMaximumHeight(std::max(height, 60));
    refreshTables();
    syncSelection();
    refreshPictures();
}

void DatasetList::refreshTables() {
    const QSignalBlocker quiet(tables_);
    tables_->clear();
    for (const auto& t : document_.project().tables) {
        auto* item = new QListWidgetItem(text(t->name));
        item->setData(IdRole, QVariant::fromValue<qulonglong>(t->id.value));
        item->setData(StateRole, text(counted(static_cast<long long>(t->columns.size()), "column") + " · " +
                                      counted(static_cast<long long>(t->rowCount()), "row")));
        item->setToolTip(text(t->name));
        item->setFlags(kRowFlags);
        tables_->addItem(item);
    }
    const int rowHeight = tables_->count() > 0 ? tables_->sizeHintForRow(0) : 0;
    tables_->setMaximumHeight(std::max(4 + tables_->count() * rowHeight, 60));
}

QListWidgetItem* DatasetList::itemOf(DatasetId id) const {
    for (int i = 0; i < datasets_->count(); ++i)
        if (datasets_->item(i)->data(IdRole).toULongLong() == id.value) return datasets_->item(i);
    return nullptr;
}

namespace {

// What a row of the list shows of a dataset, as far as it has to be computed.
struct Picture {
    DatasetId id;
    QList<QPointF> curve;
    bool dots = false; // values of classes, which no line joins
    QString state{};
    bool warn = false;
};

QString stateOf(const Analysis& last, const evaluate::AnalysisOutcome& outcome) {
    if (last.settings.flag("hold")) return DatasetList::tr("start values");
    const std::string state = outcome.stateText();
    if (!outcome.good())
        return state == "converged" || state == "done" ? DatasetList::tr("doubtful") : text(state);
    if (last.kind == "fit") return DatasetList::tr("fitted ✓");
    if (last.kind == "peaks") return DatasetList::tr("peaks ✓");
    return last.kind == "areas" ? DatasetList::tr("areas ✓") : DatasetList::tr("analysed ✓");
}

Picture pictureOf(const Project& project, const Dataset& d, const std::set<std::string>& telling,
                  evaluate::Evaluator& evaluator, const Cancellation& stop) {
    const auto protocol = evaluator.protocol(project, d.id);
    const Curve& curve = protocol.end().curve();
    Picture row{d.id, tiny(curve), !curve.xMeaning.categories.empty()};
    QStringList state = {wordsOf(d, telling)};
    if (const auto fits = analysesOf(project, d.id); !fits.empty()) {
        const auto last = evaluator.analysis(project, *fits.back(), {.stop = stop});
        row.warn = !last.good();
        state << stateOf(*fits.back(), last);
    } else if (!d.protocol.empty())
        state << text(counted(static_cast<long long>(d.protocol.size()), "step"));
    state.removeAll({});
    row.state = state.isEmpty() ? DatasetList::tr("as measured") : state.join(" · ");
    return row;
}

} // namespace

void DatasetList::refreshPictures() {
    if (document_.isDragging()) return; // brought up to date when it ends
    job_.request([this, project = document_.project(), evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        std::vector<Picture> rows;
        const std::set<std::string> telling = tellingAttributes(project);
        for (const auto& d : project.datasets)
            rows.push_back(pictureOf(project, *d, telling, *evaluator, stop));
        return [this, rows] {
            std::map<qulonglong, QListWidgetItem*> items;
            for (int i = 0; i < datasets_->count(); ++i)
                items[datasets_->item(i)->data(IdRole).toULongLong()] = datasets_->item(i);
            for (const Picture& row : rows) {
                const auto at = items.find(row.id.value);
                if (at == items.end()) continue;
                QListWidgetItem* item = at->second;
                item->setData(CurveRole, QVariant::fromValue(row.curve));
                item->setData(DotsRole, row.dots);
                item->setData(StateRole, row.state);
                item->setData(WarnRole, row.warn);
            }
        };
    });
}

// Others are added to the one that leads; where it was taken out of the selection, the one clicked last does.
void DatasetList::takeSelection() {
    std::vector<DatasetId> ids;
    for (const QListWidgetItem* item : datasets_->selectedItems())
        if (const DatasetId id{item->data(IdRole).toULongLong()}; id) ids.push_back(id);
    const QListWidgetItem* current = datasets_->currentItem();
    if (ids.empty()) return syncSelection(); // one is always selected
    auto lead = std::ranges::find(ids, document_.dataset());
    if (lead == ids.end() && current)
        lead = std::ranges::find(ids, DatasetId{current->data(IdRole).toULongLong()});
    if (lead != ids.end()) std::rotate(ids.begin(), lead, lead + 1);
    document_.selectDatasets(std::move(ids));
}

void DatasetList::syncSelection() {
    if (orderShown_ != document_.order()) return refresh();
    const QSignalBlocker quiet(datasets_);
    // While others are added the keyboard stays where it is.
    const QListWidgetItem* current = datasets_->currentItem();
    const auto& selected = document_.selection();
    if (!current || selected.size() < 2 ||
        std::ranges::find(selected, DatasetId{current->data(IdRole).toULongLong()}) == selected.end())
        datasets_->setCurrentItem(itemOf(document_.dataset()), QItemSelectionModel::NoUpdate);
    // All rows at once: row by row the model would merge each with all before.
    const std::set<DatasetId> wanted(selected.begin(), selected.end());
    QItemSelection rows;
    for (int i = 0; i < datasets_->count(); ++i) {
        QListWidgetItem* item = datasets_->item(i);
        const DatasetId id{item->data(IdRole).toULongLong()};
        const bool leads = id && id == document_.dataset();
        if (item->data(LeadRole).toBool() != leads) item->setData(LeadRole, leads);
        if (!id || !wanted.contains(id)) continue;
        const QModelIndex index = datasets_->model()->index(i, 0);
        if (!rows.isEmpty() && rows.last().bottom() == i - 1)
            rows.last() = QItemSelectionRange(rows.last().topLeft(), index);
        else
            rows.append(QItemSelectionRange(index));
    }
    datasets_->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect);
}

} // namespace jointer::app
