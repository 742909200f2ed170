// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/markup_tree.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "draw/signs.h"

#include <algorithm>
#include <cctype>
#include <utility>

namespace jointer::draw {

namespace {

constexpr int kDeepest = 60; // braces within braces: what lies deeper stands for itself

bool isAccent(std::string_view name) {
    static constexpr std::string_view all[] = {"hat",       "widehat", "bar",  "overline", "tilde",
                                               "widetilde", "dot",     "ddot", "vec",      "underline"};
    return std::ranges::find(all, name) != std::end(all);
}

std::string_view operatorSign(std::string_view name) {
    return name == "sum"                         ? "∑"
           : name == "prod"                      ? "∏"
           : name == "int" || name == "integral" ? "∫"
           : name == "oint"                      ? "∮"
                                                 : "";
}

Style styleOf(std::string_view name) {
    if (name == "textbf" || name == "mathbf") return Style::Bold;
    if (name == "textit" || name == "mathit") return Style::Italic;
    if (name == "textrm" || name == "mathrm" || name == "text") return Style::Upright;
    return Style::Same;
}

class Parser {
public:
    explicit Parser(std::string_view text) : text_(text) {}

    MarkupNode run() {
        MarkupNode all = row(0);
        while (at_ < text_.size()) { // a brace that closes nothing stands for itself
            add(all, text_[at_++]);
            for (MarkupNode& node : row(0).children) all.children.push_back(std::move(node));
        }
        return all;
    }

private:
    static void add(MarkupNode& row, std::string_view characters) {
        if (row.children.empty() || row.children.back().part != Part::Text)
            row.children.push_back({.part = Part::Text});
        row.children.back().text += characters;
    }
    static void add(MarkupNode& row, char c) { add(row, std::string_view(&c, 1)); }

    bool isAt(std::string_view what) const { return text_.substr(at_).starts_with(what); }

    // Up to a closing brace or a closing fence, which stay.
    MarkupNode row(int depth) {
        MarkupNode out;
        while (at_ < text_.size()) {
            const char c = text_[at_];
            if (c == '}' || (fences_ > 0 && isAt("\\right"))) break;
            if (c == '{' && depth < kDeepest)
                out.children.push_back(braced(depth));
            else if ((c == '^' || c == '_') && at_ + 1 < text_.size() && depth < kDeepest)
                out.children.push_back(scripts(depth));
            else if (c == '\\')
                command(out, depth);
            else {
                add(out, c);
                ++at_;
            }
        }
        return out;
    }

    MarkupNode braced(int depth) {
        ++at_;
        const int fences = std::exchange(fences_, 0);
        MarkupNode inner = row(depth + 1);
        fences_ = fences;
        if (at_ < text_.size()) ++at_;
        return inner;
    }

    // What a script or a command takes: braces, a command, or one character.
    MarkupNode argument(int depth) {
        if (at_ < text_.size() && text_[at_] == '{') return braced(depth);
        MarkupNode out;
        if (at_ < text_.size() && text_[at_] == '\\') {
            command(out, depth + 1);
            return out;
        }
        std::size_t end = at_ + 1;
        while (end < text_.size() && (static_cast<unsigned char>(text_[end]) & 0xC0) == 0x80) ++end;
        add(out, text_.substr(at_, end - at_));
        at_ = std::min(end, text_.size());
        return out;
    }

    MarkupNode scripts(int depth) {
        MarkupNode out{.part = Part::Scripts, .children = {MarkupNode{}, MarkupNode{}}};
        bool has[2] = {false, false};
        while (at_ + 1 < text_.size() && (text_[at_] == '^' || text_[at_] == '_')) {
            const std::size_t which = text_[at_] == '^' ? 0 : 1;
            if (has[which]) break;
            has[which] = true;
            ++at_;
            out.children[which] = argument(depth);
        }
        return out;
    }

