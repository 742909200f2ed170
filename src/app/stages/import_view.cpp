// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/import_view.h"

#include "app/forms/settings_form.h"
#include "app/models/table_model.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/files.h"
#include "base/text.h"
#include "figure/kinds.h"
#include "session/import.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

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

} // namespace

ImportView::ImportView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), title_(title({})), error_(errorLabel()),
      warnings_(warningLabel()), import_(new QPushButton(tr("Import"))),
      leave_(new QPushButton(tr("Leave out"))), raw_(new QListWidget), grid_(new QTableView),
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
    side->addWidget(caption(tr("How it was read")));
    form_ = new SettingsForm;
    side->addWidget(form_);
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
    say(warnings_, warnings.join("\n\n"));

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

} // namespace jointer::app
