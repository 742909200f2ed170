// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/reference.h"

#include "base/text.h"
#include "evaluate/evaluator.h"
#include "evaluate/mapping.h"
#include "evaluate/sources.h"
#include "evaluate/uncertainty.h"
#include "figure/kinds.h"
#include "formula/column_functions.h"
#include "io/reader.h"
#include "io/writer.h"
#include "models/catalogue.h"
#include "steps/step.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer {

namespace {

std::string code(std::string_view text) {
    return fmt::format("`{}`", text);
}

// A cell of a table: bars would end it.
std::string cell(std::string text) {
    for (std::size_t at = 0; (at = text.find('|', at)) != text.npos; at += 2) text.insert(at, "\\");
    return text;
}

std::string row(const std::vector<std::string>& cells) {
    std::string out = "|";
    for (const std::string& c : cells) out += " " + cell(c) + " |";
    return out + "\n";
}

std::string tableHead(const std::vector<std::string>& names) {
    return row(names) + row(std::vector<std::string>(names.size(), "---"));
}

// Numbers beyond these stand for no limit.
constexpr double kLargest = 1e290, kSmallest = 1e-290;

std::string rangeText(const Setting& s) {
    const bool low = s.lowest > -kLargest, high = s.highest < kLargest;
    const bool above = s.lowest > 0 && s.lowest < kSmallest;
    const std::string from = shortestNumber(s.lowest), to = shortestNumber(s.highest);
    if (above) return high ? " above 0, at most " + to : " above 0";
    if (low && high) return fmt::format(" from {} to {}", from, to);
    return low ? " of at least " + from : high ? " of at most " + to : "";
}

std::string takes(const Setting& s) {
    std::vector<std::string> choices;
    for (const Choice& c : s.choices)
        choices.push_back(code(c.key) + (c.label == c.key || c.label.empty() ? "" : " " + c.label));
    const std::string unit = s.unit.empty() ? "" : ", in " + s.unit;
    switch (s.kind) {
    case SettingKind::Number:
        return "number" + rangeText(s) + unit;
    case SettingKind::WholeNumber:
        return "whole number" + rangeText(s) + unit;
    case SettingKind::Choice:
        return choices.empty() ? "name of a " + s.of : joined(choices, ", ");
    case SettingKind::Flag:
        return "yes or no";
    case SettingKind::Text:
        return "text";
    case SettingKind::Formula:
        return "formula";
    case SettingKind::List:
        return "numbers" + unit;
    case SettingKind::Points:
        return "points, x and y";
    case SettingKind::Interval:
        return "two numbers, from and to" + unit;
    case SettingKind::Colour:
        return "colour";
    case SettingKind::Texts:
        return "texts";
    case SettingKind::Reference:
        return "a " + s.of;
    case SettingKind::References:
        return "several of: " + s.of;
    case SettingKind::Rows:
        return "rows";
    }
    return {};
}

std::string defaultText(const Setting& s) {
    const auto* number = std::get_if<double>(&s.fallback);
    if (std::holds_alternative<std::monostate>(s.fallback) || (number && std::isnan(*number)))
        return s.whenEmpty;
    if (const auto* text = std::get_if<std::string>(&s.fallback))
        return text->empty() ? s.whenEmpty : code(*text);
    return valueText(s, s.fallback);
}

std::string settingsTable(const std::vector<Setting>& settings, const std::string& prefix = {}) {
    if (settings.empty()) return {};
    std::string out = tableHead({"setting", "key", "takes", "default", "meaning"});
    for (const Setting& s : settings)
        out += row({s.label, code(prefix + s.key), takes(s), defaultText(s), s.help});
    return out + "\n";
}

std::string entry(const KindInfo& info) {
    return fmt::format("### {} ({})\n\n{}.\n\n", info.name, code(info.key), info.purpose);
}

template <class Kinds> std::string entries(const Kinds& kinds) {
    std::string out;
    for (const auto& kind : kinds) out += entry(infoOf(kind)) + settingsTable(infoOf(kind).settings);
    return out;
}

std::string modelEntries() {
    std::string out, group;
    for (const models::ModelKind& kind : models::catalogue()) {
        if (kind.info.group != group) out += fmt::format("**{}**\n\n", group = kind.info.group);
        const models::ModelPtr model = kind.make({});
        out +=
            entry(kind.info) + "y = " + code(model->formula()) + "\n\n" + settingsTable(kind.info.settings);
        out += tableHead({"parameter", "meaning", "unit"});
        for (const models::ParameterInfo& p : model->parameters())
            out += row({code(p.name), p.meaning, p.unit});
        for (const models::DerivedInfo& d : model->derived())
            out += row({code(d.name), "derived: " + code(d.formula), d.unit});
        out += "\n";
    }
    return out;
}

std::string mappingEntries() {
    std::string out;
    for (const evaluate::MappingKind& kind : evaluate::mappingCatalogue()) {
        out += entry(kind.info) + tableHead({"place", "takes", "meaning"});
        for (const evaluate::Slot& slot : kind.slots)
            out += row({slot.label,
                        std::string(slot.several ? "columns" : "a column") + (slot.needed ? "" : ", or none"),
                        slot.help});
        out += "\n" + settingsTable(kind.info.settings);
    }
    return out;
}

std::string readerTable() {
    std::string out = tableHead({"format", "key", "endings", "holds"});
    for (const io::ReaderKind& kind : io::readerCatalogue()) {
        std::vector<std::string> endings;
        for (const std::string& ending : kind.endings) endings.push_back(code("." + ending));
        out += row({kind.info.name, code(kind.info.key), joined(endings, ", "), kind.info.purpose});
    }
    return out + "\nWhat is guessed can be told (where it does not apply it is passed over):\n\n" +
           settingsTable(io::readerSettings(), "--");
}

std::string writerTable() {
    std::string out = tableHead({"format", "ending", "holds", "is lost"});
    for (const io::WriterKind& kind : io::writerCatalogue())
        out += row({kind.info.name, code("." + kind.info.key), kind.info.purpose, kind.limits});
    return out + "\n";
}

std::string arguments(int fewest, int most) {
    if (most < 0) return fmt::format("{} or more", fewest);
    return fewest == most ? fmt::format("{}", fewest) : fmt::format("{} to {}", fewest, most);
}

template <class Functions> std::string functionTable(const Functions& functions) {
    std::string out = tableHead({"function", "arguments", "meaning"});
    for (const auto& f : functions)
        out += row({code(f.name), arguments(f.fewest, f.most), std::string(f.meaning)});
    return out + "\n";
}

} // namespace

