// SPDX-License-Identifier: GPL-3.0-or-later
// NPY arrays, versions 1 to 3: numbers, yes/no, complex numbers, texts, and records of these.
// Source: the description of the NPY format, NEP 1.
#include "base/text.h"
#include "io/cell_text.h"
#include "io/formats/made_table.h"
#include "io/number_bytes.h"

#include <cmath>
#include <cstring>
#include <fmt/format.h>

namespace jointer::io {

namespace {

struct FieldType {
    std::string name;
    char order = '<', kind = 'f'; // f i u b c S U V
    std::size_t size = 8;         // bytes of one value
    std::size_t count = 1;        // values of a field that is an array itself
    std::size_t bytes() const { return size * count; }
};

struct Header {
    std::vector<FieldType> fields;
    bool columnMajor = false, isRecord = false;
    std::vector<std::size_t> shape;
};

std::optional<FieldType> typeOf(std::string_view code, std::string name) {
    FieldType f{.name = std::move(name)};
    if (code.size() < 3) return std::nullopt;
    f.order = code[0];
    f.kind = code[1];
    const auto n = parseNumber(code.substr(2));
    if (!n || *n < 1 || *n > 100000 || std::string_view("fiubcSUV").find(f.kind) == std::string_view::npos)
        return std::nullopt;
    f.size = static_cast<std::size_t>(*n) * (f.kind == 'U' ? 4 : 1);
    const std::size_t part = f.kind == 'c' ? f.size / 2 : f.size;
    const bool floating = f.kind == 'f' || f.kind == 'c',
               whole = f.kind == 'i' || f.kind == 'u' || f.kind == 'b';
    const bool usual = part == 2 || part == 4 || part == 8;
    if ((floating && !usual) || (whole && !usual && part != 1)) return std::nullopt;
    return f;
}

// The dictionary of the header, as far as it is used here.
class HeaderText {
public:
    explicit HeaderText(std::string_view text) : t_(text) {}

    std::optional<Header> read() {
        Header h;
        if (!take('{')) return std::nullopt;
        while (!take('}')) {
            const auto key = string();
            if (!key || !take(':')) return std::nullopt;
            if (*key == "descr") {
                if (!descr(h)) return std::nullopt;
            } else if (*key == "fortran_order") {
                if (word("True"))
                    h.columnMajor = true;
                else if (!word("False"))
                    return std::nullopt;
            } else if (*key == "shape") {
                if (!shape(h)) return std::nullopt;
            } else
                return std::nullopt;
            take(',');
        }
        return h.fields.empty() ? std::nullopt : std::optional(h);
    }

private:
    void skip() {
        while (at_ < t_.size() && (t_[at_] == ' ' || t_[at_] == '\n')) ++at_;
    }
    bool take(char c) {
        skip();
        if (at_ >= t_.size() || t_[at_] != c) return false;
        ++at_;
        return true;
    }
    bool word(std::string_view w) {
        skip();
        if (!t_.substr(at_).starts_with(w)) return false;
        at_ += w.size();
        return true;
    }
    std::optional<std::string> string() {
        skip();
        if (at_ >= t_.size() || (t_[at_] != '\'' && t_[at_] != '"')) return std::nullopt;
        const std::size_t end = t_.find(t_[at_], at_ + 1);
        if (end == t_.npos) return std::nullopt;
        std::string s(t_.substr(at_ + 1, end - at_ - 1));
        at_ = end + 1;
        return s;
    }
    std::optional<std::size_t> integer() {
        skip();
        std::size_t n = 0;
        const std::size_t from = at_;
        while (at_ < t_.size() && isDigit(t_[at_]) && at_ - from < 15)
            n = n * 10 + static_cast<std::size_t>(t_[at_++] - '0');
        return at_ > from ? std::optional(n) : std::nullopt;
    }

    bool descr(Header& h) {
        if (const auto code = string()) {
            const auto f = typeOf(*code, "");
            if (f) h.fields.push_back(*f);
            return f.has_value();
        }
        if (!take('[')) return false;
        h.isRecord = true;
        while (!take(']')) {
            if (h.fields.size() > 2000 || !take('(')) return false;
            const auto name = string();
            if (!name || !take(',')) return false;
            const auto code = string();
            auto f = code ? typeOf(*code, *name) : std::nullopt;
            if (!f) return false;
            if (take(',') && take('(')) {
                Header inner;
                if (!sizes(inner.shape)) return false;
                for (std::size_t n : inner.shape)
                    f->count = std::min<std::size_t>(f->count * std::max<std::size_t>(n, 1), 100000);
            }
            if (!take(')')) return false;
            h.fields.push_back(*f);
            take(',');
        }
        return true;
    }

    bool sizes(std::vector<std::size_t>& shape) {
        while (!take(')')) {
            const auto n = integer();
            if (!n || shape.size() > 8) return false;
            shape.push_back(*n);
            take(',');
        }
        return true;
    }
    bool shape(Header& h) { return take('(') && sizes(h.shape); }

