// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "models/catalogue.h"
#include "session/own_models.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

class ModelsCommand final : public Command {
public:
    std::string name() const override { return "models"; }
    std::string purpose() const override { return "List the library of models"; }
    void declare(CLI::App& app) override { app.add_flag("--json", json_, "As JSON"); }
    int run() override {
        Json all = Json::array();
        for (const models::ModelKind& kind : models::catalogue()) {
            const models::ModelPtr model = kind.make({});
            if (!json_) {
                std::cout << fmt::format("{:<18} {:<34} {}\n", kind.info.key, kind.info.name,
                                         model->formula());
                continue;
            }
            Json parameters = Json::array(), settings = Json::array();
            for (const auto& p : model->parameters())
                parameters.push_back({{"name", p.name}, {"meaning", p.meaning}, {"unit", p.unit}});
            for (const Setting& s : kind.info.settings) {
                Json choices = Json::array();
                for (const Choice& c : s.choices) choices.push_back(c.key);
                settings.push_back(
                    {{"key", s.key}, {"name", s.label}, {"help", s.help}, {"choices", choices}});
            }
            Json derived = Json::array();
            for (const auto& d : model->derived())
                derived.push_back({{"name", d.name}, {"formula", d.formula}, {"unit", d.unit}});
            all.push_back({{"key", kind.info.key},
                           {"name", kind.info.name},
                           {"group", kind.info.group},
                           {"purpose", kind.info.purpose},
                           {"formula", model->formula()},
                           {"parameters", parameters},
                           {"derived", derived},
                           {"settings", settings}});
        }
        const auto kept = modelsIn(personalModels());
        for (const Issue& issue : kept.issues) say(issue);
        if (!json_)
            for (const UserModel& m : kept.value)
                std::cout << fmt::format("{:<18} {:<34} {}\n", "(kept)", m.name, m.equation);
        for (const UserModel& m : kept.value)
            all.push_back({{"key", "equation"},
                           {"name", m.name},
                           {"group", "Your own"},
                           {"purpose", m.purpose},
                           {"formula", m.equation},
                           {"starts", m.starts}});
        if (json_) print(all);
        return kept.issues.empty() ? Done : DoneWithWarnings;
    }

private:
    bool json_ = false;
};
} // namespace

std::unique_ptr<Command> modelsCommand() {
    return std::make_unique<ModelsCommand>();
}

} // namespace jointer::cli
