// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/run_gallery.h"

#include "app/theme/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>

namespace jointer::app {

namespace {

constexpr int kLeastWidth = 176, kGap = 10, kMargin = 8;
constexpr int kPictureHeight = 78, kNameHeight = 18, kReasonHeight = 30;
constexpr int kHeight = kMargin + kPictureHeight + 4 + kNameHeight + kReasonHeight + 4;

QPolygonF placed(const QPolygonF& points, const QRectF& into) {
    QPolygonF out;
    out.reserve(points.size());
    for (const QPointF& p : points)
        out << QPointF(into.left() + p.x() * into.width(), into.bottom() - p.y() * into.height());
    return out;
}

} // namespace

RunGallery::RunGallery(QWidget* parent) : QAbstractScrollArea(parent) {
    setObjectName("runGallery");
    setAccessibleName(tr("Curves of the run"));
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    viewport()->setMouseTracking(true);
}

void RunGallery::setTiles(std::vector<RunTile> tiles) {
    tiles_ = std::move(tiles);
    settleBars();
    viewport()->update();
}

void RunGallery::setCurrent(DatasetId id, bool shows) {
    current_ = id;
    if (const auto at = currentTile(); shows && at >= 0) {
        const QRect r = place(static_cast<std::size_t>(at));
        if (r.top() < 0) verticalScrollBar()->setValue(verticalScrollBar()->value() + r.top() - kGap);
        if (r.bottom() > viewport()->height())
            verticalScrollBar()->setValue(verticalScrollBar()->value() + r.bottom() - viewport()->height() +
                                          kGap);
    }
    viewport()->update();
}

int RunGallery::columns() const {
    return std::max(1, (viewport()->width() + kGap) / (kLeastWidth + kGap));
}

int RunGallery::tileWidth() const {
    return (viewport()->width() - (columns() - 1) * kGap) / columns();
}

QRect RunGallery::place(std::size_t tile) const {
    const int n = columns(), row = static_cast<int>(tile) / n, column = static_cast<int>(tile) % n;
    return {column * (tileWidth() + kGap), row * (kHeight + kGap) - verticalScrollBar()->value(), tileWidth(),
            kHeight};
}

void RunGallery::settleBars() {
    const int n = columns(), rows = (static_cast<int>(tiles_.size()) + n - 1) / n;
    const int all = rows * (kHeight + kGap) - kGap;
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(kHeight / 3);
    verticalScrollBar()->setRange(0, std::max(0, all - viewport()->height()));
}

void RunGallery::resizeEvent(QResizeEvent*) {
    settleBars();
}

void RunGallery::paintEvent(QPaintEvent* event) {
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    QFont small = font();
    small.setPointSizeF(font().pointSizeF() - 1.5);
    for (std::size_t i = 0; i < tiles_.size(); ++i) {
        const QRect r = place(i);
        if (!r.intersects(event->rect())) continue;
        const RunTile& tile = tiles_[i];
        const bool current = tile.dataset == current_;
        painter.setPen(QPen(current ? t.accent : t.line, current ? 2 : 1));
        painter.setBrush(t.panel);
        painter.drawRoundedRect(QRectF(r).adjusted(1, 1, -1, -1), 4, 4);
        const QRectF picture(r.left() + kMargin, r.top() + kMargin, r.width() - 2 * kMargin, kPictureHeight);
        if (tile.picture) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(t.muted, 1));
            painter.drawPolyline(placed(tile.picture->measured, picture));
            painter.setPen(QPen(tile.isDoubtful() ? t.warning : t.accent, 1.5));
            for (const QPolygonF& line : tile.picture->lines) painter.drawPolyline(placed(line, picture));
        }
        const QRect name(r.left() + kMargin, static_cast<int>(picture.bottom()) + 4, r.width() - 2 * kMargin,
                         kNameHeight);
        painter.setFont(font());
        painter.setPen(t.ink);
        painter.drawText(name, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(tile.name, Qt::ElideMiddle, name.width()));
        painter.setFont(small);
        const QRect reason(name.left(), name.bottom() + 1, name.width(), kReasonHeight);
        const bool doubtful = tile.isDoubtful();
        painter.setPen(doubtful ? t.warning : t.muted);
        const QString words = !tile.computed          ? tr("being computed")
                              : tile.looked           ? tr("looked at")
                              : tile.reason.isEmpty() ? tr("nothing in doubt")
                                                      : tile.reason;
        // Two lines; what is longer is shown under the pointer.
        QString shown = words;
        while (shown.size() > 8 &&
               painter.fontMetrics().boundingRect(reason, Qt::TextWordWrap, shown).height() > kReasonHeight)
            shown = shown.left(shown.size() - 6).trimmed() + "…";
        painter.drawText(reason, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, shown);
    }
}

std::ptrdiff_t RunGallery::tileAt(const QPoint& at) const {
    for (std::size_t i = 0; i < tiles_.size(); ++i)
        if (place(i).contains(at)) return static_cast<std::ptrdiff_t>(i);
    return -1;
}

std::ptrdiff_t RunGallery::currentTile() const {
    const auto at = std::ranges::find(tiles_, current_, &RunTile::dataset);
    return at == tiles_.end() ? -1 : at - tiles_.begin();
}

void RunGallery::choose(std::ptrdiff_t tile) {
    if (tile < 0 || tile >= std::ssize(tiles_)) return;
    setCurrent(tiles_[static_cast<std::size_t>(tile)].dataset);
    Q_EMIT chosen(current_);
}

void RunGallery::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) choose(tileAt(event->pos()));
}

void RunGallery::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const auto at = tileAt(event->pos()); at >= 0)
        Q_EMIT opened(tiles_[static_cast<std::size_t>(at)].dataset);
}

void RunGallery::keyPressEvent(QKeyEvent* event) {
    const auto at = currentTile();
    const std::ptrdiff_t last = std::ssize(tiles_) - 1;
    switch (event->key()) {
    case Qt::Key_Left:
        return choose(std::max<std::ptrdiff_t>(0, at - 1));
    case Qt::Key_Right:
        return choose(std::min(last, at + 1));
    case Qt::Key_Up:
        return choose(at < columns() ? at : at - columns());
    case Qt::Key_Down:
        return choose(std::min(last, at + columns()));
    case Qt::Key_Home:
        return choose(0);
    case Qt::Key_End:
        return choose(last);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (at >= 0) Q_EMIT opened(current_);
        return;
    default:
        QAbstractScrollArea::keyPressEvent(event);
    }
}

bool RunGallery::viewportEvent(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QAbstractScrollArea::viewportEvent(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto at = tileAt(help->pos());
    if (at < 0)
        QToolTip::hideText();
    else {
        const RunTile& tile = tiles_[static_cast<std::size_t>(at)];
        QToolTip::showText(help->globalPos(),
                           tile.reason.isEmpty() ? tile.name : tile.name + "\n" + tile.reason, this);
    }
    return true;
}

} // namespace jointer::app
