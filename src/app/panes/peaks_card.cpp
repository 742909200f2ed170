// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/peaks_card.h"

#include "analyses/fit_edits.h"
#include "analyses/peaks/peak_edits.h"
#include "app/controls.h"
#include "app/forms/settings_form.h"
#include "app/panes/fit_further.h"
#include "app/panes/input_rows.h"
#include "app/panes/model_picture.h"
#include "app/panes/peak_rows.h"
#include "app/panes/quality_text.h"
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
#include <QSlider>
#include <QVBoxLayout>
#include <fmt/format.h>

namespace jointer::app {

namespace {

constexpr const char* kFirstShapes[] = {"gaussian", "lorentzian", "voigt", "pseudo-voigt"};
constexpr std::pair<const char*, const char*> kShown[] = {
    {"area", QT_TRANSLATE_NOOP("PeaksCard", "area")},
    {"height", QT_TRANSLATE_NOOP("PeaksCard", "height")},
    {"fwhm", QT_TRANSLATE_NOOP("PeaksCard", "FWHM")},
    {"area_share", QT_TRANSLATE_NOOP("PeaksCard", "share of area")},
    {"signal_to_noise", QT_TRANSLATE_NOOP("PeaksCard", "signal to noise")}};

std::string& shownLast() { // the quantity that rows show, the same in all sets
    static std::string key = "area";
    return key;
}

} // namespace

PeaksCard::PeaksCard(Document& document, AnalysisId id, QWidget* parent)
    : AnalysisCard(document, id, parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(6);
    buildShapes(*layout);
    buildAll(*layout);
    rows_ = new PeakRows(*this);
    rows_->showQuantity(shownLast());
    layout->addWidget(rows_);
    buildFinding(*layout);
    buildButtons(*layout);
    error_ = errorLabel();
    layout->addWidget(error_);
    quality_ = new QLabel;
    quality_->setTextFormat(Qt::RichText);
    quality_->setWordWrap(true);
    layout->addWidget(quality_);
    warnings_ = warningLabel();
    layout->addWidget(warnings_);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(6);
    inputs_ = new InputRows(*this, *form);
    release_ = new QLineEdit;
    release_->setObjectName("peaksRelease");
    release_->setPlaceholderText(tr("such as height; centre; fwhm"));
    release_->setToolTip(
        tr("Parameters let free step by step before all are: names of all peaks (centre), of one "
           "(centre_2), or baseline; steps end with a semicolon"));
    connect(release_, &QLineEdit::editingFinished, this, [this] {
        const auto a = analysis();
        if (a && release_->text() != scheduleText(a->settings))
            changeSetting(tr("Steps of release"), "schedule", scheduleFrom(release_->text()));
    });
    addLabelled(*form, tr("Release"), release_);
    layout->addLayout(form);
    names_ = button(this, {}, "link", {}, [this] { offerNames(); });
    layout->addWidget(names_, 0, Qt::AlignLeft);
    layout->addWidget(button(this, tr("+ sizes from widths"), "link",
                             tr("Size of crystallites and strain from the widths of these lines"),
                             [this] { addSizes(); }),
                      0, Qt::AlignLeft);
    connect(&document_, &Document::changed, this, &PeaksCard::sync);
    connect(&document_, &Document::selectionChanged, this, [this] { rows_->sync(); });
    sync();
}

// The commonest as pictures, the others in a menu; and what the peaks stand on.
void PeaksCard::buildShapes(QVBoxLayout& layout) {
    auto* row = new QHBoxLayout;
    row->setSpacing(2);
    for (const char* key : kFirstShapes) {
        auto* shape = new QPushButton;
        shape->setObjectName("tile");
        shape->setCheckable(true);
        shape->setFixedSize(37, 30);
        shape->setIcon(QIcon(QPixmap::fromImage(modelPicture(key, devicePixelRatioF()))));
        shape->setIconSize({34, 22});
        const std::string& name = models::catalogue().find(key)->info.name;
        shape->setToolTip(text(name));
        shape->setAccessibleName(text(name));
        connect(shape, &QPushButton::clicked, this, [this, key] { chooseShape(key); });
        row->addWidget(shape);
        shapes_.push_back(shape);
    }
    moreShapes_ = button(this, tr("more ▾"), "link", tr("Further shapes, and an equation of your own"),
                         [this] { offerShapes(); });
    row->addWidget(moreShapes_);
    row->addStretch(1);
    layout.addLayout(row);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(12);
    baseline_ = new QComboBox;
    baseline_->setObjectName("peaksBaseline");
    const Setting& s = *analyses::peaksSettings().find("baseline");
    for (const Choice& c : s.choices) baseline_->addItem(text(c.label), text(c.key));
    baseline_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    baseline_->setToolTip(text(s.help));
    connect(baseline_, &QComboBox::activated, this, [this] {
        change(tr("Change baseline"), [key = baseline_->currentData().toString().toStdString()](Analysis& a) {
            a.settings.set("baseline", Value(key));
        });
    });
    addLabelled(*form, tr("Baseline"), baseline_);
    layout.addLayout(form);
}

void PeaksCard::offerShapes() {
    QMenu* menu = newMenu(this);
    for (const std::string& key : models::peakShapeKeys()) {
        QAction* action = menu->addAction(text(models::catalogue().find(key)->info.name));
        action->setToolTip(text(models::catalogue().find(key)->info.purpose));
        connect(action, &QAction::triggered, this, [this, key] { chooseShape(key); });
    }
    menu->addSeparator();
    const auto addEquation = [this, menu](const QString& name, const std::string& equation) {
        connect(menu->addAction(name), &QAction::triggered, this, [this, equation] {
            change(tr("Shape of peaks"), [equation](Analysis& a) {
                a.model = {.kind = "equation"};
                a.model.settings.set("equation", Value(equation));
            });
        });
    };
    addEquation(tr("An equation of your own"), "height*exp(-abs((x - centre)/width)^3)");
    for (const auto& m : document_.project().models) addEquation(text(m->name), m->equation);
    menu->popup(below(moreShapes_));
}

void PeaksCard::chooseShape(const std::string& key) {
    change(tr("Shape of peaks"), [key](Analysis& a) {
        a.model = {.kind = key};
        std::erase_if(a.parameters, [](const ParameterChoice& p) { // of widths made otherwise
            return !p.name.starts_with("centre") && !p.name.starts_with("fwhm");
        });
    });
    sync();
}

// What is set here goes to every peak.
void PeaksCard::buildAll(QVBoxLayout& layout) {
    all_ = new RowButton;
    all_->setObjectName("allPeaks");
    all_->setTinted(true);
    all_->setToolTip(tr("Limits, widths and partners of all peaks; how they are found and fitted"));
    layout.addWidget(all_);
    shown_ = new QComboBox;
    shown_->setObjectName("peaksShown");
    shown_->setAccessibleName(tr("Quantity shown"));
    shown_->setToolTip(tr("Which quantity the rows show"));
    for (const auto& [key, words] : kShown) shown_->addItem(tr("shows %1").arg(tr(words)), key);
    shown_->setCurrentIndex(shown_->findData(text(shownLast())));
    connect(shown_, &QComboBox::activated, this, [this] {
        shownLast() = shown_->currentData().toString().toStdString();
        rows_->showQuantity(shownLast());
    });
    settings_ = new SettingsForm;
    settings_->setObjectName("peaksSettings");
    settings_->setNarrowest(214);
    settings_->foldGroups();
    for (const char* group : {"All peaks", "Partner"}) settings_->unfold(group);
    settings_->hide();
    connect(all_, &QPushButton::toggled, settings_, &QWidget::setVisible);
    connect(settings_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        changeSetting(tr("Change peaks"), key, value);
    });
    layout.addWidget(settings_);
    auto* row = new QHBoxLayout;
    row->addStretch(1);
    row->addWidget(shown_);
    layout.addLayout(row);
}

