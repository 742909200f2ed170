// SPDX-License-Identifier: GPL-3.0-or-later
// MAT files, version 5: numeric, logical and text arrays, also within structures, packed or not. Read by our
// own hand rather than by a library, since files may be hostile.
// Source: the published description of the level 5 MAT-file format.
#include "base/text.h"
#include "io/formats/made_table.h"

#include "io/number_bytes.h"
#include <algorithm>

#include <fmt/format.h>
#include <map>
#include <zlib.h>

namespace jointer::io {

namespace {

constexpr std::size_t kMostBytes = 2ULL << 30; // of one unpacked element
constexpr int kDeepest = 8;

struct Element {
    std::uint32_t type = 0;
    std::string_view data;
};

struct Array {
    std::string name;
    std::size_t rows = 0, columns = 0;
    std::vector<double> real, imaginary; // column after column
    std::string text;                    // of a text array, row after row, each of `columns` letters
    bool isText = false, isLogical = false;
};

// Runs over the elements of a stretch of bytes.
class Elements {
public:
    Elements(std::string_view bytes, bool bigEndian) : bytes_(bytes), big_(bigEndian) {}

    std::optional<Element> next() {
        if (at_ + 8 > bytes_.size()) return std::nullopt;
        const auto first = integerAt<std::uint32_t>(bytes_.data() + at_, big_);
        if (first >> 16) { // a small element within its tag
            const std::size_t size = first >> 16;
            if (size > 4) return std::nullopt;
            Element e{first & 0xFFFF, bytes_.substr(at_ + 4, size)};
            at_ += 8;
            return e;
        }
        const std::size_t size = integerAt<std::uint32_t>(bytes_.data() + at_ + 4, big_);
        if (size > bytes_.size() - at_ - 8) return std::nullopt;
        Element e{first, bytes_.substr(at_ + 8, size)};
        at_ += 8 + size;
        if (first != 15)
            at_ = std::min((at_ + 7) & ~std::size_t{7}, bytes_.size()); // packed ones are not aligned
        return e;
    }
    bool atEnd() const { return at_ + 8 > bytes_.size(); }

private:
    std::string_view bytes_;
    bool big_;
    std::size_t at_ = 0;
};

std::optional<std::string> unpacked(std::string_view data) {
    std::string out;
    z_stream z{};
    if (inflateInit(&z) != Z_OK) return std::nullopt;
    z.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(data.data()));
    z.avail_in = static_cast<uInt>(data.size());
    int state = Z_OK;
    while (state == Z_OK && out.size() < kMostBytes) {
        const std::size_t have = out.size();
        out.resize(have + std::max<std::size_t>(65536, have / 2));
        z.next_out = reinterpret_cast<Bytef*>(out.data() + have);
        z.avail_out = static_cast<uInt>(out.size() - have);
        state = inflate(&z, Z_NO_FLUSH);
        out.resize(out.size() - z.avail_out);
        if (state == Z_BUF_ERROR) break;
    }
    inflateEnd(&z);
    return state == Z_STREAM_END ? std::optional(std::move(out)) : std::nullopt;
}

class MatFile {
public:
    MatFile(bool bigEndian, const Cancellation& stop) : big_(bigEndian), stop_(stop) {}

    Result<void> read(std::string_view bytes) {
        Elements elements(bytes, big_);
        while (const auto e = elements.next()) {
            if (stop_.stop_requested()) return failure("stopped", "Reading was stopped.");
            if (e->type == 15) {
                const auto inside = unpacked(e->data);
                if (!inside) {
                    ++damaged_;
                    continue;
                }
                Elements one(*inside, big_);
                if (const auto matrix = one.next(); matrix && matrix->type == 14)
                    takeMatrix(matrix->data, "", 0);
            } else if (e->type == 14)
                takeMatrix(e->data, "", 0);
        }
        if (!elements.atEnd()) ++damaged_;
        return {};
    }

