// SPDX-License-Identifier: GPL-3.0-or-later
// Any text, read as a formula, compiled and evaluated with its derivatives. Run by fuzz/run.
#include "formula/column_functions.h"
#include "formula/program.h"

#include <cstdint>
#include <vector>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace jointer::formula;
    if (size > 2000) return 0;
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    if (const auto columns = Expression::parse(text, Vocabulary::Columns)) {
        const std::vector<double> cells = {-1, 0, 0.5, 1e300, 7};
        std::vector<std::span<const double>> inputs(columns->names().size(), cells);
        (void)evaluateOverRows(*columns, columns->names(), inputs, cells.size());
    }
    const auto e = Expression::parse(text);
    if (!e) return 0;
    (void)toMarkup(*e);
    std::vector<std::string> scalars;
    for (const std::string& name : e->names())
        if (name != "x") scalars.push_back(name);
    const auto p = Program::compile(*e, {"x"}, scalars);
    if (!p) return 0;
    const std::vector<double> x = {-1, 0, 0.5, 1e300}, parameters(scalars.size(), 1.5);
    const std::span<const double> column(x);
    std::vector<double> y(x.size()), gradient(x.size() * scalars.size());
    p->evaluate({&column, 1}, parameters, y, gradient);
    return 0;
}
