// SPDX-License-Identifier: GPL-3.0-or-later
// A dataset on one page: its curve with the fit, the residuals, how it came about, the numbers, what is in
// doubt, and the methods as text. A display list like a figure's, so that it is written in the same formats.
#pragma once

#include "session/export.h"

namespace jointer {

struct ReportOptions {
    DatasetId dataset;
    AnalysisId analysis{};                // drawn with the curve; none: the last of the dataset
    double widthMm = 210, heightMm = 297; // A4
    std::string date{};                   // in the last line; empty: none
};

// What does not fit in readable size (6.5 pt at least) is counted on the page, never cut silently.
draw::DisplayList reportPage(const Project& project, const ReportOptions& options,
                             evaluate::Evaluator& evaluator);

// Errors: "target-gone", "format".
Result<Exported> exportReport(const Project& project, const ReportOptions& options,
                              evaluate::Evaluator& evaluator, const std::string& path, FigureWriter& writer,
                              const Cancellation& stop = {});

} // namespace jointer
