// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/answer_marks.h"

#include "app/stages/plot_marks.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/answer_marks.h"

namespace jointer::app {

bool readsSamples(const Analysis& a) {
    const analyses::AnalysisKind* kind = analyses::kindOf(a);
    return kind && kind->takesSamples && !a.analyses.empty();
}

void addReadings(const Analysis& a, const Dataset& d, const std::string& stressed,
                 std::vector<Element>& marks) {
    for (Element& m : figure::readingsOf(a, d.id)) {
        const bool curve = m.kind == "curve";
        m.settings.set("colour", curve ? str(QColor(text(shownColour(d.colour)))) : str(theme().copper));
        if (curve) {
            m.settings.set("width", Value(1.6));
        } else {
            m.settings.set("outside-colour", str(theme().warning));
            m.settings.set("stressed", Value(stressed));
        }
        marks.push_back(std::move(m));
    }
}

std::vector<Element> groupMarks(const Dataset& d) {
    const Value colour = str(QColor(text(shownColour(d.colour))));
    return {mark("boxes", d.id.text(), {{"colour", colour}, {"outliers", Value(false)}, {"label", "-"}}),
            mark("strips", d.id.text(), {{"colour", colour}, {"label", "-"}})};
}

void addBrackets(PlotContent& c, const Analysis& a, const Dataset& d) {
    std::erase_if(c.marks, [](const Element& m) { return m.kind == "bracket"; });
    for (Element& m : figure::bracketsOf(c.project, a, d.id, *c.evaluator, c.effort)) {
        m.settings.set("colour", str(theme().ink));
        c.marks.push_back(std::move(m));
    }
}

} // namespace jointer::app
