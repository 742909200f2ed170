// SPDX-License-Identifier: GPL-3.0-or-later
// Headers in YAML above tables of text (headed_text.cpp): what they say of the columns and of the whole.
#pragma once

#include "io/declared_columns.h"

namespace jointer::io {

struct YamlHeader {
    std::vector<DeclaredColumn> columns;
    Metadata metadata;
    std::string delimiter; // empty: not said
};

// Columns are listed under `datatype`, `fields`, `columns` or `schema: fields`; scalars elsewhere are
// metadata. Errors: "yaml", with the line in the header from 1.
Result<YamlHeader> readYamlHeader(const std::string& yaml);

} // namespace jointer::io
