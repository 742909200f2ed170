// SPDX-License-Identifier: GPL-3.0-or-later
// The graph of results on made-up nodes: random graphs, circles, threads, stopping.
#include "evaluate/result_graph.h"

#include <atomic>
#include <gmock/gmock.h>
#include <random>
#include <thread>

using namespace jointer;
using namespace jointer::evaluate;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

Stored number(double value, std::vector<Issue> issues = {}, bool whole = true) {
    return {std::make_shared<const double>(value), std::move(issues), Hasher().add(value).digest(), 1000,
            whole};
}
double valueOf(const Stored& stored) {
    return *stored.as<double>();
}
NodeId idOf(std::size_t i) {
    return {"n", i};
}

// Nodes that add their own number to those of their inputs, modulo 7, and count how often they do.
struct Sums {
    std::vector<std::vector<std::size_t>> inputs;
    std::vector<int> own;
    std::shared_ptr<std::atomic<int>> computed = std::make_shared<std::atomic<int>>(0);

    Node operator()(const NodeId& id) const {
        Node node{.name = "n" + std::to_string(id.of), .own = Hasher().add(own[id.of]).digest()};
        for (std::size_t i : inputs[id.of]) node.inputs.push_back(idOf(i));
        node.compute = [own = own[id.of], computed = computed](std::span<const Stored> from, const Request&) {
            ++*computed;
            double sum = own;
            for (const Stored& s : from) sum += valueOf(s);
            return number(std::fmod(sum, 7));
        };
        node.inCircle = [](const std::string& loop) { return number(0, {{"circle", loop, {}}}); };
        return node;
    }
    double value(ResultGraph& graph, std::size_t i) const {
        Walk walk(graph, *this);
        return valueOf(walk.result(idOf(i)));
    }
};

Sums randomSums(std::mt19937& random, std::size_t n, bool circles) {
    Sums sums;
    for (std::size_t i = 0; i < n; ++i) {
        sums.own.push_back(static_cast<int>(random() % 7));
        sums.inputs.emplace_back();
        const std::size_t below = circles ? n : i;
        for (std::size_t k = below > 0 ? random() % 3 : 0; k > 0; --k)
            sums.inputs.back().push_back(random() % below);
    }
    return sums;
}

Node costly(std::function<Stored(const Request&)> compute) {
    return {.own = Hasher().add("costly").digest(),
            .costly = true,
            .compute = [compute = std::move(compute)](std::span<const Stored>, const Request& request) {
                return compute(request);
            }};
}

} // namespace

TEST(Memo, DropsWhatWasUsedLongestAgo) {
    Memo memo(3 * 1256);
    const auto key = [](int i) { return Hasher().add(i).digest(); };
    for (int i = 0; i < 3; ++i) memo.put(key(i), number(i));
    EXPECT_EQ(valueOf(*memo.find(key(0))), 0); // used again
    memo.put(key(3), number(3));
    EXPECT_TRUE(memo.find(key(0)));
    EXPECT_FALSE(memo.find(key(1)));
    EXPECT_TRUE(memo.find(key(3)));
    EXPECT_LE(memo.bytes(), 3U * 1256);
}

TEST(ResultGraph, RememberedEqualsFreshOverRandomEdits) {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        std::mt19937 random(seed);
        Sums sums = randomSums(random, 2 + random() % 20, false);
        ResultGraph remembering(1 << 16);
        for (int edit = 0; edit < 30; ++edit) {
            sums.own[random() % sums.own.size()] = static_cast<int>(random() % 7);
            ResultGraph fresh(1 << 20);
            for (std::size_t i = 0; i < sums.own.size(); ++i)
                ASSERT_EQ(sums.value(remembering, i), sums.value(fresh, i)) << "seed " << seed;
        }
    }
}

TEST(ResultGraph, AnUnchangedOutputStopsTheWave) {
    ResultGraph graph(1 << 20);
    Sums chain{.inputs = {{}, {0}, {1}, {2}}, .own = {1, 2, 3, 4}};
    chain.value(graph, 3);
    EXPECT_EQ(*chain.computed, 4);
    chain.value(graph, 3);
    EXPECT_EQ(*chain.computed, 4) << "a look-up computes nothing";
    chain.own[1] = 9; // 2 + 7: its output is the same
    chain.value(graph, 3);
    EXPECT_EQ(*chain.computed, 5);
}

