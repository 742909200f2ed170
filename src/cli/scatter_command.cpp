// SPDX-License-Identifier: GPL-3.0-or-later
// `scatter`: a model of scattering fitted to I(q), or its curve alone.
#include "base/text.h"
#include "cli/fit_command.h"
#include "models/scattering/particles.h"
#include "models/scattering/seen_curve.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

class ScatterCommand final : public FitCommand {
public:
    std::string name() const override { return "scatter"; }
    std::string purpose() const override { return "Fit small-angle scattering, or compute its curve"; }

    void declare(CLI::App& app) override {
        ColumnCommand::declare(app);
        app.get_option("--y")->required(false);
        app.add_option("--dq", order_.resolution, "Column of the resolution, as standard deviations of q");
        app.add_option("--resolution", resolution_, "One standard deviation of q for all points");
        app.add_option("--slit", slit_, "Half-length of a slit, in q");
        app.add_option("--form", form_,
                       "sphere, core-shell, hollow-sphere, ellipsoid, cylinder, disc, bilayer, "
                       "chain, guinier, guinier-porod, q-power-law, correlation-length");
        app.add_option("--distribution", distribution_,
                       "none, gaussian, lognormal, schulz, weibull, uniform");
        app.add_option("--weighting", weighting_, "number, volume");
        app.add_option("--structure", structure_, "none, hard-sphere, sticky-hard-sphere");
        app.add_option("--coupling", coupling_, "decoupled, local");
        app.add_option("--interaction-radius", interactionRadius_,
                       "Radius of the interaction, held; else that of the particles");
        app.add_option("--interaction-fraction", interactionFraction_,
                       "Volume fraction of the interaction, held; else that of the particles");
        app.add_option("--q-unit", qUnit_, "1/A or 1/nm: lengths are in Å or nm; else by the column's unit");
        app.add_option(
            "--evaluate", evaluate_,
            "No fit but the curve of these parameters, such as \"radius=300,volume_fraction=0.05\"");
        oneOrMore(app, "--set,--setting", set_, "Further settings of the model, such as \"known=neither\"");
        options_.declare(app, order_);
    }

    int run() override {
        if (evaluate_.empty()) {
            if (order_.y.empty())
                return fail(
                    {"usage", "Give the column of intensities as --y, or parameters as --evaluate.", {}},
                    WrongUsage);
            return FitCommand::run();
        }
        int status = WrongUsage;
        const auto document = evaluated(status);
        if (!document) return fail(document.error(), static_cast<Status>(status));
        print(*document);
        return Done;
    }

protected:
    Result<void> completeOrder() override {
        auto node = nodeOf();
        if (!node) return std::unexpected(node.error());
        order_.model = std::move(*node);
        model_ = form_;
        if (order_.sigma.empty() && order_.weights.empty()) order_.weights = "1/y2"; // it goes over decades
        if (auto good = options_.addParameters(order_.parameters, false); !good) return good;
        for (const auto& [name, text] : {std::pair("interaction_radius", &interactionRadius_),
                                         std::pair("interaction_fraction", &interactionFraction_)})
            if (!text->empty()) {
                const auto value = parseNumber(*text);
                if (!value) return failure("usage", fmt::format("“{}” is no number.", *text));
                ParameterChoice& choice = choiceIn(order_.parameters, name);
                choice.start = *value;
                choice.treatment = Treatment::Fixed;
            }
        // A start of what is known is what it is held at.
        for (ParameterChoice& p : order_.parameters)
            if (isHeld(p.name) && p.start && p.treatment == Treatment::Free) p.treatment = Treatment::Fixed;
        return options_.addSettings(analyses::fitSettings(), order_.settings);
    }

private:
    // Whether the model holds a parameter by itself.
    bool isHeld(const std::string& name) const {
        const auto made = models::makeModel(order_.model.kind, order_.model.settings);
        if (!made) return false;
        const auto& all = (*made)->parameters();
        const auto at = std::ranges::find(all, name, &models::ParameterInfo::name);
        return at != all.end() && !at->tie.empty();
    }

    Result<ModelNode> nodeOf() const {
        const models::ModelKind* kind = models::catalogue().find(form_);
        if (!kind || kind->info.group != "Scattering") {
            std::vector<std::string> keys;
            for (const models::ModelKind& k : models::catalogue())
                if (k.info.group == "Scattering") keys.push_back(k.info.key);
            return failure("unknown-model", fmt::format("There is no form called “{}”; there are {}.", form_,
                                                        joined(keys, ", ")));
        }
        Assignments list;
        const auto add = [&](const char* key, const std::string& value) {
            if (!value.empty()) list.emplace_back(key, value);
        };
        add("distribution", distribution_);
        add("weighting", weighting_);
        add("structure", structure_);
        add("coupling", coupling_);
        add("q-unit", qUnit_);
        if (!interactionRadius_.empty() || evaluate_.find("interaction_radius") != evaluate_.npos)
            add("interaction-radius", "own");
        if (!interactionFraction_.empty() || evaluate_.find("interaction_fraction") != evaluate_.npos)
            add("interaction-fraction", "own");
        if (!order_.resolution.empty()) add("resolution", "column");
        if (!resolution_.empty()) add("resolution", "width"), add("width", resolution_);
        if (!slit_.empty()) add("resolution", "slit"), add("slit", slit_);
        for (const std::string& text : set_) {
            const auto more = assignments(text, "--set");
            if (!more) return std::unexpected(more.error());
            list.insert(list.end(), more->begin(), more->end());
        }
        ModelNode node{.kind = form_};
        if (auto good = set(kind->info, list, node.settings); !good) return std::unexpected(good.error());
        return node;
    }

