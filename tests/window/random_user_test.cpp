// SPDX-License-Identifier: GPL-3.0-or-later
// A random user: clicks, drags, wheel and keys on the demo, by seed, through the window's own event loop,
// also into menus and dialogs that open. Afterwards the project is saved, opened again and equal.
// JOINTER_SEEDS="1,2,3" and JOINTER_EVENTS=2500 run others; a failure prints its seed and last events.
#include "app/faults.h"
#include "driver.h"
#include "support/differences.h"

#include <QClipboard>
#include <QEventLoop>
#include <QFile>
#include <QPointer>
#include <QStringList>
#include <QTimer>
#include <QWheelEvent>
#include <QWindow>
#include <deque>
#include <random>

namespace jointer {
namespace {

using namespace app;

class RandomUser : public QObject {
public:
    RandomUser(Window& window, unsigned seed, int events, Qt::Key stage = Qt::Key_unknown)
        : window_(window), random_(seed), left_(events), stage_(stage) {}

    void run() {
        QTimer::singleShot(0, this, [this] { next(); });
        loop_.exec();
    }
    std::string last() const { return last_.join("; ").toStdString(); }

private:
    // The next event is posted before this one is made: a dialog that opens gets it in its own event loop.
    void next() {
        // Also from within an event: only what waits for a dialog or a menu gets the next one already.
        if (acting_ > 0 && !QApplication::activeModalWidget() && !QApplication::activePopupWidget())
            return QTimer::singleShot(1, this, [this] { next(); });
        if (left_-- <= 0) return leave();
        QTimer::singleShot(0, this, [this] { next(); });
        ++acting_;
        if (left_ % 40 == 0)
            press(Qt::Key_Escape, {});
        else if (left_ % 15 == 0 && stage_ != Qt::Key_unknown)
            press(stage_, Qt::ControlModifier); // back to the stage that is tried most
        else
            act();
        --acting_;
    }

    // All menus and dialogs are closed; then the loop ends.
    void leave() {
        if (QWidget* open = QApplication::activePopupWidget() ? QApplication::activePopupWidget()
                                                              : QApplication::activeModalWidget()) {
            open->close();
            QTimer::singleShot(0, this, [this] { leave(); });
            return;
        }
        if (acting_ > 0) { // the last event may still open a dialog
            QTimer::singleShot(1, this, [this] { leave(); });
            return;
        }
        loop_.quit();
    }

    QWidget* target() {
        if (QWidget* popup = QApplication::activePopupWidget()) return popup;
        if (QWidget* modal = QApplication::activeModalWidget()) return modal;
        if (!window_.isVisible()) window_.show(); // closed by “Quit”
        return &window_;
    }
    int below(int n) { return std::uniform_int_distribution<int>(0, std::max(0, n - 1))(random_); }
    QPoint place(const QWidget* in) { return {below(in->width()), below(in->height())}; }

    void note(const QString& words) {
        last_ << words;
        while (last_.size() > 25) last_.removeFirst();
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers) {
        note("key " + QKeySequence(static_cast<int>(key) | static_cast<int>(modifiers)).toString());
        const QPointer<QWindow> window(target()->windowHandle());
        // The toolkit's tests send a modifier as a key of its own, after which a menu may be gone.
        if (target() != &window_) modifiers = {};
        if (window) QTest::keyPress(window, key, modifiers);
        if (window) QTest::keyRelease(window, key, modifiers); // pressing may have taken it away
    }

