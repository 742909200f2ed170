// SPDX-License-Identifier: GPL-3.0-or-later
// Small pieces that all panes are built from, so that they look alike. Their looks are in the style sheet of
// the theme, by object name.
#pragma once

#include <QString>
#include <functional>
#include <string_view>

class QFormLayout;
class QFrame;
class QHBoxLayout;
class QLabel;
class QLayout;
class QMenu;
class QPoint;
class QPushButton;
class QScrollArea;
class QTableView;
class QVBoxLayout;
class QWidget;

namespace jointer {
struct KindInfo;
}

namespace jointer::app {

QString text(std::string_view utf8);

QLabel* muted(const QString& words);   // quiet ink
QLabel* caption(const QString& words);     // the heading of a part of a pane
QLabel* nameCaption(const QString& words); // the same with a name in it, shortened where there is no room
QLabel* title(const QString& words);   // the heading of a stage
QLabel* warningLabel();                // empty and hidden; wraps
QLabel* errorLabel();                  // empty and hidden; wraps
QFrame* hairline();

// A row of a form: the label belongs to the field, for screen readers too.
void addLabelled(QFormLayout& form, const QString& label, QWidget* field);

// A row below a plot, which scrolls sideways.
QScrollArea* stripScroll(QWidget* content, const QString& name);

// What scrolls up and down within a pane; its content fits the width.
QScrollArea* paneScroll(QWidget* content, const QString& name);
void preparePaneScroll(QScrollArea& scroll, QWidget* content, const QString& name);

// Filters of file dialogs, from the catalogues of formats.
QString endingFilter(const KindInfo& format); // "PDF (*.pdf)", of its key
QString tableFilter();
QString readerFilter();

// Shows the words, or hides the label when there are none.
void say(QLabel* label, const QString& words);

// A button with a look ("", "primary", "link", "tool", "flat") that runs `act` for `owner`.
QPushButton* button(QWidget* owner, const QString& label, const char* look, const QString& tip,
                    std::function<void()> act);

// The same with a name that may be long: shortened where there is no room.
QPushButton* nameButton(QWidget* owner, const QString& name, const char* look, const QString& tip,
                        std::function<void()> act);

// Another label; a new text alone would take the shortcut away.
void relabel(QPushButton* button, const QString& label);

// The two parts of a stage, side by side on `page`: the thing worked on and the pane at its right.
struct StageParts {
    QVBoxLayout *middle, *side;
};
StageParts layOutStage(QWidget* page);

// The width of the side pane, the same in all stages of a window.
void setSideWidth(QWidget* window, int width);
void onSideWidth(QWidget* window, std::function<void(int)> act);

// The strip above a canvas, for a few tools.
QWidget* toolStrip(QHBoxLayout*& row);

// The looks that all grids of numbers share.
void prepareGrid(QTableView* grid);

// Looks that depend on the object name or on a property are taken again.
void refreshLook(QWidget* widget);

// Takes a widget away, also while it handles an event: it hides now, says nothing more, and goes afterwards.
void discard(QWidget* widget);

// Discards all items of a layout.
void clearLayout(QLayout* layout);

// A field that is being typed in gives its value now, while what it belongs to is still selected.
void finishTyping();

// An empty menu that goes by itself once it closes. Nothing waits for it: to be filled, then `popup`.
QMenu* newMenu(QWidget* owner);
QMenu* newStayingMenu(QWidget* owner); // the same, but one can check several entries before it closes
QPoint below(const QWidget* widget);   // where its menu opens

} // namespace jointer::app
