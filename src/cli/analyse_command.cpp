// SPDX-License-Identifier: GPL-3.0-or-later
// `analyse`: any kind of analysis by its key.
#include "base/text.h"
#include "cli/column_command.h"

#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

// Any kind of analysis, by the description that it gives of itself.
class AnalyseCommand final : public ColumnCommand {
public:
    std::string name() const override { return "analyse"; }
    std::string purpose() const override { return "Any analysis of columns, such as a summary of a span"; }

    void declare(CLI::App& app) override {
        ColumnCommand::declare(app);
        app.add_option("--kind", order_.kind,
                       "Key of the analysis: " + joined(analyses::catalogue().keys(), ", "))
            ->required();
        oneOrMore(app, "--setting,--set", set_, "Its settings, such as \"level=0.9\"");
    }

protected:
    Result<void> completeOrder() override {
        const analyses::AnalysisKind* kind = analyses::catalogue().find(order_.kind);
        if (!kind)
            return failure("usage", fmt::format("There is no analysis called “{}”; there are {}.",
                                                order_.kind, joined(analyses::catalogue().keys(), ", ")));
        for (const std::string& text : set_) {
            const auto list = assignments(text, "--setting");
            if (!list) return std::unexpected(list.error());
            if (auto good = set(kind->info, *list, order_.settings); !good) return good;
        }
        return {};
    }

    Result<void> show(const analyses::AnalysisResult& result,
                      const std::vector<std::string>& warnings) override {
        if (!json_) {
            std::cout << result.sentence << "\n" << result.detail << "\n\n";
            DatasetId before;
            for (const analyses::Quantity& q : result.quantities) {
                if (names_.size() > 1 && q.member && q.member != before)
                    std::cout << "  " << names_[q.member] << "\n";
                before = q.member;
                const ValueText t = readableWithError(q.value, q.se);
                std::cout << fmt::format("  {:<24} {:>16} {:<14} {}\n", q.label, t.value,
                                         t.error.empty() ? "" : "± " + t.error, q.unit);
            }
            return {};
        }
        Json quantities = Json::array();
        for (const analyses::Quantity& q : result.quantities) {
            Json j = {{"key", q.key},       {"name", q.label},
                      {"unit", q.unit},     {"value", number(q.value)},
                      {"se", number(q.se)}, {"ci", {number(q.low), number(q.high)}},
                      {"state", q.state}};
            if (names_.size() > 1) j["member"] = q.member ? Json(names_[q.member]) : Json();
            quantities.push_back(std::move(j));
        }
        print({{"kind", order_.kind},
               {"state", result.state},
               {"sentence", result.sentence},
               {"quantities", quantities},
               {"warnings", warnings}});
        return {};
    }

private:
    std::vector<std::string> set_;
};

} // namespace

std::unique_ptr<Command> analyseCommand() {
    return std::make_unique<AnalyseCommand>();
}

} // namespace jointer::cli
