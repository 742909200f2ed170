// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/water_columns.h"

#include "base/text.h"
#include "evaluate/column_inputs.h"
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
    const std::size_t rows = ownRows(table);
    const auto d = ground.project.datasets.find(DatasetId::fromText(call.dataset));
    const bool there = d && d->source.kind == "ions" && d->source.table == table.id;
    Hasher h;
    h.add("waters")
        .add(column.name)
        .add(column.formula)
        .add(static_cast<int>(column.kind))
        .add(rows)
        .add(there);
    std::vector<RoleBinding> ions;
    if (there)
        std::ranges::copy_if(d->source.roles, std::back_inserter(ions),
                             [](const RoleBinding& b) { return b.role == Role::Component; });
    const ColumnInputs columns(ground.project.tables.find(table.id), ions, h);
    if (there) d->source.settings.addTo(h);
    Node node{.name = column.name, .inputs = columns.nodes, .own = h.digest()};
    node.compute = [=, quantity = call.quantity](std::span<const Stored> inputs, const Request&) {
        if (!there) return none(column, rows, "The dataset of waters that this column follows is not there.");
        Cells cells;
        for (const waters::Sample& s : waterSamples(columns.filled(inputs), d->source).samples)
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
