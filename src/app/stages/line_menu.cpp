// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/line_menu.h"

#include "app/theme/theme.h"

#include <QCoreApplication>
#include <QMenu>

namespace jointer::app {

namespace {

QString words(const char* text) {
    return QCoreApplication::translate("RawLines", text);
}

} // namespace

std::pair<QColor, QString> lineTint(io::LineKind kind) {
    const bool dark = theme().dark;
    switch (kind) {
    case io::LineKind::Preamble:
        return {dark ? QColor("#34332D") : QColor("#EFEBE2"), words("preamble")};
    case io::LineKind::Comment:
        return {dark ? QColor("#2C3440") : QColor("#E6EAF3"), words("comment")};
    case io::LineKind::Heading:
        return {dark ? QColor("#26403C") : QColor("#DAEBE8"), words("headings")};
    case io::LineKind::Units:
        return {dark ? QColor("#2C3D2C") : QColor("#E5F0E0"), words("units")};
    case io::LineKind::Unread:
        return {dark ? QColor("#4A2C2C") : QColor("#F8DFDC"), words("not read")};
    default:
        return {QColor(), {}};
    }
}

void askAboutLine(QWidget* owner, int line, QPoint at, std::function<void(const QString&, int)> told) {
    auto* menu = new QMenu(owner);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName("lineMenu");
    auto add = [&](const char* label, const char* key, int value) {
        QObject::connect(menu->addAction(words(label)), &QAction::triggered, owner,
                         [told, key, value] { told(key, value); });
    };
    add("Headings are here", "heading", line);
    add("Units are here", "units", line);
    add("Data begin here", "first", line);
    menu->addSeparator();
    add("There are no headings", "heading", 0);
    add("There are no units", "units", 0);
    menu->popup(at);
}

} // namespace jointer::app
