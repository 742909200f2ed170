// SPDX-License-Identifier: GPL-3.0-or-later
// Tables by seed as every kind of dataset, with columns that fit and columns that do not: what cannot be is
// told, what can be is whole, and its first figure is laid out.
#include "evaluate/evaluator.h"
#include "evaluate/fields.h"
#include "evaluate/mapping.h"
#include "figure/first_figure.h"
#include "figure/layout.h"
#include "project/edit.h"
#include "session/import.h"
#include "support/random.h"
#include "support/random_settings.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace jointer;
using namespace jointer::evaluate;

namespace {

class Maker {
public:
    explicit Maker(unsigned seed) : random_(seed) {}

    Table table() {
        static const char* const headings[] = {"Ca",         "Mg (mg/L)", "Na", "K",    "Cl", "SO4", "HCO3",
                                               "Alkalinity", "NO3-N",     "x",  "y",    "z",  "u",   "v",
                                               "400",        "410",       "-3", "belt", "",   "x"};
        static const char* const units[] = {"mg/L", "meq/L", "mmol/L", "", "m", "furlong", "mg/L as N"};
        Table t{.name = "random"};
        const std::size_t columns = random_.below(12),
                          rows = random_.below(4) == 0 ? random_.below(4) : random_.below(60);
        for (std::size_t k = 0; k < columns; ++k) {
            const char* heading = headings[random_.below(std::size(headings))];
            if (random_.below(5) == 0) {
                t.columns.push_back(textColumn(heading, words(rows)));
                continue;
            }
            Column c = numberColumn(heading, units[random_.below(std::size(units))], numbers(rows));
            if (random_.below(4) == 0) limit(c, rows);
            t.columns.push_back(std::move(c));
        }
        return t;
    }

    Dataset dataset(const MappingKind& kind, const Table& table) {
        Dataset d{.name = "random"};
        d.source = {.kind = kind.info.key, .table = table.id};
        if (random_.below(3) == 0)
            d.source.roles = guessedRoles(kind, table);
        else
            for (const Slot& slot : kind.slots)
                for (std::size_t n = random_.below(slot.several ? 5 : 2) + (random_.below(4) ? 1 : 0);
                     n-- > 0;)
                    d.source.roles.push_back({slot.role, columnOf(table), slot.of});
        d.source.settings = test::RandomSettings(random_.engine, -5, 20).of(kind.info);
        d.source.settings.remove("resolution"); // large ones cost time
        return d;
    }

private:
    ColumnId columnOf(const Table& table) {
        if (table.columns.empty() || random_.below(20) == 0) return ColumnId{9999};
        return table.columns[random_.below(table.columns.size())].id;
    }
    std::vector<std::string> words(std::size_t rows) {
        static const char* const all[] = {"dune", "pan", "", "fringe", "Q1", "µ–„“"};
        std::vector<std::string> out;
        for (std::size_t k = 0; k < rows; ++k) out.emplace_back(all[random_.below(std::size(all))]);
        return out;
    }
    std::vector<double> numbers(std::size_t rows) {
        std::vector<double> out(rows);
        const std::size_t how = random_.below(6);
        for (std::size_t k = 0; k < rows; ++k) {
            out[k] = how == 0   ? 3
                     : how == 1 ? static_cast<double>(random_.below(4))
                     : how == 2 ? random_.ofAnySize(-8, 8)
                     : how == 3 ? static_cast<double>(k)
                     : how == 4 ? 1e300 * random_.between(-1, 1)
                                : random_.between(0, 20);
            if (random_.below(12) == 0) out[k] = NAN;
        }
        return out;
    }
    void limit(Column& c, std::size_t rows) {
        auto cells = std::make_shared<Cells>(*c.cells);
        cells->states.assign(rows, CellState::Fine);
        for (std::size_t k = 0; k < rows; ++k)
            if (random_.below(5) == 0) {
                cells->states[k] = CellState::Below;
                cells->originals[static_cast<std::uint32_t>(k)] = "<0.05";
                cells->numbers[k] = NAN;
            }
        c.cells = std::move(cells);
    }

