// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/import_view.h"

#include "app/forms/settings_form.h"
#include "app/models/column_header.h"
#include "app/models/table_model.h"
#include "app/panes/import_target.h"
#include "app/stages/raw_lines.h"
#include "app/stages/sheet_view.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/files.h"
#include "base/text.h"
#include "figure/kinds.h"
#include "session/import.h"
#include "session/reimport.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QTableView>
#include <QVBoxLayout>
#include <filesystem>
#include <nlohmann/json.hpp>

namespace jointer::app {

namespace {

std::string nameOf(const Waiting& w) {
    return w.path.empty() ? w.name.toStdString() : nameFromPath(w.path);
}

} // namespace

ImportView::ImportView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), title_(title({})), error_(errorLabel()),
      warnings_(new QListWidget), target_(new ImportTarget), import_(new QPushButton(tr("Import"))),
      leave_(new QPushButton(tr("Leave out"))), raw_(new RawLines), sheet_(new SheetView),
      grid_(new QTableView), model_(new TableModel(nullptr, this)), plot_(new PlotCanvas), form_(nullptr) {
    setFocusPolicy(Qt::StrongFocus);
    const auto [column, side] = layOutStage(this);
    auto* head = new QHBoxLayout;
    head->addWidget(title_);
    head->addStretch(1);
    leave_->setToolTip(tr("Do not import this file (Esc)"));
    import_->setObjectName("primary");
    import_->setToolTip(tr("Import with these settings (Ctrl+Return)"));
    import_->setShortcut(QKeySequence("Ctrl+Return"));
    head->addWidget(leave_);
    head->addWidget(import_);
    column->addLayout(head);
    column->addWidget(error_);
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
    column->addLayout(views, 3);
    column->addWidget(plot_, 2);
    side->addWidget(caption(tr("How it was read")));
    form_ = new SettingsForm;
    side->addWidget(form_);
    side->addWidget(target_);
    look_ = caption(tr("To look at"));
    side->addWidget(look_);
    warnings_->setObjectName("importWarnings");
    warnings_->setWordWrap(true);
    warnings_->setSpacing(3);
    warnings_->setFrameShape(QFrame::NoFrame);
    warnings_->setStyleSheet(QString("background: %1; border-left: 3px solid %2; font-size: 9pt;")
                                 .arg(theme().warningSoft.name(), theme().warning.name()));
    warnings_->setToolTip(tr("Click to go to the line"));
    warnings_->setAccessibleName(tr("What could not be read, or is in doubt"));
    warnings_->setSizeAdjustPolicy(QAbstractScrollArea::AdjustToContents);
    warnings_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    side->addWidget(warnings_);
    side->addStretch(1);
    connectParts();
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

void ImportView::connectParts() {
    connect(target_, &ImportTarget::tableChosen, this, [this](int index) {
        if (!reading_ || static_cast<std::size_t>(index) >= reading_->tables.size()) return;
        showTable(static_cast<std::size_t>(index));
        showChanges();
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
    connect(warnings_, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { goTo(item->data(Qt::UserRole).toLongLong()); });
    connect(warnings_, &QListWidget::itemActivated, this,
            [this](QListWidgetItem* item) { goTo(item->data(Qt::UserRole).toLongLong()); });
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
    for (const Waiting& w : waiting_) all.push_back(nameOf(w));
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
    again_ = table.id;
    againName_ = table.name;
    reading_.reset();
    target_->showTables(nullptr, {});
    read();
    setFocus();
}

// What reading again would change, before it happens.
void ImportView::showChanges() {
    if (!again_ || !reading_) return target_->showConsequences({});
    const auto planned =
        plannedReimport(document_.project(), again_, reading_->tables[target_->chosenTable()].table, told_);
    ImportTarget::Consequences told;
    if (planned) {
        for (const std::string& c : planned->changes) told.changes << text(c);
        for (const std::string& l : planned->losses) told.losses << text(l);
    } else
        told.losses << text(planned.error().text);
    target_->showConsequences(told);
}

void ImportView::takeAgain() {
    const auto planned =
        plannedReimport(document_.project(), again_, reading_->tables[target_->chosenTable()].table, told_);
    const bool done = planned && document_.apply(reimportEdit(*planned));
    if (!planned) document_.say(text(planned.error().text), true);
    if (!done) return;
    leaveOut();
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
    import_->setText(again_                ? tr("Read again")
                     : waiting_.size() > 1 ? tr("Import %1 files").arg(waiting_.size())
                                           : tr("Import"));
    error_->setVisible(!reading);
    target_->showFound(names());
    if (!reading) {
        error_->setText(text(reading.error().text));
        reading_.reset();
        model_->show({});
        plot_->show({});
        target_->showTables(nullptr, {});
        warnings_->clear();
        form_->show(io::findReader("delimited")->info, told_);
        raw_->show(lines, {});
        raw_->setVisible(true);
        raw_->setBorders({});
        sheet_->hide();
        return;
    }
    reading_ = std::move(*reading);
    const io::ReadResult& r = *reading_;
    import_->setEnabled(true);
    const std::string reader = r.tables.front().table.origin.reader;
    const KindInfo& info = io::findReader(reader)->info;
    const bool isText = reader == "delimited";
    const bool showsText = r.sheets.empty() && !r.encoding.empty();
    raw_->setPointable(isText);
    raw_->setVisible(showsText);
    raw_->show(showsText ? lines : QStringList(), r.lineKinds);
    raw_->setBorders(isText && r.dialect.form == io::Form::Fixed ? r.dialect.borders
                                                                 : std::vector<std::size_t>{});
    sheet_->setVisible(!r.sheets.empty());
    // The form shows what was understood; what the user told counts as his.
    Settings understood = told_;
    auto guess = [&](const char* key, Value value) {
        if (!told_.has(key)) understood.set(key, std::move(value));
    };
    if (isText)
        guess("separator", Value(r.dialect.form == io::Form::Fixed ? std::string("fixed")
                                 : r.dialect.separator == '\t'     ? std::string("tab")
                                 : r.dialect.separator == ' '      ? std::string("space")
                                                                   : std::string(1, r.dialect.separator)));
    if (isText) guess("decimal", Value(std::string(1, r.dialect.decimal)));
    guess("heading", Value(static_cast<double>(r.dialect.heading)));
    guess("units", Value(static_cast<double>(r.dialect.units)));
    guess("first", Value(static_cast<double>(r.dialect.first)));
    if (isText) guess("comment", Value(r.dialect.comment));
    if (isText) guess("encoding", Value(r.encoding == "utf-8-bom" ? std::string("utf-8") : r.encoding));
    form_->show(info, understood);
    target_->showTables(&*reading_, again_ ? againName_ : std::string());
    showTable(target_->chosenTable());
    showWarnings();
    showChanges();
    Q_EMIT document_.readout(
        tr("%1   recognised as %2")
            .arg(r.tables.size() > 1
                     ? tr("%1 tables").arg(r.tables.size())
                     : text(counted(static_cast<long long>(r.tables[0].table.rowCount()), "row") + ", " +
                            counted(static_cast<long long>(r.tables[0].table.columns.size()), "column")),
                 isText ? text(info.name).toLower() : text(info.name)),
        {});
}

void ImportView::showWarnings() {
    warnings_->clear();
    for (const Issue& issue : reading_->issues) {
        Issue shown = issue;
        shown.place.file.clear();
        QString sentence = text(shown.sentence());
        if (!sentence.isEmpty()) sentence[0] = sentence[0].toUpper();
        auto* item = new QListWidgetItem(sentence);
        item->setData(Qt::UserRole, static_cast<qlonglong>(issue.place.line));
        warnings_->addItem(item);
    }
    warnings_->setVisible(warnings_->count() > 0);
    look_->setVisible(warnings_->count() > 0);
    look_->setText(tr("To look at   %1").arg(warnings_->count()));
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
        Element mark{.kind = "line", .source = trial->datasets[i].id.text()};
        const std::size_t colour = document_.project().datasets.size() + i;
        mark.settings.set("colour", Value(figure::palette()[colour % figure::palette().size()]));
        mark.settings.set("width", Value(1.0));
        content.marks.push_back(mark);
    }
    if (content.marks.empty())
        content.emptyText = tr("No curve: two columns of numbers are needed.").toStdString();
    content.legend = false;
    plot_->show(std::move(content));
}

void ImportView::importAll() {
    if (waiting_.empty() || !reading_) return;
    if (again_) return takeAgain();
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
            all.push_back(importEdit(*reading, told_, nameOf(w), target_->plan()));
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