std::string referenceText(const Catalogue<KindInfo>& figureFormats) {
    std::string figures = tableHead({"format", "ending", "holds"});
    for (const KindInfo& kind : figureFormats)
        figures += row({kind.name, code("." + kind.key), kind.purpose});
    return "# Reference\n\nMade from the program’s own descriptions by `jointer-cli reference`. Keys are "
           "those of the command line and of project files.\n\n"
           "## Steps\n\n" +
           entries(steps::catalogue()) + "## Models\n\n" + modelEntries() + "## Analyses\n\n" +
           entries(analyses::catalogue()) + entries(std::vector{analyses::weightSettings()}) +
           "## Datasets over columns\n\n" + mappingEntries() + "## Uncertainties of y\n\n" +
           entries(evaluate::uncertaintyRules()) + "## Datasets that are made\n\n" +
           entries(evaluate::sourceCatalogue()) + "## Elements of figures\n\n" +
           entries(figure::elementKinds()) + "## Files that are read\n\n" + readerTable() +
           "## Tables that are written\n\n" + writerTable() + "## Figures that are written\n\n" + figures +
           "\n## Functions\n\n" + functionTable(formula::functions()) +
           "## Functions of whole columns\n\nIn computed columns only.\n\n" +
           functionTable(formula::columnFunctions());
}

} // namespace jointer
