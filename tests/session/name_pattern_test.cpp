// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/name_pattern.h"

#include <gtest/gtest.h>

using namespace jointer;

namespace {

std::string found(std::string_view pattern, std::string_view name) {
    const auto r = matchPattern(pattern, name);
    if (!r) return "! " + r.error().code;
    if (!*r) return "no";
    std::string out;
    for (const auto& [key, value] : **r) out += key + "=" + value + ";";
    return out;
}

} // namespace

TEST(NamePattern, FindsAttributesInNames) {
    const std::string_view cases[][3] = {
        {"shell_{age:d}_{site}", "shell_28_A", "age=28;site=A;"},
        {"shell_{age:d}d", "shell_28d", "age=28;"},
        {"shell_{age:d}_{site}", "shell_old_A", "no"},
        {"{sample}_{dose:f}mg*", "mussel_b_-2.5mg_run3", "sample=mussel_b;dose=-2.5;"},
        {"*_{n:d}", "a_b_17", "n=17;"},
        {"{site}", "", "no"},
        {"plain", "plain", ""},
        {"{a", "x", "! pattern"},
        {"{a:z}", "x", "! pattern"},
        {"{}", "x", "! pattern"},
    };
    for (const auto& [pattern, name, expected] : cases)
        EXPECT_EQ(found(pattern, name), expected) << pattern << " in " << name;
}

TEST(NamePattern, WorkIsBounded) {
    EXPECT_EQ(found("{a}{b}{c}{d}{e}{f}{g}{h}!", std::string(200, 'x')), "no");
}

TEST(NamePattern, FillsTemplates) {
    EXPECT_EQ(filledTemplate("{age} d, {site}{?}", {{"age", "28"}, {"site", "A"}}), "28 d, A{?}");
}
