// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/results_stage.h"

#include "app/file_dialogs.h"
#include "app/panes/sentence_row.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"
#include "io/writer.h"
#include "session/export.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

ResultsStage::ResultsStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), grid_(new QTableWidget(0, 7)), name_(new QLabel),
      value_(new QLabel),
      empty_(new QLabel(
          tr("No results yet. Add a fit in Analyse: its numbers appear here, with where they come from."))) {
    const auto [column, side] = layOutStage(this);
    column->addLayout(buildHead());
    empty_->setObjectName("muted");
    column->addWidget(empty_);
    prepareResults();
    column->addWidget(grid_, 1);
    buildSide(*side);
    connect(&document_, &Document::changed, this, &ResultsStage::refresh);
    refresh();
}

QLayout* ResultsStage::buildHead() {
    auto* head = new QHBoxLayout;
    head->addWidget(title(tr("Fitted quantities")));
    head->addStretch(1);
    order_ = new QComboBox;
    order_->setObjectName("resultsOrder");
    order_->setAccessibleName(tr("Order of the rows"));
    order_->addItem(tr("by dataset"));
    order_->addItem(tr("by peak and quantity"));
    order_->setToolTip(tr("One peak over all datasets together, by its name"));
    connect(order_, &QComboBox::activated, this, &ResultsStage::refresh);
    head->addWidget(order_);
    head->addWidget(
        button(this, tr("Copy"), "", tr("Copy the grid as text that spreadsheets take"), [this] { copy(); }));
    head->addWidget(button(this, tr("Save as…"), "", tr("Save the grid as CSV"), [this] { save(); }));
    return head;
}

void ResultsStage::prepareResults() {
    grid_->setObjectName("results");
    grid_->setAccessibleName(tr("Results"));
    grid_->setHorizontalHeaderLabels(
        {tr("Dataset"), tr("Analysis"), tr("Quantity"), tr("Value"), tr("±"), tr("Unit"), tr("State")});
    prepareGrid(grid_);
    grid_->verticalHeader()->hide();
    grid_->setShowGrid(false);
    grid_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    grid_->setSelectionBehavior(QAbstractItemView::SelectRows);
    for (int c = 0; c < 7; ++c)
        grid_->horizontalHeader()->setSectionResizeMode(c, c == 1 ? QHeaderView::Stretch
                                                                  : QHeaderView::ResizeToContents);
    connect(grid_, &QTableWidget::currentCellChanged, this, &ResultsStage::showSource);
}

void ResultsStage::buildSide(QVBoxLayout& side) {
    side.addWidget(caption(tr("Where it comes from")));
    auto* card = new QFrame;
    card->setObjectName("card");
    auto* cardLayout = new QVBoxLayout(card);
    name_->setObjectName("strong");
    name_->setWordWrap(true);
    value_->setObjectName("muted");
    cardLayout->addWidget(name_);
    cardLayout->addWidget(value_);
    side.addWidget(card);
    auto* sentences = new QWidget;
    source_ = new QVBoxLayout(sentences);
    source_->setContentsMargins(0, 4, 0, 4);
    source_->setSpacing(2);
    side.addWidget(sentences);
    auto* buttons = new QHBoxLayout;
    open_ = button(this, tr("Open the fit"), "", tr("Show this fit in Analyse"), [this] {
        if (const evaluate::ResultRow* row = currentRow()) Q_EMIT fitWanted(row->analysis);
    });
    methods_ = button(this, tr("Copy methods text"), "", tr("Copy these sentences as a paragraph"),
                      [this] { copyMethods(); });
    buttons->addWidget(open_);
    buttons->addWidget(methods_);
    buttons->addStretch(1);
    side.addLayout(buttons);
    side.addStretch(1);
}

const evaluate::ResultRow* ResultsStage::currentRow() const {
    const int r = grid_->currentRow();
    return r >= 0 && r < static_cast<int>(rows_.size()) ? &rows_[static_cast<std::size_t>(r)] : nullptr;
}

void ResultsStage::copyMethods() {
    const evaluate::ResultRow* row = currentRow();
    if (!row) return;
    QStringList all;
    for (const auto& s : evaluate::provenance(document_.project(), document_.session().evaluator(), *row))
        all << text(s.sentence) + (s.detail.empty() ? "" : " (" + text(s.detail) + ")");
    QApplication::clipboard()->setText(all.join(" "));
    document_.say(tr("The methods text is on the clipboard."));
}

