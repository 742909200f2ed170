// SPDX-License-Identifier: GPL-3.0-or-later
// Edits: functions from a project to a new one, with a name for the history. They carry ids and values, never
// pointers, and fail cleanly when their target is gone. Edits with the same non-empty merge key that follow
// each other (a drag, a slider) become one entry of the history.
#pragma once

#include "base/issue.h"
#include "project/project.h"

#include <functional>

namespace jointer {

struct Edit {
    std::string name; // "Leave out 2 points"
    std::string mergeKey;
    std::function<Result<Project>(const Project&)> apply;
};

namespace edits {

Edit addTable(Table table); // ids are given on application
Edit changeTable(TableId id, std::string name, std::function<void(Table&)> change);
Edit changeColumn(TableId table, ColumnId column, std::string name, std::function<void(Column&)> change);

// The same with errors, and with the rest of the project at hand.
Edit onTable(TableId id, std::string name, std::function<Result<void>(Project&, Table&)> change);
Edit removeTable(TableId id);
Edit setFormula(TableId table, ColumnId column, std::string formula);
Edit addComputedColumn(TableId table, std::string name, std::string formula);
Edit addComputedColumn(TableId table, Column column); // with its formula

Edit addDataset(Dataset dataset);
Edit removeDataset(DatasetId id); // with its analyses and marks
Edit changeDataset(DatasetId id, std::string name, std::function<void(Dataset&)> change,
                   std::string mergeKey = {});
// The first takes the y of the others as further replicates; the others go, with what hangs on them.
// Errors: they are not columns of one table over one x.
Edit joinReplicates(std::vector<DatasetId> ids);

Edit addStep(DatasetId dataset, std::string kind, Settings settings, std::string name);
Edit setStep(DatasetId dataset, StepId step, std::string key, Value value);
// Several settings at once; monostate takes one away.
Edit setStep(DatasetId dataset, StepId step, std::vector<std::pair<std::string, Value>> settings,
             std::string name);
Edit addSteps(DatasetId dataset, std::vector<Step> steps, std::string name); // at the end, with new ids
Edit switchStep(DatasetId dataset, StepId step, bool on);
Edit removeStep(DatasetId dataset, StepId step);
Edit moveStep(DatasetId dataset, StepId step, int by);
Edit clearProtocol(DatasetId dataset); // takes out all steps

// Adds row ids to the last switched-on "exclude" step of the protocol, or takes them out; makes one first in
// the protocol where there is none.
Edit excludeRows(DatasetId dataset, std::vector<std::uint32_t> rows, bool leaveOut);

Edit addAnalysis(Analysis analysis);
Edit changeAnalysis(AnalysisId id, std::string name, std::function<void(Analysis&)> change,
                    std::string mergeKey = {});
Edit removeAnalysis(AnalysisId id);

Edit keepModel(UserModel model); // in place of one of the same name

Edit addFigure(Figure figure);
Edit removeFigure(FigureId id);
Edit changeFigure(FigureId id, std::string name, std::function<void(Figure&)> change,
                  std::string mergeKey = {});
Edit setElement(FigureId figure, ElementId element, std::string key,
                Value value); // monostate: back to the style
Edit addElement(FigureId figure, ElementId parent, Element element);
Edit removeElement(FigureId figure, ElementId element);

Edit rename(std::string title);

// Several edits as one entry of the history.
Edit together(std::string name, std::vector<Edit> edits);

} // namespace edits

// Gives ids to an element and everything below it that has none.
void giveIds(Project& project, Element& element);

} // namespace jointer
