// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/data_stage.h"

#include "app/forms/settings_form.h"
#include "app/models/table_model.h"
#include "app/theme/theme.h"
#include "base/files.h"
#include "base/text.h"
#include "figure/kinds.h"
#include "session/import.h"
#include "stats/summary.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QScrollBar>
#include <QStackedWidget>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

QLabel* muted(const QString& t) {
    auto* label = new QLabel(t);
    label->setObjectName("muted");
    return label;
}

// A line of the raw text, with what it was recognised as at the right.
class RawLineDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override {
        const QVariant tint = index.data(Qt::BackgroundRole);
        if (tint.isValid()) p->fillRect(o.rect, tint.value<QBrush>());
        const QString kind = index.data(Qt::ToolTipRole).toString();
        QFont small = o.widget->window()->font();
        small.setPointSizeF(8.5);
        const int kindWidth = kind.isEmpty() ? 0 : QFontMetrics(small).horizontalAdvance(kind) + 10;
        p->setFont(o.font);
        p->setPen(theme().muted);
        p->drawText(o.rect.adjusted(2, 0, 0, 0), Qt::AlignVCenter,
                    QString::number(index.row() + 1).rightJustified(4));
        p->setPen(theme().ink);
        const QRect line = o.rect.adjusted(40, 0, -kindWidth - 4, 0);
        p->drawText(line, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, line.width()));
        if (kind.isEmpty()) return;
        p->setFont(small);
        p->setPen(theme().muted);
        p->drawText(o.rect.adjusted(0, 0, -6, 0), Qt::AlignVCenter | Qt::AlignRight, kind);
    }
};

QWidget* sidePanel(QVBoxLayout*& layout) {
    auto* side = new QWidget;
    side->setObjectName("side");
    side->setAttribute(Qt::WA_StyledBackground);
    side->setFixedWidth(296);
    layout = new QVBoxLayout(side);
    layout->setContentsMargins(15, 12, 15, 12);
    return side;
}

void prepareGrid(QTableView* grid) {
    grid->verticalHeader()->setDefaultSectionSize(24);
    grid->verticalHeader()->setMinimumWidth(38);
    grid->horizontalHeader()->setDefaultSectionSize(118);
    grid->horizontalHeader()->setHighlightSections(false);
    grid->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    grid->setWordWrap(false);
    grid->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
}

} // namespace

// ---- import -----------------------------------------------------------------------------------------------

ImportView::ImportView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), title_(new QLabel), error_(new QLabel),
      warnings_(new QLabel), import_(new QPushButton(tr("Import"))), leave_(new QPushButton(tr("Leave out"))),
      raw_(new QListWidget), grid_(new QTableView), model_(new TableModel(nullptr, this)),
      plot_(new PlotCanvas), form_(nullptr) {
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* middle = new QWidget;
    middle->setObjectName("middle");
    middle->setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(14, 8, 14, 12);
    auto* head = new QHBoxLayout;
    title_->setObjectName("title");
    head->addWidget(title_);
    head->addStretch(1);
    leave_->setToolTip(tr("Do not import this file (Esc)"));
    import_->setObjectName("primary");
    import_->setToolTip(tr("Import with these settings (Ctrl+Return)"));
    import_->setShortcut(QKeySequence("Ctrl+Return"));
    head->addWidget(leave_);
    head->addWidget(import_);
    column->addLayout(head);
    error_->setObjectName("bad");
    error_->setWordWrap(true);
    error_->hide();
    column->addWidget(error_);
    auto* views = new QHBoxLayout;
    QFont mono("monospace");
    mono.setStyleHint(QFont::Monospace);
    mono.setPointSizeF(9);
    raw_->setStyleSheet(QString("QListWidget { font-family: monospace; font-size: 9pt; border: 1px solid %1; "
                                "} QListWidget::item { height: 17px; }")
                            .arg(theme().line.name()));
    raw_->setFont(mono);
    raw_->setItemDelegate(new RawLineDelegate(raw_));
    raw_->setUniformItemSizes(true);
    raw_->setSelectionMode(QAbstractItemView::NoSelection);
    raw_->setAccessibleName(tr("Raw text"));
    views->addWidget(raw_, 1);
    grid_->setModel(model_);
    grid_->setObjectName("previewGrid");
    grid_->setAccessibleName(tr("Parsed table"));
    prepareGrid(grid_);
    views->addWidget(grid_, 1);
    column->addLayout(views, 3);
    column->addWidget(plot_, 2);
    row->addWidget(middle, 1);
    QVBoxLayout* side = nullptr;
    row->addWidget(sidePanel(side));
    auto* caption = new QLabel(tr("How it was read"));
    caption->setObjectName("caption");
    side->addWidget(caption);
    form_ = new SettingsForm;
    side->addWidget(form_);
    warnings_->setObjectName("warning");
    warnings_->setWordWrap(true);
    warnings_->hide();
    side->addWidget(warnings_);
    side->addStretch(1);
    connect(import_, &QPushButton::clicked, this, &ImportView::importAll);
    connect(leave_, &QPushButton::clicked, this, &ImportView::leaveOut);
    connect(form_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        if (std::holds_alternative<std::monostate>(value))
            told_.remove(key.toStdString());
        else
            told_.set(key.toStdString(), value);
        read();
    });
}