    void act() {
        const double kind = std::uniform_real_distribution<double>(0, 1)(random_);
        QWidget* on = target();
        const QPointer<QWindow> window(on->windowHandle()); // a click may take it away
        if (!window) return;
        const QPoint from = place(on), to = place(on);
        const QString at =
            QString("%1,%2 of %3").arg(from.x()).arg(from.y()).arg(on->metaObject()->className());
        if (kind < 0.45) {
            const bool right = below(5) == 0;
            note((right ? "right " : "click ") + at);
            const Qt::MouseButton button = right ? Qt::RightButton : Qt::LeftButton;
            QTest::mousePress(window, button, {}, from);
            if (window) QTest::mouseRelease(window, button, {}, from);
        } else if (kind < 0.6) {
            note(QString("drag %1 to %2,%3").arg(at).arg(to.x()).arg(to.y()));
            const Qt::MouseButton button = below(6) == 0 ? Qt::MiddleButton : Qt::LeftButton;
            QTest::mousePress(window, button, {}, from);
            for (int step = 1; step <= 3 && window; ++step)
                QTest::mouseMove(window, from + (to - from) * step / 3);
            if (window) QTest::mouseRelease(window, button, {}, to);
        } else if (kind < 0.65) {
            note("double " + at);
            for (int click = 0; click < 2 && window; ++click) {
                QTest::mousePress(window, Qt::LeftButton, {}, from);
                if (window) QTest::mouseRelease(window, Qt::LeftButton, {}, from, 1);
            }
        } else if (kind < 0.7) {
            note("wheel " + at);
            QWidget* under = on->childAt(from) ? on->childAt(from) : on;
            QWheelEvent turn(under->mapFrom(on, from), on->mapToGlobal(from), {}, {0, below(2) ? 360 : -360},
                             Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
            QApplication::sendEvent(under, &turn);
        } else {
            static const std::pair<Qt::Key, Qt::KeyboardModifiers> keys[] = {
                {Qt::Key_Escape, {}},
                {Qt::Key_Tab, {}},
                {Qt::Key_Return, {}},
                {Qt::Key_Delete, {}},
                {Qt::Key_Backspace, {}},
                {Qt::Key_Space, {}},
                {Qt::Key_Up, {}},
                {Qt::Key_Down, {}},
                {Qt::Key_Left, {}},
                {Qt::Key_Right, {}},
                {Qt::Key_Home, {}},
                {Qt::Key_End, {}},
                {Qt::Key_F2, {}},
                {Qt::Key_F5, {}},
                {Qt::Key_Insert, {}},
                {Qt::Key_PageDown, {}},
                {Qt::Key_1, {}},
                {Qt::Key_7, {}},
                {Qt::Key_Minus, {}},
                {Qt::Key_Period, {}},
                {Qt::Key_X, {}},
                {Qt::Key_L, {}},
                {Qt::Key_Z, {}},
                {Qt::Key_S, {}},
                {Qt::Key_E, {}},
                {Qt::Key_A, {}},
                {Qt::Key_P, {}},
                {Qt::Key_1, Qt::ControlModifier},
                {Qt::Key_2, Qt::ControlModifier},
                {Qt::Key_3, Qt::ControlModifier},
                {Qt::Key_4, Qt::ControlModifier},
                {Qt::Key_5, Qt::ControlModifier},
                {Qt::Key_Z, Qt::ControlModifier},
                {Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier},
                {Qt::Key_K, Qt::ControlModifier},
                {Qt::Key_C, Qt::ControlModifier},
                {Qt::Key_V, Qt::ControlModifier},
                {Qt::Key_D, Qt::ControlModifier},
                {Qt::Key_A, Qt::ControlModifier},
                {Qt::Key_F, Qt::ControlModifier},
                {Qt::Key_Delete, Qt::ControlModifier},
                {Qt::Key_Tab, Qt::ShiftModifier}};
            const auto& [key, modifiers] = keys[below(static_cast<int>(std::size(keys)))];
            press(key, modifiers);
        }
    }

    Window& window_;
    std::mt19937 random_;
    int left_, acting_ = 0;
    Qt::Key stage_;
    QEventLoop loop_;
    QStringList last_;
};

std::vector<unsigned> seeds() {
    std::vector<unsigned> all;
    for (const QString& s : qEnvironmentVariable("JOINTER_SEEDS", "1,2,3").split(',', Qt::SkipEmptyParts))
        all.push_back(s.toUInt());
    return all;
}

// As on the screen of a person, not of the program's own folder: dialogs must not write anywhere else.
void enter(const QTemporaryDir& folder) {
    QDir::setCurrent(folder.path());
    QApplication::clipboard()->clear();
}

void tryWith(const QString& project, Qt::Key stage) {
    const int events = qEnvironmentVariableIntValue("JOINTER_EVENTS") > 0
                           ? qEnvironmentVariableIntValue("JOINTER_EVENTS")
                           : 500;
    const QString home = QDir::currentPath();
    for (unsigned seed : seeds()) {
        QTemporaryDir folder;
        enter(folder);
        test::Driver d;
        int faults = 0;
        // A copy: it may be saved.
        QString opened = project;
        if (!project.startsWith("demo:")) {
            opened = folder.filePath("tried.jointer");
            ASSERT_TRUE(QFile::copy(project, opened));
            QFile::setPermissions(opened, QFile::ReadOwner | QFile::WriteOwner);
        }
        d.window.openPath(opened);
        d.settle();
        onFault([&](const std::string& what) {
            ++faults;
            ADD_FAILURE() << "seed " << seed << ": " << what;
        });
        RandomUser user(d.window, seed, events, stage);
        user.run();
        SCOPED_TRACE("seed " + std::to_string(seed) + ", last events: " + user.last());
        std::fprintf(stderr, "random user, seed %u: alive after %d events\n", seed, events);
        const std::string path = folder.filePath("after.jointer").toStdString();
        Session& session = d.window.document().session();
        ASSERT_TRUE(session.save(path));
        Session again;
        const auto reopened = again.open(path);
        ASSERT_TRUE(reopened) << reopened.error().text;
        EXPECT_TRUE(again.project() == session.project())
            << test::differenceOf(session.project(), again.project());
        EXPECT_EQ(faults, 0);
        QDir::setCurrent(home);
    }
}

TEST(RandomUser, NothingEndsTheWindowAndTheProjectReopensEqual) {
    tryWith("demo:", Qt::Key_unknown);
}

TEST(RandomUser, InTheFigureStage) {
    tryWith(JOINTER_SOURCE_DIR "/demos/twelve_figures.jointer", Qt::Key_4);
}

// Residuals, pairs, models, doubt, comparisons, fits over times.
TEST(RandomUser, AmongDoubts) {
    tryWith(JOINTER_SOURCE_DIR "/demos/doubts.jointer", Qt::Key_3);
}

// Samples on a standard curve, groups with their tests.
TEST(RandomUser, AmongAnswers) {
    tryWith(JOINTER_SOURCE_DIR "/demos/answers.jointer", Qt::Key_3);
}

} // namespace
} // namespace jointer