    std::vector<Array>& arrays() { return arrays_; }
    std::size_t damaged() const { return damaged_; }

private:
    void takeMatrix(std::string_view bytes, const std::string& prefix, int depth) {
        Elements parts(bytes, big_);
        const auto flags = parts.next(), dims = parts.next(), name = parts.next();
        if (!flags || !dims || !name || flags->data.size() < 8 || dims->data.size() < 8 ||
            arrays_.size() > 5000)
            return void(++damaged_);
        const auto word = integerAt<std::uint32_t>(flags->data.data(), big_);
        const unsigned kind = word & 0xFF;
        const bool complex = word & 0x0800, logical = word & 0x0200;
        Array a;
        a.name = prefix + safeText(name->data);
        a.isLogical = logical;
        a.rows = size(dims->data, 0);
        std::size_t total = a.rows;
        a.columns = 1;
        for (std::size_t d = 1; d < dims->data.size() / 4; ++d) {
            const std::size_t n = size(dims->data, d);
            if (n > 0 && total > kMostBytes / n) return void(++damaged_);
            total *= n;
            a.columns *= n;
        }
        if (kind == 2) return takeStructure(parts, a.name, total, depth);
        if (kind == 1 || kind == 3 || kind == 5 || kind > 15) return; // cells, objects, sparse
        const auto real = parts.next();
        if (!real) return void(++damaged_);
        a.real = numbers(*real);
        if (complex)
            if (const auto imaginary = parts.next()) a.imaginary = numbers(*imaginary);
        if (a.real.size() != total || (complex && a.imaginary.size() != total)) return void(++damaged_);
        if (kind == 4) takeText(a);
        arrays_.push_back(std::move(a));
    }

    std::size_t size(std::string_view dims, std::size_t d) const {
        return static_cast<std::size_t>(std::max(0, integerAt<std::int32_t>(dims.data() + 4 * d, big_)));
    }

    // Fields of a single structure, named "sample.depth".
    void takeStructure(Elements& parts, const std::string& name, std::size_t count, int depth) {
        const auto length = parts.next(), names = parts.next();
        if (!length || !names || length->data.size() < 4 || depth >= kDeepest || count != 1) return;
        const std::size_t each = integerAt<std::uint32_t>(length->data.data(), big_);
        if (each == 0 || each > 1000) return void(++damaged_);
        for (std::size_t at = 0; at + each <= names->data.size(); at += each) {
            std::string_view field = names->data.substr(at, each);
            field = field.substr(0, std::min(field.find('\0'), field.size()));
            const auto value = parts.next();
            if (!value || value->type != 14) return;
            takeMatrix(value->data, (name.empty() ? "" : name + ".") + safeText(field), depth + 1);
        }
    }

    static void takeText(Array& a) {
        a.isText = true;
        if (a.columns == 0) return; // however many rows of nothing there are
        for (std::size_t r = 0; r < a.rows; ++r) {
            for (std::size_t c = 0; c < a.columns; ++c) {
                const double code = a.real[c * a.rows + r];
                const bool letter = code >= 0 && code <= 1114111;
                appendUtf8(a.text, letter ? static_cast<char32_t>(code) : U'\uFFFD');
            }
            if (r + 1 < a.rows) a.text += '\n';
        }
    }

    std::vector<double> numbers(const Element& e) const {
        static const std::map<std::uint32_t, std::pair<char, std::size_t>> kinds = {
            {1, {'i', 1}},  {2, {'u', 1}},  {3, {'i', 2}}, {4, {'u', 2}},  {5, {'i', 4}},
            {6, {'u', 4}},  {7, {'f', 4}},  {9, {'f', 8}}, {12, {'i', 8}}, {13, {'u', 8}},
            {16, {'u', 1}}, {17, {'u', 2}}, {18, {'u', 4}}};
        const auto at = kinds.find(e.type);
        if (at == kinds.end()) return {};
        const auto [kind, bytes] = at->second;
        std::vector<double> out(e.data.size() / bytes);
        for (std::size_t i = 0; i < out.size(); ++i)
            out[i] = numberAt(e.data.data() + i * bytes, kind, bytes, big_);
        return out;
    }

