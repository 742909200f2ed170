// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/text.h"
#include "cli/summary_output.h"

#include <CLI/CLI.hpp>
#include <iostream>

namespace jointer::cli {

namespace {

class StatsCommand final : public Command {
public:
    std::string name() const override { return "stats"; }
    std::string purpose() const override { return "Summary of a column"; }
    void declare(CLI::App& app) override {
        input_.declare(app);
        app.add_option("--column", column_, "Heading of the column, or #3 for the third")->required();
        app.add_flag("--json", json_, "As JSON");
    }
    int run() override {
        const auto r = input_.read();
        if (!r) return fail(r.error(), CannotRead);
        for (const Issue& issue : r->issues) say(issue);
        const auto table = input_.chosenFrom(*r);
        if (!table) return fail(table.error(), WrongUsage);
        const auto found = columnOf(*table, column_);
        if (!found) return fail(found.error(), WrongUsage);
        const Column* column = *found;
        if (!column->isNumeric())
            return fail({"not-numbers",
                         "The column “" + column_ + "” holds texts, not numbers.",
                         {.file = input_.file}},
                        Failed);
        const stats::Summary s = stats::summarise(column->numbers());
        json_ ? printJson(s, r->issues) : printText(s);
        return r->issues.empty() ? Done : DoneWithWarnings;
    }

private:
    static void printJson(const stats::Summary& s, const std::vector<Issue>& issues) {
        const double half = stats::meanHalfWidth(s);
        Json j = toJson(s);
        j["ci"] = {number(s.mean - half), number(s.mean + half)}; // 95 %, of the mean
        j["warnings"] = Json::array();
        for (const Issue& issue : issues) j["warnings"].push_back(toJson(issue));
        print(j);
    }

    static void printText(const stats::Summary& s) {
        const double half = stats::meanHalfWidth(s);
        std::cout << "n               " << s.n << "\nmissing         " << s.missing << "\n";
        for (const auto& [key, value] : namedNumbers(s))
            std::cout << key << std::string(16 - std::string_view(key).size(), ' ')
                      << readableNumber(value, 10) << "\n";
        std::cout << "95 % of mean    " << readableNumber(s.mean - half, 10) << " … "
                  << readableNumber(s.mean + half, 10) << "\n";
    }

    InputOptions input_;
    std::string column_;
    bool json_ = false;
};

} // namespace

std::unique_ptr<Command> statsCommand() {
    return std::make_unique<StatsCommand>();
}

} // namespace jointer::cli
