// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/model_help.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "models/catalogue.h"

#include <QCoreApplication>

namespace jointer::app {

namespace {

QString tr(const char* words) {
    return QCoreApplication::translate("ModelHelp", words);
}

QString row(const QString& name, const QString& meaning, const QString& unit) {
    return QString("<tr><td><b>%1</b>&nbsp;&nbsp;</td><td>%2&nbsp;&nbsp;</td><td>%3</td></tr>")
        .arg(name.toHtmlEscaped(), meaning.toHtmlEscaped(), unit.toHtmlEscaped());
}

// "y/x" as words: "unit of y/x".
QString unitWords(const std::string& pattern) {
    if (pattern.empty()) return {};
    return pattern.starts_with('=') ? text(pattern.substr(1)) : tr("unit of %1").arg(text(pattern));
}

} // namespace

QString modelHelp(const std::string& key, const Settings& settings) {
    const models::ModelKind* kind = models::catalogue().find(key);
    if (!kind) return {};
    const auto made = models::makeModel(key, settings);
    const models::ModelPtr model = made ? *made : kind->make({});
    QString out = QString("<p><b>%1</b><br>%2.</p>").arg(text(kind->info.name), text(kind->info.purpose));
    const QString formula = text(model->formula()).toHtmlEscaped();
    const bool lines = formula.contains('\n') || formula.contains(';'); // the last is the response
    out += QString("<p><span style='color:%1'>%2%3</span></p>")
               .arg(theme().accent.name(), lines ? "" : "y = ", QString(formula).replace('\n', "<br>"));
    out += "<table>";
    for (const models::ParameterInfo& p : model->parameters())
        if (!p.meaning.empty()) out += row(text(p.name), text(p.meaning), unitWords(p.unit));
    for (const models::DerivedInfo& d : model->derived())
        out += row(text(d.name),
                   d.formula.empty() ? tr("follows from the curve") : tr("follows: %1").arg(text(d.formula)),
                   unitWords(d.unit));
    out += "</table>";
    if (!kind->info.settings.empty()) out += "<p><b>" + tr("Settings") + "</b></p>";
    for (const Setting& s : kind->info.settings)
        out += QString("<p>%1: %2</p>").arg(text(s.label), text(s.help).toHtmlEscaped());
    return out;
}

} // namespace jointer::app
