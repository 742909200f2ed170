// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/classes.h"

#include "base/text.h"
#include "draw/markup.h"
#include "figure/scales/linear.h"
#include "stats/summary.h"

#include <cmath>
#include <fmt/format.h>
#include <unordered_map>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr std::size_t kGradientSteps = 128, kSizeSteps = 24, kMostClasses = 1000;
const Colour kNoClass{150, 150, 150, 255};

// What is said by hand of a class: own rows first, then those of the house style that no own row names.
std::vector<Settings> handRows(const MarkTask& task) {
    std::vector<Settings> rows = task.look.own().rows("classes");
    for (const Settings& row : task.look.styleRows("classes"))
        if (std::ranges::none_of(rows, [&](const Settings& r) { return r.text("name") == row.text("name"); }))
            rows.push_back(row);
    return rows;
}

struct Hands {
    std::vector<Settings> rows;

    const Settings* find(const std::string& name) const {
        const auto at = std::ranges::find_if(rows, [&](const Settings& r) { return r.text("name") == name; });
        return at == rows.end() ? nullptr : &*at;
    }
    std::size_t placeOf(const std::string& name) const {
        return static_cast<std::size_t>(
            std::ranges::find_if(rows, [&](const Settings& r) { return r.text("name") == name; }) - rows.begin());
    }
    struct Given {
        bool colour = true, shape = true, size = true;
    };
    void give(const std::string& name, SymbolClass& to, const Given& what) const {
        const Settings* row = find(name);
        if (!row) return;
        if (const std::string own = row->text("colour"); what.colour && !own.empty()) to.colour = Colour::fromText(own);
        if (const std::string own = row->text("symbol"); what.shape && !own.empty()) to.shape = shapeOf(own);
        if (what.size && row->has("size") && row->number("size", 0) > 0) to.sizeMm = row->number("size", 0) * kMmPerPt;
        if (const std::string own = row->text("label"); !own.empty()) to.label = own;
        to.hidden = row->flag("hidden", false);
    }
};

// A column in the order of the points: words, and numbers where it has them.
struct Beside {
    std::string name, unit;
    std::vector<std::string> words; // empty where it is one of numbers
    std::vector<double> numbers;
    bool isNumeric = false;
};

std::optional<Beside> besideOf(const MarkTask& task, const Dataset& dataset, const Curve& curve,
                               const std::string& reference, std::vector<Issue>& issues) {
    const auto id = ColumnId::fromText(reference);
    if (!id) return {};
    const auto shared = task.project.tables.find(dataset.source.table);
    const Column* named = shared ? shared->find(id) : nullptr;
    if (!named) {
        issues.push_back({"no-column",
                          fmt::format("A column that tells the points of “{}” apart is not in its table any more.",
                                      dataset.name),
                          {}});
        return {};
    }
    Beside out{.name = named->name, .unit = named->unit, .isNumeric = named->isNumeric() && !named->isTime()};
    if (out.isNumeric) {
        out.numbers = columnBeside(task, dataset, curve, reference);
        return out;
    }
    const Table table = task.evaluator.table(task.project, dataset.source.table).value;
    const Column& column = *table.find(id);
    for (const std::size_t row : rowsOf(table, curve)) {
        std::string word = row < column.cells->size() ? plainCellText(column, row) : "";
        out.words.push_back(word == "–" ? "" : std::move(word));
    }
    return out;
}

// Names in the order of the rows by hand, then as they appear.
std::vector<std::string> namesIn(const std::vector<std::string>& words, const Hands& hands) {
    std::vector<std::string> names;
    std::unordered_map<std::string_view, bool> seen;
    for (const std::string& w : words)
        if (!w.empty() && seen.try_emplace(w, true).second) names.push_back(w);
    std::ranges::stable_sort(names, {}, [&](const std::string& n) { return hands.placeOf(n); });
    return names;
}

std::string stepLabel(double low, double high, bool first, bool last) {
    const auto number = [](double v) { return readableNumber(v, 4); };
    if (first && last) return "all";
    if (first) return "< " + number(high);
    if (last) return "≥ " + number(low);
    return number(low) + " – " + number(high);
}

