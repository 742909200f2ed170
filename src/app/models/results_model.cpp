// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/results_model.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"

#include <QColor>
#include <QIcon>
#include <QPainter>
#include <QPixmap>
#include <algorithm>
#include <cmath>
#include <numeric>
#include <unordered_map>

namespace jointer::app {

namespace {

struct InLong { // the columns of the long form
    enum { Name, Analysed, Quantity, Value, Error, Unit, State, Count };
};

// Texts as numbers in their alphabetical order.
std::vector<double> ranksOf(const std::vector<std::string>& texts) {
    std::unordered_map<std::string_view, double> known;
    std::vector<std::string_view> each;
    for (const std::string& t : texts)
        if (known.emplace(t, 0).second) each.push_back(t);
    std::ranges::sort(each);
    for (std::size_t k = 0; k < each.size(); ++k) known[each[k]] = static_cast<double>(k);
    std::vector<double> out;
    for (const std::string& t : texts) out.push_back(known[t]);
    return out;
}

QIcon swatchOf(const Dataset& d, int gap = 0) { // gap: beside it, in pixels
    QPixmap swatch(10 + gap, 10);
    swatch.fill(Qt::transparent);
    QPainter(&swatch).fillRect(0, 0, 10, 10, QColor(text(d.colour)));
    return swatch;
}

} // namespace

void ResultsModel::show(std::shared_ptr<const ResultsContent> content) {
    beginResetModel();
    const bool sameForm = content_ && content && content_->wide == content->wide;
    content_ = std::move(content);
    order_.resize(content_->wide ? content_->datasets.size() : content_->shown.size());
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    if (!sameForm) sortedBy_ = -1;
    endResetModel();
    if (sortedBy_ >= 0) sort(sortedBy_, direction_);
}

int ResultsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(order_.size());
}

int ResultsModel::columnCount(const QModelIndex& parent) const {
    if (parent.isValid() || !content_) return 0;
    return content_->wide
               ? static_cast<int>(content_->grid.attributes.columns.size() + content_->grid.quantities.size())
               : InLong::Count;
}

const evaluate::ResultRow* ResultsModel::rowAt(const QModelIndex& index) const {
    if (!content_ || !index.isValid() || index.row() >= std::ssize(order_)) return nullptr;
    const std::size_t place = order_[static_cast<std::size_t>(index.row())];
    if (!content_->wide) return &content_->rows[content_->shown[place]];
    const int q = index.column() - static_cast<int>(content_->grid.attributes.columns.size());
    if (q < 0 || q >= std::ssize(content_->grid.quantities)) return nullptr;
    const int row = content_->grid.quantities[static_cast<std::size_t>(q)].rows[place];
    return row < 0 ? nullptr : &content_->rows[static_cast<std::size_t>(row)];
}

std::vector<evaluate::ResultRow> ResultsModel::shownRows() const {
    std::vector<evaluate::ResultRow> out;
    if (!content_) return out;
    if (!content_->wide) {
        for (std::size_t place : order_) out.push_back(content_->rows[content_->shown[place]]);
        return out;
    }
    for (std::size_t place : order_)
        for (const auto& q : content_->grid.quantities)
            if (q.rows[place] >= 0) out.push_back(content_->rows[static_cast<std::size_t>(q.rows[place])]);
    return out;
}

std::vector<DatasetId> ResultsModel::shownDatasets() const {
    std::vector<DatasetId> out;
    if (content_)
        for (std::size_t place : order_) out.push_back(content_->datasets[place]);
    return out;
}

QVariant ResultsModel::longData(std::size_t place, int column, int role) const {
    const evaluate::ResultRow& row = content_->rows[content_->shown[place]];
    if (role == Qt::TextAlignmentRole)
        return QVariant::fromValue(Qt::AlignVCenter |
                                   (column == InLong::Value ? Qt::AlignRight : Qt::AlignLeft));
    if (role == Qt::ForegroundRole) {
        if (column == InLong::State) return row.good ? theme().accent : theme().warning;
        if (column == InLong::Value && !row.good) return theme().warning;
        return column == InLong::Analysed || column == InLong::Error || column == InLong::Unit
                   ? QVariant(theme().muted)
                   : QVariant();
    }
    const auto d = content_->project.datasets.find(row.dataset);
    if (role == Qt::DecorationRole && column == InLong::Name && d) return swatchOf(*d);
    if (role != Qt::DisplayRole) return {};
    const ValueText t = shownValue(row);
    switch (column) {
    case InLong::Name:
        return d ? text(d->name) : QString();
    case InLong::Analysed: {
        const auto a = content_->project.analyses.find(row.analysis);
        return a ? text(analyses::nameOf(*a)) : QString();
    }
    case InLong::Quantity:
        return text(evaluate::nameOf(row));
    case InLong::Value:
        return text(t.value);
    case InLong::Error:
        return t.error.empty() ? QString() : "± " + text(t.error);
    case InLong::Unit:
        return text(draw::unitPlain(row.unit));
    default:
        return text(row.state);
    }
}