    void command(MarkupNode& out, int depth) {
        std::size_t end = at_ + 1;
        while (end < text_.size() && std::isalpha(static_cast<unsigned char>(text_[end]))) ++end;
        if (end == at_ + 1 && end < text_.size()) ++end;
        const std::string_view name = text_.substr(at_ + 1, end - at_ - 1);
        const bool braces = end < text_.size() && text_[end] == '{' && depth < kDeepest;
        const std::size_t start = std::exchange(at_, end);
        if (braces && name == "frac") {
            MarkupNode top = braced(depth);
            if (at_ < text_.size() && text_[at_] == '{') {
                out.children.push_back({.part = Part::Fraction, .children = {std::move(top), braced(depth)}});
                return;
            }
        } else if (name == "sqrt" && root(out, depth))
            return;
        else if (braces && styleOf(name) != Style::Same) {
            MarkupNode inner = braced(depth);
            inner.style = styleOf(name);
            out.children.push_back(std::move(inner));
            return;
        } else if (braces && isAccent(name)) {
            out.children.push_back(
                {.part = Part::Accent, .text = std::string(name), .children = {braced(depth)}});
            return;
        } else if (braces && name == "unit")
            return unit(out);
        else if (name == "left" && depth < kDeepest && fence(out, depth))
            return;
        else if (const std::string_view sign = operatorSign(name); !sign.empty()) {
            out.children.push_back({.part = Part::Operator, .text = std::string(sign)});
            return;
        } else if (const Sign* found = signNamed(name)) {
            add(out, found->character);
            return;
        }
        at_ = start + 1; // unknown: stands for itself
        add(out, '\\');
    }

    bool root(MarkupNode& out, int depth) {
        const std::size_t start = at_;
        MarkupNode index;
        if (at_ < text_.size() && text_[at_] == '[') {
            const std::size_t close = text_.find(']', at_);
            if (close == text_.npos) return false;
            index = parsedMarkup(text_.substr(at_ + 1, close - at_ - 1));
            at_ = close + 1;
        }
        if (at_ >= text_.size() || text_[at_] != '{' || depth >= kDeepest) {
            at_ = start;
            return false;
        }
        out.children.push_back({.part = Part::Root, .children = {braced(depth), std::move(index)}});
        return true;
    }

    void unit(MarkupNode& out) {
        const std::size_t close = std::min(text_.find('}', at_), text_.size());
        MarkupNode inner = parsedMarkup(unitMarkup(text_.substr(at_ + 1, close - at_ - 1)));
        inner.style = Style::Upright;
        at_ = std::min(close + 1, text_.size());
        out.children.push_back(std::move(inner));
    }

    // One mark of a fence: "(", "[", "|", "\{", "." for none.
    std::optional<std::string> mark() {
        if (at_ >= text_.size()) return {};
        if (text_[at_] == '\\' && at_ + 1 < text_.size() &&
            (text_[at_ + 1] == '{' || text_[at_ + 1] == '}')) {
            at_ += 2;
            return std::string(1, text_[at_ - 1]);
        }
        if (std::string_view("()[]|/.").find(text_[at_]) == std::string_view::npos) return {};
        const char c = text_[at_++];
        return c == '.' ? std::string() : std::string(1, c);
    }

    bool fence(MarkupNode& out, int depth) {
        const std::size_t start = at_;
        const auto open = mark();
        if (!open) return false;
        ++fences_;
        MarkupNode inner = row(depth + 1);
        --fences_;
        if (isAt("\\right")) {
            at_ += 6;
            if (const auto close = mark()) {
                out.children.push_back(
                    {.part = Part::Fence, .text = *open, .end = *close, .children = {std::move(inner)}});
                return true;
            }
        }
        at_ = start;
        return false;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    int fences_ = 0;
};

} // namespace

std::string withMinus(const std::string& t) {
    if (t.size() < 2 || t[0] != '-' || !std::isdigit(static_cast<unsigned char>(t[1]))) return t;
    return "\u2212" + t.substr(1);
}

MarkupNode parsedMarkup(std::string_view markup) {
    return Parser(markup).run();
}

} // namespace jointer::draw
