// SPDX-License-Identifier: GPL-3.0-or-later
// The figures of the project as small pictures below the page.
#include "app/stages/figure_stage.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/layout.h"
#include "paint/painter.h"

#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QPainter>

namespace jointer::app {

namespace {

constexpr QSize kThumbnail{132, 100}; // with its name

// Thumbnails: dragged onto the page their panels are shown there too.
class Thumbnails final : public QListWidget {
protected:
    QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override {
        const FigureId id{items.isEmpty() ? 0 : items.front()->data(Qt::UserRole).toULongLong()};
        if (!id) return nullptr;
        auto* data = new QMimeData;
        data->setData(kFigureMime, QByteArray::fromStdString(id.text()));
        return data;
    }
};

} // namespace

QWidget* FigureStage::buildThumbnails() {
    figures_ = new Thumbnails;
    figures_->setViewMode(QListView::IconMode);
    figures_->setFlow(QListView::LeftToRight);
    figures_->setWrapping(false);
    figures_->setResizeMode(QListView::Adjust);
    figures_->setIconSize(QSize(104, 72));
    figures_->setFixedHeight(118);
    figures_->setTextElideMode(Qt::ElideRight);
    figures_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    figures_->setMovement(QListView::Static);
    figures_->setDragEnabled(true);
    figures_->setDragDropMode(QAbstractItemView::DragOnly);
    figures_->setAccessibleName(tr("Figures of the project"));
    figures_->setToolTip(tr("Click to show; double-click renames; right-click for more"));
    figures_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(figures_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        const FigureId id{item->data(Qt::UserRole).toULongLong()};
        if (id)
            document_.selectFigure(id);
        else
            addFigure();
    });
    connect(figures_, &QListWidget::itemDoubleClicked, this, [this](QListWidgetItem* item) {
        if (item->data(Qt::UserRole).toULongLong()) figures_->editItem(item);
    });
    connect(figures_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const FigureId id{item->data(Qt::UserRole).toULongLong()};
        const auto figure = document_.project().figures.find(id);
        const std::string typed = item->text().trimmed().toStdString();
        if (figure && !typed.empty() && typed != figure->name)
            document_.apply(edits::changeFigure(id, "Rename figure", [typed](Figure& f) { f.name = typed; }));
    });
    connect(figures_, &QListWidget::customContextMenuRequested, this,
            [this](QPoint at) { offerForFigure(figures_->viewport()->mapToGlobal(at)); });
    return figures_;
}

namespace {

// The page in the middle of a picture for screens of twice the pixels.
QImage thumbnailOf(const Project& project, const Figure& f, evaluate::Evaluator& evaluator) {
    const auto layout = figure::layOut(project, f, evaluator, {.pixelsPerMm = 4});
    const QImage page = paint::toImage(layout.list, 90, false)
                            .scaled(208, 144, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    QImage framed(208, 144, QImage::Format_ARGB32_Premultiplied);
    framed.fill(Qt::transparent);
    QPainter painter(&framed);
    painter.drawImage((208 - page.width()) / 2, (144 - page.height()) / 2, page);
    painter.end();
    framed.setDevicePixelRatio(2);
    return framed;
}

// Not tinted where it is selected: a figure is looked at in its own colours.
QIcon asItIs(const QPixmap& picture) {
    QIcon icon(picture);
    icon.addPixmap(picture, QIcon::Selected);
    return icon;
}

} // namespace

void FigureStage::refreshThumbnails() {
    const Project& p = document_.project();
    const QSignalBlocker quiet(figures_);
    const int wanted = static_cast<int>(p.figures.size()) + 1;
    while (figures_->count() > wanted) delete figures_->takeItem(figures_->count() - 1);
    while (figures_->count() < wanted) figures_->addItem(new QListWidgetItem);
    for (int i = 0; i + 1 < wanted; ++i) {
        const Figure& f = p.figures[static_cast<std::size_t>(i)];
        QListWidgetItem* item = figures_->item(i);
        item->setText(text(f.name));
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable);
        item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(f.id.value));
        item->setSizeHint(kThumbnail);
        item->setSelected(f.id == document_.figure());
    }
    QListWidgetItem* fresh = figures_->item(wanted - 1);
    fresh->setText(tr("+ New figure"));
    fresh->setSizeHint(kThumbnail);
    fresh->setFlags(Qt::ItemIsEnabled);
    fresh->setData(Qt::UserRole, 0);
    fresh->setIcon({});
    figures_->doItemsLayout();
    if (document_.figure() != scrolledTo_) {
        for (QListWidgetItem* shown : figures_->selectedItems()) figures_->scrollToItem(shown);
        scrolledTo_ = document_.figure();
    }
    thumbnails_.request([this, project = p, evaluator = document_.session().sharedEvaluator()](
                            const Cancellation& stop) -> std::function<void()> {
        QList<QImage> pictures;
        for (const auto& f : project.figures) {
            if (stop.stop_requested()) break;
            pictures << thumbnailOf(project, *f, *evaluator);
        }
        return [this, pictures] {
            const QSignalBlocker silent(figures_);
            for (int i = 0; i < pictures.size() && i + 1 < figures_->count(); ++i)
                figures_->item(i)->setIcon(asItIs(QPixmap::fromImage(pictures[i])));
        };
    });
}

void FigureStage::offerForFigure(QPoint at) {
    QListWidgetItem* item = figures_->itemAt(figures_->viewport()->mapFromGlobal(at));
    const FigureId id{item ? item->data(Qt::UserRole).toULongLong() : 0};
    if (!id) return;
    document_.selectFigure(id);
    QMenu* menu = newMenu(this);
    menu->addAction(tr("Rename"), this, [this] {
        for (QListWidgetItem* i : figures_->selectedItems()) figures_->editItem(i);
    });
    menu->addAction(tr("Duplicate"), this, &FigureStage::duplicate);
    menu->addAction(tr("Show other datasets…"), this, &FigureStage::offerOtherDatasets);
    menu->addAction(tr("Move left"), this, [this, id] { document_.apply(edits::moveFigure(id, -1)); });
    menu->addAction(tr("Move right"), this, [this, id] { document_.apply(edits::moveFigure(id, 1)); });
    menu->addSeparator();
    menu->addAction(tr("Remove"), this, [this, id] { document_.apply(edits::removeFigure(id)); });
    menu->popup(at);
}

} // namespace jointer::app
