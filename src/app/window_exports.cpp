// SPDX-License-Identifier: GPL-3.0-or-later
// Figures and tables written to files, in the background.
#include "app/file_dialogs.h"
#include "app/printing.h"
#include "app/widgets.h"
#include "app/window.h"
#include "base/files.h"
#include "figure/layout.h"
#include "paint/painter.h"
#include "session/figure_text.h"
#include "session/house_styles.h"
#include "session/report.h"

#include <QClipboard>
#include <QDate>
#include <QFileInfo>
#include <QGuiApplication>
#include <QImage>
#include <QMimeData>
#include <QPrintPreviewDialog>
#include <QPrinter>
#include <cmath>

namespace jointer::app {
namespace {

const Catalogue<KindInfo>& figureFormats() {
    static const paint::QtFigureWriter writer;
    return writer.formats();
}

// All of them, and the figure as text; the one of this key first.
QString figureFilter(const std::string& first) {
    const QString asText = "Figure as text (*.json)";
    QStringList filters;
    for (const KindInfo& format : figureFormats())
        format.key == first ? filters.prepend(endingFilter(format)) : filters.append(endingFilter(format));
    first == "json" ? filters.prepend(asText) : filters.append(asText);
    return filters.join(";;");
}

} // namespace

// Writes a file in the background; the readout says what was written.
void Window::writeInBackground(const QString& path,
                               std::function<Result<QString>(const Cancellation&)> write) {
    document_.say(tr("Writing %1 …").arg(QFileInfo(path).fileName()));
    writing_.add([this, write = std::move(write)](const Cancellation& stop) -> std::function<void()> {
        const auto done = write(stop);
        return [this, said = done ? *done : text(done.error().sentence()), bad = !done] {
            document_.say(said, bad);
        };
    });
}

bool Window::exportTo(const QString& path, const ExportOptions& options) {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return document_.say(tr("There is no figure to export yet."), true), false;
    writeInBackground(
        path,
        [figure, path, options, project = document_.project(),
         evaluator = document_.session().sharedEvaluator()](const Cancellation& stop) -> Result<QString> {
            paint::QtFigureWriter writer;
            ExportOptions asked = options;
            asked.stop = stop;
            const auto done =
                jointer::exportFigure(project, *figure, *evaluator, path.toStdString(), writer, asked);
            if (!done) return std::unexpected(done.error());
            const bool bitmap = isBitmap(formatOf(path.toStdString()));
            return tr("Wrote %1: %2 × %3 mm%4, %5 kB.")
                .arg(path)
                .arg(done->widthMm)
                .arg(done->heightMm)
                .arg(bitmap ? tr(" at %1 dpi").arg(asked.dpi) : QString())
                .arg(std::max<std::size_t>(1, done->bytes / 1000));
        });
    return true;
}

void Window::exportFigure() {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return document_.say(tr("There is no figure to export yet: make one in Figure."), true);
    goTo(Stage::Figure);
    Settings last = lastExport(*figure);
    if (last.entries().empty()) last = exportSettings_;
    const auto weigh = [figure, project = document_.project(),
                        evaluator = document_.session().sharedEvaluator()](
                           const ExportWish& wish, const Cancellation& stop) -> Result<std::size_t> {
        paint::QtFigureWriter writer;
        ExportOptions options = exportOptions(wish.settings);
        options.stop = stop;
        return exportedBytes(project, *figure, *evaluator, wish.format(), writer, options);
    };
    auto* pane = new ExportPane(figureFormats(), last, figure::pageOf(document_.project(), *figure),
                                document_.project().figures.size(), weigh, this);
    connect(
        pane, &ExportPane::wanted, this,
        [this, id = figure->id](const ExportWish& wish) {
            exportSettings_ = wish.settings;
            wish.all ? exportAllFigures(wish) : askForFigureFile(id, wish);
        },
        Qt::QueuedConnection); // a dialog opens, with events of its own
    pane->adjustSize();
    pane->move(mapToGlobal(figure_->exportCorner(this)) - QPoint(pane->width(), 0));
    pane->show();
}

// The file may have another ending than the format that was chosen first: it decides.
void Window::askForFigureFile(FigureId id, const ExportWish& wish) {
    const auto figure = document_.project().figures.find(id);
    if (!figure) return;
    const QString path = ask::newFile(this, document_, tr("Export figure"),
                                      text(figure->name + "." + wish.format()), figureFilter(wish.format()));
    if (path.isEmpty()) return;
    Settings written = wish.settings;
    written.set("format", Value(formatOf(path.toStdString())));
    document_.apply(rememberExport(id, written));
    exportTo(path, exportOptions(wish.settings));
}

void Window::exportAllFigures(const ExportWish& wish) {
    const QString folder = ask::folder(this, document_, tr("Folder for all figures"));
    if (!folder.isEmpty()) exportAllTo(folder, wish);
}

// One after the other; what could not be written does not stop the rest.
void Window::exportAllTo(const QString& folder, const ExportWish& wish) {
    writeInBackground(
        folder,
        [folder, wish, project = document_.project(),
         evaluator = document_.session().sharedEvaluator()](const Cancellation& stop) -> Result<QString> {
            paint::QtFigureWriter writer;
            ExportOptions options = exportOptions(wish.settings);
            options.stop = stop;
            std::size_t bytes = 0;
            int written = 0;
            const std::vector<std::string> names = figureFileNames(project);
            for (std::size_t k = 0; k < project.figures.size(); ++k) {
                const QString path = folder + "/" + text(names[k] + "." + wish.format());
                const auto done = jointer::exportFigure(project, project.figures[k], *evaluator,
                                                        path.toStdString(), writer, options);
                if (!done) return std::unexpected(done.error());
                bytes += done->bytes;
                ++written;
            }
            return tr("Wrote %1 figures to %2, %3 kB.")
                .arg(written)
                .arg(folder)
                .arg(std::max<std::size_t>(1, bytes / 1000));
        });
}

void Window::addFigureFromText() {
    const QString path = ask::file(this, document_, tr("Figure as text"), tr("Figures as text (*.json)"));
    if (!path.isEmpty()) addFigureFromFile(path);
}

void Window::addFigureFromFile(const QString& path) {
    const auto bytes = readFile(path.toStdString());
    if (!bytes) return document_.say(text(bytes.error().sentence()), true);
    auto figure = figureFromText(*bytes, path.toStdString());
    if (!figure) return document_.say(text(figure.error().sentence()), true);
    const auto issues = figure->issues;
    if (!document_.apply(edits::joinFigure(std::move(*figure)))) return;
    const auto& figures = document_.project().figures;
    document_.selectFigure(figures[figures.size() - 1].id);
    goTo(Stage::Figure);
    if (!issues.empty()) document_.say(text(issues.front().sentence()), true);
}

void Window::printFigure() {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return document_.say(tr("There is no figure to print yet: make one in Figure."), true);
    goTo(Stage::Figure);
    const auto list = figure::layOut(document_.project(), *figure, document_.session().evaluator()).list;
    QPrinter printer(QPrinter::HighResolution);
    printer.setDocName(text(figure->name));
    preparePrinter(printer, list);
    QPrintPreviewDialog preview(&printer, this);
    preview.setWindowTitle(tr("Print %1").arg(text(figure->name)));
    preview.resize(900, 700);
    connect(&preview, &QPrintPreviewDialog::paintRequested, this,
            [&list](QPrinter* onto) { printOn(*onto, list); });
    if (preview.exec() != QDialog::Accepted) return;
    const double scale = printedScale(printer, list);
    document_.say(scale < 1
                      ? tr("Printed at %1 % of its size: the paper is smaller.").arg(std::floor(100 * scale))
                      : tr("Printed in its true size."));
}

// All forms at once: who pastes takes the one that it knows best.
void Window::copyFigure() {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return document_.say(tr("There is no figure to copy yet: make one in Figure."), true);
    writing_.add(
        [this, figure, project = document_.project(), evaluator = document_.session().sharedEvaluator()](
            const Cancellation& stop) -> std::function<void()> {
            const auto list = figure::layOut(project, *figure, *evaluator).list;
            paint::QtFigureWriter writer;
            std::map<std::string, QByteArray> forms;
            for (const char* format : {"svg", "pdf", "png"}) {
                const ExportOptions options{.dpi = 300,
                                            .title = figure->name,
                                            .project = project.title,
                                            .checksum = dataChecksum(project, *figure),
                                            .stop = stop};
                const auto bytes = writer.bytes(list, format, options, "figure");
                if (!bytes)
                    return [this, said = text(bytes.error().sentence())] { document_.say(said, true); };
                forms[format] = QByteArray::fromStdString(bytes->bytes);
            }
            return [this, forms] {
                auto* data = new QMimeData;
                data->setData("image/svg+xml", forms.at("svg"));
                data->setData("application/pdf", forms.at("pdf"));
                data->setData("image/png", forms.at("png"));
                data->setImageData(QImage::fromData(forms.at("png")));
                QGuiApplication::clipboard()->setMimeData(data);
                document_.say(tr("The figure is copied: as SVG, PDF and a bitmap of 300 dpi."));
            };
        });
}

void Window::exportStyle() {
    const auto figure = document_.project().figures.find(document_.figure());
    const auto style = figure ? document_.project().styles.find(figure->style) : nullptr;
    if (!style) return document_.say(tr("There is no figure yet whose house style could be written."), true);
    const QString path = ask::newFile(this, document_, tr("Export house style"), text(style->name) + ".json",
                                      tr("House styles (*.json)"));
    if (!path.isEmpty()) exportStyleTo(path);
}

void Window::exportStyleTo(const QString& path) {
    const auto figure = document_.project().figures.find(document_.figure());
    const auto style = figure ? document_.project().styles.find(figure->style) : nullptr;
    if (!style) return;
    const auto written = replaceFile(path.toStdString(), styleText(*style));
    document_.say(written ? tr("Wrote %1: the house style “%2”.").arg(path, text(style->name))
                          : text(written.error().sentence()),
                  !written);
}

void Window::importStyle() {
    const QString path = ask::file(this, document_, tr("Import house style"), tr("House styles (*.json)"));
    if (!path.isEmpty()) importStyleFrom(path);
}

// The figure that is shown takes it, as one change.
void Window::importStyleFrom(const QString& path) {
    const auto bytes = readFile(path.toStdString());
    if (!bytes) return document_.say(text(bytes.error().sentence()), true);
    const auto style = styleFromText(*bytes, path.toStdString());
    if (!style.value) return document_.say(text(style.value.error().sentence()), true);
    if (!document_.apply(edits::takeStyle(document_.figure(), *style.value))) return;
    if (!style.issues.empty()) document_.say(text(style.issues.front().sentence()), true);
}

void Window::exportReportTo(const QString& path) {
    writeInBackground(
        path,
        [id = document_.dataset(), analysis = document_.analysis(), path, project = document_.project(),
         evaluator = document_.session().sharedEvaluator()](const Cancellation& stop) -> Result<QString> {
            paint::QtFigureWriter writer;
            const ReportOptions options{.dataset = id,
                                        .analysis = analysis,
                                        .date = QDate::currentDate().toString(Qt::ISODate).toStdString()};
            const auto done =
                jointer::exportReport(project, options, *evaluator, path.toStdString(), writer, stop);
            if (!done) return std::unexpected(done.error());
            return tr("Wrote %1: the report of a dataset, %2 kB.")
                .arg(path)
                .arg(std::max<std::size_t>(1, done->bytes / 1000));
        });
}

void Window::exportReport() {
    const auto d = document_.currentDataset();
    if (!d) return document_.say(tr("There is no dataset to report on yet: import data first."), true);
    const QString path =
        ask::newFile(this, document_, tr("Report of dataset"), text(d->name) + ".pdf", figureFilter("pdf"));
    if (!path.isEmpty()) exportReportTo(path);
}

void Window::exportTableTo(const QString& path) {
    writeInBackground(
        path,
        [id = document_.table(), path, project = document_.project(),
         evaluator = document_.session().sharedEvaluator()](const Cancellation& stop) -> Result<QString> {
            const auto done = jointer::exportTable(project, id, *evaluator, path.toStdString(), stop);
            if (!done) return std::unexpected(done.error());
            return tr("Wrote %1: %2 rows, %3 kB.")
                .arg(path)
                .arg(project.tables.find(id)->rowCount())
                .arg(std::max<std::size_t>(1, done->bytes / 1000));
        });
}

void Window::exportTable() {
    const auto table = document_.project().tables.find(document_.table());
    if (!table) return document_.say(tr("There is no table to export yet: import data first."), true);
    const QString path =
        ask::newFile(this, document_, tr("Export table"), text(table->name) + ".csv", tableFilter());
    if (!path.isEmpty()) exportTableTo(path);
}

} // namespace jointer::app
