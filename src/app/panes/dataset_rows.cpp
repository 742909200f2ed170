// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/dataset_rows.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <map>

namespace jointer::app {

namespace {

// Where a name is typed: on the first line of its row.
QRect nameRect(const QRect& row, int indent) {
    return {row.left() + indent, row.top() + 2, row.width() - indent - 6, 25};
}

class DatasetDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        return {190, index.data(IdRole).toULongLong() == 0 ? 24 : 46};
    }

    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& o,
                              const QModelIndex&) const override {
        editor->setGeometry(nameRect(o.rect, 28));
    }

    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override {
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        const QRect r = o.rect;
        if (index.data(IdRole).toULongLong() == 0) {
            QFont small = p->font();
            small.setPointSizeF(8.5);
            p->setFont(small);
            p->setPen(theme().muted);
            p->drawText(r.adjusted(14, 0, -10, -3), Qt::AlignBottom, index.data().toString());
            p->restore();
            return;
        }
        const bool selected = o.state & QStyle::State_Selected;
        if (selected) {
            p->fillRect(r, theme().panel);
            const bool leads = index.data(LeadRole).toBool();
            p->fillRect(QRect(r.left(), r.top(), leads ? 3 : 1, r.height()), theme().accent);
        }
        const QColor colour(index.data(ColourRole).toString());
        p->setPen(Qt::NoPen);
        p->setBrush(colour);
        p->drawRoundedRect(QRectF(r.left() + 14, r.top() + 10, 10, 10), 2, 2);
        p->setPen(theme().ink);
        const int textRight = r.right() - 70;
        QRect name(r.left() + 32, r.top() + 5, textRight - r.left() - 32, 19);
        p->drawText(name, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(index.data(OwnRole).toString(), Qt::ElideMiddle, name.width()));
        QFont small = p->font();
        small.setPointSizeF(9);
        p->setFont(small);
        p->setPen(index.data(WarnRole).toBool() ? theme().warning : theme().muted);
        p->drawText(name.translated(0, 18), Qt::AlignVCenter, quietLine(p->fontMetrics(), index, name.width()));
        drawCurve(p, QRectF(r.right() - 64, r.top() + 9, 52, r.height() - 20),
                  index.data(CurveRole).value<QList<QPointF>>(), index.data(DotsRole).toBool(), colour);
        p->restore();
    }

private:
    // The state in full, and before it what of the name others have too, as far as there is room.
    static QString quietLine(const QFontMetrics& metrics, const QModelIndex& index, int width) {
        const QString state = index.data(StateRole).toString(), shared = index.data(SharedRole).toString();
        if (shared.isEmpty()) return metrics.elidedText(state, Qt::ElideRight, width);
        const int room = width - metrics.horizontalAdvance(" · " + state);
        if (room < metrics.horizontalAdvance("mmm…")) return metrics.elidedText(state, Qt::ElideRight, width);
        return metrics.elidedText(shared, Qt::ElideRight, room) + " · " + state;
    }

    static void drawCurve(QPainter* p, QRectF box, const QList<QPointF>& unit, bool dots,
                          const QColor& colour) {
        if (unit.size() < 2) return;
        QPainterPath path;
        for (qsizetype i = 0; i < unit.size(); ++i) {
            const QPointF at(box.left() + unit[i].x() * box.width(),
                             box.bottom() - unit[i].y() * box.height());
            if (dots)
                path.addEllipse(at, 0.8, 0.8);
            else if (i == 0)
                path.moveTo(at);
            else
                path.lineTo(at);
        }
        p->setBrush(dots ? QBrush(colour) : QBrush(Qt::NoBrush));
        p->setPen(dots ? QPen(Qt::NoPen) : QPen(colour, 1.2));
        p->drawPath(path);
    }
};

// A line of a list with a quiet second one below it.
class TableDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {190, 42}; }

    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& o,
                              const QModelIndex&) const override {
        editor->setGeometry(nameRect(o.rect, 10));
    }

    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override {
        p->save();
        if (o.state & QStyle::State_MouseOver) p->fillRect(o.rect, theme().panel);
        const QRect line = o.rect.adjusted(14, 4, -10, -19);
        p->setPen(theme().ink);
        p->drawText(line, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(index.data().toString(), Qt::ElideMiddle, line.width()));
        QFont small = p->font();
        small.setPointSizeF(9);
        p->setFont(small);
        p->setPen(theme().muted);
        p->drawText(line.translated(0, 17), Qt::AlignVCenter, index.data(StateRole).toString());
        p->restore();
    }
};

} // namespace

QStyledItemDelegate* newDatasetRows(QObject* parent) {
    return new DatasetDelegate(parent);
}

QStyledItemDelegate* newTableRows(QObject* parent) {
    return new TableDelegate(parent);
}

QList<QPointF> tiny(const Curve& c) {
    double low = INFINITY, high = -INFINITY;
    for (std::size_t i = 0; i < c.size(); ++i)
        if (const double y = c.y[i]; c.counts(i)) low = std::min(low, y), high = std::max(high, y);
    QList<QPointF> out;
    if (c.size() < 2 || !(high > low) || !(c.x.back() > c.x.front())) return out;
    const std::size_t stride = std::max<std::size_t>(1, c.size() / 60);
    for (std::size_t i = 0; i < c.size(); i += stride)
        if (c.counts(i))
            out << QPointF((c.x[i] - c.x.front()) / (c.x.back() - c.x.front()),
                           (c.y[i] - low) / (high - low));
    return out;
}

std::vector<NameParts> partsOfNames(const std::vector<QString>& names) {
    const QString between = " · ";
    std::map<QString, int> count;
    for (const QString& name : names)
        if (const auto at = name.indexOf(between); at > 0) ++count[name.left(at)];
    std::vector<NameParts> out;
    for (const QString& name : names) {
        const auto at = name.indexOf(between);
        const bool shares = at > 0 && at + between.size() < name.size() && count[name.left(at)] > 1;
        out.push_back(shares ? NameParts{name.mid(at + between.size()), name.left(at)} : NameParts{name, {}});
    }
    return out;
}

std::set<std::string> tellingAttributes(const Project& project) {
    std::map<std::string, std::set<std::string>> values;
    for (const auto& d : project.datasets)
        for (const Attribute& a : d->attributes) values[a.name].insert(a.value);
    std::set<std::string> out;
    for (const auto& [name, of] : values)
        if (of.size() > 1) out.insert(name);
    return out;
}

QString wordsOf(const Dataset& d, const std::set<std::string>& telling) {
    constexpr qsizetype kMost = 9, kSays = 3; // a longer value says itself without its name
    for (const Attribute& a : d.attributes) {
        const QString value = text(a.value);
        const QString words = value.size() > kSays && !parseNumber(a.value) ? value
                              : a.unit.empty()                              ? text(a.name) + " " + value
                                                                            : value + " " + text(a.unit);
        const bool isName = words.compare(text(d.name), Qt::CaseInsensitive) == 0 ||
                            value.compare(text(d.name), Qt::CaseInsensitive) == 0;
        if (!value.isEmpty() && !isName && words.size() <= kMost && telling.contains(a.name)) return words;
    }
    return {};
}

} // namespace jointer::app