// Every node that needs itself is told so, by a loop along its inputs; every other is computed.
TEST(ResultGraph, CirclesAreSeenWhereverOneBegins) {
    std::size_t circular = 0, plain = 0;
    for (unsigned seed = 1; seed <= 300; ++seed) {
        std::mt19937 random(seed);
        const std::size_t n = 2 + random() % 9;
        const Sums sums = randomSums(random, n, true);
        std::vector<std::vector<bool>> reaches(n, std::vector<bool>(n)); // by Warshall's closure
        for (std::size_t i = 0; i < n; ++i)
            for (std::size_t j : sums.inputs[i]) reaches[i][j] = true;
        for (std::size_t k = 0; k < n; ++k)
            for (std::size_t i = 0; i < n; ++i)
                for (std::size_t j = 0; j < n; ++j)
                    if (reaches[i][k] && reaches[k][j]) reaches[i][j] = true;
        ResultGraph graph(1 << 20);
        for (std::size_t i = 0; i < n; ++i) {
            Walk walk(graph, sums);
            const Stored& got = walk.result(idOf(i));
            ASSERT_EQ(!got.issues.empty(), reaches[i][i]) << "seed " << seed << " node " << i;
            reaches[i][i] ? ++circular : ++plain;
            if (!reaches[i][i]) continue;
            std::istringstream loop(got.issues[0].text);
            std::vector<std::size_t> way;
            for (std::string word; loop >> word;)
                if (word != "→") way.push_back(std::stoul(word.substr(1)));
            ASSERT_GE(way.size(), 2U);
            ASSERT_EQ(way.front(), i);
            ASSERT_EQ(way.back(), i);
            for (std::size_t k = 0; k + 1 < way.size(); ++k)
                ASSERT_THAT(sums.inputs[way[k]], testing::Contains(way[k + 1])) << got.issues[0].text;
        }
    }
    EXPECT_GT(circular, 200U);
    EXPECT_GT(plain, 200U);
}

TEST(ResultGraph, ManyThreadsComputeOnce) {
    for (int round = 0; round < 20; ++round) {
        ResultGraph graph(1 << 20);
        std::atomic<int> computed = 0;
        const Node node = costly([&](const Request&) {
            ++computed;
            std::this_thread::sleep_for(std::chrono::milliseconds(2));
            return number(5);
        });
        std::vector<std::jthread> threads;
        std::atomic<int> right = 0;
        for (int i = 0; i < 8; ++i)
            threads.emplace_back([&] { right += valueOf(graph.result(node, {})) == 5; });
        threads.clear();
        EXPECT_EQ(right, 8);
        EXPECT_EQ(computed, 1);
        EXPECT_EQ(graph.running(), 0);
    }
}

TEST(ResultGraph, IssuesAreThereAgainAndArePassedOn) {
    ResultGraph graph(1 << 20);
    const Issue own{"own", "Own.", {}}, above{"above", "Above.", {}};
    int computed = 0;
    const Planner planner = [&](const NodeId& id) -> Node {
        const bool first = id.of == 0;
        return {.inputs = first ? std::vector<NodeId>{} : std::vector{idOf(0), idOf(0)},
                .own = Hasher().add(id.of).digest(),
                .passesIssues = id.of == 1,
                .compute = [&, first](std::span<const Stored>, const Request&) {
                    ++computed;
                    return number(1, {first ? above : own});
                }};
    };
    for (int look = 0; look < 2; ++look) {
        Walk walk(graph, planner);
        EXPECT_THAT(walk.result(idOf(1)).issues, ElementsAre(above, own));
        EXPECT_THAT(walk.result(idOf(2)).issues, ElementsAre(own));
    }
    EXPECT_EQ(computed, 3);
}

TEST(ResultGraph, EffortConcernsWhatIsCostly) {
    ResultGraph graph(1 << 20);
    std::vector<Effort> asked;
    const Node node = costly([&](const Request& request) {
        asked.push_back(request.effort);
        return number(static_cast<double>(asked.size()));
    });
    EXPECT_EQ(graph.result(node, {}, {.effort = Effort::Remembered}).issues[0].code, "not-computed");
    EXPECT_TRUE(asked.empty());
    const Stored quick = graph.result(node, {}, {.effort = Effort::Provisional});
    EXPECT_FALSE(quick.whole);
    EXPECT_EQ(valueOf(graph.result(node, {}, {.effort = Effort::Provisional})), 1) << "the last is kept";
    EXPECT_FALSE(graph.result(node, {}, {.effort = Effort::Remembered}).value);
    EXPECT_EQ(valueOf(graph.result(node, {})), 2) << "a provisional result is never taken for a full one";
    EXPECT_EQ(valueOf(graph.result(node, {}, {.effort = Effort::Remembered})), 2);
    EXPECT_EQ(valueOf(graph.result(node, {}, {.effort = Effort::Provisional})), 2);
    EXPECT_EQ(valueOf(graph.result(node, {}, {.effort = Effort::OneIteration})), 3);
    EXPECT_EQ(valueOf(graph.result(node, {})), 2) << "one iteration is not remembered";
    EXPECT_THAT(asked, ElementsAre(Effort::Provisional, Effort::Full, Effort::OneIteration));
}

