// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/dataset_pane.h"

#include "app/forms/settings_form.h"
#include "app/widgets.h"
#include "base/text.h"
#include "evaluate/mapping.h"
#include "evaluate/sources.h"
#include "evaluate/uncertainty.h"
#include "evaluate/water_columns.h"
#include "project/table_edits.h"

#include <QApplication>
#include <QComboBox>
#include <QFormLayout>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>

namespace jointer::app {

namespace {

// "x shift · y counts · ± y sd"
QString rolesText(const Table& table, const Dataset& d) {
    QStringList parts;
    for (const RoleBinding& b : d.source.roles) {
        const Column* c = table.find(b.column);
        if (!c) continue;
        const std::string_view role = b.role == Role::Component ? std::string_view(b.of) : roleLabel(b.role);
        const QString label = text(role);
        parts << (label == text(c->name) ? label : label + " " + text(c->name));
    }
    return parts.mid(0, 12).join("  ·  ") + (parts.size() > 12 ? "  …" : "");
}

} // namespace

DatasetPane::DatasetPane(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), rows_(new QFormLayout(this)), name_(new QLineEdit),
      rule_(new SettingsForm), uncertainty_(new QComboBox), first_(new QComboBox), second_(new QComboBox),
      roles_(muted({})), columns_(nullptr), waterColumns_(nullptr), form_(new SettingsForm),
      attributes_(new QGridLayout) {
    rows_->setContentsMargins(0, 10, 0, 2);
    rows_->setVerticalSpacing(7);
    rows_->addRow(caption(tr("Dataset")));
    name_->setObjectName("datasetName");
    addLabelled(*rows_, tr("Name"), name_);
    roles_->setWordWrap(true);
    roles_->setObjectName("datasetRoles");
    columns_ = button(this, tr("Choose columns…"), "link", tr("Which column is what in this dataset"),
                      [this] { Q_EMIT columnsWanted(); });
    rows_->addRow(roles_);
    rows_->addRow(columns_);
    waterColumns_ = button(this, tr("Types, balance and ratios…"), "link",
                           tr("Columns that follow: water types, charge balance, hardness and more"),
                           [this] { offerWaterColumns(); });
    waterColumns_->setObjectName("waterColumns");
    rows_->addRow(waterColumns_);
    buildUncertainty();
    buildInputs();
    rows_->addRow(form_);
    rows_->addRow(caption(tr("Attributes")));
    attributes_->setContentsMargins(0, 0, 0, 0);
    attributes_->setSpacing(4);
    rows_->addRow(attributes_);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const std::string name = name_->text().trimmed().toStdString();
        const auto d = document_.currentDataset();
        if (d && !name.empty() && name != d->name)
            document_.apply(edits::changeDataset(d->id, "Rename dataset",
                                                 [name](Dataset& changed) { changed.name = name; }));
    });
    connect(form_, &SettingsForm::changed, this, &DatasetPane::changeSetting);
}

void DatasetPane::buildUncertainty() {
    uncertainty_->setObjectName("uncertainty");
    uncertainty_->addItem(tr("automatic"), "");
    for (const evaluate::UncertaintyRule& rule : evaluate::uncertaintyRules()) {
        uncertainty_->addItem(text(rule.info.name), text(rule.info.key));
        uncertainty_->setItemData(uncertainty_->count() - 1, text(rule.info.purpose), Qt::ToolTipRole);
    }
    uncertainty_->setToolTip(
        tr("Where the standard uncertainties of y come from; automatic takes a column with the role ± y."));
    addLabelled(*rows_, tr("± of y"), uncertainty_);
    rows_->addRow(rule_);
    connect(rule_, &SettingsForm::changed, this, &DatasetPane::changeSetting);
    connect(uncertainty_, &QComboBox::activated, this, [this] {
        const std::string key = uncertainty_->currentData().toString().toStdString();
        changeSetting("uncertainty", key.empty() ? Value() : Value(key));
    });
}

