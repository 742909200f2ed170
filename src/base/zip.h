// SPDX-License-Identifier: GPL-3.0-or-later
// Zip archives as project files need them: written in memory with the same bytes for the same content, read
// with care for what a damaged or hostile file may claim.
#pragma once

#include "base/issue.h"

#include <algorithm>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include <zip.h>

namespace jointer {

inline constexpr zip_uint64_t kMostEntries = 1000000, kLargestEntry = 16ULL << 30;

// Writes entries into a zip in memory. Data given by reference must live until bytes() is called.
class ZipWriter {
public:
    ZipWriter() {
        zip_error_t error;
        zip_error_init(&error);
        source_ = zip_source_buffer_create(nullptr, 0, 0, &error);
        zip_source_keep(source_);
        archive_ = zip_open_from_source(source_, ZIP_TRUNCATE, &error);
    }
    ZipWriter(const ZipWriter&) = delete;
    ~ZipWriter() {
        if (archive_) zip_discard(archive_);
        zip_source_free(source_);
    }

    void add(const std::string& name, std::string_view bytes, bool compress) {
        zip_source_t* from = zip_source_buffer(archive_, bytes.data(), bytes.size(), 0);
        const zip_int64_t index = zip_file_add(archive_, name.c_str(), from, ZIP_FL_ENC_UTF_8);
        if (index < 0) {
            zip_source_free(from);
            failed_ = true;
            return;
        }
        const auto i = static_cast<zip_uint64_t>(index);
        zip_set_file_compression(archive_, i, compress ? ZIP_CM_DEFLATE : ZIP_CM_STORE, 0);
        zip_file_set_dostime(archive_, i, 0, (1 << 5) | 1,
                             0); // 1980-01-01, so that the same project gives the same bytes
        zip_file_set_external_attributes(archive_, i, 0, ZIP_OPSYS_UNIX, 0644u << 16);
    }
    void addOwned(const std::string& name, std::string bytes, bool compress) {
        owned_.push_back(std::make_unique<std::string>(std::move(bytes)));
        add(name, *owned_.back(), compress);
    }

    Result<std::string> bytes() {
        if (failed_ || zip_close(archive_) != 0) return failure("save", "The project could not be packed.");
        archive_ = nullptr;
        std::string out;
        zip_stat_t stat;
        if (zip_source_open(source_) != 0 || zip_source_stat(source_, &stat) != 0)
            return failure("save", "The project could not be packed.");
        out.resize(stat.size);
        const zip_int64_t read = zip_source_read(source_, out.data(), out.size());
        zip_source_close(source_);
        if (read != static_cast<zip_int64_t>(out.size()))
            return failure("save", "The project could not be packed.");
        return out;
    }

private:
    zip_source_t* source_ = nullptr;
    zip_t* archive_ = nullptr;
    bool failed_ = false;
    std::vector<std::unique_ptr<std::string>> owned_;
};

class ZipReader {
public:
    // Errors: not a zip file.
    static Result<std::unique_ptr<ZipReader>> openFile(const std::string& path) {
        return open({}, path, [&](ZipReader&, zip_error_t* error) {
            return zip_source_file_create(path.c_str(), 0, -1, error);
        });
    }
    static Result<std::unique_ptr<ZipReader>> openBytes(std::string bytes, const std::string& path) {
        return open(std::move(bytes), path, [](ZipReader& reader, zip_error_t* error) {
            return zip_source_buffer_create(reader.bytes_.data(), reader.bytes_.size(), 0, error);
        });
    }
    ~ZipReader() {
        if (archive_) zip_discard(archive_);
    }

    std::vector<std::string> names() const {
        std::vector<std::string> out;
        const zip_int64_t n = zip_get_num_entries(archive_, 0);
        for (zip_uint64_t i = 0;
             i < std::min(kMostEntries, static_cast<zip_uint64_t>(std::max<zip_int64_t>(n, 0))); ++i)
            if (const char* name = zip_get_name(archive_, i, 0)) out.emplace_back(name);
        return out;
    }

    bool has(const std::string& name) const { return zip_name_locate(archive_, name.c_str(), 0) >= 0; }

    // The whole entry as a row of T; nothing where it is missing, damaged (CRC) or claims to be larger than
    // it can be.
    template <class Container> std::optional<Container> entry(const std::string& name) const {
        using T = typename Container::value_type;
        zip_stat_t stat;
        if (zip_stat(archive_, name.c_str(), 0, &stat) != 0 || stat.size > kLargestEntry ||
            stat.size % sizeof(T) != 0)
            return std::nullopt;
        // Deflate packs at most about 1:1032; what claims more is hostile.
        if (stat.comp_size > size_ || (stat.size > 4096 && stat.size / 1100 > stat.comp_size))
            return std::nullopt;
        if (stat.comp_method == ZIP_CM_STORE && stat.size != stat.comp_size) return std::nullopt;
        const std::unique_ptr<zip_file_t, decltype(&zip_fclose)> file(zip_fopen(archive_, name.c_str(), 0),
                                                                      &zip_fclose);
        if (!file) return std::nullopt;
        Container out(stat.size / sizeof(T), T{});
        const zip_int64_t got = zip_fread(file.get(), out.data(), stat.size);
        char beyond;
        const bool whole = got == static_cast<zip_int64_t>(stat.size) &&
                           zip_fread(file.get(), &beyond, 1) == 0; // the CRC is checked at the end
        return whole ? std::optional(std::move(out)) : std::nullopt;
    }
    std::optional<std::string> text(const std::string& name) const { return entry<std::string>(name); }

private:
    template <class MakeSource>
    static Result<std::unique_ptr<ZipReader>> open(std::string bytes, const std::string& path,
                                                   MakeSource make) {
        auto reader = std::make_unique<ZipReader>();
        reader->bytes_ = std::move(bytes);
        zip_error_t error;
        zip_error_init(&error);
        zip_source_t* source = make(*reader, &error);
        zip_stat_t stat;
        zip_stat_init(&stat);
        if (source && zip_source_stat(source, &stat) == 0) reader->size_ = stat.size;
        reader->archive_ = source ? zip_open_from_source(source, ZIP_RDONLY, &error) : nullptr;
        zip_error_fini(&error);
        if (reader->archive_) return reader;
        if (source) zip_source_free(source);
        return failure("not-a-project", "This is not a Jointer project, or it is damaged beyond reading.",
                       {.file = path});
    }

    std::string bytes_; // of a project in memory
    zip_uint64_t size_ = 0;
    zip_t* archive_ = nullptr;
};

} // namespace jointer