void ImportView::add(const std::vector<Waiting>& sources) {
    waiting_.insert(waiting_.end(), sources.begin(), sources.end());
    if (!waiting_.empty()) read();
    setFocus();
}

void ImportView::read() {
    import_->setEnabled(false);
    job_.request(
        [this, source = waiting_.front(), told = told_](const Cancellation& stop) -> std::function<void()> {
            std::string bytes = source.bytes;
            Result<io::ReadResult> reading = failure("unread", "");
            QStringList lines;
            auto take = [&](std::string_view all) {
                reading =
                    io::read(all, source.path.empty() ? source.name.toStdString() : source.path, told, stop);
                for (std::string_view line : io::firstLines(all.substr(0, 200000), 400))
                    lines << QString::fromUtf8(line.data(), static_cast<qsizetype>(line.size()));
            };
            if (source.path.empty())
                take(bytes);
            else if (const auto file = MappedFile::open(source.path))
                take(file->bytes());
            else
                reading = std::unexpected(file.error());
            auto shared = std::make_shared<Result<io::ReadResult>>(std::move(reading));
            return [this, shared, lines] { showReading(std::move(*shared), lines); };
        });
}

void ImportView::showReading(Result<io::ReadResult> reading, const QStringList& lines) {
    if (waiting_.empty()) return;
    title_->setText(waiting_.front().name);
    import_->setText(waiting_.size() > 1 ? tr("Import %1 files").arg(waiting_.size()) : tr("Import"));
    error_->setVisible(!reading);
    raw_->clear();
    const KindInfo& info = io::findReader("delimited")->info;
    if (!reading) {
        error_->setText(text(reading.error().text));
        reading_.reset();
        model_->show({});
        plot_->show({});
        form_->show(info, told_);
        for (qsizetype i = 0; i < lines.size(); ++i) raw_->addItem(lines[i]);
        return;
    }
    reading_ = std::move(*reading);
    const io::ReadResult& r = *reading_;
    import_->setEnabled(true);
    const auto tint = [](io::LineKind kind) -> std::pair<QColor, QString> {
        const bool dark = theme().dark;
        switch (kind) {
        case io::LineKind::Preamble:
            return {dark ? QColor("#34332D") : QColor("#EFEBE2"), tr("preamble")};
        case io::LineKind::Comment:
            return {dark ? QColor("#2C3440") : QColor("#E6EAF3"), tr("comment")};
        case io::LineKind::Heading:
            return {dark ? QColor("#26403C") : QColor("#DAEBE8"), tr("headings")};
        case io::LineKind::Units:
            return {dark ? QColor("#2C3D2C") : QColor("#E5F0E0"), tr("units")};
        case io::LineKind::Unread:
            return {dark ? QColor("#4A2C2C") : QColor("#F8DFDC"), tr("not read")};
        default:
            return {QColor(), {}};
        }
    };
    for (qsizetype i = 0; i < lines.size(); ++i) {
        const auto [colour, name] =
            tint(static_cast<std::size_t>(i) < r.lineKinds.size() ? r.lineKinds[static_cast<std::size_t>(i)]
                                                                  : io::LineKind::Data);
        auto* item = new QListWidgetItem(QString(lines[i]).replace('\t', QChar(0x2192)));
        if (colour.isValid()) item->setBackground(colour);
        item->setToolTip(name);
        raw_->addItem(item);
    }
    model_->show(r.tables.front().table);
    grid_->resizeColumnsToContents();
    // The form shows what was understood; what the user told counts as his.
    Settings understood = told_;
    auto guess = [&](const char* key, Value value) {
        if (!told_.has(key)) understood.set(key, std::move(value));
    };
    guess("separator", Value(r.dialect.separator == '\t'  ? std::string("tab")
                             : r.dialect.separator == ' ' ? std::string("space")
                                                          : std::string(1, r.dialect.separator)));
    guess("decimal", Value(std::string(1, r.dialect.decimal)));
    guess("heading", Value(static_cast<double>(r.dialect.heading)));
    guess("units", Value(static_cast<double>(r.dialect.units)));
    guess("first", Value(static_cast<double>(r.dialect.first)));
    guess("comment", Value(r.dialect.comment));
    guess("encoding", Value(r.encoding == "utf-8-bom" ? std::string("utf-8") : r.encoding));
    form_->show(info, understood);
    QStringList warnings;
    for (const Issue& issue : r.issues) {
        Issue shown = issue;
        shown.place.file.clear();
        QString sentence = text(shown.sentence());
        sentence[0] = sentence[0].toUpper();
        warnings << sentence;
    }
    warnings_->setText(warnings.join("\n\n"));
    warnings_->setVisible(!warnings.isEmpty());

    PlotContent content{.evaluator = std::make_shared<evaluate::Evaluator>()};
    const auto trial = importEdit(r, told_, "preview").apply(newProject(""));
    if (trial) content.project = *trial;
    if (trial && !trial->datasets.empty()) {
        Element mark{.kind = "line", .source = trial->datasets[0].id.text()};
        mark.settings.set(
            "colour",
            Value(figure::palette()[document_.project().datasets.size() % figure::palette().size()]));
        mark.settings.set("width", Value(1.0));
        content.marks = {mark};
    } else
        content.emptyText = tr("No curve: two columns of numbers are needed.").toStdString();
    content.legend = false;
    plot_->show(std::move(content));
    Q_EMIT document_.readout(
        tr("%1, %2   recognised as %3")
            .arg(text(counted(static_cast<long long>(r.tables.front().table.rowCount()), "row")),
                 text(counted(static_cast<long long>(r.tables.front().table.columns.size()), "column")),
                 text(info.name).toLower()),
        {});
}

