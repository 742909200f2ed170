// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/setting_makers.h"
#include "figure/compose.h"
#include "figure/kinds.h"
#include "figure/marks/mark.h"

namespace jointer::figure {

namespace {

Catalogue<MarkKind>& all() {
    static Catalogue<MarkKind> kinds(
        {pointsMark(),       lineMark(),           pointsLineMark(),    stepsMark(),
         areaMark(),         bandMark(),           stemsMark(),         barsMark(),
         boxesMark(),        violinsMark(),        stripsMark(),        bracketMark(),
         histogramMark(),    curveMark(),          componentsMark(),    residualsMark(),
         resultsTableMark(), functionMark(),       referenceLineMark(), referenceRangeMark(),
         baselineMark(),     takenMark(),          spectrumMark(),      readingsMark(),
         colourMapMark(),    filledContoursMark(), contourLinesMark(),  arrowsMark(),
         placesMark(),       surfaceMark(),        rowsMark(),          ionPatternsMark(),
         reliefPointsMark()});
    return kinds;
}

} // namespace

const Catalogue<MarkKind>& markCatalogue() {
    return all();
}

void addMarkKind(MarkKind kind) {
    kind.info.group = "Marks";
    all().add(std::move(kind));
}

bool isMark(std::string_view kind) {
    return all().find(kind) != nullptr;
}

MarkPtr prepareMark(const MarkTask& task) {
    const MarkKind* kind = all().find(task.element.kind);
    if (!kind) return nullptr;
    MarkPtr mark = kind->prepare(task);
    mark->element = task.element.id;
    if (!mark->of) mark->of = DatasetId::fromText(task.source);
    if (mark->label == "-" || mark->label == "–") mark->named = false;
    return mark;
}

// Most marks are told by a sample; those that have none need no room in a legend.
void Mark::key(draw::Rect, draw::Group&) const {}

Envelope Mark::envelope(const AxisMap&, std::size_t parts) const {
    return {std::vector<double>(parts, NAN), std::vector<double>(parts, NAN)};
}

const Catalogue<KindInfo>& elementKinds() {
    static const Catalogue<KindInfo> kinds([] {
        std::vector<KindInfo> list = {pageKind(), panelKind(), artworkKind(), axisKind()};
        for (const MarkKind& mark : all()) list.push_back(mark.info);
        for (KindInfo (*other)() : {groupKind, legendKind, colourBarKind, noteKind, arrowKind, shapeKind,
                                    braceKind, scaleBarKind, tableKind})
            list.push_back(other());
        for (KindInfo& kind : list)
            if (canBePlaced(kind.key))
                kind.settings.push_back(describe::word("together", "Kept together",
                                                       "Elements of one name are selected and moved as one.",
                                                       {.whenEmpty = "alone", .hidden = true}));
        return list;
    }());
    return kinds;
}

} // namespace jointer::figure
