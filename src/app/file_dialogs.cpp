// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/file_dialogs.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QRegularExpression>

namespace jointer::app::ask {

namespace {

QStringList endingsOf(const QString& filter) {
    static const QRegularExpression ending(R"(\*\.([A-Za-z0-9.]+))");
    QStringList out;
    for (auto found = ending.globalMatch(filter); found.hasNext();) out << found.next().captured(1);
    return out;
}

} // namespace

QString withEndingOf(const QString& filter, const QString& name, const QString& filters) {
    const QStringList endings = endingsOf(filter);
    const QFileInfo given(name);
    if (endings.isEmpty() || name.isEmpty() || endings.contains(given.suffix(), Qt::CaseInsensitive)) return name;
    const bool known = endingsOf(filters).contains(given.suffix(), Qt::CaseInsensitive);
    return (known ? given.completeBaseName() : name) + '.' + endings.front();
}

QString file(QWidget* owner, Document& document, const QString& title, const QString& filters) {
    const QString path = QFileDialog::getOpenFileName(owner, title, document.folder(), filters);
    document.workedIn(path);
    return path;
}

QStringList files(QWidget* owner, Document& document, const QString& title, const QString& filters) {
    const QStringList paths = QFileDialog::getOpenFileNames(owner, title, document.folder(), filters);
    if (!paths.isEmpty()) document.workedIn(paths.front());
    return paths;
}

QString folder(QWidget* owner, Document& document, const QString& title) {
    const QString path = QFileDialog::getExistingDirectory(owner, title, document.folder());
    document.workedIn(path);
    return path;
}

QString newFile(QWidget* owner, Document& document, const QString& title, const QString& name,
                const QString& filters) {
    QFileDialog dialog(owner, title, document.folder(), filters);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setFileMode(QFileDialog::AnyFile);
    auto follow = [&dialog, &filters](const QString& filter) {
        if (const QStringList endings = endingsOf(filter); !endings.isEmpty())
            dialog.setDefaultSuffix(endings.front());
        const QStringList typed = dialog.selectedFiles(); // the folder, where no name is typed
        if (!typed.isEmpty() && !QFileInfo(typed.front()).isDir())
            dialog.selectFile(withEndingOf(filter, QFileInfo(typed.front()).fileName(), filters));
    };
    QObject::connect(&dialog, &QFileDialog::filterSelected, &dialog, follow);
    const QString safe = QString(name).replace('/', QStringLiteral("\u2215"));
    for (const QString& filter : dialog.nameFilters()) // the one that the name asks for
        if (withEndingOf(filter, safe, filters) == safe) {
            dialog.selectNameFilter(filter);
            break;
        }
    dialog.selectFile(safe);
    follow(dialog.selectedNameFilter());
    if (!dialog.exec() || dialog.selectedFiles().isEmpty()) return {};
    document.workedIn(dialog.selectedFiles().front());
    return dialog.selectedFiles().front();
}

} // namespace jointer::app::ask
