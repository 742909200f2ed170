// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/analysis_card.h"

#include "app/forms/number_text.h"
#include "app/forms/settings_form.h"
#include "app/panes/parameter_details.h"
#include "app/panes/parameter_grid.h"
#include "app/panes/quality_text.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"
#include "models/catalogue.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

AnalysisCard::AnalysisCard(Document& document, AnalysisId id, QWidget* parent)
    : QWidget(parent), document_(document), id_(id), job_(this) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(6);
    buildModelRow(*layout);
    buildInputRows(*layout);
    buildParameters(*layout);
    buildButtons(*layout);
    quality_ = new QLabel;
    quality_->setTextFormat(Qt::RichText);
    layout->addWidget(quality_);
    warnings_ = warningLabel();
    layout->addWidget(warnings_);
    connect(&document_, &Document::changed, this, &AnalysisCard::syncFields);
    syncFields();
}

void AnalysisCard::change(const QString& name, const std::function<void(Analysis&)>& how,
                          const std::string& mergeKey) {
    document_.onEachAnalysis(
        id_, [&](AnalysisId id) { return edits::changeAnalysis(id, name.toStdString(), how, mergeKey); });
}

void AnalysisCard::changeParameter(const std::string& parameter, const QString& name,
                                   const std::function<void(ParameterChoice&)>& how,
                                   const std::string& mergeKey) {
    change(
        name,
        [=](Analysis& a) {
            auto at = std::ranges::find(a.parameters, parameter, &ParameterChoice::name);
            if (at == a.parameters.end())
                at = a.parameters.insert(a.parameters.end(), ParameterChoice{.name = parameter});
            how(*at);
            if (*at == ParameterChoice{.name = parameter}) a.parameters.erase(at);
        },
        mergeKey);
}

void AnalysisCard::buildModelRow(QVBoxLayout& layout) {
    model_ = new QComboBox;
    model_->setObjectName("model");
    model_->setAccessibleName(tr("Model"));
    for (const models::ModelKind& kind : models::catalogue()) {
        model_->addItem(text(kind.info.name), text(kind.info.key));
        model_->setItemData(model_->count() - 1, text(kind.info.purpose), Qt::ToolTipRole);
    }
    model_->addItem(tr("Your own equation"), "equation");
    model_->setMinimumContentsLength(12);
    model_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    connect(model_, &QComboBox::activated, this,
            [this] { chooseModel(model_->currentData().toString().toStdString()); });
    layout.addWidget(model_);
    equation_ = new QLineEdit;
    equation_->setObjectName("equation");
    equation_->setAccessibleName(tr("Equation"));
    equation_->setToolTip(
        tr("Plain mathematics in x (x1, x2… where the dataset has several columns x); every other "
           "name becomes a parameter."));
    connect(equation_, &QLineEdit::editingFinished, this, [this] {
        const auto a = analysis();
        const std::string typed = equation_->text().toStdString();
        if (a && a->model.kind == "equation" && typed != a->model.settings.text("equation"))
            change(tr("Change equation"),
                   [typed](Analysis& x) { x.model.settings.set("equation", Value(typed)); });
    });
    layout.addWidget(equation_);
    equationError_ = errorLabel();
    layout.addWidget(equationError_);
    settings_ = new SettingsForm;
    settings_->setNarrowest(214); // a card within the pane
    connect(settings_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        change(
            tr("Change model"), [=](Analysis& a) { a.model.settings.set(key.toStdString(), value); },
            "model " + key.toStdString());
    });
    connect(settings_, &SettingsForm::dragBegan, &document_, &Document::beginDrag);
    connect(settings_, &SettingsForm::dragEnded, &document_, &Document::endDrag);
    layout.addWidget(settings_);
}

