// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/files.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

namespace jointer {

namespace {

class SystemFiles final : public FileOperations {
public:
    int open(const std::string& path) override {
        return ::open(path.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666);
    }
    long write(int d, const char* data, std::size_t size) override { return ::write(d, data, size); }
    int sync(int d) override { return ::fsync(d); }
    int close(int d) override { return ::close(d); }
    int rename(const std::string& from, const std::string& to) override {
        return ::rename(from.c_str(), to.c_str());
    }
    int syncFolder(const std::string& folder) override {
        const int d = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
        if (d < 0) return -1;
        const int result = ::fsync(d);
        ::close(d);
        return result;
    }
};

std::unexpected<Issue> cannot(std::string_view what, const std::string& path) {
    return failure("file-error", fmt::format("Cannot {}: {}.", what, std::strerror(errno)), {.file = path});
}

bool writeAll(FileOperations& files, int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const long done = files.write(descriptor, bytes.data(), std::min<std::size_t>(bytes.size(), 1 << 24));
        if (done < 0 && errno == EINTR) continue;
        if (done <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(done));
    }
    return true;
}

} // namespace

FileOperations& systemFiles() {
    static SystemFiles files;
    return files;
}

Result<void> replaceFile(const std::filesystem::path& target, std::string_view bytes, FileOperations& files) {
    // A symbolic link keeps pointing where it did: its target is what is replaced.
    std::error_code error;
    const std::filesystem::path path =
        std::filesystem::is_symlink(target, error) ? std::filesystem::canonical(target, error) : target;
    const std::string folder = path.has_parent_path() ? path.parent_path().string() : ".";
    const std::string temporary = fmt::format("{}.{}.part", path.string(), ::getpid());
    const int descriptor = files.open(temporary);
    if (descriptor < 0) return cannot("write the file", path.string());

    const bool written = writeAll(files, descriptor, bytes) && files.sync(descriptor) == 0;
    const int writeError = errno;
    const bool closed = files.close(descriptor) == 0;
    if (!written) errno = writeError;
    if (!written || !closed || files.rename(temporary, path.string()) != 0) {
        const int reason = errno;
        ::unlink(temporary.c_str());
        errno = reason;
        return cannot("write the file; the old one is untouched", path.string());
    }
    if (files.syncFolder(folder) != 0)
        return cannot("make sure that the saved file is on the disk", path.string());
    return {};
}

Result<MappedFile> MappedFile::open(const std::filesystem::path& path) {
    const int descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (descriptor < 0) return cannot("open the file", path.string());
    struct stat info{};
    if (::fstat(descriptor, &info) != 0 || S_ISDIR(info.st_mode)) {
        if (S_ISDIR(info.st_mode)) errno = EISDIR;
        const int reason = errno;
        ::close(descriptor);
        errno = reason;
        return cannot("open the file", path.string());
    }
    const auto size = static_cast<std::size_t>(info.st_size);
    void* data = size == 0 ? nullptr : ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, descriptor, 0);
    const int reason = errno;
    ::close(descriptor);
    errno = reason;
    if (data == MAP_FAILED) return cannot("read the file", path.string());
    return MappedFile(static_cast<const char*>(data), size);
}

MappedFile::MappedFile(MappedFile&& other) noexcept
    : data_(std::exchange(other.data_, nullptr)), size_(std::exchange(other.size_, 0)) {}

MappedFile& MappedFile::operator=(MappedFile&& other) noexcept {
    std::swap(data_, other.data_);
    std::swap(size_, other.size_);
    return *this;
}

MappedFile::~MappedFile() {
    if (data_) ::munmap(const_cast<char*>(data_), size_);
}

Result<std::string> readFile(const std::filesystem::path& path) {
    auto file = MappedFile::open(path);
    if (!file) return std::unexpected(file.error());
    return std::string(file->bytes());
}

} // namespace jointer
