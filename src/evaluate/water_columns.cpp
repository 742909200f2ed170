// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/water_columns.h"

#include "base/text.h"
#include "evaluate/water_samples.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::evaluate {

namespace {

Stored cellsStored(Cells cells, std::vector<Issue> issues) {
    const Digest digest = digestOf(cells);
    const std::size_t bytes = 24 * cells.size();
    return {std::make_shared<const Cells>(std::move(cells)), std::move(issues), digest, bytes};
}

Stored none(const Column& column, std::size_t rows, const std::string& why) {
    Cells cells;
    if (column.isNumeric())
        cells.numbers.assign(rows, std::nan(""));
    else
        cells.texts.assign(rows, "");
    return cellsStored(std::move(cells), {{"formula", why, {.column = column.name}}});
}

} // namespace

std::optional<WaterCall> waterCall(std::string_view formula) {
    std::string_view rest = trimmed(formula);
    if (!rest.starts_with("waters(") || !rest.ends_with(")")) return {};
    rest = rest.substr(7, rest.size() - 8);
    const auto last = rest.rfind(',');
    if (last == rest.npos) return {};
    const auto unquoted = [](std::string_view text) {
        text = trimmed(text);
        const bool quoted = text.size() > 1 && text.front() == '\'' && text.back() == '\'';
        return quoted ? text.substr(1, text.size() - 2) : text;
    };
    const waters::SampleQuantity* quantity = waters::findQuantity(unquoted(rest.substr(last + 1)));
    if (!quantity) return {};
    return WaterCall{std::string(unquoted(rest.substr(0, last))), quantity};
}

std::string waterFormula(const std::string& dataset, std::string_view quantity) {
    return fmt::format("waters('{}', '{}')", dataset, quantity);
}

Node planWaterColumn(const Ground& ground, const Table& table, const Column& column, const WaterCall& call) {
    std::size_t rows = 0;
    for (const Column& c : table.columns)
        if (c.formula.empty()) rows = std::max(rows, c.cells->size());
    const auto d = ground.project.datasets.find(DatasetId::fromText(call.dataset));
    Node node{.name = column.name};
    Hasher h;
    h.add("waters").add(column.name).add(column.formula).add(static_cast<int>(column.kind)).add(rows);
    const bool there = d && d->source.kind == "ions" && d->source.table == table.id;
    h.add(there);
    std::vector<std::size_t> places;
    for (const RoleBinding& b : there ? d->source.roles : std::vector<RoleBinding>{}) {
        if (b.role != Role::Component) continue;
        const auto at = std::ranges::find(table.columns, b.column, &Column::id);
        if (at == table.columns.end()) continue;
        h.add(b.of).add(at->name).add(at->unit);
        node.inputs.push_back(columnNode(table.id, b.column));
        places.push_back(static_cast<std::size_t>(at - table.columns.begin()));
    }
    if (there) d->source.settings.addTo(h);
    node.own = h.digest();
    const auto shared = ground.project.tables.find(table.id);
    node.compute = [=, quantity = call.quantity](std::span<const Stored> inputs, const Request&) {
        if (!there) return none(column, rows, "The dataset of waters that this column follows is not there.");
        Table filled = *shared;
        for (std::size_t i = 0; i < places.size(); ++i)
            filled.columns[places[i]].cells = inputs[i].as<Cells>();
        Cells cells;
        for (const waters::Sample& s : waterSamples(filled, d->source).samples)
            if (column.isNumeric())
                cells.numbers.push_back(quantity->number ? quantity->number(s) : std::nan(""));
            else
                cells.texts.push_back(quantity->word ? quantity->word(s) : "");
        return cellsStored(std::move(cells), {});
    };
    node.inCircle = [column, rows](const std::string& loop) {
        return none(column, rows, "These columns need each other in a circle: " + loop + ".");
    };
    return node;
}

Column waterColumn(const Dataset& dataset, const waters::SampleQuantity& quantity) {
    Column c = quantity.word ? textColumn(std::string(quantity.label), {})
                             : numberColumn(std::string(quantity.label), std::string(quantity.unit), {});
    c.formula = waterFormula(dataset.id.text(), quantity.key);
    c.comment = std::string(quantity.meaning);
    return c;
}

} // namespace jointer::evaluate
