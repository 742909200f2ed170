// SPDX-License-Identifier: GPL-3.0-or-later
// The commands of jointer-cli and what they share: reading input with overrides, and ending with a status.
#pragma once

#include "data/curve.h"
#include "io/reader.h"

#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace jointer::cli {

enum Status { Done = 0, DoneWithWarnings = 1, WrongUsage = 2, CannotRead = 3, Failed = 4, CannotWrite = 5 };

class Command {
public:
    virtual ~Command() = default;
    virtual std::string name() const = 0;
    virtual std::string purpose() const = 0;
    virtual void declare(CLI::App& app) = 0;
    virtual int run() = 0;
};

std::vector<std::unique_ptr<Command>> makeCommands();
std::unique_ptr<Command> readCommand();
std::unique_ptr<Command> statsCommand();
std::unique_ptr<Command> groupsCommand();
std::unique_ptr<Command> unknownsCommand();
std::unique_ptr<Command> deriveCommand();
std::unique_ptr<Command> reportCommand();
std::unique_ptr<Command> fitCommand();
std::unique_ptr<Command> scatterCommand();
std::unique_ptr<Command> peaksCommand();
std::unique_ptr<Command> analyseCommand();
std::unique_ptr<Command> compareCommand();
std::unique_ptr<Command> modelsCommand();
std::unique_ptr<Command> cleanCommand();
std::unique_ptr<Command> stepsCommand();
std::unique_ptr<Command> referenceCommand();
std::unique_ptr<Command> exportCommand();
std::unique_ptr<Command> drawCommand();
std::unique_ptr<Command> journalCommand();
std::unique_ptr<Command> resultsCommand();
std::unique_ptr<Command> checkCommand();
std::unique_ptr<Command> applyCommand();
std::unique_ptr<Command> recipeCommand();
std::unique_ptr<Command> watersCommand();

// The input file and the options that override the guess.
struct InputOptions {
    std::string file;
    int table = 1;

    void declare(CLI::App& app);         // an option for each setting of the readers
    Result<io::ReadResult> read() const; // "-" is standard input
    Result<Table> chosenFrom(const io::ReadResult& all) const; // the table asked for; errors: "usage"
    // A setting of the readers told by other means than its own option: what is wrong with it, or empty.
    std::string tell(const std::string& key, const std::string& text);

private:
    std::string typed(const Setting& setting, const std::string& text); // what is wrong with it, or empty
    Settings told_;
};

// A column by its heading or number. Errors: "no-column", with the names there are.
Result<const Column*> columnOf(const Table& table, const std::string& name);

// Prints an issue to standard error.
void say(const Issue& issue);
int fail(const Issue& issue, Status status);

// NaN and infinities as null.
nlohmann::ordered_json number(double value);
nlohmann::ordered_json toJson(const Issue& issue);

// Prints one document with up to 17 significant digits.
void print(const nlohmann::ordered_json& document);

// Whether the option holds "1,2.5": numbers with commas between them.
Result<std::vector<double>> numberList(const std::string& text, const std::string& option);
// A number, or a moment of ISO 8601 in seconds since 1970; and such a place of an axis as it was asked for.
std::optional<double> numberOrMoment(std::string_view text);
std::string askedPlace(const AxisMeaning& axis, double x);

} // namespace jointer::cli