    bool big_;
    const Cancellation& stop_;
    std::vector<Array> arrays_;
    std::size_t damaged_ = 0;
};

// Vectors of one length lie side by side in one table; each matrix is a table of its own.
void addTables(std::vector<Array>& arrays, ReadResult& out) {
    std::map<std::size_t, std::vector<Column>> vectors;
    std::vector<std::size_t> lengths;
    for (Array& a : arrays) {
        if (a.isText) {
            if (a.text.size() < 1000) out.metadata.emplace_back(a.name, a.text);
            continue;
        }
        if (a.rows * a.columns == 0) continue;
        if (a.rows * a.columns == 1) {
            out.metadata.emplace_back(a.name, shortestNumber(a.real[0]));
            continue;
        }
        const bool vector = a.rows == 1 || a.columns == 1;
        const std::size_t n = vector ? a.rows * a.columns : a.rows;
        std::vector<Column> columns;
        const std::size_t across = vector ? 1 : a.columns;
        if (across > 20000) {
            out.issues.push_back({"too-many-columns",
                                  fmt::format("“{}” has {} columns and is left out.", a.name, across),
                                  {}});
            continue;
        }
        for (std::size_t c = 0; c < across; ++c) {
            auto part = [&](const std::vector<double>& all) {
                return std::vector<double>(all.begin() + static_cast<std::ptrdiff_t>(c * n),
                                           all.begin() + static_cast<std::ptrdiff_t>((c + 1) * n));
            };
            const std::string name = across > 1 ? fmt::format("{} {}", a.name, c + 1) : a.name;
            columns.push_back(numberColumn(name, "", part(a.real)));
            if (a.isLogical) columns.back().kind = ColumnKind::Boolean;
            if (!a.imaginary.empty())
                columns.push_back(numberColumn(name + " imaginary", "", part(a.imaginary)));
        }
        if (!vector) {
            out.tables.push_back(madeTable(a.name, std::move(columns), out.issues));
            continue;
        }
        if (!vectors.contains(n)) lengths.push_back(n);
        std::ranges::move(columns, std::back_inserter(vectors[n]));
    }
    std::size_t place = 0;
    for (std::size_t n : lengths) {
        const std::string name = lengths.size() > 1 ? fmt::format("vectors, {} rows", n) : "vectors";
        out.tables.insert(out.tables.begin() + static_cast<std::ptrdiff_t>(place++),
                          madeTable(name, std::move(vectors[n]), out.issues));
    }
}

Result<ReadResult> readMat(std::string_view bytes, const Settings&, const Cancellation& stop) {
    if (bytes.size() < 128) return failure("mat5", "The file is cut short: its head is not whole.");
    MatFile file(bytes.substr(126, 2) == "MI", stop);
    if (auto good = file.read(bytes.substr(128)); !good) return std::unexpected(good.error());
    ReadResult out{.format = "mat5"};
    addTables(file.arrays(), out);
    if (file.damaged() > 0)
        out.issues.push_back({"damaged",
                              fmt::format("{} cannot be read; the file may be cut short or damaged.",
                                          counted(static_cast<long long>(file.damaged()), "array")),
                              {}});
    if (out.tables.empty())
        return failure("mat5", file.damaged() ? "The arrays in the file are damaged."
                                              : "The file holds no arrays of numbers.");
    return out;
}

} // namespace

ReaderKind matReader() {
    return {.info = {.key = "mat5", .name = "MAT, version 5", .purpose = "Named arrays of numbers"},
            .endings = {"mat"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    // Behind a text of any kind the version, 1.0, and the order of bytes.
                    const std::string_view mark =
                        head.size() >= 128 ? head.substr(124, 4) : std::string_view();
                    return mark == std::string_view("\0\1IM", 4) || mark == std::string_view("\1\0MI", 4) ? 98
                                                                                                          : 0;
                },
            .read = readMat};
}

} // namespace jointer::io
