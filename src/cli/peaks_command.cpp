// SPDX-License-Identifier: GPL-3.0-or-later
// `peaks`: a set of peaks found or placed, and fitted.
#include "analyses/peaks/peaks.h"
#include "base/text.h"
#include "cli/fit_output.h"
#include "cli/fitting_options.h"
#include "project/edit.h"

#include <algorithm>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

class PeaksCommand final : public ColumnCommand {
public:
    std::string name() const override { return "peaks"; }
    std::string purpose() const override { return "Find peaks and fit them, with their baseline"; }

    void declare(CLI::App& app) override {
        ColumnCommand::declare(app);
        auto* shape =
            app.add_option("--shape", shape_, "Shape of all peaks: " + joined(models::peakShapeKeys(), ", "));
        app.add_option("--equation", equation_,
                       "A shape of one's own, such as \"height*exp(-((x - centre)/width)^2)\"")
            ->excludes(shape);
        app.add_option("--centres", centres_, "Where they begin, such as \"12.5,14.1\"; else they are found");
        app.add_option(
            "--called", called_,
            "Names by place, and how far from it, such as \"main=700,side=712:4\"; by another rule with "
            "--set naming=highest, order or height");
        app.add_option("--count", count_, "Of those that are found the highest so many");
        app.add_option("--baseline", baseline_,
                       "none, constant, line, polynomial-2 … -5, exponential-decay, "
                       "shirley");
        app.add_option("--tie-all", tieAll_, "Parameters with one value for all peaks, such as \"fwhm\"");
        app.add_option(
            "--partner", partner_,
            "A second line for each, such as \"ratio=0.5 distance=0.4\", \"ratio=0.5 factor=1.01\", "
            "\"ratio=0.5 wavelengths=1.5406:1.5444\"");
        app.remove_option(app.get_option("--widths")); // of fixed columns: numbers alone mean those still
        app.add_option(
            "--widths", widths_,
            "Sizes from widths, such as \"instrument=0.12 shape=0.9 wavelength=1.5406 "
            "unit=deg2theta breadth=fwhm profile=lorentzian\"; widths of fixed columns as \"4,8,8\"");
        app.add_option("--lattice", lattice_,
                       "A lattice from the lines, such as \"system=hexagonal indices=1:104,2:110 "
                       "wavelength=1.5406 zero=displacement\"");
        app.add_option("--separation", separation_,
                       "Numbers of a chromatogram, such as \"dead-time=1.2 factors=1:0.8\"");
        oneOrMore(app, "--setting,--set", set_, "Further settings, such as \"direction=down\"");
        app.add_flag("--find-only", findOnly_, "Only where peaks are found, without a fit");
        options_.declare(app, order_);
    }

protected:
    Result<void> completeOrder() override {
        if (!widths_.empty() && widths_.find('=') == widths_.npos) {
            if (const std::string wrong = input_.tell("widths", widths_); !wrong.empty())
                return failure("usage", "--widths: " + wrong);
            widths_.clear();
        }
        order_.kind = "peaks";
        order_.model.kind = equation_.empty() ? shape_ : "equation";
        if (!equation_.empty()) order_.model.settings.set("equation", Value(equation_));
        const auto made = models::peakShape(order_.model.kind, order_.model.settings);
        if (!made) return std::unexpected(made.error());
        Assignments list = {{"baseline", baseline_}};
        if (count_ > 0) list.emplace_back("count", std::to_string(count_));
        if (auto good = set(analyses::peaksSettings(), list, order_.settings); !good) return good;
        if (auto good = addPartner(); !good) return good;
        for (const std::string& text : set_) {
            const auto more = assignments(text, "--setting");
            if (!more) return std::unexpected(more.error());
            if (auto good = set(analyses::peaksSettings(), *more, order_.settings); !good) return good;
        }
        if (auto good = addCentres(); !good) return good;
        if (auto good = addNames(); !good) return good;
        if (auto good = options_.addParameters(order_.parameters, false); !good) return good;
        for (std::string_view text : split(tieAll_, ','))
            if (!trimmed(text).empty())
                choiceIn(order_.parameters, std::string(trimmed(text))).treatment = Treatment::Shared;
        if (findOnly_) order_.settings.set("hold", Value(true));
        return options_.addSettings(analyses::peaksSettings(), order_.settings);
    }

