// SPDX-License-Identifier: GPL-3.0-or-later
// Any bytes, given to the readers of data files: a table or a clear error, without a crash or a leak. The
// first bytes choose what the reader is told. JOINTER_FUZZ_READER names one reader that gets all bytes,
// whether it recognises them or not; "?" prints the names of all. Run by fuzz/run.
#include "io/reader.h"
#include "io/writer.h"

#include <cstdint>
#include <cstdio>
#include <cstdlib>

extern "C" int LLVMFuzzerInitialize(int*, char***) {
    const char* const key = std::getenv("JOINTER_FUZZ_READER");
    if (!key || std::string_view(key) != "?") return 0;
    for (const std::string& name : jointer::io::readerCatalogue().keys()) std::puts(name.c_str());
    std::exit(0);
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace jointer;
    if (size < 2) return 0;
    Settings told;
    const char* separators[] = {nullptr, nullptr, nullptr, ",", ";", "tab", "space", "|"};
    if (const char* s = separators[data[0] & 7]) told.set("separator", s);
    if (data[0] & 8) told.set("decimal", data[0] & 16 ? "," : ".");
    if (data[0] & 32) told.set("heading", data[1] & 7);
    if (data[0] & 64) told.set("first", 1 + (data[1] >> 3 & 7));
    const std::string_view bytes(reinterpret_cast<const char*>(data) + 2, size - 2);
    static const char* const key = std::getenv("JOINTER_FUZZ_READER");
    static const io::ReaderKind* const reader = key ? io::readerCatalogue().find(key) : nullptr;
    const auto r = reader ? reader->read(bytes, told, {})
                          : io::read(bytes, data[1] & 128 ? "fuzz.xye" : "fuzz.txt", told);
    if (!r) {
        if (r.error().text.empty()) std::abort();
        return 0;
    }
    for (const io::ReadTable& t : r->tables) {
        for (const Column& c : t.table.columns)
            if (c.cells->size() != t.table.rowCount()) std::abort();
        (void)io::toCsv(t.table);
    }
    return 0;
}
