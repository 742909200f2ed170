// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done with the rows of the lists at the left: their menus, their names, their removal.
#include "app/panes/dataset_list.h"
#include "app/panes/dataset_rows.h"
#include "app/panes/made_datasets.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QMenu>
#include <set>

namespace jointer::app {

void DatasetList::offer(QMenu* forDatasets, QMenu* forTables) {
    datasetMenu_ = forDatasets;
    tableMenu_ = forTables;
}

// On the row that is clicked; a dataset that is not selected is alone then.
void DatasetList::openMenu(QListWidget* list, QMenu* menu, QPoint at) {
    QListWidgetItem* item = list->itemAt(at);
    if (!menu || !item || !item->data(IdRole).toULongLong()) return;
    if (list == tables_)
        document_.selectTable(TableId{item->data(IdRole).toULongLong()});
    else if (!item->isSelected())
        list->setCurrentItem(item, QItemSelectionModel::ClearAndSelect);
    QMenu* shown = newMenu(this);
    shown->addActions(menu->actions());
    shown->popup(list->viewport()->mapToGlobal(at));
}

void DatasetList::renameDataset(DatasetId id) {
    if (QListWidgetItem* item = itemOf(id)) datasets_->editItem(item);
}

void DatasetList::renameTable(TableId id) {
    for (int i = 0; i < tables_->count(); ++i)
        if (tables_->item(i)->data(IdRole).toULongLong() == id.value) tables_->editItem(tables_->item(i));
}

// An empty name is none: the row keeps the one that it had.
void DatasetList::takeName(QListWidgetItem* typed) {
    const std::string name = typed->text().trimmed().toStdString();
    const auto id = typed->data(IdRole).toULongLong();
    const auto rename = [&name](auto& part) { part.name = name; };
    if (typed->listWidget() == datasets_) {
        const auto d = document_.project().datasets.find(DatasetId{id});
        if (d && !name.empty() && name != d->name)
            document_.apply(edits::changeDataset(d->id, "Rename dataset", rename));
    } else if (const auto t = document_.project().tables.find(TableId{id});
               t && !name.empty() && name != t->name)
        document_.apply(edits::changeTable(t->id, "Rename table", rename));
    QMetaObject::invokeMethod(this, &DatasetList::refresh, Qt::QueuedConnection);
}

void DatasetList::removeSelected() {
    const std::size_t many = document_.selection().size();
    if (document_.onEach(edits::removeDataset) && many > 1)
        document_.say(tr("Removed %1; Ctrl+Z brings them back.")
                          .arg(text(counted(static_cast<long long>(many), "dataset"))));
}

void DatasetList::removeTable(TableId id) {
    const auto table = document_.project().tables.find(id);
    if (!table) return document_.say(tr("Select a table at the left first."));
    const std::size_t before = document_.project().datasets.size();
    if (!document_.apply(edits::removeTable(id))) return;
    const auto gone = static_cast<long long>(before - document_.project().datasets.size());
    document_.say(gone > 0 ? tr("Removed “%1” and %2 made from it; Ctrl+Z brings them back.")
                                 .arg(text(table->name), text(counted(gone, "dataset")))
                           : tr("Removed “%1”.").arg(text(table->name)));
}

void DatasetList::offerOrders() {
    std::set<std::string> names;
    for (const auto& d : document_.project().datasets)
        for (const Attribute& a : d->attributes) names.insert(a.name);
    QMenu* menu = newMenu(this);
    connect(menu->addAction(tr("as imported")), &QAction::triggered, this, [this] { document_.orderBy({}); });
    for (const std::string& name : names)
        connect(menu->addAction(tr("by %1").arg(text(name))), &QAction::triggered, this,
                [this, name] { document_.orderBy(name); });
    menu->popup(below(order_));
}

void DatasetList::offerNew() {
    QMenu* menu = newMenu(this);
    for (const MadeDataset& made : kMadeDatasets) {
        QAction* action =
            menu->addAction(madeName(made), this, [this, kind = made.kind] { Q_EMIT addWanted(kind); });
        action->setToolTip(madeTip(made));
    }
    menu->popup(below(add_));
}

} // namespace jointer::app
