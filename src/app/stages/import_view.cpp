// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/import_view.h"

#include "app/forms/settings_form.h"
#include "app/models/table_model.h"
#include "app/stages/raw_lines.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/files.h"
#include "base/text.h"
#include "figure/kinds.h"
#include "session/import.h"
#include "session/name_pattern.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableView>
#include <QVBoxLayout>
#include <map>

namespace jointer::app {

namespace {

std::string nameOf(const Waiting& w) {
    return w.path.empty() ? w.name.toStdString() : nameFromPath(w.path);
}

} // namespace

ImportView::ImportView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), title_(title({})), error_(errorLabel()),
      warnings_(new QListWidget), tables_(new QListWidget), import_(new QPushButton(tr("Import"))),
      leave_(new QPushButton(tr("Leave out"))), raw_(new RawLines), grid_(new QTableView),
      model_(new TableModel(nullptr, this)), plot_(new PlotCanvas), form_(nullptr) {
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
    grid_->setModel(model_);
    grid_->setObjectName("previewGrid");
    grid_->setAccessibleName(tr("Parsed table"));
    prepareGrid(grid_);
    views->addWidget(grid_, 1);
    column->addLayout(views, 3);
    column->addWidget(plot_, 2);
    side->addWidget(caption(tr("How it was read")));
    form_ = new SettingsForm;
    side->addWidget(form_);
    addBecomes(side);
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

// What the file becomes in the project: its tables, names and attributes.
void ImportView::addBecomes(QVBoxLayout* side) {
    side->addWidget(hairline());
    side->addWidget(caption(tr("Becomes")));
    tables_->setObjectName("importTables");
    tables_->setAccessibleName(tr("Tables of the file; the ticked ones are imported"));
    tables_->setFrameShape(QFrame::NoFrame);
    side->addWidget(tables_);
    auto* rows = new QFormLayout;
    rows->setLabelAlignment(Qt::AlignLeft);
    called_ = new QLineEdit;
    called_->setObjectName("called");
    called_->setPlaceholderText(tr("the file’s name"));
    called_->setToolTip(tr("Name of table and dataset; {age} stands for an attribute"));
    pattern_ = new QLineEdit;
    pattern_->setObjectName("pattern");
    pattern_->setPlaceholderText("shell_{age:d}_{site}");
    pattern_->setToolTip(tr("Finds attributes in the file’s name: {name} any text, {name:d} a whole number, "
                            "{name:f} a number, * anything"));
    rows->addRow(muted(tr("Called")), called_);
    rows->addRow(muted(tr("Attributes")), pattern_);
    side->addLayout(rows);
    found_ = muted({});
    found_->setWordWrap(true);
    side->addWidget(found_);
    for (QLineEdit* field : {called_, pattern_})
        connect(field, &QLineEdit::textChanged, this, [this] { showFound(); });
    connect(tables_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0 && reading_ && static_cast<std::size_t>(row) < reading_->tables.size())
            showTable(static_cast<std::size_t>(row));
    });
    connect(raw_, &RawLines::told, this, [this](const QString& key, int line) {
        told_.set(key.toStdString(), line);
        read();
    });
    connect(warnings_, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { goTo(item->data(Qt::UserRole).toLongLong()); });
    connect(warnings_, &QListWidget::itemActivated, this,
            [this](QListWidgetItem* item) { goTo(item->data(Qt::UserRole).toLongLong()); });
}

void ImportView::goTo(long line) {
    raw_->goTo(line);
    const Table& table = model_->table();
    for (std::size_t row = 0; row < table.rowCount(); ++row)
        if (table.rows->line(row) == static_cast<std::uint32_t>(line)) {
            grid_->selectRow(static_cast<int>(row));
            grid_->scrollTo(model_->index(static_cast<int>(row), 0), QAbstractItemView::PositionAtCenter);
            return;
        }
}

ImportPlan ImportView::plan() const {
    ImportPlan plan{.tables = {},
                    .called = called_->text().trimmed().toStdString(),
                    .pattern = pattern_->text().trimmed().toStdString()};
    for (int i = 0; i < tables_->count(); ++i)
        if (tables_->item(i)->checkState() == Qt::Checked) plan.tables.push_back(static_cast<std::size_t>(i));
    return plan;
}

