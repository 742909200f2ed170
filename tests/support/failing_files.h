// SPDX-License-Identifier: GPL-3.0-or-later
// File operations of which one call fails, as on a full or dying disk: the tests make each call fail in turn.
#pragma once

#include "base/files.h"

#include <algorithm>
#include <cerrno>

namespace jointer::test {

class FailingFiles final : public FileOperations {
public:
    explicit FailingFiles(int at) : left_(at) {} // the call, from 0

    int open(const std::string& path) override { return fails() ? -1 : systemFiles().open(path); }
    long write(int d, const char* data, std::size_t n) override {
        if (fails()) return systemFiles().write(d, data, n / 2), errno = ENOSPC, -1; // half of it got there
        return systemFiles().write(d, data, std::min<std::size_t>(n, 4096));
    }
    int sync(int d) override { return fails() ? -1 : systemFiles().sync(d); }
    int close(int d) override {
        const int closed = systemFiles().close(d);
        return fails() ? -1 : closed;
    }
    int rename(const std::string& from, const std::string& to) override {
        return fails() ? -1 : systemFiles().rename(from, to);
    }
    int syncFolder(const std::string& folder) override {
        return fails() ? -1 : systemFiles().syncFolder(folder);
    }

    bool failed = false;

private:
    bool fails() { return left_-- == 0 && (errno = EIO, failed = true); }
    int left_;
};

} // namespace jointer::test