void AnalysisCard::chooseModel(const std::string& key) {
    change(tr("Choose model"), [key](Analysis& a) {
        if (a.model.kind == key) return;
        const std::string formula = [&] {
            const auto old = evaluate::modelOf(a.model);
            return old ? (*old)->formula() : std::string("a*x + b");
        }();
        a.model = {.kind = key};
        // Going to an own equation keeps the formula of the model as a beginning.
        if (key == "equation") a.model.settings.set("equation", Value(formula));
        a.parameters.clear();
        const models::ModelKind* kind = models::catalogue().find(key);
        a.name = kind ? kind->info.name : "Equation";
    });
}

void AnalysisCard::buildInputRows(QVBoxLayout& layout) {
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(6);
    auto* span = new QHBoxLayout;
    low_ = new QLineEdit;
    high_ = new QLineEdit;
    low_->setObjectName("spanLow");
    high_->setObjectName("spanHigh");
    for (QLineEdit* end : {low_, high_}) {
        end->setPlaceholderText(tr("all"));
        end->setMinimumWidth(40);
        end->setToolTip(tr("End of the fitted span; also drag it on the plot, or use the Span tool."));
        end->setAccessibleName(tr("Span"));
        connect(end, &QLineEdit::editingFinished, this, &AnalysisCard::takeSpan);
    }
    span->addWidget(low_);
    span->addWidget(new QLabel("…"));
    span->addWidget(high_);
    form->addRow(muted(tr("Span")), span);
    points_ = new QComboBox;
    for (const auto& [label, key] :
         {std::pair(tr("before smoothing"), "before-smoothing"), std::pair(tr("after all steps"), "end"),
          std::pair(tr("as measured"), "measured")})
        points_->addItem(label, key);
    for (const auto& [key, name] : document_.placesOf(document_.dataset()))
        points_->addItem(text(name), text(key));
    points_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    points_->setToolTip(tr("Which state of the protocol is fitted. Smoothed points make errors too small."));
    connect(points_, &QComboBox::activated, this, [this] {
        change(tr("Choose points"), [key = points_->currentData().toString().toStdString()](Analysis& a) {
            a.inputs[0].point = CurvePoint::fromText(key);
        });
    });
    addLabelled(*form, tr("Points"), points_);
    weights_ = new QComboBox;
    const Setting& rule = *evaluate::weightSettings().find("weights");
    weights_->addItem(text(rule.whenEmpty), QString());
    for (const Choice& c : rule.choices) weights_->addItem(text(c.label), text(c.key));
    weights_->setToolTip(text(rule.help));
    connect(weights_, &QComboBox::activated, this, [this] {
        change(tr("Choose weights"), [key = weights_->currentData().toString().toStdString()](Analysis& a) {
            if (key.empty())
                a.inputs[0].weights.remove("weights");
            else
                a.inputs[0].weights.set("weights", Value(key));
        });
    });
    addLabelled(*form, tr("Weights"), weights_);
    layout.addLayout(form);
}

void AnalysisCard::takeSpan() {
    const auto a = analysis();
    if (!a) return;
    const double low = low_->text().isEmpty() ? -INFINITY : numberIn(low_->text()).value_or(a->inputs[0].low),
                 high =
                     high_->text().isEmpty() ? INFINITY : numberIn(high_->text()).value_or(a->inputs[0].high);
    const bool same =
        endText(low) == endText(a->inputs[0].low) && endText(high) == endText(a->inputs[0].high);
    if (!same && low < high)
        change(tr("Change span"), [=](Analysis& x) { x.inputs[0].low = low, x.inputs[0].high = high; });
    syncFields();
}

void AnalysisCard::buildParameters(QVBoxLayout& layout) {
    parameters_ = new ParameterGrid;
    parameters_->setObjectName("parameters");
    parameters_->setAccessibleName(tr("Parameters"));
    parameters_->setToolTip(tr("Click a parameter to fix, limit or tie it, or to give its start value."));
    connect(parameters_, &QTableWidget::cellClicked, this, [this](int row, int) { openParameter(row); });
    layout.addWidget(parameters_);
    details_ = new QVBoxLayout;
    layout.addLayout(details_);
}

