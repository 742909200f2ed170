// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/tables_row.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "base/unit_text.h"
#include "io/writer.h"

#include <QClipboard>
#include <QComboBox>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

constexpr int kMostRows = 2000; // shown; a copy has them all
constexpr int kRow = 22, kNarrowest = 46, kWidest = 260;

// A number as its column shows it: beside a column "±" to the place that its error has.
QString cellOf(const Table& table, std::size_t column, std::size_t row) {
    const Column& c = table.columns[column];
    if (!c.isNumeric()) return text(cellText(c, row));
    const double v = c.numbers()[row];
    if (!std::isfinite(v)) return "–";
    const auto errorsOf = [&](std::size_t k) {
        return k < table.columns.size() && table.columns[k].name == "±" ? table.columns[k].numbers()[row]
                                                                        : NAN;
    };
    if (const double error = errorsOf(column + 1); error > 0) return text(readableWithError(v, error).value);
    if (c.name == "±") return text(readableWithError(v, v).error);
    for (std::size_t k = 0; k < table.columns.size(); ++k) // an interval goes with the value it is of
        if (const double error = errorsOf(k); error > 0 && (c.name == "low" || c.name == "high"))
            return text(readableWithError(v, error).value);
    return text(readableNumber(v));
}

QString headingOf(const Column& c) {
    const bool ofValue = c.name == "±" || c.name == "low" || c.name == "high"; // its unit is there already
    return text(c.unit.empty() || ofValue ? c.name : c.name + " (" + readableUnit(c.unit) + ")");
}

} // namespace

TablesRow::TablesRow(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), which_(new QComboBox), grid_(new QTableWidget),
      nothing_(new QLabel(tr("This analysis has no tables: its numbers stand at the right."))) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(56, 2, 12, 4);
    layout->setSpacing(4);
    auto* head = new QHBoxLayout;
    which_->setObjectName("tableChoice");
    which_->setAccessibleName(tr("Table"));
    which_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    head->addWidget(which_);
    head->addStretch(1);
    head->addWidget(
        button(this, tr("Copy"), "link", tr("Copy the whole table, for spreadsheets"), [this] { copy(); }));
    layout->addLayout(head);
    prepareGrid(grid_);
    grid_->setObjectName("tables");
    grid_->setAccessibleName(tr("Table of the analysis"));
    grid_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    grid_->verticalHeader()->setVisible(false);
    grid_->verticalHeader()->setDefaultSectionSize(kRow);
    grid_->setSelectionBehavior(QAbstractItemView::SelectRows);
    layout->addWidget(grid_, 1);
    nothing_->setObjectName("muted");
    layout->addWidget(nothing_);
    connect(which_, &QComboBox::activated, this, &TablesRow::fill);
    connect(grid_, &QTableWidget::currentCellChanged, this, [this](int row) {
        const QTableWidgetItem* item = row < 0 ? nullptr : grid_->item(row, 0);
        Q_EMIT rowChosen(item ? item->text() : QString());
    });
}

void TablesRow::refresh() {
    const auto open = document_.project().analyses.find(document_.analysis());
    waiting_ = true;
    job_.request([this, open, project = document_.project(),
                  evaluator = document_.session().sharedEvaluator(),
                  effort = document_.effort()](const Cancellation& stop) -> std::function<void()> {
        analyses::ResultPtr result;
        if (open) {
            const auto outcome = evaluator->analysis(project, *open, {.effort = effort, .stop = stop});
            if (outcome.exists()) result = outcome.result.value();
        }
        return [this, result] {
            waiting_ = false;
            if (result == shown_) return;
            shown_ = result;
            const QSignalBlocker quiet(which_);
            const QString before = which_->currentData().toString();
            which_->clear();
            if (result)
                for (const analyses::NamedTable& t : result->tables)
                    which_->addItem(text(t.label), text(t.key));
            which_->setCurrentIndex(std::max(0, which_->findData(before)));
            fill();
        };
    });
}

void TablesRow::fill() {
    const int at = which_->currentIndex();
    const bool any = shown_ && at >= 0 && at < std::ssize(shown_->tables);
    which_->setVisible(any && which_->count() > 1);
    grid_->setVisible(any);
    nothing_->setVisible(!any);
    const QSignalBlocker quiet(grid_);
    grid_->clear();
    if (!any) return;
    const Table& table = shown_->tables[static_cast<std::size_t>(at)].table;
    const int rows = std::min(kMostRows, static_cast<int>(table.rowCount()));
    grid_->setRowCount(rows);
    grid_->setColumnCount(static_cast<int>(table.columns.size()));
    for (int c = 0; c < grid_->columnCount(); ++c) {
        const Column& column = table.columns[static_cast<std::size_t>(c)];
        grid_->setHorizontalHeaderItem(c, new QTableWidgetItem(headingOf(column)));
        for (int r = 0; r < rows; ++r) {
            auto* item =
                new QTableWidgetItem(cellOf(table, static_cast<std::size_t>(c), static_cast<std::size_t>(r)));
            item->setTextAlignment(Qt::AlignVCenter | (column.isNumeric() ? Qt::AlignRight : Qt::AlignLeft));
            grid_->setItem(r, c, item);
        }
    }
    grid_->resizeColumnsToContents();
    for (int c = 0; c < grid_->columnCount(); ++c)
        grid_->setColumnWidth(c, std::clamp(grid_->columnWidth(c) + 8, kNarrowest, kWidest));
}

void TablesRow::copy() const {
    const int at = which_->currentIndex();
    if (!shown_ || at < 0 || at >= std::ssize(shown_->tables)) return;
    QGuiApplication::clipboard()->setText(
        text(io::toTabs(shown_->tables[static_cast<std::size_t>(at)].table)));
    document_.say(tr("Copied the table “%1”.").arg(which_->currentText()));
}

} // namespace jointer::app
