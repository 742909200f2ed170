// SPDX-License-Identifier: GPL-3.0-or-later
// What a run over files leaves in its folder: results.csv, a row for each number, and apply-log.jsonl, a line
// for each file with all that came of it. Lines are written whole, one after the other; a run that was killed
// is taken up where it stopped, and several processes may share the folder.
#pragma once

#include "session/recipe_run.h"

#include <filesystem>
#include <mutex>
#include <nlohmann/json_fwd.hpp>

namespace jointer {

nlohmann::ordered_json toJson(const RunFile& file);
RunFile runFileFromJson(const nlohmann::ordered_json& json);

// RFC 4180: dataset, attributes, quantity, subject, value, error, unit, state, source.
std::string runCsvHeading();
std::string runCsvRows(const RunFile& file); // a file without results has one row that says why

class RunJournal {
public:
    // Takes up the folder, or begins anew where it belongs to another recipe (or `afresh`). Errors:
    // "not-written".
    static Result<RunJournal> open(const std::filesystem::path& folder, const Recipe& recipe,
                                   bool afresh = false);
    RunJournal(RunJournal&& other) noexcept;
    RunJournal& operator=(RunJournal&&) = delete;
    ~RunJournal();

    // What came of a file that has not changed since; nothing: it is still to be done. Thread-safe, also
    // beside `add`.
    std::optional<RunFile> done(const std::string& file) const;
    // Errors: "not-written".
    Result<void> add(const RunFile& file);
    std::filesystem::path results() const { return folder_ / "results.csv"; }

private:
    RunJournal() = default;
    Result<void> take(); // what the log holds; results.csv is made to agree with it
    bool catchUp();
    std::unexpected<Issue> cannot() const;

    std::filesystem::path folder_;
    std::string heading_; // the first line of the log: which recipe it is of
    int log_ = -1;        // descriptors
    int csv_ = -1;
    long long logEnd_ = 0;
    std::unique_ptr<std::mutex> mutex_ = std::make_unique<std::mutex>(); // of what is done
    std::map<std::string, std::string> done_;                            // the last line of each file
};

} // namespace jointer
