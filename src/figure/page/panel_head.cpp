// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/live_text.h"
#include "figure/page/panel.h"

namespace jointer::figure {

using namespace draw;

Rect Panel::freeArea() const {
    return {look_.number("left"), look_.number("top"), std::max(1.0, look_.number("area-width")),
            std::max(1.0, look_.number("area-height"))};
}

Rect Panel::insetArea(const Rect& in) const {
    const double height = std::max(1.0, look_.number("part-height") * in.height);
    return {in.x + look_.number("x") * in.width, in.bottom() - look_.number("y") * in.height - height,
            std::max(1.0, look_.number("part-width") * in.width), height};
}

double Panel::headRoom() const {
    const bool beside = letter.empty() || page_.look.text("letters-at") == "inside";
    const double letterRoom = beside ? 0 : 1.15 * page_.em() * page_.look.number("letters-size");
    return std::max(letterRoom, look_.text("title").empty() ? 0 : 1.6 * page_.em());
}

void Panel::drawHead(const Rect& area, double outerLeft, double above) {
    const double em = page_.em();
    const std::string title = liveText(page_, element_, look_.text("title"));
    if (!title.empty()) {
        const bool left = look_.text("title-align") == "left";
        page_.addText(element_.id,
                      placed(setText(title, page_.text), {left ? area.x : area.x + area.width / 2, above},
                             left ? HAlign::Left : HAlign::Centre, VAlign::Bottom));
    }
    if (letter.empty()) return;
    TextStyle style = page_.text;
    style.sizePt *= page_.look.number("letters-size");
    style.bold = page_.look.flag("letters-bold");
    const SetText set = setText(letter, style);
    if (page_.look.text("letters-at") == "inside")
        page_.addText(element_.id,
                      placed(set, {area.x + 0.7 * em, area.y + 0.6 * em}, HAlign::Left, VAlign::Top));
    else
        page_.addText(element_.id,
                      placed(set, {outerLeft, area.y - 0.4 * em}, HAlign::Left, VAlign::Baseline));
}

} // namespace jointer::figure