    test::Random random_;
};

void expectWhole(const Curve& c, const Table& table) {
    c.eachList([&](const auto& list) { ASSERT_EQ(list.size(), c.size()); });
    ASSERT_EQ(c.y.size(), c.x.size());
    for (const double x : c.x) ASSERT_FALSE(std::isinf(x));
    for (const std::uint32_t row : c.rowIds)
        ASSERT_LE(row, std::max<std::size_t>(table.rowCount(), 1U << 22)); // of fields: node numbers
}

void expectWhole(const fields::Field& f) {
    if (f.isEmpty()) return;
    ASSERT_EQ(f.z.size(), f.x.size() * f.y.size());
    for (const auto* nodes : {&f.x, &f.y})
        for (std::size_t k = 1; k < nodes->size(); ++k) ASSERT_LT((*nodes)[k - 1], (*nodes)[k]);
    for (const double z : f.z) ASSERT_FALSE(std::isinf(z));
}

std::string told(const Dataset& d, const Table& table) {
    std::string words = std::to_string(table.rowCount()) + " rows";
    for (const RoleBinding& b : d.source.roles) {
        const Column* c = table.find(b.column);
        words += "; " + std::string(roleKey(b.role)) + " " + b.of + " = " + (c ? c->name : "gone");
        for (std::size_t row = 0; c && row < std::min<std::size_t>(table.rowCount(), 3); ++row)
            words += " " + plainCellText(*c, row);
    }
    return words;
}

void tryOne(unsigned seed) {
    Maker maker(seed);
    Project p = newProject("random");
    auto with = edits::addTable(maker.table()).apply(p);
    ASSERT_TRUE(with);
    p = std::move(*with);
    const TableId id = p.tables[0].id;
    const MappingKind& kind = mappingCatalogue()[seed % mappingCatalogue().size()];
    const Dataset d = maker.dataset(kind, *p.tables.find(id));
    SCOPED_TRACE(kind.info.key);
    const auto checked = checkedSource(kind, *p.tables.find(id), d.source);
    for (const Issue& issue : checked.issues) EXPECT_FALSE(issue.text.empty());
    auto added = edits::addDataset(d).apply(p);
    ASSERT_TRUE(added);
    p = std::move(*added);
    const DatasetId dataset = p.datasets[0].id;
    Evaluator evaluator;
    const auto measured = evaluator.measured(p, dataset);
    ASSERT_TRUE(measured.value);
    ASSERT_NO_FATAL_FAILURE(expectWhole(*measured.value, *p.tables.find(id)));
    const bool bare = measured.value->x.empty() && checked.issues.empty() && measured.issues.empty();
    EXPECT_TRUE(!bare || p.tables.find(id)->rowCount() == 0 || hasField(d.source))
        << "nothing comes of it, and nothing says why: " << told(d, *p.tables.find(id));
    if (hasField(d.source)) {
        const auto field = evaluator.field(p, dataset);
        ASSERT_NO_FATAL_FAILURE(expectWhole(*field.value));
        EXPECT_EQ(Evaluator().field(p, dataset).value->z.size(), field.value->z.size());
    }
    auto drawn = figure::addFigureOf(p, {dataset}, {}, evaluator).apply(p);
    ASSERT_TRUE(drawn) << drawn.error().text;
    const auto layout = figure::layOut(*drawn, drawn->figures[0], evaluator, {.pixelsPerMm = 4});
    EXPECT_FALSE(layout.panels.empty());
    for (const Issue& issue : layout.issues) EXPECT_FALSE(issue.text.empty());
}

} // namespace

// JOINTER_SEEDS=7 tries one, JOINTER_SEEDS=1-5000 many.
TEST(RandomMappings, AreWholeOrSayWhyNot) {
    const std::string told = std::getenv("JOINTER_SEEDS") ? std::getenv("JOINTER_SEEDS") : "1-240";
    const unsigned first = static_cast<unsigned>(std::stoul(told));
    const std::size_t dash = told.find('-');
    const unsigned last =
        dash == told.npos ? first : static_cast<unsigned>(std::stoul(told.substr(dash + 1)));
    for (unsigned seed = first; seed <= last; ++seed) {
        SCOPED_TRACE("seed " + std::to_string(seed));
        ASSERT_NO_FATAL_FAILURE(tryOne(seed));
    }
}
