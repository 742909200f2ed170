// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/import_target.h"

#include "app/widgets.h"
#include "session/name_pattern.h"

#include <QCheckBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
#include <map>

namespace jointer::app {

ImportTarget::ImportTarget(QWidget* parent)
    : QWidget(parent), samples_(new QCheckBox), tables_(new QListWidget), caption_(caption(tr("Becomes"))),
      naming_(new QWidget), called_(new QLineEdit), pattern_(new QLineEdit), found_(muted({})),
      changes_(muted({})), losses_(warningLabel()) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(hairline());
    column->addWidget(caption_);
    tables_->setObjectName("importTables");
    tables_->setAccessibleName(tr("Tables of the file; the ticked ones are imported"));
    tables_->setFrameShape(QFrame::NoFrame);
    column->addWidget(tables_);
    tables_->hide();
    samples_->setObjectName("asSamples");
    samples_->setToolTip(tr("Gives the values of each row to the dataset that it names, instead of a table"));
    samples_->hide();
    column->addWidget(samples_);
    connect(samples_, &QCheckBox::toggled, this, [this](bool on) { naming_->setVisible(!on); });
    buildNames();
    column->addWidget(naming_);
    changes_->setObjectName("importChanges");
    changes_->setWordWrap(true);
    column->addWidget(changes_);
    column->addWidget(losses_);
    connect(tables_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0) Q_EMIT tableChosen(row);
    });
}

void ImportTarget::buildNames() {
    called_->setObjectName("called");
    called_->setPlaceholderText(tr("the file’s name"));
    called_->setToolTip(tr("Name of table and dataset; {age} stands for an attribute"));
    pattern_->setObjectName("pattern");
    pattern_->setPlaceholderText("shell_{age:d}_{site}");
    pattern_->setToolTip(tr("Finds attributes in the file’s name: {name} any text, {name:d} a whole number, "
                            "{name:f} a number, * anything"));
    auto* column = new QVBoxLayout(naming_);
    column->setContentsMargins(0, 0, 0, 0);
    auto* rows = new QFormLayout;
    rows->setLabelAlignment(Qt::AlignLeft);
    addLabelled(*rows, tr("Called"), called_);
    addLabelled(*rows, tr("Attributes"), pattern_);
    column->addLayout(rows);
    found_->setWordWrap(true);
    column->addWidget(found_);
    for (QLineEdit* field : {called_, pattern_})
        connect(field, &QLineEdit::textChanged, this, [this] { showFound(names_); });
}

ImportPlan ImportTarget::plan() const {
    ImportPlan plan{.tables = {},
                    .called = called_->text().trimmed().toStdString(),
                    .pattern = pattern_->text().trimmed().toStdString()};
    for (int i = 0; i < tables_->count(); ++i)
        if (tables_->item(i)->checkState() == Qt::Checked) plan.tables.push_back(static_cast<std::size_t>(i));
    return plan;
}

void ImportTarget::showSamples(const QString& words) {
    if (words.isEmpty() || samples_->text() != words) samples_->setChecked(!words.isEmpty());
    samples_->setText(words);
    samples_->setVisible(!words.isEmpty());
}

bool ImportTarget::asSamples() const {
    return samples_->isVisibleTo(this) && samples_->isChecked();
}

std::size_t ImportTarget::chosenTable() const {
    return static_cast<std::size_t>(std::max(0, tables_->currentRow()));
}

// What the pattern finds in the names of the files that wait.
void ImportTarget::showFound(const std::vector<std::string>& names) {
    names_ = names;
    const ImportPlan p = plan();
    QStringList lines;
    for (std::size_t i = 0; i < std::min<std::size_t>(names.size(), 3); ++i) {
        const auto found = matchPattern(p.pattern, names[i]);
        if (!found) {
            lines = {text(found.error().text)};
            break;
        }
        if (p.pattern.empty() && p.called.empty()) break;
        QStringList facts;
        if (*found)
            for (const auto& [key, value] : **found) facts << text(key) + " = " + text(value);
        const QString called =
            p.called.empty() ? QString() : text(filledTemplate(p.called, found->value_or(NamedTexts{})));
        if (!p.pattern.empty() && !*found) facts << tr("“%1” is of another form").arg(text(names[i]));
        lines << (called.isEmpty() ? QString() : "“" + called + "”  ") + facts.join(",  ");
    }
    if (names.size() > 3 && !lines.isEmpty()) lines << tr("… and %1 more").arg(names.size() - 3);
    found_->setText(lines.join("\n"));
    found_->setVisible(!lines.isEmpty());
}

// Hidden where there is one table; ticks stay with the names.
void ImportTarget::showTables(const io::ReadResult* reading, const std::string& wanted) {
    const QSignalBlocker quiet(tables_);
    const int before = std::max(0, tables_->currentRow());
    std::map<QString, Qt::CheckState> ticked;
    for (int i = 0; i < tables_->count(); ++i)
        ticked[tables_->item(i)->data(Qt::UserRole).toString()] = tables_->item(i)->checkState();
    tables_->clear();
    tables_->setVisible(reading && reading->tables.size() > 1);
    if (!reading) return;
    int at = before;
    for (const io::ReadTable& t : reading->tables) {
        const QString name = text(t.table.name);
        auto* item = new QListWidgetItem(
            tr("%1   %2 × %3").arg(name).arg(t.table.rowCount()).arg(t.table.columns.size()));
        item->setData(Qt::UserRole, name);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        const auto tick = ticked.find(name);
        item->setCheckState(tick == ticked.end() ? Qt::Checked : tick->second);
        if (ticked.empty() && !t.table.name.empty() && wanted.ends_with(t.table.name)) at = tables_->count();
        tables_->addItem(item);
    }
    tables_->setFixedHeight(std::min(6, tables_->count()) * 20 + 8);
    tables_->setCurrentRow(std::min(at, tables_->count() - 1));
}

void ImportTarget::showConsequences(const std::optional<Consequences>& c) {
    caption_->setText(c ? tr("Changes") : tr("Becomes"));
    naming_->setVisible(!c);
    changes_->setVisible(c.has_value());
    losses_->hide();
    if (!c) return;
    changes_->setText(c->changes.isEmpty() ? tr("Nothing changes.") : c->changes.join("\n"));
    if (!c->losses.isEmpty()) say(losses_, tr("Would be lost: ") + c->losses.join(" "));
}

} // namespace jointer::app