// Numbers as words: the step that each lies in.
std::vector<std::string> inSteps(const std::vector<double>& numbers, const std::vector<double>& limits,
                                 std::vector<std::string>& names) {
    const std::size_t steps = limits.size() - 1;
    for (std::size_t k = 0; k < steps; ++k)
        names.push_back(stepLabel(limits[k], limits[k + 1], k == 0, k + 1 == steps));
    std::vector<std::string> words;
    for (const double v : numbers) {
        if (!std::isfinite(v)) {
            words.emplace_back();
            continue;
        }
        const auto above = std::upper_bound(limits.begin() + 1, limits.end() - 1, v);
        words.push_back(names[static_cast<std::size_t>(above - limits.begin() - 1)]);
    }
    return words;
}

std::vector<std::uint16_t> placesOf(const std::vector<std::string>& words, const std::vector<std::string>& names) {
    std::unordered_map<std::string_view, std::uint16_t> place;
    for (std::size_t k = 0; k < names.size(); ++k) place.emplace(names[k], static_cast<std::uint16_t>(k));
    std::vector<std::uint16_t> out;
    out.reserve(words.size());
    const auto none = static_cast<std::uint16_t>(names.size());
    for (const std::string& w : words) {
        const auto at = place.find(w);
        out.push_back(at == place.end() ? none : at->second);
    }
    return out;
}

bool wantsGradient(const Look& look, const Beside& column) {
    return column.isNumeric && look.text("colour-how") != "steps";
}

std::vector<std::string> wordsFor(const Beside& column, const Look& look, const Hands& hands,
                                  std::vector<std::string>& names) {
    if (!column.isNumeric) {
        names = namesIn(column.words, hands);
        return column.words;
    }
    return inSteps(column.numbers,
                   stepLimits(column.numbers, look.text("step-rule"), look.integer("step-count"), look.numbers("step-limits")),
                   names);
}

} // namespace

std::vector<double> stepLimits(std::vector<double> values, std::string_view rule, int count, const Numbers& typed) {
    std::erase_if(values, [](double v) { return !std::isfinite(v); });
    if (values.empty()) return {0, 1};
    std::ranges::sort(values);
    std::vector<double> inner;
    const int steps = std::clamp(count, 1, 50);
    if (!typed.empty())
        inner = typed;
    else if (rule == "counts")
        for (int k = 1; k < steps; ++k) inner.push_back(stats::quantile(values, static_cast<double>(k) / steps));
    else
        for (const Tick& t : evenTicks({values.front(), values.back()}, {.about = steps}))
            if (t.major) inner.push_back(t.value);
    std::erase_if(inner, [](double v) { return !std::isfinite(v); });
    std::ranges::sort(inner);
    inner.erase(std::ranges::unique(inner).begin(), inner.end());
    if (typed.empty()) std::erase_if(inner, [&](double v) { return v <= values.front() || v > values.back(); });
    std::vector<double> out{std::min(values.front(), inner.empty() ? values.front() : inner.front())};
    std::ranges::copy_if(inner, std::back_inserter(out), [&](double v) { return v > out.front(); });
    const double end = values.back();
    out.push_back(end > out.back() ? end : out.back() + 1);
    return out;
}

// Makes the classes of one mark, aspect by aspect.
class ClassMaker {
public:
    ClassMaker(const MarkTask& task, const Dataset& dataset, const Curve& curve, std::vector<Issue>& issues)
        : task_(task), look_(task.look), dataset_(dataset), curve_(curve), issues_(issues), hands_{handRows(task)},
          byColour_(look_.reference("colour-by")), byShape_(look_.reference("symbol-by")),
          bySize_(look_.reference("size-by")) {}

    std::shared_ptr<const Classes> run() {
        if (byColour_.empty() && byShape_.empty() && bySize_.empty()) return nullptr;
        if (const auto column = beside(byColour_))
            wantsGradient(look_, *column) ? gradient(*column) : colours(*column);
        if (const auto column = beside(byShape_)) shapes(*column);
        if (const auto column = beside(bySize_); column && column->isNumeric) sizes(*column);
        listRows();
        return std::make_shared<const Classes>(std::move(made_));
    }

private:
    using Aspect = Classes::Aspect;