QVariant ResultsModel::wideData(std::size_t place, int column, int role) const {
    const auto& attributes = content_->grid.attributes.columns;
    if (column < std::ssize(attributes)) {
        const Column& c = attributes[static_cast<std::size_t>(column)];
        if (role == Qt::TextAlignmentRole)
            return QVariant::fromValue(Qt::AlignVCenter | (c.isNumeric() ? Qt::AlignRight : Qt::AlignLeft));
        if (role != Qt::DisplayRole || c.cells->state(place) != CellState::Fine) return {};
        return text(cellText(c, place));
    }
    const auto& q = content_->grid.quantities[static_cast<std::size_t>(column - std::ssize(attributes))];
    if (role == Qt::TextAlignmentRole) return QVariant::fromValue(Qt::AlignVCenter | Qt::AlignRight);
    if (q.rows[place] < 0) return {};
    const evaluate::ResultRow& row = content_->rows[static_cast<std::size_t>(q.rows[place])];
    if (role == Qt::ForegroundRole) return row.good ? QVariant() : QVariant(theme().warning);
    if (role == Qt::ToolTipRole) return row.good ? QVariant() : QVariant(text(row.state));
    return role == Qt::DisplayRole ? QVariant(text(shownValue(row).text())) : QVariant();
}

QVariant ResultsModel::data(const QModelIndex& index, int role) const {
    if (!content_ || !index.isValid()) return {};
    const std::size_t place = order_[static_cast<std::size_t>(index.row())];
    return content_->wide ? wideData(place, index.column(), role) : longData(place, index.column(), role);
}

// In the wide form the dataset, which so stays in view.
QVariant ResultsModel::rowHeading(int row, int role) const {
    if (!content_->wide || row < 0 || row >= std::ssize(order_)) return {};
    const auto d = content_->project.datasets.find(content_->datasets[order_[static_cast<std::size_t>(row)]]);
    if (!d) return {};
    if (role == Qt::DecorationRole) return swatchOf(*d, 6); // headings keep none
    return role == Qt::DisplayRole || role == Qt::ToolTipRole ? QVariant(text(d->name)) : QVariant();
}

QVariant ResultsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (!content_) return {};
    if (orientation == Qt::Vertical) return rowHeading(section, role);
    if (role != Qt::DisplayRole) return {};
    if (!content_->wide) {
        const QString names[] = {tr("Dataset"), tr("Analysis"), tr("Quantity"), tr("Value"),
                                 tr("±"),       tr("Unit"),     tr("State")};
        return section < InLong::Count ? names[section] : QString();
    }
    const auto& attributes = content_->grid.attributes.columns;
    const bool own = section < std::ssize(attributes);
    if (!own && section - std::ssize(attributes) >= std::ssize(content_->grid.quantities)) return {};
    const std::string& name =
        own ? attributes[static_cast<std::size_t>(section)].name
            : content_->grid.quantities[static_cast<std::size_t>(section - std::ssize(attributes))].name;
    const std::string& unit =
        own ? attributes[static_cast<std::size_t>(section)].unit
            : content_->grid.quantities[static_cast<std::size_t>(section - std::ssize(attributes))].unit;
    return text(name) + (unit.empty() ? QString() : " (" + text(draw::unitPlain(unit)) + ")");
}

std::vector<double> ResultsModel::keysOf(int column) const {
    const ResultsContent& c = *content_;
    std::vector<double> numbers;
    std::vector<std::string> words;
    if (c.wide) {
        const auto& attributes = c.grid.attributes.columns;
        if (column < std::ssize(attributes)) {
            const Column& a = attributes[static_cast<std::size_t>(column)];
            if (!a.isNumeric()) return ranksOf(a.cells->texts);
            return {a.numbers().begin(), a.numbers().end()};
        }
        for (int row : c.grid.quantities[static_cast<std::size_t>(column - std::ssize(attributes))].rows)
            numbers.push_back(row < 0 ? NAN : c.rows[static_cast<std::size_t>(row)].value);
        return numbers;
    }
    std::unordered_map<DatasetId, std::string> datasets;
    std::unordered_map<AnalysisId, std::string> names;
    if (column == InLong::Name)
        for (const auto& d : c.project.datasets) datasets.emplace(d->id, d->name);
    if (column == InLong::Analysed)
        for (const auto& a : c.project.analyses) names.emplace(a->id, analyses::nameOf(*a));
    for (std::size_t k : c.shown) {
        const evaluate::ResultRow& row = c.rows[k];
        if (column == InLong::Value || column == InLong::Error)
            numbers.push_back(column == InLong::Value ? row.value : row.error);
        else
            words.push_back(column == InLong::Name       ? datasets[row.dataset]
                            : column == InLong::Analysed ? names[row.analysis]
                            : column == InLong::Quantity ? evaluate::nameOf(row)
                            : column == InLong::Unit     ? row.unit
                                                         : row.state);
    }
    return words.empty() ? numbers : ranksOf(words);
}

void ResultsModel::sort(int column, Qt::SortOrder direction) {
    if (!content_ || column >= columnCount()) return;
    sortedBy_ = column, direction_ = direction;
    Q_EMIT layoutAboutToBeChanged();
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    if (column >= 0) {
        const std::vector<double> keys = keysOf(column);
        const bool up = direction == Qt::AscendingOrder;
        std::ranges::stable_sort(order_, [&](std::size_t a, std::size_t b) {
            const double x = keys[a], y = keys[b];
            if (std::isnan(x) || std::isnan(y)) return !std::isnan(x) && std::isnan(y); // without one: last
            return up ? x < y : y < x;
        });
    }
    Q_EMIT layoutChanged();
}

} // namespace jointer::app
