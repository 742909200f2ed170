// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/report.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "draw/markup.h"
#include "evaluate/results.h"
#include "figure/answer_marks.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "session/result_grid.h"
#include "session/text_column.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer {

namespace {

using namespace draw;

constexpr double kMargin = 17, kGap = 8, kResiduals = 34; // mm
// Height of the figure in mm and size of the text in pt: the first with which all fits on the page.
constexpr std::pair<double, double> kSizes[] = {{118, 8.5}, {100, 8.5}, {84, 8.5},
                                                {84, 7.5},  {70, 7.5},  {70, 6.5}};

std::string withUnit(const evaluate::ResultRow& row) {
    const ValueText t = shownValue(row);
    std::string out = literal(t.value);
    if (!t.error.empty())
        out += " \\pm " + literal(t.error);
    else if (std::isfinite(row.low) && std::isfinite(row.high) && row.low < row.high)
        out +=
            " (" + literal(readableNumber(row.low, 4)) + " … " + literal(readableNumber(row.high, 4)) + ")";
    return row.unit.empty() ? out : out + " " + unitMarkup(row.unit);
}

class Report {
public:
    Report(const Project& project, const ReportOptions& options, evaluate::Evaluator& evaluator)
        : p_(project), o_(options), evaluator_(evaluator), d_(project.datasets.find(options.dataset)) {
        own_ = analysesOf(project, options.dataset);
        main_ = project.analyses.find(options.analysis);
        if (!main_ && !own_.empty()) main_ = own_.back();
        for (const auto& a : own_) outcomes_.push_back(evaluator.analysis(project, *a));
        if (!d_) return;
        methods_ = methods();
        way_ = evaluate::provenance(p_, evaluator_,
                                    {.dataset = d_->id, .analysis = main_ ? main_->id : AnalysisId{}});
    }

    DisplayList page() {
        DisplayList out{.widthMm = o_.widthMm, .heightMm = o_.heightMm};
        if (!d_) return out;
        TextColumn head(kMargin, kMargin - 4, o_.widthMm - 2 * kMargin, 14);
        head.paragraph(literal(d_->name), kReportInk, true);
        move(head, out);
        TextColumn below(kMargin, head.y() + 0.5, head.width(), 8.5);
        below.paragraph(literal(facts()), kReportQuiet);
        below.space(0.3);
        move(below, out);
        for (const auto& [height, size] : kSizes) {
            const bool last = &size == &std::end(kSizes)[-1].second;
            std::vector<Item> items;
            const double y = below.y() + height + (residualSource() ? kResiduals : 0) + 2;
            if (!write(items, y, size, last) && !last) continue;
            addFigures(out, below.y(), height);
            std::ranges::move(items, std::back_inserter(out.items));
            break;
        }
        TextColumn foot(kMargin, o_.heightMm - kMargin + 5, head.width(), 6.5);
        foot.paragraph(literal(footer()), kReportQuiet);
        move(foot, out);
        return out;
    }

private:
    static void move(TextColumn& from, DisplayList& to) {
        std::ranges::move(from.take(), std::back_inserter(to.items));
    }

    std::string facts() const {
        std::vector<std::string> all;
        if (!p_.title.empty()) all.push_back(p_.title);
        for (const Attribute& a : d_->attributes)
            if (!a.value.empty())
                all.push_back(a.name + " " + a.value + (a.unit.empty() ? "" : " " + unitPlain(a.unit)));
        return joined(all, "  ·  ");
    }

    std::string footer() const {
        return "Jointer " JOINTER_VERSION + (o_.date.empty() ? std::string() : "  ·  " + o_.date);
    }

    Figure figureOf(const char* name, const std::vector<Element>& marks, double height, bool withX) const {
        Figure f = figure::newFigure(name, {}, marks);
        f.settings.set("width", Value(o_.widthMm - 2 * kMargin));
        f.settings.set("height", Value(height));
        f.settings.set("text-size", Value(8.0));
        for (Element& e : f.elements[0].children) {
            if (e.kind == "legend" && !withX) e.settings.set("where", "none");
            if (e.kind != "axis") continue;
            if (e.settings.text("side") == "left") e.settings.set("room", Value(17.0));
        }
        return f;
    }