    // Points of q > 0 with their resolution, as the model takes them.
    Result<std::shared_ptr<const Curve>> places(int& status) {
        const auto reading = input_.read();
        if (!reading) {
            status = CannotRead;
            return std::unexpected(reading.error());
        }
        const auto table = input_.chosenFrom(*reading);
        if (!table) return std::unexpected(table.error());
        auto curve = std::make_shared<Curve>();
        const auto q = columnOf(*table, order_.x.front());
        if (!q) return std::unexpected(q.error());
        if (!(*q)->isNumeric()) return failure("not-numbers", "The column of q holds no numbers.");
        curve->x = {(*q)->numbers().begin(), (*q)->numbers().end()};
        curve->xMeaning = {.name = (*q)->name, .unit = (*q)->unit};
        curve->y.assign(curve->x.size(), 0.0);
        if (!order_.resolution.empty()) {
            const auto dq = columnOf(*table, order_.resolution);
            if (!dq) return std::unexpected(dq.error());
            if (!(*dq)->isNumeric())
                return failure("not-numbers", "The column of the resolution holds no numbers.");
            curve->resolution = {(*dq)->numbers().begin(), (*dq)->numbers().end()};
        }
        return curve;
    }

    Result<nlohmann::ordered_json> evaluated(int& status) {
        const auto node = nodeOf();
        if (!node) return std::unexpected(node.error());
        const auto curve = places(status);
        if (!curve) return std::unexpected(curve.error());
        const auto model = models::makeModel(node->kind, node->settings, {.fitted = *curve});
        if (!model) return std::unexpected(model.error());
        const auto given = assignments(evaluate_, "--evaluate");
        if (!given) return std::unexpected(given.error());
        const auto p = valuesOf(**model, *given);
        if (!p) return std::unexpected(p.error());
        const std::vector<double>& q = (*curve)->x;
        const std::size_t n = q.size();
        std::vector<double> seen(n), bare(n);
        const std::span<const double> column = q;
        (*model)->evaluate({&column, 1}, *p, seen);
        const models::scattering::BarePtr alone = models::scattering::bareOf(**model);
        const std::size_t own = alone->parameters().size();
        const std::span<const double> ownParameters(p->data(), own);
        alone->evaluate(q, ownParameters, bare, {});
        if (p->size() > own)
            for (double& v : bare) v += p->back();
        const auto structure = models::scattering::structureAt(*alone, q, ownParameters);
        const auto list = [](const std::vector<double>& values) {
            nlohmann::ordered_json all = nlohmann::ordered_json::array();
            for (const double v : values) all.push_back(number(v));
            return all;
        };
        return nlohmann::ordered_json{{"curve",
                                       {{"q", list(q)},
                                        {"intensity", list(seen)},
                                        {"unsmeared", list(bare)},
                                        {"structure", list(structure)}}}};
    }

    // The parameters in their order; what is held by itself and the background need not be given.
    static Result<std::vector<double>> valuesOf(const models::Model& model, const Assignments& given) {
        std::vector<double> out;
        std::vector<std::string> names;
        for (const models::ParameterInfo& info : model.parameters()) {
            names.push_back(info.name);
            const auto at = std::ranges::find(given, info.name, &Assignments::value_type::first);
            std::optional<double> value;
            if (at != given.end()) {
                value = parseNumber(at->second);
                if (!value)
                    return failure("usage", fmt::format("--evaluate: “{}” is no number.", at->second));
            } else if (!info.tie.empty())
                value = parseNumber(info.tie);
            else if (info.name == "background")
                value = 0;
            if (!value) return failure("usage", fmt::format("--evaluate: give a value of {}.", info.name));
            out.push_back(*value);
        }
        for (const auto& [name, text] : given)
            if (std::ranges::find(names, name) == names.end())
                return failure("unknown-parameter",
                               fmt::format("The model has no parameter called {}; it has {}.", name,
                                           joined(names, ", ")));
        return out;
    }

    std::string form_ = "sphere", distribution_, weighting_, structure_, coupling_, interactionRadius_,
                interactionFraction_, qUnit_, resolution_, slit_, evaluate_;
};

} // namespace

std::unique_ptr<Command> scatterCommand() {
    return std::make_unique<ScatterCommand>();
}

} // namespace jointer::cli
