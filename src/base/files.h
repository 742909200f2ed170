// SPDX-License-Identifier: GPL-3.0-or-later
// Reading whole files and replacing files safely: a temporary file beside the target is written, synced,
// renamed over it, and the folder synced, so that at every moment either the old or the new file is whole.
#pragma once

#include "base/issue.h"

#include <cstddef>
#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <string_view>

namespace jointer {

// The system calls of a replacement, one by one; tests hand in one that fails at a chosen call.
class FileOperations {
public:
    virtual ~FileOperations() = default;
    virtual int open(const std::string& path) = 0; // for writing, new; the descriptor or -1
    virtual long write(int descriptor, const char* data, std::size_t size) = 0;
    virtual int sync(int descriptor) = 0;
    virtual int close(int descriptor) = 0;
    virtual int rename(const std::string& from, const std::string& to) = 0;
    virtual int syncFolder(const std::string& folder) = 0;
};

FileOperations& systemFiles();

// Replaces `path` by `bytes`. Errors: the file cannot be written; the old one is then untouched.
Result<void> replaceFile(const std::filesystem::path& path, std::string_view bytes,
                         FileOperations& files = systemFiles());

// A file mapped into memory, read-only. Empty files give an empty view.
class MappedFile {
public:
    static Result<MappedFile> open(const std::filesystem::path& path);
    MappedFile(MappedFile&& other) noexcept;
    MappedFile& operator=(MappedFile&& other) noexcept;
    ~MappedFile();
    std::string_view bytes() const { return {data_, size_}; }

private:
    MappedFile(const char* data, std::size_t size) : data_(data), size_(size) {}
    const char* data_ = nullptr;
    std::size_t size_ = 0;
};

Result<std::string> readFile(const std::filesystem::path& path);

} // namespace jointer
