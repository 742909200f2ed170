// SPDX-License-Identifier: GPL-3.0-or-later
// `fit`, and what commands that take a fitted curve further have of it.
#pragma once

#include "cli/column_command.h"
#include "cli/fit_output.h"
#include "cli/fitting_options.h"
#include "cli/free_curve_output.h"
#include "cli/other_curves.h"

#include <nlohmann/json_fwd.hpp>

namespace jointer::cli {

class FitCommand : public ColumnCommand {
public:
    std::string name() const override { return "fit"; }
    std::string purpose() const override { return "Fit a model or an equation to columns"; }

    void declare(CLI::App& app) override;

protected:
    Result<void> completeOrder() override;

    Result<void> lookAround(const Project& project, evaluate::Evaluator& evaluator) override;

    Result<void> show(const analyses::AnalysisResult& result,
                      const std::vector<std::string>& warnings) override;

    Result<Project> completed(const Project& project, int& status) override;

    // All that is told of the fit. Errors: "usage" of what was asked beyond it.
    Result<nlohmann::ordered_json> documentOf(const analyses::AnalysisResult& result,
                                              const std::vector<std::string>& warnings) const;

    std::vector<std::string> set_;
    FittingOptions options_;
    std::string model_; // as it was asked for

private:
    // Curves without a formula are called like models: "loess", "smoothing-spline", "interpolate".
    bool isFree() const { return analyses::isFreeCurve(model_); }
    Result<void> orderFreeCurve();
    Result<void> takeModelFile();

    // The model as the project holds it. Errors: in the words of the command line.
    Result<ModelNode> modelNode() const;

    // What --setting says of a part. Of several parts each takes what it knows.
    Result<void> setPart(const models::ModelKind& kind, Settings& into) const;

    // Measured curves by their names, until their datasets are there.
    Result<References> called() const;

    Result<void> addShared();
    Result<std::vector<double>> predictedAt() const;
    FreeCurveOutput freeOutput(const analyses::AnalysisResult& result,
                               const std::vector<std::string>& warnings, std::vector<double> at) const;
    Result<FitOutput> fitOutput(const analyses::AnalysisResult& result,
                                const std::vector<std::string>& warnings, std::vector<double> at) const;

    OtherCurves others_;
    std::string modelFile_, rules_; // of the kept equation
    std::string equation_, shared_, predict_;
    bool correlation_ = false, influence_ = false;
    std::vector<std::string> doubts_, regions_;
    struct {
        std::vector<evaluate::Doubt> doubts;
        std::vector<fit::Region> regions;
    } found_;
};

} // namespace jointer::cli
