// SPDX-License-Identifier: GPL-3.0-or-later
// The barrier against faults of our own: an exception that leaves a handler of an event or work in the
// background ends nothing. It is reported to whoever listens (the window, which says it and keeps the work
// safe).
#pragma once

#include <QApplication>
#include <exception>
#include <functional>
#include <string>

namespace jointer::app {

// Runs `act`; an exception becomes its words, given to `fail`.
template <class Act, class Fail> void guarded(const Act& act, const Fail& fail) {
    try {
        act();
    } catch (const std::exception& e) {
        fail(std::string(e.what()));
    } catch (...) {
        fail(std::string("unknown"));
    }
}

// In the window's thread. Without a listener the fault goes to the log.
void reportFault(const std::string& what);
void onFault(std::function<void(const std::string&)> listener); // one; empty: none

// The application with the barrier around all events.
class Application final : public QApplication {
public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override;
};

} // namespace jointer::app
