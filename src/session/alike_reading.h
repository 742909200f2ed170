// SPDX-License-Identifier: GPL-3.0-or-later
// Many files of one shape are read by the dialect of one of them: guessing is most of the cost of a small
// file. What does not come out with the same columns, without a doubt, is guessed afresh. Thread-safe.
#pragma once

#include "io/reader.h"

#include <memory>
#include <mutex>

namespace jointer {

class AlikeReading {
public:
    Result<io::ReadResult> read(const std::string& file, const Settings& told, const Cancellation& stop = {});

private:
    Result<io::ReadResult> asItStands(const std::string& file, const Settings& told, const Cancellation& stop);

    std::mutex mutex_;
    std::shared_ptr<const io::ReadResult> model_; // without cells
    Settings dialect_;
};

} // namespace jointer
