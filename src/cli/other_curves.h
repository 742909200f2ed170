// SPDX-License-Identifier: GPL-3.0-or-later
// Further curves that a command takes from files: the option --with NAME=FILE:X:Y.
#pragma once

#include "base/issue.h"
#include "project/project.h"

#include <functional>

namespace CLI {
class App;
}

namespace jointer::cli {

class OtherCurves {
public:
    void declare(CLI::App& app);

    // The project with a dataset for each, called by its name. Errors: what is wrong with the option, with
    // `status` as it is; what is wrong with a file, with `status` set.
    Result<Project> addedTo(Project project, int& status,
                            const std::function<void(const Issue&)>& warn) const;

    // As they are called. Errors: "usage".
    Result<std::vector<std::string>> names() const;

private:
    std::vector<std::string> texts_;
};

} // namespace jointer::cli
