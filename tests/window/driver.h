// SPDX-License-Identifier: GPL-3.0-or-later
// Drives the real window by the events that a person makes, and waits for what it computes.
#pragma once

#include "app/window.h"
#include "support/fitted.h"
#include "tern_sands.h"

#include <QApplication>
#include <QComboBox>
#include <QDropEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <gmock/gmock.h>

namespace jointer::test {

using namespace jointer::app;

class Driver {
public:
    explicit Driver(const std::string& stateFolder = {}) : window(stateFolder) {
        window.resize(1280, 800);
        window.show();
        EXPECT_TRUE(QTest::qWaitForWindowExposed(&window));
        window.activateWindow();
        settle();
    }

    // Waits until what is visible is computed and drawn.
    void settle() {
        int quiet = 0;
        EXPECT_TRUE(QTest::qWaitFor([&] { return (quiet = window.isSettled() ? quiet + 1 : 0) > 3; }, 20000));
    }

    QPushButton* button(QWidget* in, const QString& label) {
        QPushButton* begins = nullptr; // what bears just this name goes first
        for (QPushButton* b : in->findChildren<QPushButton*>()) {
            if (!b->isVisible()) continue;
            if (b->text() == label || b->accessibleName() == label) return b;
            if (!begins && b->text().startsWith(label)) begins = b;
        }
        if (begins) return begins;
        ADD_FAILURE() << "no button " << label.toStdString();
        return nullptr;
    }
    void click(QWidget* in, const QString& label) {
        if (QPushButton* b = button(in, label)) QTest::mouseClick(b, Qt::LeftButton);
        settle();
    }
    void stage(const QString& name) { click(&window, name); }

    void find(const QString& letters) {
        auto* field = window.findChild<QLineEdit*>("find");
        field->setFocus();
        QTest::keyClicks(field, letters);
        QTest::keyClick(field, Qt::Key_Return);
        settle();
    }

    void drop(const QStringList& paths) {
        QMimeData mime;
        QList<QUrl> urls;
        for (const QString& path : paths) urls << QUrl::fromLocalFile(path);
        mime.setUrls(urls);
        QDragEnterEvent enter(QPoint(600, 400), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&window, &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDropEvent drop(QPointF(600, 400), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&window, &drop);
        settle();
    }

    void clickPlot(PlotCanvas* plot, double x, double y) {
        QTest::mouseClick(plot, Qt::LeftButton, {}, plot->toPixels(x, y).toPoint());
        settle();
    }
    void dragPlot(PlotCanvas* plot, double x1, double x2, double y) {
        QTest::mousePress(plot, Qt::LeftButton, {}, plot->toPixels(x1, y).toPoint());
        QTest::mouseMove(plot, plot->toPixels((x1 + x2) / 2, y).toPoint());
        QTest::mouseMove(plot, plot->toPixels(x2, y).toPoint());
        QTest::mouseRelease(plot, Qt::LeftButton, {}, plot->toPixels(x2, y).toPoint());
        settle();
    }

    // Types into a line field by its object name, and takes it with Return.
    QLineEdit* type(QWidget* in, const QString& field, const QString& words) {
        if (auto* lines = in->findChild<QPlainTextEdit*>(field)) {
            lines->setFocus();
            lines->selectAll();
            QTest::keyClicks(lines, words);
            QTest::keyClick(lines, Qt::Key_Return);
            settle();
            return nullptr;
        }
        auto* line = in->findChild<QLineEdit*>(field);
        if (!line) return ADD_FAILURE() << "no field " << field.toStdString(), nullptr;
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, words);
        QTest::keyClick(line, Qt::Key_Return);
        settle();
        return line;
    }
    // Chooses an entry of a combo box by its data, with the keyboard.
    void choose(QWidget* in, const QString& box, const QString& data) {
        QPointer<QComboBox> combo = in->findChild<QComboBox*>(box);
        if (!combo) return void(ADD_FAILURE() << "no box " << box.toStdString());
        const int wanted = combo->findData(data);
        ASSERT_GE(wanted, 0) << data.toStdString();
        combo->setFocus();
        for (int guard = 0; combo->currentIndex() != wanted && guard < 300; ++guard) {
            QTest::keyClick(combo, combo->currentIndex() < wanted ? Qt::Key_Down : Qt::Key_Up);
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
            if (!combo || !combo->isVisible())
                combo = in->findChild<QComboBox*>(box); // its form was made anew
            ASSERT_TRUE(combo);
        }
        settle();
    }
    // Chooses an entry of the menu that is open.
    void choose(const QString& entry) {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        if (!menu) return void(ADD_FAILURE() << "no menu for " << entry.toStdString());
        for (QAction* action : menu->actions())
            if (action->text() == entry) {
                action->trigger();
                menu->close();
                return settle();
            }
        ADD_FAILURE() << "no entry " << entry.toStdString();
        menu->close();
    }
    QString said() { return window.findChild<QLabel*>("readoutLeft")->text(); }
    std::size_t entries() { return window.document().session().history().undoCount(); }

    const Project& project() { return window.document().project(); }
    const Dataset& dataset() { return project().datasets[0]; }
    test::Fitted fit() {
        return test::fitOf(window.document().session().evaluator(), project(), project().analyses[0]);
    }

    Window window;
};

inline std::string writeRaw(const QTemporaryDir& folder, const std::string& name) {
    const std::string path = folder.filePath(QString::fromStdString(name)).toStdString();
    for (const auto& [file, text] : demo::rawFiles())
        if (file == name) std::ofstream(path, std::ios::binary) << text;
    return path;
}

inline void undoAll(Driver& d) {
    for (int i = 0; i < 100 && d.window.document().session().history().undoCount() > 0; ++i)
        d.click(&d.window, "Undo");
}

} // namespace jointer::test
