// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fit_further.h"

#include "analyses/fit_analysis.h"
#include "app/forms/number_text.h"
#include "app/forms/settings_form.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

namespace {

QString derivedText(const Settings& settings) {
    QStringList parts;
    for (const Settings& row : settings.rows("derive"))
        parts << text(row.text("name")) + " = " + text(row.text("formula"));
    return parts.join("; ");
}

// "tau = 1/b; s = a + c" as rows of the setting; one without a name goes by its formula.
RowList derivedRows(const QString& typed) {
    RowList rows;
    for (const QString& part : typed.split(';', Qt::SkipEmptyParts)) {
        if (part.trimmed().isEmpty()) continue;
        const auto equals = part.indexOf('=');
        Settings row;
        row.set("name", Value((equals < 0 ? part : part.left(equals)).trimmed().toStdString()));
        row.set("formula", Value((equals < 0 ? part : part.mid(equals + 1)).trimmed().toStdString()));
        rows.push_back(std::move(row));
    }
    return rows;
}

QLineEdit* line(const char* name, const QString& placeholder, const QString& tip) {
    auto* made = new QLineEdit;
    made->setObjectName(name);
    made->setPlaceholderText(placeholder);
    made->setToolTip(tip);
    return made;
}

} // namespace

FitFurther::FitFurther(QWidget* parent)
    : QWidget(parent), form_(new SettingsForm),
      derive_(line("derive", tr("such as tau = 1/b"),
                   tr("Further numbers from the parameters, with their errors; several with semicolons"))),
      predictAt_(line("predictAt", tr("x, such as 2; 5"),
                      tr("The curve at these x, with the intervals of the curve and of a new point"))),
      predicted_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    form_->setNarrowest(214);
    connect(form_, &SettingsForm::changed, this, &FitFurther::changed);
    column->addWidget(form_);
    auto* lines = new QFormLayout;
    lines->setHorizontalSpacing(12);
    lines->setVerticalSpacing(6);
    connect(derive_, &QLineEdit::editingFinished, this, &FitFurther::takeDerived);
    addLabelled(*lines, tr("Derive"), derive_);
    connect(predictAt_, &QLineEdit::textEdited, this, &FitFurther::showPredicted);
    addLabelled(*lines, tr("Predict at"), predictAt_);
    column->addLayout(lines);
    predicted_->setObjectName("predicted");
    predicted_->setWordWrap(true);
    predicted_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    predicted_->hide();
    column->addWidget(predicted_);
    column->addWidget(button(this, tr("a single step"), "link", tr("One iteration from the values shown"),
                             [this] { Q_EMIT stepWanted(); }),
                      0, Qt::AlignLeft);
}

void FitFurther::sync(const Settings& settings) {
    settings_ = settings;
    if (form_->kindShown() == analyses::fitSettings().key)
        form_->sync(settings);
    else
        form_->show(analyses::fitSettings(), settings);
    if (!derive_->hasFocus()) derive_->setText(derivedText(settings));
}

void FitFurther::showOutcome(const evaluate::AnalysisOutcome& outcome, DatasetId dataset) {
    last_ = outcome;
    dataset_ = dataset;
    showPredicted();
}

void FitFurther::takeDerived() {
    if (derive_->text() == derivedText(settings_)) return;
    RowList rows = derivedRows(derive_->text());
    Q_EMIT changed("derive",
                   rows.empty() ? Value() : Value(std::make_shared<const RowList>(std::move(rows))));
}

void FitFurther::showPredicted() {
    std::vector<double> xs;
    for (const QString& part : predictAt_->text().split(QRegularExpression("[;\\s]+"), Qt::SkipEmptyParts))
        if (const auto x = numberIn(part)) xs.push_back(*x);
    const analyses::NamedCurve* curve = last_.exists() ? last_->curve("fit", dataset_) : nullptr;
    predicted_->setVisible(!xs.empty() && curve);
    if (xs.empty() || !curve || !curve->sample) return;
    const analyses::Sampled at = curve->sample(xs);
    QStringList lines;
    for (std::size_t i = 0; i < xs.size(); ++i) {
        QString line =
            tr("%1: <b>%2</b>").arg(text(readableNumber(xs[i], 6)), text(readableNumber(at.y[i], 6)));
        if (i < at.confidence.size() && std::isfinite(at.confidence[i]))
            line += tr(" ± %1 (curve), ± %2 (a new point)")
                        .arg(text(readableNumber(at.confidence[i], 3)),
                             text(readableNumber(at.prediction[i], 3)));
        if (!curve->founded.takes(xs[i])) line += tr(" – beyond the points");
        lines << line;
    }
    predicted_->setText(lines.join("<br>"));
}

} // namespace jointer::app