void AnalysisCard::buildButtons(QVBoxLayout& layout) {
    auto* row = new QHBoxLayout;
    row->setSpacing(5);
    auto add = [&](const QString& label, const char* name, const QString& tip, std::function<void()> act) {
        QPushButton* made = button(this, label, name, tip, std::move(act));
        row->addWidget(made);
        return made;
    };
    fit_ = add(tr("Fit"), "primary", tr("Fit from the start values shown (F5)"), [this] { fitNow(); });
    add(tr("Once"), "oneIteration", tr("One iteration from the values shown"), [this] { oneIteration(); });
    stop_ = add(tr("Stop"), "stop", tr("Nothing is running."), [this] {
        job_.stopRunning();
        document_.session().evaluator().stopFits();
    });
    add(tr("Start"), "startValues", tr("Show the automatic start values"), [this] { startValues(); });
    stop_->setEnabled(false);
    connect(&document_, &Document::busyChanged, stop_, [this](bool busy) {
        stop_->setEnabled(busy);
        stop_->setToolTip(busy ? tr("Stop; the values reached become start values")
                               : tr("Nothing is running."));
    });
    row->addStretch(1);
    layout.addLayout(row);
}

void AnalysisCard::fitNow() {
    document_.session().evaluator().forgetStopped();
    change(tr("Fit"), [](Analysis& a) { a.settings.remove("hold"); });
}

void AnalysisCard::startValues() {
    change(tr("Start values"), [](Analysis& a) {
        for (ParameterChoice& p : a.parameters)
            if (p.treatment == Treatment::Free) p.start.reset();
        a.settings.set("hold", Value(true));
    });
}

// One iteration runs in the background; the values reached become the start values, which are then shown.
void AnalysisCard::oneIteration() {
    const auto a = analysis();
    if (!a) return;
    stop_->setEnabled(true);
    job_.request(
        [this, spec = *a, project = document_.project(), evaluator = document_.session().sharedEvaluator()](
            const Cancellation& stop) -> std::function<void()> {
            Analysis once = spec;
            once.settings.remove("hold");
            const auto result = std::make_shared<evaluate::FitResult>(
                evaluator->fit(project, once, {.effort = evaluate::Effort::OneIteration, .stop = stop}));
            return [this, result] {
                stop_->setEnabled(false);
                if (!result->good()) return;
                keepReached(*result->report);
            };
        });
}

// Stopping, or iterating once, writes the values reached as start values: an edit like any other.
void AnalysisCard::keepReached(const fit::FitReport& report) {
    document_.apply(
        edits::changeAnalysis(id_, "Keep the values reached", [values = report.parameters](Analysis& x) {
            for (const auto& p : values) {
                auto at = std::ranges::find(x.parameters, p.name, &ParameterChoice::name);
                if (at == x.parameters.end())
                    at = x.parameters.insert(x.parameters.end(), ParameterChoice{.name = p.name});
                if (at->treatment == Treatment::Free) at->start = p.value;
            }
            x.settings.set("hold", Value(true));
        }));
}

void AnalysisCard::syncFields() {
    const auto a = analysis();
    if (!a || a->inputs.empty()) return;
    model_->setCurrentIndex(model_->findData(text(a->model.kind)));
    const bool own = a->model.kind == "equation";
    equation_->setVisible(own);
    if (own && !equation_->hasFocus())
        equation_->setText(text(a->model.settings.text("equation"))), equation_->setCursorPosition(0);
    const models::ModelKind* kind = models::catalogue().find(a->model.kind);
    settings_->setVisible(kind && !kind->info.settings.empty());
    if (kind && settings_->kindShown() == kind->info.key)
        settings_->sync(a->model.settings);
    else if (kind)
        settings_->show(kind->info, a->model.settings);
    if (!low_->hasFocus()) low_->setText(endText(a->inputs[0].low));
    if (!high_->hasFocus()) high_->setText(endText(a->inputs[0].high));
    points_->setCurrentIndex(std::max(0, points_->findData(text(a->inputs[0].point.text()))));
    weights_->setCurrentIndex(std::max(0, weights_->findData(text(a->inputs[0].weights.text("weights")))));
}

