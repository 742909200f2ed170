// SPDX-License-Identifier: GPL-3.0-or-later
// The sample under the pointer on a page, ringed in all of its places.
#include "app/canvas/page_view.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "data/column.h"

#include <QPainter>

namespace jointer::app {

// By its label, else by its row.
QString PageView::sampleWords(const figure::Layout::Sample& sample) const {
    const auto d = document_.project().datasets.find(sample.of);
    const auto table = d ? document_.project().tables.find(d->source.table) : nullptr;
    for (std::size_t row = 0; table && row < table->rowCount(); ++row) {
        if (table->rows->id(row) != sample.row) continue;
        for (const RoleBinding& b : d->source.roles)
            if (const Column* c = b.role == Role::Label ? table->find(b.column) : nullptr)
                return text(plainCellText(*c, row));
        return tr("row %1").arg(row + 1);
    }
    return {};
}

// A ring about each of its places, and lines to the last, which is the diamond.
void PageView::paintSample(QPainter& p) const {
    if (!sample_) return;
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().copper, 1.5));
    p.setBrush(Qt::NoBrush);
    QList<QPointF> places;
    for (const draw::Point& at : sample_->places) places << origin() + QPointF(at.x, at.y) * pixelsPerMm();
    for (const QPointF& at : places) p.drawEllipse(at, 6, 6);
    for (qsizetype k = 0; k + 1 < places.size(); ++k) p.drawLine(places[k], places.back());
}

} // namespace jointer::app
