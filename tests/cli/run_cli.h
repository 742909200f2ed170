// SPDX-License-Identifier: GPL-3.0-or-later
// Runs the command line as a script does: exit status, output, messages.
#pragma once

#include "tern_sands.h"

#include <cstdio>
#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <sys/wait.h>
#include <unistd.h>

namespace jointer::test {

using nlohmann::json;
namespace fs = std::filesystem;

struct Ran {
    int status;
    std::string out, err;
    json document() const { return json::parse(out); }
};

class Cli : public testing::Test {
protected:
    void SetUp() override {
        folder_ = fs::temp_directory_path() / ("jointer-cli-" + std::to_string(::getpid()));
        fs::create_directories(folder_);
        for (const auto& [name, text] : jointer::demo::rawFiles()) write(name, text);
    }
    void TearDown() override { fs::remove_all(folder_); }
    std::string write(const std::string& name, const std::string& text) {
        std::ofstream(folder_ / name, std::ios::binary) << text;
        return (folder_ / name).string();
    }
    std::string path(const std::string& name) const { return (folder_ / name).string(); }
    Ran run(const std::string& arguments) const {
        const std::string errFile = path("stderr");
        FILE* pipe = ::popen(
            (std::string(JOINTER_BINARY_DIR) + "/bin/jointer-cli " + arguments + " 2>" + errFile).c_str(),
            "r");
        Ran r;
        char buffer[4096];
        for (std::size_t n; (n = fread(buffer, 1, sizeof buffer, pipe)) > 0;) r.out.append(buffer, n);
        r.status = WEXITSTATUS(::pclose(pipe));
        std::ifstream in(errFile);
        r.err.assign(std::istreambuf_iterator<char>(in), {});
        return r;
    }
    fs::path folder_;
};

} // namespace jointer::test