    std::string_view t_;
    std::size_t at_ = 0;
};

std::string textAt(const char* p, const FieldType& f) {
    if (f.kind == 'S') {
        std::string_view s(p, f.size);
        return safeText(s.substr(0, std::min(s.find('\0'), s.size())));
    }
    std::string out;
    for (std::size_t i = 0; i + 4 <= f.size; i += 4) {
        const auto code = static_cast<char32_t>(integerAt<std::uint32_t>(p + i, f.order == '>'));
        if (code == 0) break;
        appendUtf8(out, code < 0x110000 ? code : U'\uFFFD');
    }
    return out;
}

// The columns of a field: one, or two for complex numbers, or as many as its values.
void addColumns(std::string_view data, const FieldType& f, std::size_t offset, std::size_t stride,
                std::size_t rows, const std::string& name, std::vector<Column>& columns) {
    for (std::size_t k = 0; k < f.count; ++k) {
        const std::string label = f.count > 1 ? fmt::format("{} {}", name, k + 1) : name;
        auto at = [&](std::size_t row) { return data.data() + row * stride + offset + k * f.size; };
        if (f.kind == 'S' || f.kind == 'U') {
            std::vector<std::string> texts(rows);
            for (std::size_t i = 0; i < rows; ++i) texts[i] = textAt(at(i), f);
            columns.push_back(textColumn(label, std::move(texts)));
        } else if (f.kind == 'c') {
            for (std::size_t part = 0; part < 2; ++part) {
                std::vector<double> v(rows);
                for (std::size_t i = 0; i < rows; ++i)
                    v[i] = numberAt(at(i) + part * f.size / 2, 'f', f.size / 2, f.order == '>');
                columns.push_back(numberColumn(label.empty() ? (part ? "imaginary part" : "real part")
                                                             : label + (part ? " imaginary" : " real"),
                                               "", std::move(v)));
            }
        } else if (f.kind != 'V') {
            std::vector<double> v(rows);
            for (std::size_t i = 0; i < rows; ++i) v[i] = numberAt(at(i), f.kind, f.size, f.order == '>');
            columns.push_back(numberColumn(label, "", std::move(v)));
            if (f.kind == 'b') columns.back().kind = ColumnKind::Boolean;
        }
    }
}

Result<ReadResult> readNpy(std::string_view bytes, const Settings&, const Cancellation&) {
    const auto damaged = [](const char* what) {
        return failure("npy", std::string("The array cannot be read: ") + what);
    };
    if (bytes.size() < 12) return damaged("the file is cut short.");
    const bool first = bytes[6] == 1;
    const std::size_t length = first ? integerAt<std::uint16_t>(bytes.data() + 8, false)
                                     : integerAt<std::uint32_t>(bytes.data() + 8, false);
    const std::size_t start = first ? 10 : 12;
    if (length > bytes.size() - start) return damaged("its header is cut short.");
    const auto header = HeaderText(bytes.substr(start, length)).read();
    if (!header) return damaged("its header describes a kind of values that is not known here.");
    const std::string_view data = bytes.substr(start + length);
    std::size_t item = 0, count = 1;
    for (const FieldType& f : header->fields) item += f.bytes();
    for (std::size_t n : header->shape) {
        if (n > 0 && count > bytes.size() / n + 1) return damaged("it declares more values than it holds.");
        count *= n;
    }
    if (item == 0 || count > data.size() / item) return damaged("it declares more values than it holds.");
    const std::size_t rows = header->shape.empty() ? 1 : header->shape[0],
                      across = rows == 0 ? 0 : count / rows;
    if (across > 20000) return damaged("it has more than 20 000 columns.");
    ReadResult out{.format = "npy"};
    std::vector<Column> columns;
    for (std::size_t c = 0; c < across; ++c) {
        std::size_t offset = 0;
        for (const FieldType& f : header->fields) {
            const std::size_t from = (header->columnMajor ? c * rows : c) * item + offset;
            const std::size_t stride = item * (header->columnMajor ? 1 : across);
            const std::string name =
                across > 1 && !f.name.empty() ? fmt::format("{} {}", f.name, c + 1) : f.name;
            addColumns(data, f, from, stride, rows, name, columns);
            offset += f.bytes();
        }
    }
    if (header->shape.size() > 2)
        out.issues.push_back(
            {"flattened",
             fmt::format("The array has {} dimensions; all but the first lie side by side as columns.",
                         header->shape.size()),
             {}});
    if (columns.empty()) return failure("empty-file", "The array is empty.");
    out.tables.push_back(madeTable("", std::move(columns), out.issues));
    return out;
}

} // namespace

ReaderKind npyReader() {
    return {.info = {.key = "npy", .name = "NPY", .purpose = "One array of numbers or records"},
            .endings = {"npy"},
            .recognise = [](std::string_view head,
                            std::string_view) { return head.starts_with("\x93NUMPY") ? 99 : 0; },
            .read = readNpy};
}

} // namespace jointer::io
