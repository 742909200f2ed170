// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fit_further.h"

#include "analyses/fit_analysis.h"
#include "app/forms/number_text.h"
#include "app/forms/settings_form.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
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

RowList scheduleRows(const QString& typed) {
    RowList rows;
    for (const QString& step : typed.split(';', Qt::SkipEmptyParts))
        if (!step.trimmed().isEmpty())
            rows.emplace_back().set("release", Value(step.simplified().toStdString()));
    return rows;
}

Value rowsOrNone(RowList rows) {
    return rows.empty() ? Value() : Value(std::make_shared<const RowList>(std::move(rows)));
}

QLineEdit* line(const char* name, const QString& placeholder, const QString& tip) {
    auto* made = new QLineEdit;
    made->setObjectName(name);
    made->setPlaceholderText(placeholder);
    made->setToolTip(tip);
    return made;
}

// The label and what goes with it stand above: the field has the whole width.
void addBelow(QVBoxLayout& column, const QString& label, QLineEdit* field, QPushButton* beside) {
    auto* head = new QHBoxLayout;
    head->addWidget(muted(label), 1);
    head->addWidget(beside);
    column.addLayout(head);
    field->setAccessibleName(label);
    column.addWidget(field);
}

} // namespace

QString scheduleText(const Settings& settings) {
    QStringList steps;
    for (const Settings& row : settings.rows("schedule")) steps << text(row.text("release"));
    return steps.join("; ");
}

Value scheduleFrom(const QString& typed) {
    return rowsOrNone(scheduleRows(typed));
}

FitFurther::FitFurther(QWidget* parent)
    : QWidget(parent), form_(new SettingsForm),
      derive_(line("derive", tr("such as tau = 1/b"),
                   tr("Further numbers from the parameters and the curve, with their errors; several with "
                      "semicolons"))),
      schedule_(
          line("schedule", tr("such as height, centre; fwhm"),
               tr("Which parameters are let free first, then which more; at the end all are. Semicolons "
                  "between the steps"))),
      predictAt_(line("predictAt", tr("x, such as 2; 5"),
                      tr("The curve at these x, with the intervals of the curve and of a new point"))),
      predicted_(new QLabel), ends_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    form_->setNarrowest(214);
    connect(form_, &SettingsForm::changed, this, &FitFurther::changed);
    column->addWidget(form_);
    connect(derive_, &QLineEdit::editingFinished, this, &FitFurther::takeDerived);
    numbers_ = button(this, tr("of the curve ▾"), "link", tr("Area, slope, extreme, crossing of the curve"),
                      [this] { offerNumbers(); });
    numbers_->setAccessibleName(tr("Numbers of the curve"));
    addBelow(*column, tr("Derive"), derive_, numbers_);
    connect(schedule_, &QLineEdit::editingFinished, this, &FitFurther::takeSchedule);
    record_ = button(this, tr("record"), "link",
                     tr("While it is pressed, each Fit adds what is free then as a step"), [] {});
    record_->setCheckable(true);
    addBelow(*column, tr("Release"), schedule_, record_);
    connect(predictAt_, &QLineEdit::textEdited, this, &FitFurther::showPredicted);
    auto* follow =
        button(this, tr("column… ▾"), "link", tr("A column of a table that follows this fit"), [] {});
    follow->setAccessibleName(tr("Column that follows the fit"));
    connect(follow, &QPushButton::clicked, this, [this, follow] { Q_EMIT columnWanted(below(follow)); });
    addBelow(*column, tr("Predict at"), predictAt_, follow);
    predicted_->setObjectName("predicted");
    predicted_->setWordWrap(true);
    predicted_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    predicted_->hide();
    column->addWidget(predicted_);
    ends_->setObjectName("ends");
    ends_->setWordWrap(true);
    ends_->setTextFormat(Qt::RichText);
    ends_->hide();
    column->addWidget(ends_);
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
    if (!schedule_->hasFocus()) schedule_->setText(scheduleText(settings));
}

void FitFurther::showOutcome(const evaluate::AnalysisOutcome& outcome, DatasetId dataset) {
    last_ = outcome;
    dataset_ = dataset;
    showPredicted();
    showEnds();
}

bool FitFurther::isRecording() const {
    return record_->isChecked();
}

// Steps of release, and where fits from several starts ended.
void FitFurther::showEnds() {
    const analyses::FitDetail* detail = last_.exists() ? analyses::fitDetail(*last_) : nullptr;
    QStringList lines;
    if (detail) {
        int number = 0;
        for (const fit::Stage& stage : detail->report.stages)
            lines << tr("Step %1 (%2): residual sum %3")
                         .arg(++number)
                         .arg(text(joined(stage.released, ", ")), text(readableNumber(stage.rss, 5)));
        if (detail->report.ends.size() > 0) lines << tr("<b>Ends from several starts</b>");
        for (const fit::End& end : detail->report.ends)
            lines << tr("%1: residual sum %2, %3")
                         .arg(text(counted(end.count, "start")), text(readableNumber(end.rss, 5)),
                              text(fit::stateText(end.state)));
    }
    ends_->setVisible(!lines.isEmpty());
    ends_->setText(lines.join("<br>"));
}

// Adds a number of the curve to those that are derived; the ends are those of the span, to be changed.
void FitFurther::offerNumbers() {
    const analyses::NamedCurve* curve = last_.exists() ? last_->curve("fit", dataset_) : nullptr;
    const Span over = curve ? curve->founded : Span();
    const bool ends = std::isfinite(over.low()) && std::isfinite(over.high());
    const double centre = ends ? (over.low() + over.high()) / 2 : 0;
    const auto typed = [](double v) { return QString::number(v, 'g', 5); };
    const QString low = typed(ends ? over.low() : 0), high = typed(ends ? over.high() : 1),
                  middle = typed(centre),
                  level = curve && curve->sample ? typed(curve->sample({centre}).y[0]) : "0";
    QMenu* menu = newMenu(this);
    const auto add = [&](const QString& words, const QString& formula) {
        connect(menu->addAction(words), &QAction::triggered, this, [this, formula] {
            const QString now = derive_->text().trimmed();
            derive_->setText(now.isEmpty() ? formula : now + "; " + formula);
            derive_->setFocus();
            takeDerived();
        });
    };
    add(tr("Area below the curve"), QString("area = area(%1, %2)").arg(low, high));
    add(tr("Slope at a place"), QString("slope_there = slope(%1)").arg(middle));
    add(tr("Largest value, and where"),
        QString("highest = maximum(%1, %2); highest_at = maximum_at(%1, %2)").arg(low, high));
    add(tr("Smallest value, and where"),
        QString("lowest = minimum(%1, %2); lowest_at = minimum_at(%1, %2)").arg(low, high));
    add(tr("Where it crosses a value"), QString("crossing_at = crossing(%1)").arg(level));
    menu->popup(below(numbers_));
}

void FitFurther::takeSchedule() {
    if (schedule_->text() == scheduleText(settings_)) return;
    Q_EMIT changed("schedule", rowsOrNone(scheduleRows(schedule_->text())));
}

void FitFurther::takeDerived() {
    if (derive_->text() == derivedText(settings_)) return;
    Q_EMIT changed("derive", rowsOrNone(derivedRows(derive_->text())));
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