void ImportView::importAll() {
    if (waiting_.empty() || !reading_) return;
    QStringList failed;
    std::vector<Edit> all;
    for (std::size_t i = 0; i < waiting_.size(); ++i) {
        const Waiting& w = waiting_[i];
        auto reading = i == 0           ? Result<io::ReadResult>(*reading_)
                       : w.path.empty() ? io::read(w.bytes, w.name.toStdString(), told_)
                                        : io::readFileAs(w.path, told_);
        if (!reading)
            failed << text(reading.error().sentence());
        else
            all.push_back(
                importEdit(*reading, told_, w.path.empty() ? w.name.toStdString() : nameFromPath(w.path)));
    }
    waiting_.clear();
    told_ = {};
    reading_.reset();
    const std::string name =
        all.size() == 1 ? all.front().name : "Import " + counted(static_cast<long long>(all.size()), "file");
    if (!all.empty() && document_.apply(edits::together(name, std::move(all)))) {
        const Project& p = document_.project();
        if (!p.datasets.empty()) document_.selectDataset(p.datasets[p.datasets.size() - 1].id);
        document_.selectTable(p.tables[p.tables.size() - 1].id);
    }
    if (!failed.isEmpty()) document_.say(failed.join("  "), true);
    Q_EMIT finished();
}

void ImportView::leaveOut() {
    if (!waiting_.empty()) waiting_.erase(waiting_.begin());
    told_ = {};
    reading_.reset();
    if (waiting_.empty())
        Q_EMIT finished();
    else
        read();
}

void ImportView::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape)
        leaveOut();
    else
        QWidget::keyPressEvent(e);
}

// ---- tables -----------------------------------------------------------------------------------------------

