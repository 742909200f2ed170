// SPDX-License-Identifier: GPL-3.0-or-later
// Times as text by a pattern in the letters of ISO 8601: YYYY or YY, MMM (name of the month), MM or M, DD or
// D, hh or h, mm, ss, f… (decimals of the second), AM (then h counts to twelve). All other signs stand for
// themselves. Example: `timeText(0, "D MMM YYYY, hh:mm")` is "1 Jan 1970, 00:00".
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace jointer {

// Seconds since 1970-01-01 as text; rounded to the last shown decimal of the second where `f` is given, else
// cut to the shown part. Of durations the hours go on beyond 24.
enum class TimeMeaning { Moment, Duration };
std::string timeText(double seconds, std::string_view pattern, TimeMeaning meaning = TimeMeaning::Moment);

// The time that a text of this pattern means; parts that the pattern does not show are those of 1970-01-01,
// midnight. Nothing where the text does not follow the pattern or names no day of the calendar.
std::optional<double> timeFromText(std::string_view text, std::string_view pattern);

} // namespace jointer