    std::optional<Beside> beside(const std::string& reference) {
        return besideOf(task_, dataset_, curve_, reference, issues_);
    }

    void gradient(const Beside& column) {
        Aspect& a = made_.colour_;
        auto scale = colourScaleFor(look_, column.numbers);
        if (!scale) return;
        scale->name = column.name;
        scale->unit = column.unit;
        for (std::size_t k = 0; k < kGradientSteps; ++k)
            a.classes.push_back({.colour = mapped(scale->map, static_cast<double>(k) / (kGradientSteps - 1))});
        for (const double v : column.numbers) a.of.push_back(stepAt(scale->share(v), kGradientSteps));
        a.classes.push_back({.label = "–", .colour = kNoClass});
        made_.gradient_ = std::move(scale);
    }

    void colours(const Beside& column) {
        Aspect& a = made_.colour_;
        const auto names = divide(column, a);
        const auto& own = palette(task_.palette);
        for (std::size_t k = 0; k < names.size(); ++k) {
            const double t = names.size() > 1 ? static_cast<double>(k) / static_cast<double>(names.size() - 1) : 0.5;
            const Colour mappedTo = mapped(look_.text("map"), look_.flag("map-reversed") ? 1 - t : t);
            a.classes.push_back(
                {.label = literal(names[k]),
                 .colour = column.isNumeric ? mappedTo : Colour::fromText(own[k % own.size()]),
                 .name = names[k]});
            hands_.give(names[k], a.classes.back(), {.shape = byShape_.empty() || byShape_ == byColour_,
                                                     .size = bySize_.empty()});
        }
        a.classes.push_back({.label = "–", .colour = kNoClass});
    }

    void shapes(const Beside& column) {
        Aspect& a = made_.shape_;
        const auto names = divide(column, a);
        for (std::size_t k = 0; k < names.size(); ++k) {
            a.classes.push_back(
                {.label = literal(names[k]), .shape = shapeOf(symbolAt(k)), .name = names[k]});
            if (made_.gradient_) rowInk_ = task_.ink; // the colours say something else
            hands_.give(names[k], a.classes.back(), {.colour = byColour_.empty(), .size = bySize_.empty()});
        }
        a.classes.push_back({.label = "–", .shape = SymbolShape::Dash});
    }

    // Areas grow evenly with the number.
    void sizes(const Beside& column) {
        Aspect& a = made_.size_;
        const double from = look_.number("size-from") * kMmPerPt, to = look_.number("size-to") * kMmPerPt;
        std::vector<double> values = column.numbers;
        std::erase_if(values, [](double v) { return !std::isfinite(v); });
        if (values.empty()) return;
        const auto [low, high] = std::ranges::minmax(values);
        const auto sizeAt = [&](double t) { return std::sqrt(std::lerp(from * from, to * to, t)); };
        for (std::size_t k = 0; k < kSizeSteps; ++k)
            a.classes.push_back({.sizeMm = sizeAt(static_cast<double>(k) / (kSizeSteps - 1))});
        a.classes.push_back({.sizeMm = 0.5 * from});
        for (const double v : column.numbers)
            a.of.push_back(stepAt(high > low ? (v - low) / (high - low) : v - v + 0.5, kSizeSteps));
        const std::string unit = column.unit.empty() ? "" : "\u2009" + literal(column.unit);
        for (const double t : {0.0, 0.5, 1.0})
            sizeRows_.push_back(
                {.label = literal(column.name) + " " + readableNumber(std::lerp(low, high, t), 3) + unit,
                 .sizeMm = sizeAt(t)});
    }

    // The classes that points of a column are in; their names.
    std::vector<std::string> divide(const Beside& column, Aspect& into) {
        std::vector<std::string> names;
        const auto words = wordsFor(column, look_, hands_, names);
        if (names.size() > kMostClasses) names.resize(kMostClasses);
        into.of = placesOf(words, names);
        return names;
    }

    static std::uint16_t stepAt(double share, std::size_t steps) {
        return static_cast<std::uint16_t>(
            std::isfinite(share) ? std::lround(share * static_cast<double>(steps - 1)) : static_cast<long>(steps));
    }

