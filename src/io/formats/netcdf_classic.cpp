// SPDX-License-Identifier: GPL-3.0-or-later
// NetCDF in its classic forms (CDF-1, CDF-2, CDF-5), read by our own hand; NetCDF-4 is HDF5 (hdf5.cpp).
// Source: the NetCDF classic format specification.
#include "base/text.h"
#include "io/formats/chromatogram.h"
#include "io/formats/made_table.h"
#include "io/formats/variables.h"
#include "io/number_bytes.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::io {

namespace {

constexpr std::size_t kMostItems = 20000, kMostValues = 500000000;

struct Kind {
    char kind;
    std::size_t size;
};
// Types 1…11; the second is text.
constexpr Kind kKinds[] = {{'i', 1}, {'c', 1}, {'i', 2}, {'i', 4}, {'f', 4}, {'f', 8},
                           {'u', 1}, {'u', 2}, {'u', 4}, {'i', 8}, {'u', 8}};

struct Attribute {
    std::string name, text;
    std::vector<double> numbers;
};
struct Dimension {
    std::string name;
    std::size_t length; // 0: grows with the records
};
struct Entry {
    std::string name;
    std::vector<std::size_t> dimensions;
    std::vector<Attribute> attributes;
    Kind kind{};
    std::size_t begin = 0;
};

class File {
public:
    explicit File(std::string_view bytes) : b_(bytes) {}

    Result<void> read(ReadResult& out, const Cancellation& stop) {
        version_ = b_[3];
        at_ = 4;
        records_ = count();
        const bool streaming = records_ == (version_ == 5 ? ~std::size_t{0} : 0xFFFFFFFFU);
        readList(10, [&] {
            std::string name = text();
            dimensions_.push_back({std::move(name), count()});
        });
        std::vector<Attribute> global = attributes();
        readList(11, [&] { entries_.push_back(entry()); });
        if (bad_) return failure("netcdf", "The head of the file is damaged or cut short.");
        for (const Attribute& a : global)
            out.metadata.emplace_back(
                a.name, a.text.empty() && !a.numbers.empty() ? shortestNumber(a.numbers[0]) : a.text);
        findRecordSize();
        if (streaming)
            records_ =
                recordSize_ == 0 || firstRecord_ > b_.size() ? 0 : (b_.size() - firstRecord_) / recordSize_;
        std::vector<Variable> variables;
        std::size_t values = 0;
        for (const Entry& e : entries_) {
            if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");
            auto v = variable(e, values);
            if (!v) {
                out.issues.push_back(
                    {"damaged",
                     fmt::format("The variable “{}” reaches beyond the end of the file and is left out.",
                                 e.name),
                     {}});
                continue;
            }
            variables.push_back(std::move(*v));
        }
        completeChromatogram(variables, out.metadata);
        addTables(std::move(variables), out);
        if (out.tables.empty()) return failure("netcdf", "The file holds no variables with values.");
        return {};
    }

private:
    template <class T> T integer() {
        if (sizeof(T) > b_.size() - std::min(at_, b_.size())) {
            bad_ = true;
            return 0;
        }
        const T value = integerAt<T>(b_.data() + at_, true);
        at_ += sizeof(T);
        return value;
    }
    std::size_t count() { return version_ == 5 ? integer<std::uint64_t>() : integer<std::uint32_t>(); }

    std::string text() {
        const std::size_t n = count();
        if (bad_ || n > b_.size() - at_ || n > 100000) {
            bad_ = true;
            return {};
        }
        std::string out = safeText(b_.substr(at_, n));
        at_ += (n + 3) & ~std::size_t{3};
        return out;
    }

    template <class Read> void readList(std::uint32_t tag, Read read) {
        const auto found = integer<std::uint32_t>();
        const std::size_t n = count();
        if (bad_ || (found != tag && (found != 0 || n != 0)) || n > kMostItems) {
            bad_ = true;
            return;
        }
        for (std::size_t k = 0; k < n && !bad_; ++k) read();
    }

    Kind kind() {
        const auto type = integer<std::uint32_t>();
        if (type < 1 || type > 11) {
            bad_ = true;
            return kKinds[0];
        }
        return kKinds[type - 1];
    }

    std::vector<Attribute> attributes() {
        std::vector<Attribute> all;
        readList(12, [&] {
            Attribute a{.name = text()};
            const Kind k = kind();
            const std::size_t n = count();
            if (bad_ || n > (b_.size() - std::min(at_, b_.size())) / k.size) {
                bad_ = true;
                return;
            }
            if (k.kind == 'c')
                a.text = std::string(trimmed(safeText(b_.substr(at_, n))));
            else
                for (std::size_t i = 0; i < std::min<std::size_t>(n, 100); ++i)
                    a.numbers.push_back(numberAt(b_.data() + at_ + i * k.size, k.kind, k.size, true));
            at_ += (n * k.size + 3) & ~std::size_t{3};
            all.push_back(std::move(a));
        });
        return all;
    }

    Entry entry() {
        Entry e{.name = text()};
        const std::size_t n = count();
        if (bad_ || n > 64) {
            bad_ = true;
            return e;
        }
        for (std::size_t k = 0; k < n; ++k) {
            e.dimensions.push_back(count());
            if (e.dimensions.back() >= dimensions_.size()) bad_ = true;
        }
        e.attributes = attributes();
        e.kind = kind();
        count(); // its size, which follows from the dimensions
        e.begin = version_ == 1 ? integer<std::uint32_t>() : integer<std::uint64_t>();
        return e;
    }

