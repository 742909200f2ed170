// SPDX-License-Identifier: GPL-3.0-or-later
// The first rows of a sheet that is being imported, with the letters and numbers of its cells, tinted by what
// was recognised. A dragged rectangle says which cells are read; a click on the number of a row asks what it
// is.
#pragma once

#include "io/reader.h"

#include <QTableView>

namespace jointer::app {

class SheetModel;

class SheetView final : public QTableView {
    Q_OBJECT
public:
    explicit SheetView(QWidget* parent = nullptr);
    void show(const io::SheetPreview& sheet, const std::optional<io::SheetRegion>& region);
    void goTo(long row); // from 1

Q_SIGNALS:
    void rangeTold(const QString& range);   // "B3:F40"; empty: the whole sheet
    void told(const QString& key, int row); // "heading", "units", "first"; row 0: there are none

protected:
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    SheetModel* cells_;
};

} // namespace jointer::app
