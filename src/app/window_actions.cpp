// SPDX-License-Identifier: GPL-3.0-or-later
// Every action of the menus and of Find, in one list.
#include "app/panes/dataset_list.h"
#include "app/panes/header.h"
#include "app/panes/made_datasets.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "app/window.h"
#include "evaluate/fields.h"
#include "figure/kinds.h"
#include "figure/note_actions.h"
#include "models/catalogue.h"
#include "session/import.h"
#include "steps/step.h"

#include <QMenuBar>
#include <QStackedWidget>
#include <map>
#include <tuple>

namespace jointer::app {

std::vector<Window::Entry> Window::entries() {
    std::vector<Entry> all;
    addFileEntries(all);
    addDataEntries(all);
    addFigureEntries(all);
    addCatalogueEntries(all);
    addViewEntries(all);
    all.push_back({tr("Help"), tr("About Jointer"), "", {}, [this] {
                       document_.say(tr(
                           "Jointer 0.1.0, free software under the GNU General Public License 3 or later."));
                   }});
    return all;
}

void Window::addFileEntries(std::vector<Entry>& all) {
    Session& s = document_.session();
    const std::vector<Entry> own = {
        {tr("File"), tr("New project"), "Ctrl+N", tr("Begin an empty project"),
         [this] {
             if (mayLeave()) document_.session().start(newProject("Untitled")), goTo(Stage::Data);
         }},
        {tr("File"), tr("Open project…"), "Ctrl+O", tr("Open a project file"), [this] { openProject(); }},
        {tr("File"), tr("Open the demo"), "", tr("Tern Sands: made-up shells and a sensor"),
         [this] {
             if (mayLeave()) openPath("demo:");
         }},
        {tr("File"), tr("Import data…"), "Ctrl+I", tr("Read files with measured data"),
         [this] { importFiles(); }},
        {tr("File"), tr("Save"), "Ctrl+S", tr("Save the project"), [this] { save(); }},
        {tr("File"), tr("Save as…"), "Ctrl+Shift+S", tr("Save under another name"), [this] { saveAs(); }},
        {tr("File"), tr("Export figure…"), "Ctrl+E", tr("Write the figure as PDF, SVG, PNG and others"),
         [this] { exportFigure(); }},
        {tr("File"), tr("Export table…"), "", tr("Write the table as CSV, XLSX, JSON or HDF5"),
         [this] { exportTable(); }},
        {tr("File"), tr("Report of dataset…"), "Ctrl+R",
         tr("The dataset on one page: curve, protocol, numbers, doubts and methods"),
         [this] { exportReport(); }},
        {tr("File"), tr("Quit"), "Ctrl+Q", tr("Close Jointer"), [this] { close(); }},
        {tr("Edit"), tr("Undo"), "Ctrl+Z", tr("Take back the last change"), [&s] { s.undo(); }},
        {tr("Edit"), tr("Redo"), "Ctrl+Shift+Z", tr("Do it again"), [&s] { s.redo(); }},
        {tr("Edit"), tr("Paste"), "Ctrl+V",
         tr("Import a block from the clipboard, place a drawing on the page, or give copied steps to "
            "the selected datasets"),
         [this] { paste(); }},
        {tr("Edit"), tr("Find anything"), "Ctrl+K", tr("Actions, steps, models, datasets by a few letters"),
         [this] { find_->begin(); }}};
    all.insert(all.end(), own.begin(), own.end());
}

void Window::addDataEntries(std::vector<Entry>& all) {
    const std::vector<Entry> own = {
        {tr("Table"), tr("New table"), "Ctrl+T", tr("An empty table to type in"),
         [this] { goTo(Stage::Data), data_->newTable(); }},
        {tr("Table"), tr("Find in table"), "Ctrl+F", tr("Cells by text, by comparison, or what is missing"),
         [this] { goTo(Stage::Data), data_->findInTable(); }},
        {tr("Table"), tr("Rename table"), "", tr("Type another name (F2 in the list)"),
         [this] { datasets_->renameTable(document_.table()); }},
        {tr("Table"), tr("Remove table"), "", tr("Remove the table with the datasets made from it"),
         [this] { datasets_->removeTable(document_.table()); }},
        {tr("Dataset"), tr("Choose columns…"), "", tr("Which column is what in the selected dataset"),
         [this] { goTo(Stage::Data), data_->chooseColumns(); }},
        {tr("Dataset"), tr("Read the file again…"), "", tr("With other settings, or after it has grown"),
         [this] { goTo(Stage::Data), data_->readAgain(); }},
        {tr("Dataset"), tr("Take selected datasets as replicates"), "",
         tr("The selected columns of one table become the replicates of one dataset"),
         [this] { document_.apply(edits::joinReplicates(document_.selection())); }},
        {tr("Dataset"), tr("Keep as a recipe"), "",
         tr("The way of the selected dataset, to go it again with other files"),
         [this] { keepAsRecipe(document_.dataset()); }}};
    all.insert(all.end(), own.begin(), own.end());
    for (const MadeDataset& made : kMadeDatasets)
        all.push_back(
            {tr("Dataset"), madeName(made), "", madeTip(made), [this, kind = made.kind] { addMade(kind); }});
    const std::vector<Entry> last = {
        {tr("Dataset"), tr("Rename dataset"), "", tr("Type another name (F2 in the list)"),
         [this] { datasets_->renameDataset(document_.dataset()); }},
        {tr("Dataset"), tr("Remove dataset"), "", tr("Remove the selected datasets with their fits"),
         [this] { datasets_->removeSelected(); }}};
    all.insert(all.end(), last.begin(), last.end());
}

void Window::addFigureEntries(std::vector<Entry>& all) {
    all.push_back({tr("Figure"), tr("New figure"), "Ctrl+Shift+F",
                   tr("A figure of the selected dataset and its fit"),
                   [this] { goTo(Stage::Figure), figure_->addFigure(); }});
    all.push_back({tr("Figure"), tr("Draw…"), "", tr("Pictures of how the selected dataset would look"),
                   [this] { goTo(Stage::Figure), figure_->offerMarks(); }});
    all.push_back({tr("Figure"), tr("Draw dataset in figure"), "",
                   tr("Add the selected datasets to the figure"),
                   [this] { goTo(Stage::Figure), figure_->addMarksOf(document_.selection()); }});
    all.push_back({tr("Figure"), tr("Open a figure written as JSON…"), "",
                   tr("A figure that was written as text (JSON), with its data and fits"),
                   [this] { addFigureFromText(); }});
    all.push_back({tr("Figure"), tr("Show other datasets…"), "",
                   tr("The same figure, or a copy of it, with other data"),
                   [this] { goTo(Stage::Figure), figure_->offerOtherDatasets(); }});
    all.push_back(
        {tr("Figure"), tr("Copy figure"), "Ctrl+Alt+C",
         tr("To the clipboard as SVG, PDF and a bitmap of 300 dpi, for a text or a drawing program"),
         [this] { copyFigure(); }});
    all.push_back({tr("Figure"), tr("Edit house styles…"), "",
                   tr("What a house style says of each kind of element, with a sample figure beside"),
                   [this] { goTo(Stage::Figure), figure_->editStyles(); }});
    all.push_back({tr("File"), tr("Print figure…"), "Ctrl+P",
                   tr("The figure in its true size on paper, with a preview"), [this] { printFigure(); }});
    all.push_back({tr("Figure"), tr("Export house style…"), "",
                   tr("The house style of the figure as a file, for other projects"),
                   [this] { exportStyle(); }});
    all.push_back({tr("Figure"), tr("Import house style…"), "",
                   tr("A house style from a file; the figure takes it"), [this] { importStyle(); }});
    all.push_back({tr("Figure"), tr("Check for a journal…"), "", tr("What a publisher would send back"),
                   [this] { goTo(Stage::Figure), figure_->checkForJournal(); }});
    all.push_back({tr("Figure"), tr("Place artwork…"), "",
                   tr("A drawing or a picture on the page: SVG, PDF, PNG, JPEG, TIFF"),
                   [this] { goTo(Stage::Figure), figure_->askForArtwork(); }});
    all.push_back({tr("Figure"), tr("Save the original of an artwork…"), "",
                   tr("The file of the selected artwork as it came"),
                   [this] { goTo(Stage::Figure), figure_->saveOriginal(); }});
    for (const figure::NewNote& n : figure::newNotes())
        all.push_back({tr("Figure"), tr("Add %1").arg(tr(n.name).toLower()), "", tr(n.tip),
                       [this, key = std::string(n.key)] {
                           goTo(Stage::Figure);
                           figure_->addNote(key);
                       }});
    for (const FigureStage::Action& a : FigureStage::actions())
        if (a.edit)
            all.push_back({tr("Figure"), tr(a.name), "", tr(a.tip), [this, key = a.key] {
                               goTo(Stage::Figure);
                               figure_->act(key);
                           }});
}

// Each step, model and analysis.
void Window::addCatalogueEntries(std::vector<Entry>& all) {
    for (const steps::StepKind& kind : steps::catalogue())
        all.push_back({tr("Step"), text(kind.info.name), "", text(kind.info.purpose),
                       [this, key = kind.info.key, name = kind.info.name] { addStep(key, name); },
                       text(kind.info.group)});
    auto analyse = [this](const std::function<Analysis(DatasetId)>& make) {
        if (!document_.dataset())
            return document_.say(tr("Import data first: an analysis needs a dataset."), true);
        goTo(Stage::Analyse);
        document_.addAnalysis(make);
    };
    for (const models::ModelKind& kind : models::catalogue())
        all.push_back(
            {tr("Fit"), text(kind.info.name), "", text(kind.info.purpose),
             [analyse, key = kind.info.key] { analyse([&](DatasetId d) { return newFit(d, key); }); },
             text(kind.info.group)});
    all.push_back({tr("Fit"), tr("Choose another model…"), "",
                   tr("Pictures of all models, and those that would serve"), [this] {
                       goTo(Stage::Analyse);
                       analyse_->protocol()->openPicker();
                   }});
    for (const analyses::AnalysisKind& kind : analyses::catalogue()) {
        if (kind.info.key == "fit") continue; // by its models, above
        all.push_back(
            {tr("Fit"), text(kind.info.name), "", text(kind.info.purpose),
             [analyse, key = kind.info.key] { analyse([&](DatasetId d) { return newAnalysis(d, key); }); }});
    }
}

void Window::addStep(const std::string& key, const std::string& name) {
    if (!document_.dataset()) return document_.say(tr("Import data first: a step works on a dataset."), true);
    goTo(Stage::Clean);
    if (document_.onEach([&](DatasetId d) { return edits::addStep(d, key, {}, "Add step: " + name); }))
        document_.openStep(document_.currentDataset()->protocol.back().id);
}

void Window::addViewEntries(std::vector<Entry>& all) {
    all.push_back({tr("View"), tr("Pointer"), "", tr("Back to the pointer (Esc)"),
                   [this] { clean_->chooseTool(Tool::Pointer), analyse_->chooseTool(Tool::Pointer); }});
    all.push_back({tr("View"), tr("Light or dark"), "Ctrl+Shift+D",
                   tr("Switch between the light and the dark theme"), [this] { setDark(!theme().dark); }});
    for (int i = 0; i < static_cast<int>(kStageNames.size()); ++i)
        all.push_back({tr("View"), tr(kStageNames[static_cast<std::size_t>(i)]),
                       QString("Ctrl+%1").arg(i + 1),
                       tr("Go to %1").arg(tr(kStageNames[static_cast<std::size_t>(i)])),
                       [this, i] { goTo(static_cast<Stage>(i)); }});
    all.push_back({tr("View"), tr("Recipes and runs"), "Ctrl+6",
                   tr("Recipes, what they have made, and what is in doubt"), [this] {
                       results_->showRuns(true);
                       goTo(Stage::Results);
                   }});
    for (const auto& [name, form] : {std::pair(tr("Results long"), ResultsStage::Form::Long),
                                     std::pair(tr("Results wide"), ResultsStage::Form::Wide)})
        all.push_back({tr("View"), name, "", tr("Long: a row for each number. Wide: a row for each dataset"),
                       [this, form = form] {
                           goTo(Stage::Results);
                           results_->numbers()->showAs(form);
                       }});
    const std::pair<QString, WorkStage::Below> below[] = {
        {tr("Residuals"), WorkStage::Below::Residuals},
        {tr("Numbers side by side"), WorkStage::Below::Numbers},
        {tr("Models side by side"), WorkStage::Below::Models},
        {tr("Doubt view"), WorkStage::Below::Doubt},
        {tr("Pairs of parameters"), WorkStage::Below::Pairs},
        {tr("Quantiles of values"), WorkStage::Below::Quantiles},
        {tr("Tables of the analysis"), WorkStage::Below::Tables}};
    for (const auto& [name, what] : below)
        all.push_back({tr("View"), name, "", tr("Show them below the plot of Analyse"), [this, what] {
                           goTo(Stage::Analyse);
                           analyse_->showBelow(what);
                       }});
    const std::tuple<QString, const char*, Tool> tools[] = {{tr("Zoom tool"), "Z", Tool::Zoom},
                                                            {tr("Span tool"), "S", Tool::Span},
                                                            {tr("Leave out tool"), "L", Tool::LeaveOut},
                                                            {tr("Anchor tool"), "A", Tool::Anchor},
                                                            {tr("Peak tool"), "P", Tool::Peak}};
    for (const auto& [name, letter, tool] : tools)
        all.push_back({tr("View"), name, letter, {}, [this, tool = tool] {
                           if (stages_->currentWidget() == clean_) clean_->chooseTool(tool);
                           if (stages_->currentWidget() == analyse_) analyse_->chooseTool(tool);
                       }});
}

// The open fit, else the first of the selected dataset, if it is over x and y.
AnalysisId Window::surfaceFit() {
    const Project& p = document_.project();
    const auto hasTwo = [&](const Analysis& a) {
        if (a.kind != "fit" || a.inputs.empty()) return false;
        return document_.session().evaluator().measured(p, a.inputs[0].dataset).value->more.size() == 1;
    };
    std::vector<AnalysisId> candidates = {document_.analysis()};
    for (const auto& a : p.analyses)
        if (a->takes(document_.dataset())) candidates.push_back(a->id);
    for (const AnalysisId id : candidates)
        if (const auto a = p.analyses.find(id); a && hasTwo(*a)) return id;
    return {};
}

// A function, or a join of the selected dataset with another; its settings stand in the Data stage.
void Window::addMade(const char* kind) {
    const Project& p = document_.project();
    std::vector<DatasetId> inputs;
    if (std::string_view(kind) == "join") {
        if (p.datasets.size() < 2) return document_.say(tr("Two datasets are needed to be joined."), true);
        inputs = {document_.dataset()};
        for (const auto& d : p.datasets)
            if (inputs.size() < 2 && d->id != inputs[0]) inputs.push_back(d->id);
    }
    const std::string_view what = kind;
    const auto current = document_.currentDataset();
    if (what == "stack") inputs = document_.selection();
    if (what == "stack" && inputs.size() < 2)
        return document_.say(tr("Select the curves first that shall be the rows of the map."), true);
    if (what == "cut" || what == "changed-field") {
        if (!current || !evaluate::hasField(current->source))
            return document_.say(
                tr("Select a field first: a grid, a surface, a map, or a function of x and y."), true);
        inputs = {current->id};
    }
    Dataset made = madeDataset(p, kind, std::move(inputs));
    if (what == "fitted-surface") {
        const AnalysisId fit = surfaceFit();
        if (!fit)
            return document_.say(
                tr("Fit a model of x and y to the selected dataset first: its surface is then drawn."), true);
        made.name = analyses::nameOf(*p.analyses.find(fit)) + " · surface";
        made.source.settings.set("fit", Value(Reference{fit.text()}));
    }
    goTo(Stage::Data);
    if (document_.apply(edits::addDataset(std::move(made))))
        document_.selectDataset(document_.project().datasets[document_.project().datasets.size() - 1].id);
}

void Window::buildMenus() {
    std::map<QString, QMenu*> menus;
    for (const char* name : {"File", "Edit", "Table", "Dataset", "Step", "Fit", "Figure", "View", "Help"})
        menus[tr(name)] = menuBar()->addMenu(tr(name));
    datasets_->offer(menus[tr("Dataset")], menus[tr("Table")]);
    for (Entry& e : entries()) {
        QMenu*& menu = menus[e.group.isEmpty() ? e.menu : e.menu + " › " + e.group];
        if (!menu) menu = menus[e.menu]->addMenu(e.group);
        QAction* action = menu->addAction(e.name);
        action->setToolTip(e.tip);
        action->setStatusTip({});
        if (!e.shortcut.isEmpty()) action->setShortcut(QKeySequence(e.shortcut));
        connect(action, &QAction::triggered, this, e.run);
        if (e.name == tr("Undo")) undo_ = action;
        if (e.name == tr("Redo")) redo_ = action;
        actions_.push_back({e.menu + " › " + e.name, e.shortcut, e.run, e.tip});
    }
}

// What Find offers: the actions, and the datasets, fits and figures of the project.
std::vector<Findable> Window::findable() {
    std::vector<Findable> all = actions_;
    const Project& p = document_.project();
    for (const auto& d : p.datasets)
        all.push_back(
            {tr("Dataset › %1").arg(text(d->name)), {}, [this, id = d->id] { document_.selectDataset(id); }});
    for (const auto& t : p.tables)
        all.push_back({tr("Table › %1").arg(text(t->name)), {}, [this, id = t->id] {
                           document_.selectTable(id);
                           goTo(Stage::Data);
                       }});
    for (const auto& t : p.tables)
        for (const Column& c : t->columns)
            if (all.size() < 5000) // of tables with very many columns the first
                all.push_back({tr("Column › %1 › %2").arg(text(t->name), text(c.name)),
                               {},
                               [this, t = t->id, c = c.id] {
                                   document_.selectTable(t);
                                   goTo(Stage::Data);
                                   data_->showColumn(c);
                               }});
    for (const auto& f : p.figures)
        all.push_back({tr("Figure › %1").arg(text(f->name)), {}, [this, id = f->id] {
                           document_.selectFigure(id);
                           goTo(Stage::Figure);
                       }});
    addFindableSettings(all);
    return all;
}

// The settings of the selected dataset's steps, and of the elements of the figure that is open.
void Window::addFindableSettings(std::vector<Findable>& all) {
    auto add = [&](const QString& of, const KindInfo& kind, const Settings& given, const auto& run) {
        for (const Setting& s : kind.settings)
            if (isShown(kind, s, given))
                all.push_back(
                    {tr("Setting › %1 › %2").arg(of, text(s.label)), {}, [run, key = s.key] { run(key); }});
    };
    if (const auto d = document_.currentDataset())
        for (std::size_t i = 0; i < d->protocol.size(); ++i) {
            const Step& step = d->protocol[i];
            if (const steps::StepKind* kind = steps::catalogue().find(step.kind))
                add(tr("Step %1, %2").arg(i + 1).arg(text(kind->info.name)), kind->info, step.settings,
                    [this, id = step.id](const std::string& key) {
                        goTo(Stage::Clean);
                        clean_->protocol()->focusSetting(id, key);
                    });
        }
    const Project& p = document_.project();
    const auto figure = p.figures.find(document_.figure());
    if (!figure) return;
    auto addElement = [&](const std::string& name, const std::string& kind, const Settings& given,
                          ElementId id) {
        if (const KindInfo* info = figure::elementKinds().find(kind))
            add(text(name), *info, given, [this, id](const std::string& key) {
                goTo(Stage::Figure);
                figure_->focusSetting(id, key);
            });
    };
    addElement(figure->name, "figure", figure->settings, {});
    const std::function<void(const std::vector<Element>&)> walk = [&](const std::vector<Element>& elements) {
        for (const Element& e : elements) {
            addElement(elementName(p, e), e.kind, e.settings, e.id);
            walk(e.children);
        }
    };
    walk(figure->elements);
}

} // namespace jointer::app
