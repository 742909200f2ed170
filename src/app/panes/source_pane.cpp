// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/source_pane.h"

#include "app/panes/sentence_row.h"
#include "app/widgets.h"
#include "draw/markup.h"

#include <QFrame>
#include <QLabel>
#include <QPointer>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

QString valueText(const evaluate::ResultRow& row) {
    return (text(shownValue(row).text()) + " " + text(draw::unitPlain(row.unit))).trimmed();
}

} // namespace

SourcePane::SourcePane(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), without_(this), name_(new QLabel),
      value_(new QLabel) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(caption(tr("Where it comes from")));
    auto* card = new QFrame;
    card->setObjectName("card");
    auto* cardLayout = new QVBoxLayout(card);
    name_->setObjectName("strong");
    name_->setWordWrap(true);
    value_->setObjectName("muted");
    cardLayout->addWidget(name_);
    cardLayout->addWidget(value_);
    layout->addWidget(card);
    auto* stations = new QWidget;
    stations_ = new QVBoxLayout(stations);
    stations_->setContentsMargins(0, 4, 0, 4);
    stations_->setSpacing(2);
    layout->addWidget(stations);
}

void SourcePane::show(const evaluate::ResultRow* row) {
    if (!row) {
        clearLayout(stations_);
        name_->setText(tr("Nothing selected"));
        return value_->clear();
    }
    row_ = *row;
    const auto d = document_.project().datasets.find(row->dataset);
    name_->setText(tr("%1 of %2").arg(text(evaluate::nameOf(*row)), d ? text(d->name) : QString()));
    value_->setText(valueText(*row));
    job_.request([this, project = document_.project(), evaluator = document_.session().sharedEvaluator(),
                  row = *row](const Cancellation&) -> std::function<void()> {
        return [this, sources = evaluate::provenance(project, *evaluator, row)] { take(sources); };
    });
}

void SourcePane::take(const std::vector<evaluate::Source>& sources) {
    clearLayout(stations_);
    int number = 0;
    for (const evaluate::Source& s : sources) {
        auto* station = new SentenceRow(QString::number(number), number > 0, false);
        ++number;
        station->setSentence(text(s.sentence), text(s.detail));
        station->setNumberTip(s.step ? tr("What the number would be without this step") : QString());
        station->setToolTip(s.step       ? tr("Click to see this step in Clean")
                            : s.analysis ? tr("Click to see this analysis")
                                         : tr("Click to see the table"));
        connect(station, &SentenceRow::clicked, this, [this, s] {
            if (s.step) return Q_EMIT stepWanted(s.dataset, s.step);
            if (s.analysis) return Q_EMIT fitWanted(s.analysis);
            Q_EMIT tableWanted(s.dataset);
        });
        if (s.step)
            connect(station, &SentenceRow::switched, this, [this, station, s] { tellWithout(station, s); });
        stations_->addWidget(station);
    }
}

// Computed beside the project, which stays as it is.
void SourcePane::tellWithout(SentenceRow* at, const evaluate::Source& source) {
    at->setSentence(text(source.sentence), tr("Without it: being computed …"));
    without_.request([this, at = QPointer(at), source, row = row_, project = document_.project(),
                      evaluator = document_.session().sharedEvaluator()](
                         const Cancellation& stop) -> std::function<void()> {
        const auto other = evaluate::withoutStep(project, *evaluator, row, source, stop);
        const QString words = other ? tr("Without it: %1, with it %2.").arg(valueText(*other), valueText(row))
                                    : tr("Without it there is no number: %1").arg(text(other.error().text));
        return [at, source, words] {
            if (at) at->setSentence(text(source.sentence), words);
        };
    });
}

} // namespace jointer::app
