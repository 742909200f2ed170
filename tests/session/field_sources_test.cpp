// SPDX-License-Identifier: GPL-3.0-or-later
// Fields without a table: functions, curves over an attribute, changed fields, cuts, the surface of a fit;
// each against what it is made of, and each with inputs that are gone.
#include "evaluate/fields.h"

#include "evaluate/evaluator.h"
#include "evaluate/sources.h"
#include "project/edit.h"
#include "project/project_json.h"
#include "session/command_project.h"
#include "session/import.h"
#include "steps/step.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::evaluate;
using testing::HasSubstr;

namespace {

class FieldSources : public testing::Test {
protected:
    FieldSources() : p_(newProject("fields")) {}

    void apply(const Edit& edit) {
        auto next = edit.apply(p_);
        ASSERT_TRUE(next) << next.error().text;
        p_ = std::move(*next);
    }
    DatasetId add(const char* kind, std::vector<DatasetId> inputs,
                  std::initializer_list<std::pair<const char*, Value>> settings = {}) {
        Dataset d = madeDataset(p_, kind, std::move(inputs));
        for (const auto& [key, value] : settings) d.source.settings.set(key, value);
        apply(edits::addDataset(std::move(d)));
        return last();
    }
    DatasetId last() const { return p_.datasets[p_.datasets.size() - 1].id; }
    DatasetId plane(const char* expression, double nodes = 21) {
        return add("plane", {},
                   {{"expression", Value(std::string(expression))},
                    {"x-nodes", Value(nodes)},
                    {"y-nodes", Value(nodes)},
                    {"x-range", Value(Numbers{0, 2})},
                    {"y-range", Value(Numbers{-1, 3})}});
    }
    // x, y, z of a table as a surface.
    DatasetId scattered(const std::vector<double>& x, const std::vector<double>& y,
                        const std::vector<double>& z) {
        Table t{.name = "places"};
        t.columns = {numberColumn("x", "m", x), numberColumn("y", "m", y), numberColumn("z", "1/d", z)};
        ColumnChoice choice{.kind = "surface"};
        choice.places = {{"x", "x"}, {"y", "y"}, {"z", "z"}};
        auto made = withDataset(p_, std::move(t), choice, "places");
        EXPECT_TRUE(made);
        if (made) p_ = std::move(*made);
        return last();
    }
    Outcome<fields::FieldPtr> field(DatasetId id) { return evaluator_.field(p_, id); }
    fields::FieldPtr good(DatasetId id) {
        auto f = field(id);
        EXPECT_TRUE(f.issues.empty()) << f.issues.front().text;
        EXPECT_FALSE(f.value->isEmpty());
        return f.value;
    }

    Project p_;
    Evaluator evaluator_;
};

// The same values with x and y exchanged.
fields::Field turned(const fields::Field& f) {
    fields::Field out;
    out.x = f.y;
    out.y = f.x;
    for (std::size_t i = 0; i < f.columns(); ++i)
        for (std::size_t j = 0; j < f.rows(); ++j) out.z.push_back(f.at(i, j));
    return out;
}

} // namespace

TEST_F(FieldSources, AFunctionHasItsValuesAtTheNodes) {
    const auto f = good(plane("x^2 - 3*y"));
    for (std::size_t i = 0; i < f->columns(); ++i)
        for (std::size_t j = 0; j < f->rows(); ++j)
            EXPECT_NEAR(f->at(i, j), f->x[i] * f->x[i] - 3 * f->y[j], 1e-12);
    EXPECT_EQ(f->x.front(), 0);
    EXPECT_EQ(f->y.back(), 3);
    EXPECT_THAT(field(plane("x + w")).issues.at(0).text, HasSubstr("x and y"));
}

TEST_F(FieldSources, VectorsOfTwoExpressions) {
    const DatasetId id =
        add("flow", {},
            {{"u-expression", Value(std::string("y"))}, {"v-expression", Value(std::string("-2*x"))}});
    const auto c = evaluator_.measured(p_, id).value;
    ASSERT_EQ(c->size(), 441U);
    for (std::size_t k = 0; k < c->size(); ++k) {
        EXPECT_NEAR(c->more[1][k], c->more[0][k], 1e-12);
        EXPECT_NEAR(c->more[2][k], -2 * c->x[k], 1e-12);
        EXPECT_NEAR(c->y[k], std::hypot(c->more[1][k], c->more[2][k]), 1e-12);
    }
}

