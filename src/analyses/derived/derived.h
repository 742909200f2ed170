// SPDX-License-Identifier: GPL-3.0-or-later
// Derived numbers: formulas over the numbers of other analyses, attributes of the dataset and constants, with
// error, interval and unit. The computation alone; derived_analysis.cpp makes a kind of it. Thread-safe.
#pragma once

#include "analyses/analysis.h"
#include "formula/dimensions.h"

namespace jointer::analyses {

// Where names of formulas are looked up: `a.k` is written k where only one analysis has it, and k_A, k_B…
// where several do, by their order.
struct DerivedSource {
    std::string name; // of the analysis, for messages
    const AnalysisResult* result = nullptr;
    DatasetId member{}; // of which its numbers are taken where they differ by dataset; none: whichever
};

// A formula of one line: "half_life [d] = ln(2)/k".
struct DerivedFormula {
    std::string name;
    std::optional<Unit> wished;
    formula::Expression expression;
    long line = 1;
};
// Lines end at a line break or a semicolon; # begins a remark. Errors: "formula" with line and sign.
Result<std::vector<DerivedFormula>> derivedFormulas(std::string_view text);

enum class DerivedErrors { Automatic, FirstOrder, Simulated };
DerivedErrors derivedErrors(std::string_view key); // "automatic", "first-order", "simulated"

struct DerivedTask {
    std::vector<DerivedFormula> formulas;
    std::vector<DerivedSource> sources;
    std::map<std::string, double> attributes{};
    std::map<std::string, std::string> attributeUnits{};
    DerivedErrors errors = DerivedErrors::Automatic;
};

// One quantity for each formula, with their covariance. First order with all correlations; where the formula
// is too curved for that (an end of the interval moves by more than a tenth of its half-width), and where it
// is asked for, the interval is that of 40 000 simulated draws of what it rests on (multivariate t).
// Errors: "name" (what can be written), "formula".
Result<AnalysisResult> derive(const DerivedTask& task);

// What formulas may name, as it is spelled in them.
struct NameToUse {
    std::string spelling, meaning, unit;
    double value = 0;
};
std::vector<NameToUse> namesFor(const DerivedTask& task);

AnalysisKind derivedAnalysis();

} // namespace jointer::analyses
