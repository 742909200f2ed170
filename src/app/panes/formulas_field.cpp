// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/formulas_field.h"

#include "app/forms/equation_field.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

FormulasField::FormulasField(const QString& label, const QString& help, const QString& example,
                             QWidget* parent)
    : QWidget(parent), field_(new EquationField), names_(nullptr) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    auto* head = new QHBoxLayout;
    QLabel* name = muted(label);
    name->setBuddy(field_);
    head->addWidget(name, 1);
    names_ = button(this, tr("names ▾"), "link", tr("What formulas may name; a click puts it in"),
                    [this] { offerNames(); });
    head->addWidget(names_);
    layout->addLayout(head);
    field_->setObjectName("formulas");
    field_->setAccessibleName(label);
    field_->setToolTip(help);
    field_->setPlaceholderText(example);
    layout->addWidget(field_);
    connect(field_, &EquationField::taken, this, &FormulasField::taken);
}

void FormulasField::showText(const QString& text) {
    field_->showText(text);
}

void FormulasField::showNames(const analyses::AnalysisResult& result) {
    known_.clear();
    const auto at = std::ranges::find(result.tables, "names", &analyses::NamedTable::key);
    if (at == result.tables.end()) return;
    const auto& columns = at->table.columns;
    for (std::size_t r = 0; r < at->table.rowCount(); ++r) {
        const std::string &unit = columns[2].cells->texts[r], &meaning = columns[3].cells->texts[r];
        known_.push_back(
            {text(columns[0].cells->texts[r]), tr("%1 %2   %3")
                                                   .arg(text(readableNumber(columns[1].numbers()[r], 5)),
                                                        text(draw::unitPlain(unit)), text(meaning))});
    }
}

void FormulasField::mark(const Issue* wrong) {
    if (!wrong || (wrong->place.line == 0 && wrong->place.sign == 0)) return field_->mark(0, 0);
    field_->mark(wrong->place.line, wrong->place.sign);
}

// Put in where the cursor stands.
void FormulasField::offerNames() {
    QMenu* menu = newMenu(this);
    for (const Name& n : known_)
        connect(menu->addAction(n.spelling + "      " + n.words.simplified()), &QAction::triggered, this,
                [this, s = n.spelling] {
                    field_->setFocus();
                    field_->insertPlainText(s);
                });
    if (known_.empty()) menu->addAction(tr("Choose an analysis first"))->setEnabled(false);
    menu->popup(below(names_));
}

} // namespace jointer::app
