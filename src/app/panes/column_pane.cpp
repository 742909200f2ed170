// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/column_pane.h"

#include "app/forms/formula_field.h"
#include "app/panes/histogram_strip.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "formula/expression.h"
#include "session/column_kind.h"
#include "stats/histogram.h"
#include "stats/summary.h"

#include <QApplication>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <QTextDocument>
#include <array>
#include <cmath>
#include <set>

namespace jointer::app {

namespace {

constexpr double kPaneWidth = 240; // of the words beside the table
constexpr int kWordWidth = 160;    // of a word, with its count behind

QComboBox* combo(const char* name, const QString& tip) {
    auto* made = new QComboBox;
    made->setObjectName(name);
    made->setToolTip(tip);
    made->setAccessibleName(tip);
    return made;
}

QString kindName(ColumnKind kind) {
    switch (kind) {
    case ColumnKind::WholeNumber:
        return ColumnPane::tr("whole number");
    case ColumnKind::DateTime:
        return ColumnPane::tr("date and time");
    case ColumnKind::TimeOfDay:
        return ColumnPane::tr("time of day");
    case ColumnKind::Boolean:
        return ColumnPane::tr("yes/no");
    default:
        return text(kindKey(kind));
    }
}

// A number of the column's own kind: times as times.
QString spelled(const Column& like, double value) {
    if (!like.isTime()) return text(readableNumber(value, 5));
    Column one = like;
    one.formula.clear();
    one.cells = std::make_shared<Cells>(
        Cells{.numbers = {std::round(value * 1000) / 1000}, .texts = {}, .states = {}, .originals = {}});
    return text(cellText(one, 0));
}

// Rows of two names with their values; a row with one pair takes the whole width.
using Cells2 = std::vector<std::array<QString, 4>>;

QString asTable(const Cells2& rows) {
    QString html = "<table cellspacing='0' width='100%'>";
    auto name = [](const QString& words) {
        return QString("<td style='color:%1; padding-right:8px; white-space:nowrap'>%2</td>")
            .arg(theme().muted.name(), words);
    };
    for (const auto& [a, x, b, y] : rows)
        html += b.isEmpty() ? QString("<tr>%1<td colspan='3'>%2</td></tr>").arg(name(a), x.toHtmlEscaped())
                            : QString("<tr>%1<td style='padding-right:10px; white-space:nowrap'>%2</td>%3<td "
                                      "style='white-space:nowrap'>%4</td></tr>")
                                  .arg(name(a), x.toHtmlEscaped(), name(b), y.toHtmlEscaped());
    return html + "</table>";
}

// Two to a line where no number is cut by that, also with a scroll bar beside.
bool fitsThePane(const Cells2& rows) {
    QTextDocument trial;
    trial.setDefaultFont(QApplication::font());
    trial.setHtml(asTable(rows).replace("width='100%'", ""));
    return trial.idealWidth() <= kPaneWidth;
}

Cells2 oneToALine(const Cells2& rows) {
    Cells2 single;
    for (const auto& [a, x, b, y] : rows) {
        const bool pair = b == ColumnPane::tr("and");
        single.push_back({a, pair ? x + " … " + y : x, {}, {}});
        if (!b.isEmpty() && !pair) single.push_back({b, y, {}, {}});
    }
    return single;
}

QString summaryText(const Column& like, const stats::Summary& s) {
    auto n = [&](double v) { return std::isnan(v) ? QStringLiteral("–") : spelled(like, v); };
    // Of times only places are times; widths are seconds.
    auto width = [&](double v) {
        return std::isnan(v) ? QStringLiteral("–") : text(readableNumber(v, 5)) + (like.isTime() ? " s" : "");
    };
    const double half = stats::meanHalfWidth(s);
    auto plain = [](double v) { return std::isnan(v) ? QStringLiteral("–") : text(readableNumber(v, 5)); };
    // Shapes of distributions: nothing below a millionth says anything.
    auto shape = [&](double v) { return plain(std::abs(v) < 1e-6 ? 0 : v); };
    const QString interval =
        std::isnan(half) ? QStringLiteral("–") : n(s.mean - half) + " … " + n(s.mean + half);
    using P = ColumnPane;
    Cells2 rows = {{P::tr("n"), QString::number(s.n), P::tr("missing"), QString::number(s.missing)},
                   {P::tr("mean"), n(s.mean), P::tr("median"), n(s.median)},
                   {P::tr("95 % CI"), interval, {}, {}},
                   {P::tr("SD"), width(s.sd), P::tr("SEM"), width(s.sem)},
                   {P::tr("quartiles"), n(s.q1), P::tr("and"), n(s.q3)},
                   {P::tr("from"), n(s.min), P::tr("to"), n(s.max)},
                   {P::tr("sum"), plain(s.sum), P::tr("squares"), plain(s.sumOfSquares)},
                   {P::tr("skewness"), shape(s.skewness), P::tr("kurtosis"), shape(s.kurtosis)}};
    if (like.isTime()) rows.erase(rows.end() - 2); // sums of moments mean nothing
    return asTable(like.isTime() || !fitsThePane(rows) ? oneToALine(rows) : rows);
}

// Of words: how many there are, and the most frequent ones.
QString wordsText(const Column& c) {
    std::map<std::string, std::size_t> counts;
    std::size_t missing = 0;
    for (const std::string& t : c.cells->texts) t.empty() ? ++missing : ++counts[t];
    std::vector<std::pair<std::size_t, std::string>> most;
    for (const auto& [word, count] : counts) most.emplace_back(count, word);
    std::ranges::stable_sort(most, std::greater{}, [](const auto& m) { return m.first; });
    Cells2 rows = {{ColumnPane::tr("n"), QString::number(c.cells->size() - missing),
                    ColumnPane::tr("missing"), QString::number(missing)},
                   {ColumnPane::tr("different"), QString::number(counts.size()), {}, {}}};
    const QFontMetrics metrics(QApplication::font());
    for (std::size_t i = 0; i < std::min<std::size_t>(most.size(), 6); ++i)
        rows.push_back({metrics.elidedText(text(most[i].second), Qt::ElideRight, kWordWidth).toHtmlEscaped(),
                        QString::number(most[i].first),
                        {},
                        {}});
    return asTable(rows);
}

} // namespace

ColumnPane::ColumnPane(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), summaryJob_(this), trialJob_(this), form_(new QFormLayout(this)),
      name_(new QLineEdit), unit_(new QLineEdit), kind_(combo("columnKind", tr("What the cells are"))),
      role_(combo("columnRole", tr("Usual role of the column in datasets"))),
      style_(combo("columnStyle", tr("How numbers are shown; all digits are kept"))),
      pattern_(combo("columnPattern", tr("How times are shown and typed: YYYY MM MMM DD hh mm ss f AM"))),
      digits_(new QSpinBox), formula_(new FormulaField), note_(muted({})), summary_(muted({})),
      histogram_(new HistogramStrip) {
    form_->setContentsMargins(0, 2, 0, 2);
    form_->setVerticalSpacing(7);
    buildFields();
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const std::string name = name_->text().trimmed().toStdString();
        if (column() && !name.empty() && name != column()->name)
            change(tr("Rename column"), [name](Column& c) { c.name = name; });
    });
    connect(unit_, &QLineEdit::editingFinished, this, [this] {
        const std::string unit = unit_->text().trimmed().toStdString();
        if (column() && unit != column()->unit)
            change(tr("Change unit"), [unit](Column& c) { c.unit = unit; });
    });
    connect(kind_, &QComboBox::activated, this, [this] {
        if (!column()) return;
        const auto to = static_cast<ColumnKind>(kind_->currentData().toInt());
        if (to == column()->kind || !document_.apply(changeKind(table_.id, column_, to))) return;
        const auto t = document_.project().tables.find(table_.id);
        if (const auto issue = unreadableCells(*t->find(column_)))
            document_.say(text(issue->sentence()), true);
    });
    connect(role_, &QComboBox::activated, this, [this] {
        change(tr("Change role"),
               [r = static_cast<Role>(role_->currentData().toInt())](Column& c) { c.role = r; });
    });
    connect(style_, &QComboBox::activated, this, &ColumnPane::changeFormat);
    connect(digits_, &QSpinBox::valueChanged, this, &ColumnPane::changeFormat);
    connect(pattern_, &QComboBox::activated, this, &ColumnPane::changeFormat);
    connect(pattern_->lineEdit(), &QLineEdit::editingFinished, this, &ColumnPane::changeFormat);
    connect(formula_, &QLineEdit::textEdited, this, &ColumnPane::tryFormula);
    connect(formula_, &QLineEdit::editingFinished, this, &ColumnPane::takeFormula);
}

