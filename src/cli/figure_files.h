// SPDX-License-Identifier: GPL-3.0-or-later
// What commands need to write figures: the toolkit without a display, and safe file names.
#pragma once

#include "session/export.h"

#include <memory>
#include <string>

class QGuiApplication;

namespace jointer::cli {

// A file name from the name of a thing: what a path could be made of becomes "_".
std::string fileSafe(const std::string& name);

// At most one at a time.
class FigureFiles {
public:
    FigureFiles();
    ~FigureFiles();
    FigureWriter& writer() { return *writer_; }

private:
    std::unique_ptr<QGuiApplication> toolkit_;
    std::unique_ptr<FigureWriter> writer_;
};

} // namespace jointer::cli