    // Sizes, a lattice, the numbers of a separation: analyses that take the peaks.
    Result<Project> completed(const Project& project, int&) override {
        Project out = project;
        if (findOnly_) return out;
        for (const auto& [kind, option, text] : {std::tuple("sizes", "--widths", &widths_),
                                                 {"lattice", "--lattice", &lattice_},
                                                 {"separation", "--separation", &separation_}}) {
            if (text->empty()) continue;
            auto with = withFurther(out, kind, option, *text);
            if (!with) return with;
            out = std::move(*with);
        }
        return out;
    }
    static Result<Project> withFurther(const Project& project, const char* kind, const char* option,
                                       const std::string& text) {
        Analysis further{.kind = kind, .inputs = {{.dataset = project.datasets[0].id}}};
        further.analyses = {project.analyses[0].id};
        const KindInfo& info = analyses::catalogue().find(kind)->info;
        for (std::string_view word : split(text, ' ')) {
            if (trimmed(word).empty()) continue;
            const auto equals = word.find('=');
            if (equals == word.npos)
                return failure("usage",
                               fmt::format("{} takes names and values with blanks between them, such as {}.",
                                           option, info.settings.front().key + "=…"));
            std::string value(word.substr(equals + 1));
            std::ranges::replace(value, ':', '='); // within lists: indices=1:104,2:110
            if (auto good =
                    set(info, {{std::string(word.substr(0, equals)), std::move(value)}}, further.settings);
                !good)
                return std::unexpected(good.error());
        }
        if (auto good = validate(info, further.settings); !good) return std::unexpected(good.error());
        return edits::addAnalysis(std::move(further)).apply(project);
    }
    // To find none is an answer.
    bool showFailure(const Issue& issue) override {
        if (!findOnly_ || issue.code != "no-peaks") return false;
        if (json_)
            print({{"noise", nullptr}, {"found", Json::array()}});
        else
            std::cout << "No peak stands out of the noise.\n";
        return true;
    }
    void takeFurther(const evaluate::AnalysisOutcome& outcome) override {
        further_.push_back(*outcome.result);
    }

    Result<void> show(const analyses::AnalysisResult& result,
                      const std::vector<std::string>& warnings) override {
        const analyses::PeaksDetail& detail = *analyses::peaksDetail(result);
        if (findOnly_) return showFound(detail);
        const FitOutput output{.name = order_.model.kind,
                               .result = result,
                               .detail = detail,
                               .predictAt = {},
                               .warnings = warnings};
        if (!json_) {
            printPeaks(result, detail);
            for (const analyses::ResultPtr& more : further_) {
                std::cout << "\n" << more->sentence << "\n" << more->detail << "\n";
                for (const analyses::Quantity& q : more->quantities) {
                    const ValueText t = readableWithError(q.value, q.se);
                    std::cout << fmt::format("    {:<8} {:<24} {:>16} {}\n", q.subject, q.label, t.value,
                                             t.error.empty() ? "" : "± " + t.error);
                }
            }
            return {};
        }
        Json out = fitJson(output);
        std::vector<Json> peaks;
        for (std::size_t k = 0; k < detail.plan.peaks.size(); ++k) {
            peaks.push_back(peakJson(result, detail, k));
            addFurther(detail.plan.peaks[k].number, peaks.back());
        }
        for (const analyses::ResultPtr& more : further_)
            for (const char* name : {"a", "b", "c", "volume", "zero", "displacement"})
                if (const Json n = valueJson(*more, name, 0); !n.is_null()) out["lattice"][name] = n;
        for (const analyses::ResultPtr& more : further_)
            if (more->find("size"))
                out["size_and_strain"] = {{"size", valueJson(*more, "size", 0)},
                                          {"strain", valueJson(*more, "strain", 0)}};
        std::ranges::stable_sort(peaks, {}, [](const Json& j) { return j["centre"]["value"].get<double>(); });
        out["peaks"] = peaks;
        out["further"] = Json::array();
        for (const fit::FoundPeak& f : detail.further())
            out["further"].push_back(
                {{"place", number(f.place)}, {"signal_to_noise", number(f.signalToNoise)}});
        print(out);
        return {};
    }

private:
    // What further analyses tell of one peak; a bound is a bare number.
    void addFurther(int number, Json& peak) const {
        for (const analyses::ResultPtr& more : further_)
            for (const analyses::Quantity& q : more->quantities) {
                if (q.component != number) continue;
                const std::string name = q.key.substr(0, q.key.rfind('_'));
                const Json n = valueJson(*more, name, number);
                if (name == "breadth" || n.is_null()) continue;
                peak[name] = name == "larger_than" || name == "difference" ? n["value"] : n;
            }
    }

    Result<void> addNames() {
        if (called_.empty()) return {};
        const auto list = assignments(called_, "--called");
        if (!list) return std::unexpected(list.error());
        RowList rows;
        for (const auto& [name, text] : *list) {
            const auto colon = text.find(':');
            const auto place = parseNumber(text.substr(0, colon)),
                       reach = colon == text.npos ? std::optional(0.0) : parseNumber(text.substr(colon + 1));
            if (!place || !reach)
                return failure("usage", "--called takes names with places, such as main=700 or side=712:4.");
            Settings& row = rows.emplace_back();
            row.set("name", Value(name));
            row.set("place", Value(*place));
            if (*reach > 0) row.set("reach", Value(*reach));
        }
        order_.settings.set("names", Value(std::make_shared<const RowList>(std::move(rows))));
        return {};
    }
    Result<void> addCentres() {
        if (centres_.empty()) return {};
        const auto places = numberList(centres_, "--centres");
        if (!places) return std::unexpected(places.error());
        RowList rows;
        for (double place : *places) {
            Settings row;
            row.set("number", static_cast<int>(rows.size()) + 1);
            row.set("place", Value(place));
            rows.push_back(std::move(row));
        }
        order_.settings.set("peaks", Value(std::make_shared<const RowList>(std::move(rows))));
        return {};
    }

