// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/parameter_details.h"

#include "app/forms/number_text.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <cmath>

namespace jointer::app {

namespace {

QLineEdit* field(const char* name, const QString& content, const QString& placeholder) {
    auto* made = new QLineEdit(content);
    made->setObjectName(name);
    made->setPlaceholderText(placeholder);
    return made;
}

} // namespace

ParameterDetails::ParameterDetails(const ParameterChoice& choice, std::optional<double> now, bool several,
                                   QWidget* parent)
    : QFrame(parent), choice_(choice), now_(now), treatment_(new QComboBox),
      start_(field("startValue", choice.start ? text(shortestNumber(*choice.start)) : QString(),
                   tr("automatic"))),
      low_(field("limitLow", endText(choice.lower), tr("none"))),
      high_(field("limitHigh", endText(choice.upper), tr("none"))),
      tie_(field("tie", text(choice.tie), tr("such as 2*b"))) {
    setObjectName("card");
    for (const char* key : {"free", "fixed", "tied"}) treatment_->addItem(tr(key), key);
    if (several) treatment_->insertItem(1, tr("shared"), "shared");
    treatment_->setObjectName("treatment");
    treatment_->setCurrentIndex(treatment_->findData(text(treatmentKey(choice.treatment))));
    treatment_->setToolTip(
        tr("Free: fitted. Fixed: kept at its start value. Tied: follows a formula of others.") +
        (several ? " " + tr("Shared: one value for all datasets.") : QString()));
    start_->setToolTip(tr("Where the fit begins; empty takes it from the data."));
    for (QLineEdit* end : {low_, high_})
        end->setToolTip(tr("The fit does not go beyond; empty is no limit."));
    tie_->setToolTip(tr("A formula of the other parameters; choose “tied” to use it."));
    auto* form = new QFormLayout(this);
    form->setContentsMargins(8, 6, 8, 6);
    form->setVerticalSpacing(5);
    auto* limits = new QHBoxLayout;
    limits->addWidget(low_);
    limits->addWidget(new QLabel("…"));
    limits->addWidget(high_);
    addLabelled(*form, text(choice.name), treatment_);
    addLabelled(*form, tr("Start"), start_);
    form->addRow(muted(tr("Limits")), limits);
    addLabelled(*form, tr("Tie"), tie_);
    connect(treatment_, &QComboBox::activated, this, &ParameterDetails::takeTreatment);
    connect(start_, &QLineEdit::editingFinished, this, [this] {
        const auto typed = numberIn(start_->text());
        if (typed == choice_.start) return;
        choice_.start = typed;
        Q_EMIT changed(tr("Start value of %1").arg(text(choice_.name)),
                       [typed](ParameterChoice& p) { p.start = typed; });
    });
    connect(tie_, &QLineEdit::editingFinished, this, [this] {
        const std::string typed = tie_->text().toStdString();
        if (choice_.treatment != Treatment::Tied || typed == choice_.tie) return;
        choice_.tie = typed;
        Q_EMIT changed(tr("Tie %1").arg(text(choice_.name)), [typed](ParameterChoice& p) { p.tie = typed; });
    });
    connect(low_, &QLineEdit::editingFinished, this, &ParameterDetails::takeLimits);
    connect(high_, &QLineEdit::editingFinished, this, &ParameterDetails::takeLimits);
}

void ParameterDetails::takeTreatment() {
    choice_.treatment = treatmentFromKey(treatment_->currentData().toString().toStdString());
    if (choice_.treatment == Treatment::Fixed && now_) choice_.start = now_;
    start_->setText(choice_.start ? text(shortestNumber(*choice_.start)) : QString());
    if (choice_.treatment == Treatment::Tied && choice_.tie.empty()) choice_.tie = "1";
    tie_->setText(text(choice_.tie));
    Q_EMIT changed(tr("Treat %1 as %2").arg(text(choice_.name), text(treatmentKey(choice_.treatment))),
                   [now = choice_](ParameterChoice& p) { p = now; });
}

void ParameterDetails::takeLimits() {
    const double low = numberIn(low_->text()).value_or(-INFINITY),
                 high = numberIn(high_->text()).value_or(INFINITY);
    if (low == choice_.lower && high == choice_.upper) return;
    choice_.lower = low;
    choice_.upper = high;
    Q_EMIT changed(tr("Limits of %1").arg(text(choice_.name)),
                   [low, high](ParameterChoice& p) { p.lower = low, p.upper = high; });
}

} // namespace jointer::app
