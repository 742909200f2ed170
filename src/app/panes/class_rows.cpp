// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/class_rows.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/kinds.h"
#include "figure/look.h"
#include "figure/marks/parts.h"
#include "paint/painter.h"

#include <QColorDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

using figure::SymbolClass;

namespace {

constexpr std::size_t kMostRows = 40;
constexpr int kIcon = 16;

QIcon iconOf(draw::SymbolShape shape, QColor colour, qreal ratio) {
    const double mm = 25.4 / 96;
    const auto part = [](int v) { return static_cast<std::uint8_t>(v); };
    const draw::Colour ink{part(colour.red()), part(colour.green()), part(colour.blue()), 255};
    draw::DisplayList list;
    list.widthMm = list.heightMm = kIcon * mm;
    draw::Symbols s{.shape = shape,
                    .sizeMm = 0.6 * kIcon * mm,
                    .stroke = draw::Stroke{.widthMm = 0.35, .colour = ink},
                    .fill = ink.withAlpha(0.35)};
    s.places = {{kIcon * mm / 2, kIcon * mm / 2}};
    list.items.push_back({{}, std::move(s), {}});
    QImage image(QSize(kIcon, kIcon) * ratio, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(ratio);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.scale(1 / mm, 1 / mm);
    paint::paintList(painter, list, paint::Medium::Raster);
    painter.end();
    return QIcon(QPixmap::fromImage(image));
}

QString coloured(const draw::Colour& c) {
    return QColor(c.r, c.g, c.b).name();
}

const std::vector<Choice>& shapes() {
    return figure::elementKinds().find("points")->find("symbol")->choices;
}

} // namespace

ClassRows::ClassRows(QWidget* parent) : QWidget(parent) {
    setObjectName("classRows");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 6, 0, 4);
    column->setSpacing(4);
    column->addWidget(caption(tr("Classes")));
    rows_ = new QWidget;
    column->addWidget(rows_);
    auto* links = new QHBoxLayout;
    links->addWidget(
        button(this, tr("Keep in house style"), "link",
               tr("The same classes then look the same in all figures of this style, and in projects "
                  "that take it"),
               [this] { Q_EMIT keepWanted(asTheyLook()); }));
    automatic_ = button(this, tr("Automatic"), "link", tr("Take back what was said of the classes by hand"),
                        [this] { Q_EMIT changed({}); });
    links->addWidget(automatic_);
    links->addStretch(1);
    column->addLayout(links);
    hide();
}

void ClassRows::show(const std::vector<SymbolClass>& classes, const RowList& byHand, bool withSymbols) {
    const auto same = [](const SymbolClass& a, const SymbolClass& b) {
        return a.name == b.name && a.label == b.label && a.colour == b.colour && a.shape == b.shape &&
               a.sizeMm == b.sizeMm && a.hidden == b.hidden;
    };
    const bool alike = std::ranges::equal(classes, classes_, same) && withSymbols == withSymbols_;
    byHand_ = byHand;
    automatic_->setVisible(!byHand.empty());
    setVisible(!classes.empty());
    if (alike) return;
    classes_ = classes;
    withSymbols_ = withSymbols;
    build();
}

