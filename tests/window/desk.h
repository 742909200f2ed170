// SPDX-License-Identifier: GPL-3.0-or-later
// The Figure stage as a person has it at hand: pictures and menus are opened and clicked, elements are
// clicked where they lie on the page, fields are unfolded and typed into. Every click, drag, typed field and
// chosen entry is counted.
#pragma once

#include "app/panes/dataset_list.h"
#include "app/panes/mark_picker.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/moves.h"
#include "figures.h"
#include "project/project_file.h"
#include "window/driver.h"

#include <QListWidget>
#include <QToolButton>

namespace jointer::test {

class Desk {
public:
    Driver d;
    int actions = 0;

    // With an empty project.
    Desk() = default;
    // With a project that is opened, in the Figure stage.
    explicit Desk(const Project& project) {
        const QString path = folder.filePath("p.jointer");
        EXPECT_TRUE(saveProject(project, {}, path.toStdString()).has_value());
        d.window.openPath(path);
        d.settle();
        d.stage("Figure");
    }

    PageView* page() { return d.window.figure()->page(); }
    const Project& project() { return d.project(); }
    const Figure& figure() { return *project().figures.find(d.window.document().figure()); }
    const Element& panel(std::size_t k = 0) { return figure().elements[k]; }
    figure::Layout layout() {
        return figure::layOut(project(), figure(), d.window.document().session().evaluator());
    }
    ElementId selected() { return d.window.document().element(); }

