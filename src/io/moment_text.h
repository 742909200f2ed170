// SPDX-License-Identifier: GPL-3.0-or-later
// Dates, times and durations as text. The order of day and month is settled for a whole column (see
// column_meaning.h); here one cell is read in a given order.
#pragma once

#include "data/column.h"

#include <optional>
#include <string_view>

namespace jointer::io {

enum class DateOrder { DayMonthYear, MonthDayYear, YearMonthDay };

struct Moment {
    double seconds;       // since 1970-01-01; of time of day and durations: seconds
    ColumnKind kind;      // Date, DateTime, TimeOfDay, Duration
    bool utc = false;     // an offset or Z was given and has been taken into account
    bool ordered = false; // day and month could have been read the other way round only by the order given
};

// Dates by figures with - / . or blanks between them, or with the name of the month (English); two-digit
// years from 1970 to 2069; times with fractions, AM/PM and offsets, before or after the date. Durations:
// "36:15:00" (hours from 24 on), "1d 02:03:04", "P1DT2H".
std::optional<Moment> momentOf(std::string_view text, DateOrder order);

// ISO 8601 only: what needs no order.
std::optional<Moment> isoMoment(std::string_view text);

// Whether the first two figures of a date by figures allow the order; the year first allows only its own.
struct OrderEvidence {
    bool dayMonth = false, monthDay = false, yearFirst = false;
    char mark = 0; // between the figures
};
std::optional<OrderEvidence> orderEvidence(std::string_view text);

// Whether a text could be a moment in some order: for guesses.
bool looksLikeMoment(std::string_view text);

} // namespace jointer::io
