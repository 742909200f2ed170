// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/peak_rows.h"

#include "analyses/fit_edits.h"
#include "analyses/peaks/peak_edits.h"
#include "app/controls.h"
#include "app/panes/parameter_details.h"
#include "app/panes/parameter_grid.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace jointer::app {

namespace {

QString withError(const analyses::Quantity& q) {
    return text(readableWithError(q.value, q.se).text());
}

} // namespace

PeakRows::PeakRows(AnalysisCard& card, QWidget* parent)
    : QWidget(parent), card_(card), layout_(new QVBoxLayout(this)) {
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(0);
    setObjectName("peakRows");
}

const analyses::PeaksDetail* PeakRows::detail() const {
    return result_ ? analyses::peaksDetail(*result_) : nullptr;
}

void PeakRows::edit(const QString& name,
                    const std::function<void(Analysis&, const analyses::PeaksDetail&)>& how) {
    if (const analyses::PeaksDetail* shown = detail())
        card_.change(name, [=, keep = result_](Analysis& a) { how(a, *shown); });
}

void PeakRows::show(std::shared_ptr<const analyses::AnalysisResult> result) {
    result_ = std::move(result);
    const analyses::PeaksDetail* d = detail();
    bool same = d && rows_.size() == d->plan.peaks.size();
    for (std::size_t k = 0; same && k < rows_.size(); ++k) same = rows_[k].number == d->plan.peaks[k].number;
    if (!same) rebuild();
    fill();
    sync();
}

void PeakRows::showQuantity(const std::string& key) {
    quantity_ = key;
    fill();
}

void PeakRows::rebuild() {
    rows_.clear();
    open_ = nullptr;
    openParameter_.clear();
    selected_ = 0;
    clearLayout(layout_);
    const analyses::PeaksDetail* d = detail();
    if (!d) return;
    for (const analyses::PlannedPeak& p : d->plan.peaks) {
        const Row row{.number = p.number, .button = new RowButton};
        row.button->setToolTip(tr("Click for its name, shape and parameters"));
        connect(row.button, &QPushButton::clicked, this, [this, number = p.number] {
            card_.document().selectPeak(card_.document().peak() == number ? 0 : number);
            sync();
        });
        layout_->addWidget(row.button);
        layout_->addWidget(hairline());
        rows_.push_back(row);
    }
}

void PeakRows::fill() {
    const analyses::PeaksDetail* d = detail();
    if (!d) return;
    for (std::size_t k = 0; k < rows_.size(); ++k) {
        const analyses::PlannedPeak& p = d->plan.peaks[k];
        const Row& row = rows_[k];
        const auto value = [&](const std::string& name) {
            return result_->find(models::nameInWhole(name, p.number));
        };
        const analyses::Quantity* place = value("maximum") ? value("maximum") : value("centre");
        std::vector<std::string> held;
        bool good = true;
        for (std::size_t i = 0; i < p.begin.size() - p.partner.size(); ++i)
            if (const auto* q = value(p.model->parameters()[i].name)) {
                if (q->state == "fixed" || q->state == "tied") held.push_back(q->label + " " + q->state);
                if (q->state == "on limit") held.push_back(q->label + " on limit"), good = false;
            }
        const analyses::Quantity* q = value(quantity_);
        if (!q && quantity_ == "area") q = value("area_in_span");
        const QString name = quantity_ == "fwhm" ? tr("FWHM")
                             : q                 ? text(q->label).replace('_', ' ')
                                                 : QString();
        const QString unit =
            q && !q->unit.empty() && quantity_ != "area" ? " " + text(draw::unitPlain(q->unit)) : QString();
        const QString how = held.empty() ? QString() : text(held.size() > 2 ? "held" : joined(held, ", "));
        row.button->setWords({.name = text(p.called()),
                              .value = place ? withError(*place) : QString(),
                              .below = text(p.shape.name) + (how.isEmpty() ? how : " · " + how),
                              .belowValue = q ? name + " " + withError(*q) + unit : QString(),
                              .doubtful = !good});
    }
    if (open_) fillOpen();
}

void PeakRows::sync() {
    const int wanted = card_.document().peak();
    for (const Row& row : rows_) row.button->setChecked(row.number == wanted);
    if (wanted == selected_) return;
    selected_ = wanted;
    openSelected();
}