void ResultsStage::refresh() {
    if (!isVisible() || document_.isDragging()) return;
    job_.request([this, project = document_.project(), evaluator = document_.session().sharedEvaluator(),
                  grouped = order_->currentIndex() == 1](const Cancellation& stop) -> std::function<void()> {
        auto rows = evaluate::resultRows(project, *evaluator, stop);
        if (grouped) evaluate::groupBySubject(rows, project);
        return [this, rows = std::move(rows)] {
            rows_ = rows;
            fill();
        };
    });
}

void ResultsStage::fill() {
    const int before = std::max(0, grid_->currentRow());
    grid_->setRowCount(static_cast<int>(rows_.size()));
    const Project& p = document_.project();
    for (int r = 0; r < static_cast<int>(rows_.size()); ++r) {
        const evaluate::ResultRow& row = rows_[static_cast<std::size_t>(r)];
        const auto d = p.datasets.find(row.dataset);
        const auto a = p.analyses.find(row.analysis);
        const ValueText t = readableWithError(row.value, row.error);
        auto cell = [&](int c, const QString& s, Qt::Alignment align = Qt::AlignLeft) {
            auto* item = new QTableWidgetItem(s);
            item->setTextAlignment(align | Qt::AlignVCenter);
            grid_->setItem(r, c, item);
            return item;
        };
        QTableWidgetItem* name = cell(0, d ? text(d->name) : QString());
        if (d) {
            QPixmap swatch(10, 10);
            swatch.fill(QColor(text(d->colour)));
            name->setIcon(QIcon(swatch));
        }
        cell(1, a ? text(analyses::nameOf(*a)) : QString())->setForeground(theme().muted);
        cell(2, text(evaluate::nameOf(row)));
        cell(3, text(t.value), Qt::AlignRight);
        cell(4, t.error.empty() ? QString() : "± " + text(t.error))->setForeground(theme().muted);
        cell(5, text(draw::unitPlain(row.unit)))->setForeground(theme().muted);
        cell(6, text(row.state))->setForeground(row.good ? theme().accent : theme().warning);
    }
    empty_->setVisible(rows_.empty());
    grid_->setVisible(!rows_.empty());
    if (!rows_.empty()) grid_->setCurrentCell(std::min(before, static_cast<int>(rows_.size()) - 1), 0);
    showSource();
}

void ResultsStage::showSource() {
    clearLayout(source_);
    const int r = grid_->currentRow();
    const bool there = r >= 0 && r < static_cast<int>(rows_.size());
    open_->setEnabled(there);
    methods_->setEnabled(there);
    if (!there) {
        name_->setText(tr("Nothing selected"));
        value_->clear();
        return;
    }
    const evaluate::ResultRow& row = rows_[static_cast<std::size_t>(r)];
    const auto d = document_.project().datasets.find(row.dataset);
    const ValueText t = readableWithError(row.value, row.error);
    name_->setText(tr("%1 of %2").arg(text(evaluate::nameOf(row)), d ? text(d->name) : QString()));
    value_->setText(text(t.value) + (t.error.empty() ? "" : " ± " + text(t.error)) + " " +
                    text(draw::unitPlain(row.unit)));
    int number = 0;
    for (const auto& s : evaluate::provenance(document_.project(), document_.session().evaluator(), row)) {
        auto* sentence = new SentenceRow(QString::number(number), number > 0, false);
        ++number;
        sentence->setSentence(text(s.sentence), text(s.detail));
        sentence->setEnabled(true);
        source_->addWidget(sentence);
    }
}

Table ResultsStage::table() const {
    return evaluate::resultsTable(document_.project(), rows_);
}

void ResultsStage::copy() {
    QApplication::clipboard()->setText(text(io::toTabs(table())));
    document_.say(tr("Copied %1.").arg(text(counted(static_cast<long long>(rows_.size()), "row"))));
}

void ResultsStage::save() {
    const QString path = ask::newFile(this, document_, tr("Save results"), "results.csv", tableFilter());
    if (path.isEmpty()) return;
    const auto done = exportResults(table(), path.toStdString());
    document_.say(done ? tr("Wrote %1.").arg(path) : text(done.error().sentence()), !done);
}

} // namespace jointer::app
