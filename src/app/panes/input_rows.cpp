// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/input_rows.h"

#include "app/forms/span_fields.h"
#include "app/widgets.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>

namespace jointer::app {

InputRows::InputRows(AnalysisCard& card, QFormLayout& form)
    : QObject(&card), card_(card), span_(new SpanFields), points_(new QComboBox), weights_(new QComboBox) {
    connect(span_, &SpanFields::changed, this, [this](const Span& span) {
        card_.changeInput(tr("Change span"), [=](AnalysisInput& in) { in.span = span; });
    });
    form.addRow(muted(tr("Span")), span_);
    for (const auto& [label, key] :
         {std::pair(tr("before smoothing"), "before-smoothing"), std::pair(tr("after all steps"), "end"),
          std::pair(tr("as measured"), "measured")})
        points_->addItem(label, key);
    for (const auto& [key, name] : card_.document().placesOf(card_.document().dataset()))
        points_->addItem(text(name), text(key));
    points_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    points_->setToolTip(tr("Which state of the protocol is fitted. Smoothed points make errors too small."));
    connect(points_, &QComboBox::activated, this, [this] {
        card_.changeInput(tr("Choose points"),
                          [key = points_->currentData().toString().toStdString()](AnalysisInput& in) {
                              in.point = CurvePoint::fromText(key);
                          });
    });
    addLabelled(form, tr("Points"), points_);
    const Setting& rule = *analyses::weightSettings().find("weights");
    weights_->addItem(text(rule.whenEmpty), QString());
    for (const Choice& c : rule.choices) weights_->addItem(text(c.label), text(c.key));
    weights_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    weights_->setToolTip(text(rule.help));
    connect(weights_, &QComboBox::activated, this, [this] {
        card_.changeInput(tr("Choose weights"),
                          [key = weights_->currentData().toString().toStdString()](AnalysisInput& in) {
                              if (key.empty())
                                  in.weights.remove("weights");
                              else
                                  in.weights.set("weights", Value(key));
                          });
    });
    addLabelled(form, tr("Weights"), weights_);
}

void InputRows::sync() {
    const AnalysisInput input = card_.input();
    span_->show(input.span);
    points_->setCurrentIndex(std::max(0, points_->findData(text(input.point.text()))));
    weights_->setCurrentIndex(std::max(0, weights_->findData(text(input.weights.text("weights")))));
}

} // namespace jointer::app