void PeakRows::openSelected() {
    if (open_) {
        layout_->removeWidget(open_);
        discard(open_);
    }
    open_ = nullptr;
    openParameter_.clear();
    const auto at = std::ranges::find(rows_, selected_, &Row::number);
    if (at == rows_.end()) return;
    open_ = new QWidget;
    auto* box = new QVBoxLayout(open_);
    box->setContentsMargins(7, 4, 0, 8);
    box->setSpacing(5);
    box->addLayout(buildForm());
    parameters_ = new ParameterGrid;
    parameters_->setObjectName("peakParameters");
    parameters_->setAccessibleName(tr("Parameters of the peak"));
    connect(parameters_, &QTableWidget::cellClicked, this, [this](int row, int) { openParameter(row); });
    box->addWidget(parameters_);
    details_ = new QVBoxLayout;
    box->addLayout(details_);
    ties_ = new QVBoxLayout;
    ties_->setSpacing(0);
    tiesShown_.clear();
    box->addLayout(ties_);
    box->addLayout(buildLinks());
    layout_->insertWidget(layout_->indexOf(at->button) + 1, open_);
    fillOpen();
}

QLayout* PeakRows::buildForm() {
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(10);
    name_ = new QLineEdit;
    name_->setObjectName("peakName");
    name_->setPlaceholderText(tr("its name"));
    connect(name_, &QLineEdit::editingFinished, this, [this, number = selected_] {
        const std::string typed = name_->text().trimmed().toStdString();
        const analyses::PlannedPeak* p = detail() ? detail()->plan.find(number) : nullptr;
        if (!p || typed == p->name || (typed.empty() && !p->isNamed())) return;
        edit(tr("Name peak"),
             [=](Analysis& a, const auto& shown) { analyses::namePeak(a, shown, number, typed); });
    });
    addLabelled(*form, tr("Name"), name_);
    shape_ = new QComboBox;
    shape_->setObjectName("peakShape");
    shape_->addItem(tr("as all"), QString());
    for (const std::string& key : models::peakShapeKeys())
        shape_->addItem(text(models::catalogue().find(key)->info.name), text(key));
    shape_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    connect(shape_, &QComboBox::activated, this, [this, number = selected_] {
        edit(tr("Shape of peak"),
             [=, key = shape_->currentData().toString().toStdString()](Analysis& a, const auto& shown) {
                 analyses::shapePeak(a, shown, number, key);
             });
    });
    addLabelled(*form, tr("Shape"), shape_);
    return form;
}

QLayout* PeakRows::buildLinks() {
    auto* links = new QHBoxLayout;
    links->setSpacing(12);
    links->addWidget(button(
        this, tr("fit only this"), "link", tr("All others stay where they are"), [this, number = selected_] {
            edit(tr("Fit one peak"),
                 [=](Analysis& a, const auto& shown) { analyses::fitOnly(a, shown, number); });
        }));
    tie_ = button(this, tr("tie ▾"), "link", tr("Keep a distance or a ratio to another peak"),
                  [this] { offerTies(); });
    tie_->setVisible(rows_.size() > 1);
    links->addWidget(tie_);
    links->addWidget(button(this, tr("take it out"), "link", tr("Remove the peak (Delete on its handle)"),
                            [this, number = selected_] {
                                edit(tr("Remove peak"), [=](Analysis& a, const auto& shown) {
                                    analyses::removePeak(a, shown, number);
                                });
                            }));
    links->addStretch(1);
    return links;
}

void PeakRows::fillOpen() {
    const analyses::PeaksDetail* d = detail();
    const analyses::PlannedPeak* p = d ? d->plan.find(selected_) : nullptr;
    if (!p) return;
    if (!name_->hasFocus()) name_->setText(p->isNamed() ? text(p->name) : QString());
    const auto a = card_.analysis();
    std::string own;
    for (const Settings& row : a ? a->settings.rows("peaks") : RowList())
        if (row.integer("number") == selected_) own = row.text("shape");
    shape_->setCurrentIndex(std::max(0, shape_->findData(text(own))));
    analyses::AnalysisResult mine;
    for (const analyses::Quantity& q : result_->quantities)
        if (q.component == selected_) {
            mine.quantities.push_back(q);
            std::string& label = mine.quantities.back().label;
            std::ranges::replace(label, '_', ' ');
            mine.quantities.back().subject.clear(); // it stands above
        }
    fillTies();
    parameters_->showLines(quantityLines(mine, card_.document().dataset()));
}

