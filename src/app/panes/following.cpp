// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/following.h"

#include "app/widgets.h"

#include <QCoreApplication>
#include <QMenu>
#include <fmt/format.h>

namespace jointer::app {

namespace {

QString tr(const char* words) {
    return QCoreApplication::translate("Following", words);
}

// What the axes of its curve mean, as far as it is computed.
std::pair<AxisMeaning, AxisMeaning> axesOf(Document& document, AnalysisId fit) {
    const auto analysis = document.project().analyses.find(fit);
    if (!analysis) return {};
    const auto outcome = document.session().evaluator().analysis(document.project(), *analysis,
                                                                 {evaluate::Effort::Remembered});
    const analyses::NamedCurve* curve =
        outcome.exists() ? outcome->curve("fit", document.dataset()) : nullptr;
    return curve ? std::pair(curve->xMeaning, curve->yMeaning) : std::pair<AxisMeaning, AxisMeaning>();
}

// Over dates and times numbers are no places.
bool canBeAsked(const Column& c, bool overTimes) {
    return c.isNumeric() && c.kind != ColumnKind::Boolean && c.isTime() == overTimes;
}

// A name that no column of the table has yet.
std::string freeName(const Table& table, const std::string& wanted) {
    std::string name = wanted;
    for (int k = 2; table.findByName(name); ++k) name = fmt::format("{} {}", wanted, k);
    return name;
}

void addColumns(QMenu& menu, QWidget* owner, Document& document, AnalysisId fit, const Table& table,
                bool overTimes) {
    for (const Column& c : table.columns) {
        if (!canBeAsked(c, overTimes)) continue;
        QObject::connect(menu.addAction(text(c.name)), &QAction::triggered, owner,
                         [&document, fit, table = table.id, column = c.id] {
                             addFollowingColumn(document, fit, table, column);
                         });
    }
}

} // namespace

bool addFollowingColumn(Document& document, AnalysisId fit, TableId tableId, ColumnId x) {
    const auto analysis = document.project().analyses.find(fit);
    const auto table = document.project().tables.find(tableId);
    const Column* column = table ? table->find(x) : nullptr;
    if (!analysis || !column) return false;
    const auto dataset = document.project().datasets.find(document.dataset());
    const std::string member = analysis->inputs.size() > 1 && dataset && analysis->takes(dataset->id)
                                   ? fmt::format(", '{}'", dataset->id.text())
                                   : "";
    const std::string name =
        freeName(*table, fmt::format("{} predicted", dataset ? dataset->name : analyses::nameOf(*analysis)));
    const std::string formula = fmt::format("predicted('{}', '{}'{})", fit.text(), x.text(), member);
    const std::string unit = axesOf(document, fit).second.unit;
    const Edit add =
        edits::onTable(tableId, "Add column that follows", [=](Project& p, Table& t) -> Result<void> {
            t.columns.push_back({.id = p.newId<ColumnId>(),
                                 .name = name,
                                 .unit = unit,
                                 .kind = ColumnKind::Number,
                                 .role = Role::Y,
                                 .formula = formula});
            return {};
        });
    if (!document.apply(add)) return false;
    document.say(tr("Added the column “%1” to “%2”: it follows the fit.").arg(text(name), text(table->name)));
    return true;
}

void offerFollowing(QWidget* owner, Document& document, AnalysisId fit, TableId only, QPoint at) {
    QMenu* menu = newMenu(owner);
    menu->setObjectName("followMenu");
    const bool overTimes = axesOf(document, fit).first.isTime;
    const auto& tables = document.project().tables;
    for (const auto& table : tables) {
        if (only && table->id != only) continue;
        const bool alone = only || tables.size() == 1;
        addColumns(alone ? *menu : *menu->addMenu(text(table->name)), owner, document, fit, *table, overTimes);
    }
    if (only && menu->actions().size() == 1) { // nothing to choose from
        menu->actions().front()->trigger();
        return menu->deleteLater();
    }
    if (menu->isEmpty()) {
        document.say(overTimes ? tr("The curve is over dates and times: a table with a column of those can follow it.")
                                                : tr("There is no column of numbers that could follow the curve."));
        return menu->deleteLater();
    }
    menu->popup(at);
}

} // namespace jointer::app
