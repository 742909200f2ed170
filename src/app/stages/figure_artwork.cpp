// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings, pictures and other figures placed on the page.
#include "app/file_dialogs.h"
#include "app/stages/figure_stage.h"
#include "app/widgets.h"
#include "base/files.h"
#include "figure/artwork.h"
#include "figure/first_figure.h"
#include "session/artwork.h"

#include <QBuffer>
#include <QClipboard>
#include <QFileInfo>
#include <QGuiApplication>
#include <QImage>
#include <QMenu>
#include <QMimeData>
#include <cmath>

namespace jointer::app {

namespace {

QString artworkFilter() {
    QStringList patterns;
    for (const QString& ending : QString(kArtworkEndings).split(' ')) patterns << "*." + ending;
    return QObject::tr("Drawings and pictures (%1)").arg(patterns.join(' '));
}

// What keeps lines comes first; a word processor or a browser offers several forms of one thing.
constexpr std::pair<const char*, const char*> kForms[] = {
    {"image/svg+xml", "Pasted drawing.svg"},        {"application/pdf", "Pasted drawing.pdf"},
    {"image/x-inkscape-svg", "Pasted drawing.svg"}, {"image/png", "Pasted picture.png"},
    {"image/jpeg", "Pasted picture.jpg"},           {"image/tiff", "Pasted picture.tif"}};

} // namespace

void FigureStage::offerArtwork() {
    QMenu* menu = newMenu(this);
    menu->setToolTipsVisible(true);
    menu->addAction(tr("From a file…"), this, [this] { askForArtwork(); })
        ->setToolTip(tr("SVG, PDF, PNG, JPEG or TIFF; lines stay lines"));
    const QMimeData* data = QGuiApplication::clipboard()->mimeData();
    QAction* paste = menu->addAction(tr("From the clipboard"), QKeySequence("Ctrl+V"), this, [this] {
        if (const QMimeData* now = QGuiApplication::clipboard()->mimeData()) pasteArtwork(*now);
    });
    paste->setToolTip(tr("What a drawing program has copied, as lines where it offers them"));
    paste->setEnabled(data && holdsArtwork(*data));
    menu->addSeparator();
    for (const auto& f : document_.project().figures)
        if (f->id != document_.figure())
            menu->addAction(tr("Figure “%1”").arg(QString(text(f->name)).replace('&', "&&")), this,
                            [this, id = f->id] { placeFigure(id); })
                ->setToolTip(tr("The whole figure; it follows what is changed there"));
    menu->popup(below(artwork_));
}

void FigureStage::askForArtwork() {
    placeFiles(ask::files(this, document_, tr("Place artwork"), artworkFilter()));
}

void FigureStage::placeFigure(FigureId other) {
    if (!haveFigure()) return;
    if (document_.apply(figure::placeFigure(document_.figure(), other))) selectNewest();
}

void FigureStage::selectNewest() {
    if (const auto f = shownFigure(); f && !f->elements.empty())
        document_.selectElement(f->elements.back().id);
}

// Artwork alone makes a figure too.
bool FigureStage::haveFigure() {
    if (shownFigure()) return true;
    begin(figure::addEmptyFigure(document_.project()));
    return shownFigure() != nullptr;
}

bool FigureStage::holdsArtwork(const QMimeData& data) {
    const bool inForm = std::ranges::any_of(kForms, [&](const auto& f) { return data.hasFormat(f.first); });
    return inForm || data.hasImage() || !artworkIn(data).isEmpty();
}

bool FigureStage::pasteArtwork(const QMimeData& data) {
    if (const QStringList files = artworkIn(data); !files.isEmpty()) {
        placeFiles(files);
        return true;
    }
    for (const auto& [type, name] : kForms)
        if (const QByteArray bytes = data.data(type); !bytes.isEmpty()) {
            placeTaken(name, [bytes = bytes.toStdString(), name](const Cancellation& stop) {
                return takenArtwork(bytes, name, stop);
            });
            return true;
        }
    if (!data.hasImage()) return false;
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    qvariant_cast<QImage>(data.imageData()).save(&buffer, "PNG");
    placeTaken("Pasted picture.png", [bytes = png.toStdString()](const Cancellation& stop) {
        return takenArtwork(bytes, "Pasted picture.png", stop);
    });
    return true;
}

void FigureStage::placeFiles(const QStringList& paths) {
    for (const QString& path : paths)
        placeTaken(QFileInfo(path).fileName(), [path = path.toStdString()](const Cancellation& stop) {
            return artworkFromFile(path, stop);
        });
}

// Other programs convert it meanwhile; it comes onto the figure that was shown.
void FigureStage::placeTaken(const QString& name, std::function<Result<Asset>(const Cancellation&)> take) {
    if (!haveFigure()) return;
    document_.say(tr("Reading %1 …").arg(name));
    ++placingCount_;
    placing_.add([this, take = std::move(take),
                  onto = document_.figure()](const Cancellation& stop) -> std::function<void()> {
        auto taken = std::make_shared<Result<Asset>>(take(stop));
        const std::string words = *taken ? describedArtwork(**taken) : std::string(); // reads all of it
        return [this, taken, onto, words] {
            --placingCount_;
            if (!taken->has_value()) return document_.say(text(taken->error().text), true);
            if (!document_.apply(figure::placeArtwork(onto, **taken))) return;
            if (document_.figure() == onto) {
                selectNewest();
                page_->setFocus(); // its grips can be dragged
            }
            if ((*taken)->note.empty())
                document_.say(tr("Placed %1: %2.").arg(text((*taken)->name), text(words)));
            else
                document_.say(tr("Placed %1. %2").arg(text((*taken)->name), text((*taken)->note)));
        };
    });
}

QString FigureStage::factsOfArtwork() const {
    const auto f = shownFigure();
    const Element* e = f ? f->find(document_.element()) : nullptr;
    if (!e || e->kind != "artwork") return {};
    const Project& p = document_.project();
    const figure::PanelGeometry* g = page_->layoutShown().panel(e->id);
    if (!g) return {}; // until it is drawn it may not have been read, which takes long
    const QString scale = tr("%1 % of its own size").arg(std::lround(100 * g->scale));
    if (const auto other = p.figures.find(FigureId::fromText(e->source)))
        return tr("The figure “%1”, as it is drawn there; %2.").arg(text(other->name), scale);
    const auto asset = p.assets.find(AssetId::fromText(e->source));
    if (!asset) return {};
    QString words = text(describedArtwork(*asset)) + "; " + scale;
    if (const auto dpi = figure::resolutionOf(p, page_->layoutShown(), *e))
        words += tr(", %1 dpi on the page").arg(std::lround(*dpi));
    return words + "." + (asset->note.empty() ? QString() : " " + text(asset->note));
}

void FigureStage::saveOriginal() {
    const auto f = shownFigure();
    const Element* e = f ? f->find(document_.element()) : nullptr;
    const auto asset = e ? document_.project().assets.find(AssetId::fromText(e->source)) : nullptr;
    if (!asset) return document_.say(tr("Select the artwork first whose file is wanted back."));
    const QString path = ask::newFile(this, document_, tr("Save the original"), text(asset->name),
                                      tr("Its own kind (*.%1)").arg(QFileInfo(text(asset->name)).suffix()));
    if (path.isEmpty()) return;
    const auto written = replaceFile(path.toStdString(), *asset->bytes);
    document_.say(written ? tr("Wrote %1.").arg(path) : text(written.error().sentence()), !written);
}

} // namespace jointer::app
