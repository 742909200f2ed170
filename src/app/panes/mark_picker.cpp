// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/mark_picker.h"

#include "analyses/analysis.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/actions.h"
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

// A panel of nothing but the mark.
QImage pictureOf(const Project& project, evaluate::Evaluator& evaluator, const Element& mark, qreal ratio) {
    constexpr double perMm = 96 / 25.4;
    Figure f = figure::newFigure("small", {}, {mark});
    f.settings.set("width", Value(kSize.width() / perMm));
    f.settings.set("height", Value(kSize.height() / perMm));
    f.settings.set("margin", Value(1.0));
    f.settings.set("text-size", Value(5.0));
    f.settings.set("colour", Value(theme().muted.name().toStdString()));
    Element& panel = f.elements[0];
    panel.settings.set("frame-width", Value(0.0));
    for (Element& e : panel.children) {
        if (e.kind == "legend") e.settings.set("where", "none");
        if (e.kind != "axis") continue;
        e.settings.set("show", Value(false));
        e.settings.set("ticks", "none");
    }
    for (Element& e : panel.children)
        if (e.kind == mark.kind && !e.settings.has("size") &&
            figure::elementKinds().find(e.kind)->find("size"))
            e.settings.set("size", Value(2.2));
    const auto layout = figure::layOut(
        project, f, evaluator, {.pixelsPerMm = perMm * ratio, .effort = evaluate::Effort::Provisional});
    QImage image(kSize * ratio, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(ratio);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.scale(perMm, perMm);
    paint::paintList(painter, layout.list, paint::Medium::Raster, perMm * ratio);
    return image;
}

// What draws nothing cannot be chosen, and says so.
void showPicture(QToolButton& button, const QImage& picture) {
    button.setIcon(QIcon(QPixmap::fromImage(picture)));
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
            if (qAlpha(picture.pixel(x, y)) > 0) return;
    button.setEnabled(false);
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
    auto section = [&](const QString& title) {
        if (!title.isEmpty()) layout->addWidget(muted(title));
        auto* grid = new QGridLayout;
        grid->setSpacing(6);
        grid->setColumnStretch(kAcross, 1);
        layout->addLayout(grid);
        return grid;
    };
    if (current) {
        QGridLayout* grid = section({});
        int place = 0;
        std::vector<std::string> likely =
            figure::likelyMarks(p, current->id, document_.session().evaluator());
        for (const std::string& kind : likely) offer(*grid, place, kind, current->id.text());
        for (const figure::MarkKind& kind : figure::markCatalogue())
            if (kind.takes != figure::Takes::Analysis && kind.takes != figure::Takes::Nothing &&
                std::ranges::find(likely, kind.info.key) == likely.end())
                offer(*grid, place, kind.info.key, current->id.text());
    }
    for (const auto& a :
         current ? analysesOf(p, current->id) : std::vector<std::shared_ptr<const Analysis>>()) {
        QGridLayout* grid = section(text(analyses::nameOf(*a)));
        int place = 0;
        for (const figure::MarkKind& kind : figure::markCatalogue())
            if (kind.takes == figure::Takes::Analysis) offer(*grid, place, kind.info.key, a->id.text());
    }
    QGridLayout* grid = section(tr("Without data"));
    int place = 0;
    for (const figure::MarkKind& kind : figure::markCatalogue())
        if (kind.takes == figure::Takes::Nothing) offer(*grid, place, kind.info.key, {});
    drawPictures();
}

void MarkPicker::offer(QGridLayout& grid, int& place, const std::string& kind, const std::string& source) {
    const KindInfo* info = figure::elementKinds().find(kind);
    if (!info) return;
    auto* made = new QToolButton;
    made->setObjectName("markChoice");
    made->setText(text(info->name));
    made->setToolTip(text(info->purpose));
    made->setAccessibleName(text(info->name));
    made->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    made->setIconSize(kSize);
    made->setFixedSize(kSize.width() + 28, kSize.height() + 30);
    connect(made, &QToolButton::clicked, this, [this, kind, source] {
        Q_EMIT chosen(text(kind), text(source));
        close();
    });
    grid.addWidget(made, place / kAcross, place % kAcross, Qt::AlignLeft);
    ++place;
    offers_.push_back({kind, source, made});
}

void MarkPicker::drawPictures() {
    std::vector<std::pair<std::string, std::string>> wanted;
    for (const Offer& o : offers_) wanted.emplace_back(o.kind, o.source);
    job_.request([this, wanted, ratio = devicePixelRatioF(), project = document_.project(),
                  evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        QList<QImage> pictures;
        for (const auto& [kind, source] : wanted) {
            if (stop.stop_requested()) break;
            Element mark = DatasetId::fromText(source)
                               ? figure::markFor(project, DatasetId::fromText(source), kind, *evaluator)
                               : figure::newMark(kind, source);
            pictures << pictureOf(project, *evaluator, mark, ratio);
        }
        return [this, pictures] {
            for (int i = 0; i < pictures.size() && i < static_cast<int>(offers_.size()); ++i)
                showPicture(*offers_[static_cast<std::size_t>(i)].button, pictures[i]);
        };
    });
}

} // namespace jointer::app
