// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/run_journal.h"

#include "base/text.h"
#include "project/recipe_json.h"

#include <cerrno>
#include <chrono>
#include <cmath>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

namespace jointer {

namespace fs = std::filesystem;

namespace {

Json numberJson(double v) {
    return std::isfinite(v) ? Json(v) : Json();
}

double numberFrom(const Json& j, const char* key) {
    const auto at = j.find(key);
    return at != j.end() && at->is_number() ? at->get<double>() : std::nan("");
}

std::string textFrom(const Json& j, const char* key) {
    const auto at = j.find(key);
    return at != j.end() && at->is_string() ? at->get<std::string>() : std::string();
}

template <class F> void each(const Json& j, const char* key, F take) {
    const auto at = j.find(key);
    if (at != j.end() && at->is_array())
        for (const Json& item : *at) take(item);
}

std::vector<std::string> textsFrom(const Json& j, const char* key) {
    std::vector<std::string> out;
    each(j, key, [&](const Json& item) {
        if (item.is_string()) out.push_back(item.get<std::string>());
    });
    return out;
}

Json issueJson(const Issue& issue) {
    return {{"code", issue.code},
            {"line", issue.place.line},
            {"column", issue.place.column},
            {"text", issue.text}};
}

Issue issueFrom(const Json& j, const std::string& file) {
    const double line = numberFrom(j, "line");
    return {textFrom(j, "code"),
            textFrom(j, "text"),
            {.file = file,
             .line = std::isfinite(line) ? static_cast<long>(line) : 0,
             .column = textFrom(j, "column")}};
}

std::string quoted(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == text.npos) return text;
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"') out += '"';
        out += c;
    }
    return out + "\"";
}

std::string csvNumber(double v) {
    return std::isfinite(v) ? shortestNumber(v) : std::string();
}

