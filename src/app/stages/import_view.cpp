// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/import_view.h"

#include "app/canvas/own_marks.h"
#include "app/forms/settings_form.h"
#include "app/models/column_header.h"
#include "app/models/table_model.h"
#include "app/panes/import_target.h"
#include "app/panes/import_warnings.h"
#include "app/stages/raw_lines.h"
#include "app/stages/sheet_view.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/files.h"
#include "base/text.h"
#include "figure/kinds.h"
#include "io/joined_moments.h"
#include "session/import.h"
#include "session/reimport.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QTableView>
#include <QTimer>
#include <QVBoxLayout>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

namespace jointer::app {

namespace {

constexpr const char* kText = "delimited"; // the reader of plain text

} // namespace

std::string Waiting::fileName() const {
    return path.empty() ? name.toStdString() : nameFromPath(path);
}

ImportView::ImportView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), changesJob_(this), watching_(new QTimer(this)),
      bar_(new QProgressBar), title_(title({})), error_(errorLabel()), warnings_(new ImportWarnings),
      target_(new ImportTarget), import_(new QPushButton(tr("Import"))),
      leave_(new QPushButton(tr("Leave out"))), raw_(new RawLines), sheet_(new SheetView),
      grid_(new QTableView), model_(new TableModel(nullptr, this)), plot_(new PlotCanvas), form_(nullptr) {
    setFocusPolicy(Qt::StrongFocus);
    const auto [column, side] = layOutStage(this);
    column->addLayout(buildHead());
    column->addWidget(error_);
    bar_->setObjectName("importProgress");
    bar_->setTextVisible(false);
    bar_->setToolTip(tr("Esc stops it"));
    bar_->hide();
    column->addWidget(bar_);
    column->addLayout(buildViews(), 3);
    column->addWidget(plot_, 2);
    side->addWidget(buildSide());
    connectParts();
    connect(watching_, &QTimer::timeout, this, &ImportView::watch);
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

QLayout* ImportView::buildHead() {
    auto* head = new QHBoxLayout;
    head->addWidget(title_);
    head->addStretch(1);
    leave_->setToolTip(tr("Do not import this file (Esc)"));
    import_->setObjectName("primary");
    import_->setToolTip(tr("Import with these settings (Ctrl+Return)"));
    import_->setShortcut(QKeySequence("Ctrl+Return"));
    head->addWidget(leave_);
    head->addWidget(import_);
    return head;
}

// The file as it is, and beside it what was read.
QLayout* ImportView::buildViews() {
    auto* views = new QHBoxLayout;
    views->addWidget(raw_, 1);
    views->addWidget(sheet_, 1);
    sheet_->hide();
    grid_->setModel(model_);
    grid_->setHorizontalHeader(new ColumnHeader);
    grid_->setObjectName("previewGrid");
    grid_->setAccessibleName(tr("Parsed table"));
    prepareGrid(grid_);
    views->addWidget(grid_, 1);
    return views;
}

QWidget* ImportView::buildSide() {
    auto* inside = new QWidget;
    auto* parts = new QVBoxLayout(inside);
    parts->setContentsMargins(0, 0, 6, 0);
    form_ = new SettingsForm;
    parts->addWidget(warnings_); // what is in doubt comes first
    parts->addWidget(caption(tr("How it was read")));
    parts->addWidget(form_);
    parts->addWidget(target_);
    parts->addStretch(1);
    QScrollArea* scroll = paneScroll(inside, tr("Settings of the reading"));
    scroll->setObjectName("plain");
    inside->setObjectName("plain");
    return scroll;
}

void ImportView::connectParts() {
    connect(target_, &ImportTarget::tableChosen, this, [this](int index) {
        if (!reading_ || static_cast<std::size_t>(index) >= reading_->tables.size()) return;
        showTable(static_cast<std::size_t>(index));
        showChanges();
        showSamples();
    });
    auto tellLine = [this](const QString& key, int line) {
        told_.set(key.toStdString(), line);
        read();
    };
    connect(raw_, &RawLines::told, this, tellLine);
    connect(sheet_, &SheetView::told, this, tellLine);
    connect(raw_, &RawLines::widthsTold, this, [this](const QString& widths) {
        told_.set("separator", "fixed");
        told_.set("widths", Value(widths.toStdString()));
        read();
    });
    connect(sheet_, &SheetView::rangeTold, this, [this](const QString& range) {
        told_.remove("range");
        told_.remove("sheet");
        if (!range.isEmpty()) {
            told_.set("range", Value(range.toStdString()));
            told_.set("sheet", Value(shownSheet_));
        }
        read();
    });
    connect(warnings_, &ImportWarnings::lineChosen, this, &ImportView::goTo);
    connect(warnings_, &ImportWarnings::alternativeChosen, this, [this](const Settings& told) {
        for (const auto& [key, value] : told.entries()) told_.set(key, value);
        read();
    });
}

void ImportView::goTo(long line) {
    raw_->goTo(line);
    sheet_->goTo(line);
    const Table& table = model_->table();
    for (std::size_t row = 0; row < table.rowCount(); ++row)
        if (table.rows->line(row) == static_cast<std::uint32_t>(line)) {
            grid_->selectRow(static_cast<int>(row));
            grid_->scrollTo(model_->index(static_cast<int>(row), 0), QAbstractItemView::PositionAtCenter);
            return;
        }
}

std::vector<std::string> ImportView::names() const {
    std::vector<std::string> all;
    for (const Waiting& w : waiting_) all.push_back(w.fileName());
    return all;
}

void ImportView::add(const std::vector<Waiting>& sources) {
    if (again_) { // new files put it aside
        waiting_.clear();
        told_ = {};
        again_ = {};
    }
    waiting_.insert(waiting_.end(), sources.begin(), sources.end());
    if (!waiting_.empty()) read();
    setFocus();
}

void ImportView::readAgain(const Table& table) {
    waiting_ = {{text(std::filesystem::path(table.origin.file).filename().string()), table.origin.file, {}}};
    const auto told = nlohmann::ordered_json::parse(table.origin.reading, nullptr, false);
    told_ = told.is_object() ? settingsFromJson(told) : Settings{};
    const auto has = [&](ColumnKind kind) {
        return std::ranges::find(table.columns, kind, &Column::kind) != table.columns.end();
    };
    if (has(ColumnKind::Date) && has(ColumnKind::TimeOfDay)) told_.set("join", io::kApart); // as they came in
    again_ = table.id;
    againName_ = table.name;
    reading_.reset();
    target_->showTables(nullptr, {});
    read();
    setFocus();
}

void ImportView::showReading(Result<io::ReadResult> reading, const QStringList& lines) {
    if (waiting_.empty()) return;
    title_->setText(waiting_.size() > 1
                        ? tr("%1   1 of %2 files").arg(waiting_.front().name).arg(waiting_.size())
                        : waiting_.front().name);
    leave_->setText(again_ ? tr("Cancel") : tr("Leave out"));
    relabel(import_, again_                ? tr("Read again")
                     : waiting_.size() > 1 ? tr("Import %1 files").arg(waiting_.size())
                                           : tr("Import"));
    error_->setVisible(!reading);
    target_->showFound(names());
    if (!reading) return showUnread(reading.error(), lines);
    reading_ = std::move(*reading);
    const io::ReadResult& r = *reading_;
    import_->setEnabled(true);
    showRaw(r, lines);
    const std::string reader = r.tables.front().table.origin.reader;
    const KindInfo& info = io::readerCatalogue().find(reader)->info;
    form_->show(info, understoodFrom(r, reader == kText));
    target_->showTables(&*reading_, again_ ? againName_ : std::string());
    showTable(target_->chosenTable());
    warnings_->show(r.issues, !r.sheets.empty(), r.alternatives);
    showChanges();
    showSamples();
    const Table& first = r.tables[0].table;
    Q_EMIT document_.readout(
        tr("%1   recognised as %2")
            .arg(r.tables.size() > 1
                     ? tr("%1 tables").arg(r.tables.size())
                     : text(counted(static_cast<long long>(first.rowCount()), "row") + ", " +
                            counted(static_cast<long long>(first.columns.size()), "column")),
                 reader == kText ? text(info.name).toLower() : text(info.name)),
        {});
}

// Nothing could be read: the text is there to be looked at, with the settings of text files.
void ImportView::showUnread(const Issue& why, const QStringList& lines) {
    error_->setText(text(why.text));
    reading_.reset();
    model_->show({});
    plot_->show({});
    target_->showTables(nullptr, {});
    warnings_->show({}, false);
    form_->show(io::readerCatalogue().find(kText)->info, told_);
    raw_->show(lines, {});
    raw_->setVisible(true);
    raw_->setBorders({});
    sheet_->hide();
}

// The text with what was recognised in its lines, or the cells of a spreadsheet.
void ImportView::showRaw(const io::ReadResult& r, const QStringList& lines) {
    const bool isText = r.tables.front().table.origin.reader == kText;
    const bool showsText = r.sheets.empty() && !r.encoding.empty();
    raw_->setPointable(isText);
    raw_->setVisible(showsText);
    raw_->show(showsText ? lines : QStringList(), r.lineKinds);
    raw_->setBorders(isText && r.dialect.form == io::Form::Fixed ? r.dialect.borders
                                                                 : std::vector<std::size_t>{});
    sheet_->setVisible(!r.sheets.empty());
}

// The form shows what was understood; what the user told counts as his.
Settings ImportView::understoodFrom(const io::ReadResult& r, bool isText) const {
    Settings understood = told_;
    auto guess = [&](const char* key, Value value) {
        if (!told_.has(key)) understood.set(key, std::move(value));
    };
    guess("heading", Value(static_cast<double>(r.dialect.heading)));
    guess("units", Value(static_cast<double>(r.dialect.units)));
    guess("first", Value(static_cast<double>(r.dialect.first)));
    if (!isText) return understood;
    guess("separator", Value(r.dialect.form == io::Form::Fixed ? std::string("fixed")
                             : r.dialect.separator == '\t'     ? std::string("tab")
                             : r.dialect.separator == ' '      ? std::string("space")
                                                               : std::string(1, r.dialect.separator)));
    guess("decimal", Value(std::string(1, r.dialect.decimal)));
    guess("comment", Value(r.dialect.comment));
    guess("encoding", Value(r.encoding == "utf-8-bom" ? std::string("utf-8") : r.encoding));
    return understood;
}

void ImportView::showTable(std::size_t index) {
    const io::ReadResult& r = *reading_;
    model_->show(r.tables[index].table);
    grid_->resizeColumnsToContents();
    if (const auto region = r.tables[index].region) {
        shownSheet_ = r.sheets[region->sheet].name;
        sheet_->show(r.sheets[region->sheet], region);
    }
    PlotContent content{.evaluator = std::make_shared<evaluate::Evaluator>()};
    const auto trial = importEdit(r, told_, "preview", {.tables = {index}, .called = {}, .pattern = {}})
                           .apply(newProject(""));
    if (trial) content.project = *trial;
    for (std::size_t i = 0; trial && i < std::min<std::size_t>(trial->datasets.size(), 12); ++i) {
        const Dataset& d = trial->datasets[i];
        const bool classes = std::ranges::find(d.source.roles, Role::Class, &RoleBinding::role) !=
                             d.source.roles.end(); // which no line joins
        Element mark{.kind = classes ? "points" : "line", .source = d.id.text()};
        const std::size_t colour = document_.project().datasets.size() + i;
        mark.settings.set("colour", Value(shownColour(figure::palette()[colour % figure::palette().size()])));
        mark.settings.set("width", Value(1.0));
        content.marks.push_back(mark);
    }
    if (content.marks.empty())
        content.emptyText = tr("No curve: two columns of numbers are needed.").toStdString();
    content.legend = false;
    if (trial && !trial->datasets.empty() && trial->datasets[0].source.kind != "columns")
        content.prepare = [id = trial->datasets[0].id](PlotContent& c) { takeOwnMarks(c, id); };
    plot_->show(std::move(content));
}

void ImportView::leaveOut() {
    job_.stopRunning();
    if (!waiting_.empty()) waiting_.erase(waiting_.begin());
    told_ = {};
    again_ = {};
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

} // namespace jointer::app
