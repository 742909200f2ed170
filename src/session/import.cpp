// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/import.h"

#include "base/text.h"
#include "data/column_names.h"
#include "evaluate/mapping.h"
#include "figure/kinds.h"
#include "session/name_pattern.h"
#include "waters/ions.h"

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <ranges>
#include <set>

namespace jointer {

void setAttribute(std::vector<Attribute>& attributes, Attribute given) {
    const auto there = std::ranges::find(attributes, given.name, &Attribute::name);
    if (there == attributes.end())
        attributes.push_back(std::move(given));
    else
        there->value = std::move(given.value), there->unit = std::move(given.unit);
}

std::string nameFromPath(const std::string& path) {
    return std::filesystem::path(path).stem().string();
}

Dataset datasetFromTable(const Table& table, const std::string& name, std::size_t colourIndex) {
    Dataset d;
    d.name = name;
    d.colour = figure::palette()[colourIndex % figure::palette().size()];
    d.source.table = table.id;
    for (const Column& c : table.columns)
        if (c.role != Role::None) d.source.roles.push_back({c.role, c.id});
    for (const auto& [key, value] : table.origin.metadata) d.attributes.push_back({key, value, {}});
    return d;
}

namespace {

constexpr std::size_t kMostDatasets = 60;

// Whether the names number the repeats of one thing: "count" and "count 2", "rep1" and "rep2".
bool areReplicates(const std::string& a, const std::string& b) {
    const std::string base = nameWithoutNumber(b);
    if (base.empty() || base != nameWithoutNumber(a) || base == b) return false;
    const std::string lower = lowerAscii(base);
    const bool saysSo = lower.find("rep") != lower.npos || lower.find("run") != lower.npos ||
                        lower.find("trial") != lower.npos;
    const char mark = b[base.size()];
    if (saysSo || mark == ' ' || mark == '_' || mark == '.' || mark == '#') return true;
    // "Ag-1", "Ag-2" are repeats; "Pb-206", "Pb-207" are not.
    const auto numberOf = [&](const std::string& name) {
        return parseNumber(name.substr(base.size() + 1)).value_or(0);
    };
    constexpr double kMostRepeats = 20;
    return mark == '-' && numberOf(a) >= 1 && numberOf(b) == numberOf(a) + 1 && numberOf(b) <= kMostRepeats;
}

// Letters also tell sites and kinds apart: those that repeat each other are close by their values too.
bool areLetteredReplicates(const Column& a, const Column& b) {
    const std::string base = nameWithoutLetter(b.name);
    if (base.empty() || base != nameWithoutLetter(a.name) || b.name.back() != a.name.back() + 1 ||
        a.unit != b.unit)
        return false;
    constexpr double kClose = 0.1; // of the range
    double off = 0, low = INFINITY, high = -INFINITY;
    std::size_t n = 0;
    for (std::size_t i = 0; i < std::min(a.numbers().size(), b.numbers().size()); ++i) {
        const double p = a.numbers()[i], q = b.numbers()[i];
        if (!std::isfinite(p) || !std::isfinite(q)) continue;
        off += std::abs(p - q), ++n;
        low = std::min({low, p, q}), high = std::max({high, p, q});
    }
    return n >= 3 && off / static_cast<double>(n) < kClose * (high - low);
}

// "0.5 m fit" beside "0.5 m" → "fit": companions of several curves are then called alike.
std::string ownPart(const std::string& name, const std::string& y) {
    if (name.size() <= y.size() || !name.starts_with(y)) return name;
    const std::size_t own = name.find_first_not_of(" _.-:,", y.size());
    return own == name.npos || own == y.size() ? name : name.substr(own);
}

// One y with what belongs to it.
struct CurveColumns {
    ColumnId x;
    std::string name; // of the y; what repeats have in common
    std::vector<RoleBinding> roles;
};

std::vector<CurveColumns> curvesOf(const Table& table) {
    std::vector<CurveColumns> curves;
    const Column* x = nullptr;
    std::string firstX;
    const Column* lastY = nullptr;
    bool hasY = false; // over the present x
    for (const Column& c : table.columns) {
        if (c.role == Role::X && !x) {
            x = &c;
            firstX = nameWithoutNumber(c.name);
        } else if (x && hasY && c.role == Role::Y && !firstX.empty() && nameWithoutNumber(c.name) == firstX &&
                   !(lastY && firstX == nameWithoutNumber(lastY->name))) {
            x = &c;
            hasY = false;
        } else if (c.role == Role::Y) {
            const bool follows = x && hasY;
            if (follows && areReplicates(lastY->name, c.name))
                curves.back().name = nameWithoutNumber(c.name);
            else if (follows && areLetteredReplicates(*lastY, c))
                curves.back().name = nameWithoutLetter(c.name);
            else
                curves.push_back({x ? x->id : ColumnId(), c.name, {}});
            curves.back().roles.push_back({Role::Y, c.id});
            lastY = &c;
            hasY = true;
        } else if (!curves.empty() && hasY &&
                   (c.role == Role::YError || c.role == Role::XError || c.role == Role::Weight ||
                    c.role == Role::Resolution || c.role == Role::Companion))
            curves.back().roles.push_back(
                {c.role, c.id, c.role == Role::Companion ? ownPart(c.name, lastY->name) : std::string()});
    }
    return curves;
}

// A table as it is added, and the attributes that its name gives.
struct Incoming {
    Table table;
    NamedTexts found;
};

void add(Project& project, const Incoming& incoming) {
    Table made = incoming.table;
    made.id = project.newId<TableId>();
    for (Column& c : made.columns) c.id = project.newId<ColumnId>();
    for (Dataset& d : datasetsFromTable(made, made.name, project.datasets.size())) {
        d.id = project.newId<DatasetId>();
        for (const auto& [name, value] : incoming.found) setAttribute(d.attributes, {name, value, {}});
        project.datasets = project.datasets.with(std::move(d));
    }
    project.tables = project.tables.with(std::move(made));
}

} // namespace

bool haveSameShape(const io::ReadResult& a, const io::ReadResult& b) {
    return a.format == b.format && std::ranges::equal(a.tables, b.tables, [](const auto& s, const auto& t) {
               const auto &x = s.table.columns, &y = t.table.columns;
               auto words = [](const Column& c) { // a column without cells could be anything
                   return !c.isNumeric() && !std::ranges::all_of(c.cells->texts, &std::string::empty);
               };
               return x.size() == y.size() &&
                      (std::ranges::equal(x, y, {}, &Column::name, &Column::name) ||
                       std::ranges::equal(
                           x, y, [&](const Column& m, const Column& n) { return words(m) == words(n); }));
           });
}

Edit importEdit(const io::ReadResult& reading, const Settings& told, const std::string& name,
                const ImportPlan& plan) {
    NamedTexts found;
    if (!plan.pattern.empty())
        if (const auto matched = matchPattern(plan.pattern, name); matched && *matched) found = **matched;
    const std::string called = plan.called.empty() ? name : filledTemplate(plan.called, found);
    std::vector<Incoming> all;
    for (std::size_t i = 0; i < reading.tables.size(); ++i) {
        if (!plan.tables.empty() && std::ranges::find(plan.tables, i) == plan.tables.end()) continue;
        Incoming incoming{reading.tables[i].table, found};
        const bool several = reading.tables.size() > 1;
        incoming.table.name = several ? called + " · " + incoming.table.name : called;
        incoming.table.origin.reading = toJson(told).dump();
        all.push_back(std::move(incoming));
    }
    return {"Import " + called, {}, [all](const Project& before) -> Result<Project> {
                Project after = before;
                for (const Incoming& incoming : all) add(after, incoming);
                return after;
            }};
}

namespace {

// A row for each sample of water: two cations and two anions at least, by their names.
bool holdsIons(const std::vector<RoleBinding>& roles) {
    int cations = 0, anions = 0;
    for (const RoleBinding& b : roles)
        if (const waters::Ion* ion = waters::findIon(b.of); ion && ion->charge != 0)
            ++(ion->charge > 0 ? cations : anions);
    return cations > 1 && anions > 1;
}

// A value that several rows share makes groups of them.
bool makesGroups(const Column& words) {
    std::set<std::string> seen;
    return std::ranges::any_of(words.cells->texts,
                               [&](const std::string& t) { return !t.empty() && !seen.insert(t).second; });
}

// Without a number as x: the values of named groups, or one value for each name. One dataset for each y.
std::vector<Dataset> datasetsOverNames(const Table& table, const std::string& name, std::size_t colourIndex) {
    const Column *groups = nullptr, *names = nullptr;
    std::vector<const Column*> ys;
    for (const Column& c : table.columns) {
        if (c.role == Role::Y && c.isNumeric()) ys.push_back(&c);
        if (c.isNumeric()) continue;
        if (!names) names = &c;
        if (!groups && makesGroups(c)) groups = &c;
    }
    if (!names || ys.size() > kMostDatasets) return {};
    std::vector<Dataset> all;
    for (const Column* y : ys) {
        Dataset d =
            datasetFromTable(table, ys.size() > 1 ? name + " · " + y->name : name, colourIndex + all.size());
        d.source.roles = {{Role::Y, y->id}};
        if (groups) {
            d.source.kind = "groups";
            d.source.roles.push_back({Role::Class, groups->id});
        } else
            d.source.roles.push_back({Role::X, names->id});
        all.push_back(std::move(d));
    }
    return all;
}

} // namespace

namespace {

std::vector<const Column*> numericColumns(const Table& table) {
    std::vector<const Column*> out;
    for (const Column& c : table.columns)
        if (c.isNumeric() && !c.isTime()) out.push_back(&c);
    return out;
}

// East and north, x and y: places on a map or in a plane.
bool arePlaces(const Column& first, const Column& second) {
    static const std::pair<const char*, const char*> known[] = {
        {"x", "y"}, {"east", "north"}, {"easting", "northing"}, {"longitude", "latitude"}, {"lon", "lat"}};
    const std::string a = lowerAscii(first.name), b = lowerAscii(second.name);
    return std::ranges::any_of(known, [&](const auto& pair) { return a == pair.first && b == pair.second; });
}

// Three parts in per cent that sum to a hundred in every row.
bool sumToAHundred(const Column& a, const Column& b, const Column& c, std::size_t rows) {
    std::size_t whole = 0;
    for (std::size_t row = 0; row < rows; ++row) {
        const double sum = a.numbers()[row] + b.numbers()[row] + c.numbers()[row];
        if (!std::isfinite(sum)) continue;
        if (std::abs(sum - 100) > 1) return false;
        ++whole;
    }
    return whole >= 3;
}

// What a table of another kind than curves holds, by its headings; empty: curves.
std::string kindByHeadings(const Table& table) {
    if (holdsIons(evaluate::guessedRoles(*evaluate::mappingCatalogue().find("ions"), table))) return "ions";
    const auto columns = numericColumns(table);
    if (columns.size() < 3) return {};
    if (arePlaces(*columns[0], *columns[1]) || arePlaces(*columns[1], *columns[0])) {
        const std::string third = lowerAscii(columns[2]->name);
        if (columns.size() == 4 && third == "u" && lowerAscii(columns[3]->name) == "v") return "vectors";
        const bool plain = lowerAscii(columns[0]->name) == "x"; // x, y and another could be two curves
        if (columns.size() == 3 && (third == "z" || !plain)) return "surface";
    }
    const bool perCent =
        std::ranges::all_of(columns | std::views::take(3), [](const Column* c) { return c->unit == "%"; });
    if (perCent && sumToAHundred(*columns[0], *columns[1], *columns[2], table.rowCount()))
        return "composition";
    return {};
}

} // namespace

std::vector<Dataset> datasetsFromTable(const Table& table, const std::string& name, std::size_t colourIndex) {
    const std::string kind = kindByHeadings(table);
    if (kind.empty()) return curvesFromTable(table, name, colourIndex);
    Dataset d = datasetFromTable(table, name, colourIndex);
    d.source.kind = kind;
    d.source.roles = evaluate::guessedRoles(*evaluate::mappingCatalogue().find(kind), table);
    const auto columns = numericColumns(table);
    if ((kind == "surface" || kind == "vectors") && arePlaces(*columns[1], *columns[0]))
        std::swap(d.source.roles[0].column, d.source.roles[1].column); // north before east
    return {d};
}

std::vector<Dataset> curvesFromTable(const Table& table, const std::string& name, std::size_t colourIndex) {
    auto curves = curvesOf(table);
    const Column* x = nullptr; // may stand behind the first y
    for (const Column& c : table.columns)
        if (c.role == Role::X && c.isNumeric() && !x) x = &c;
    if (!x) return datasetsOverNames(table, name, colourIndex);
    if (curves.size() > kMostDatasets) curves.resize(1);
    std::vector<Dataset> all;
    for (const CurveColumns& curve : curves) {
        const std::string called = curves.size() > 1 ? name + " · " + curve.name : name;
        Dataset d = datasetFromTable(table, called, colourIndex + all.size());
        d.source.roles = {{Role::X, curve.x == ColumnId() ? x->id : curve.x}};
        for (const Column& c : table.columns) // several predictors
            if (d.source.roles[0].column == x->id && c.role == Role::X && c.isNumeric() &&
                c.id != d.source.roles[0].column)
                d.source.roles.push_back({Role::X, c.id});
        std::ranges::copy(curve.roles, std::back_inserter(d.source.roles));
        for (const Column& c : table.columns)
            if (c.role == Role::Label || c.role == Role::Class) d.source.roles.push_back({c.role, c.id});
        all.push_back(std::move(d));
    }
    return all;
}

namespace {

// "logger · level" beside "logger · oxygen" → "level".
std::string ownName(const std::string& name, const std::string& beside) {
    const std::string between = " · ";
    const std::size_t at = name.find(between);
    return at != name.npos && beside.starts_with(name.substr(0, at + between.size()))
               ? name.substr(at + between.size())
               : name;
}

} // namespace

Dataset madeDataset(const Project& project, const std::string& kind, std::vector<DatasetId> inputs) {
    Dataset d;
    const std::pair<const char*, const char*> names[] = {{"function", "function"},
                                                         {"join", "joined"},
                                                         {"plane", "function of x and y"},
                                                         {"flow", "vector field"},
                                                         {"stack", "map"},
                                                         {"cut", "cut"},
                                                         {"changed-field", "changed"},
                                                         {"fitted-surface", "surface"}};
    for (const auto& [key, name] : names)
        if (kind == key) d.name = name;
    const auto first = inputs.empty() ? nullptr : project.datasets.find(inputs[0]);
    const auto second = inputs.size() > 1 ? project.datasets.find(inputs[1]) : nullptr;
    if (first && (kind == "cut" || kind == "changed-field"))
        d.name = first->name + (kind == "cut" ? " · cut" : " · changed");
    if (first && second && kind == "join")
        d.name = second->name + " against " + ownName(first->name, second->name);
    d.colour = figure::palette()[project.datasets.size() % figure::palette().size()];
    d.source.kind = kind;
    d.source.inputs = std::move(inputs);
    return d;
}

Project newProject(std::string title) {
    Project p;
    p.title = std::move(title);
    for (HouseStyle style : figure::shippedStyles()) {
        style.id = p.newId<StyleId>();
        p.styles = p.styles.with(std::move(style));
    }
    return p;
}

} // namespace jointer