// Of a draft: how many of those that were found.
void PeaksCard::buildFinding(QVBoxLayout& layout) {
    finding_ = new QWidget;
    auto* row = new QHBoxLayout(finding_);
    row->setContentsMargins(0, 0, 0, 0);
    countWords_ = muted({});
    row->addWidget(countWords_);
    count_ = new QSlider(Qt::Horizontal);
    count_->setObjectName("peakCount");
    count_->setAccessibleName(tr("How many peaks"));
    count_->setToolTip(tr("How many of the peaks that were found, the highest first"));
    connect(count_, &QSlider::sliderPressed, &document_, &Document::beginDrag);
    connect(count_, &QSlider::sliderReleased, &document_, &Document::endDrag);
    connect(count_, &QSlider::valueChanged, this, [this](int count) {
        change(
            tr("How many peaks"), [count](Analysis& a) { a.settings.set("count", count); }, "peak count");
    });
    row->addWidget(count_, 1);
    layout.addWidget(finding_);
}

void PeaksCard::buildButtons(QVBoxLayout& layout) {
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    fit_ = button(this, tr("Fit"), "primary", tr("Fit all peaks from where they stand (F5)"), [this] {
        if (running_) return document_.session().evaluator().stopRunning();
        fitNow();
    });
    row->addWidget(fit_);
    row->addWidget(
        button(this, tr("start values"), "link", tr("Show where the peaks begin, not fitted"), [this] {
            change(tr("Start values"), [](Analysis& a) { a.settings.set("hold", Value(true)); });
        }));
    row->addStretch(1);
    row->addWidget(
        button(this, tr("Find"), "", tr("Find the peaks anew, in place of those that stand here"), [this] {
            document_.selectPeak(0);
            change(tr("Find peaks"), [](Analysis& a) { analyses::findAnew(a); });
        }));
    layout.addLayout(row);
    connect(&document_, &Document::busyChanged, this, [this](bool running) {
        running_ = running;
        relabel(fit_, running ? tr("Stop") : tr("Fit"));
    });
}

