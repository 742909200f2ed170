// SPDX-License-Identifier: GPL-3.0-or-later
// The project: one immutable value of specifications and raw columns. Its parts are shared, so that a copy
// costs next to nothing; an edit makes a new project. Nothing is computed here. Thread-safe to read.
#pragma once

#include "base/ids.h"
#include "data/table.h"
#include "describe/settings.h"

#include <algorithm>
#include <limits>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace jointer {

// Ordered parts with ids, shared between copies of a project.
template <class T> class Parts {
public:
    using IdType = decltype(T::id);
    using Pointer = std::shared_ptr<const T>;

    std::size_t size() const { return items_->size(); }
    bool empty() const { return items_->empty(); }
    auto begin() const { return items_->begin(); }
    auto end() const { return items_->end(); }
    const T& operator[](std::size_t i) const { return *(*items_)[i]; }

    Pointer find(IdType id) const {
        const auto at = std::ranges::find(*items_, id, [](const Pointer& p) { return p->id; });
        return at == items_->end() ? nullptr : *at;
    }
    Parts with(T part) const { // replaces the part of the same id, or appends
        auto items = std::make_shared<std::vector<Pointer>>(*items_);
        const auto at = std::ranges::find(*items, part.id, [](const Pointer& p) { return p->id; });
        auto made = std::make_shared<const T>(std::move(part));
        if (at == items->end())
            items->push_back(std::move(made));
        else
            *at = std::move(made);
        return Parts(std::move(items));
    }
    Parts without(IdType id) const {
        auto items = std::make_shared<std::vector<Pointer>>(*items_);
        std::erase_if(*items, [&](const Pointer& p) { return p->id == id; });
        return Parts(std::move(items));
    }
    Parts() = default;
    bool operator==(const Parts& o) const {
        return items_ == o.items_ ||
               std::ranges::equal(*items_, *o.items_,
                                  [](const Pointer& a, const Pointer& b) { return a == b || *a == *b; });
    }

private:
    explicit Parts(std::shared_ptr<const std::vector<Pointer>> items) : items_(std::move(items)) {}
    std::shared_ptr<const std::vector<Pointer>> items_ = std::make_shared<std::vector<Pointer>>();
};

struct RoleBinding {
    Role role = Role::None;
    ColumnId column;
    std::string of{};    // what a component or companion is: "Ca", "fit"
    std::string extra{}; // members of newer versions, kept as JSON; as in all parts below
    bool operator==(const RoleBinding&) const = default;
};

// Where the points of a dataset come from. Kinds over the columns of a table, by their roles: "columns" a
// curve, "surface" x, y and z, "grid" one column for each x with y in its own, "groups" lists of numbers,
// "ions" and "composition" amounts of components. "function": an expression in x over a range; "join": two
// datasets by x.
struct DatasetSource {
    std::string kind = "columns";
    TableId table;
    std::vector<RoleBinding> roles;
    std::vector<DatasetId> inputs;
    Settings settings; // "uncertainty": none | column | fraction | counting | constant | sd | sem; "amount"
    std::string extra{};
    bool operator==(const DatasetSource&) const = default;
};

struct Attribute {
    std::string name, value, unit;
    std::string extra{};
    bool operator==(const Attribute&) const = default;
};

struct Step {
    StepId id;
    std::string kind;
    Settings settings;
    bool on = true;
    std::string extra{};
    bool operator==(const Step&) const = default;
};

struct Dataset {
    DatasetId id;
    std::string name;
    std::string colour; // "#rrggbb"
    DatasetSource source;
    std::vector<Attribute> attributes;
    std::vector<Step> protocol;
    std::string extra;
    RecipeId recipe{}; // by which it was made

    const Step* find(StepId step) const; // nullptr: not in the protocol
    Step* find(StepId step) { return const_cast<Step*>(std::as_const(*this).find(step)); }
    std::optional<std::size_t> placeOf(StepId step) const; // in the protocol
    bool operator==(const Dataset&) const = default;
};

// A node of a model tree: a model by its key ("equation" has its text in the settings), or "sum" and
// "product" over children. Parts have numbers that are never reused while the model lasts.
struct ModelNode {
    std::string kind;
    Settings settings;
    std::vector<ModelNode> children;
    int component = 0; // its number among the parts of a composed model; 0: the model is one piece
    std::string extra{};
    bool operator==(const ModelNode&) const = default;
};

// How a parameter is treated: fitted, kept, one value for several datasets, computed from others.
enum class Treatment { Free, Fixed, Shared, Tied };
std::string_view treatmentKey(Treatment treatment); // "free"…, as files hold it
Treatment treatmentFromKey(std::string_view key);   // anything else is free

struct ParameterChoice {
    std::string name;   // as the model calls it; of a part: "centre_2"
    DatasetId member{}; // the one dataset that it is said of; none: all of the analysis
    Treatment treatment = Treatment::Free;
    std::optional<double> start;
    double lower = -std::numeric_limits<double>::infinity();
    double upper = std::numeric_limits<double>::infinity();
    std::string tie;
    std::string extra{};
    bool operator==(const ParameterChoice&) const = default;
};