DataStage::DataStage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), pages_(new QStackedWidget), import_(new ImportView(document)),
      grid_(new QTableView), model_(new TableModel(&document, this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(pages_);
    pages_->addWidget(buildTableView());
    pages_->addWidget(import_);
    connect(import_, &ImportView::finished, this, [this] {
        pages_->setCurrentIndex(0);
        refresh();
    });
    connect(&document_, &Document::changed, this, &DataStage::refresh);
    connect(&document_, &Document::selectionChanged, this, &DataStage::refresh);
    refresh();
}

QWidget* DataStage::buildTableView() {
    auto* page = new QWidget;
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* middle = new QWidget;
    middle->setObjectName("middle");
    middle->setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(14, 8, 14, 12);
    auto* head = new QHBoxLayout;
    heading_ = new QLabel;
    heading_->setObjectName("title");
    head->addWidget(heading_);
    head->addStretch(1);
    auto* add = new QPushButton(tr("+ Computed column"));
    add->setToolTip(tr("A column by formula over the others"));
    connect(add, &QPushButton::clicked, this, &DataStage::addColumn);
    head->addWidget(add);
    auto* make = new QPushButton(tr("Make dataset"));
    make->setToolTip(tr("A dataset from the roles of the columns"));
    connect(make, &QPushButton::clicked, this, &DataStage::makeDataset);
    head->addWidget(make);
    column->addLayout(head);
    grid_->setModel(model_);
    grid_->setObjectName("tableGrid");
    grid_->setAccessibleName(tr("Table"));
    prepareGrid(grid_);
    column->addWidget(grid_, 1);
    row->addWidget(middle, 1);

    QVBoxLayout* side = nullptr;
    row->addWidget(sidePanel(side));
    auto* caption = new QLabel(tr("Column"));
    caption->setObjectName("caption");
    side->addWidget(caption);
    columnForm_ = new QWidget;
    auto* form = new QFormLayout(columnForm_);
    form->setContentsMargins(0, 2, 0, 2);
    form->setVerticalSpacing(7);
    name_ = new QLineEdit;
    unit_ = new QLineEdit;
    formula_ = new QLineEdit;
    role_ = new QComboBox;
    formulaNote_ = muted({});
    formulaNote_->setWordWrap(true);
    name_->setObjectName("columnName");
    formula_->setObjectName("columnFormula");
    formula_->setPlaceholderText(tr("such as ln(counts)"));
    formula_->setToolTip(tr("Plain mathematics over the names of other columns and row; names with blanks "
                            "stand in 'single quotes'."));
    for (int r = 0; r <= static_cast<int>(Role::Class); ++r)
        role_->addItem(r == 0 ? tr("none") : QString::fromUtf8(roleLabel(static_cast<Role>(r)).data()), r);
    form->addRow(muted(tr("Name")), name_);
    form->addRow(muted(tr("Unit")), unit_);
    form->addRow(muted(tr("Role")), role_);
    form->addRow(muted(tr("Formula")), formula_);
    form->addRow(formulaNote_);
    side->addWidget(columnForm_);
    summary_ = new QLabel;
    summary_->setObjectName("muted");
    side->addWidget(summary_);
    origin_ = muted({});
    origin_->setWordWrap(true);
    side->addWidget(origin_);
    buildDatasetForm(*side);
    side->addStretch(1);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        changeColumn(tr("Rename column"), [n = name_->text().toStdString()](Column& c) { c.name = n; });
    });
    connect(unit_, &QLineEdit::editingFinished, this, [this] {
        changeColumn(tr("Change unit"), [u = unit_->text().toStdString()](Column& c) { c.unit = u; });
    });
    connect(role_, &QComboBox::activated, this, [this] {
        changeColumn(tr("Change role"),
                     [r = static_cast<Role>(role_->currentData().toInt())](Column& c) { c.role = r; });
    });
    connect(formula_, &QLineEdit::editingFinished, this, [this] {
        const int i = currentColumn();
        if (i < 0) return;
        const Column& c = model_->table().columns[static_cast<std::size_t>(i)];
        const std::string stored = evaluate::formulaStored(formula_->text().toStdString(), model_->table());
        if (stored != c.formula && !(c.formula.empty() && c.cells->size() > 0))
            document_.apply(edits::setFormula(model_->table().id, c.id, stored));
    });
    connect(grid_->selectionModel(), &QItemSelectionModel::currentColumnChanged, this,
            &DataStage::refreshColumn);
    connect(model_, &QAbstractItemModel::modelReset, this, &DataStage::refreshColumn);
    return page;
}