// What a table of waters can have as columns; those that it has are ticked.
void DatasetPane::offerWaterColumns() {
    const auto d = document_.currentDataset();
    const auto table = d ? document_.project().tables.find(d->source.table) : nullptr;
    if (!table) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    for (const waters::SampleQuantity& q : waters::sampleQuantities()) {
        const std::string formula = evaluate::waterFormula(d->id.text(), q.key);
        const auto has = std::ranges::find(table->columns, formula, &Column::formula);
        QAction* action = menu->addAction(text(q.label));
        action->setToolTip(text(q.meaning));
        action->setCheckable(true);
        action->setChecked(has != table->columns.end());
        connect(action, &QAction::triggered, this,
                [this, id = table->id, column = evaluate::waterColumn(*d, q),
                 old = has != table->columns.end() ? has->id : ColumnId()] {
                    document_.apply(old ? edits::removeColumns(id, {old})
                                        : edits::addComputedColumn(id, column));
                });
    }
    menu->popup(waterColumns_->mapToGlobal(QPoint(0, waterColumns_->height())));
}

// The two datasets of a join.
void DatasetPane::buildInputs() {
    for (const auto& [box, place] : {std::pair(first_, 0), std::pair(second_, 1)}) {
        box->setObjectName(place == 0 ? "joinFirst" : "joinSecond");
        addLabelled(*rows_, place == 0 ? tr("x from") : tr("y from"), box);
        connect(box, &QComboBox::activated, this, [this, chosen = box, at = static_cast<std::size_t>(place)] {
            document_.apply(edits::changeDataset(
                document_.dataset(), "Choose dataset",
                [id = DatasetId::fromText(chosen->currentData().toString().toStdString()), at](Dataset& d) {
                    d.source.inputs.resize(2);
                    d.source.inputs[at] = id;
                }));
        });
    }
}

void DatasetPane::changeSetting(const QString& key, const Value& value) {
    const auto change = [k = key.toStdString(), value](Dataset& d) {
        if (std::holds_alternative<std::monostate>(value))
            d.source.settings.remove(k);
        else
            d.source.settings.set(k, value);
    };
    document_.onEach([&](DatasetId id) { return edits::changeDataset(id, "Change dataset", change); });
}

void DatasetPane::refresh() {
    const auto d = document_.currentDataset();
    setVisible(d &&
               (d->source.table == document_.table() || evaluate::sourceCatalogue().find(d->source.kind)));
    if (!d) return;
    if (!name_->hasFocus()) name_->setText(text(d->name));
    showSource(*d);
    showAttributes(*d);
}

void DatasetPane::showSource(const Dataset& d) {
    const evaluate::SourceKind* made = evaluate::sourceCatalogue().find(d.source.kind);
    const auto table = document_.project().tables.find(d.source.table);
    const bool curve = d.source.kind == "columns", join = made && made->inputs == 2;
    roles_->setText(table ? rolesText(*table, d) : QString());
    roles_->setVisible(!made);
    columns_->setVisible(!made);
    auto showRow = [&](QWidget* field, bool there) {
        field->setVisible(there);
        rows_->labelForField(field)->setVisible(there);
    };
    const std::string rule = d.source.settings.text("uncertainty");
    showRow(uncertainty_, curve);
    uncertainty_->setCurrentIndex(std::max(0, uncertainty_->findData(text(rule))));
    const evaluate::UncertaintyRule* chosen = evaluate::uncertaintyRules().find(rule);
    rule_->setVisible(curve && chosen && !chosen->info.settings.empty());
    if (chosen && shownRule_ == std::pair(d.id, rule))
        rule_->sync(d.source.settings);
    else if (chosen)
        rule_->show(chosen->info, d.source.settings);
    shownRule_ = {d.id, rule};
    for (const auto& [box, at] : {std::pair(first_, 0U), std::pair(second_, 1U)}) {
        showRow(box, join);
        if (!join) continue;
        box->clear();
        for (const auto& other : document_.project().datasets)
            if (other->id != d.id) box->addItem(text(other->name), text(other->id.text()));
        box->setCurrentIndex(at < d.source.inputs.size() ? box->findData(text(d.source.inputs[at].text()))
                                                         : -1);
    }
    waterColumns_->setVisible(d.source.kind == "ions" && table);
    const evaluate::MappingKind* mapped = evaluate::mappingCatalogue().find(d.source.kind);
    const KindInfo* info = made                                       ? &made->info
                           : mapped && !mapped->info.settings.empty() ? &mapped->info
                                                                      : nullptr;
    form_->setVisible(info != nullptr);
    if (!info) return;
    std::vector<std::pair<std::string, std::string>> fits, datasets;
    for (const auto& a : document_.project().analyses)
        if (a->kind == "fit") fits.emplace_back(a->id.text(), analyses::nameOf(*a));
    for (const auto& other : document_.project().datasets)
        datasets.emplace_back(other->id.text(), other->name);
    form_->offer("analysis", std::move(fits));
    form_->offer("dataset", std::move(datasets));
    if (shownForm_ == std::pair(d.id, d.source.kind))
        form_->sync(d.source.settings);
    else
        form_->show(*info, d.source.settings);
    shownForm_ = {d.id, d.source.kind};
}