    std::vector<Element> marks() const {
        if (d_->source.kind == "groups") {
            std::vector<Element> all = {figure::newMark("boxes", d_->id.text()),
                                        figure::newMark("strips", d_->id.text())};
            all[0].settings.set("outliers", Value(false));
            for (Element& e : all) e.settings.set("label", "-");
            if (main_)
                std::ranges::copy(figure::bracketsOf(p_, *main_, d_->id, evaluator_),
                                  std::back_inserter(all));
            return all;
        }
        if (main_)
            if (auto readings = figure::readingsOf(*main_, d_->id); !readings.empty())
                return withPoints(readings);
        std::vector<Element> all;
        if (const Analysis* fit = sourceOf("fit")) {
            Element curve = figure::newMark("curve", fit->id.text());
            curve.settings.set("band", "confidence");
            curve.settings.set("member", Value(Reference{d_->id.text()}));
            all.push_back(std::move(curve));
        }
        return withPoints(std::move(all));
    }
    std::vector<Element> withPoints(std::vector<Element> others) const {
        Element points = figure::newMark("points", d_->id.text());
        points.settings.set("excluded", Value(true));
        points.settings.set("point",
                            Value(main_ && !main_->inputs.empty() ? inputPoint() : std::string("end")));
        points.settings.set("size", Value(pointCount() > 300 ? 1.2 : 3.0));
        others.insert(others.begin(), std::move(points));
        return others;
    }
    std::string inputPoint() const {
        for (const AnalysisInput& in : main_->inputs)
            if (in.dataset == d_->id) return in.point.text();
        return "end";
    }
    std::size_t pointCount() const { return evaluator_.protocol(p_, d_->id).end().curve().size(); }
    // The analysis that has such a curve: the one that is told of, or one that it rests on.
    const Analysis* sourceOf(const char* role) const {
        if (!main_ || d_->source.kind == "groups") return nullptr;
        for (std::size_t k = 0; k < own_.size(); ++k) {
            const bool rested = std::ranges::find(main_->analyses, own_[k]->id) != main_->analyses.end();
            if ((own_[k]->id == main_->id || rested) && outcomes_[k].exists() &&
                outcomes_[k]->curve(role, d_->id))
                return own_[k].get();
        }
        return nullptr;
    }
    const Analysis* residualSource() const { return sourceOf("residuals"); }

    // The curve, and the residuals below it.
    void addFigures(DisplayList& out, double y, double height) const {
        const auto add = [&](const Figure& f, double tall) {
            figure::Layout laid = figure::layOut(p_, f, evaluator_);
            Group shifted{.items = std::move(laid.list.items), .matrix = Matrix{.e = kMargin, .f = y}};
            out.items.push_back({{}, std::move(shifted)});
            y += tall;
            return laid.panels;
        };
        const auto above = add(figureOf("curve", marks(), height, true), height);
        const Analysis* fit = residualSource();
        if (!fit) return;
        Element rest = figure::newMark("residuals", fit->id.text());
        rest.settings.set("member", Value(Reference{d_->id.text()}));
        rest.settings.set("size", Value(pointCount() > 300 ? 1.0 : 2.2));
        Figure below = figureOf("residuals", {rest}, kResiduals, false);
        for (Element& e : below.elements[0].children) {
            if (e.kind != "axis") continue;
            if (e.settings.text("side") == "left") {
                e.settings.set("name", Value(std::string("residual")));
                e.settings.set("margin", Value(10.0));
            }
            if (e.settings.text("side") == "bottom" && !above.empty())
                e.settings.set("range", Value(Numbers{above[0].x.low(), above[0].x.high()}));
        }
        add(below, kResiduals);
    }

    // What is told below the figures; true: it fits. `cut`: what does not fit is counted instead.
    bool write(std::vector<Item>& items, double top, double size, bool cut) {
        const double wide = o_.widthMm - 2 * kMargin, width = (wide - kGap) / 2;
        TextColumn trial(kMargin, 0, wide, size); // as high as the methods at the foot
        writeMethods(trial);
        const double bottom = o_.heightMm - kMargin - trial.y() - 2;
        TextColumn left(kMargin, top, width, size), right(kMargin + width + kGap, top, width, size);
        const double limit = cut ? bottom - 1.5 * size * 25.4 / 72 * 1.36 : INFINITY; // room for saying so
        writeWay(left);
        writeDoubts(left, limit);
        writeNumbers(right, limit);
        const double end = std::max(left.y(), right.y());
        TextColumn below(kMargin, end + 2, wide, size);
        writeMethods(below);
        for (TextColumn* c : {&left, &right, &below}) std::ranges::move(c->take(), std::back_inserter(items));
        return end <= bottom;
    }

    void writeMethods(TextColumn& to) const {
        to.heading("Methods");
        to.paragraph(literal(methods_), kReportInk);
    }

    void writeWay(TextColumn& to) const {
        to.heading("How it came about");
        int number = 0;
        for (const evaluate::Source& s : way_) {
            to.paragraph(literal(fmt::format("{}. {}", ++number, s.sentence)), kReportInk);
            if (!s.detail.empty()) to.paragraph(literal(s.detail), kReportQuiet, false, 3);
        }
    }

