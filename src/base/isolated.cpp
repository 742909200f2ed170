// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/isolated.h"

#include <cerrno>
#include <csignal>
#include <poll.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

namespace jointer {

namespace {

[[noreturn]] void runChild(const std::function<std::string()>& work, int to,
                           std::chrono::milliseconds limit) {
    const auto seconds = static_cast<rlim_t>(limit.count() / 1000 + 2);
    const rlimit cpu{seconds, seconds}, core{0, 0};
    setrlimit(RLIMIT_CPU, &cpu);
    setrlimit(RLIMIT_CORE, &core);
    for (int signal : {SIGSEGV, SIGABRT, SIGFPE, SIGBUS, SIGILL}) std::signal(signal, SIG_DFL);
    const std::string bytes = work();
    const auto size = static_cast<std::uint64_t>(bytes.size());
    auto send = [&](const char* p, std::size_t n) {
        while (n > 0) {
            const ssize_t written = write(to, p, n);
            if (written < 0 && errno == EINTR) continue;
            if (written <= 0) _exit(1);
            p += written;
            n -= static_cast<std::size_t>(written);
        }
    };
    send(reinterpret_cast<const char*>(&size), sizeof size);
    send(bytes.data(), bytes.size());
    _exit(0);
}

enum class Ending { Whole, TooSlow, Stopped };

Ending receive(int from, std::string& bytes, std::chrono::milliseconds limit, const Cancellation& stop) {
    const auto deadline = std::chrono::steady_clock::now() + limit;
    std::string buffer(1 << 20, '\0');
    for (;;) {
        if (stop.stop_requested()) return Ending::Stopped;
        if (std::chrono::steady_clock::now() > deadline) return Ending::TooSlow;
        pollfd waiting{from, POLLIN, 0};
        if (poll(&waiting, 1, 50) <= 0) continue;
        const ssize_t n = read(from, buffer.data(), buffer.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return Ending::Whole;
        bytes.append(buffer.data(), static_cast<std::size_t>(n));
    }
}

} // namespace

Result<std::string> inChildProcess(const std::function<std::string()>& work, std::chrono::milliseconds limit,
                                   const Cancellation& stop) {
    int ends[2];
    if (pipe(ends) != 0) return failure("child-crashed", "No process could be started for it.");
    const pid_t child = fork();
    if (child == 0) {
        close(ends[0]);
        runChild(work, ends[1], limit);
    }
    close(ends[1]);
    if (child < 0) {
        close(ends[0]);
        return failure("child-crashed", "No process could be started for it.");
    }
    std::string bytes;
    const Ending ending = receive(ends[0], bytes, limit, stop);
    close(ends[0]);
    if (ending != Ending::Whole) kill(child, SIGKILL);
    int status = 0;
    while (waitpid(child, &status, 0) < 0 && errno == EINTR) {}
    if (ending == Ending::Stopped) return failure("stopped", "Reading was stopped.");
    if (ending == Ending::TooSlow) return failure("child-too-slow", "It took too long.");
    std::uint64_t size = 0;
    if (bytes.size() >= sizeof size) bytes.copy(reinterpret_cast<char*>(&size), sizeof size);
    if (!WIFEXITED(status) || WEXITSTATUS(status) != 0 || bytes.size() != size + sizeof size)
        return failure("child-crashed", "It broke off.");
    bytes.erase(0, sizeof size);
    return bytes;
}

} // namespace jointer
