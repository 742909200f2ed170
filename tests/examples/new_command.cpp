// SPDX-License-Identifier: GPL-3.0-or-later
// A command as it would stand in src/cli/count_command.cpp: how many rows a file has.
#include "cli/commands.h"

#include <CLI/CLI.hpp>
#include <cstdio>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

class CountCommand final : public Command {
public:
    std::string name() const override { return "count"; }
    std::string purpose() const override { return "How many rows a data file has"; }
    void declare(CLI::App& app) override { input_.declare(app); }
    int run() override {
        const auto reading = input_.read();
        if (!reading) return say({reading.error().code, reading.error().sentence(), {}}), CannotRead;
        nlohmann::ordered_json json = {{"rows", reading->tables.front().table.rowCount()}};
        std::puts(json.dump().c_str());
        for (const Issue& issue : reading->issues) say(issue);
        return reading->issues.empty() ? Done : DoneWithWarnings;
    }

private:
    InputOptions input_;
};

} // namespace

std::unique_ptr<Command> countCommand() {
    return std::make_unique<CountCommand>();
}

} // namespace jointer::cli