    void click(QWidget* on, QPoint at, Qt::KeyboardModifiers with = {}) {
        QTest::mouseClick(on, Qt::LeftButton, with, at);
        d.settle();
        ++actions;
    }
    void press(Qt::Key key, Qt::KeyboardModifiers with = {}) {
        QTest::keyClick(page(), key, with);
        d.settle();
        ++actions;
    }
    void newFigure() {
        QTest::keyClick(&d.window, Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
        d.settle();
        ++actions;
    }
    // One click each, with Ctrl after the first.
    void datasets(const std::vector<std::string>& names) {
        QListWidget* list = d.window.findChild<DatasetList*>()->list();
        bool first = true;
        for (const std::string& name : names)
            for (int i = 0; i < list->count(); ++i) {
                if (list->item(i)->text().toStdString() != name) continue;
                list->scrollToItem(list->item(i));
                click(list->viewport(), list->visualItemRect(list->item(i)).center(),
                      first ? Qt::NoModifier : Qt::ControlModifier);
                first = false;
            }
    }
    // Opens the pictures and clicks the one of that name.
    void drawAs(const char* name) {
        press(button("+ Draw"));
        for (MarkPicker* picker : d.window.findChildren<MarkPicker*>())
            for (QToolButton* b : picker->findChildren<QToolButton*>())
                if (picker->isVisible() && b->text() == name) return click(b, b->rect().center());
        ADD_FAILURE() << "no picture of " << name;
    }
    // Opens Arrange and clicks the entry.
    void arrange(const char* entry) {
        press(button("Arrange"));
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        if (!menu) return void(ADD_FAILURE() << "no menu");
        for (QAction* action : menu->actions())
            if (action->text() == entry) return click(menu, menu->actionGeometry(action).center());
        ADD_FAILURE() << "no entry " << entry;
        menu->close();
    }
    // Clicks where the element is the uppermost; fails where it is nowhere.
    void select(ElementId id, Qt::KeyboardModifiers with = {}) {
        const figure::Layout& shown = page()->layoutShown();
        const double reach = 0.5;
        const auto meets = [&](double x, double y) {
            const auto hits = figure::hitsAt(shown, {x, y}, reach);
            return !hits.empty() && hits.front().element == id;
        };
        for (const double around : {0.6, 0.0}) // at an edge a pixel decides
            for (double y = 0.5; y < shown.list.heightMm; y += 0.5)
                for (double x = 0.5; x < shown.list.widthMm; x += 0.5)
                    if (meets(x, y) && meets(x - around, y) && meets(x + around, y) && meets(x, y - around) &&
                        meets(x, y + around))
                        return click(page(), page()->toPixels({x, y}).toPoint(), with);
        ADD_FAILURE() << "the element cannot be clicked";
    }
    const Element* axis(const char* side, int lane = 0, std::size_t k = 0) {
        for (const Element& e : panel(k).children)
            if (e.kind == "axis" && e.settings.text("side", "bottom") == side &&
                e.settings.integer("lane") == lane)
                return &e;
        return nullptr;
    }
    const Element* first(const char* kind, std::size_t k = 0) {
        for (const Element& e : panel(k).children)
            if (e.kind == kind) return &e;
        return nullptr;
    }
    // A field of what is selected, its group unfolded before.
    template <class Widget> Widget* field(const QString& key) {
        QWidget* side = d.window.figure();
        auto* found = side->findChild<Widget*>(key);
        if (!found) unfold(key);
        found = side->findChild<Widget*>(key);
        EXPECT_TRUE(found) << "no field " << key.toStdString();
        return found;
    }
    void type(const QString& key, const QString& words) {
        auto* line = field<QLineEdit>(key);
        if (!line) return;
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, words);
        QTest::keyClick(line, Qt::Key_Return);
        d.settle();
        ++actions;
    }
    void choose(const QString& key, const QString& data) {
        if (!field<QComboBox>(key)) return;
        d.choose(d.window.figure(), key, data);
        ++actions;
    }
    void drop(const std::string& dataset, QPointF at) { // one drag
        QMimeData mime;
        for (const auto& each : project().datasets)
            if (each->name == dataset) mime.setData(kDatasetMime, QByteArray::fromStdString(each->id.text()));
        QDragEnterEvent enter(at.toPoint(), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(page(), &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDragMoveEvent move(at.toPoint(), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(page(), &move);
        QDropEvent dropped(at, Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(page(), &dropped);
        d.settle();
        ++actions;
    }
    QRectF area(std::size_t k = 0) {
        const draw::Rect a = page()->layoutShown().panels[k].area;
        return {page()->toPixels({a.x, a.y}), page()->toPixels({a.right(), a.bottom()})};
    }
    void drag(QPointF from, QPointF to) {
        QTest::mousePress(page(), Qt::LeftButton, {}, from.toPoint());
        for (int k = 1; k <= 4; ++k) QTest::mouseMove(page(), (from + (to - from) * k / 4).toPoint());
        QTest::mouseRelease(page(), Qt::LeftButton, {}, to.toPoint());
        d.settle();
        ++actions;
    }
    QPointF grip(figure::Grip wanted) {
        const figure::Hit hit{selected(), {}};
        for (const figure::GripPlace& g : figure::gripsOf(figure(), page()->layoutShown(), hit))
            if (g.grip == wanted) return page()->toPixels(g.at);
        ADD_FAILURE() << "no such grip";
        return {};
    }

    QTemporaryDir folder;

private:
    QPushButton* button(const char* label) { return d.button(d.window.figure(), label); }
    void press(QPushButton* b) {
        if (b) click(b, b->rect().center());
    }
    // Clicks the heading of the group in which the setting stands.
    void unfold(const QString& key) {
        const Element* e = figure().find(selected());
        const KindInfo* kind = figure::elementKinds().find(e ? e->kind : "figure");
        QString bare = key;
        bare.remove("-low").remove("-high");
        const Setting* s = kind ? kind->find(bare.toStdString()) : nullptr;
        if (!s) return;
        for (QPushButton* b : d.window.figure()->findChildren<QPushButton*>())
            if (b->isVisible() && b->accessibleName().toStdString() == s->group) return press(b);
    }
};

// The second demo without its figures.
inline const Project& material() {
    static const Project all = [] {
        Project p = demo::figureDemo();
        p.figures = {};
        return p;
    }();
    return all;
}

inline std::size_t countOf(const Figure& f, const char* kind) {
    std::size_t n = 0;
    std::function<void(const std::vector<Element>&)> walk = [&](const std::vector<Element>& elements) {
        for (const Element& e : elements) {
            n += e.kind == kind;
            walk(e.children);
        }
    };
    walk(f.elements);
    return n;
}

} // namespace jointer::test