// A row for each attribute, and an empty one for a new one.
void DatasetPane::showAttributes(const Dataset& d) {
    if (shownOf_ == d.id && shown_ == d.attributes) return;
    const QWidget* focused = QApplication::focusWidget();
    const int place = focused ? attributes_->indexOf(const_cast<QWidget*>(focused)) : -1;
    shownOf_ = d.id;
    shown_ = d.attributes;
    clearLayout(attributes_);
    for (int row = 0; row <= static_cast<int>(shown_.size()); ++row) {
        const bool fresh = row == static_cast<int>(shown_.size());
        const Attribute a = fresh ? Attribute{} : shown_[static_cast<std::size_t>(row)];
        const std::pair<const std::string*, QString> fields[] = {
            {&a.name, tr("name")}, {&a.value, tr("value")}, {&a.unit, tr("unit")}};
        for (int k = 0; k < 3; ++k) {
            auto* field = new QLineEdit(text(*fields[k].first));
            field->setObjectName(QString("attribute%1.%2").arg(row).arg(k));
            field->setAccessibleName(tr("Attribute: %1").arg(fields[k].second));
            field->setPlaceholderText(fresh || k == 2 ? fields[k].second : QString());
            field->setToolTip(k == 0 ? tr("Name of an attribute; empty it to remove the attribute")
                                     : text(*fields[k].first));
            connect(field, &QLineEdit::editingFinished, this, [this, row] { takeAttribute(row); });
            attributes_->addWidget(field, row, k);
        }
    }
    attributes_->setColumnStretch(0, 3);
    attributes_->setColumnStretch(1, 3);
    attributes_->setColumnStretch(2, 2);
    if (place >= 0 && attributes_->itemAt(place)) attributes_->itemAt(place)->widget()->setFocus();
}

void DatasetPane::takeAttribute(int row) {
    auto word = [&](int k) {
        const auto* field = qobject_cast<QLineEdit*>(attributes_->itemAtPosition(row, k)->widget());
        return field->text().trimmed().toStdString();
    };
    const Attribute typed{word(0), word(1), word(2)};
    const auto at = static_cast<std::size_t>(row);
    const bool fresh = at >= shown_.size();
    if (fresh ? typed.name.empty() : typed == shown_[at]) return;
    // Of other selected datasets the attribute of the same name changes, or is added.
    const Attribute before = fresh ? Attribute{} : shown_[at];
    const auto change = [=](Dataset& d) {
        const auto mine = std::ranges::find(d.attributes, fresh ? typed.name : before.name, &Attribute::name);
        if (typed.name.empty() && mine != d.attributes.end())
            d.attributes.erase(mine);
        else if (mine != d.attributes.end())
            mine->name = typed.name, mine->value = typed.value, mine->unit = typed.unit;
        else if (!typed.name.empty())
            d.attributes.push_back(typed);
    };
    document_.onEach([&](DatasetId id) { return edits::changeDataset(id, "Change attributes", change); });
}

} // namespace jointer::app
