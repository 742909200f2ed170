// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/own_models.h"

#include "base/files.h"
#include "base/text.h"
#include "models/model.h"
#include "session/library.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

namespace {

constexpr const char* kFormat = "jointer-model";
constexpr std::uintmax_t kLargest = 1 << 20; // bytes of a file

std::unexpected<Issue> wrong(const fs::path& file, std::string text, long line = 0) {
    return failure("model-file", std::move(text), {.file = file.string(), .line = line});
}

} // namespace

Result<UserModel> readModelFile(const fs::path& file) {
    std::error_code error;
    if (fs::file_size(file, error) > kLargest || error)
        return wrong(file, error ? "The file cannot be read." : "The file is too large for an equation.");
    const auto content = readFile(file);
    if (!content) return wrong(file, "The file cannot be read.");
    const Json j = Json::parse(*content, nullptr, false);
    const auto text = [&](const char* key) {
        const auto at = j.find(key);
        return at != j.end() && at->is_string() ? at->get<std::string>() : std::string();
    };
    if (!j.is_object() || text("format") != kFormat)
        return wrong(file, "This is not a file of an equation that Jointer has kept.");
    UserModel model{.name = text("name"),
                    .equation = text("equation"),
                    .purpose = text("purpose"),
                    .starts = text("starts")};
    if (model.name.empty()) model.name = file.stem().string();
    const auto predictors = {std::vector<std::string>{"x"}, std::vector<std::string>{"x1", "x2", "x3", "x4"}};
    Issue first;
    for (const auto& names : predictors) {
        const auto made = models::equationModel(model.equation, names, {}, model.starts);
        if (made) return model;
        if (first.text.empty()) first = made.error();
    }
    return wrong(file, fmt::format("The equation cannot be read: {}", first.text), first.place.line);
}

Result<void> writeModelFile(const UserModel& model, const fs::path& file) {
    const Json j = {{"format", kFormat},          {"version", 1},
                    {"name", model.name},         {"purpose", model.purpose},
                    {"equation", model.equation}, {"starts", model.starts}};
    return replaceFile(file, j.dump(2) + "\n");
}

fs::path personalModels() {
    return personalFolder("JOINTER_MODELS", "models");
}

Outcome<std::vector<UserModel>> modelsIn(const fs::path& folder) {
    return allIn(folder, &readModelFile);
}

Result<fs::path> keepIn(const UserModel& model, const fs::path& folder) {
    return keptIn(model, folder, "model", &readModelFile, &writeModelFile);
}

ModelNode nodeOf(const UserModel& model) {
    ModelNode node{.kind = "equation"};
    node.settings.set("equation", Value(model.equation));
    if (!model.starts.empty()) node.settings.set("starts", Value(model.starts));
    return node;
}

} // namespace jointer