void ClassRows::build() {
    if (QLayout* old = rows_->layout()) {
        clearLayout(old);
        delete old;
    }
    auto* grid = new QGridLayout(rows_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(2, 1);
    for (std::size_t k = 0; k < std::min(classes_.size(), kMostRows); ++k) {
        const SymbolClass& c = classes_[k];
        const int row = static_cast<int>(k);
        if (c.colour) grid->addWidget(swatch(k), row, 0);
        if (withSymbols_ && (c.shape || c.colour)) grid->addWidget(symbolButton(k), row, 1);
        auto* field = new QLineEdit(text(c.label));
        field->setObjectName(QString("classLabel%1").arg(k));
        field->setAccessibleName(tr("Label of %1").arg(text(c.name)));
        field->setToolTip(tr("What the legend calls “%1”; empty: its name").arg(text(c.name)));
        field->setCursorPosition(0);
        field->setMinimumWidth(60);
        field->setEnabled(!c.hidden);
        connect(field, &QLineEdit::editingFinished, this, [this, k, field] {
            if (!field->isModified()) return;
            field->setModified(false);
            const std::string typed = field->text().trimmed().toStdString();
            set(k, "label", typed.empty() ? Value() : Value(typed));
        });
        grid->addWidget(field, row, 2);
        auto* more = button(this, "⋯", "flat", tr("Order, size, hiding"), [] {});
        more->setObjectName(QString("classMore%1").arg(k));
        more->setAccessibleName(tr("More of %1").arg(text(c.name)));
        more->setFixedWidth(24);
        more->setStyleSheet("QPushButton { padding: 0; }");
        connect(more, &QPushButton::clicked, this, [this, k, more] { offerFurther(k, more); });
        grid->addWidget(more, row, 3);
    }
    if (classes_.size() > kMostRows)
        grid->addWidget(muted(tr("and %1 more").arg(classes_.size() - kMostRows)),
                        static_cast<int>(kMostRows), 2);
}

QPushButton* ClassRows::swatch(std::size_t k) {
    auto* b = new QPushButton;
    b->setObjectName(QString("classColour%1").arg(k));
    b->setFixedSize(21, 17);
    b->setStyleSheet(
        QString("QPushButton { background: %1; border: 1px solid palette(mid); border-radius: 3px; "
                "padding: 0; }")
            .arg(coloured(*classes_[k].colour)));
    b->setToolTip(tr("Colour of %1").arg(text(classes_[k].name)));
    b->setAccessibleName(b->toolTip());
    connect(b, &QPushButton::clicked, this, [this, k, b] { offerColours(k, b); });
    return b;
}

QPushButton* ClassRows::symbolButton(std::size_t k) {
    const SymbolClass& c = classes_[k];
    auto* b = new QPushButton;
    b->setObjectName(QString("classSymbol%1").arg(k));
    b->setFixedSize(24, 20);
    if (c.shape)
        b->setIcon(iconOf(*c.shape, theme().ink, devicePixelRatioF()));
    else
        b->setText("·");
    b->setStyleSheet("QPushButton { border: 1px solid palette(mid); border-radius: 3px; padding: 0; }");
    b->setToolTip(tr("Symbol of %1").arg(text(c.name)));
    b->setAccessibleName(b->toolTip());
    connect(b, &QPushButton::clicked, this, [this, k, b] { offerSymbols(k, b); });
    return b;
}

void ClassRows::offerSymbols(std::size_t k, QPushButton* at) {
    QMenu* menu = newMenu(at);
    menu->addAction(tr("Automatic"), this, [this, k] { set(k, "symbol", Value()); });
    menu->addSeparator();
    for (const Choice& c : shapes())
        menu->addAction(iconOf(figure::shapeOf(c.key), theme().ink, devicePixelRatioF()), text(c.label), this,
                        [this, k, key = c.key] { set(k, "symbol", Value(key)); });
    menu->popup(below(at));
}

void ClassRows::offerColours(std::size_t k, QPushButton* at) {
    QMenu* menu = newMenu(at);
    menu->addAction(tr("Automatic"), this, [this, k] { set(k, "colour", Value()); });
    menu->addSeparator();
    std::vector<std::string> colours = figure::palette();
    colours.emplace_back("#000000");
    for (const std::string& c : colours) {
        QPixmap patch(kIcon, kIcon);
        patch.fill(QColor(text(c)));
        menu->addAction(QIcon(patch), text(c), this, [this, k, c] { set(k, "colour", Value(c)); });
    }
    menu->addSeparator();
    menu->addAction(tr("Another colour…"), this, [this, k] {
        auto* dialog = new QColorDialog(QColor(coloured(*classes_[k].colour)), window());
        dialog->setOption(QColorDialog::DontUseNativeDialog);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        connect(dialog, &QColorDialog::colorSelected, this,
                [this, k](const QColor& chosen) { set(k, "colour", Value(chosen.name().toStdString())); });
        dialog->open();
    });
    menu->popup(below(at));
}

void ClassRows::offerFurther(std::size_t k, QPushButton* at) {
    QMenu* menu = newMenu(at);
    menu->addAction(tr("Earlier"), this, [this, k] { move(k, -1); })->setEnabled(k > 0);
    menu->addAction(tr("Later"), this, [this, k] { move(k, 1); })->setEnabled(k + 1 < classes_.size());
    menu->addSeparator();
    const bool hidden = classes_[k].hidden;
    menu->addAction(hidden ? tr("Show") : tr("Hide"), this,
                    [this, k, hidden] { set(k, "hidden", hidden ? Value() : Value(true)); });
    if (withSymbols_) {
        QMenu* sizes = menu->addMenu(tr("Size"));
        sizes->addAction(tr("Automatic"), this, [this, k] { set(k, "size", Value()); });
        for (const double size : {1.5, 2.0, 2.5, 3.0, 3.5, 4.0, 5.0, 6.0, 8.0})
            sizes->addAction(tr("%1 pt").arg(size), this, [this, k, size] { set(k, "size", Value(size)); });
    }
    menu->popup(below(at));
}

// What is said of each class, in the order in which they stand.
RowList ClassRows::inOrder() const {
    RowList rows;
    for (const SymbolClass& c : classes_) {
        Settings row;
        for (const Settings& own : byHand_)
            if (own.text("name") == c.name) row = own;
        row.set("name", Value(c.name));
        rows.push_back(std::move(row));
    }
    for (const Settings& own : byHand_) // of classes that these data do not have
        if (std::ranges::find(classes_, own.text("name"), &SymbolClass::name) == classes_.end())
            rows.push_back(own);
    return rows;
}

// With colours and symbols also where these are automatic.
RowList ClassRows::asTheyLook() const {
    RowList rows = inOrder();
    for (std::size_t k = 0; k < classes_.size(); ++k) {
        const SymbolClass& c = classes_[k];
        if (c.colour) rows[k].set("colour", Value(coloured(*c.colour).toStdString()));
        if (!c.shape) continue;
        for (const Choice& s : shapes())
            if (figure::shapeOf(s.key) == *c.shape) rows[k].set("symbol", Value(s.key));
    }
    return rows;
}

void ClassRows::set(std::size_t k, const std::string& key, const Value& value) {
    if (k >= classes_.size()) return;
    const std::string name = classes_[k].name;
    RowList rows = byHand_;
    auto own = std::ranges::find_if(rows, [&](const Settings& r) { return r.text("name") == name; });
    if (own == rows.end()) {
        // A single named class would come first: all keep their order with it.
        rows = inOrder();
        own = std::ranges::find_if(rows, [&](const Settings& r) { return r.text("name") == name; });
    }
    if (std::holds_alternative<std::monostate>(value))
        own->remove(key);
    else
        own->set(key, value);
    Q_EMIT changed(rows);
}

void ClassRows::move(std::size_t k, int by) {
    RowList rows = inOrder();
    const auto other = static_cast<std::size_t>(static_cast<long long>(k) + by);
    if (k >= classes_.size() || other >= classes_.size()) return;
    std::swap(rows[k], rows[other]);
    Q_EMIT changed(rows);
}

} // namespace jointer::app