std::string written(const Json& json) {
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

bool writeAll(int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t n = ::write(descriptor, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}

std::string readAll(int descriptor, long long from) {
    std::string out;
    char part[65536];
    for (;;) {
        const ssize_t n = ::pread(descriptor, part, sizeof part, from + std::ssize(out));
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return out;
        out.append(part, static_cast<std::size_t>(n));
    }
}

// Turns are taken by a lock on the log.
class Turn {
public:
    explicit Turn(int descriptor) : descriptor_(descriptor) {
        while (::flock(descriptor_, LOCK_EX) != 0 && errno == EINTR) {}
    }
    ~Turn() { ::flock(descriptor_, LOCK_UN); }
    Turn(const Turn&) = delete;
    Turn& operator=(const Turn&) = delete;

private:
    int descriptor_;
};

} // namespace

Json toJson(const RunFile& file) {
    Json curves = Json::array(), issues = Json::array();
    for (const RunCurve& c : file.curves) {
        Json attributes = Json::object(), rows = Json::array();
        for (const Attribute& a : c.attributes)
            attributes[a.name] = a.value + (a.unit.empty() ? "" : " " + a.unit);
        for (const RunRow& r : c.rows)
            rows.push_back({{"analysis", r.analysis},
                            {"quantity", r.quantity},
                            {"subject", r.subject},
                            {"value", numberJson(r.value)},
                            {"error", numberJson(r.error)},
                            {"unit", r.unit},
                            {"state", r.state},
                            {"good", r.good}});
        curves.push_back({{"dataset", c.dataset},
                          {"attributes", std::move(attributes)},
                          {"lines", c.lines},
                          {"scatter", numberJson(c.scatter)},
                          {"runs_p", numberJson(c.runsP)},
                          {"tested", c.tested},
                          {"doubts", c.doubts},
                          {"rows", std::move(rows)}});
    }
    for (const Issue& issue : file.issues) issues.push_back(issueJson(issue));
    return {{"file", file.file},
            {"failed", file.failed ? issueJson(*file.failed) : Json()},
            {"datasets", std::move(curves)},
            {"warnings", std::move(issues)}};
}

RunFile runFileFromJson(const Json& json) {
    RunFile out{.file = textFrom(json, "file"), .stamp = textFrom(json, "stamp")};
    if (const auto at = json.find("failed"); at != json.end() && at->is_object())
        out.failed = issueFrom(*at, out.file);
    each(json, "warnings", [&](const Json& j) { out.issues.push_back(issueFrom(j, out.file)); });
    each(json, "datasets", [&](const Json& j) {
        RunCurve c{.dataset = textFrom(j, "dataset"),
                   .lines = textFrom(j, "lines"),
                   .doubts = textsFrom(j, "doubts")};
        c.scatter = numberFrom(j, "scatter");
        c.runsP = numberFrom(j, "runs_p");
        if (const auto at = j.find("tested"); at != j.end() && at->is_object())
            for (const auto& [code, text] : at->items())
                if (text.is_string()) c.tested.emplace(code, text.get<std::string>());
        if (const auto at = j.find("attributes"); at != j.end() && at->is_object())
            for (const auto& [name, value] : at->items())
                if (value.is_string()) c.attributes.push_back({name, value.get<std::string>(), {}});
        each(j, "rows", [&](const Json& r) {
            const auto good = r.find("good");
            c.rows.push_back({textFrom(r, "analysis"), textFrom(r, "quantity"), textFrom(r, "subject"),
                              numberFrom(r, "value"), numberFrom(r, "error"), textFrom(r, "unit"),
                              textFrom(r, "state"),
                              good == r.end() || !good->is_boolean() || good->get<bool>()});
        });
        out.curves.push_back(std::move(c));
    });
    return out;
}

std::string runCsvHeading() {
    return "dataset,attributes,quantity,subject,value,error,unit,state,source\r\n";
}

std::string runCsvRows(const RunFile& file) {
    std::string out;
    const auto row = [&](std::initializer_list<std::string> cells) {
        bool first = true;
        for (const std::string& cell : cells) {
            if (!first) out += ',';
            out += quoted(cell);
            first = false;
        }
        out += "\r\n";
    };
    if (file.failed)
        row({fs::path(file.file).stem().string(), "", "", "", "", "", "", "not-read",
             file.failed->sentence()});
    for (const RunCurve& c : file.curves) {
        const std::string source = file.file + (c.lines.empty() ? "" : ":" + c.lines);
        const std::string attributes = attributesText(c.attributes);
        if (c.rows.empty()) row({c.dataset, attributes, "", "", "", "", "", "done", source});
        for (const RunRow& r : c.rows)
            row({c.dataset, attributes, r.quantity, r.subject, csvNumber(r.value), csvNumber(r.error), r.unit,
                 r.state, source + " · " + r.analysis});
    }
    return out;
}

RunJournal::RunJournal(RunJournal&& o) noexcept
    : folder_(std::move(o.folder_)), heading_(std::move(o.heading_)), log_(std::exchange(o.log_, -1)),
      csv_(std::exchange(o.csv_, -1)), logEnd_(o.logEnd_), mutex_(std::move(o.mutex_)),
      done_(std::move(o.done_)) {}

RunJournal::~RunJournal() {
    for (const int descriptor : {csv_, log_})
        if (descriptor >= 0) {
            ::fsync(descriptor);
            ::close(descriptor);
        }
}

std::unexpected<Issue> RunJournal::cannot() const {
    return failure("not-written", fmt::format("The results cannot be written: {}.", std::strerror(errno)),
                   {.file = folder_.string()});
}

Result<RunJournal> RunJournal::open(const fs::path& folder, const Recipe& recipe, bool afresh) {
    RunJournal out;
    out.folder_ = folder;
    Hasher h;
    h.add(recipeText(recipe));
    out.heading_ = written({{"recipe", recipe.name}, {"digest", h.digest().hex()}, {"format", 1}});
    std::error_code error;
    fs::create_directories(folder, error);
    const int flags = O_RDWR | O_CREAT | O_CLOEXEC;
    out.log_ = ::open((folder / "apply-log.jsonl").c_str(), flags, 0644);
    out.csv_ = out.log_ < 0 ? -1 : ::open((folder / "results.csv").c_str(), flags, 0644);
    if (out.csv_ < 0) return out.cannot();
    const Turn turn(out.log_);
    if (afresh && ::ftruncate(out.log_, 0) != 0) return out.cannot();
    if (auto good = out.take(); !good) return std::unexpected(good.error());
    return out;
}

// What a killed run left half written is cut off, and results.csv is written again where it does not say what
// the log says.
Result<void> RunJournal::take() {
    const std::string log = readAll(log_, 0);
    done_.clear();
    logEnd_ = 0;
    std::vector<std::pair<std::string, std::string>> rows; // of each line: its file, its part of results.csv
    std::map<std::string, std::size_t> last;               // of a file that was done again the last counts
    for (std::size_t at = 0; at < log.size();) {
        const std::size_t end = log.find('\n', at);
        if (end == log.npos) break;
        const std::string line = log.substr(at, end - at);
        if (at == 0 && line != heading_) break; // of another recipe
        const Json json = Json::parse(line, nullptr, false);
        if (!json.is_object()) break;
        if (at > 0) {
            const RunFile file = runFileFromJson(json);
            last[file.file] = rows.size();
            rows.emplace_back(file.file, runCsvRows(file));
            done_[file.file] = line;
        }
        at = end + 1;
        logEnd_ = static_cast<long long>(at);
    }
    if (logEnd_ == 0) {
        if (::ftruncate(log_, 0) != 0 || ::lseek(log_, 0, SEEK_SET) < 0 || !writeAll(log_, heading_ + "\n"))
            return cannot();
        logEnd_ = std::ssize(heading_) + 1;
    } else if (::ftruncate(log_, logEnd_) != 0)
        return cannot();
    std::string csv = runCsvHeading();
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (last.at(rows[i].first) == i) csv += rows[i].second;
    if (readAll(csv_, 0) == csv) return {};
    if (::ftruncate(csv_, 0) != 0 || ::lseek(csv_, 0, SEEK_SET) < 0 || !writeAll(csv_, csv)) return cannot();
    return {};
}

// The lines that others have written since. Whether they are whole.
bool RunJournal::catchUp() {
    const std::string more = readAll(log_, logEnd_);
    if (!more.ends_with('\n')) return false;
    for (const std::string_view line : split(std::string_view(more).substr(0, more.size() - 1), '\n')) {
        const Json json = Json::parse(line, nullptr, false);
        if (!json.is_object()) return false;
        done_[textFrom(json, "file")] = line;
    }
    logEnd_ += std::ssize(more);
    return true;
}

std::optional<RunFile> RunJournal::done(const std::string& file) const {
    std::string line;
    {
        const std::lock_guard lock(*mutex_);
        const auto at = done_.find(file);
        if (at == done_.end()) return std::nullopt;
        line = at->second;
    }
    const Json json = Json::parse(line, nullptr, false);
    if (textFrom(json, "stamp") != stampOf(file)) return std::nullopt;
    return runFileFromJson(json);
}

Result<void> RunJournal::add(const RunFile& file) {
    const Turn turn(log_);
    const std::lock_guard lock(*mutex_);
    const bool again = done_.contains(file.file);
    const long long end = ::lseek(log_, 0, SEEK_END);
    if (end != logEnd_ && !catchUp()) // another process wrote, and was killed in the middle
        if (auto good = take(); !good) return good;
    Json json = toJson(file);
    json["stamp"] = file.stamp;
    std::string line = written(json);
    // The rows first: without a line in the log they count for nothing.
    if (::lseek(csv_, 0, SEEK_END) < 0 || !writeAll(csv_, runCsvRows(file))) return cannot();
    if (::lseek(log_, logEnd_, SEEK_SET) < 0 || !writeAll(log_, line + "\n")) return cannot();
    logEnd_ += std::ssize(line) + 1;
    done_[file.file] = std::move(line);
    if (again) return take(); // its earlier rows go
    return {};
}

} // namespace jointer