    bool grows(const Entry& e) const {
        return !e.dimensions.empty() && dimensions_[e.dimensions[0]].length == 0;
    }

    // Values of one record, or of all of a variable that does not grow; nothing where they are too many.
    std::optional<std::size_t> valuesOf(const Entry& e) const {
        std::size_t n = 1;
        for (std::size_t k = grows(e) ? 1 : 0; k < e.dimensions.size(); ++k) {
            const std::size_t length = dimensions_[e.dimensions[k]].length;
            if (length > 0 && n > kMostValues / length) return std::nullopt;
            n *= length;
        }
        return n;
    }

    void findRecordSize() {
        std::size_t growing = 0, only = 0;
        firstRecord_ = b_.size();
        for (const Entry& e : entries_) {
            if (!grows(e)) continue;
            const std::size_t bytes = valuesOf(e).value_or(0) * e.kind.size;
            ++growing;
            only = bytes;
            recordSize_ += (bytes + 3) & ~std::size_t{3};
            firstRecord_ = std::min(firstRecord_, e.begin);
        }
        if (growing == 1) recordSize_ = only; // a single one is not padded
    }

    std::optional<Variable> variable(const Entry& e, std::size_t& total) const {
        const auto each = valuesOf(e);
        if (!each) return std::nullopt;
        const std::size_t times = grows(e) ? records_ : 1, stride = grows(e) ? recordSize_ : 0;
        const std::size_t bytes = *each * e.kind.size;
        if (times > 0 && (e.begin > b_.size() || bytes > b_.size() - e.begin || (times > 1 && stride == 0) ||
                          (stride > 0 && (times - 1) > (b_.size() - e.begin - bytes) / stride)))
            return std::nullopt;
        total += *each * times;
        if (total > kMostValues) return std::nullopt;
        Variable v{.name = e.name};
        for (std::size_t d : e.dimensions) {
            v.axes.push_back(dimensions_[d].name);
            v.sizes.push_back(dimensions_[d].length == 0 ? records_ : dimensions_[d].length);
        }
        for (const Attribute& a : e.attributes) {
            if (!a.text.empty()) v.words[a.name] = a.text;
            if (!a.numbers.empty()) v.numbers[a.name] = isScaling(a.name) ? decimalOf(a) : a.numbers[0];
        }
        if (e.kind.kind == 'c')
            takeTexts(v, e, *each, times, stride);
        else {
            v.values.reserve(*each * times);
            for (std::size_t r = 0; r < times; ++r)
                for (std::size_t i = 0; i < *each; ++i)
                    v.values.push_back(numberAt(b_.data() + e.begin + r * stride + i * e.kind.size,
                                                e.kind.kind, e.kind.size, true));
        }
        return v;
    }

    // The last dimension of a variable of letters is the length of its texts.
    void takeTexts(Variable& v, const Entry& e, std::size_t each, std::size_t times,
                   std::size_t stride) const {
        const std::size_t length = v.sizes.empty() ? 1 : std::max<std::size_t>(v.sizes.back(), 1);
        const bool single = v.sizes.size() <= 1 && !grows(e);
        for (std::size_t r = 0; r < times; ++r)
            for (std::size_t i = 0; i + length <= each + (grows(e) && v.sizes.size() == 1 ? length : 0) &&
                                    i < std::max<std::size_t>(each, 1);
                 i += length) {
                const std::size_t from = e.begin + r * stride + i;
                std::string_view t =
                    b_.substr(from, std::min(v.sizes.size() == 1 && grows(e) ? std::size_t{1} : length,
                                             b_.size() - from));
                t = t.substr(0, std::min(t.find('\0'), t.size()));
                v.texts.emplace_back(trimmed(safeText(t)));
            }
        if (!v.sizes.empty() && !(grows(e) && v.sizes.size() == 1)) {
            v.sizes.pop_back();
            v.axes.pop_back();
        }
        if (single || v.sizes.empty()) v.sizes.clear(), v.axes.clear();
    }

    static bool isScaling(const std::string& name) { return name == "scale_factor" || name == "add_offset"; }
    static double decimalOf(const Attribute& a) {
        const auto shortened = static_cast<float>(a.numbers[0]);
        return shortened == a.numbers[0] ? io::decimalOf(shortened) : a.numbers[0];
    }

    std::string_view b_;
    std::size_t at_ = 0;
    char version_ = 1;
    bool bad_ = false;
    std::size_t records_ = 0, recordSize_ = 0, firstRecord_ = 0;
    std::vector<Dimension> dimensions_;
    std::vector<Entry> entries_;
};

Result<ReadResult> readClassic(std::string_view bytes, const Settings&, const Cancellation& stop) {
    if (bytes.size() < 32) return failure("netcdf", "The file is cut short: its head is not whole.");
    ReadResult out{.format = "netcdf"};
    if (auto good = File(bytes).read(out, stop); !good) return std::unexpected(good.error());
    return out;
}

} // namespace

ReaderKind netcdfReader() {
    return {.info = {.key = "netcdf", .name = "NetCDF", .purpose = "Variables over common dimensions"},
            .endings = {"nc", "cdf"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    return head.size() > 4 && head.starts_with("CDF") &&
                                   (head[3] == 1 || head[3] == 2 || head[3] == 5)
                               ? 99
                               : 0;
                },
            .read = readClassic};
}

} // namespace jointer::io