void PeaksCard::fitNow() {
    document_.session().evaluator().forgetStopped();
    change(tr("Fit"), [](Analysis& a) {
        a.settings.remove("hold");
        a.settings.remove("only");
    });
}

// An analysis that takes these peaks.
void PeaksCard::addSizes() {
    document_.addAnalysis([this](DatasetId dataset) {
        Analysis sizes{.kind = "sizes", .inputs = {{.dataset = dataset}}};
        if (dataset == document_.dataset()) sizes.analyses = {id_};
        return sizes;
    });
}

// The names that these peaks have go to those of other datasets, by their place or their order.
void PeaksCard::offerNames() {
    const auto a = analysis();
    const analyses::PeaksDetail* d = result_ ? analyses::peaksDetail(*result_) : nullptr;
    if (!a || !d) return;
    RowList rows;
    std::vector<std::pair<double, std::size_t>> heights; // of each row
    for (std::size_t k = 0; k < d->plan.peaks.size(); ++k) {
        if (!d->plan.peaks[k].isNamed()) continue;
        heights.emplace_back(-std::abs(d->numbers[k].height.value), rows.size());
        Settings& row = rows.emplace_back();
        row.set("name", Value(d->plan.peaks[k].name));
        row.set("place", Value(d->numbers[k].maximum.value));
    }
    std::ranges::sort(heights);
    RowList byHeight;
    for (const auto& [height, row] : heights) byHeight.push_back(rows[row]);
    if (rows.empty() && a->settings.rows("names").empty())
        return document_.say(tr("Name a peak first: open its row."), true);
    QMenu* menu = newMenu(this);
    const auto add = [&](const QString& words, RowList names, const char* by) {
        connect(menu->addAction(words), &QAction::triggered, this, [this, names = std::move(names), by] {
            change(tr("Names of peaks"), [names, by](Analysis& x) {
                x.settings.remove("names");
                if (!names.empty()) x.settings.set("names", Value(std::make_shared<const RowList>(names)));
                x.settings.set("naming", by);
            });
        });
    };
    if (!rows.empty()) {
        add(tr("Give these names to the nearest peaks"), rows, "nearest");
        add(tr("Give these names to the highest near each place"), rows, "highest");
        add(tr("Give these names in the order of x"), rows, "order");
        add(tr("Give these names in the order of height"), byHeight, "height");
    }
    if (!a->settings.rows("names").empty()) add(tr("Give no names"), {}, "nearest");
    menu->popup(below(names_));
}

std::string PeaksCard::unitOfX() const {
    const analyses::PeaksDetail* d = result_ ? analyses::peaksDetail(*result_) : nullptr;
    if (!d) return {};
    const std::string& unit = d->taken->members.front().curve->xMeaning.unit;
    return unit.empty() ? "" : " " + draw::unitPlain(unit);
}

