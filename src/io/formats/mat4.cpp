// SPDX-License-Identifier: GPL-3.0-or-later
// MAT, version 4: matrices one after the other, each with a header of five whole numbers.
// Source: the published description of MAT-files, level 1.0.
#include "base/text.h"
#include "io/formats/made_table.h"
#include "io/number_bytes.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace jointer::io {

namespace {

struct Matrix {
    std::string name;
    std::size_t rows = 0, columns = 0;
    bool isText = false, isComplex = false;
    std::vector<double> values; // column after column; the imaginary parts behind the real ones
};

struct Header {
    bool bigEndian = false;
    std::uint32_t precision = 0, kind = 0, rows = 0, columns = 0, complex = 0, nameLength = 0;
    std::size_t valueBytes() const {
        static constexpr std::array<std::size_t, 6> sizes = {8, 4, 4, 2, 2, 1};
        return sizes[precision];
    }
};

// Nothing where the bytes are no header: its type is a number of four digits, MOPT, whose O is zero.
std::optional<Header> headerAt(std::string_view bytes) {
    if (bytes.size() < 20) return std::nullopt;
    for (const bool big : {false, true}) {
        auto number = [&](std::size_t k) { return integerAt<std::uint32_t>(bytes.data() + 4 * k, big); };
        const std::uint32_t type = number(0);
        if (type > 4052 || (type / 1000 != (big ? 1U : 0U)) || type / 100 % 10 != 0) continue;
        Header h{big, type / 10 % 10, type % 10, number(1), number(2), number(3), number(4)};
        if (h.precision > 5 || h.kind > 2 || h.complex > 1 || h.nameLength < 1 || h.nameLength > 256)
            continue;
        return h;
    }
    return std::nullopt;
}

double valueAt(const char* at, std::uint32_t precision, bool big) {
    switch (precision) {
    case 0:
        return integerAt<double>(at, big);
    case 1:
        return integerAt<float>(at, big);
    case 2:
        return integerAt<std::int32_t>(at, big);
    case 3:
        return integerAt<std::int16_t>(at, big);
    case 4:
        return integerAt<std::uint16_t>(at, big);
    default:
        return static_cast<unsigned char>(*at);
    }
}

// Takes one matrix from the front. Nothing where it is damaged or larger than what is left.
std::optional<Matrix> takeMatrix(std::string_view& bytes) {
    const auto h = headerAt(bytes);
    if (!h) return std::nullopt;
    bytes.remove_prefix(20);
    if (bytes.size() < h->nameLength) return std::nullopt;
    Matrix m{.rows = h->rows, .columns = h->columns, .isText = h->kind == 1, .isComplex = h->complex == 1};
    m.name = safeText(bytes.substr(0, bytes.substr(0, h->nameLength).find('\0')));
    bytes.remove_prefix(h->nameLength);
    const std::size_t size = h->valueBytes(), room = bytes.size() / size;
    if (m.rows > 0 && m.columns > room / m.rows) return std::nullopt;
    const std::size_t count = m.rows * m.columns * (m.isComplex ? 2 : 1);
    if (count > room || h->kind == 2) return std::nullopt; // sparse matrices are no tables
    for (std::size_t i = 0; i < count; ++i)
        m.values.push_back(valueAt(bytes.data() + i * size, h->precision, h->bigEndian));
    bytes.remove_prefix(count * size);
    return m;
}

Column textsOf(const Matrix& m) {
    std::vector<std::string> texts(m.rows);
    for (std::size_t c = 0; c < m.columns; ++c)
        for (std::size_t r = 0; r < m.rows; ++r) {
            const double code = m.values[c * m.rows + r];
            texts[r] += code >= 32 && code < 127 ? static_cast<char>(code) : ' ';
        }
    return textColumn(m.name, std::move(texts));
}

std::vector<Column> columnsOf(const Matrix& m) {
    if (m.isText) return {textsOf(m)};
    const bool row = m.rows == 1 && m.columns > 1; // a vector that lies
    const std::size_t rows = row ? m.columns : m.rows, columns = row ? 1 : m.columns;
    std::vector<Column> out;
    for (std::size_t part = 0; part < (m.isComplex ? 2U : 1U); ++part)
        for (std::size_t c = 0; c < columns; ++c) {
            const auto from = m.values.begin() + static_cast<std::ptrdiff_t>((part * columns + c) * rows);
            std::string name = columns > 1 ? fmt::format("{} {}", m.name, c + 1) : m.name;
            if (m.isComplex) name += part == 0 ? " real" : " imaginary";
            out.push_back(
                numberColumn(name, "", std::vector<double>(from, from + static_cast<std::ptrdiff_t>(rows))));
        }
    return out;
}

Result<ReadResult> readMat4(std::string_view bytes, const Settings&, const Cancellation& stop) {
    ReadResult out{.format = "mat4"};
    ArrayTables arrays;
    while (!bytes.empty() && !stop.stop_requested()) {
        const auto m = takeMatrix(bytes);
        if (!m) {
            out.issues.push_back(
                {"truncated", "The rest of the file cannot be read: it is damaged or cut short.", {}});
            break;
        }
        if (m->rows == 0 || m->columns == 0 || m->columns > 20000) continue;
        auto columns = columnsOf(*m);
        if (m->isText || !arrays.join(columns, m->name))
            arrays.add(madeTable(m->name, std::move(columns), out.issues));
    }
    out.tables = arrays.finish(out.issues);
    if (out.tables.empty()) return failure("empty-file", "The file holds no matrix that can be read.");
    return out;
}

} // namespace

ReaderKind mat4Reader() {
    return {.info = {.key = "mat4", .name = "MAT 4", .purpose = "Matrices of numbers by name, older form"},
            .endings = {"mat"},
            .recognise =
                [](std::string_view head, std::string_view name) {
                    const auto h = headerAt(head);
                    if (!h) return 0;
                    return lowerAscii(name).ends_with(".mat") ? 97 : 0; // five whole numbers prove little
                },
            .read = readMat4};
}

} // namespace jointer::io
