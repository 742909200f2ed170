// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/faults.h"

#include <QDebug>

namespace jointer::app {

namespace {

std::function<void(const std::string&)>& listenerOfFaults() {
    static std::function<void(const std::string&)> listener;
    return listener;
}

} // namespace

void reportFault(const std::string& what) {
    if (listenerOfFaults())
        listenerOfFaults()(what);
    else
        qCritical("%s", what.c_str());
}

void onFault(std::function<void(const std::string&)> listener) {
    listenerOfFaults() = std::move(listener);
}

bool Application::notify(QObject* receiver, QEvent* event) {
    bool taken = true;
    guarded([&] { taken = QApplication::notify(receiver, event); }, reportFault);
    return taken;
}

} // namespace jointer::app