    // Rows of the legend: classes of colours, then of shapes; where both are by one column, a row has both.
    void listRows() {
        auto& rows = made_.named_;
        const auto add = [&](const Aspect& a) {
            for (std::size_t k = 0; k < a.classes.size(); ++k) {
                const bool needed = k + 1 < a.classes.size() || anyIsOf(a, k);
                if (!a.classes[k].label.empty() && needed) rows.push_back(a.classes[k]);
            }
        };
        add(made_.colour_);
        if (!byColour_.empty() && byColour_ == byShape_ && !made_.gradient_)
            for (SymbolClass& row : rows) {
                const auto same = std::ranges::find(made_.shape_.classes, row.label, &SymbolClass::label);
                if (same != made_.shape_.classes.end()) row.shape = same->shape;
            }
        else
            add(made_.shape_);
        for (const SymbolClass& row : rows) {
            if (row.hidden) continue;
            made_.legend_.push_back(row);
            if (!row.colour && rowInk_) made_.legend_.back().colour = rowInk_;
        }
        std::erase_if(rows, [](const SymbolClass& c) { return c.name.empty(); });
        std::ranges::move(sizeRows_, std::back_inserter(made_.legend_));
    }

    bool anyIsOf(const Aspect& a, std::size_t k) const { // of the points that have a place
        for (std::size_t i = 0; i < std::min(a.of.size(), curve_.size()); ++i)
            if (a.of[i] == k && std::isfinite(curve_.y[i])) return true;
        return false;
    }

    const MarkTask& task_;
    const Look& look_;
    const Dataset& dataset_;
    const Curve& curve_;
    std::vector<Issue>& issues_;
    Hands hands_;
    std::string byColour_, byShape_, bySize_;
    std::vector<SymbolClass> sizeRows_;
    std::optional<Colour> rowInk_;
    Classes made_;
};

std::shared_ptr<const Classes> Classes::of(const MarkTask& task, const Dataset& dataset, const Curve& curve,
                                           std::vector<Issue>& issues) {
    return ClassMaker(task, dataset, curve, issues).run();
}

std::optional<Classes::Key> Classes::keyOf(std::size_t i) const {
    Key key;
    for (const auto& [aspect, member] : {std::pair(&colour_, &Key::colour), std::pair(&shape_, &Key::shape),
                                         std::pair(&size_, &Key::size)}) {
        if (aspect->classes.empty()) continue;
        const auto last = static_cast<std::uint16_t>(aspect->classes.size() - 1);
        key.*member = i < aspect->of.size() ? std::min(aspect->of[i], last) : last;
        if (aspect->classes[key.*member].hidden) return {};
    }
    return key;
}

Symbols Classes::symbols(const Key& key, const SymbolLook& look, Colour colour) const {
    SymbolLook own = look;
    const auto take = [&](const SymbolClass& c) {
        if (c.colour) colour = *c.colour;
        if (c.shape) own.shape = *c.shape;
        if (c.sizeMm) own.sizeMm = *c.sizeMm;
    };
    if (!colour_.classes.empty()) take(colour_.classes[key.colour]);
    if (!shape_.classes.empty()) take(shape_.classes[key.shape]);
    if (!size_.classes.empty()) take(size_.classes[key.size]);
    return own.symbols(colour);
}

std::vector<std::string> Classes::labels() const {
    std::vector<std::string> labels;
    for (const SymbolClass& c : legend_) labels.push_back(c.label);
    return labels;
}

Symbols Classes::keySymbols(std::size_t k, SymbolLook look, Colour colour, Rect box) const {
    const SymbolClass& c = legend_[k];
    if (c.shape) look.shape = *c.shape;
    if (c.sizeMm) look.sizeMm = *c.sizeMm;
    Symbols s = look.symbols(c.colour.value_or(colour));
    s.places = {{box.x + box.width / 2, box.y + box.height / 2}};
    return s;
}

Colour Classes::colourOf(const Key& key, Colour otherwise) const {
    return colour_.classes.empty() ? otherwise : colour_.classes[key.colour].colour.value_or(otherwise);
}

} // namespace jointer::figure
