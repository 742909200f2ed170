// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/analysis_card.h"

#include "app/forms/settings_form.h"
#include "app/forms/span_fields.h"
#include "app/panes/fit_card.h"
#include "app/panes/formulas_field.h"
#include "app/panes/parameter_grid.h"
#include "app/panes/peaks_card.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "draw/markup.h"
#include "evaluate/results.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

AnalysisCard::AnalysisCard(Document& document, AnalysisId id, QWidget* parent)
    : QWidget(parent), document_(document), id_(id) {}

void AnalysisCard::change(const QString& name, const std::function<void(Analysis&)>& how,
                          const std::string& mergeKey) {
    document_.onEachAnalysis(
        id_, [&](AnalysisId id) { return edits::changeAnalysis(id, name.toStdString(), how, mergeKey); });
}

void AnalysisCard::changeSetting(const QString& name, const QString& key, const Value& value) {
    change(
        name,
        [key = key.toStdString(), value](Analysis& a) {
            if (std::holds_alternative<std::monostate>(value))
                a.settings.remove(key);
            else
                a.settings.set(key, value);
        },
        "setting " + key.toStdString());
}

AnalysisInput AnalysisCard::input() const {
    const auto a = analysis();
    if (!a || a->inputs.empty()) return {};
    const auto at = std::ranges::find(a->inputs, document_.dataset(), &AnalysisInput::dataset);
    return at == a->inputs.end() ? a->inputs.front() : *at;
}

// All of the datasets that an analysis takes go together.
void AnalysisCard::changeInput(const QString& name, const std::function<void(AnalysisInput&)>& how) {
    change(name, [=](Analysis& a) {
        for (AnalysisInput& in : a.inputs) how(in);
    });
}

void sayIssues(QLabel* label, const std::vector<Issue>& issues) {
    QStringList paragraphs;
    for (const Issue& issue : issues) paragraphs << text(issue.text);
    say(label, paragraphs.join("\n\n"));
}

std::vector<ParameterLine> quantityLines(const analyses::AnalysisResult& result, DatasetId dataset) {
    std::vector<ParameterLine> lines;
    for (const analyses::Quantity& q : result.quantities) {
        if (q.member && q.member != dataset) continue;
        const QString unit = text(draw::unitPlain(q.unit));
        const bool derived = q.state == "derived" || q.state == "summary";
        QString tip = text(q.meaning);
        if (!tip.isEmpty() && !unit.isEmpty()) tip += ", in " + unit;
        const QString name = q.subject.empty() ? text(q.label) : text(q.subject) + ": " + text(q.label);
        const ValueText value = evaluate::shownValue(q);
        lines.push_back({name, value, unit, q.state == "summary" ? QString() : text(q.state), tip,
                         derived && q.state == "derived" ? theme().muted : theme().ink,
                         q.good ? theme().muted : theme().warning});
    }
    return lines;
}

namespace {

// The card of kinds that have none of their own: span, settings, quantities, remarks.
class GeneralCard final : public AnalysisCard {
public:
    GeneralCard(Document& document, const Analysis& analysis) : AnalysisCard(document, analysis.id) {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 4, 0, 0);
        layout->setSpacing(6);
        form_ = new QFormLayout;
        auto* form = form_;
        form->setHorizontalSpacing(12);
        span_ = new SpanFields;
        form->addRow(muted(tr("Span")), span_);
        layout->addLayout(form);
        connect(span_, &SpanFields::changed, this, [this](const Span& span) {
            changeInput(tr("Change span"), [=](AnalysisInput& in) { in.span = span; });
        });
        addSlots(*form, analysis);
        addFormulas(*layout, analysis);
        settings_ = new SettingsForm;
        settings_->setNarrowest(214);
        const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
        if (kind &&
            std::ranges::find(kind->info.settings, "Details", &Setting::group) != kind->info.settings.end())
            settings_->foldGroups();
        connect(settings_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
            changeSetting(tr("Change analysis"), key, value);
        });
        connect(settings_, &SettingsForm::dragBegan, this, [this] { document_.beginDrag(); });
        connect(settings_, &SettingsForm::dragEnded, this, [this] { document_.endDrag(); });
        layout->addWidget(settings_);
        warnings_ = warningLabel(); // above the numbers, which may be many
        layout->addWidget(warnings_);
        numbers_ = new ParameterGrid;
        numbers_->setObjectName("quantities");
        numbers_->setAccessibleName(tr("Quantities"));
        layout->addWidget(numbers_);
        error_ = errorLabel();
        layout->addWidget(error_);
        connect(&document_, &Document::changed, this, &GeneralCard::sync);
        sync();
    }

    void showOutcome(const evaluate::AnalysisOutcome& outcome) override {
        error_->setVisible(!outcome.exists());
        if (formulas_) formulas_->mark(outcome.exists() ? nullptr : &outcome.result.error());
        if (!outcome.exists()) {
            error_->setText(text(outcome.result.error().text));
            numbers_->showLines({});
            return warnings_->hide();
        }
        if (formulas_) formulas_->showNames(*outcome);
        numbers_->showLines(quantityLines(*outcome, document_.dataset()));
        sayIssues(warnings_, outcome.issues);
    }

