// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"

#include "paint/painter.h"

#include <QApplication>
#include <QFile>
#include <QPainter>
#include <QStyleFactory>
#include <QSvgRenderer>

// In a library the pictures are linked in only where they are asked for; a macro of the toolkit, outside
// namespaces.
static void initIcons() {
    Q_INIT_RESOURCE(icons);
}

namespace jointer::app {

namespace {

const Theme kLight{false,     "#F4F2EC", "#FFFFFF", "#D9D4C7", "#20282B", "#66706F", "#176B63",
                   "#E2EEEC", "#B65A2A", "#A8790B", "#FBF4E0", "#A4343A", "#FFFFFF"};
const Theme kDark{true,      "#23282A", "#2B3134", "#434B4E", "#E6E9E6", "#9CA6A4", "#5FB5AA",
                  "#2F4745", "#DD8A5C", "#D6A93F", "#3D3722", "#E0757B", "#1D2123"};

const Theme* current = &kLight;

QString styleSheet(const Theme& t) {
    QString s = R"(
* { font-family: "Inter"; font-size: 10pt; color: @ink; }
QMainWindow, QWidget#ground, QWidget#side, QScrollArea, QScrollArea > QWidget > QWidget { background: @ground; }
QScrollArea#strip, QScrollArea#strip > QWidget > QWidget { background: @panel; }
QWidget#middle, QWidget#toolStrip, QWidget#readout { background: @panel; }
QWidget#side { border-left: 1px solid @line; }
QWidget#left { background: @ground; border-right: 1px solid @line; }
QWidget#header { background: @ground; border-bottom: 1px solid @line; }
QWidget#readout { border-top: 1px solid @line; }
QWidget#toolStrip { border-bottom: 1px solid @line; }
QMenuBar { background: @panel; border-bottom: 1px solid @line; padding: 1px 6px; }
QMenuBar::item { padding: 4px 9px; background: transparent; }
QMenuBar::item:selected { background: @soft; border-radius: 4px; }
QMenu, QScrollArea QMenu QMenu { background: @panel; border: 1px solid @line; padding: 4px; }
QMenu::item { padding: 5px 26px 5px 12px; border-radius: 4px; }
QMenu::item:selected { background: @soft; }
QMenu::item:disabled { color: @muted; }
QMenu::separator { height: 1px; background: @line; margin: 4px 6px; }
QToolTip { background: @panel; color: @ink; border: 1px solid @line; padding: 4px; }
QLabel { background: transparent; }
QLabel#muted, QLabel#caption { color: @muted; font-size: 9pt; }
QLabel#caption { font-weight: 600; }
QLabel#strong { font-weight: 600; }
QLabel#title { font-weight: 600; font-size: 11pt; }
QLabel#warning { background: @warnsoft; border-left: 3px solid @warning; padding: 6px 8px; font-size: 9pt; }
QLabel#bad { color: @error; font-size: 9pt; }
QLineEdit, QPlainTextEdit { background: @panel; border: 1px solid @line; border-radius: 4px; padding: 3px 7px; selection-background-color: @accent; selection-color: #fff; }
QLineEdit:focus, QPlainTextEdit:focus { border-color: @accent; }
QLineEdit[bad="true"] { border-color: @error; }
QLineEdit[tight="true"] { padding: 3px 3px; font-size: 9pt; }
QPushButton { background: @panel; border: 1px solid @line; border-radius: 4px; padding: 4px 9px; }
QPushButton:hover { border-color: @muted; }
QPushButton:focus { border-color: @accent; }
QPushButton:disabled { color: @muted; background: @ground; }
QPushButton#primary { background: @accent; color: @onaccent; border-color: @accent; font-weight: 600; }
QPushButton#primary:disabled { background: @line; border-color: @line; color: @muted; }
QPushButton#members, QPushButton#model { text-align: left; }
QPushButton#tile { background: transparent; border: 1px solid transparent; }
QPushButton#tile:hover, QPushButton#tile:focus { border: 1px solid @accent; }
QPushButton#tile:checked { background: @soft; border: 1px solid @line; }
QPushButton#part { background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 3px 7px; text-align: left; font-weight: 400; }
QPushButton#part:hover, QPushButton#part:focus { border-color: @accent; }
QPushButton#part:checked { background: @soft; border-color: @line; }
QLabel#tileName { font-size: 9pt; }
QFrame#picker { background: @panel; border: 1px solid @line; }
QPushButton#link { background: transparent; border: none; color: @accent; font-weight: 600; text-align: left; padding: 3px 0; }
QPushButton#link:hover { text-decoration: underline; }
QPushButton#link:checked { background: @soft; }
QPushButton#look { background: transparent; border: none; border-radius: 4px; padding: 0; color: @muted; font-size: 8pt; }
QPushButton#look:hover { background: @soft; }
QPushButton#look:checked { background: @soft; color: @accent; font-weight: 600; }
QPushButton#proposal { background: transparent; border: 1px dashed @accent; border-radius: 4px; color: @accent; text-align: left; padding: 3px 7px; }
QPushButton#proposal:hover { background: @soft; }
QPushButton#segment { border-radius: 0; padding: 3px 7px; color: @muted; margin: 0; }
QPushButton#segment:checked { background: @soft; color: @accent; font-weight: 600; }
QPushButton#fold { background: transparent; border: none; border-top: 1px solid @line; color: @ink; font-weight: 600; text-align: left; padding: 6px 0 3px 0; }
QPushButton#fold:hover { color: @accent; }
QPushButton#dot { background: transparent; border: none; color: @copper; padding: 0 2px; font-size: 8pt; }
QToolButton#markChoice { background: @panel; border: 1px solid @line; border-radius: 4px; padding: 3px; color: @ink; }
QToolButton#markChoice:disabled { color: @line; background: transparent; }
QToolButton#markChoice:checked { border-color: @accent; }
QToolButton#markChoice:hover { border-color: @accent; background: @soft; }
QPushButton#tool { background: transparent; border: none; border-radius: 4px; padding: 4px 9px; color: @muted; }
QPushButton#tool:hover { color: @ink; }
QPushButton#tool:checked { background: @soft; color: @accent; font-weight: 600; }
QPushButton#flat { background: transparent; border: none; padding: 4px; }
QPushButton#flat:hover { background: @soft; }
QComboBox { background: @panel; border: 1px solid @line; border-radius: 4px; padding: 3px 2px 3px 7px; }
QSpinBox { background: @panel; border: 1px solid @line; border-radius: 4px; padding: 3px 2px 3px 7px; }
QSpinBox:focus { border-color: @accent; }
QSpinBox::up-button, QSpinBox::down-button { border: none; width: 14px; }
QSpinBox::up-arrow { image: url(:/icons/chevron-up.svg); width: 10px; height: 10px; }
QSpinBox::down-arrow { image: url(:/icons/chevron-down.svg); width: 10px; height: 10px; }
QComboBox:focus { border-color: @accent; }
QComboBox::drop-down { border: none; width: 16px; }
QComboBox::down-arrow { image: url(:/icons/chevron-down.svg); width: 12px; height: 12px; margin-right: 6px; }
QComboBox QAbstractItemView { background: @panel; border: 1px solid @line; selection-background-color: @soft; selection-color: @ink; outline: none; }
QCheckBox { spacing: 6px; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid @muted; border-radius: 3px; background: @panel; }
QCheckBox::indicator:checked { background: @accent; border-color: @accent; image: url(:/icons/check.svg); }
QSlider::groove:horizontal { height: 2px; background: @line; }
QSlider::sub-page:horizontal { background: @accent; }
QSlider::handle:horizontal { width: 11px; height: 11px; margin: -6px 0; border-radius: 6px; background: @panel; border: 2px solid @accent; }
QListWidget, QTableView, QListView { background: @panel; border: none; outline: none; gridline-color: @line; selection-background-color: @soft; selection-color: @ink; alternate-background-color: @panel; }
QWidget#left QListWidget { background: transparent; }
QTableView { border: 1px solid @line; }
QTableView::item { padding: 0 5px; }
QListWidget#styleKinds { border: 1px solid @line; padding: 3px; }
QListWidget#styleKinds::item { height: 20px; padding: 0 4px; }
QListWidget#styleKinds::item:selected { background: @soft; color: @ink; }
QListView#completion { background: @panel; border: 1px solid @line; padding: 3px; selection-background-color: @soft; selection-color: @ink; }
QListView#completion::item { height: 22px; padding: 0 4px; }
QListView#completion::item:selected { background: @soft; color: @ink; }
QListWidget#found { border: 1px solid @line; padding: 3px; }
QListWidget#found::item { height: 24px; }
QHeaderView { background: @ground; }
QHeaderView::section:vertical { color: @muted; font-weight: 400; }
QHeaderView::section { background: @ground; border: none; border-right: 1px solid @line; border-bottom: 1px solid @line; padding: 4px 8px; font-weight: 600; }
QTableCornerButton::section { background: @ground; border: none; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle { background: @line; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::handle:hover { background: @muted; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QFrame#card { background: @panel; border: 1px solid @line; border-radius: 4px; }
QFrame#openCard { background: @panel; border: 1px solid @accent; border-radius: 4px; }
QFrame#recovery { background: @warnsoft; border-bottom: 1px solid @line; }
QFrame#hairline { background: @line; border: none; }
QSplitter::handle { background: @line; }
QSplitter#stageSplit::handle { background: @ground; border-left: 1px solid @line; }
QSplitter#stageSplit::handle:hover { background: @line; }
QProgressBar { border: none; background: @line; border-radius: 2px; max-height: 4px; }
QProgressBar::chunk { background: @accent; border-radius: 2px; }
)";
    const std::pair<const char*, QColor> roles[] = {
        {"@onaccent", t.dark ? QColor("#10201E") : QColor("#FFFFFF")},
        {"@ink", t.ink},
        {"@ground", t.ground},
        {"@panel", t.panel},
        {"@line", t.line},
        {"@muted", t.muted},
        {"@accent", t.accent},
        {"@soft", t.accentSoft},
        {"@warnsoft", t.warningSoft},
        {"@warning", t.warning},
        {"@copper", t.copper},
        {"@error", t.error}};
    for (const auto& [role, colour] : roles) s.replace(role, colour.name());
    return s;
}

} // namespace

const Theme& theme() {
    return *current;
}

void applyTheme(QApplication& app, bool dark) {
    initIcons();
    paint::loadFonts();
    current = dark ? &kDark : &kLight;
    app.setStyle(QStyleFactory::create("Fusion"));
    QFont font("Inter");
    font.setPointSizeF(10);
    app.setFont(font);
    QPalette p;
    p.setColor(QPalette::Window, theme().ground);
    p.setColor(QPalette::Base, theme().panel);
    p.setColor(QPalette::Text, theme().ink);
    p.setColor(QPalette::WindowText, theme().ink);
    p.setColor(QPalette::ButtonText, theme().ink);
    p.setColor(QPalette::Button, theme().panel);
    p.setColor(QPalette::Highlight, theme().accentSoft);
    p.setColor(QPalette::HighlightedText, theme().ink);
    p.setColor(QPalette::PlaceholderText, theme().muted);
    app.setPalette(p);
    app.setStyleSheet(styleSheet(theme()));
}

std::string shownColour(const std::string& colour) {
    const QColor c(QString::fromStdString(colour));
    return (theme().dark ? c.lighter(150) : c).name().toStdString();
}

QIcon icon(const QString& name) {
    QFile file(":/icons/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly)) return {};
    QSvgRenderer renderer(QByteArray(file.readAll()).replace("currentColor", theme().ink.name().toUtf8()));
    QPixmap pixmap(32, 32);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter);
    pixmap.setDevicePixelRatio(2);
    return QIcon(pixmap);
}

} // namespace jointer::app
