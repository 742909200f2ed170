// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/numbers_grid.h"

#include "analyses/analysis.h"
#include "app/panes/fit_names.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "data/column_names.h"
#include "draw/markup.h"

#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace jointer::app {

namespace {

constexpr int kRow = 22, kNarrowest = 96, kWidest = 230;

QString numberText(const analyses::Quantity& q) {
    return text(readableWithError(q.value, q.se).text());
}

// The names of all rows, in order of first appearance: of fits of different models what they have in common
// comes first.
std::vector<std::string> rowNames(const std::vector<NumbersGrid::Column>& columns, bool joint) {
    std::vector<std::string> names;
    auto add = [&](bool quality) {
        for (const auto& c : columns) {
            if (!c.outcome.exists()) continue;
            for (const analyses::Quantity& q : quality ? c.outcome->quality : c.outcome->quantities)
                if (std::ranges::find(names, q.label) == names.end()) names.push_back(q.label);
        }
    };
    add(!joint);
    add(joint);
    return names;
}

const analyses::Quantity* quantityOf(const NumbersGrid::Column& c, const std::string& name) {
    if (!c.outcome.exists()) return nullptr;
    for (const auto* list : {&c.outcome->quantities, &c.outcome->quality})
        for (const analyses::Quantity& q : *list)
            if (q.label == name && (!q.member || !c.member || q.member == c.member)) return &q;
    return nullptr;
}

} // namespace

std::string sideBySideSentence(const std::vector<NumbersGrid::Column>& columns) {
    if (columns.size() < 2)
        return "Add another fit of this dataset, or select further datasets, to see their numbers side by "
               "side.";
    if (std::ranges::any_of(columns, [&](const auto& c) { return c.member != columns[0].member; }))
        return "They are of different datasets: whether a number differs is told by the errors, or by "
               "Compare datasets; AICc cannot be "
               "compared.";
    std::vector<double> points;
    for (const auto& c : columns)
        if (const analyses::Quantity* n = quantityOf(c, "n")) points.push_back(n->value);
    const bool alike =
        std::ranges::all_of(columns, [&](const auto& c) { return c.span == columns[0].span; }) &&
        std::ranges::adjacent_find(points, std::not_equal_to()) == points.end();
    if (alike)
        return "All of them take the same points: the smaller AICc has more evidence, by exp(difference/2). "
               "R² only "
               "tells how much of the scatter a curve follows; it never falls with a further parameter.";
    return "They take different points: R² over a wider range is larger for the same scatter, and AICc "
           "cannot be "
           "compared. The residual SD can: it is in the unit of y.";
}

NumbersGrid::NumbersGrid(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), grid_(new QTableWidget), sentence_(new QLabel) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(56, 2, 12, 4);
    layout->setSpacing(4);
    prepareGrid(grid_);
    grid_->setObjectName("numbers");
    grid_->setAccessibleName(tr("Numbers side by side"));
    grid_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    grid_->verticalHeader()->setVisible(true);
    grid_->verticalHeader()->setDefaultSectionSize(kRow);
    grid_->verticalHeader()->setSectionsClickable(true);
    connect(grid_->verticalHeader(), &QHeaderView::sectionClicked, this, &NumbersGrid::offer);
    sentence_->setObjectName("muted");
    sentence_->setWordWrap(true);
    layout->addWidget(grid_, 1);
    layout->addWidget(sentence_);
}

void NumbersGrid::refresh() {
    const auto open = document_.project().analyses.find(document_.analysis());
    const bool joint = open && open->inputs.size() > 1;
    waiting_ = true;
    job_.request([this, open, joint, project = document_.project(), dataset = document_.dataset(),
                  selected = document_.selection(), evaluator = document_.session().sharedEvaluator(),
                  effort = document_.effort()](const Cancellation& stop) -> std::function<void()> {
        auto columns = std::make_shared<std::vector<Column>>();
        if (joint) {
            const auto outcome = evaluator->analysis(project, *open, {.effort = effort, .stop = stop});
            for (const auto& d : project.datasets)
                if (const auto in = std::ranges::find(open->inputs, d->id, &AnalysisInput::dataset);
                    in != open->inputs.end())
                    columns->push_back({d->name, open->id, d->id, outcome, in->span});
        } else {
            std::vector<std::string> datasets;
            for (const DatasetId each : selected) datasets.push_back(project.datasets.find(each)->name);
            const std::size_t shared = sharedBeginning(datasets).size();
            for (const DatasetId each : selected.empty() ? std::vector{dataset} : selected)
                for (const auto& a : analysesOf(project, each)) {
                    const analyses::AnalysisKind* kind = analyses::kindOf(*a);
                    if (a->inputs.size() > 1 || !kind || !kind->takesPoints()) continue;
                    const std::string name = nameBeside(project, *a, each);
                    columns->push_back({selected.size() > 1
                                            ? project.datasets.find(each)->name.substr(shared) + ": " + name
                                            : name,
                                        a->id, selected.size() > 1 ? each : DatasetId{},
                                        evaluator->analysis(project, *a, {.effort = effort, .stop = stop}),
                                        a->inputs.front().span});
                }
        }
        return [this, columns, joint] {
            waiting_ = false;
            fill(*columns, joint);
        };
    });
}

