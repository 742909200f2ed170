// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/dataset_list.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPainterPath>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

namespace {

enum Roles { IdRole = Qt::UserRole, ColourRole, StateRole, CurveRole, WarnRole };

class DatasetDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {190, 46}; }

    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override {
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        const QRect r = o.rect;
        const bool selected = o.state & QStyle::State_Selected;
        if (selected) {
            p->fillRect(r, theme().panel);
            p->fillRect(QRect(r.left(), r.top(), 3, r.height()), theme().accent);
        }
        const QColor colour(index.data(ColourRole).toString());
        p->setPen(Qt::NoPen);
        p->setBrush(colour);
        p->drawRoundedRect(QRectF(r.left() + 14, r.top() + 10, 10, 10), 2, 2);
        p->setPen(theme().ink);
        const int textRight = r.right() - 70;
        QRect name(r.left() + 32, r.top() + 5, textRight - r.left() - 32, 19);
        p->drawText(name, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, name.width()));
        QFont small = p->font();
        small.setPointSizeF(9);
        p->setFont(small);
        p->setPen(index.data(WarnRole).toBool() ? theme().warning : theme().muted);
        p->drawText(
            name.translated(0, 18), Qt::AlignVCenter,
            p->fontMetrics().elidedText(index.data(StateRole).toString(), Qt::ElideRight, name.width()));
        drawCurve(p, QRectF(r.right() - 64, r.top() + 9, 52, r.height() - 20),
                  index.data(CurveRole).value<QList<QPointF>>(), colour);
        p->restore();
    }

private:
    static void drawCurve(QPainter* p, QRectF box, const QList<QPointF>& unit, const QColor& colour) {
        if (unit.size() < 2) return;
        QPainterPath path;
        for (qsizetype i = 0; i < unit.size(); ++i) {
            const QPointF at(box.left() + unit[i].x() * box.width(),
                             box.bottom() - unit[i].y() * box.height());
            if (i == 0)
                path.moveTo(at);
            else
                path.lineTo(at);
        }
        p->setBrush(Qt::NoBrush);
        p->setPen(QPen(colour, 1.2));
        p->drawPath(path);
    }
};

// The curve within the unit square, few points.
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

QLabel* listCaption(const QString& words) {
    QLabel* made = caption(words);
    made->setContentsMargins(14, 12, 10, 4);
    return made;
}

} // namespace

DatasetList::DatasetList(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), datasets_(new QListWidget), tables_(new QListWidget) {
    setObjectName("left");
    setAttribute(Qt::WA_StyledBackground);
    setFixedWidth(212);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(listCaption(tr("Datasets")));
    layout->addWidget(datasets_, 3);
    layout->addWidget(listCaption(tr("Tables")));
    layout->addWidget(tables_, 1);
    auto* hint = new QLabel(tr("Drop files anywhere, or paste a block with Ctrl+V"));
    hint->setObjectName("muted");
    hint->setWordWrap(true);
    hint->setContentsMargins(14, 8, 10, 10);
    layout->addWidget(hint);
    datasets_->setItemDelegate(new DatasetDelegate(datasets_));
    datasets_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    datasets_->setAccessibleName(tr("Datasets"));
    tables_->setAccessibleName(tr("Tables"));
    tables_->setStyleSheet("QListWidget { padding-left: 11px; } QListWidget::item { height: 24px; }");
    connect(datasets_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item) document_.selectDataset(DatasetId{item->data(IdRole).toULongLong()});
    });
    connect(tables_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        document_.selectTable(TableId{item->data(IdRole).toULongLong()});
        Q_EMIT tableChosen();
    });
    connect(&document_, &Document::changed, this, &DatasetList::refresh);
    connect(&document_, &Document::selectionChanged, this, &DatasetList::syncSelection);
    refresh();
}

void DatasetList::refresh() {
    const Project& p = document_.project();
    const QSignalBlocker quiet(datasets_);
    while (datasets_->count() > static_cast<int>(p.datasets.size()))
        delete datasets_->takeItem(datasets_->count() - 1);
    while (datasets_->count() < static_cast<int>(p.datasets.size())) datasets_->addItem(new QListWidgetItem);
    for (int i = 0; i < datasets_->count(); ++i) {
        const Dataset& d = p.datasets[static_cast<std::size_t>(i)];
        QListWidgetItem* item = datasets_->item(i);
        item->setText(QString::fromStdString(d.name));
        item->setData(IdRole, QVariant::fromValue<qulonglong>(d.id.value));
        item->setData(ColourRole, QString::fromStdString(d.colour));
        item->setToolTip(QString::fromStdString(d.name));
    }
    tables_->clear();
    for (const auto& t : p.tables) {
        auto* item = new QListWidgetItem(QString::fromStdString(t->name));
        item->setData(IdRole, QVariant::fromValue<qulonglong>(t->id.value));
        item->setToolTip(tr("%1 columns, %2 rows").arg(t->columns.size()).arg(t->rowCount()));
        tables_->addItem(item);
    }
    syncSelection();
    refreshPictures();
}

void DatasetList::refreshPictures() {
    if (document_.isDragging()) return; // brought up to date when it ends
    job_.request([this, project = document_.project(), evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        struct Row {
            QList<QPointF> curve;
            QString state;
            bool warn = false;
        };
        std::vector<Row> rows;
        for (const auto& d : project.datasets) {
            Row row{tiny(evaluator->protocol(project, d->id).end().curve()), {}, false};
            const auto fits = analysesOf(project, d->id);
            for (const Attribute& a : d->attributes)
                if (row.state.size() < 8 && a.name.size() < 10 && a.name == "site")
                    row.state = QString::fromStdString(a.name + " " + a.value);
            auto add = [&](const QString& s) { row.state += (row.state.isEmpty() ? "" : " · ") + s; };
            if (!fits.empty()) {
                const auto fit = evaluator->fit(project, *fits.back(), {.stop = stop});
                row.warn = !fit.good() || fit.report->state != fit::FitState::Converged;
                add(fits.back()->settings.flag("hold") ? DatasetList::tr("start values")
                    : fit.good() && !row.warn          ? DatasetList::tr("fitted ✓")
                    : fit.good() ? QString::fromUtf8(fit::stateText(fit.report->state).data())
                                 : DatasetList::tr("not fitted"));
            } else if (!d->protocol.empty())
                add(QString::fromStdString(counted(static_cast<long long>(d->protocol.size()), "step")));
            else if (row.state.isEmpty())
                row.state = DatasetList::tr("as measured");
            rows.push_back(std::move(row));
        }
        return [this, rows] {
            for (int i = 0; i < datasets_->count() && i < static_cast<int>(rows.size()); ++i) {
                datasets_->item(i)->setData(CurveRole,
                                            QVariant::fromValue(rows[static_cast<std::size_t>(i)].curve));
                datasets_->item(i)->setData(StateRole, rows[static_cast<std::size_t>(i)].state);
                datasets_->item(i)->setData(WarnRole, rows[static_cast<std::size_t>(i)].warn);
            }
        };
    });
}

void DatasetList::syncSelection() {
    const QSignalBlocker quiet(datasets_);
    for (int i = 0; i < datasets_->count(); ++i)
        if (datasets_->item(i)->data(IdRole).toULongLong() == document_.dataset().value)
            datasets_->setCurrentRow(i);
}

} // namespace jointer::app
