// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/isolated.h"

#include <csignal>
#include <gtest/gtest.h>
#include <thread>

using namespace jointer;
using namespace std::chrono_literals;

TEST(Isolated, GivesBackWhatTheChildMade) {
    const std::string large(3000000, 'x');
    EXPECT_EQ(inChildProcess([&] { return large + "y"; }, 10s, {}).value(), large + "y");
    EXPECT_EQ(inChildProcess([] { return std::string(); }, 10s, {}).value(), "");
}

TEST(Isolated, CrashesAndEndlessLoopsStayInTheChild) {
    EXPECT_EQ(inChildProcess(
                  []() -> std::string {
                      raise(SIGKILL);
                      return "";
                  },
                  10s, {})
                  .error()
                  .code,
              "child-crashed");
    EXPECT_EQ(inChildProcess(
                  []() -> std::string {
                      for (;;) std::this_thread::yield();
                  },
                  200ms, {})
                  .error()
                  .code,
              "child-too-slow");
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(inChildProcess(
                  []() -> std::string {
                      for (;;) std::this_thread::yield();
                  },
                  10s, stop.get_token())
                  .error()
                  .code,
              "stopped");
}
