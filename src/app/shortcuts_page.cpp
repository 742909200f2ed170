// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shortcuts_page.h"

#include "app/controls.h"

#include <QAction>
#include <QKeySequence>
#include <QMenu>
#include <QMenuBar>
#include <QTableView>
#include <QWidget>
#include <algorithm>
#include <utility>
#include <vector>

namespace jointer::app {

namespace {

struct Row {
    QString does, keys;
};
struct Section {
    QString title;
    std::vector<Row> rows;
};

QString keysOf(const QAction& action) {
    QStringList all;
    for (const QKeySequence& keys : action.shortcuts())
        all << "`" + keys.toString(QKeySequence::PortableText) + "`";
    return all.join(", ");
}

// Of the actions with a key.
Section sectionOf(const QString& title, const QList<QAction*>& actions) {
    Section out{title, {}};
    for (const QAction* a : actions)
        if (!a->shortcut().isEmpty()) out.rows.push_back({QString(a->text()).remove('&'), keysOf(*a)});
    return out;
}

QList<QAction*> within(const QMenu* menu) {
    QList<QAction*> all;
    for (QAction* a : menu->actions())
        a->menu() ? all << within(a->menu()) : all << a;
    return all;
}

// Tools say their key in their tip.
Section toolsOf(const QWidget& window) {
    Section out{"Tools of the plots in Clean and Analyse", {}};
    for (const auto* button : window.findChildren<ToolButton*>()) {
        const Row row{button->text() + ": " + button->toolTip().section(" (", 0, 0), "`" + button->key() + "`"};
        const bool known = std::ranges::any_of(out.rows, [&](const Row& r) { return r.does == row.does; });
        if (!known) out.rows.push_back(row);
    }
    return out;
}

// What is no action of its own: gestures, and keys that a canvas takes.
std::vector<Section> gestures() {
    return {{"On a plot",
             {{"Zoom about the pointer; on an axis along it only", "wheel"},
              {"Move what is seen", "middle drag, or `Space` + drag"},
              {"Show all", "double-click on empty ground"},
              {"The view before, and after", "`Alt+Left`, `Alt+Right`"},
              {"Read point by point; ten at once", "`Left`, `Right`; with `Shift`"},
              {"To the first point, the last point", "`Home`, `End`"},
              {"To the curve before, the next curve", "`Up`, `Down`"},
              {"Look into the crowded end; again: back", "`C`"},
              {"See the curve as measured", "hold `M`"},
              {"Take the handle under the pointer away, or leave the point read out", "`Del`"},
              {"Copy the numbers of the span", "`Ctrl+C`"},
              {"Give up what is being dragged, then the tool, then the span", "`Esc`"}}},
            {"On a figure",
             {{"Choose an element; several", "click; with `Shift`"},
              {"Change a text where it stands", "double-click, or `F2`"},
              {"What can be done with it", "right-click"},
              {"The one alone, of a set that is kept together", "click again"},
              {"Scale artwork; cut it", "drag a corner; a side"},
              {"Place a copied drawing or picture", "`Ctrl+V`"},
              {"Set a guide; take it away", "click on a ruler; drag its mark off the page"},
              {"Move by 0.1 mm; by 1 mm", "arrows; with `Shift`"},
              {"Remove", "`Del`"},
              {"Copy its look, paste it", "`Ctrl+Shift+C`, `Ctrl+Shift+V`"},
              {"Give up a drag or a text, then the choice, then the zoom", "`Esc`"}}},
            {"In lists and fields",
             {{"Rename a figure, the heading of a column", "double-click"},
              {"Several datasets, or a row of them", "`Ctrl` + click, `Shift` + click"},
              {"Take a value; the cell below, or the next one", "`Return`; in a table `Return`, `Tab`"},
              {"Leave a field as it was", "`Esc`"},
              {"Import the file, make the dataset", "`Ctrl+Return`"},
              {"Fit from the start values shown", "`F5`"},
              {"The next doubtful dataset of a run", "`F8`"}}}};
}

QString tableOf(const Section& section) {
    QString out = "## " + section.title + "\n\n| what | how |\n| --- | --- |\n";
    for (const Row& r : section.rows) out += "| " + r.does + " | " + r.keys + " |\n";
    return out + "\n";
}

} // namespace

QString shortcutsPage(const QWidget& window) {
    QString out = "# Keys and gestures\n\nThe same everywhere: `Esc` leads back, a right-click offers in words what can be "
                  "done, a double-click changes what\nit hits or shows all. `Ctrl+K` finds every action by a few letters."
                  "\n\n";
    std::vector<Section> all;
    for (const auto* bar : window.findChildren<QMenuBar*>())
        for (const QAction* a : bar->actions())
            if (a->menu()) all.push_back(sectionOf("Menu " + QString(a->text()).remove('&'), within(a->menu())));
    all.push_back(toolsOf(window));
    for (Section& s : gestures()) all.push_back(std::move(s));
    for (const auto* grid : window.findChildren<QTableView*>("tableGrid"))
        all.push_back(sectionOf("In a table", grid->actions()));
    for (const Section& s : all)
        if (!s.rows.empty()) out += tableOf(s);
    return out.trimmed() + "\n";
}

} // namespace jointer::app