void ColumnPane::buildFields() {
    name_->setObjectName("columnName");
    unit_->setObjectName("columnUnit");
    digits_->setObjectName("columnDigits");
    digits_->setAccessibleName(tr("Digits"));
    digits_->setRange(0, 15);
    digits_->setToolTip(tr("Decimals, or significant digits"));
    digits_->setKeyboardTracking(false);
    formula_->setObjectName("columnFormula");
    formula_->setPlaceholderText(tr("such as ln(counts)"));
    for (int k = 0; k <= static_cast<int>(ColumnKind::Boolean); ++k)
        kind_->addItem(kindName(static_cast<ColumnKind>(k)), k);
    for (int r = 0; r <= static_cast<int>(Role::Component); ++r)
        role_->addItem(r == 0 ? tr("none") : text(roleLabel(static_cast<Role>(r))), r);
    for (const QString& style :
         {tr("automatic"), tr("fixed"), tr("scientific"), tr("engineering"), tr("significant")})
        style_->addItem(style, style_->count());
    pattern_->setEditable(true);
    pattern_->setInsertPolicy(QComboBox::NoInsert);
    pattern_->lineEdit()->setPlaceholderText(tr("ISO 8601"));
    for (const char* p : {"", "YYYY-MM-DD hh:mm", "DD.MM.YYYY", "D MMM YYYY", "D MMM YYYY, hh:mm",
                          "MM/DD/YYYY", "hh:mm", "hh:mm:ss.fff", "h:mm AM"})
        pattern_->addItem(p);
    pattern_->setItemData(0, tr("ISO 8601"), Qt::DisplayRole);
    auto* format = new QWidget;
    auto* row = new QHBoxLayout(format);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(style_, 1);
    row->addWidget(digits_);
    row->addWidget(pattern_, 1);
    note_->setWordWrap(true);
    note_->setObjectName("muted");
    summary_->setTextFormat(Qt::RichText);
    summary_->setWordWrap(true);
    summary_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    summary_->setObjectName("columnSummary");
    for (const auto& [label, field] :
         std::initializer_list<std::pair<QString, QWidget*>>{{tr("Name"), name_},
                                                             {tr("Unit"), unit_},
                                                             {tr("Kind"), kind_},
                                                             {tr("Shown"), format},
                                                             {tr("Role"), role_},
                                                             {tr("Formula"), formula_}})
        addLabelled(*form_, label, field);
    form_->addRow(note_);
    form_->addRow(histogram_);
    form_->addRow(summary_);
}

