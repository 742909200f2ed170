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
#include <QSlider>
#include <cmath>

namespace jointer::app {

namespace {

constexpr int kSlides = 400; // steps of the slider

// To so many significant digits: nobody means the others.
double roundedTo(double value, int digits) {
    if (value == 0 || !std::isfinite(value)) return value;
    const double unit = std::pow(10.0, digits - 1 - std::floor(std::log10(std::abs(value))));
    return std::round(value * unit) / unit;
}

QLineEdit* field(const char* name, const QString& placeholder) {
    auto* made = new QLineEdit;
    made->setObjectName(name);
    made->setPlaceholderText(placeholder);
    return made;
}

} // namespace

ParameterDetails::ParameterDetails(const ParameterChoice& choice, std::optional<double> now, bool several,
                                   QWidget* parent)
    : QFrame(parent), choice_(choice), now_(now), treatment_(new QComboBox),
      start_(field("startValue", tr("automatic"))), low_(field("limitLow", tr("none"))),
      high_(field("limitHigh", tr("none"))), tie_(field("tie", tr("such as 2*b"))) {
    setObjectName("card");
    for (const char* key : {"free", "fixed", "tied"}) treatment_->addItem(tr(key), key);
    if (several) treatment_->insertItem(1, tr("shared"), "shared");
    treatment_->setObjectName("treatment");
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
    buildSlider(*form);
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
    fill();
}

void ParameterDetails::fill() {
    treatment_->setCurrentIndex(treatment_->findData(text(treatmentKey(choice_.treatment))));
    auto put = [](QLineEdit* field, const QString& words) {
        if (!field->hasFocus() && field->text() != words) field->setText(words);
    };
    put(start_, choice_.start ? text(shortestNumber(*choice_.start)) : QString());
    put(low_, endText(choice_.lower));
    put(high_, endText(choice_.upper));
    put(tie_, text(choice_.tie));
}

void ParameterDetails::sync(const ParameterChoice& choice, bool several) {
    const int shared = treatment_->findData("shared");
    if (several && shared < 0) treatment_->insertItem(1, tr("shared"), "shared");
    if (!several && shared >= 0) treatment_->removeItem(shared);
    choice_ = choice;
    fill();
}

// From limit to limit where there are two, else as far again on both sides as the value is from nought.
std::pair<double, double> ParameterDetails::slideRange() const {
    const double at = choice_.start.value_or(now_.value_or(1));
    const double reach = at == 0 ? 1 : std::abs(at);
    double low = std::isfinite(choice_.lower) ? choice_.lower : at - reach,
           high = std::isfinite(choice_.upper) ? choice_.upper : at + reach;
    if (!(low < high)) low = at - reach, high = at + reach;
    return {std::min(low, at), std::max(high, at)};
}

void ParameterDetails::buildSlider(QFormLayout& form) {
    range_ = slideRange();
    slider_ = new QSlider(Qt::Horizontal);
    slider_->setObjectName("startSlider");
    slider_->setRange(0, kSlides);
    slider_->setToolTip(tr("Moves the start value; the curve follows, and is fitted when you press Fit."));
    const double at = choice_.start.value_or(now_.value_or(range_.first));
    slider_->setValue(static_cast<int>(
        std::lround(kSlides * (at - range_.first) / std::max(range_.second - range_.first, 1e-300))));
    addLabelled(form, tr("Slide"), slider_);
    connect(slider_, &QSlider::sliderPressed, this, &ParameterDetails::dragBegan);
    connect(slider_, &QSlider::sliderReleased, this, &ParameterDetails::dragEnded);
    connect(slider_, &QSlider::valueChanged, this, [this](int step) {
        const double value =
            roundedTo(std::lerp(range_.first, range_.second, static_cast<double>(step) / kSlides), 5);
        choice_.start = value;
        start_->setText(text(shortestNumber(value)));
        Q_EMIT slid(value);
    });
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