TEST(ResultGraph, WhatIsKnownFromElsewhereIsNotComputed) {
    ResultGraph graph(1 << 20);
    int recalled = 0;
    Node node = costly([&](const Request&) { return number(1); });
    node.recall = [&](std::span<const Stored>) {
        ++recalled;
        return std::optional(number(2));
    };
    for (int look = 0; look < 2; ++look)
        EXPECT_EQ(valueOf(graph.result(node, {}, {.effort = Effort::Remembered})), 2);
    EXPECT_EQ(recalled, 1);
}

TEST(ResultGraph, WhatIsStoppedKeepsWhatItReachedUntilForgotten) {
    ResultGraph graph(1 << 20);
    int computed = 0;
    const Node node = costly([&](const Request& request) {
        ++computed;
        while (computed == 1 && !request.stop.stop_requested()) std::this_thread::yield();
        return number(computed, {}, computed > 1);
    });
    std::jthread stopper([&] {
        while (graph.running() == 0) std::this_thread::yield();
        graph.stopRunning();
    });
    EXPECT_EQ(valueOf(graph.result(node, {})), 1);
    EXPECT_EQ(valueOf(graph.result(node, {})), 1) << "not begun again by itself";
    EXPECT_EQ(computed, 1);
    graph.forgetStopped();
    EXPECT_EQ(valueOf(graph.result(node, {})), 2);
}

// A request that is given up leaves nothing behind, and one that only waits ends at once.
TEST(ResultGraph, RequestsCanBeGivenUp) {
    ResultGraph graph(1 << 20);
    std::atomic<bool> begun = false;
    const Node node = costly([&](const Request& request) {
        begun = true;
        while (!request.stop.stop_requested()) std::this_thread::yield();
        return number(1, {}, false);
    });
    std::stop_source first, second;
    std::jthread computing([&] { EXPECT_FALSE(graph.result(node, {}, {.stop = first.get_token()}).whole); });
    while (!begun) std::this_thread::yield();
    std::jthread waiting([&] {
        const Stored got = graph.result(node, {}, {.stop = second.get_token()});
        EXPECT_EQ(got.issues.at(0).code, "stopped");
    });
    second.request_stop();
    waiting.join();
    EXPECT_EQ(graph.running(), 1);
    first.request_stop();
    computing.join();
    EXPECT_EQ(graph.running(), 0);
    Node again = costly([](const Request&) { return number(7); });
    EXPECT_EQ(valueOf(graph.result(again, {})), 7) << "given up is not stopped: the next request computes";
}

// What is cheap is waited for also by a request that was given up: others take its value.
TEST(ResultGraph, CheapResultsAreAlwaysThere) {
    ResultGraph graph(1 << 20);
    std::atomic<bool> begun = false, go = false;
    Node node = costly([&](const Request&) {
        begun = true;
        while (!go) std::this_thread::yield();
        return number(4);
    });
    node.costly = false;
    std::jthread computing([&] { graph.result(node, {}); });
    while (!begun) std::this_thread::yield();
    std::stop_source stopped;
    stopped.request_stop();
    std::jthread release([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
        go = true;
    });
    EXPECT_EQ(valueOf(graph.result(node, {}, {.stop = stopped.get_token()})), 4);
}

TEST(ResultGraph, AFailingComputationLetsTheOthersIn) {
    ResultGraph graph(1 << 20);
    const Node failing = costly([](const Request&) -> Stored { throw std::bad_alloc(); });
    EXPECT_THROW(graph.result(failing, {}), std::bad_alloc);
    EXPECT_EQ(graph.running(), 0);
    EXPECT_EQ(valueOf(graph.result(costly([](const Request&) { return number(3); }), {})), 3);
}
