// SPDX-License-Identifier: GPL-3.0-or-later
// The graph of results. A planner turns each part of a project into a node: what it takes, what it reads of
// its own, how it is computed. The graph does the rest for all of them alike: it remembers results under the
// digests of what they were made from, with the issues found on the way; computes a thing once although
// several threads ask for it; stops what is to stop; gives provisional results that are never remembered; and
// sees circles. Thread-safe.
// Example: `Walk walk(graph, planner); const Stored& end = walk.result({"measured", 3});`
#pragma once

#include "base/hash.h"
#include "base/issue.h"
#include "base/parallel.h"
#include "evaluate/memo.h"

#include <condition_variable>
#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <vector>

namespace jointer::evaluate {

// How much may be done for costly results: only look them up; one iteration from the start values; a quick
// one for a picture while dragging; or all. Only the last is remembered. What is cheap is always computed.
enum class Effort { Remembered, OneIteration, Provisional, Full };

struct Request {
    Effort effort = Effort::Full;
    Cancellation stop{};
};

// A part of a project of which there is a result: its sort, and the ids that name it.
struct NodeId {
    std::string_view sort; // "measured", "fit"…; of static storage
    std::uint64_t of = 0, part = 0;
    auto operator<=>(const NodeId&) const = default;
};

struct Node {
    std::string name{};           // as people know it, to tell circles; may be empty
    std::vector<NodeId> inputs{}; // their digests are part of the key
    std::vector<NodeId> also{};   // needed to compute, but all that counts of them is in the inputs' digests
    Digest own{};                 // of sort, version and the settings that it reads
    bool costly = false;          // subject to the effort of the request; counts as running; can be stopped
    bool slow = false;            // always computed, but counts as running and can be stopped
    bool passesIssues = false;    // those of its inputs are its own too
    // From the inputs and then `also`. Not whole: stopped, or of less than full effort; never remembered.
    std::function<Stored(std::span<const Stored>, const Request&)> compute{};
    // What is known of it from elsewhere, such as the file that was opened: tried first.
    std::function<std::optional<Stored>(std::span<const Stored>)> recall{};
    // Stands in its place where it needs itself; the names of the loop are given, as "a → b → a". Each loop
    // must hold a node that has this.
    std::function<Stored(const std::string&)> inCircle{};
    std::optional<Stored> given{}; // part of the project as it is: nothing is computed or remembered
};

using Planner = std::function<Node(const NodeId&)>;

class ResultGraph {
public:
    explicit ResultGraph(std::size_t byteLimit) : memo_(byteLimit) {}

    // The result of a node whose inputs (and then `also`) are at hand.
    Stored result(const Node& node, std::span<const Stored> inputs, const Request& request = {});

    int running() const; // costly results that are being computed
    // Ends what is costly and running. It keeps what it had reached, and is not begun again until its inputs
    // change or `forgetStopped` is called.
    void stopRunning();
    void forgetStopped();

private:
    Stored computeOnce(const Node& node, std::span<const Stored> inputs, const Digest& key,
                       const Request& request);
    Stored provisional(const Node& node, std::span<const Stored> inputs, const Digest& key,
                       const Request& request);

    Memo memo_;
    mutable std::mutex mutex_;  // of what follows
    std::set<Digest> computed_; // by some thread now: others that want the same wait for it
    std::condition_variable_any finished_;
    std::unordered_map<Digest, Stored> stopped_;
    std::stop_source stop_;
    int running_ = 0;
    std::mutex provisionalMutex_; // of the last provisional result: several panes ask for the same one
    std::optional<std::pair<Digest, Stored>> provisional_;
};

// One look at the results of one project: each node is planned and looked up once. For one thread.
class Walk {
public:
    Walk(ResultGraph& graph, Planner planner, Request request = {})
        : graph_(graph), planner_(std::move(planner)), request_(std::move(request)) {}

    const Stored& result(const NodeId& id);

private:
    void plan(const NodeId& id);
    const Stored& computed(const NodeId& id);
    std::optional<std::string> loopThrough(const NodeId& id) const;

    ResultGraph& graph_;
    Planner planner_;
    Request request_;
    std::map<NodeId, Node> nodes_;
    std::map<NodeId, Stored> done_;
    std::set<NodeId> open_; // being planned
    bool circular_ = false; // some node needs itself
};

} // namespace jointer::evaluate