    // "ratio=0.5 wavelengths=1.5406:1.5444"
    Result<void> addPartner() {
        for (std::string_view word : split(partner_, ' ')) {
            if (trimmed(word).empty()) continue;
            const auto equals = word.find('=');
            const std::string key(word.substr(0, equals)),
                value(equals == word.npos ? "" : word.substr(equals + 1));
            Assignments list;
            if (key == "ratio") {
                list = {{"ratio", value}};
            } else if (key == "distance" || key == "factor") {
                list = {{"partner", key}, {key, value}};
            } else if (key == "wavelengths" && value.find(':') != value.npos) {
                list = {{"partner", key},
                        {"wavelength", value.substr(0, value.find(':'))},
                        {"wavelength-2", value.substr(value.find(':') + 1)}};
            } else
                return failure("usage", "--partner takes ratio=… and one of distance=…, factor=…, "
                                        "wavelengths=FIRST:SECOND, with blanks between them.");
            if (auto good = set(analyses::peaksSettings(), list, order_.settings); !good) return good;
        }
        return {};
    }

    Result<void> showFound(const analyses::PeaksDetail& detail) const {
        if (json_) {
            Json peaks = Json::array();
            for (const analyses::PlannedPeak& p : detail.plan.peaks)
                peaks.push_back({{"place", number(p.place)},
                                 {"height", number(p.height)},
                                 {"width", number(p.width)},
                                 {"signal_to_noise", number(p.signalToNoise)}});
            print({{"noise", number(detail.plan.noise)}, {"found", peaks}});
            return {};
        }
        for (const analyses::PlannedPeak& p : detail.plan.peaks)
            std::cout << fmt::format("  {:>12}   height {:<12} width {:<12} S/N {}\n",
                                     readableNumber(p.place, 6), readableNumber(p.height, 4),
                                     readableNumber(p.width, 4), readableNumber(p.signalToNoise, 3));
        return {};
    }

    static void printPeaks(const analyses::AnalysisResult& result, const analyses::PeaksDetail& detail) {
        std::cout << result.sentence << "\n" << result.state << "; " << result.detail << "\n";
        int before = -1;
        for (const analyses::Quantity& q : result.quantities) {
            if (q.component != before)
                std::cout << "\n  " << (q.component == 0 ? "baseline and common" : "peak " + q.subject)
                          << "\n";
            before = q.component;
            const ValueText t = readableWithError(q.value, q.se);
            std::cout << fmt::format("    {:<16} {:>16} {:<14} {:<10} {}\n", q.label, t.value,
                                     t.error.empty() ? "" : "± " + t.error, q.unit,
                                     q.state == "free" || q.state == "derived" ? "" : q.state);
        }
        for (const fit::FoundPeak& f : detail.further())
            std::cout << fmt::format("\n  perhaps another peak at {}, S/N {}\n", readableNumber(f.place, 5),
                                     readableNumber(f.signalToNoise, 2));
    }

    static Json valueJson(const analyses::AnalysisResult& result, const std::string& name, int peak) {
        const analyses::Quantity* q = result.find(models::nameInWhole(name, peak));
        if (!q) return {};
        return {
            {"value", number(q->value)}, {"se", number(q->se)}, {"ci", {number(q->low), number(q->high)}}};
    }

    static Json peakJson(const analyses::AnalysisResult& result, const analyses::PeaksDetail& detail,
                         std::size_t k) {
        const analyses::PlannedPeak& p = detail.plan.peaks[k];
        const auto value = [&](const char* name) { return valueJson(result, name, p.number); };
        Json j = {
            {"number", p.number}, {"name", p.name}, {"shape", p.shape.key}, {"centre", value("centre")}};
        const Json top = value("top"), width = value("full width");
        j["height"] = top.is_null() ? value("height") : top;
        j["fwhm"] = width.is_null() ? value("fwhm") : width;
        j["area"] = value("area");
        if (const Json in = value("area_in_span"); !in.is_null()) j["area_in_span"] = in;
        if (!p.shape.traits->topAtCentre)
            j["maximum"] = {{"place", value("maximum")}, {"height", j["height"]}};
        for (const char* more : {"centroid", "asymmetry_10", "signal_to_noise", "area_share"})
            if (const Json in = value(more); !in.is_null()) j[more] = in;
        if (!p.partner.empty())
            j["partner"] = {{"centre", value("partner_centre")},
                            {"height", value("partner_height")},
                            {"area", value("partner_area")}};
        return j;
    }

    FittingOptions options_;
    std::vector<analyses::ResultPtr> further_;
    std::string shape_ = "gaussian", equation_, widths_, centres_, called_, baseline_ = "line", tieAll_,
                partner_, lattice_, separation_;
    std::vector<std::string> set_;
    int count_ = 0;
    bool findOnly_ = false;
};

} // namespace

std::unique_ptr<Command> peaksCommand() {
    return std::make_unique<PeaksCommand>();
}

} // namespace jointer::cli
