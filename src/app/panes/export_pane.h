// SPDX-License-Identifier: GPL-3.0-or-later
// How a figure is written: its format, the resolution of a bitmap, the ground. A popup that goes by itself.
#pragma once

#include "session/export.h"

#include <QFrame>

class QCheckBox;
class QComboBox;
class QLabel;
class QSpinBox;

namespace jointer::app {

struct ExportWish {
    std::string format = "pdf";
    ExportOptions options{};
};

class ExportPane final : public QFrame {
    Q_OBJECT
public:
    ExportPane(const Catalogue<KindInfo>& formats, const ExportWish& last, draw::Rect pageMm,
               QWidget* parent);

Q_SIGNALS:
    void wanted(const jointer::app::ExportWish& wish);

protected:
    void keyPressEvent(QKeyEvent* event) override; // Return writes

private:
    ExportWish wish() const;
    void tell();
    void write();

    const Catalogue<KindInfo>& formats_;
    draw::Rect page_;
    QComboBox* format_;
    QSpinBox* dpi_;
    QCheckBox* clear_;
    QLabel* facts_;
};

} // namespace jointer::app