namespace {

QString treatmentText(const fit::ParameterResult& p) {
    if (p.atLimit) return AnalysisCard::tr("on limit");
    if (!p.determined) return AnalysisCard::tr("undetermined");
    if (p.treatment == fit::Treatment::Fixed) return AnalysisCard::tr("fixed");
    return p.treatment == fit::Treatment::Tied ? AnalysisCard::tr("tied") : AnalysisCard::tr("free");
}

std::vector<ParameterLine> parameterLines(const evaluate::FitResult& result, bool withDerived) {
    std::vector<ParameterLine> lines;
    const AxisMeaning &x = result.points->xMeaning, &y = result.points->yMeaning;
    for (std::size_t k = 0; k < result.report->parameters.size(); ++k) {
        const fit::ParameterResult& p = result.report->parameters[k];
        const models::ParameterInfo& info = result.model->parameters()[k];
        const QString unit = text(draw::unitPlain(models::unitText(info.unit, x.unit, y.unit)));
        lines.push_back({text(p.name), readableWithError(p.value, p.se), unit, treatmentText(p),
                         text(info.meaning) + (unit.isEmpty() ? QString() : ", in " + unit), theme().ink,
                         p.atLimit || !p.determined ? theme().warning : theme().muted});
    }
    if (withDerived)
        for (const fit::DerivedResult& d : result.report->derived)
            lines.push_back({text(d.name), readableWithError(d.value, d.se), text(draw::unitPlain(d.unit)),
                             AnalysisCard::tr("derived"), QString(), theme().muted, theme().muted});
    return lines;
}

} // namespace

void AnalysisCard::showResult(const evaluate::FitResult& result) {
    const auto a = analysis();
    if (!a) return;
    equationError_->setVisible(!result.good());
    if (!result.good()) {
        equationError_->setText(text(result.report.error().text));
        quality_->clear();
        warnings_->hide();
        parameters_->showLines({});
        return;
    }
    const fit::FitReport& r = *result.report;
    shown_ = r.parameters;
    const bool held = a->settings.flag("hold");
    if (r.state == fit::FitState::Stopped && !held && !r.provisional) keepReached(r);
    parameters_->showLines(parameterLines(result, !held));
    if (held) {
        quality_->setText(tr("Start values, not fitted yet."));
        warnings_->hide();
        return;
    }
    if (r.provisional) {
        quality_->setText(tr("Provisional while you drag; computed fully when you let go."));
        return;
    }
    quality_->setText(qualityText(r, result.weightsNote));
    quality_->setWordWrap(true);
    QStringList warnings;
    for (const Issue& w : r.warnings) warnings << text(w.text);
    say(warnings_, warnings.join("\n\n"));
}

std::optional<double> AnalysisCard::valueShown(const std::string& parameter) const {
    const auto at = std::ranges::find(shown_, parameter, &fit::ParameterResult::name);
    return at == shown_.end() ? std::nullopt : std::optional(at->value);
}

void AnalysisCard::openParameter(int row) {
    clearLayout(details_);
    const auto a = analysis();
    const std::string name = parameters_->nameAt(row);
    const auto model = a ? evaluate::modelOf(a->model) : std::unexpected(Issue{});
    const bool isParameter =
        model && std::ranges::any_of((*model)->parameters(), [&](const auto& p) { return p.name == name; });
    if (!isParameter || name == openParameter_) {
        openParameter_.clear();
        return;
    }
    openParameter_ = name;
    const auto at = std::ranges::find(a->parameters, name, &ParameterChoice::name);
    auto* details = new ParameterDetails(at == a->parameters.end() ? ParameterChoice{.name = name} : *at,
                                         valueShown(name));
    connect(details, &ParameterDetails::changed, this,
            [this, name](const QString& said, const std::function<void(ParameterChoice&)>& how) {
                changeParameter(name, said, how);
            });
    details_->addWidget(details);
}

} // namespace jointer::app