// What the pattern finds in the names of the files that wait.
void ImportView::showFound() {
    const ImportPlan p = plan();
    QStringList lines;
    for (std::size_t i = 0; i < std::min<std::size_t>(waiting_.size(), 3); ++i) {
        const std::string name = nameOf(waiting_[i]);
        const auto found = matchPattern(p.pattern, name);
        if (!found) {
            lines = {text(found.error().text)};
            break;
        }
        if (p.pattern.empty() && p.called.empty()) break;
        QStringList facts;
        if (*found)
            for (const auto& [key, value] : **found) facts << text(key) + " = " + text(value);
        const QString called =
            p.called.empty() ? QString() : text(filledTemplate(p.called, found->value_or(NamedTexts{})));
        if (!p.pattern.empty() && !*found) facts << tr("“%1” is of another form").arg(text(name));
        lines << (called.isEmpty() ? QString() : "“" + called + "”  ") + facts.join(",  ");
    }
    if (waiting_.size() > 3 && !lines.isEmpty()) lines << tr("… and %1 more").arg(waiting_.size() - 3);
    found_->setText(lines.join("\n"));
    found_->setVisible(!lines.isEmpty());
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
    showFound();
    if (!reading) {
        error_->setText(text(reading.error().text));
        reading_.reset();
        model_->show({});
        plot_->show({});
        tables_->clear();
        warnings_->clear();
        form_->show(io::findReader("delimited")->info, told_);
        raw_->show(lines, {});
        return;
    }
    reading_ = std::move(*reading);
    const io::ReadResult& r = *reading_;
    import_->setEnabled(true);
    const std::string reader = r.tables.front().table.origin.reader;
    const KindInfo& info = io::findReader(reader)->info;
    const bool isText = reader == "delimited";
    QStringList shown;
    for (const std::string& line : r.preview) shown << text(line);
    if (r.preview.empty() && !r.encoding.empty()) shown = lines;
    raw_->setPointable(isText || !r.preview.empty());
    raw_->setVisible(!shown.isEmpty());
    raw_->show(shown, r.lineKinds);
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
    showTables();
    showWarnings();
    Q_EMIT document_.readout(
        tr("%1   recognised as %2")
            .arg(r.tables.size() > 1
                     ? tr("%1 tables").arg(r.tables.size())
                     : text(counted(static_cast<long long>(r.tables[0].table.rowCount()), "row") + ", " +
                            counted(static_cast<long long>(r.tables[0].table.columns.size()), "column")),
                 isText ? text(info.name).toLower() : text(info.name)),
        {});
}

// The tables of the file to choose from; hidden where there is one.
void ImportView::showTables() {
    const QSignalBlocker quiet(tables_);
    const int at = std::max(0, tables_->currentRow());
    std::map<QString, Qt::CheckState> ticked;
    for (int i = 0; i < tables_->count(); ++i)
        ticked[tables_->item(i)->data(Qt::UserRole).toString()] = tables_->item(i)->checkState();
    tables_->clear();
    for (const io::ReadTable& t : reading_->tables) {
        auto* item = new QListWidgetItem(
            tr("%1   %2 × %3").arg(text(t.table.name)).arg(t.table.rowCount()).arg(t.table.columns.size()));
        item->setData(Qt::UserRole, text(t.table.name));
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        const auto before = ticked.find(text(t.table.name));
        item->setCheckState(before == ticked.end() ? Qt::Checked : before->second);
        tables_->addItem(item);
    }
    tables_->setVisible(tables_->count() > 1);
    tables_->setFixedHeight(std::min(6, tables_->count()) * 20 + 8);
    const int row = std::min(at, tables_->count() - 1);
    tables_->setCurrentRow(row);
    showTable(static_cast<std::size_t>(row));
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
            all.push_back(importEdit(*reading, told_, nameOf(w), plan()));
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

} // namespace jointer::app
