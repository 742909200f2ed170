// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/result_graph.h"

#include "base/text.h"

#include <algorithm>

namespace jointer::evaluate {

namespace {

Digest keyOf(const Node& node, std::span<const Stored> inputs) {
    Hasher h;
    h.add(node.own).add(node.inputs.size());
    for (std::size_t i = 0; i < node.inputs.size(); ++i) h.add(inputs[i].digest);
    return h.digest();
}

void addIssuesOf(std::span<const Stored> inputs, Stored& out) {
    std::vector<Issue> all;
    auto add = [&](const std::vector<Issue>& issues) {
        for (const Issue& issue : issues)
            if (std::ranges::find(all, issue) == all.end()) all.push_back(issue);
    };
    for (const Stored& input : inputs) add(input.issues);
    add(out.issues);
    out.issues = std::move(all);
}

} // namespace

Stored ResultGraph::result(const Node& node, std::span<const Stored> inputs, const Request& request) {
    if (node.given) return *node.given;
    if (node.costly && request.effort == Effort::OneIteration) return node.compute(inputs, request);
    const Digest key = keyOf(node, inputs);
    if (auto known = memo_.find(key)) return *known;
    if (auto known = node.recall ? node.recall(inputs) : std::nullopt) {
        memo_.put(key, *known);
        return *known;
    }
    if (node.costly && request.effort == Effort::Remembered)
        return {.value = nullptr, .issues = {{"not-computed", "Not computed yet.", {}}}, .whole = false};
    if (node.costly && request.effort == Effort::Provisional) return provisional(node, inputs, key, request);
    return computeOnce(node, inputs, key, request);
}

// The first that asks computes; the others wait and take its result.
Stored ResultGraph::computeOnce(const Node& node, std::span<const Stored> inputs, const Digest& key,
                                const Request& request) {
    std::stop_token all;
    {
        std::unique_lock lock(mutex_);
        const auto isFree = [&] { return !computed_.contains(key); };
        if (!node.costly)
            finished_.wait(lock, isFree); // soon: and what takes it relies on there being a value
        else if (!finished_.wait(lock, request.stop, isFree))
            return {.value = nullptr, .issues = {{"stopped", "Stopped.", {}}}, .whole = false};
        if (const auto at = stopped_.find(key); at != stopped_.end()) return at->second;
        if (auto known = memo_.find(key)) return *known;
        computed_.insert(key);
        running_ += node.costly || node.slow;
        all = stop_.get_token();
    }
    // The others wait no longer, however this ends.
    const auto leave = [&](const Stored* made) {
        const std::lock_guard lock(mutex_);
        if (made && made->whole) memo_.put(key, *made);
        if (made && !made->whole && all.stop_requested()) stopped_[key] = *made;
        computed_.erase(key);
        running_ -= node.costly || node.slow;
        finished_.notify_all();
    };
    try {
        // Ends when this request is given up, or when all that is costly is to stop.
        std::stop_source either;
        const auto end = [&either] { either.request_stop(); };
        const std::stop_callback byRequest(request.stop, end), byUser(all, end);
        Stored made = node.compute(inputs, {request.effort, either.get_token()});
        if (made.digest == Digest{}) made.digest = key;
        leave(&made);
        return made;
    } catch (...) {
        leave(nullptr);
        throw;
    }
}

Stored ResultGraph::provisional(const Node& node, std::span<const Stored> inputs, const Digest& key,
                                const Request& request) {
    const std::lock_guard oneAtATime(provisionalMutex_);
    if (provisional_ && provisional_->first == key) return provisional_->second;
    Stored made = node.compute(inputs, request);
    made.whole = false;
    if (made.value) provisional_ = {key, made};
    return made;
}

int ResultGraph::running() const {
    const std::lock_guard lock(mutex_);
    return running_;
}

void ResultGraph::stopRunning() {
    const std::lock_guard lock(mutex_);
    stop_.request_stop();
    stop_ = std::stop_source();
}

void ResultGraph::forgetStopped() {
    const std::lock_guard lock(mutex_);
    stopped_.clear();
}

const Stored& Walk::result(const NodeId& id) {
    plan(id);
    return computed(id);
}

void Walk::plan(const NodeId& id) {
    if (open_.contains(id)) circular_ = true;
    if (nodes_.contains(id)) return;
    const Node& node = nodes_.emplace(id, planner_(id)).first->second;
    open_.insert(id);
    for (const NodeId& input : node.inputs) plan(input);
    for (const NodeId& input : node.also) plan(input);
    open_.erase(id);
}

const Stored& Walk::computed(const NodeId& id) {
    if (const auto at = done_.find(id); at != done_.end()) return at->second;
    const Node& node = nodes_.at(id);
    if (circular_ && node.inCircle)
        if (const auto loop = loopThrough(id)) return done_[id] = node.inCircle(*loop);
    std::vector<Stored> inputs;
    for (const NodeId& input : node.inputs) inputs.push_back(computed(input));
    for (const NodeId& input : node.also) inputs.push_back(computed(input));
    Stored made = graph_.result(node, inputs, request_);
    if (node.passesIssues) addIssuesOf(inputs, made);
    return done_[id] = std::move(made);
}

// The names along the shortest way from a node back to itself.
std::optional<std::string> Walk::loopThrough(const NodeId& id) const {
    std::map<NodeId, NodeId> cameFrom;
    std::vector<NodeId> reached = {id};
    for (std::size_t i = 0; i < reached.size() && !cameFrom.contains(id); ++i)
        for (const NodeId& input : nodes_.at(reached[i]).inputs)
            if (cameFrom.emplace(input, reached[i]).second) reached.push_back(input);
    if (!cameFrom.contains(id)) return std::nullopt;
    std::vector<std::string> names = {nodes_.at(id).name};
    for (NodeId at = cameFrom.at(id); at != id; at = cameFrom.at(at))
        if (const std::string& name = nodes_.at(at).name; !name.empty() && name != names.back())
            names.push_back(name);
    if (names.size() > 1 && names.back() == nodes_.at(id).name)
        names.pop_back(); // several nodes of one dataset
    names.push_back(nodes_.at(id).name);
    std::ranges::reverse(names);
    return joined(names, " → ");
}

} // namespace jointer::evaluate