// A point of a protocol at which its curve is taken: as measured, at the end with or without the steps that
// smooth, or after a step.
struct CurvePoint {
    enum class Place { Measured, BeforeSmoothing, End, AfterStep };
    Place place = Place::BeforeSmoothing;
    StepId step{}; // of AfterStep

    std::string text() const; // "measured", "before-smoothing", "end", or the id of a step, as files hold it
    static CurvePoint fromText(std::string_view text); // anything else is the end
    bool operator==(const CurvePoint&) const = default;
};

// Pieces of x, or all that lies outside of them. Without a piece: everything.
struct Span {
    std::vector<std::pair<double, double>> pieces{};
    bool outside = false;

    Span() = default;
    Span(double low, double high) : pieces{{low, high}} {}
    bool isAll() const { return pieces.empty(); }
    bool takes(double x) const;
    // The ends of all pieces together; infinite where it is open.
    double low() const;
    double high() const;
    bool operator==(const Span&) const = default;
};

// One dataset as an analysis takes it.
struct AnalysisInput {
    DatasetId dataset;
    CurvePoint point{};
    Span span{};
    Settings weights{}; // "weights": none | relative | absolute | 1/y…
    std::string extra{};
    bool operator==(const AnalysisInput&) const = default;
};

struct Analysis {
    AnalysisId id;
    std::string kind = "fit";
    std::string name;
    std::vector<AnalysisInput> inputs;
    std::vector<AnalysisId> analyses{}; // that it takes
    ModelNode model{};
    std::vector<ParameterChoice> parameters{};
    Settings settings{}; // "level", "iterations"
    std::string extra{};

    bool takes(DatasetId dataset) const; // as one of its inputs
    bool operator==(const Analysis&) const = default;
};

// Anything on a figure: panels, axes, marks, legends, notes. What it draws comes from `source` ("d3" a
// dataset, "a4" an analysis); what differs from the house style is in the settings.
struct Element {
    ElementId id;
    std::string kind;
    std::string source;
    Settings settings;
    std::vector<Element> children;
    std::string extra{};
    bool operator==(const Element&) const = default;

    const Element* find(ElementId wanted) const; // itself or below
};

struct Figure {
    FigureId id;
    std::string name;
    StyleId style;
    Settings settings; // "width", "height" in mm…
    std::vector<Element> elements;
    std::string extra;
    bool operator==(const Figure&) const = default;

    const Element* find(ElementId wanted) const;
};

struct HouseStyle {
    StyleId id;
    std::string name;
    std::map<std::string, Settings> looks; // by kind of element
    std::string extra;
    bool operator==(const HouseStyle&) const = default;
};

// An equation of one's own, kept to be used again.
struct UserModel {
    UserModelId id;
    std::string name;
    std::string equation;
    std::string purpose;
    std::string starts{}; // rules for start values
    std::string extra{};
    bool operator==(const UserModel&) const = default;
};

// What a recipe takes: the dataset among its parts whose place another one takes.
struct RecipeInput {
    std::string name; // "data", "reference"
    DatasetId dataset;
    std::string extra{};
    bool operator==(const RecipeInput&) const = default;
};

struct Project;

// The way from a file to its results, without the data: parts of a project with ids of their own, whose
// tables have columns and how they are read, but no rows.
struct Recipe {
    RecipeId id;
    std::string name;
    std::string purpose{};
    std::vector<RecipeInput> inputs{}; // the first is the one that differs from run to run
    Settings settings{};               // session/recipes.h
    std::shared_ptr<const Project> parts{};
    std::string extra{};
    bool operator==(const Recipe&) const;
};

// A drawing or a picture from elsewhere, as it came, and what is drawn of it (draw/artwork.h).
struct Asset {
    AssetId id;
    std::string name, type; // of the file; "image/svg+xml", "application/pdf", "image/png"…
    std::shared_ptr<const std::string> bytes;
    std::shared_ptr<const std::string> drawing{}; // made once, when it was placed; none: the bytes themselves
    std::string note{};                           // what was lost in that
    std::string extra{};

    const std::string& drawn() const { return drawing ? *drawing : *bytes; }
    bool operator==(const Asset& o) const {
        return id == o.id && name == o.name && type == o.type && note == o.note && extra == o.extra &&
               *bytes == *o.bytes && drawn() == o.drawn();
    }
};

struct Project {
    std::string title;
    Parts<Table> tables;
    Parts<Dataset> datasets;
    Parts<Analysis> analyses;
    Parts<Figure> figures;
    Parts<HouseStyle> styles;
    Parts<UserModel> models;
    Parts<Asset> assets;
    Parts<Recipe> recipes;
    std::uint64_t nextId = 1; // for ids of every type; never reused
    std::string extra;
    std::map<std::string, std::string> unknownEntries; // of the file, kept as they are

    bool operator==(const Project& other) const;
    template <class IdType> IdType newId() { return IdType{nextId++}; }
};

// The highest id in use, of any type.
std::uint64_t highestId(const Project& project);

// The analyses that take the dataset, in order.
std::vector<std::shared_ptr<const Analysis>> analysesOf(const Project& project, DatasetId dataset);

} // namespace jointer
