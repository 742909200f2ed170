// SPDX-License-Identifier: GPL-3.0-or-later
// What follows a dragging hand beside the main picture: done now and then while it drags, at once when it lets go.
#pragma once

#include <QElapsedTimer>
#include <QTimer>
#include <functional>

namespace jointer::app {

class Paced {
public:
    explicit Paced(std::function<void()> act) : act_(std::move(act)) {
        later_.setSingleShot(true);
        QObject::connect(&later_, &QTimer::timeout, [this] { call(false); });
    }
    void call(bool dragging) {
        if (dragging && last_.isValid() && last_.elapsed() < kApart) {
            if (!later_.isActive()) later_.start(static_cast<int>(kApart - last_.elapsed()));
            return;
        }
        later_.stop();
        last_.start();
        act_();
    }
    bool isWaiting() const { return later_.isActive(); }

private:
    static constexpr qint64 kApart = 100; // ms

    std::function<void()> act_;
    QTimer later_;
    QElapsedTimer last_;
};

} // namespace jointer::app