// The selected dataset: its name, and where the uncertainties of its y come from.
void DataStage::buildDatasetForm(QVBoxLayout& side) {
    datasetForm_ = new QWidget;
    auto* form = new QFormLayout(datasetForm_);
    form->setContentsMargins(0, 12, 0, 2);
    form->setVerticalSpacing(7);
    auto* caption = new QLabel(tr("Dataset"));
    caption->setObjectName("caption");
    form->addRow(caption);
    datasetName_ = new QLineEdit;
    datasetName_->setObjectName("datasetName");
    uncertainty_ = new QComboBox;
    uncertainty_->setObjectName("uncertainty");
    for (const auto& [label, key] :
         {std::pair(tr("automatic"), ""), std::pair(tr("not known"), "none"),
          std::pair(tr("from its column"), "column"), std::pair(tr("fraction of y"), "fraction"),
          std::pair(tr("square root of counts"), "counting"), std::pair(tr("constant"), "constant"),
          std::pair(tr("SD of replicates"), "sd"), std::pair(tr("SEM of replicates"), "sem")})
        uncertainty_->addItem(label, key);
    uncertainty_->setToolTip(
        tr("Where the standard uncertainties of y come from; automatic takes a column with the role ± y."));
    amount_ = new QLineEdit;
    amount_->setObjectName("amount");
    amount_->setToolTip(tr("The fraction of y (0.05 is 5 %), or the constant in units of y."));
    form->addRow(muted(tr("Name")), datasetName_);
    form->addRow(muted(tr("± of y")), uncertainty_);
    form->addRow(muted(tr("Amount")), amount_);
    side.addWidget(datasetForm_);
    connect(datasetName_, &QLineEdit::editingFinished, this, [this] {
        const std::string name = datasetName_->text().trimmed().toStdString();
        if (!name.empty())
            document_.apply(edits::changeDataset(document_.dataset(), "Rename dataset",
                                                 [name](Dataset& d) { d.name = name; }));
    });
    connect(uncertainty_, &QComboBox::activated, this, [this] {
        document_.apply(
            edits::changeDataset(document_.dataset(), "Choose uncertainty",
                                 [key = uncertainty_->currentData().toString().toStdString()](Dataset& d) {
                                     if (key.empty())
                                         d.source.settings.remove("uncertainty");
                                     else
                                         d.source.settings.set("uncertainty", Value(key));
                                 }));
    });
    connect(amount_, &QLineEdit::editingFinished, this, [this] {
        const auto amount = parseNumber(amount_->text().toStdString());
        if (!amount || *amount <= 0) return refreshDataset();
        document_.apply(
            edits::changeDataset(document_.dataset(), "Change uncertainty",
                                 [v = *amount](Dataset& d) { d.source.settings.set("amount", Value(v)); }));
    });
}

void DataStage::refreshDataset() {
    const auto d = document_.currentDataset();
    datasetForm_->setVisible(d && d->source.table == document_.table());
    if (!d) return;
    const std::string rule = d->source.settings.text("uncertainty");
    if (!datasetName_->hasFocus()) datasetName_->setText(text(d->name));
    uncertainty_->setCurrentIndex(std::max(0, uncertainty_->findData(text(rule))));
    amount_->setEnabled(rule == "fraction" || rule == "constant");
    amount_->setText(amount_->isEnabled() ? text(shortestNumber(d->source.settings.number("amount", 0.05)))
                                          : QString());
}

int DataStage::currentColumn() const {
    if (model_->columnCount() == 0) return -1;
    return std::clamp(grid_->currentIndex().column(), 0, model_->columnCount() - 1);
}

void DataStage::changeColumn(const QString& name, const std::function<void(Column&)>& how) {
    const int i = currentColumn();
    if (i < 0) return;
    document_.apply(
        edits::changeTable(model_->table().id, name.toStdString(),
                           [id = model_->table().columns[static_cast<std::size_t>(i)].id, how](Table& t) {
                               for (Column& c : t.columns)
                                   if (c.id == id) how(c);
                           }));
}

