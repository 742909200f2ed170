// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/ingredient_row.h"

#include "analyses/ingredients.h"
#include "app/widgets.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QSignalBlocker>

namespace jointer::app {

namespace {

bool hasResolution(const Project& project, const Analysis& fit) {
    return std::ranges::any_of(fit.inputs, [&](const AnalysisInput& in) {
        const auto d = project.datasets.find(in.dataset);
        return d && std::ranges::any_of(d->source.roles,
                                        [](const RoleBinding& r) { return r.role == Role::Resolution; });
    });
}

} // namespace

IngredientRow::IngredientRow(AnalysisCard& card) : card_(card), grid_(new QGridLayout(this)) {
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setHorizontalSpacing(10);
    grid_->setVerticalSpacing(2);
    setObjectName("ingredients");
    hide();
}

void IngredientRow::build(const Analysis& fit) {
    clearLayout(grid_);
    boxes_.clear();
    int place = 0;
    for (const analyses::IngredientSwitch& s : analyses::ingredientsOf(fit.model)) {
        const QString words =
            s.component > 0 ? QString("%1 %2").arg(text(s.label)).arg(s.component) : text(s.label);
        auto* box = new QCheckBox(words);
        box->setObjectName("ingredient " + words);
        box->setToolTip(tr("Switched on, a dotted line shows the curve without it"));
        connect(box, &QCheckBox::toggled, this, [this, s](bool on) {
            const auto a = card_.analysis();
            const bool column = a && hasResolution(card_.document().project(), *a);
            card_.change((on ? tr("Switch on %1") : tr("Switch off %1")).arg(text(s.label)),
                         [=](Analysis& x) { analyses::switchIngredient(x, s, on, column); });
        });
        grid_->addWidget(box, place / 2, place % 2);
        ++place;
        boxes_.push_back(box);
    }
}

void IngredientRow::sync(const Analysis& fit) {
    const auto all = analyses::ingredientsOf(fit.model);
    std::vector<std::string> names;
    for (const analyses::IngredientSwitch& s : all) names.push_back(s.label + std::to_string(s.component));
    if (names != shown_) {
        shown_ = std::move(names);
        build(fit);
    }
    for (std::size_t k = 0; k < boxes_.size(); ++k) {
        const QSignalBlocker quiet(boxes_[k]);
        boxes_[k]->setChecked(all[k].on);
    }
    setVisible(!all.empty());
}

} // namespace jointer::app
