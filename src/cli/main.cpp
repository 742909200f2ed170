// SPDX-License-Identifier: GPL-3.0-or-later
// jointer-cli: the command line. Each command is a file of its own; this one finds it.
#include "base/memory.h"
#include "cli/commands.h"

#include <CLI/CLI.hpp>
#include <iostream>

int main(int argc, char** argv) {
    using namespace jointer::cli;
    jointer::keepFreedMemory();
    CLI::App app{"Jointer on the command line: read, fit and draw measured data."};
    app.set_version_flag("--version", "Jointer 0.1.0");
    app.require_subcommand(1);
    app.allow_extras(false);
    int status = 0;
    std::vector<std::unique_ptr<Command>> commands = makeCommands();
    for (auto& command : commands) {
        CLI::App* sub = app.add_subcommand(command->name(), command->purpose());
        command->declare(*sub);
        sub->callback([&status, c = command.get()] { status = c->run(); });
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        const int code = app.exit(e);
        return code == 0 ? 0 : 2;
    } catch (const std::exception& e) { // memory that ran out, a fault of ours: said, not a crash
        std::cerr << "Jointer could not go on: " << e.what() << '\n';
        return 4;
    }
    return status;
}
