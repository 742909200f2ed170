// SPDX-License-Identifier: GPL-3.0-or-later
// Text from top to bottom in one column of a page, wrapped between words. For reports.
#pragma once

#include "draw/markup.h"

namespace jointer {

inline constexpr draw::Colour kReportInk{32, 40, 43, 255}, kReportQuiet{102, 112, 111, 255},
    kReportDoubt{150, 90, 10, 255}, kReportAccent{23, 107, 99, 255};

class TextColumn {
public:
    TextColumn(double x, double y, double width, double sizePt)
        : x_(x), y_(y), width_(width), size_(sizePt) {}

    double y() const { return y_; }
    double width() const { return width_; }
    std::vector<draw::Item> take() { return std::move(items_); }

    void space(double ofLine) { y_ += ofLine * lineHeight(); }
    void heading(const std::string& words);
    // Wrapped between words; markup stays whole within a word.
    void paragraph(const std::string& markup, draw::Colour colour, bool bold = false, double indent = 0);
    // A number with its name at the left, aligned at the right; what has no room beside stands below.
    void row(const std::string& name, const std::string& value, const std::string& state, bool good);

private:
    double lineHeight() const { return size_ * 25.4 / 72 * 1.36; }
    void put(const draw::SetText& set, double x);

    double x_, y_, width_, size_; // mm and pt
    std::vector<draw::Item> items_;
};

} // namespace jointer