namespace {

const std::pair<const char*, QString> kTies[] = {{"width-ratio", QObject::tr("ratio of widths")},
                                                 {"distance", QObject::tr("distance")},
                                                 {"area-ratio", QObject::tr("ratio of areas")},
                                                 {"height-ratio", QObject::tr("ratio of heights")}};

QString tieName(const std::string& what) {
    for (const auto& [key, words] : kTies)
        if (what == key) return words;
    return text(what);
}

} // namespace

// To each other peak, at the value that it has now; a width also at one.
void PeakRows::offerTies() {
    const analyses::PeaksDetail* d = detail();
    if (!d) return;
    QMenu* menu = newMenu(this);
    for (const analyses::PlannedPeak& other : d->plan.peaks) {
        if (other.number == selected_) continue;
        QMenu* to = menu->addMenu(tr("to %1").arg(text(other.called())));
        const auto add = [&](const QString& words, const std::string& what, double value) {
            connect(to->addAction(words), &QAction::triggered, this,
                    [this, what, value, of = selected_, number = other.number] {
                        edit(tr("Tie peaks"), [=](Analysis& a, const auto& shown) {
                            analyses::tiePeaks(a, shown, what, of, number, value);
                        });
                    });
        };
        add(tr("the same width"), "width-ratio", 1);
        for (const auto& [what, words] : kTies)
            if (const double value = analyses::tieValue(*d, what, selected_, other.number);
                std::isfinite(value))
                add(tr("%1 kept at %2").arg(words, text(readableNumber(value, 4))), what, value);
    }
    menu->popup(below(tie_));
}

// The ties of the selected peak, each with what releases it.
void PeakRows::fillTies() {
    const auto a = card_.analysis();
    std::vector<Settings> mine;
    std::string told;
    for (const Settings& row : a ? a->settings.rows("ties") : RowList())
        if (row.integer("of") == selected_) {
            mine.push_back(row);
            told += row.text("what") + std::to_string(row.integer("to")) +
                    readableNumber(row.number("value"), 8) + " ";
        }
    if (told == tiesShown_) return;
    tiesShown_ = told;
    clearLayout(ties_);
    for (const Settings& row : mine) {
        const std::string what = row.text("what", "distance");
        const int to = row.integer("to");
        const analyses::PlannedPeak* other = detail() ? detail()->plan.find(to) : nullptr;
        ties_->addWidget(button(this,
                                tr("× %1 to %2: %3")
                                    .arg(tieName(what), other ? text(other->called()) : QString::number(to),
                                         text(readableNumber(row.number("value"), 4))),
                                "link", tr("Release the tie"),
                                [this, what, of = selected_, to] {
                                    edit(tr("Release tie"), [=](Analysis& peaks, const auto&) {
                                        analyses::untiePeaks(peaks, what, of, to);
                                    });
                                }),
                         0, Qt::AlignLeft);
    }
}

void PeakRows::openParameter(int row) {
    clearLayout(details_);
    const analyses::PeaksDetail* d = detail();
    const analyses::PlannedPeak* p = d ? d->plan.find(selected_) : nullptr;
    std::string name = parameters_->nameAt(row);
    std::ranges::replace(name, ' ', '_');
    const bool isParameter =
        p && std::ranges::count(p->model->parameters(), name, &models::ParameterInfo::name) > 0;
    const std::string whole = models::nameInWhole(name, selected_);
    const auto a = card_.analysis();
    if (!isParameter || whole == openParameter_ || !a) {
        openParameter_.clear();
        return;
    }
    openParameter_ = whole;
    const auto at = std::ranges::find(a->parameters, whole, &ParameterChoice::name);
    const analyses::Quantity* q = result_->find(whole);
    auto* details = new ParameterDetails(at == a->parameters.end() ? ParameterChoice{.name = whole} : *at,
                                         q ? std::optional(q->value) : std::nullopt, false);
    connect(details, &ParameterDetails::changed, this,
            [this, whole](const QString& said, const std::function<void(ParameterChoice&)>& how) {
                edit(said, [=](Analysis& peaks, const auto& shown) {
                    analyses::takeOver(peaks, shown); // what is said of one holds for it, whatever is found
                    how(analyses::choiceOf(peaks, whole));
                    std::erase(peaks.parameters, ParameterChoice{.name = whole});
                });
            });
    details_->addWidget(details);
}

} // namespace jointer::app
