// SPDX-License-Identifier: GPL-3.0-or-later
// What gestures on handles do to settings.
#include "make_curve.h"

#include "steps/handles.h"

using namespace jointer;
using namespace jointer::steps;

namespace {

const Curve& lines() {
    static const Curve curve = spectrum(300, 12, 14, 1, 3).curve;
    return curve;
}

} // namespace

TEST(Handles, AnAnchorIsMovedRemovedAndAdded) {
    const Settings now = with({{"anchors", Numbers{10, 1, 200, 2}}, {"place", word("free")}});
    const StepOutput shown = apply("baseline", lines(), now).value;
    ASSERT_EQ(shown.handles.size(), 2U);
    EXPECT_EQ(afterMove(shown, now, shown.handles[1], 210, 5).numbers("anchors"), (Numbers{10, 1, 210, 5}));
    EXPECT_EQ(afterRemoval(shown, now, shown.handles[0]).numbers("anchors"), (Numbers{200, 2}));
    const StepKind& kind = *catalogue().find("baseline");
    EXPECT_EQ(afterAdding(kind, shown, now, 50, 3).numbers("anchors"), (Numbers{10, 1, 200, 2, 50, 3}));
    EXPECT_EQ(afterClick(shown, now, shown.handles[0]), now) << "a click on an accepted anchor does nothing";
}

// The first gesture on a draft takes all of it over; later ones change what was taken.
TEST(Handles, AGestureOnADraftTakesItOver) {
    const Settings now = with({{"method", word("arpls")}});
    const StepOutput shown = apply("baseline", lines(), now).value;
    ASSERT_TRUE(shown.draft);
    const Handle& first = shown.handles.front();
    const Settings moved = afterMove(shown, now, first, first.x + 1, first.y + 7);
    EXPECT_EQ(moved.text("method"), "anchors");
    EXPECT_EQ(moved.numbers("anchors").size(), 2 * shown.handles.size());
    EXPECT_NEAR(moved.numbers("anchors")[1], first.y + 7, 1e-12);
    EXPECT_EQ(afterClick(shown, now, first), *shown.draft);
    EXPECT_EQ(afterRemoval(shown, now, first).numbers("anchors").size(), 2 * shown.handles.size() - 2);
    EXPECT_EQ(actionsOf(shown, now, first).front().after, *shown.draft);
}

TEST(Handles, AFoundThingGoesRoundItsStates) {
    Curve c = lines();
    c.y[80] += 400;
    Settings now;
    auto found = [&] { return apply("despike", c, now).value; };
    ASSERT_EQ(found().handles.size(), 1U);
    now = afterClick(found(), now, found().handles[0]);
    EXPECT_EQ(found().handles[0].state, HandleState::Refused);
    EXPECT_EQ(now.numbers("refused"), (Numbers{81}));
    now = afterClick(found(), now, found().handles[0]);
    EXPECT_EQ(found().handles[0].state, HandleState::Accepted);
    EXPECT_FALSE(now.has("refused"));
    now = afterRemoval(found(), now, found().handles[0]);
    EXPECT_EQ(found().handles[0].state, HandleState::Refused);
    for (const HandleAction& action : actionsOf(found(), now, found().handles[0]))
        if (action.words == "As the threshold says") now = action.after;
    EXPECT_TRUE(now.empty());
}

TEST(Handles, AGripMovesTheCurveAndALineOnlyItsX) {
    const Settings still;
    const StepOutput shown = apply("shift", lines(), still).value;
    ASSERT_EQ(shown.handles.size(), 1U);
    const Handle& grip = shown.handles[0];
    const Settings moved = afterMove(shown, still, grip, grip.x + 3, grip.y - 2);
    EXPECT_NEAR(moved.number("x"), 3, 1e-12);
    EXPECT_NEAR(moved.number("y"), -2, 1e-12);
    EXPECT_TRUE(afterRemoval(shown, moved, grip).empty());
    const Settings known = with({{"lines", Numbers{100, 101.5}}, {"snap", false}});
    const StepOutput calibrated = apply("calibrate", lines(), known).value;
    EXPECT_EQ(afterMove(calibrated, known, calibrated.handles[0], 98, 500).numbers("lines"),
              (Numbers{98, 101.5}));
    EXPECT_EQ(afterAdding(*catalogue().find("calibrate"), calibrated, known, 50, 9).numbers("lines"),
              (Numbers{100, 101.5, 50, 50}));
}

// References that are proposed stand as levels; taken hold of, they become numbers.
TEST(Handles, AReferenceIsALevelThatBecomesANumber) {
    const Settings now = with({{"to", word("references")}});
    const StepOutput shown = apply("normalise", lines(), now).value;
    ASSERT_EQ(shown.handles.size(), 2U);
    const auto [low, high] = std::ranges::minmax(lines().y);
    EXPECT_EQ(shown.handles[0].form, HandleForm::Level);
    EXPECT_EQ(shown.handles[0].state, HandleState::Proposed);
    EXPECT_DOUBLE_EQ(shown.handles[0].y, low);
    EXPECT_DOUBLE_EQ(shown.handles[1].y, high);
    const Settings moved = afterMove(shown, now, shown.handles[0], 17, low + 5);
    EXPECT_EQ(moved.text("zero-from"), "number");
    EXPECT_DOUBLE_EQ(moved.number("zero"), low + 5);
    const StepOutput after = apply("normalise", lines(), moved).value;
    EXPECT_EQ(after.handles[0].state, HandleState::Accepted);
    EXPECT_EQ(afterClick(shown, now, shown.handles[1]).number("hundred"), high);
    EXPECT_EQ(actionsOf(shown, now, shown.handles[1]).front().after,
              afterClick(shown, now, shown.handles[1]));
    EXPECT_EQ(afterRemoval(after, moved, after.handles[0]), now);
}

// Where a step has several intervals, their ends are handles; one end stops at the other.
TEST(Handles, SpansOfReferencesHaveEnds) {
    const Settings now = with({{"to", word("references")},
                               {"zero-from", word("span")},
                               {"zero-span", Numbers{10, 30}},
                               {"hundred-from", word("span")},
                               {"hundred-span", Numbers{200, 220}}});
    const StepOutput shown = apply("normalise", lines(), now).value;
    ASSERT_EQ(shown.handles.size(), 4U);
    const Handle& high = shown.handles[1];
    EXPECT_EQ(high.form, HandleForm::SpanEnd);
    EXPECT_EQ(high.setting, "zero-span");
    EXPECT_DOUBLE_EQ(high.y, numbersOfSpan(lines(), 10, 30).mean);
    EXPECT_EQ(afterMove(shown, now, high, 44, 0).numbers("zero-span"), (Numbers{10, 44}));
    EXPECT_EQ(afterMove(shown, now, high, 4, 0).numbers("zero-span"), (Numbers{10, 10}));
    EXPECT_FALSE(afterRemoval(shown, now, high).has("zero-span"));
}

TEST(Handles, ACutOffBecomesAWindow) {
    const StepKind& smooth = *catalogue().find("smooth");
    const Settings lowPass = with({{"method", word("low-pass")}, {"window", 20.0}});
    EXPECT_NEAR(*apply("smooth", lines(), lowPass).value.cutoff, 0.05, 1e-15);
    EXPECT_EQ(smooth.withCutoff(lowPass, 0.1).number("window"), 10);
    EXPECT_FALSE(apply("smooth", lines(), {}).value.cutoff) << "other methods cut nothing off";
}
