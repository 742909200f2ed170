// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/yaml_header.h"

#include <algorithm>
#include <array>
#include <yaml-cpp/yaml.h>

namespace jointer::io {

namespace {

constexpr std::size_t kMostColumns = 20000, kMostFacts = 1000;

std::string scalar(const YAML::Node& map, std::initializer_list<const char*> keys) {
    for (const char* key : keys)
        if (const YAML::Node value = map[key]; value && value.IsScalar()) return value.Scalar();
    return {};
}

std::vector<DeclaredColumn> columnsOf(const YAML::Node& list) {
    std::vector<DeclaredColumn> out;
    for (const YAML::Node& item : list) {
        if (out.size() == kMostColumns) break;
        if (item.IsScalar()) out.push_back({.name = item.Scalar()});
        if (!item.IsMap()) continue;
        const std::string type = scalar(item, {"datatype", "type"});
        out.push_back({.name = scalar(item, {"name"}),
                       .unit = scalar(item, {"unit", "units"}),
                       .remark = scalar(item, {"description", "title", "label"}),
                       .text = type == "string" || type == "str" || type == "text"});
    }
    return out;
}

YAML::Node columnList(const YAML::Node& top) {
    for (const char* key : {"datatype", "fields", "columns"})
        if (const YAML::Node list = top[key]; list && list.IsSequence()) return list;
    for (const char* key : {"schema", "table", "data"})
        if (const YAML::Node inner = top[key]; inner && inner.IsMap())
            for (const char* listKey : {"fields", "columns"})
                if (const YAML::Node list = inner[listKey]; list && list.IsSequence()) return list;
    return YAML::Node(YAML::NodeType::Undefined);
}

// Scalars of maps, and of lists of maps (ordered ones), with the names of what holds them left out.
void takeFacts(const YAML::Node& node, int depth, Metadata& out) {
    static constexpr std::array<std::string_view, 5> taken = {"datatype", "fields", "columns", "delimiter",
                                                              "schema"};
    if (depth > 3 || out.size() > kMostFacts) return;
    if (node.IsSequence())
        for (const YAML::Node& item : node)
            if (item.IsMap()) takeFacts(item, depth + 1, out);
    if (!node.IsMap()) return;
    for (const auto& entry : node) {
        if (!entry.first.IsScalar() || std::ranges::find(taken, entry.first.Scalar()) != taken.end())
            continue;
        if (entry.second.IsScalar() && !entry.second.Scalar().empty())
            out.emplace_back(entry.first.Scalar(), entry.second.Scalar());
        else
            takeFacts(entry.second, depth + 1, out);
    }
}

} // namespace

Result<YamlHeader> readYamlHeader(const std::string& yaml) {
    try {
        const YAML::Node top = YAML::Load(yaml);
        YamlHeader header;
        if (!top.IsMap()) return header;
        if (const YAML::Node list = columnList(top); list.IsDefined()) header.columns = columnsOf(list);
        header.delimiter = scalar(top, {"delimiter", "sep", "separator"});
        if (const YAML::Node dialect = top["dialect"]; header.delimiter.empty() && dialect && dialect.IsMap())
            header.delimiter = scalar(dialect, {"delimiter", "sep"});
        takeFacts(top, 0, header.metadata);
        return header;
    } catch (const YAML::Exception& e) {
        return failure("yaml", "The header is no valid YAML: " + e.msg + ".", {.line = e.mark.line + 1});
    }
}

} // namespace jointer::io
