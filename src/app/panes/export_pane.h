// SPDX-License-Identifier: GPL-3.0-or-later
// How a figure is written, made from the description of its settings; the size of the file is told
// beforehand. A popup that goes by itself.
#pragma once

#include "app/background.h"
#include "session/export.h"

#include <QFrame>

class QCheckBox;
class QLabel;

namespace jointer::app {

class SettingsForm;

struct ExportWish {
    Settings settings{}; // of figure::exportKind()
    bool all = false;    // every figure of the project

    std::string format() const { return settings.text("format", "pdf"); }
};

// The bytes that a figure would have, so written; may take long.
using WeighFigure = std::function<Result<std::size_t>(const ExportWish& wish, const Cancellation& stop)>;

class ExportPane final : public QFrame {
    Q_OBJECT
public:
    ExportPane(const Catalogue<KindInfo>& formats, const Settings& last, draw::Rect pageMm,
               std::size_t figures, WeighFigure weigh, QWidget* parent);

Q_SIGNALS:
    void wanted(const jointer::app::ExportWish& wish);

protected:
    void keyPressEvent(QKeyEvent* event) override; // Return writes

private:
    ExportWish wish() const;
    QString sizeText() const;
    void tell();
    void weigh();
    void write();

    const Catalogue<KindInfo>& formats_;
    draw::Rect page_;
    WeighFigure weigh_;
    Settings settings_;
    SettingsForm* form_;
    QCheckBox* all_;
    QLabel* facts_;
    LatestJob job_;
};

} // namespace jointer::app