    void writeDoubts(TextColumn& to, double bottom) const {
        std::vector<std::string> all;
        const auto add = [&](const std::vector<Issue>& issues) {
            for (const Issue& i : issues)
                if (std::ranges::find(all, i.text) == all.end()) all.push_back(i.text);
        };
        const auto protocol = evaluator_.protocol(p_, d_->id);
        add(protocol.issues);
        for (const auto& stage : protocol.stages) add(stage.issues);
        for (const auto& outcome : outcomes_) add(outcome.issues);
        to.heading("What is in doubt");
        if (all.empty()) return to.paragraph("Nothing was found to object to.", kReportQuiet);
        for (std::size_t k = 0; k < all.size(); ++k) {
            if (to.y() > bottom) {
                to.paragraph(fmt::format("… and {}.", counted(std::ssize(all) - static_cast<long long>(k),
                                                              "further remark")),
                             kReportQuiet);
                return;
            }
            to.paragraph(literal(all[k]), kReportDoubt);
            to.space(0.2);
        }
    }

    // The numbers of all analyses as far as there is room; the others are counted.
    void writeNumbers(TextColumn& to, double bottom) const {
        std::size_t missing = 0;
        for (std::size_t k = 0; k < own_.size(); ++k) {
            const analyses::AnalysisKind* kind = analyses::kindOf(*own_[k]);
            const std::string name = analyses::nameOf(*own_[k]);
            if (to.y() < bottom)
                to.heading(kind && name != kind->info.name && own_[k]->kind != "fit"
                               ? kind->info.name + ": " + name
                               : name);
            if (!outcomes_[k].exists()) {
                to.paragraph(literal(outcomes_[k].result.error().text), kReportDoubt);
                continue;
            }
            for (const evaluate::ResultRow& row : evaluate::rowsOf(*own_[k], outcomes_[k])) {
                if (row.dataset != d_->id && !row.ofAll) continue;
                if (to.y() > bottom) {
                    ++missing;
                    continue;
                }
                to.row(literal(evaluate::nameOf(row)), withUnit(row),
                       row.good && row.state != "fixed" ? "" : literal(row.state), row.good);
            }
            if (to.y() < bottom) writeQuality(to, *outcomes_[k]);
        }
        if (own_.empty()) to.heading("Numbers"), to.paragraph("Nothing has been fitted yet.", kReportQuiet);
        if (missing > 0)
            to.paragraph(fmt::format("… and {}: see the results of the project.",
                                     counted(static_cast<long long>(missing), "further number")),
                         kReportQuiet);
    }

    static void writeQuality(TextColumn& to, const analyses::AnalysisResult& result) {
        static const std::set<std::string_view> kTold = {"n",           "dof",          "r2",
                                                         "residual_sd", "reduced_chi2", "aicc"};
        std::vector<std::string> told;
        for (const analyses::Quantity& q : result.quality)
            if (std::isfinite(q.value) && kTold.contains(q.key))
                told.push_back(q.label + " " + readableNumber(q.value, 5));
        if (!told.empty()) to.paragraph(literal(joined(told, ", ")), kReportQuiet);
    }

    std::string methods() const {
        std::vector<evaluate::ResultRow> rows;
        for (const auto& a : own_) rows.push_back({.dataset = d_->id, .analysis = a->id});
        if (rows.empty()) rows.push_back({.dataset = d_->id});
        std::string text = methodsText(p_, evaluator_, rows);
        std::ranges::replace(text, '\n', ' ');
        return text;
    }

    const Project& p_;
    const ReportOptions& o_;
    evaluate::Evaluator& evaluator_;
    std::shared_ptr<const Dataset> d_;
    std::vector<std::shared_ptr<const Analysis>> own_;
    std::shared_ptr<const Analysis> main_;
    std::vector<evaluate::AnalysisOutcome> outcomes_;
    std::string methods_;
    std::vector<evaluate::Source> way_;
};

} // namespace

draw::DisplayList reportPage(const Project& project, const ReportOptions& options,
                             evaluate::Evaluator& evaluator) {
    return Report(project, options, evaluator).page();
}

Result<Exported> exportReport(const Project& project, const ReportOptions& options,
                              evaluate::Evaluator& evaluator, const std::string& path, FigureWriter& writer,
                              const Cancellation& stop) {
    const auto d = project.datasets.find(options.dataset);
    if (!d) return failure("target-gone", "The dataset is no longer there.");
    return exportPage([&] { return reportPage(project, options, evaluator); }, path, writer,
                      {.dpi = 300, .title = d->name, .stop = stop}, "A report");
}

} // namespace jointer
