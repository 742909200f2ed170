// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/import_view.h"

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
#include "session/import.h"
#include "session/reimport.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTableView>
#include <QTimer>
#include <QVBoxLayout>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

namespace jointer::app {

namespace {

std::string nameOf(const Waiting& w) {
    return w.path.empty() ? w.name.toStdString() : nameFromPath(w.path);
}

} // namespace

ImportView::ImportView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), changesJob_(this), watching_(new QTimer(this)),
      bar_(new QProgressBar), title_(title({})), error_(errorLabel()), warnings_(new ImportWarnings),
      target_(new ImportTarget), import_(new QPushButton(tr("Import"))),
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
    bar_->setObjectName("importProgress");
    bar_->setTextVisible(false);
    bar_->setToolTip(tr("Esc stops it"));
    bar_->hide();
    column->addWidget(bar_);
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
    side->addWidget(warnings_);
    side->addStretch(1);
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
    connect(warnings_, &ImportWarnings::lineChosen, this, &ImportView::goTo);
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

// What reading again would change, before it happens; rows are matched in the background.
void ImportView::showChanges() {
    planned_.reset();
    if (!again_ || !reading_) return target_->showConsequences({});
    import_->setEnabled(false);
    changesJob_.request([this, project = document_.project(), id = again_, told = told_,
                         fresh = reading_->tables[target_->chosenTable()].table](
                            const Cancellation&) -> std::function<void()> {
        auto planned = std::make_shared<Result<Reimport>>(plannedReimport(project, id, fresh, told));
        return [this, planned, id] {
            if (id != again_ || !reading_) return;
            ImportTarget::Consequences what;
            if (*planned) {
                planned_ = std::move(**planned);
                for (const std::string& c : planned_->changes) what.changes << text(c);
                for (const std::string& l : planned_->losses) what.losses << text(l);
            } else
                what.losses << text(planned->error().text);
            target_->showConsequences(what);
            import_->setEnabled(planned_.has_value());
        };
    });
}

void ImportView::takeAgain() {
    if (planned_ && document_.apply(reimportEdit(*planned_))) leaveOut();
}

// Says how far a long reading is; Esc or the button stop it.
void ImportView::watch() {
    const bool busy = job_.isBusy();
    const double share = progress_->share();
    // Short work shows no bar that only flickers.
    const bool shown = busy && watched_.elapsed() > 300;
    bar_->setVisible(shown);
    if (shown) bar_->setValue(static_cast<int>(std::lround(100 * share)));
    if (shown && !waiting_.empty())
        title_->setText(tr("%1   reading, %2 %").arg(waiting_.front().name).arg(std::lround(100 * share)));
    if (!busy) watching_->stop();
}

void ImportView::beginWatching() {
    progress_ = std::make_shared<Progress>();
    watched_.restart();
    watching_->start(100);
}

void ImportView::read() {
    import_->setEnabled(false);
    job_.stopRunning();
    beginWatching();
    job_.request([this, source = waiting_.front(), told = told_,
                  progress = progress_](const Cancellation& stop) -> std::function<void()> {
        const BoundProgress bound(*progress);
        Result<io::ReadResult> reading = failure("unread", "");
        QStringList lines;
        auto take = [&](std::string_view all) {
            reading =
                io::read(all, source.path.empty() ? source.name.toStdString() : source.path, told, stop);
            for (std::string_view line : io::firstLines(all.substr(0, 200000), 400))
                lines << QString::fromUtf8(line.data(), static_cast<qsizetype>(line.size()));
        };
        if (source.path.empty())
            take(source.bytes);
        else if (const auto file = MappedFile::open(source.path))
            take(file->bytes());
        else
            reading = std::unexpected(file.error());
        auto shared = std::make_shared<Result<io::ReadResult>>(std::move(reading));
        return [this, shared, lines, stop] {
            if (!stop.stop_requested()) showReading(std::move(*shared), lines);
        };
    });
}

void ImportView::showReading(Result<io::ReadResult> reading, const QStringList& lines) {
    if (waiting_.empty()) return;
    title_->setText(waiting_.front().name);
    leave_->setText(again_ ? tr("Cancel") : tr("Leave out"));
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
        warnings_->show({}, false);
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
    warnings_->show(r.issues, !r.sheets.empty());
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

// The first file is read already; the others in the background, with its settings.
void ImportView::importAll() {
    if (waiting_.empty() || !reading_ || !import_->isEnabled()) return;
    if (again_) return takeAgain();
    import_->setEnabled(false);
    beginWatching();
    auto first = std::make_shared<io::ReadResult>(std::move(*reading_));
    reading_.reset();
    job_.request([this, first, sources = waiting_, told = told_, plan = target_->plan(),
                  progress = progress_](const Cancellation& stop) -> std::function<void()> {
        auto all = std::make_shared<std::vector<Edit>>();
        QStringList failed;
        for (std::size_t i = 0; i < sources.size() && !stop.stop_requested(); ++i) {
            const Waiting& w = sources[i];
            Result<io::ReadResult> reading = failure("unread", "");
            if (i > 0)
                reading = w.path.empty() ? io::read(w.bytes, w.name.toStdString(), told, stop)
                                         : io::readFileAs(w.path, told, stop);
            const io::ReadResult* read = i == 0 ? first.get() : reading ? &*reading : nullptr;
            if (read)
                all->push_back(importEdit(*read, told, nameOf(w), plan));
            else
                failed << text(reading.error().sentence());
            progress->set(static_cast<double>(i + 1) / static_cast<double>(sources.size()));
        }
        return [this, all, failed, stop] {
            if (!stop.stop_requested()) takeIn(std::move(*all), failed);
        };
    });
}

void ImportView::takeIn(std::vector<Edit> all, const QStringList& failed) {
    waiting_.clear();
    told_ = {};
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