private:
    // Of kinds whose numbers are formulas of their own.
    void addFormulas(QVBoxLayout& layout, const Analysis& analysis) {
        const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
        const Setting* s = kind ? kind->info.find("formula") : nullptr;
        if (!s || s->kind != SettingKind::Formula || !s->hidden) return;
        formulas_ = new FormulasField(text(s->label), text(s->help), text(s->whenEmpty));
        connect(formulas_, &FormulasField::taken, this, [this](const QString& typed) {
            changeSetting(tr("Change formulas"), "formula", Value(typed.toStdString()));
        });
        layout.addWidget(formulas_);
    }

    // A box for each further analysis that it takes.
    void addSlots(QFormLayout& form, const Analysis& analysis) {
        const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
        for (const analyses::InputSlot& slot : kind ? kind->slots : std::vector<analyses::InputSlot>()) {
            if (slot.of != "analysis") continue;
            auto* box = new QComboBox;
            box->setObjectName(text("slot-" + slot.key));
            box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
            const std::size_t place = slots_.size();
            connect(box, &QComboBox::activated, this, [this, box, place] {
                const AnalysisId chosen = AnalysisId::fromText(box->currentData().toString().toStdString());
                change(tr("Choose analysis"), [=](Analysis& a) {
                    if (a.analyses.size() > place) a.analyses.resize(place);
                    if (chosen && a.analyses.size() == place) a.analyses.push_back(chosen);
                });
            });
            addLabelled(form, text(slot.label), box);
            slots_.push_back({box, slot});
        }
        const auto d =
            analysis.inputs.empty() ? nullptr : document_.project().datasets.find(analysis.inputs[0].dataset);
        if (!slots_.empty() || (d && d->source.kind == "groups"))
            form.setRowVisible(span_, false); // it is theirs, or there is none
    }
    void syncSlots(const Analysis& now) {
        for (std::size_t k = 0; k < slots_.size(); ++k) {
            const auto& [field, slot] = slots_[k];
            QComboBox& box = *field;
            const QSignalBlocker quiet(&box);
            box.clear();
            box.addItem(slot.fewest == 0 ? tr("none") : tr("choose…"), QString());
            for (const auto& other : document_.project().analyses) {
                const auto taken = std::ranges::find(now.analyses, other->id);
                const bool elsewhere = taken != now.analyses.end() &&
                                       taken - now.analyses.begin() != static_cast<std::ptrdiff_t>(k);
                if (other->id == now.id || elsewhere || !slot.takes(other->kind)) continue;
                const auto d = other->inputs.empty()
                                   ? nullptr
                                   : document_.project().datasets.find(other->inputs[0].dataset);
                const bool ofAnother = d && (now.inputs.empty() || now.inputs[0].dataset != d->id);
                const QString name = text(analyses::nameOf(*other));
                box.addItem(ofAnother ? tr("%1: %2").arg(text(d->name), name) : name, text(other->id.text()));
            }
            const QString taken = k < now.analyses.size() ? text(now.analyses[k].text()) : QString();
            box.setCurrentIndex(std::max(0, box.findData(taken)));
            box.setToolTip(box.currentText());                    // which may be cut
            form_->setRowVisible(&box, k <= now.analyses.size()); // the next one comes when this is chosen
        }
    }
    void sync() {
        const auto a = analysis();
        const analyses::AnalysisKind* kind = a ? analyses::kindOf(*a) : nullptr;
        if (!kind) return;
        syncSlots(*a);
        if (formulas_) formulas_->showText(text(a->settings.text("formula")));
        span_->show(input().span);
        settings_->setVisible(!kind->info.settings.empty());
        if (settings_->kindShown() == kind->info.key)
            settings_->sync(a->settings);
        else
            settings_->show(kind->info, a->settings);
    }

    std::vector<std::pair<QComboBox*, analyses::InputSlot>> slots_; // of further analyses
    SpanFields* span_;
    FormulasField* formulas_ = nullptr;
    SettingsForm* settings_;
    QFormLayout* form_;
    ParameterGrid* numbers_;
    QLabel *error_, *warnings_;
};

} // namespace

AnalysisCard* newAnalysisCard(Document& document, const Analysis& analysis) {
    if (analysis.kind == "fit") return new FitCard(document, analysis.id);
    if (analysis.kind == "peaks") return new PeaksCard(document, analysis.id);
    return new GeneralCard(document, analysis);
}

} // namespace jointer::app
