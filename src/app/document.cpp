// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document.h"

#include "analyses/first_inputs.h"
#include "app/widgets.h"
#include "project/several.h"
#include "session/copied_steps.h"
#include "steps/step.h"

#include <QFileInfo>
#include <nlohmann/json.hpp>
#include <utility>

namespace jointer::app {

Document::Document(const std::string& stateFolder, QObject* parent) : QObject(parent), session_(stateFolder) {
    session_.onChange = [this] {
        keepSelectionValid();
        announce(News::Project);
    };
    keepSelectionValid();
}

void Document::announce(News news) {
    if (told_ == News::None) QMetaObject::invokeMethod(this, &Document::tell, Qt::QueuedConnection);
    told_ = std::max(told_, news);
}

void Document::tell() {
    const News news = std::exchange(told_, News::None);
    if (news == News::Project) Q_EMIT changed();
    if (news == News::Selection) Q_EMIT selectionChanged();
}

void Document::tellAll() {
    announce(News::Project);
}

bool Document::apply(const Edit& edit) {
    const auto done = session_.apply(edit);
    if (!done) say(QString::fromStdString(done.error().text), true);
    return done.has_value();
}

// Says so where some of the selected datasets do not agree.
bool Document::applyEach(std::vector<Edit> list) {
    const std::size_t agreeing = list.size();
    if (!apply(edits::onEach(std::move(list)))) return false;
    if (agreeing < selection_.size())
        say(tr("Changed %1 of the %2 selected datasets: the others have no such step or fit.")
                .arg(agreeing)
                .arg(selection_.size()));
    return true;
}

bool Document::onEach(const std::function<Edit(DatasetId)>& make) {
    std::vector<Edit> list;
    for (DatasetId id : selection_) list.push_back(make(id));
    return !list.empty() && applyEach(std::move(list));
}

bool Document::onEachStep(StepId step, const std::function<Edit(DatasetId, StepId)>& make) {
    const auto current = currentDataset();
    if (!current) return false;
    std::vector<Edit> list;
    for (DatasetId id : selection_)
        if (const auto d = project().datasets.find(id))
            if (const StepId theirs = counterpart(*current, step, *d)) list.push_back(make(id, theirs));
    return !list.empty() && applyEach(std::move(list));
}

bool Document::onEachAnalysis(AnalysisId analysis, const std::function<Edit(AnalysisId)>& make) {
    std::vector<Edit> list;
    for (DatasetId id : selection_)
        if (const AnalysisId theirs = id == dataset_ ? analysis : counterpart(project(), analysis, id))
            list.push_back(make(theirs));
    return !list.empty() && applyEach(std::move(list));
}

std::string Document::viewText(int stage) const {
    nlohmann::ordered_json view = {{"stage", stage},
                                   {"dataset", dataset_.text()},
                                   {"table", table_.text()},
                                   {"step", step_.text()},
                                   {"analysis", analysis_.text()},
                                   {"figure", figure_.text()},
                                   {"element", element_.text()}};
    view["sideWidth"] = sideWidth;
    if (!order_.empty()) view["order"] = order_;
    for (std::size_t i = 1; i < selection_.size(); ++i) view["selected"].push_back(selection_[i].text());
    if (xRange) view["xRange"] = {xRange->first, xRange->second};
    return view.dump();
}

int Document::restoreView(const std::string& saved) {
    const auto view = nlohmann::ordered_json::parse(saved, nullptr, false);
    if (!view.is_object()) return -1;
    auto textOf = [&](const char* key) {
        return view.contains(key) && view[key].is_string() ? view[key].get<std::string>() : std::string{};
    };
    dataset_ = DatasetId::fromText(textOf("dataset"));
    selection_ = {dataset_};
    if (view.contains("selected") && view["selected"].is_array())
        for (const auto& id : view["selected"])
            if (id.is_string()) selection_.push_back(DatasetId::fromText(id.get<std::string>()));
    table_ = TableId::fromText(textOf("table"));
    step_ = StepId::fromText(textOf("step"));
    analysis_ = AnalysisId::fromText(textOf("analysis"));
    figure_ = FigureId::fromText(textOf("figure"));
    element_ = ElementId::fromText(textOf("element"));
    elements_ = element_ ? std::vector{element_} : std::vector<ElementId>();
    order_ = textOf("order");
    if (view.contains("sideWidth") && view["sideWidth"].is_number_integer())
        sideWidth = view["sideWidth"].get<int>();
    xRange.reset();
    if (view.contains("xRange") && view["xRange"].is_array() && view["xRange"].size() == 2 &&
        view["xRange"][0].is_number() && view["xRange"][1].is_number() &&
        view["xRange"][0] < view["xRange"][1])
        xRange = {view["xRange"][0].get<double>(), view["xRange"][1].get<double>()};
    keepSelectionValid();
    announce(News::Selection);
    return view.contains("stage") && view["stage"].is_number_integer() ? view["stage"].get<int>() : -1;
}

void Document::orderBy(const std::string& attribute) {
    order_ = attribute;
    announce(News::Selection);
}

void Document::beginDrag() {
    session_.endMerging();
    dragging_ = true;
    beforeDrag_ = session_.history().undoCount();
}

void Document::cancelDrag() {
    if (!dragging_) return;
    while (session_.history().undoCount() > beforeDrag_) session_.undo();
    endDrag();
}

void Document::endDrag() {
    if (!dragging_) return;
    dragging_ = false;
    session_.endMerging();
    announce(News::Project);
}

void Document::say(const QString& text, bool isError) {
    Q_EMIT message(text, isError);
}

// What was selected may be gone after an edit or an undo: the next thing of its kind takes its place.
void Document::keepSelectionValid() {
    const Project& p = project();
    if (!p.datasets.find(dataset_)) {
        dataset_ = p.datasets.empty() ? DatasetId{} : p.datasets[p.datasets.size() - 1].id;
        xRange.reset(); // a zoom belongs to its dataset
    }
    std::erase_if(selection_, [&](DatasetId id) { return id == dataset_ || !p.datasets.find(id); });
    if (dataset_) selection_.insert(selection_.begin(), dataset_);
    if (!p.tables.find(table_)) {
        const auto d = currentDataset();
        table_ = d ? d->source.table : p.tables.empty() ? TableId{} : p.tables[0].id;
    }
    const auto analysis = p.analyses.find(analysis_);
    if (!analysis || !analysis->takes(dataset_)) {
        const auto own = analysesOf(p, dataset_);
        analysis_ = own.empty() ? AnalysisId{} : own.back()->id;
    }
    const auto d = currentDataset();
    auto has = [&](StepId id) { return d && d->find(id); };
    if (!has(step_)) step_ = {};
    if (seenStep_ && !has(seenStep_)) see(Seen::Natural);
    const auto figure = p.figures.find(figure_);
    if (!figure) figure_ = p.figures.empty() ? FigureId{} : p.figures[0].id;
    const auto now = p.figures.find(figure_);
    std::erase_if(elements_, [&](ElementId id) { return !now || !now->find(id); });
    if (!now || !now->find(element_)) element_ = elements_.empty() ? ElementId{} : elements_.back();
}

void Document::selectDataset(DatasetId id) {
    selectDatasets({id});
}

void Document::selectDatasets(std::vector<DatasetId> ids) {
    const DatasetId first = ids.empty() ? DatasetId{} : ids.front();
    if (ids == selection_ && first == dataset_) return;
    finishTyping();
    selection_ = std::move(ids);
    if (first != dataset_) {
        dataset_ = first;
        step_ = {};
        seen_ = Seen::Natural;
        seenStep_ = {};
        if (const auto d = currentDataset()) table_ = d->source.table;
        xRange.reset();
        spanToTake_.reset();
    }
    keepSelectionValid();
    announce(News::Selection);
}

void Document::selectTable(TableId id) {
    finishTyping();
    table_ = id;
    announce(News::Selection);
}

void Document::openStep(StepId id) {
    finishTyping();
    step_ = id;
    seen_ = Seen::Natural;
    seenStep_ = {};
    session_.endMerging();
    announce(News::Selection);
}

void Document::see(Seen what, StepId step) {
    if (seen_ == what && seenStep_ == step) return;
    seen_ = what;
    seenStep_ = step;
    announce(News::Selection);
}

bool Document::changeSettings(StepId step, const Settings& after, const std::string& name) {
    const auto d = currentDataset();
    const Step* at = d ? d->find(step) : nullptr;
    if (!at) return false;
    const auto all = difference(at->settings, after);
    if (all.empty()) return false;
    const steps::StepKind* kind = steps::catalogue().find(at->kind);
    auto elsewhere = all;
    std::erase_if(elsewhere, [&](const auto& change) {
        const Setting* s = kind ? kind->info.find(change.first) : nullptr;
        return s && s->ofRows;
    });
    if (elsewhere.empty()) return apply(edits::setStep(dataset_, step, all, name));
    return onEachStep(step, [&](DatasetId id, StepId theirs) {
        return edits::setStep(id, theirs, id == dataset_ ? all : elsewhere, name);
    });
}

std::string Document::copySteps(const std::vector<StepId>& steps, DatasetId of) const {
    const auto d = of ? project().datasets.find(of) : currentDataset();
    if (!d) return {};
    CopiedSteps copied{.steps = {}, .table = d->source.table};
    for (const Step& s : d->protocol)
        if (steps.empty() || std::ranges::find(steps, s.id) != steps.end()) copied.steps.push_back(s);
    return copiedText(copied);
}

bool Document::pasteSteps(const std::string& words, std::vector<DatasetId> to, bool replace) {
    const auto copied = copiedFromText(words);
    if (!copied) return say(QString::fromStdString(copied.error().text), true), false;
    std::vector<Edit> list;
    QStringList left;
    for (DatasetId id : to) {
        const auto target = project().datasets.find(id);
        if (!target) continue;
        auto steps = stepsFor(*copied, *target);
        for (const Issue& issue : steps.issues)
            if (const QString words_ = QString::fromStdString(issue.text); !left.contains(words_))
                left << words_;
        if (replace && !target->protocol.empty()) list.push_back(edits::clearProtocol(id));
        if (!steps.value.empty()) list.push_back(edits::addSteps(id, std::move(steps.value), "Paste steps"));
    }
    if (list.empty()) return false;
    const bool done =
        apply(edits::together(to.size() == 1 ? "Paste steps" : "Paste steps to datasets", std::move(list)));
    if (done && !left.isEmpty()) say(left.join(" "));
    return done;
}

std::vector<std::pair<std::string, std::string>> Document::placesOf(DatasetId id) const {
    std::vector<std::pair<std::string, std::string>> all;
    const auto d = project().datasets.find(id);
    for (std::size_t i = 0; d && i < d->protocol.size(); ++i) {
        all.emplace_back(d->protocol[i].id.text(),
                         "after " + std::to_string(i + 1) + " · " + steps::nameOf(d->protocol[i].kind));
    }
    return all;
}

void Document::levelStep(StepId step) {
    const auto d = currentDataset();
    if (!d || !d->find(step)) return;
    std::vector<Edit> list = makingAlike(project(), *d, step, selection_);
    if (list.empty())
        return say(tr("They differ only in points chosen by hand, which belong to each of them."));
    apply(edits::together("Make steps alike", std::move(list)));
}

bool Document::xIsTime() const {
    const auto d = currentDataset();
    const auto table = d ? project().tables.find(d->source.table) : nullptr;
    if (!table) return false;
    const auto x = std::ranges::find(d->source.roles, Role::X, &RoleBinding::role);
    const Column* column = x == d->source.roles.end() ? nullptr : table->find(x->column);
    return column && (column->kind == ColumnKind::DateTime || column->kind == ColumnKind::Date);
}

void Document::stepDataset(int by) {
    const Project& p = project();
    if (p.datasets.size() < 2) return;
    std::vector<DatasetId> all;
    if (selection_.size() > 1)
        for (const auto& d : p.datasets) {
            if (std::ranges::find(selection_, d->id) != selection_.end()) all.push_back(d->id);
        }
    else
        for (const auto& d : p.datasets) all.push_back(d->id);
    const auto at = std::ranges::find(all, dataset_) - all.begin();
    const auto n = std::ssize(all);
    const DatasetId next = all[static_cast<std::size_t>(((at + by) % n + n) % n)];
    const auto range = xRange; // the same view of the next one
    if (selection_.size() > 1) {
        std::vector<DatasetId> turned = selection_;
        std::rotate(turned.begin(), std::ranges::find(turned, next), turned.end());
        selectDatasets(std::move(turned));
    } else
        selectDatasets({next});
    xRange = range;
}

void Document::openAnalysis(AnalysisId id) {
    finishTyping();
    if (analysis_ != id) peak_ = 0;
    analysis_ = id;
    session_.endMerging();
    announce(News::Selection);
}

bool Document::addAnalysis(const std::function<Analysis(DatasetId)>& make) {
    const auto span = std::exchange(spanToTake_, std::nullopt);
    const auto edit = [&](DatasetId d) {
        Analysis made = make(d);
        if (span)
            for (AnalysisInput& in : made.inputs) in.span.pieces = {*span};
        analyses::giveFirstInputs(made, project(), selection_);
        return edits::addAnalysis(std::move(made));
    };
    const analyses::AnalysisKind* kind = analyses::kindOf(make(dataset_));
    const bool added = kind && kind->spansDatasets() ? apply(edit(dataset_)) : onEach(edit);
    if (added) openAnalysis(analysesOf(project(), dataset_).back()->id);
    return added;
}

void Document::keepSpan(std::optional<std::pair<double, double>> span) {
    spanToTake_ = span;
    announce(News::Selection);
}

void Document::selectPeak(int number) {
    if (peak_ == number) return;
    finishTyping();
    peak_ = number;
    announce(News::Selection);
}

void Document::selectFigure(FigureId id) {
    finishTyping();
    figure_ = id;
    element_ = {};
    elements_.clear();
    elementDataset_ = {};
    announce(News::Selection);
}

void Document::selectElement(ElementId id, DatasetId of) {
    finishTyping();
    element_ = id;
    elementDataset_ = of;
    elements_ = id ? std::vector{id} : std::vector<ElementId>();
    session_.endMerging();
    announce(News::Selection);
}

void Document::toggleElement(ElementId id) {
    finishTyping();
    if (std::erase(elements_, id) == 0) elements_.push_back(id);
    element_ = elements_.empty() ? ElementId{} : elements_.back();
    elementDataset_ = {};
    session_.endMerging();
    announce(News::Selection);
}

QString Document::folder() const {
    if (!folder_.isEmpty()) return folder_;
    return session_.path().empty() ? QString() : QFileInfo(text(session_.path())).absolutePath();
}

void Document::workedIn(const QString& path) {
    if (path.isEmpty()) return;
    const QFileInfo at(path);
    folder_ = at.isDir() ? at.absoluteFilePath() : at.absolutePath();
}

} // namespace jointer::app