TEST_F(FieldSources, CurvesAreTheRowsOfAMapInOrderOfAnAttribute) {
    std::vector<DatasetId> curves;
    for (const double age : {9.0, 1.0, 4.0}) {
        const DatasetId id =
            add("function", {},
                {{"expression", Value("x*" + std::to_string(age))}, {"range", Value(Numbers{0, 10})}});
        apply(edits::changeDataset(id, "Attribute", [age](Dataset& d) {
            d.attributes = {{"age", std::to_string(age), "d"}};
        }));
        curves.push_back(id);
    }
    const auto f = good(add("stack", curves, {{"attribute", Value(std::string("age"))}}));
    EXPECT_EQ(f->y, (std::vector<double>{1, 4, 9}));
    EXPECT_EQ(f->yMeaning.unit, "d");
    for (std::size_t i = 0; i < f->columns(); ++i)
        for (std::size_t j = 0; j < 3; ++j) EXPECT_NEAR(f->at(i, j), f->x[i] * f->y[j], 1e-9);
}

TEST_F(FieldSources, ChangedFieldsAreWhatTheyAreMadeOf) {
    const DatasetId even = plane("4"), tilted = plane("2 + x - 5*y"), bent = plane("sin(3*x)*cos(y)");
    const auto change = [&](DatasetId of, const char* how) {
        return good(add("changed-field", {of}, {{"change", Value(std::string(how))}}));
    };
    for (const double z : change(even, "smooth")->z) EXPECT_NEAR(z, 4, 1e-12);
    for (const double z : change(tilted, "trend")->z) EXPECT_NEAR(z, 0, 1e-9);
    const auto coarse = good(bent), fine = change(bent, "refine");
    for (std::size_t i = 0; i < coarse->columns(); ++i)
        for (std::size_t j = 0; j < coarse->rows(); ++j)
            EXPECT_NEAR(fields::valueAt(*fine, coarse->x[i], coarse->y[j]), coarse->at(i, j), 1e-12);
}

// Each line loses the baseline that the step of that name finds for it, along x and along y.
TEST_F(FieldSources, BaselinesOfLinesAreThoseOfTheStep) {
    const DatasetId of = plane("exp(-((x-1)/0.1)^2)*(2+y) + 0.5*x + 0.3*x^2 + y", 61);
    const auto before = good(of);
    for (const char* along : {"x", "y"})
        for (const char* method : {"als", "polynomial", "snip", "rolling-ball", "arpls"}) {
            const auto after = good(add("changed-field", {of},
                                        {{"change", Value(std::string("baseline"))},
                                         {"along", Value(std::string(along))},
                                         {"method", Value(std::string(method))},
                                         {"smoothness", Value(1e3)},
                                         {"baseline-degree", Value(2.0)},
                                         {"radius", Value(12.0)}}));
            const bool alongX = *along == 'x';
            const fields::Field from = alongX ? *before : turned(*before),
                                to = alongX ? *after : turned(*after);
            Settings how;
            how.set("method", std::string(method));
            how.set("smoothness", 1e3);
            how.set("degree", 2.0);
            how.set("radius", 12.0);
            for (const std::size_t row : {0U, 17U, 60U}) {
                Curve line;
                line.x = from.x;
                for (std::size_t i = 0; i < from.columns(); ++i) line.y.push_back(from.at(i, row));
                const steps::DatasetFacts facts;
                const auto wanted =
                    steps::catalogue().find("baseline")->apply({line, how, facts, {}}).value.curve;
                for (std::size_t i = 0; i < from.columns(); ++i)
                    EXPECT_NEAR(to.at(i, row), wanted.y[i], 1e-12) << along << method << row;
            }
        }
}

TEST_F(FieldSources, ACutFollowsItsField) {
    const DatasetId of = plane("3*x + y");
    const DatasetId cut = add("cut", {of}, {{"along", Value(std::string("x-at"))}, {"at", Value(0.5)}});
    const auto before = evaluator_.measured(p_, cut).value;
    ASSERT_EQ(before->size(), 200U);
    for (std::size_t k = 0; k < before->size(); ++k) EXPECT_NEAR(before->y[k], 1.5 + before->x[k], 1e-9);
    apply(edits::changeDataset(of, "Function",
                               [](Dataset& d) { d.source.settings.set("expression", std::string("10*y")); }));
    const auto after = evaluator_.measured(p_, cut).value;
    for (std::size_t k = 0; k < after->size(); ++k) EXPECT_NEAR(after->y[k], 10 * after->x[k], 1e-9);
}

