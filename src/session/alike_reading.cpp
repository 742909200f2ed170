// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/alike_reading.h"

#include "io/joined_moments.h"

#include <algorithm>

namespace jointer {

namespace {

// What decides how lines are cut, as the readers take it; nothing where a file is of another sort.
Settings dialectOf(const io::ReadResult& reading) {
    Settings out;
    const io::Dialect& d = reading.dialect;
    const bool plain =
        reading.format == "delimited" && d.form == io::Form::Separated && reading.tables.size() == 1;
    if (!plain || std::string_view(",;\t|").find(d.separator) == std::string_view::npos) return out;
    out.set("separator", Value(d.separator == '\t' ? std::string("tab") : std::string(1, d.separator)));
    out.set("decimal", Value(std::string(1, d.decimal)));
    out.set("plate", "no");
    return out;
}

bool isAlike(const io::ReadResult& a, const io::ReadResult& b) {
    const auto same = [](const Column& x, const Column& y) {
        return x.name == y.name && x.unit == y.unit && x.kind == y.kind;
    };
    return a.format == b.format && a.tables.size() == 1 && b.tables.size() == 1 && b.issues.empty() &&
           std::ranges::equal(a.tables[0].table.columns, b.tables[0].table.columns, same);
}

} // namespace

Result<io::ReadResult> AlikeReading::read(const std::string& file, const Settings& told,
                                          const Cancellation& stop) {
    auto reading = asItStands(file, told, stop);
    if (reading) io::joinMoments(*reading, told); // as an import does
    return reading;
}

Result<io::ReadResult> AlikeReading::asItStands(const std::string& file, const Settings& told,
                                                const Cancellation& stop) {
    std::shared_ptr<const io::ReadResult> model;
    Settings dialect;
    {
        const std::lock_guard lock(mutex_);
        model = model_;
        dialect = dialect_;
    }
    if (model) {
        for (const auto& [key, value] : told.entries()) dialect.set(key, value);
        auto quick = io::readFileAs(file, dialect, stop);
        if (quick && isAlike(*model, *quick)) return quick;
    }
    auto reading = io::readFileAs(file, told, stop);
    if (!reading || model) return reading;
    Settings found = dialectOf(*reading);
    if (found.empty() || !reading->issues.empty()) return reading;
    auto kept = std::make_shared<io::ReadResult>();
    kept->format = reading->format;
    kept->tables.resize(1);
    for (const Column& c : reading->tables[0].table.columns)
        kept->tables[0].table.columns.push_back({.id = {}, .name = c.name, .unit = c.unit, .kind = c.kind});
    const std::lock_guard lock(mutex_);
    if (!model_) {
        model_ = std::move(kept);
        dialect_ = std::move(found);
    }
    return reading;
}

} // namespace jointer