// "width 4 … 40 cm⁻¹ (proposed) · no partner"
std::string PeaksCard::allText() const {
    const auto a = analysis();
    const analyses::PeaksDetail* d = result_ ? analyses::peaksDetail(*result_) : nullptr;
    if (!a || !d) return {};
    const KindInfo& info = analyses::peaksSettings();
    const std::string limits = info.text(a->settings, "limits"), widths = info.text(a->settings, "widths");
    std::string out = "no limits";
    if (d->plan.widths.first < d->plan.widths.second)
        out = fmt::format("width {} … {}{}{}", readableNumber(d->plan.widths.first, 2),
                          readableNumber(d->plan.widths.second, 2), unitOfX(),
                          limits == "proposed" ? " (proposed)" : "");
    if (widths != "own")
        out += widths == "alike"  ? ", one for all"
               : widths == "line" ? ", grows with x"
                                  : ", square grows with x";
    const std::string partner = info.text(a->settings, "partner");
    return out + (partner == "none" ? " · no partner" : " · with partners");
}

void PeaksCard::sync() {
    const auto a = analysis();
    if (!a || a->inputs.empty()) return;
    for (std::size_t k = 0; k < shapes_.size(); ++k)
        shapes_[k]->setChecked(analyses::commonShape(*a) == kFirstShapes[k]);
    const bool further = std::ranges::count(kFirstShapes, analyses::commonShape(*a)) == 0;
    const models::ModelKind* kind = models::catalogue().find(analyses::commonShape(*a));
    relabel(moreShapes_, further && kind ? text(kind->info.name) + " ▾" : tr("more ▾"));
    baseline_->setCurrentIndex(
        std::max(0, baseline_->findData(text(analyses::peaksSettings().text(a->settings, "baseline")))));
    if (settings_->kindShown() == analyses::peaksSettings().key)
        settings_->sync(a->settings);
    else
        settings_->show(analyses::peaksSettings(), a->settings);
    inputs_->sync();
    rows_->sync();
    if (!release_->hasFocus()) release_->setText(scheduleText(a->settings));
    const auto kept = std::ssize(a->settings.rows("names"));
    const std::string naming = a->settings.text("naming");
    const QString by = naming == "order" ? tr("order") : naming == "height" ? tr("height") : tr("place");
    relabel(names_, kept == 0 ? tr("+ names for other datasets")
                              : tr("%1 given by %2 ▾").arg(text(counted(kept, "name")), by));
}

void PeaksCard::showOutcome(const evaluate::AnalysisOutcome& outcome) {
    const auto a = analysis();
    if (!a) return;
    error_->setVisible(!outcome.exists());
    if (!outcome.exists()) {
        error_->setText(text(outcome.result.error().text));
        result_.reset();
        rows_->show(nullptr);
        quality_->clear();
        finding_->hide();
        all_->setWords({.name = tr("All peaks")});
        return warnings_->hide();
    }
    result_ = *outcome.result;
    const analyses::PeaksDetail* d = analyses::peaksDetail(*result_);
    if (!d) return;
    rows_->show(result_);
    all_->setWords({.name = tr("All peaks"), .below = text(allText())});
    finding_->setVisible(d->plan.draft && d->plan.found > 1);
    {
        const QSignalBlocker quiet(count_);
        count_->setRange(1, static_cast<int>(std::min<std::size_t>(d->plan.found, 100)));
        if (!count_->isSliderDown()) count_->setValue(static_cast<int>(d->plan.peaks.size()));
    }
    countWords_->setText(tr("%1 of %2 found").arg(d->plan.peaks.size()).arg(d->plan.found));
    const fit::FitReport& r = d->report;
    if (a->settings.flag("hold")) {
        quality_->setText(tr("Start values, not fitted yet."));
        return warnings_->hide();
    }
    if (r.provisional) return quality_->setText(tr("Where the peaks begin; fitted when you let go."));
    const int only = a->settings.integer("only");
    quality_->setText((only > 0 ? tr("Only peak %1 was fitted.<br>").arg(only) : QString()) +
                      qualityText(r, d->taken->weightsNote, outcome->notShown));
    sayIssues(warnings_, outcome.issues);
}

} // namespace jointer::app