const Column* ColumnPane::column() const {
    return table_.find(column_);
}

void ColumnPane::beginName() {
    name_->setFocus();
    name_->selectAll();
}

void ColumnPane::beginFormula() {
    formula_->setFocus();
    formula_->selectAll();
}

void ColumnPane::change(const QString& name, const std::function<void(Column&)>& how) {
    if (column()) document_.apply(edits::changeColumn(table_.id, column_, name.toStdString(), how));
}

void ColumnPane::changeFormat() {
    if (!column()) return;
    Column wanted = *column();
    wanted.format = {static_cast<NumberFormat::Style>(std::max(0, style_->currentIndex())), digits_->value()};
    const QString pattern = pattern_->currentText().trimmed();
    wanted.timePattern =
        pattern == tr("ISO 8601") || !wanted.isTime() ? std::string() : pattern.toStdString();
    if (wanted == *column()) return;
    change(tr("Change how numbers are shown"), [wanted](Column& c) {
        c.format = wanted.format;
        c.timePattern = wanted.timePattern;
    });
}

void ColumnPane::show(const Table& table, int at, const std::vector<Issue>& issues) {
    const ColumnId id = at >= 0 ? table.columns[static_cast<std::size_t>(at)].id : ColumnId{};
    const bool known = id == column_ && table == table_; // words and summary stand there already
    table_ = table;
    column_ = id;
    const Column* c = column();
    setVisible(c != nullptr);
    if (!c) return;
    if (!name_->hasFocus()) name_->setText(text(c->name));
    if (!unit_->hasFocus()) unit_->setText(text(c->unit));
    kind_->setCurrentIndex(static_cast<int>(c->kind));
    role_->setCurrentIndex(static_cast<int>(c->role));
    showFormat(*c);
    const bool computed = !c->formula.empty();
    const bool typed = !computed && c->cells->size() > 0;
    formula_->setEnabled(!typed);
    const QString how =
        tr("Plain mathematics over the names of other columns and row; names with blanks stand in "
           "'single quotes'. cumulative, difference, mean and others take whole columns.");
    formula_->setToolTip(
        typed      ? tr("This column holds values of its own; add a computed column for a formula.")
        : computed ? text(evaluate::formulaShown(c->formula, table_, &document_.project())) + "\n" + how
                   : how);
    if (!formula_->hasFocus()) {
        formula_->setText(text(evaluate::formulaShown(c->formula, table_, &document_.project())));
        formula_->setCursorPosition(0); // its beginning shows
        showNote(*c, issues);
    }
    if (known) return;
    showWords();
    summarise(*c);
}