// The surface of a fit through points without errors is the function; it follows the points, and says what it
// lacks once the fit is gone.
TEST_F(FieldSources, TheSurfaceOfAFitFollowsIt) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> share(0, 1);
    std::vector<double> x, y, z;
    const auto truth = [](double a, double b, double height) {
        return height * std::exp(-std::pow((a - 3) / 2, 2)) + 0.5 * b;
    };
    for (int k = 0; k < 60; ++k) {
        x.push_back(6 * share(random));
        y.push_back(4 * share(random));
        z.push_back(truth(x.back(), y.back(), 2));
    }
    const DatasetId points = scattered(x, y, z);
    Analysis fit{.name = "Hump", .inputs = {{.dataset = points}}};
    fit.model.kind = "equation";
    fit.model.settings.set("equation", std::string("A*exp(-((x1 - c)/w)^2) + b*x2"));
    for (const auto& [name, start] :
         {std::pair("A", 1.5), std::pair("c", 2.5), std::pair("w", 1.5), std::pair("b", 0.2)})
        fit.parameters.push_back({.name = name, .start = start});
    apply(edits::addAnalysis(std::move(fit)));
    const AnalysisId id = p_.analyses[p_.analyses.size() - 1].id;
    const DatasetId surface = add("fitted-surface", {}, {{"fit", Value(Reference{id.text()})}});
    const auto f = good(surface);
    EXPECT_EQ(f->x.front(), *std::ranges::min_element(x)) << "where it rests on points";
    EXPECT_EQ(f->y.back(), *std::ranges::max_element(y));
    EXPECT_EQ(f->yMeaning.name, "y");
    EXPECT_EQ(f->zMeaning.unit, "1/d");
    for (std::size_t i = 0; i < f->columns(); ++i)
        for (std::size_t j = 0; j < f->rows(); ++j)
            EXPECT_NEAR(f->at(i, j), truth(f->x[i], f->y[j], 2), 1e-6);
    for (const char* what : {"confidence", "prediction"}) {
        const auto band = good(add("fitted-surface", {},
                                   {{"fit", Value(Reference{id.text()})},
                                    {"what", Value(std::string(what))},
                                    {"x-range", Value(Numbers{0, 9})},
                                    {"x-nodes", Value(10.0)}}));
        EXPECT_EQ(band->columns(), 10U);
        EXPECT_EQ(band->x.back(), 9);
        for (const double half : band->z) EXPECT_GE(half, 0);
    }
    // Reopened, it is the same.
    Project again = projectFromJson(toJson(p_));
    again.tables = p_.tables;
    EXPECT_EQ(Evaluator().field(again, surface).value->z, f->z);
    auto higher = z;
    for (std::size_t k = 0; k < z.size(); ++k) higher[k] = truth(x[k], y[k], 3);
    const TableId table = p_.datasets.find(points)->source.table;
    Table changed = *p_.tables.find(table);
    changed.columns[2] = [&] {
        Column c = numberColumn("z", "1/d", higher);
        c.id = changed.columns[2].id;
        return c;
    }();
    p_.tables = p_.tables.with(std::move(changed));
    EXPECT_NEAR(fields::valueAt(*good(surface), 3, 2), truth(3, 2, 3), 1e-2);
    apply(edits::removeAnalysis(id));
    const auto without = field(surface);
    EXPECT_TRUE(without.value->isEmpty());
    EXPECT_THAT(without.issues.at(0).text, HasSubstr("needs a fit"));
}

TEST_F(FieldSources, WithoutWhatTheyNeedTheySaySo) {
    const DatasetId curve = add("function", {});
    for (const auto& kind : sourceCatalogue()) {
        if (!kind.field) continue;
        const DatasetId bare = add(kind.info.key.c_str(), {});
        const auto f = field(bare);
        EXPECT_TRUE(!f.value->isEmpty() || !f.issues.empty()) << kind.info.key;
        if (kind.inputs == 0 || kind.info.key == "stack") continue;
        const auto of = field(add(kind.info.key.c_str(), {curve}));
        EXPECT_FALSE(of.issues.empty()) << kind.info.key << " of a curve";
        // Of itself.
        const DatasetId loop = add(kind.info.key.c_str(), {curve});
        Dataset d = *p_.datasets.find(loop);
        d.source.inputs = {loop};
        p_.datasets = p_.datasets.with(std::move(d));
        EXPECT_FALSE(field(loop).issues.empty()) << kind.info.key << " of itself";
    }
}
