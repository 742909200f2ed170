// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/fonts.h"

#include "draw/fonts.h"
#include "paint/painter.h"

#include <QFontDatabase>
#include <map>
#include <mutex>

namespace jointer::paint {

using namespace draw;

namespace {

struct LoadedFont {
    QString family, style;
};

std::map<std::string, LoadedFont>& loadedFonts() {
    static std::map<std::string, LoadedFont> fonts;
    return fonts;
}

void loadAll() {
    for (const FontFile& file : fontFiles()) {
        const int id = QFontDatabase::addApplicationFontFromData(QByteArray::fromRawData(
            reinterpret_cast<const char*>(file.bytes.data()), static_cast<qsizetype>(file.bytes.size())));
        const QStringList families = QFontDatabase::applicationFontFamilies(id);
        if (families.isEmpty()) continue;
        const QString family = families.first();
        const bool bold = file.face.ends_with("-bold"), italic = file.face.ends_with("-italic"),
                   both = file.face.ends_with("-bold-italic"), medium = file.face.ends_with("-medium");
        QString style = both     ? "Bold Italic"
                        : bold   ? (file.face == "window-bold" ? "SemiBold" : "Bold")
                        : italic ? "Italic"
                        : medium ? "Medium"
                                 : "Regular";
        loadedFonts()[std::string(file.face)] = {family, style};
    }
}

} // namespace

QFont fontOf(const std::string& face) {
    loadFonts();
    const auto& fonts = loadedFonts();
    auto at = fonts.find(face);
    if (at == fonts.end()) at = fonts.find("sans");
    QFont font(at->second.family);
    font.setStyleName(at->second.style);
    font.setHintingPreference(QFont::PreferNoHinting);
    font.setStyleStrategy(QFont::StyleStrategy(QFont::PreferAntialias | QFont::NoFontMerging));
    font.setLetterSpacing(QFont::PercentageSpacing, 100.001); // ligatures would vanish from extracted text
    font.setKerning(true);
    return font;
}

void loadFonts() {
    static std::once_flag once; // several threads may draw the first text
    std::call_once(once, loadAll);
}

} // namespace jointer::paint
