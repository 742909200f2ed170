// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/mark_picker.h"

#include "analyses/analysis.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/actions.h"
#include "figure/first_figure.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/marks/mark.h"
#include "paint/painter.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

constexpr int kAcross = 5;
constexpr QSize kSize{86, 54};

// A panel of nothing but the marks.
QImage pictureOf(const Project& project, evaluate::Evaluator& evaluator, const std::vector<Element>& marks,
                 qreal ratio) {
    constexpr double perMm = 96 / 25.4;
    Figure f = figure::newFigure("small", {}, marks);
    f.settings.set("width", Value(kSize.width() / perMm));
    f.settings.set("height", Value(kSize.height() / perMm));
    f.settings.set("margin", Value(1.0));
    f.settings.set("text-size", Value(5.0));
    f.settings.set("colour", Value(theme().muted.name().toStdString()));
    Element& panel = f.elements[0];
    panel.settings.set("frame-width", Value(0.0));
    if (const auto own = figure::coordinatesFor(project, marks.front()); !own.empty()) {
        figure::giveCoordinates(panel, own);
        panel.settings.set("frame-width", Value(0.3));
        panel.settings.set("edge-numbers", Value(false));
        panel.settings.set("edge-names", "-|-|-|-|-|-|-|-");
    }
    for (Element& e : panel.children) {
        if (e.kind == "legend") e.settings.set("where", "none");
        if (e.kind != "axis") continue;
        e.settings.set("show", Value(false));
        e.settings.set("ticks", "none");
    }
    for (Element& e : panel.children) {
        const KindInfo* kind = figure::isMark(e.kind) ? figure::elementKinds().find(e.kind) : nullptr;
        if (!kind) continue;
        if (!e.settings.has("size") && kind->find("size")) e.settings.set("size", Value(2.2));
        if (e.source.empty()) e.settings.set("colour", Value(theme().ink.name().toStdString()));
    }
    const auto layout = figure::layOut(
        project, f, evaluator, {.pixelsPerMm = perMm * ratio, .effort = evaluate::Effort::Provisional});
    QImage image(kSize * ratio, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(ratio);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.scale(perMm, perMm);
    paint::paintList(painter, layout.list, paint::Medium::Raster);
    return image;
}

QPixmap nothing(QImage picture) {
    QPainter p(&picture);
    p.setPen(theme().muted);
    p.drawText(QRectF({}, picture.deviceIndependentSize()), Qt::AlignCenter | Qt::TextWordWrap, MarkPicker::tr("nothing to show"));
    p.end();
    return QPixmap::fromImage(picture);
}

// What draws nothing cannot be chosen, and says so.
void showPicture(QToolButton& button, const QImage& picture) {
    button.setIcon(QIcon(QPixmap::fromImage(picture)));
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
            if (qAlpha(picture.pixel(x, y)) > 0) return;
    button.setEnabled(false);
    button.setIcon(QIcon(nothing(picture)));
    button.setToolTip(MarkPicker::tr("Nothing to show: %1").arg(button.toolTip()));
}

} // namespace

MarkPicker::MarkPicker(Document& document, QWidget* parent)
    : QFrame(parent, Qt::Popup), document_(document), job_(this) {
    setObjectName("picker");
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    const Project& p = document_.project();
    const auto selection = document_.selection();
    const auto current = document_.currentDataset();
    auto* heading = new QLabel;
    if (!current)
        heading->setText(tr("Select a dataset at the left to see how it would look."));
    else if (selection.size() > 1)
        heading->setText(tr("<b>%1 datasets</b> as one group; each looks like <b>%2</b>")
                             .arg(selection.size())
                             .arg(text(current->name).toHtmlEscaped()));
    else
        heading->setText(
            tr("<b>%1</b> as it would look; click one").arg(text(current->name).toHtmlEscaped()));
    layout->addWidget(heading);
    if (current) {
        Section all = section({});
        const std::vector<std::string> likely =
            figure::likelyMarks(p, current->id, document_.session().evaluator());
        for (const std::string& kind : likely) offerKind(all, kind, current->id.text());
        for (const figure::MarkKind& kind : figure::markCatalogue())
            if (kind.takes != figure::Takes::Analysis && kind.takes != figure::Takes::Nothing &&
                figure::suits(kind, *current) && std::ranges::find(likely, kind.info.key) == likely.end())
                offerKind(all, kind.info.key, current->id.text());
        if (const auto companions = figure::companionMarks(p, current->id); !companions.empty()) {
            Section came = section(tr("Came with the data"));
            if (companions.size() > 1) offer(came, "All of them", "All curves that came with it", companions);
            for (const Element& e : companions)
                offer(came, e.settings.text("companion"), "A curve that came with it", {e});
        }
        for (const auto& a : analysesOf(p, current->id)) {
            Section fit = section(text(analyses::nameOf(*a)));
            for (const figure::MarkKind& kind : figure::markCatalogue())
                if (kind.takes == figure::Takes::Analysis) offerKind(fit, kind.info.key, a->id.text());
        }
    }
    Section plain = section(tr("Without data"));
    for (const figure::MarkKind& kind : figure::markCatalogue())
        if (kind.takes == figure::Takes::Nothing) offerKind(plain, kind.info.key, {});
    drawPictures();
}

MarkPicker::Section MarkPicker::section(const QString& title) {
    auto* column = static_cast<QVBoxLayout*>(layout());
    if (!title.isEmpty()) column->addWidget(muted(title));
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    grid->setColumnStretch(kAcross, 1);
    column->addLayout(grid);
    return {grid};
}

void MarkPicker::offerKind(Section& section, const std::string& kind, const std::string& source) {
    const KindInfo* info = figure::elementKinds().find(kind);
    if (!info) return;
    const auto id = DatasetId::fromText(source);
    Element mark = id ? figure::markFor(document_.project(), id, kind, document_.session().evaluator())
                      : figure::newMark(kind, source);
    if (AnalysisId::fromText(source) && document_.currentDataset())
        mark.settings.set("member", Value(Reference{document_.currentDataset()->id.text()}));
    offer(section, info->name, info->purpose, {std::move(mark)});
}

void MarkPicker::offer(Section& section, const std::string& name, const std::string& purpose,
                       std::vector<Element> marks) {
    auto* made = new QToolButton;
    made->setObjectName("markChoice");
    made->setText(text(name));
    made->setToolTip(text(purpose));
    made->setAccessibleName(text(name));
    made->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    made->setIconSize(kSize);
    made->setFixedSize(kSize.width() + 28, kSize.height() + 30);
    connect(made, &QToolButton::clicked, this, [this, marks] {
        Q_EMIT chosen(marks);
        close();
    });
    section.grid->addWidget(made, section.place / kAcross, section.place % kAcross, Qt::AlignLeft);
    ++section.place;
    offers_.push_back({std::move(marks), made});
}

void MarkPicker::drawPictures() {
    std::vector<std::vector<Element>> wanted;
    for (const Offer& o : offers_) wanted.push_back(o.marks);
    job_.request([this, wanted, ratio = devicePixelRatioF(), project = document_.project(),
                  evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        QList<QImage> pictures;
        for (const std::vector<Element>& marks : wanted) {
            if (stop.stop_requested()) break;
            pictures << pictureOf(project, *evaluator, marks, ratio);
        }
        return [this, pictures] {
            for (int i = 0; i < pictures.size() && i < static_cast<int>(offers_.size()); ++i)
                showPicture(*offers_[static_cast<std::size_t>(i)].button, pictures[i]);
        };
    });
}

} // namespace jointer::app