void ColumnPane::showFormat(const Column& c) {
    const QSignalBlocker quiet(digits_);
    style_->setCurrentIndex(static_cast<int>(c.format.style));
    digits_->setValue(c.format.digits);
    const bool number = c.kind == ColumnKind::Number || c.kind == ColumnKind::WholeNumber;
    style_->setVisible(number);
    digits_->setVisible(number);
    pattern_->setVisible(c.isTime());
    style_->parentWidget()->setVisible(number || c.isTime());
    form_->labelForField(style_->parentWidget())->setVisible(number || c.isTime());
    if (!pattern_->lineEdit()->hasFocus())
        pattern_->setEditText(c.timePattern.empty() ? tr("ISO 8601") : text(c.timePattern));
}

// What formulas of this table can be written with.
void ColumnPane::showWords() {
    std::vector<FormulaField::Word> words;
    for (const Column& c : table_.columns) {
        if (c.id == column_ || !c.isNumeric()) continue;
        const QString name = text(evaluate::formulaShown("'" + c.id.text() + "'", table_));
        words.push_back({name, c.unit.empty() ? tr("column") : tr("column, %1").arg(text(c.unit)), false});
    }
    words.push_back({"row", tr("number of the row, from 1"), false});
    for (auto& w : functionWords()) words.push_back(std::move(w));
    formula_->setWords(words);
}

// What is wrong is marked in the formula as it is shown: the stored one holds ids in place of names.
void ColumnPane::showNote(const Column& c, const std::vector<Issue>& issues) {
    const auto issue = std::ranges::find_if(issues, [&](const Issue& f) { return f.place.column == c.name; });
    const bool bad = issue != issues.end();
    note_->setObjectName(bad ? "bad" : "muted");
    refreshLook(note_);
    if (!bad) {
        formula_->mark(0);
        const bool computed = !c.formula.empty() && c.cells->size() > 0;
        return say(note_, computed ? tr("first value: %1").arg(text(cellText(c, 0))) : QString());
    }
    const auto read =
        formula::Expression::parse(formula_->text().toStdString(), formula::Vocabulary::Columns);
    say(note_, text(read ? issue->text : read.error().text));
    if (!read) return formula_->mark(read.error().place.sign);
    for (const std::string& name : read->names())
        if (name != "row" && !table_.findByName(name))
            return formula_->mark(formula_->text().indexOf(text(name)) + 1);
    formula_->mark(1);
}

// While it is typed, the formula is computed on a copy of the project.
void ColumnPane::tryFormula() {
    if (!column() || formula_->text().trimmed().isEmpty()) return;
    const std::string stored =
        evaluate::formulaStored(formula_->text().toStdString(), table_, &document_.project());
    const auto trial = edits::setFormula(table_.id, column_, stored).apply(document_.project());
    if (!trial) return;
    trialJob_.request([this, project = *trial, evaluator = document_.session().sharedEvaluator(),
                       table = table_.id, id = column_,
                       typed = formula_->text()](const Cancellation&) -> std::function<void()> {
        auto filled = std::make_shared<Outcome<Table>>(evaluator->table(project, table));
        return [this, filled, id, typed] {
            const Column* c = filled->value.find(id);
            if (!c || id != column_ || typed != formula_->text()) return;
            showNote(*c, filled->issues);
        };
    });
}

void ColumnPane::takeFormula() {
    if (!column()) return;
    const Column& c = *column();
    const std::string stored =
        evaluate::formulaStored(formula_->text().toStdString(), table_, &document_.project());
    if (stored != c.formula && !(c.formula.empty() && c.cells->size() > 0))
        document_.apply(edits::setFormula(table_.id, c.id, stored));
}

void ColumnPane::summarise(const Column& column) {
    histogram_->setVisible(column.isNumeric());
    summaryJob_.request([this, c = column](const Cancellation&) -> std::function<void()> {
        const QString words = c.isNumeric() ? summaryText(c, stats::summarise(c.numbers())) : wordsText(c);
        auto histogram = stats::histogramOf(c.numbers());
        return [this, c, words, histogram] {
            if (column_ != c.id) return;
            summary_->setText(words);
            histogram_->show(histogram, [c](double v) { return spelled(c, v); });
        };
    });
}

} // namespace jointer::app