void DataStage::refresh() {
    const auto filled = document_.session().evaluator().table(document_.project(), document_.table());
    const QModelIndex before = grid_->currentIndex();
    const int scrolled = grid_->verticalScrollBar()->value();
    if (!(model_->table() == filled.value)) {
        model_->show(filled.value);
        if (before.isValid())
            grid_->setCurrentIndex(model_->index(std::min(before.row(), model_->rowCount() - 1),
                                                 std::min(before.column(), model_->columnCount() - 1)));
        grid_->verticalScrollBar()->setValue(scrolled);
    }
    const bool there = document_.project().tables.find(document_.table()) != nullptr;
    heading_->setText(there ? text(filled.value.name) : tr("Drop files here, or paste a block"));
    const Origin& o = filled.value.origin;
    origin_->setText(!there ? tr("Text files with columns of numbers become tables and datasets. Drag them "
                                 "from your file manager, use File › Import, or paste with Ctrl+V.")
                     : o.file.empty() ? QString()
                                      : tr("Read from %1, lines %2–%3")
                                            .arg(text(std::filesystem::path(o.file).filename().string()))
                                            .arg(filled.value.rows->line(0))
                                            .arg(filled.value.rows->line(
                                                filled.value.rowCount() ? filled.value.rowCount() - 1 : 0)));
    columnForm_->setVisible(there);
    refreshDataset();
    refreshColumn();
}

void DataStage::refreshColumn() {
    const int i = currentColumn();
    summary_->setVisible(i >= 0);
    if (i < 0) return;
    const Column& c = model_->table().columns[static_cast<std::size_t>(i)];
    if (!name_->hasFocus()) name_->setText(text(c.name));
    if (!unit_->hasFocus()) unit_->setText(text(c.unit));
    role_->setCurrentIndex(static_cast<int>(c.role));
    const bool computed = !c.formula.empty() || c.cells->size() == 0;
    formula_->setEnabled(computed);
    if (!formula_->hasFocus()) formula_->setText(text(evaluate::formulaShown(c.formula, model_->table())));
    const auto filled = document_.session().evaluator().table(document_.project(), document_.table());
    QString note;
    for (const Issue& issue : filled.issues)
        if (issue.place.column == c.name) note = text(issue.text);
    formulaNote_->setObjectName(note.isEmpty() ? "muted" : "bad");
    formulaNote_->style()->unpolish(formulaNote_);
    formulaNote_->style()->polish(formulaNote_);
    if (note.isEmpty() && computed && c.cells->size() > 0)
        note = tr("first value: %1").arg(text(cellText(c, 0)));
    formulaNote_->setText(note);
    formulaNote_->setVisible(!note.isEmpty());
    if (!c.isNumeric()) return summary_->setText(tr("%1 cells of text").arg(c.cells->size()));
    const stats::Summary s = stats::summarise(c.numbers());
    auto n = [](double v) { return text(readableNumber(v, 6)); };
    summary_->setText(tr("n %1, missing %2\nmean %3, SD %4\nmedian %5\nfrom %6 to %7")
                          .arg(s.n)
                          .arg(s.missing)
                          .arg(n(s.mean), n(s.sd), n(s.median), n(s.min), n(s.max)));
}

void DataStage::makeDataset() {
    const Table& t = model_->table();
    Dataset d = datasetFromTable(t, t.name, document_.project().datasets.size());
    const bool hasY =
        std::ranges::any_of(d.source.roles, [](const RoleBinding& b) { return b.role == Role::Y; });
    if (!hasY) return document_.say(tr("Give a column of numbers the role y first."), true);
    if (document_.apply(edits::addDataset(d)))
        document_.selectDataset(document_.project().datasets[document_.project().datasets.size() - 1].id);
}

void DataStage::addColumn() {
    if (!document_.table()) return;
    const Table& t = model_->table();
    std::string source = "row";
    for (const Column& c : t.columns)
        if (c.role == Role::Y) source = "'" + c.id.text() + "'";
    if (!document_.apply(
            edits::addComputedColumn(t.id, "computed " + std::to_string(t.columns.size() + 1), source)))
        return;
    grid_->setCurrentIndex(model_->index(0, model_->columnCount() - 1));
    formula_->setFocus();
    formula_->selectAll();
}

void DataStage::offer(const std::vector<Waiting>& sources) {
    if (sources.empty()) return;
    pages_->setCurrentWidget(import_);
    import_->add(sources);
}

void DataStage::paste() {
    const QString block = QApplication::clipboard()->text();
    if (block.trimmed().isEmpty()) return document_.say(tr("The clipboard holds no text to paste."), true);
    offer({{tr("pasted block"), {}, block.toStdString()}});
}

} // namespace jointer::app