void NumbersGrid::fill(const std::vector<Column>& columns, bool joint) {
    joint_ = joint;
    const auto names = rowNames(columns, joint);
    grid_->clear();
    grid_->clearSpans();
    grid_->setRowCount(static_cast<int>(names.size()));
    grid_->setColumnCount(static_cast<int>(columns.size()));
    for (int r = 0; r < grid_->rowCount(); ++r) {
        const std::string& name = names[static_cast<std::size_t>(r)];
        auto* head = new QTableWidgetItem(text(name));
        grid_->setVerticalHeaderItem(r, head);
        for (int c = 0; c < grid_->columnCount(); ++c) {
            const analyses::Quantity* q = quantityOf(columns[static_cast<std::size_t>(c)], name);
            if (!q) continue;
            if (c == 0 && !q->unit.empty()) head->setToolTip(tr("in %1").arg(text(draw::unitPlain(q->unit))));
            const bool wide = joint && !q->member && columns.size() > 1; // one value for all
            if (wide && c > 0) continue;
            auto* item = new QTableWidgetItem(numberText(*q));
            item->setTextAlignment(wide ? Qt::AlignCenter : Qt::AlignRight | Qt::AlignVCenter);
            item->setForeground(!q->good                ? theme().warning
                                : q->state == "quality" ? theme().muted
                                                        : theme().ink);
            if (wide && q->state == "shared") item->setBackground(theme().ground);
            item->setToolTip(text(q->state == "quality" ? "" : q->state));
            grid_->setItem(r, c, item);
            if (wide) grid_->setSpan(r, 0, 1, grid_->columnCount());
        }
    }
    QStringList heads;
    for (const Column& c : columns) heads << text(c.name);
    grid_->setHorizontalHeaderLabels(heads);
    grid_->resizeColumnsToContents();
    for (int c = 0; c < grid_->columnCount(); ++c)
        grid_->setColumnWidth(c, std::clamp(grid_->columnWidth(c) + 10, kNarrowest, kWidest));
    sentence_->setText(
        joint ? tr("Click a parameter’s name to give it one value for all datasets, or one for each.")
              : text(sideBySideSentence(columns)));
}

// Of a joint fit: how the parameter of the row is treated in all datasets.
void NumbersGrid::offer(int row) {
    const auto open = document_.project().analyses.find(document_.analysis());
    const QTableWidgetItem* head = grid_->verticalHeaderItem(row);
    if (!joint_ || !open || !head || open->kind != "fit") return;
    const std::string name = head->text().toStdString();
    QMenu* menu = newMenu(this);
    const std::pair<QString, Treatment> all[] = {{tr("One value for all datasets"), Treatment::Shared},
                                                 {tr("A value for each dataset"), Treatment::Free}};
    for (const auto& [words, treatment] : all)
        connect(menu->addAction(words), &QAction::triggered, this, [this, id = open->id, name, treatment] {
            document_.apply(edits::changeAnalysis(
                id, treatment == Treatment::Shared ? "Share " + name : "Separate " + name, [=](Analysis& a) {
                    std::erase_if(a.parameters,
                                  [&](const ParameterChoice& p) { return p.name == name && p.member; });
                    auto at = std::ranges::find(a.parameters, name, &ParameterChoice::name);
                    if (at == a.parameters.end()) at = a.parameters.insert(at, ParameterChoice{.name = name});
                    at->treatment = treatment;
                }));
        });
    menu->popup(QCursor::pos());
}

} // namespace jointer::app
